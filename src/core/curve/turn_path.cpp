#include "core/curve/turn_path.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/curve/knot_path.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

using Vector = std::array<double, 3>;

double length(const Vector& v) noexcept { return std::hypot(v[0], v[1], v[2]); }
Vector scaled_by(const Vector& v, double times) noexcept { return {v[0] * times, v[1] * times, v[2] * times}; }

/// An angle counted on from one near it.
double counted_on(double angle, double near) noexcept {
  return angle + whole_turn * std::round((near - angle) / whole_turn);
}

/// The shares of the three turns of a piece: the cubic Bernstein polynomials, added up from the last.
std::array<double, 3> shares(double s) noexcept {
  const double r = 1.0 - s;
  return {1.0 - r * r * r, s * s * (3.0 - 2.0 * s), s * s * s};
}

} // namespace

TurnPath::Turn TurnPath::times_of(const Turn& a, const Turn& b) noexcept {
  return {a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1], a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
          a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3], a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2]};
}

TurnPath::Turn TurnPath::turned(const Vector& by, double share) noexcept {
  const double angle = length(by) * share;
  if (angle == 0.0) return {0.0, 0.0, 0.0, 1.0};
  const double part = std::sin(0.5 * angle) / length(by);
  return {by[0] * part, by[1] * part, by[2] * part, std::cos(0.5 * angle)};
}

/// The turn as an axis times an angle, the short way round.
TurnPath::Vector TurnPath::way(const Turn& turn) noexcept {
  const double side = turn[3] < 0.0 ? -1.0 : 1.0, sine = std::hypot(turn[0], turn[1], turn[2]);
  if (sine == 0.0) return {};
  const double times = 2.0 * std::atan2(sine, side * turn[3]) / sine * side;
  return {turn[0] * times, turn[1] * times, turn[2] * times};
}

TurnPath::Turn TurnPath::turn_of(const TurnAngles& angles) noexcept {
  return times_of(times_of(turned({0.0, 1.0, 0.0}, angles[0]), turned({1.0, 0.0, 0.0}, angles[1])),
                  turned({0.0, 0.0, 1.0}, angles[2]));
}

TurnAngles TurnPath::angles_of(const Turn& q) noexcept {
  const auto [x, y, z, w] = q;
  // Of the turned axes: back as a whole, and how far right and up rise.
  const double back_x = 2.0 * (x * z + w * y), back_y = 2.0 * (y * z - w * x), back_z = 1.0 - 2.0 * (x * x + y * y);
  const double right_y = 2.0 * (x * y + w * z), up_y = 1.0 - 2.0 * (x * x + z * z);
  return {std::atan2(back_x, back_z), std::atan2(-back_y, std::hypot(back_x, back_z)), std::atan2(right_y, up_y)};
}

/// The angular velocity, in the turned axes, of angles that change.
TurnPath::Vector TurnPath::velocity_of(const TurnAngles& angles, const TurnAngles& rates) noexcept {
  const double sp = std::sin(angles[1]), cp = std::cos(angles[1]), sr = std::sin(angles[2]), cr = std::cos(angles[2]);
  return {rates[0] * cp * sr + rates[1] * cr, rates[0] * cp * cr - rates[1] * sr, -rates[0] * sp + rates[2]};
}

TurnPath::TurnPath(Kind kind, std::vector<double> times, const std::vector<TurnAngles>& angles, const TurnAngles& rates)
    : kind_(kind), times_(std::move(times)), first_(angles.front()) {
  const std::size_t count = times_.size() - 1;
  std::vector<Turn> turns;
  for (const TurnAngles& one : angles) turns.push_back(turn_of(one));
  std::vector<Vector> ways;
  for (std::size_t k = 0; k < count; ++k) ways.push_back(way(times_of(inverse(turns[k]), turns[k + 1])));
  std::vector<Vector> velocities(count + 1);
  velocities.front() = velocity_of(angles.front(), rates);
  for (std::size_t k = 1; k < count; ++k) {
    const double left = times_[k] - times_[k - 1], right = times_[k + 1] - times_[k], both = left + right;
    for (std::size_t i = 0; i < 3; ++i)
      velocities[k][i] = (right * ways[k - 1][i] / left + left * ways[k][i] / right) / both;
  }
  for (std::size_t k = 0; k < count; ++k) {
    const double third = (times_[k + 1] - times_[k]) / 3.0;
    Piece piece{turns[k], {Vector{}, ways[k], Vector{}}};
    if (kind_ == Kind::smooth) {
      piece.turns[0] = scaled_by(velocities[k], third);
      piece.turns[2] = scaled_by(velocities[k + 1], third);
      const Turn rest = times_of(times_of(turned(piece.turns[0], -1.0), times_of(inverse(turns[k]), turns[k + 1])),
                                 turned(piece.turns[2], -1.0));
      piece.turns[1] = way(rest);
    }
    pieces_.push_back(piece);
  }
  TurnAngles last = first_;
  for (std::size_t k = 0; k < count; ++k)
    for (std::size_t look = 0; look <= looks_of_a_piece; ++look) {
      const double u = (times_[k + 1] - times_[k]) * static_cast<double>(look) / looks_of_a_piece;
      TurnAngles now = angles_of(turn_in(k, u));
      for (std::size_t i = 0; i < 3; ++i) now[i] = counted_on(now[i], last[i]);
      looks_.push_back(last = now);
    }
  last_ = last;
}

/// The angular velocity in the turned axes, rad/s: that of each of the three turns, seen through those after it.
TurnPath::Vector TurnPath::velocity_in(std::size_t piece, double u) const noexcept {
  const double span = times_[piece + 1] - times_[piece], s = u / span, r = 1.0 - s;
  const bool even = kind_ == Kind::even;
  const auto by = even ? std::array<double, 3>{0.0, s, 0.0} : shares(s);
  const auto rates =
      even ? std::array<double, 3>{0.0, 1.0, 0.0} : std::array<double, 3>{3.0 * r * r, 6.0 * s * r, 3.0 * s * s};
  Vector sum{};
  for (std::size_t i = 0; i < 3; ++i) {
    const Turn through = turned(pieces_[piece].turns[i], by[i]);
    const Turn seen = times_of(times_of(inverse(through), {sum[0], sum[1], sum[2], 0.0}), through);
    for (std::size_t k = 0; k < 3; ++k) sum[k] = seen[k] + pieces_[piece].turns[i][k] * rates[i] / span;
  }
  return sum;
}

/// The rates of the angles, rad/s: velocity_of() the other way.
TurnAngles TurnPath::rates_in(std::size_t piece, double u) const noexcept {
  const TurnAngles angles = angles_of(turn_in(piece, u));
  const Vector w = velocity_in(piece, u);
  const double sp = std::sin(angles[1]), cp = std::cos(angles[1]), sr = std::sin(angles[2]), cr = std::cos(angles[2]);
  const double yaw = (w[0] * sr + w[1] * cr) / cp;
  return {yaw, w[0] * cr - w[1] * sr, w[2] + yaw * sp};
}

std::size_t TurnPath::piece_at(double t, Side side) const noexcept {
  const auto next = side == Side::before ? std::lower_bound(times_.begin(), times_.end(), t)
                                         : std::upper_bound(times_.begin(), times_.end(), t);
  const auto k = static_cast<std::size_t>(std::max<std::ptrdiff_t>(next - times_.begin(), 1)) - 1;
  return std::min(k, pieces_.size() - 1);
}

TurnPath::Turn TurnPath::turn_in(std::size_t piece, double u) const noexcept {
  const double s = u / (times_[piece + 1] - times_[piece]);
  const auto by = kind_ == Kind::even ? std::array<double, 3>{0.0, s, 0.0} : shares(s);
  Turn turn = pieces_[piece].from;
  for (std::size_t i = 0; i < 3; ++i) turn = times_of(turn, turned(pieces_[piece].turns[i], by[i]));
  return turn;
}

TurnAngles TurnPath::angles_in(std::size_t piece, double u) const noexcept {
  const double share = u / (times_[piece + 1] - times_[piece]) * looks_of_a_piece;
  const double look = std::clamp(std::round(share), 0.0, static_cast<double>(looks_of_a_piece));
  const TurnAngles& near = looks_[piece * (looks_of_a_piece + 1) + static_cast<std::size_t>(look)];
  TurnAngles now = angles_of(turn_in(piece, u));
  for (std::size_t i = 0; i < 3; ++i) now[i] = counted_on(now[i], near[i]);
  return now;
}

CurvePoint TurnPath::at(std::size_t angle, double t, Side side) const noexcept {
  t = meant_instant(t, times_);
  if (t < times_.front() || (t == times_.front() && side == Side::before)) return {first_[angle], 0.0, 0.0, 0.0};
  if (t > times_.back() || (t == times_.back() && side == Side::at)) return {last_[angle], 0.0, 0.0, 0.0};
  const std::size_t piece = piece_at(t, side);
  const double u = t - times_[piece], span = times_[piece + 1] - times_[piece];
  const auto rate = [&](double at) { return rates_in(piece, at)[angle]; };
  // The formula of a piece holds beyond its ends too, so that its higher rates can be taken on both sides everywhere.
  const double h = 1e-3 * span;
  const double a = rate(u - 2.0 * h), b = rate(u - h), c = rate(u), d = rate(u + h), e = rate(u + 2.0 * h);
  return {angles_in(piece, u)[angle], c, (a - 8.0 * b + 8.0 * d - e) / (12.0 * h),
          (-a + 16.0 * b - 30.0 * c + 16.0 * d - e) / (12.0 * h * h)};
}

double TurnPath::speed_at(double t) const noexcept {
  if (t < times_.front() || t > times_.back()) return 0.0;
  const std::size_t piece = piece_at(t, Side::at);
  return length(velocity_in(piece, t - times_[piece]));
}

} // namespace stasis
