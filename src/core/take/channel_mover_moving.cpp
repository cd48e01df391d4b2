// The part of a channel's way in which its goal moves by itself.
#include <algorithm>
#include <cmath>

#include "core/motion/moving_goal.hpp"
#include "core/take/channel_mover.hpp"

namespace stasis {

/// The goals of a block from its wishes: within the range, a turn counted on from its own last goal.
void ChannelMover::read_moving_goals(std::size_t i, ComponentBlock& out) {
  const Mover& mover = movers_[i];
  const auto [low, high] = channel_.range[i];
  const std::size_t rows = out.wishes.size();
  out.goals.resize(rows);
  out.goal_states.resize(rows);
  out.goals[0] = mover.goal;
  out.goal_states[0] = mover.goal_state;
  for (std::size_t r = 1; r < rows; ++r) {
    const double asked = std::clamp(out.wishes[r], low, high);
    out.goals[r] = channel_.space.space == Space::turn ? short_way(channel_.space, out.goals[r - 1], asked) : asked;
    out.goal_states[r] = to_space(channel_.space, out.goals[r]);
  }
}

/// Rising or falling by the side on which the goal now is.
void ChannelMover::choose_direction(std::size_t i, Mover& mover, double gap) {
  const MotionChoice& choice = (*choices_of(mover))[i];
  if (choice.rising == choice.falling || gap == 0.0) return;
  switch_motion(mover, gap < 0.0 ? choice.falling : choice.rising);
}

/// One step after a moving goal, split where the goal passes from one side to the other.
void ChannelMover::step_after(std::size_t i, Mover& mover, double elapsed, GoalSegment goal) {
  const double h = clock_.dt(), slope = (goal.end - goal.start) / h;
  const double gap = goal.start - mover.state.value;
  choose_direction(i, mover, gap != 0.0 ? gap : slope);
  const MotionChoice& choice = (*choices_of(mover))[i];
  MoverState before = mover.state;
  advance_after(motion_of(mover), mover.state, mover.memory, elapsed, goal, h);
  if (choice.rising == choice.falling || gap * (goal.end - mover.state.value) >= 0.0) return;
  double low = 0.0, high = h;
  const auto side_at = [&](double u) {
    MoverState state = before;
    StepMemory memory;
    advance_after(motion_of(mover), state, memory, elapsed, {goal.start, goal.start + slope * u}, u);
    return goal.start + slope * u - state.value;
  };
  for (int k = 0; k < 60; ++k) {
    const double middle = 0.5 * (low + high);
    (side_at(middle) * gap > 0.0 ? low : high) = middle;
  }
  mover.state = std::move(before);
  StepMemory once;
  const double met = goal.start + slope * high;
  advance_after(motion_of(mover), mover.state, once, elapsed, {goal.start, met}, high);
  choose_direction(i, mover, -gap);
  StepMemory rest;
  advance_after(motion_of(mover), mover.state, rest, elapsed + high, {met, goal.end}, h - high);
}

void ChannelMover::fill_moving(std::size_t i, std::int64_t first, ComponentBlock& out) {
  Mover& mover = movers_[i];
  const std::size_t count = out.state.size() - 1;
  for (std::size_t r = 0; r < count; ++r) {
    const GoalSegment goal{out.goal_states[r], out.goal_states[r + 1]};
    const double elapsed =
        mover.state.run != nullptr ? mover.state.run->elapsed(clock_, first + static_cast<std::int64_t>(r)) : 0.0;
    out.state[r] = mover.state.value;
    out.rate[r] =
        rate_at_start(motion_of(mover), mover.state, elapsed, goal.start, (goal.end - goal.start) / clock_.dt());
    if (goal.start == goal.end)
      advance_after(motion_of(mover), mover.state, mover.memory, elapsed, goal, clock_.dt());
    else
      step_after(i, mover, elapsed, goal);
    if (!out.stages.empty()) out.stages[r + 1] = {mover.state.input, mover.state.links};
  }
  out.state[count] = mover.state.value;
  out.rate[count] = mover.state.velocity;
  mover.goal = mover.acting = out.goals[count];
  mover.goal_state = mover.acting_state = out.goal_states[count];
  mover.asked = std::clamp(out.wishes[count], channel_.range[i].low, channel_.range[i].high);
  mover.moved_by_itself = true;
}

} // namespace stasis
