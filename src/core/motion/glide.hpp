// `glide`: the gap to the goal shrinks by one constant factor per equal time. Source: docs/maths.md, section 3.
#pragma once

#include "core/motion/goal_segment.hpp"

namespace stasis {

struct Glide {
  double rate; ///< 1/s, > 0
};

/// Coefficients of one exact step of a fixed length; keep them while the length stays the same.
struct GlideStep {
  double toward;    ///< share of the gap closed in the step: 1 - e^-a, a = rate dt
  double ramp;      ///< share of the goal's own travel taken over
  double remaining; ///< e^-a
  bool from_goal;   ///< long steps are written from the goal, so that arrival is exact
};

/// Coefficients for a step of `dt` seconds (>= 0).
GlideStep glide_step(const Glide& glide, double dt) noexcept;

/// The value after the step. Exact for any dt and a goal that runs straight, within 1e-15 of the largest of the
/// value and both goals; exactly at rest stays exactly at rest.
inline double advance(const GlideStep& step, double value, GoalSegment goal) noexcept {
  if (step.from_goal) return goal.end + (step.remaining * (value - goal.start) + step.ramp * (goal.end - goal.start));
  return value + (step.toward * (goal.start - value) + step.ramp * (goal.end - goal.start));
}

/// The rate of change (space units per second) at a value and goal.
inline double velocity(const Glide& glide, double value, double goal) noexcept { return glide.rate * (goal - value); }

} // namespace stasis
