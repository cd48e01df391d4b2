// Geometry that limits how far back the camera may be, and a ray of some thickness against it. Axes as everywhere:
// docs/design.md, 3, 16; rules: 3, 13.
#pragma once

#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/components.hpp"
#include "core/scene/axes.hpp"

namespace stasis {

/// Everything behind a plane.
struct PlaneShape {
  Components at{};
  Components normal{0.0, 1.0, 0.0}; ///< of length 1, out of the obstacle
};

/// A box along axes of its own; a bound may be infinite.
struct BoxShape {
  Components centre{};
  Axes axes;
  Components low{}, high{}; ///< from the centre, along the axes
};

struct SphereShape {
  Components centre{};
  double radius = 1.0;
};

/// Upright walls without thickness, one after the other.
struct WallShape {
  std::vector<BoxShape> panels;
  std::vector<std::array<double, 2>> points; ///< x and z each
};

/// How far back there is room, as recorded; thickness and stand-off's slant do not apply.
struct RecordedClearance {
  std::size_t track = 0; ///< of one component
};

using ObstacleShape = std::variant<PlaneShape, BoxShape, SphereShape, WallShape, RecordedClearance>;

struct Obstacle {
  std::string name;
  ObstacleShape shape;
};

/// A ball of `radius` that goes from a place along `way`, a vector of length 1.
struct Ray {
  Components from{}, way{0.0, 0.0, 1.0};
  double radius = 0.0;
};

/// Where a ray meets an obstacle.
struct RayHit {
  double distance = 0.0; ///< that its middle has gone when it first touches; 0 where it touches at the start
  double cosine = 1.0;   ///< of the angle between the ray and the surface's normal there; 1 at the start
};

/// Nothing where the ray never touches. A recorded clearance is not met by a ray: ObstacleRay::at() reads it.
std::optional<RayHit> hit_of(const Ray& ray, const ObstacleShape& shape) noexcept;

/// The upright walls over a line of points, x and z each, from `bottom` to `top`. Neighbouring points differ.
WallShape wall_along(std::vector<std::array<double, 2>> points, double bottom, double top);

/// How far back a view may be for a hit: kept off the surface by `stand_off` along its normal, and never below 0.
/// A ray that grazes counts as if its cosine were 0.1. Source: docs/maths.md, section 6.
double limit_of(const RayHit& hit, double stand_off) noexcept;

} // namespace stasis
