#include "core/scene/obstacle.hpp"

#include <algorithm>
#include <cmath>

#include "core/unbounded.hpp"

namespace stasis {
namespace {

constexpr double least_cosine = 0.1;
/// Panels reach so much of their length beyond their ends, so that no ray slips through a corner by a rounding.
constexpr double overlap = 1e-12;

std::optional<RayHit> plane_hit(const Ray& ray, const PlaneShape& plane) noexcept {
  const double room = dot(plus(ray.from, plane.at, -1.0), plane.normal) - ray.radius;
  const double cosine = -dot(ray.way, plane.normal);
  if (room <= 0.0) return RayHit{};
  if (cosine <= 0.0) return std::nullopt;
  return RayHit{room / cosine, cosine};
}

/// The first root at or after 0 of a s^2 + 2 b s + c, which is positive at 0 and convex; nothing if there is none.
std::optional<double> first_root(double a, double b, double c) noexcept {
  const double discriminant = b * b - a * c;
  if (b >= 0.0 || discriminant < 0.0) return std::nullopt;
  return c / (-b + std::sqrt(discriminant));
}

std::optional<RayHit> sphere_hit(const Ray& ray, const SphereShape& sphere) noexcept {
  const Components from = plus(ray.from, sphere.centre, -1.0);
  const double reach = sphere.radius + ray.radius;
  const double away = length_of(from);
  if (away <= reach) return RayHit{};
  const auto at = first_root(1.0, dot(from, ray.way), (away - reach) * (away + reach));
  if (!at) return std::nullopt;
  return RayHit{*at, -dot(plus(from, ray.way, *at), ray.way) / reach};
}

/// A coordinate of the ray beside a slab: how far outside it is `s` on, and how fast that changes.
struct Outside {
  double distance, slope;
};
Outside outside(double x, double way, double low, double high, double middle) noexcept {
  if (middle < low) return {low - x, -way};
  if (middle > high) return {x - high, way};
  return {0.0, 0.0};
}

/// Within the slabs of a box at once: where a ray without thickness enters, and through which face.
std::optional<RayHit> thin_hit(const Components& from, const Components& way, const BoxShape& box) noexcept {
  double enters = -unbounded, leaves = unbounded, cosine = 1.0;
  for (std::size_t i = 0; i < most_components; ++i) {
    if (way[i] == 0.0) {
      if (from[i] < box.low[i] || from[i] > box.high[i]) return std::nullopt;
      continue;
    }
    const double one = (box.low[i] - from[i]) / way[i], other = (box.high[i] - from[i]) / way[i];
    if (std::min(one, other) > enters) {
      enters = std::min(one, other);
      cosine = std::fabs(way[i]);
    }
    leaves = std::min(leaves, std::max(one, other));
  }
  if (enters > leaves || leaves < 0.0) return std::nullopt;
  return enters <= 0.0 ? RayHit{} : RayHit{enters, cosine};
}

/// When a ray crosses the faces of a box, ascending; the start before and infinity after them.
struct CrossingTimes {
  std::array<double, 2 * most_components + 2> at{0.0};
  std::size_t count = 1;

  CrossingTimes(const Components& from, const Components& way, const BoxShape& box) noexcept {
    for (std::size_t i = 0; i < most_components; ++i)
      if (way[i] != 0.0)
        for (const double face : {box.low[i], box.high[i]}) add((face - from[i]) / way[i]);
    at[count++] = unbounded;
  }

private:
  void add(double time) noexcept {
    if (!(time > 0.0 && time < unbounded)) return;
    std::size_t k = count++;
    for (; at[k - 1] > time; --k) at[k] = at[k - 1];
    at[k] = time;
  }
};

/// The square of the distance from a box is a parabola between the instants at which a coordinate crosses a face, and
/// convex throughout: the first instant at which it has come down to the ball's radius is found span by span.
std::optional<RayHit> thick_hit(const Components& from, const Components& way, double radius,
                                const BoxShape& box) noexcept {
  const CrossingTimes instants(from, way, box);
  for (std::size_t k = 0; k + 1 < instants.count; ++k) {
    const double begin = instants.at[k], length = instants.at[k + 1] - begin;
    const double inside = length < unbounded ? 0.5 * length : 1.0;
    double a = 0.0, b = 0.0, c = -radius * radius, along = 0.0;
    std::array<Outside, most_components> out{};
    for (std::size_t i = 0; i < most_components; ++i) {
      const double x = from[i] + way[i] * begin;
      out[i] = outside(x, way[i], box.low[i], box.high[i], x + way[i] * inside);
      a += out[i].slope * out[i].slope;
      b += out[i].distance * out[i].slope;
      c += out[i].distance * out[i].distance;
    }
    const auto root = c <= 0.0 ? std::optional(0.0) : first_root(a, b, c);
    if (!root || *root > length) continue;
    if (begin + *root == 0.0) return RayHit{};
    for (const Outside& one : out) along -= (one.distance + one.slope * *root) * one.slope;
    return RayHit{begin + *root, std::clamp(along / radius, 0.0, 1.0)};
  }
  return std::nullopt;
}

std::optional<RayHit> box_hit(const Ray& ray, const BoxShape& box) noexcept {
  const Components from = box.axes.parts(plus(ray.from, box.centre, -1.0)), way = box.axes.parts(ray.way);
  BoxShape around = box; // what the ball's middle can touch it from lies in here: most rays pass by
  for (std::size_t i = 0; i < most_components; ++i) {
    around.low[i] -= ray.radius;
    around.high[i] += ray.radius;
  }
  if (ray.radius > 0.0 && !thin_hit(from, way, around)) return std::nullopt;
  return ray.radius > 0.0 ? thick_hit(from, way, ray.radius, box) : thin_hit(from, way, box);
}

std::optional<RayHit> wall_hit(const Ray& ray, const WallShape& wall) noexcept {
  std::optional<RayHit> nearest;
  for (const BoxShape& panel : wall.panels)
    if (const auto hit = box_hit(ray, panel); hit && (!nearest || hit->distance < nearest->distance)) nearest = hit;
  return nearest;
}

} // namespace

std::optional<RayHit> hit_of(const Ray& ray, const ObstacleShape& shape) noexcept {
  if (const auto* plane = std::get_if<PlaneShape>(&shape)) return plane_hit(ray, *plane);
  if (const auto* box = std::get_if<BoxShape>(&shape)) return box_hit(ray, *box);
  if (const auto* sphere = std::get_if<SphereShape>(&shape)) return sphere_hit(ray, *sphere);
  if (const auto* wall = std::get_if<WallShape>(&shape)) return wall_hit(ray, *wall);
  return std::nullopt;
}

WallShape wall_along(std::vector<std::array<double, 2>> points, double bottom, double top) {
  WallShape wall;
  for (std::size_t k = 0; k + 1 < points.size(); ++k) {
    const auto& [x0, z0] = points[k];
    const auto& [x1, z1] = points[k + 1];
    const double length = std::hypot(x1 - x0, z1 - z0), half = 0.5 * length * (1.0 + overlap);
    const double c = (x1 - x0) / length, s = (z1 - z0) / length;
    BoxShape panel;
    panel.centre = {0.5 * (x0 + x1), 0.0, 0.5 * (z0 + z1)};
    panel.axes = {{c, 0.0, s}, {0.0, 1.0, 0.0}, {-s, 0.0, c}};
    panel.low = {-half, bottom, 0.0};
    panel.high = {half, top, 0.0};
    wall.panels.push_back(panel);
  }
  wall.points = std::move(points);
  return wall;
}

double limit_of(const RayHit& hit, double stand_off) noexcept {
  return hit.distance - std::min(stand_off / std::max(hit.cosine, least_cosine), hit.distance);
}

} // namespace stasis
