// `ease`: a move of fixed duration along a curve. Source: docs/maths.md, section 3.
#pragma once

#include "core/curve/curve.hpp"
#include "core/motion/instant.hpp"

namespace stasis {

/// What happens when a new goal comes while a move is under way.
enum class Handover {
  restart, ///< the full duration again, from where the value is; the speed may jump
};

struct Ease {
  double duration; ///< s, > 0
  Curve curve;
  Handover handover = Handover::restart;
};

/// The move `elapsed` seconds after its start at `from` toward a goal now at `goal`, moving at `goal_velocity`.
/// From the end of its duration on the value is the goal itself.
Instant evaluate(const Ease& ease, double from, double elapsed, double goal, double goal_velocity) noexcept;

/// The same just before `elapsed`: differs from evaluate() at the very end, where the speed may still be on.
Instant evaluate_before(const Ease& ease, double from, double elapsed, double goal, double goal_velocity) noexcept;

} // namespace stasis
