// The part of a channel's way in which its goal moves by itself.
#include <algorithm>
#include <cmath>

#include "core/motion/moving_goal.hpp"
#include "core/take/channel_mover.hpp"

namespace stasis {

/// The goals of a block from its wishes: within the range, a turn counted on from its own last goal.
void ChannelMover::read_moving_goals(std::size_t i, ComponentBlock& out, const std::vector<double>& ceilings) {
  const Mover& mover = movers_[i];
  const std::size_t rows = out.wishes.size();
  out.goals.resize(rows);
  out.goal_states.resize(rows);
  out.goals[0] = mover.goal;
  out.goal_states[0] = mover.goal_state;
  auto knot = out.knots.begin();
  double last = out.goals[0];
  const auto counted_on = [&](double wish) {
    const double asked = allowed(i, wish);
    return last = channel_.space.space == Space::turn ? short_way(channel_.space, last, asked) : asked;
  };
  for (std::size_t r = 1; r < rows; ++r) {
    for (; knot != out.knots.end() && knot->row < r; ++knot) {
      knot->goal = counted_on(knot->wish);
      knot->goal_state = to_space(channel_.space, knot->goal);
    }
    out.goals[r] = counted_on(ceilings.empty() ? out.wishes[r] : std::min(out.wishes[r], ceilings[r]));
    out.goal_states[r] = to_space(channel_.space, out.goals[r]);
  }
}

/// Rising or falling by the side on which the goal now is.
void ChannelMover::choose_direction(std::size_t i, Mover& mover, double gap) {
  const MotionChoice& choice = (*choices_of(mover))[i];
  if (choice.rising == choice.falling || gap == 0.0) return;
  switch_motion(mover, gap < 0.0 ? choice.falling : choice.rising);
}

/// True if one of the component's motions is a rule of frames: then nothing is split inside a frame.
bool ChannelMover::goes_by_frames(std::size_t i, const Mover& mover) const noexcept {
  const MotionChoice& choice = (*choices_of(mover))[i];
  return std::holds_alternative<PerFrame>(feel_.motions[choice.rising].motion)
         || std::holds_alternative<PerFrame>(feel_.motions[choice.falling].motion);
}

bool ChannelMover::fill_amount(std::int64_t first, ChannelBlock& out) {
  const auto* rule = std::get_if<PerFrame>(&motion_of(movers_[0]));
  const auto* amount = rule != nullptr ? std::get_if<AmountRule>(&rule->rule) : nullptr;
  if (amount == nullptr || channel_.components == 1) return false;
  for (std::size_t i = 1; i < channel_.components; ++i)
    if (movers_[i].motion != movers_[0].motion) return false;
  const std::size_t count = out.component[0].state.size() - 1;
  for (std::size_t r = 0; r < count; ++r) {
    const double dt = clock_.dt(first + static_cast<std::int64_t>(r));
    Components gap{};
    for (std::size_t i = 0; i < channel_.components; ++i) {
      const ComponentBlock& column = out.component[i];
      gap[i] = (column.moves() ? column.goal_states[r + 1] : movers_[i].acting_state) - movers_[i].state.value;
    }
    const double way = length_of(gap);
    for (std::size_t i = 0; i < channel_.components; ++i) {
      ComponentBlock& column = out.component[i];
      MoverState& state = movers_[i].state;
      const double goal = column.moves() ? column.goal_states[r + 1] : movers_[i].acting_state;
      column.state[r] = state.value;
      state.value = way <= amount->amount ? goal : state.value + gap[i] * (amount->amount / way);
      column.rate[r] = column.rate[r + 1] = state.velocity = (state.value - column.state[r]) / dt;
      column.state[r + 1] = state.value;
    }
  }
  for (std::size_t i = 0; i < channel_.components; ++i)
    if (out.component[i].moves()) leave_moving(i, out.component[i]);
  return true;
}

/// A step of `h` seconds after a moving goal, split where the goal passes from one side to the other.
void ChannelMover::step_after(std::size_t i, Mover& mover, double elapsed, GoalSegment goal, double h,
                              StepMemory& memory) {
  const double slope = (goal.end - goal.start) / h;
  const double gap = goal.start - mover.state.value;
  choose_direction(i, mover, gap != 0.0 ? gap : slope);
  const MotionChoice& choice = (*choices_of(mover))[i];
  if (choice.rising == choice.falling || goes_by_frames(i, mover))
    return advance_after(motion_of(mover), mover.state, memory, elapsed, goal, h);
  MoverState before = mover.state;
  advance_after(motion_of(mover), mover.state, memory, elapsed, goal, h);
  if (gap * (goal.end - mover.state.value) >= 0.0) return;
  double low = 0.0, high = h;
  const auto side_at = [&](double u) {
    MoverState state = before;
    StepMemory once;
    advance_after(motion_of(mover), state, once, elapsed, {goal.start, goal.start + slope * u}, u);
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

/// One frame whose goal turns corners: straight from corner to corner.
void ChannelMover::step_with_knots(std::size_t i, Mover& mover, double elapsed, double dt, std::size_t row,
                                   std::size_t& knot, const ComponentBlock& out) {
  double at = 0.0, from = out.goal_states[row];
  for (; knot < out.knots.size() && out.knots[knot].row == row; ++knot) {
    const ComponentBlock::Knot& next = out.knots[knot];
    step_after(i, mover, elapsed + at, {from, next.goal_state}, next.at - at, mover.piece_memory);
    at = next.at;
    from = next.goal_state;
  }
  step_after(i, mover, elapsed + at, {from, out.goal_states[row + 1]}, dt - at, mover.piece_memory);
}

void ChannelMover::fill_moving(std::size_t i, std::int64_t first, ComponentBlock& out) {
  Mover& mover = movers_[i];
  const std::size_t count = out.state.size() - 1;
  std::size_t knot = 0;
  for (std::size_t r = 0; r < count; ++r) {
    const GoalSegment goal{out.goal_states[r], out.goal_states[r + 1]};
    const double elapsed =
        mover.state.run != nullptr ? mover.state.run->elapsed(clock_, first + static_cast<std::int64_t>(r)) : 0.0;
    const double dt = clock_.dt(first + static_cast<std::int64_t>(r));
    const bool has_knots = knot < out.knots.size() && out.knots[knot].row == r;
    const double slope =
        has_knots ? (out.knots[knot].goal_state - goal.start) / out.knots[knot].at : (goal.end - goal.start) / dt;
    out.state[r] = mover.state.value;
    out.rate[r] = rate_at_start(motion_of(mover), mover.state, elapsed, goal.start, slope);
    if (goes_by_frames(i, mover)) {
      step_after(i, mover, elapsed, goal, dt, mover.memory);
      for (; knot < out.knots.size() && out.knots[knot].row == r; ++knot) {
      }
      if (std::holds_alternative<PerFrame>(motion_of(mover))) out.rate[r] = (mover.state.value - out.state[r]) / dt;
    } else if (has_knots)
      step_with_knots(i, mover, elapsed, dt, r, knot, out);
    else if (goal.start == goal.end)
      advance_after(motion_of(mover), mover.state, mover.memory, elapsed, goal, dt);
    else
      step_after(i, mover, elapsed, goal, dt, mover.memory);
    if (!out.stages.empty()) out.stages[r + 1] = {mover.state.input, mover.state.links};
  }
  out.state[count] = mover.state.value;
  out.rate[count] = std::holds_alternative<PerFrame>(motion_of(mover)) ? out.rate[count - 1] : mover.state.velocity;
  leave_moving(i, out);
}

/// The goal is where it was at the block's end.
void ChannelMover::leave_moving(std::size_t i, const ComponentBlock& out) {
  Mover& mover = movers_[i];
  mover.goal = mover.acting = out.goals.back();
  mover.goal_state = mover.acting_state = out.goal_states.back();
  mover.asked = channel_.obstacles ? mover.goal : allowed(i, out.wishes.back());
  mover.moved_by_itself = true;
}

void ChannelMover::hold_back(double most, std::int64_t frame, ChannelBlock* out) {
  Mover& mover = movers_[0];
  const double held = std::max(most, channel_.range[0].low);
  if (mover.smooth <= held) return;
  const double speed = std::isfinite(mover.state.velocity) ? mover.state.velocity : 0.0;
  const bool under_way = mover.state.run != nullptr;
  mover.state.value = to_space(channel_.space, held);
  mover.state.velocity = std::min(speed, 0.0);
  adopt(motion_of(mover), mover.state);
  mover.smooth = held;
  mover.rate_before = mover.state.velocity;
  if (out != nullptr) {
    out->component[0].state.back() = mover.state.value;
    out->component[0].rate.back() = mover.state.velocity;
  }
  if (!under_way || mover.state.value == mover.goal_state) return;
  MoveStart start = start_of(0, mover, {frame, 0.0, mover.goal, mover.goal_state, mover.once});
  begin_move(motion_of(mover), mover.state, start);
}

/// Behind a motion that waits: what the goal did so long ago, straight from point to point, jumps included.
void ChannelMover::fill_delayed(std::size_t i, std::int64_t first, ComponentBlock& out) {
  Mover& mover = movers_[i];
  const std::size_t count = out.state.size() - 1;
  if (mover.line.is_empty()) mover.line.add(clock_.time(first), mover.acting_state);
  mover.line.add(clock_.time(first), out.goal_states[0]);
  std::size_t knot = 0;
  for (std::size_t r = 0; r < count; ++r) {
    const std::int64_t frame = first + static_cast<std::int64_t>(r);
    const double time = clock_.time(frame), end = clock_.time(frame + 1), wait = wait_of(motion_of(mover));
    for (; knot < out.knots.size() && out.knots[knot].row == r; ++knot)
      mover.line.add(time + out.knots[knot].at, out.knots[knot].goal_state);
    mover.line.add(end, out.goal_states[r + 1]);
    mover.line.forget(time - longest_wait_);
    mover.line.pieces(time - wait, end - wait, pieces_);
    double elapsed = mover.state.run != nullptr ? mover.state.run->elapsed(clock_, frame) : 0.0;
    const GoalSegment begins = pieces_.front().goal;
    out.state[r] = mover.state.value;
    out.rate[r] = rate_at_start(motion_of(mover), mover.state, elapsed, begins.start,
                                (begins.end - begins.start) / pieces_.front().length);
    if (std::holds_alternative<PerFrame>(motion_of(mover))) {
      out.rate[r] = update_once(std::get<PerFrame>(motion_of(mover)), mover.state, pieces_.back().goal.end, end - time);
      pieces_.clear();
    }
    for (const DelayLine::Piece& piece : pieces_) {
      advance_after(motion_of(mover), mover.state, pieces_.size() == 1 ? mover.memory : mover.piece_memory, elapsed,
                    piece.goal, piece.length);
      elapsed += piece.length;
    }
    if (!out.stages.empty()) out.stages[r + 1] = {mover.state.input, mover.state.links};
  }
  out.state[count] = mover.state.value;
  out.rate[count] = mover.state.velocity;
  leave_moving(i, out);
}

/// All components at once, their motions working along axes that turn from frame to frame and stand within one.
void ChannelMover::fill_turned(std::int64_t first, ChannelBlock& out) {
  const std::size_t count = out.axes.size(), components = channel_.components;
  const auto gather = [&](const auto& of) {
    Components all{};
    for (std::size_t i = 0; i < components; ++i) all[i] = of(i);
    return all;
  };
  Components value = gather([&](std::size_t i) { return movers_[i].state.value; });
  Components velocity = gather([&](std::size_t i) { return movers_[i].state.velocity; });
  std::size_t knot = 0;
  const bool by_frames = std::any_of(movers_.begin(), movers_.begin() + static_cast<std::ptrdiff_t>(components),
                                     [&](const Mover& m) { return std::holds_alternative<PerFrame>(motion_of(m)); });
  const auto& knots = out.component[0].knots; // each component has one at the same instants
  for (std::size_t r = 0; r < count; ++r) {
    const Axes& axes = out.axes[r];
    const double dt = clock_.dt(first + static_cast<std::int64_t>(r));
    double at = 0.0;
    Components goal = gather([&](std::size_t i) { return out.component[i].goal_states[r]; });
    const auto step_to = [&](double end, const Components& next) {
      const Components from = axes.parts(goal), to = axes.parts(next);
      Components place = axes.parts(value), rate = axes.parts(velocity);
      for (std::size_t i = 0; i < components; ++i) {
        Mover& mover = movers_[i];
        MoverState state = mover.state;
        state.value = place[i];
        state.velocity = rate[i];
        StepMemory& memory = end - at == dt ? mover.memory : mover.piece_memory;
        advance_after(motion_of(mover), state, memory, 0.0, {from[i], to[i]}, end - at);
        place[i] = state.value;
        rate[i] = state.velocity;
      }
      value = axes.sum(place);
      velocity = axes.sum(rate);
      at = end;
      goal = next;
    };
    for (; by_frames && knot < knots.size() && knots[knot].row == r; ++knot) {
    }
    const bool has_knots = knot < knots.size() && knots[knot].row == r;
    const double first_end = has_knots ? knots[knot].at : dt;
    const Components first_goal = gather([&](std::size_t i) {
      return has_knots ? out.component[i].knots[knot].goal_state : out.component[i].goal_states[r + 1];
    });
    write_turned_row(r, axes, value, velocity, goal, scaled(plus(first_goal, goal, -1.0), 1.0 / first_end), out);
    for (; knot < knots.size() && knots[knot].row == r; ++knot)
      step_to(knots[knot].at, gather([&](std::size_t i) { return out.component[i].knots[knot].goal_state; }));
    step_to(dt, gather([&](std::size_t i) { return out.component[i].goal_states[r + 1]; }));
  }
  for (std::size_t i = 0; i < components; ++i) {
    ComponentBlock& column = out.component[i];
    Mover& mover = movers_[i];
    column.state[count] = mover.state.value = value[i];
    column.rate[count] = mover.state.velocity = velocity[i];
    leave_moving(i, column);
  }
}

/// A row's value, and its rate just after the frame begins.
void ChannelMover::write_turned_row(std::size_t row, const Axes& axes, const Components& value,
                                    const Components& velocity, const Components& goal, const Components& slope,
                                    ChannelBlock& out) {
  const Components place = axes.parts(value), rate = axes.parts(velocity), to = axes.parts(goal),
                   run = axes.parts(slope);
  Components now{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    MoverState state = movers_[i].state;
    state.value = place[i];
    state.velocity = rate[i];
    now[i] = rate_at_start(motion_of(movers_[i]), state, 0.0, to[i], run[i]);
  }
  now = axes.sum(now);
  for (std::size_t i = 0; i < channel_.components; ++i) {
    out.component[i].state[row] = value[i];
    out.component[i].rate[row] = now[i];
  }
}

} // namespace stasis
