// How a goal runs during one frame.
#pragma once

namespace stasis {

/// The goal just after the frame begins and just before it ends, in the channel's space. Straight in between; a jump
/// at either end is not part of it.
struct GoalSegment {
  double start;
  double end;
};

} // namespace stasis
