// The scales in which motions work. Source of the formulas: docs/maths.md, section 2.
#pragma once

#include <string_view>

namespace stasis {

enum class Space {
  linear, ///< y = x
  zoom,   ///< y = ln tan(x / 2), x an angle in (0, 180 deg): equal steps are equal ratios of size on the picture
};

/// A space together with the unit of its channel.
struct SpaceMap {
  Space space = Space::linear;
  double radians_per_unit = 1.0; ///< used by `zoom` only
};

/// The coordinate in the space of a value in the channel's unit. `zoom` needs 0 < value < half a turn.
double to_space(const SpaceMap& map, double value) noexcept;
/// The inverse of to_space, within a few units of the last place.
double from_space(const SpaceMap& map, double coordinate) noexcept;
/// d(value)/d(coordinate) at `value` (channel units per unit of the space).
double stretch(const SpaceMap& map, double value) noexcept;

/// A value and its first three derivatives by the coordinate.
struct SpaceRates {
  double value, first, second, third;
};
SpaceRates rates_at(const SpaceMap& map, double coordinate) noexcept;

struct OpenInterval {
  double low;
  double high;
};
/// The values that the space can hold, both ends excluded.
OpenInterval domain(const SpaceMap& map) noexcept;

} // namespace stasis
