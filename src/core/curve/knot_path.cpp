#include "core/curve/knot_path.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {
namespace {

/// Gaps between knots, and the slopes of the straight lines over them.
struct Secants {
  std::vector<double> gap, slope;

  Secants(const std::vector<double>& knots, const std::vector<double>& values) {
    for (std::size_t i = 0; i + 1 < knots.size(); ++i) {
      gap.push_back(knots[i + 1] - knots[i]);
      slope.push_back((values[i + 1] - values[i]) / gap[i]);
    }
  }
  std::size_t count() const noexcept { return gap.size(); }
};

/// Equations of which each has its unknown and the two beside it.
struct BandedSystem {
  std::vector<double> below, here, above;

  explicit BandedSystem(std::size_t size) : below(size), here(size), above(size) {}

  /// By elimination without exchange: the equations of a spline are dominated by their diagonal.
  std::vector<double> solve(std::vector<double> right) const {
    const std::size_t size = here.size();
    std::vector<double> pivot = here;
    for (std::size_t i = 1; i < size; ++i) {
      const double factor = below[i] / pivot[i - 1];
      pivot[i] -= factor * above[i - 1];
      right[i] -= factor * right[i - 1];
    }
    for (std::size_t i = size; i-- > 0;) {
      if (i + 1 < size) right[i] -= above[i] * right[i + 1];
      right[i] /= pivot[i];
    }
    return right;
  }
};

/// The equation of the bend at an inner knot: the slope goes on there.
// many: a system and its right side, which row, and the gaps on both sides
void set_inner(BandedSystem& system, std::vector<double>& right, std::size_t row, const Secants& secants,
               std::size_t left, std::size_t after) {
  system.below[row] = secants.gap[left];
  system.here[row] = 2.0 * (secants.gap[left] + secants.gap[after]);
  system.above[row] = secants.gap[after];
  right[row] = 6.0 * (secants.slope[after] - secants.slope[left]);
}

/// Bends of a spline that ends as it begins. The corners of its equations are taken out by the formula of Sherman and
/// Morrison.
std::vector<double> closed_bends(const Secants& secants) {
  const std::size_t size = secants.count();
  BandedSystem system(size);
  std::vector<double> right(size);
  for (std::size_t i = 0; i < size; ++i) set_inner(system, right, i, secants, (i + size - 1) % size, i);
  const double corner = system.below[0], gamma = -system.here[0];
  system.here[0] -= gamma;
  system.here[size - 1] -= corner * corner / gamma;
  std::vector<double> edge(size);
  edge[0] = gamma;
  edge[size - 1] = corner;
  std::vector<double> bends = system.solve(right);
  const std::vector<double> part = system.solve(edge);
  const double share =
      (bends[0] + bends[size - 1] * corner / gamma) / (1.0 + part[0] + part[size - 1] * corner / gamma);
  for (std::size_t i = 0; i < size; ++i) bends[i] -= share * part[i];
  bends.push_back(bends[0]);
  return bends;
}

std::vector<double> spline_bends(const Secants& secants, PathEnd start, PathEnd end) {
  const std::size_t size = secants.count() + 1;
  if (start.kind == PathEnd::Kind::closed && size > 3) return closed_bends(secants);
  BandedSystem system(size);
  std::vector<double> right(size);
  for (std::size_t i = 1; i + 1 < size; ++i) set_inner(system, right, i, secants, i - 1, i);
  system.here[0] = system.here[size - 1] = 1.0;
  if (start.kind == PathEnd::Kind::slope) {
    system.here[0] = 2.0 * secants.gap[0];
    system.above[0] = secants.gap[0];
    right[0] = 6.0 * (secants.slope[0] - start.slope);
  }
  if (end.kind == PathEnd::Kind::slope) {
    system.here[size - 1] = 2.0 * secants.gap.back();
    system.below[size - 1] = secants.gap.back();
    right[size - 1] = 6.0 * (end.slope - secants.slope.back());
  }
  return system.solve(right);
}

/// Slope and bend of a path at a knot.
struct KnotTangent {
  double slope, bend;
};

/// What the spline has at its knots.
std::vector<KnotTangent> spline_tangents(const Secants& secants, PathEnd start, PathEnd end) {
  const std::vector<double> bends = spline_bends(secants, start, end);
  std::vector<KnotTangent> out;
  for (std::size_t i = 0; i < secants.count(); ++i)
    out.push_back({secants.slope[i] - secants.gap[i] * (2.0 * bends[i] + bends[i + 1]) / 6.0, bends[i]});
  const std::size_t last = secants.count() - 1;
  out.push_back({secants.slope[last] + secants.gap[last] * (bends[last] + 2.0 * bends[last + 1]) / 6.0, bends.back()});
  return out;
}

/// A knot's slope within what keeps the pieces on both sides monotone, and its bend likewise.
KnotTangent held_back(const KnotTangent& wanted, double left, double left_gap, double right, double right_gap) {
  if (left * right <= 0.0) return {0.0, 0.0};
  const double sign = std::copysign(1.0, left);
  constexpr double most = 1.25;
  const double slope = std::clamp(sign * wanted.slope, 0.0, most * std::min(std::fabs(left), std::fabs(right)));
  const double bend = std::clamp(sign * wanted.bend, -4.0 * slope / right_gap, 4.0 * slope / left_gap);
  return {sign * slope, sign * bend};
}

/// Slopes and bends with which no quintic piece turns: its six control values are in order. Source: docs/maths.md,
/// section 13.
std::vector<KnotTangent> ordered_tangents(const Secants& secants, PathEnd start, PathEnd end) {
  std::vector<KnotTangent> out = spline_tangents(secants, start, end);
  const std::size_t count = secants.count();
  const bool closed = start.kind == PathEnd::Kind::closed;
  for (std::size_t i = 0; i <= count; ++i) {
    const std::size_t left = i > 0 ? i - 1 : closed ? count - 1 : 0, right = i < count ? i : closed ? 0 : count - 1;
    out[i] = held_back(out[i], secants.slope[left], secants.gap[left], secants.slope[right], secants.gap[right]);
  }
  // The two inner control values: the bends at both knots of a piece shrink until they are in order too.
  for (int round = 0; round < 100; ++round) {
    bool all_hold = true;
    for (std::size_t i = 0; i < count; ++i) {
      const double sign = std::copysign(1.0, secants.slope[i]);
      KnotTangent &a = out[i], &b = out[i + 1];
      const double room = std::fabs(secants.slope[i]) - 0.4 * sign * (a.slope + b.slope);
      const double taken = secants.gap[i] * sign * (a.bend - b.bend) / 20.0;
      if (taken <= room * (1.0 + 1e-12)) continue;
      all_hold = false;
      const double share = std::max(room, 0.0) / taken;
      a.bend *= share;
      b.bend *= share;
      if (closed && i == 0) out[count].bend = a.bend;
      if (closed && i + 1 == count) out[0].bend = b.bend;
    }
    if (all_hold) return out;
  }
  for (KnotTangent& tangent : out) tangent.bend = 0.0;
  return out;
}

/// The quintic with value, slope and bend given at both ends.
std::array<double, 6> quintic(double from, const KnotTangent& a, double to, const KnotTangent& b, double h) {
  const double way = to - from - h * (a.slope + 0.5 * h * a.bend), slope = b.slope - a.slope - h * a.bend,
               bend = b.bend - a.bend;
  const double h2 = h * h, h3 = h2 * h;
  return {from,
          a.slope,
          0.5 * a.bend,
          (10.0 * way - 4.0 * h * slope + 0.5 * h2 * bend) / h3,
          (-15.0 * way + 7.0 * h * slope - h2 * bend) / (h3 * h),
          (6.0 * way - 3.0 * h * slope + 0.5 * h2 * bend) / (h3 * h2)};
}

} // namespace

double meant_instant(double time, const std::vector<double>& instants) noexcept {
  const double rounding = 1e-12 * std::max(1.0, std::fabs(time));
  const auto next = std::lower_bound(instants.begin(), instants.end(), time - rounding);
  return next != instants.end() && *next <= time + rounding ? *next : time;
}

KnotPath KnotPath::smooth(std::vector<double> knots, const std::vector<double>& values, PathEnd start, PathEnd end) {
  KnotPath path;
  path.first_ = values.front();
  path.last_ = values.back();
  if (knots.size() > 1) {
    const Secants secants(knots, values);
    const std::vector<double> bends = spline_bends(secants, start, end);
    for (std::size_t i = 0; i < secants.count(); ++i) {
      const double h = secants.gap[i];
      path.pieces_.push_back({values[i], secants.slope[i] - h * (2.0 * bends[i] + bends[i + 1]) / 6.0, 0.5 * bends[i],
                              (bends[i + 1] - bends[i]) / (6.0 * h), 0.0, 0.0});
    }
  }
  path.knots_ = std::move(knots);
  return path;
}

KnotPath KnotPath::between_neighbours(std::vector<double> knots, const std::vector<double>& values, PathEnd start,
                                      PathEnd end) {
  KnotPath path;
  path.first_ = values.front();
  path.last_ = values.back();
  if (knots.size() > 1) {
    const Secants secants(knots, values);
    const std::vector<KnotTangent> tangents = ordered_tangents(secants, start, end);
    for (std::size_t i = 0; i < secants.count(); ++i)
      path.pieces_.push_back(quintic(values[i], tangents[i], values[i + 1], tangents[i + 1], secants.gap[i]));
  }
  path.knots_ = std::move(knots);
  return path;
}

CurvePoint KnotPath::at(double u, Side side) const noexcept {
  const bool before = side == Side::before;
  if (u < knots_.front() || (before && u == knots_.front())) return {first_, 0.0, 0.0, 0.0};
  if (u > knots_.back() || (!before && u == knots_.back()) || pieces_.empty()) return {last_, 0.0, 0.0, 0.0};
  const auto next =
      before ? std::lower_bound(knots_.begin(), knots_.end(), u) : std::upper_bound(knots_.begin(), knots_.end(), u);
  const auto piece = static_cast<std::size_t>(next - knots_.begin()) - 1;
  const Piece& c = pieces_[piece];
  const double h = u - knots_[piece];
  // At its end a piece is the knot's value, without the rounding of the way there.
  const double value = h == knots_[piece + 1] - knots_[piece] && piece + 1 == pieces_.size()
                           ? last_
                           : c[0] + h * (c[1] + h * (c[2] + h * (c[3] + h * (c[4] + h * c[5]))));
  return {value, c[1] + h * (2.0 * c[2] + h * (3.0 * c[3] + h * (4.0 * c[4] + h * 5.0 * c[5]))),
          2.0 * c[2] + h * (6.0 * c[3] + h * (12.0 * c[4] + h * 20.0 * c[5])),
          6.0 * c[3] + h * (24.0 * c[4] + h * 60.0 * c[5])};
}

} // namespace stasis
