// Motions that do not bring a value to its goal in any time that is meant. Each is warned of by itself; what follows
// from it (a take that ends on the way, a subject that is lost) is not warned of again.
#pragma once

#include <optional>

#include "core/motion/motion.hpp"

namespace stasis {

/// Its typical time in seconds, where that is hardly meant: below 5 ms or above a minute.
std::optional<double> unlikely_time(const Motion& motion);
/// A spring without damping.
bool swings_forever(const Motion& motion);
/// Where its curve ends, as a share of the way, if that is not the goal.
std::optional<double> other_end(const Motion& motion);
/// One of these.
bool is_known_not_to_end(const Motion& motion);

} // namespace stasis
