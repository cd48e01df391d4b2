// The number that stands for "no bound" and "grows without end".
#pragma once

#include <cmath>
#include <limits>

namespace stasis {

inline constexpr double unbounded = std::numeric_limits<double>::infinity();
/// An instant that does not come, s.
inline constexpr double never = unbounded;

/// A velocity that a motion can take over: one without a bound is as none.
inline double finite_or_zero(double velocity) noexcept { return std::isfinite(velocity) ? velocity : 0.0; }

/// Numbers that a file may hold: beyond them a double cannot tell a place from its neighbours, or an axis its ticks.
inline constexpr double largest_number = 1e15, smallest_number = 1e-100;
inline bool is_within_reach(double value) noexcept {
  const double size = value < 0.0 ? -value : value;
  return size <= largest_number && (size == 0.0 || size >= smallest_number);
}

} // namespace stasis
