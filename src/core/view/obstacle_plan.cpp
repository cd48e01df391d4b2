#include "core/view/obstacle_plan.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/units.hpp"

namespace stasis {
namespace {

/// A half plane: inside where a x + b y <= c.
struct HalfPlane {
  double a, b, c;
  double out(PlanPlace p) const noexcept { return a * p[0] + b * p[1] - c; }
};

PlanPlace met(PlanPlace from, PlanPlace to, const HalfPlane& side) noexcept {
  const double share = side.out(from) / (side.out(from) - side.out(to));
  return {from[0] + (to[0] - from[0]) * share, from[1] + (to[1] - from[1]) * share};
}

/// What of a convex outline lies in a half plane.
std::vector<PlanPlace> cut(const std::vector<PlanPlace>& outline, const HalfPlane& side) {
  std::vector<PlanPlace> kept;
  for (std::size_t k = 0; k < outline.size(); ++k) {
    const PlanPlace from = outline[k], to = outline[(k + 1) % outline.size()];
    const bool in = side.out(from) <= 0.0, next_in = side.out(to) <= 0.0;
    if (in) kept.push_back(from);
    if (in != next_in) kept.push_back(met(from, to, side));
  }
  return kept;
}

std::array<HalfPlane, 4> sides_of(const PlanBounds& view) noexcept {
  return {HalfPlane{-1, 0, -view.left}, {1, 0, view.right}, {0, -1, -view.front}, {0, 1, view.back}};
}

std::vector<PlanPlace> cut_to(std::vector<PlanPlace> outline, const PlanBounds& view) {
  for (const HalfPlane& side : sides_of(view)) outline = cut(outline, side);
  return outline;
}

/// The outline about points, anticlockwise.
std::vector<PlanPlace> hull_of(std::vector<PlanPlace> points) {
  std::sort(points.begin(), points.end(),
            [](PlanPlace a, PlanPlace b) { return a[0] != b[0] ? a[0] < b[0] : a[1] < b[1]; });
  std::vector<PlanPlace> hull;
  const auto turns_left = [&](PlanPlace p) {
    const PlanPlace a = hull[hull.size() - 2], b = hull.back();
    return (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0.0;
  };
  for (int pass = 0; pass < 2; ++pass) {
    const std::size_t first = hull.size();
    for (const PlanPlace& p : points) {
      while (hull.size() >= first + 2 && !turns_left(p)) hull.pop_back();
      hull.push_back(p);
    }
    hull.pop_back();
    std::reverse(points.begin(), points.end());
  }
  return hull;
}

std::vector<PlanPlace> footprint(const BoxShape& box) {
  std::vector<PlanPlace> corners;
  for (int k = 0; k < 8; ++k) {
    Components parts{};
    for (std::size_t i = 0; i < most_components; ++i) parts[i] = ((k >> i) & 1) != 0 ? box.high[i] : box.low[i];
    const Components at = plus(box.centre, box.axes.sum(parts));
    corners.push_back({at[0], at[2]});
  }
  return hull_of(std::move(corners));
}

std::vector<PlanPlace> round_outline(const SphereShape& sphere) {
  std::vector<PlanPlace> outline;
  constexpr int corners = 72;
  for (int k = 0; k < corners; ++k) {
    const double angle = whole_turn * k / corners;
    outline.push_back(
        {sphere.centre[0] + sphere.radius * std::cos(angle), sphere.centre[2] + sphere.radius * std::sin(angle)});
  }
  return outline;
}

void add_piece(std::vector<PlanPlace> piece, std::size_t least, PlanObstacle& out) {
  if (piece.size() >= least) out.pieces.push_back(std::move(piece));
}

PlanObstacle on_plan(const Obstacle& obstacle, const PlanBounds& view, double level) {
  PlanObstacle out;
  out.name = obstacle.name;
  if (const auto* box = std::get_if<BoxShape>(&obstacle.shape)) add_piece(cut_to(footprint(*box), view), 3, out);
  if (const auto* ball = std::get_if<SphereShape>(&obstacle.shape))
    add_piece(cut_to(round_outline(*ball), view), 3, out);
  if (const auto* plane = std::get_if<PlaneShape>(&obstacle.shape)) {
    constexpr double least_slope = 1e-3;
    const Components& n = plane->normal;
    if (std::hypot(n[0], n[2]) > least_slope)
      add_piece(
          cut({{view.left, view.front}, {view.right, view.front}, {view.right, view.back}, {view.left, view.back}},
              {n[0], n[2], dot(n, plane->at) - n[1] * level}),
          3, out);
  }
  if (const auto* wall = std::get_if<WallShape>(&obstacle.shape)) {
    out.is_line = true;
    for (std::size_t k = 0; k + 1 < wall->points.size(); ++k)
      add_piece(
          line_within({wall->points[k][0], wall->points[k][1]}, {wall->points[k + 1][0], wall->points[k + 1][1]}, view),
          2, out);
  }
  return out;
}

} // namespace

std::vector<PlanPlace> line_within(PlanPlace from, PlanPlace to, const PlanBounds& view) {
  for (const HalfPlane& side : sides_of(view)) {
    const bool in = side.out(from) <= 0.0, next_in = side.out(to) <= 0.0;
    if (!in && !next_in) return {};
    if (in != next_in) (in ? to : from) = met(from, to, side);
  }
  return {from, to};
}

std::vector<PlanObstacle> obstacles_on_plan(const Feel& feel, const Take& take, const PlanBounds& view, double level) {
  std::vector<PlanObstacle> all;
  for (std::size_t o = 0; o < feel.obstacles.size(); ++o) {
    if (!take.has_obstacle(o)) continue;
    PlanObstacle one = on_plan(feel.obstacles[o], view, level);
    if (!one.pieces.empty()) all.push_back(std::move(one));
  }
  return all;
}

} // namespace stasis
