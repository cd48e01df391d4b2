#include "core/motion/cut.hpp"

#include "core/motion/frame_piece.hpp"
#include "core/motion/stretch.hpp"
#include "core/unbounded.hpp"

namespace stasis {

void Cut::fill(MoverState& state, StepMemory&, const Stretch& stretch) const noexcept {
  const MoverRows& rows = stretch.rows;
  const std::size_t count = stretch.count();
  for (std::size_t i = 0; i <= count; ++i) {
    rows.value[i] = i == 0 ? state.value : stretch.goal;
    rows.velocity[i] = 0.0;
  }
  state.value = rows.value[count];
  state.velocity = 0.0;
}

double Cut::go_on(MoverState& state, StepMemory&, RunTime, GoalSegment goal, double h) const noexcept {
  state.value = goal.end;
  return state.velocity = slope_of(goal, h);
}

Instant Cut::inside(const FramePiece& piece, double u, Side, KeptSpringStep&) const noexcept {
  return {piece.goal.start + piece.slope() * u, piece.slope(), 0.0, 0.0};
}

Outlook Cut::outlook(const FramePiece& piece) const noexcept { return straight_on(piece); }

double Cut::smooth_stretch(const FramePiece&, double, double) const noexcept { return unbounded; }

MotionFacts Cut::facts() const noexcept { return {.step_time = 0.01, .no_curve = "a cut takes no time"}; }

} // namespace stasis
