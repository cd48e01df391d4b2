// Motions after a goal that moves by itself: straight within each frame. Source: docs/maths.md, section 3.
#pragma once

#include "core/motion/goal_segment.hpp"
#include "core/motion/mover.hpp"

namespace stasis {

/// True if the motion can follow a goal that moves by itself; an eased or paced move that waits cannot.
bool follows_moving_goals(const Motion& motion) noexcept;

/// Advances by `h` seconds while the goal runs along `goal`. `run_elapsed` seconds into the run if there is one.
/// Value and velocity (the rate just before the end) are in the state afterwards.
void advance_after(const Motion& motion, MoverState& state, StepMemory& memory, double run_elapsed, GoalSegment goal,
                   double h);

/// The rate just after a frame begins, its goal at `goal` and moving at `slope`.
double rate_at_start(const Motion& motion, const MoverState& state, double run_elapsed, double goal, double slope);

} // namespace stasis
