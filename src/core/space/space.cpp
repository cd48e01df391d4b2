#include "core/space/space.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/unbounded.hpp"

namespace stasis {

namespace {

/// e^y, held to what a number can be: a swing beyond that is no value that anybody meant.
double grown(double y) noexcept {
  constexpr double farthest = 700.0;
  return std::exp(std::clamp(y, -farthest, farthest));
}

} // namespace

std::string_view name_of(Space space) noexcept {
  switch (space) {
  case Space::ratio: return "ratio";
  case Space::turn: return "turn";
  case Space::zoom: return "zoom";
  case Space::linear: break;
  }
  return "linear";
}

double short_way(const SpaceMap& map, double value, double goal) noexcept {
  // Turns to add so that the gap lies in (-half, half]; the tie goes up whatever the parity, also one that decimals
  // such as 350.1 and 170.1 miss by a rounding.
  constexpr double rounding = 1e-12;
  const double turns = std::floor(0.5 - (goal - value) / map.units_per_turn + rounding);
  return goal + turns * map.units_per_turn;
}

double to_space(const SpaceMap& map, double value) noexcept {
  if (map.space == Space::ratio) return std::log(value);
  if (map.space != Space::zoom) return value;
  return std::log(std::tan(0.5 * value * map.radians_per_unit));
}

double from_space(const SpaceMap& map, double coordinate) noexcept {
  if (map.space == Space::ratio) return grown(coordinate);
  if (map.space != Space::zoom) return coordinate;
  return 2.0 * std::atan(std::exp(coordinate)) / map.radians_per_unit;
}

double stretch(const SpaceMap& map, double value) noexcept {
  if (map.space == Space::ratio) return value;
  if (map.space != Space::zoom) return 1.0;
  return std::sin(value * map.radians_per_unit) / map.radians_per_unit;
}

SpaceRates rates_at(const SpaceMap& map, double coordinate) noexcept {
  if (map.space == Space::ratio) {
    const double value = grown(coordinate);
    return {value, value, value, value};
  }
  if (map.space != Space::zoom) return {coordinate, 1.0, 0.0, 0.0};
  // Half-angle forms: t = tan(angle / 2) is what the coordinate is the logarithm of.
  constexpr double farthest = 300.0; // the square of e^300 is still a number
  const double t = std::exp(std::clamp(coordinate, -farthest, farthest)), per_unit = map.radians_per_unit;
  const double sine = 2.0 / (t + 1.0 / t), cosine = (1.0 - t) * (1.0 + t) / (1.0 + t * t);
  return {2.0 * std::atan(t) / per_unit, sine / per_unit, sine * cosine / per_unit,
          sine * (cosine - sine) * (cosine + sine) / per_unit};
}

OpenInterval domain(const SpaceMap& map) noexcept {
  if (map.space == Space::ratio) return {0.0, unbounded};
  if (map.space != Space::zoom) return {-unbounded, unbounded};
  return {0.0, std::numbers::pi / map.radians_per_unit};
}

} // namespace stasis
