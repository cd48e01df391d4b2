// The numbers of one thing that has up to three: a place, a velocity, the value of a channel.
#pragma once

#include <array>
#include <cmath>
#include <cstddef>

namespace stasis {

inline constexpr std::size_t most_components = 3;
using Components = std::array<double, most_components>;
/// The suffixes of components: ".x", ".y", ".z".
inline constexpr std::array<const char*, most_components> component_suffixes{".x", ".y", ".z"};

inline double dot(const Components& a, const Components& b) noexcept { return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]; }
inline double length_of(const Components& vector) noexcept {
  if (vector[1] == 0.0 && vector[2] == 0.0) return std::fabs(vector[0]);
  return std::hypot(vector[0], vector[1], vector[2]);
}
/// a + times * b.
inline Components plus(const Components& a, const Components& b, double times = 1.0) noexcept {
  return {a[0] + times * b[0], a[1] + times * b[1], a[2] + times * b[2]};
}
inline Components scaled(const Components& vector, double times) noexcept {
  return {vector[0] * times, vector[1] * times, vector[2] * times};
}

} // namespace stasis
