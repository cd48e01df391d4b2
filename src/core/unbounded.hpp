// The number that stands for "no bound" and "grows without end".
#pragma once

#include <limits>

namespace stasis {

inline constexpr double unbounded = std::numeric_limits<double>::infinity();
/// An instant that does not come, s.
inline constexpr double never = unbounded;

} // namespace stasis
