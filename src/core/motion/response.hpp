// How a motion answers a goal that moves: a steady drift, a sway.
#pragma once

#include <optional>

#include "core/motion/motion.hpp"

namespace stasis {

struct Sway {
  double frequency_hz;
  double passes; ///< amplitude that comes through, a share of the goal's
  double late;   ///< s by which it comes later
};

/// The answer to a goal that sways at `frequency_hz` (> 0), once it has gone on for a while. Nothing for motions that
/// are not linear (an eased move, a pace). Source: transfer functions of the motions, docs/maths.md, section 3.
std::optional<Sway> sway_of(const Motion& motion, double frequency_hz);

/// Seconds by which the value trails a goal that moves steadily; nothing for motions that are not linear.
std::optional<double> steady_lag(const Motion& motion);

} // namespace stasis
