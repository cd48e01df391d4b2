// A step of size 1 under one motion on its own, played as any take is.
#pragma once

#include <vector>

#include "core/feel/feel.hpp"

namespace stasis {

/// Seconds within which a step of the motion has as good as come to rest (0.2 % of it; a spring with hardly any damping
/// less).
inline double long_enough(const Motion& motion) { return facts_of(motion).step_time; }

/// A feel whose only channel goes from 0 to 1 by the motion, from the first frame of its only take on.
Feel step_feel(const Motion& motion, double length);

/// The step at some times, s, ascending from 0 on.
std::vector<double> step_values(const Motion& motion, const std::vector<double>& times);

} // namespace stasis
