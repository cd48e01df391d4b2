#include "core/motion/led_motion.hpp"

#include "core/motion/led.hpp"
#include "core/motion/run_motion.hpp"
#include "core/unbounded.hpp"

namespace stasis {

void Led::fill(MoverState& state, StepMemory&, const Stretch& stretch) const noexcept {
  fill_run(nullptr, state, stretch);
}

double Led::go_on(MoverState& state, StepMemory&, RunTime time, GoalSegment goal, double) const noexcept {
  const Instant before = instant_of(nullptr, *state.run, time.end, {goal.end, 0.0}, Side::before);
  return arrive(state, before, instant_of(nullptr, *state.run, time.end, {goal.end, 0.0}));
}

double Led::starting_rate(const MoverState& state, double elapsed, double goal, double) const noexcept {
  return instant_of(nullptr, *state.run, elapsed, {goal, 0.0}).velocity;
}

Instant Led::inside(const FramePiece& piece, double u, Side side, KeptSpringStep&) const noexcept {
  return inside_run(nullptr, piece, u, side);
}

std::optional<double> Led::next_break(const FramePiece& piece, double u) const {
  return break_in_run(nullptr, piece, u);
}

Outlook Led::outlook(const FramePiece&) const noexcept { return {unbounded, unbounded}; }

double Led::smooth_stretch(const FramePiece& piece, double u, double) const noexcept {
  return stasis::smooth_stretch(*piece.state.run->led, piece.run_elapsed + u);
}

} // namespace stasis
