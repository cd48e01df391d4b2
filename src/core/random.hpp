// A small seeded generator whose numbers are the same everywhere. No cryptography.
#pragma once

#include <cmath>
#include <cstdint>

#include "core/units.hpp"

namespace stasis {

/// Counts up by an odd constant and mixes the bits (a "split mix" generator; Steele, Lea, Flood 2014).
class Random {
public:
  explicit Random(std::uint64_t seed) noexcept : state_(seed) {}

  std::uint64_t next() noexcept {
    std::uint64_t z = state_ += 0x9e3779b97f4a7c15u;
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
    return z ^ (z >> 31);
  }
  /// In [0, 1), every value with 53 bits.
  double share() noexcept { return static_cast<double>(next() >> 11) * 0x1p-53; }
  /// 0..count-1; count >= 1.
  std::size_t below(std::size_t count) noexcept { return static_cast<std::size_t>(next() % count); }

  /// Of the standard normal distribution (Box and Muller 1958).
  double normal() noexcept {
    const double a = 1.0 - share(), b = share();
    return std::sqrt(-2.0 * std::log(a)) * std::cos(whole_turn * b);
  }

private:
  std::uint64_t state_;
};

} // namespace stasis
