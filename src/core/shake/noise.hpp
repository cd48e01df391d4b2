// Smooth noise over one axis, the same everywhere for the same stream. Source: docs/maths.md, section 5.
#pragma once

#include <cstdint>

namespace stasis {

/// The bits of a number well mixed (the finaliser of a "split mix" generator; Steele, Lea, Flood 2014).
constexpr std::uint64_t mixed(std::uint64_t z) noexcept {
  z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
  z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
  return z ^ (z >> 31);
}
/// In [-1, 1), by a stream and a place in it. The highest bits of the product depend on all below them, which is enough
/// for one number a place; streams themselves are well mixed.
inline double signed_share(std::uint64_t stream, std::int64_t place) noexcept {
  std::uint64_t bits = stream + static_cast<std::uint64_t>(place) * 0x9e3779b97f4a7c15u;
  bits = (bits ^ (bits >> 32)) * 0xd6e8feb86659fd93u;
  return static_cast<double>(static_cast<std::int64_t>(bits)) * 0x1p-63;
}

/// Gradient noise on one lattice of unit cells. Samples that follow each other mostly lie in one cell, whose two
/// gradients are therefore kept.
class NoiseLattice {
public:
  explicit NoiseLattice(std::uint64_t stream = 0) noexcept : stream_(stream) {}

  /// At x >= 0; |result| <= 1/2.
  double at(double x) noexcept {
    const auto place = static_cast<std::int64_t>(x); // the floor, since x is not negative
    if (place != place_) {
      place_ = place;
      here_ = signed_share(stream_, place);
      next_ = signed_share(stream_, place + 1);
    }
    const double u = x - static_cast<double>(place);
    const double fade = u * u * u * (u * (u * 6.0 - 15.0) + 10.0);
    const double here = here_ * u;
    return here + (next_ * (u - 1.0) - here) * fade;
  }

private:
  std::uint64_t stream_;
  std::int64_t place_ = -1;
  double here_ = 0.0, next_ = 0.0;
};

/// Largest sum of two lattices half a cell apart.
inline constexpr double noise_bound = 0.6035;
/// Centroid of the power spectrum of lattice noise, cycles a cell: of |integral of u (1 - fade(u)) sin(2 pi f u)|^2.
inline constexpr double noise_centroid = 0.5344909674;
/// Root mean square of UnitNoise.
inline constexpr double noise_rms = 0.3297;

/// Noise without the places at which one lattice is always 0: two of them, half a cell apart.
class UnitNoise {
public:
  explicit UnitNoise(std::uint64_t stream = 0) noexcept : first_(stream), second_(~stream) {}

  /// At x >= 0; |result| <= 1.
  double at(double x) noexcept { return (first_.at(x) + second_.at(x + 0.5)) * (1.0 / noise_bound); }

private:
  NoiseLattice first_, second_;
};

} // namespace stasis
