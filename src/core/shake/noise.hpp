// Smooth noise over one axis, the same everywhere for the same stream. Source: docs/maths.md, section 5.
#pragma once

#include <cmath>
#include <cstdint>

namespace stasis {

/// The bits of a number well mixed (the finaliser of a "split mix" generator; Steele, Lea, Flood 2014).
constexpr std::uint64_t mixed(std::uint64_t z) noexcept {
  z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
  z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
  return z ^ (z >> 31);
}
/// In [-1, 1), by a stream and a place in it.
inline double signed_share(std::uint64_t stream, std::int64_t place) noexcept {
  const std::uint64_t bits = mixed(stream + static_cast<std::uint64_t>(place) * 0x9e3779b97f4a7c15u);
  return static_cast<double>(static_cast<std::int64_t>(bits)) * 0x1p-63;
}

/// Gradient noise on one lattice of unit cells, |result| <= 1/2.
inline double lattice_noise(std::uint64_t stream, double x) noexcept {
  const double cell = std::floor(x), u = x - cell;
  const auto place = static_cast<std::int64_t>(cell);
  const double fade = u * u * u * (u * (u * 6.0 - 15.0) + 10.0);
  const double here = signed_share(stream, place) * u, next = signed_share(stream, place + 1) * (u - 1.0);
  return here + (next - here) * fade;
}

/// Largest sum of two lattices half a cell apart.
inline constexpr double noise_bound = 0.6035;
/// Centroid of the power spectrum of lattice noise, cycles a cell: of |integral of u (1 - fade(u)) sin(2 pi f u)|^2.
inline constexpr double noise_centroid = 0.5344909674;
/// Root mean square of unit_noise().
inline constexpr double noise_rms = 0.3297;

/// Noise without the places at which one lattice is always 0: two of them, half a cell apart. |result| <= 1.
inline double unit_noise(std::uint64_t stream, double x) noexcept {
  return (lattice_noise(stream, x) + lattice_noise(~stream, x + 0.5)) * (1.0 / noise_bound);
}

} // namespace stasis
