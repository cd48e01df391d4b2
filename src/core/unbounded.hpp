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

} // namespace stasis
