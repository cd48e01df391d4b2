// The scales in which motions work. Source of the formulas: docs/maths.md, section 2.
#pragma once

#include <string_view>

namespace stasis {

enum class Space {
  linear, ///< y = x
  ratio,  ///< y = ln x, x > 0: equal steps are equal factors
  turn,   ///< y = x, an angle whose goal is taken the short way round; the output counts on over whole turns
  zoom,   ///< y = ln tan(x / 2), x an angle in (0, 180 deg): equal steps are equal ratios of size on the picture
};

/// "linear", "ratio", "turn" or "zoom".
std::string_view name_of(Space space) noexcept;

/// A space together with the unit of its channel.
struct SpaceMap {
  Space space = Space::linear;
  double radians_per_unit = 1.0; ///< used by `zoom` only
  double units_per_turn = 360.0; ///< used by `turn` only
  bool operator==(const SpaceMap&) const = default;
};

/// True if equal steps in the space are equal factors, so that a speed in it is best said in doublings a second.
constexpr bool is_logarithmic(Space space) noexcept { return space == Space::ratio || space == Space::zoom; }

/// `goal` moved by whole turns to within half a turn of `value`; an exact half turn goes the positive way.
/// Source: docs/maths.md, section 2.
double short_way(const SpaceMap& map, double value, double goal) noexcept;

/// The coordinate in the space of a value in the channel's unit. `ratio` needs value > 0, `zoom` a value between 0 and
/// half a turn.
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
