// How a goal runs during one frame.
#pragma once

namespace stasis {

/// The goal just after the frame begins and just before it ends, in the channel's space. Straight in between; a jump
/// at either end is not part of it.
struct GoalSegment {
  double start;
  double end;
};

/// How fast it runs, if it takes `h` seconds.
inline double slope_of(GoalSegment goal, double h) noexcept { return h > 0.0 ? (goal.end - goal.start) / h : 0.0; }

} // namespace stasis
