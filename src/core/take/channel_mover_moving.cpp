// The part of a channel's way in which its goal moves by itself.
#include <algorithm>
#include <cmath>
#include <utility>

#include "core/root.hpp"
#include "core/take/channel_mover.hpp"

namespace stasis {
namespace {

/// True if two places differ by more than a rounding.
bool is_elsewhere(double a, double b) noexcept {
  constexpr double rounding = 1e-12;
  return std::fabs(a - b) > rounding * std::max(1.0, std::fabs(b));
}

} // namespace

/// The goals of a block from its wishes: within the range, a turn counted on from its own last goal.
void ChannelMover::read_moving_goals(std::size_t i, ComponentBlock& out, const std::vector<double>& ceilings) {
  const Mover& mover = movers_[i];
  const std::size_t rows = out.wishes.size();
  out.goals.resize(rows);
  out.goal_states.resize(rows);
  out.goals[0] = mover.goal;
  out.goal_states[0] = mover.goal_state;
  auto knot = out.knots.begin();
  double last = out.goals[0], largest = 0.0;
  const auto asked_at = [&](std::size_t row) {
    return ceilings.empty() ? out.wishes[row] : std::min(out.wishes[row], ceilings[row]);
  };
  double last_wish = asked_at(0);
  const auto counted_on = [&](double wish) {
    // A wish that stands leaves the goal where it is: a move there and back has a goal of its own.
    if (wish == std::exchange(last_wish, wish)) return last;
    const double held = allowed(i, wish);
    const double asked = channel_.space.space == Space::turn ? short_way(channel_.space, last, held) : held;
    // What differs by a rounding is where it was: a goal that stands, however it was worked out.
    constexpr double rounding = 1e-14;
    return last = std::fabs(asked - last) <= rounding * largest ? last : asked;
  };
  for (std::size_t r = 1; r < rows; ++r) {
    // Of this frame alone: what else the block holds decides nothing.
    largest = std::max({std::fabs(out.goals[r - 1]), std::fabs(out.wishes[r - 1]), std::fabs(out.wishes[r])});
    for (; knot != out.knots.end() && knot->row < r; ++knot) {
      knot->goal = counted_on(knot->wish);
      knot->goal_state = to_space(channel_.space, knot->goal);
    }
    out.goals[r] = counted_on(asked_at(r));
    out.goal_states[r] = to_space(channel_.space, out.goals[r]);
  }
}

/// Rising or falling by the side on which the goal now is.
void ChannelMover::choose_direction(std::size_t i, Mover& mover, double gap) {
  const MotionChoice& choice = (*choices_of(mover))[i];
  if (choice.rising == choice.falling || gap == 0.0) return;
  switch_motion(mover, gap < 0.0 ? choice.falling : choice.rising);
}

/// True if one of the component's motions is a per-frame rule: then nothing is split inside a frame.
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

/// A piece behind a moving goal, split where the goal passes from one side to the other. \returns the rate just before
/// its end.
double ChannelMover::step_after(std::size_t i, const Piece& piece, Mover& mover, StepMemory& memory,
                                ComponentBlock* record) {
  const GoalSegment goal = piece.goal;
  const double slope = (goal.end - goal.start) / piece.length;
  // A goal that sets off from where the value is lies on the side to which it goes, until the value outruns it.
  const double apart = goal.start - mover.state.value, gap = apart != 0.0 ? apart : slope;
  choose_direction(i, mover, gap);
  const MotionChoice& choice = (*choices_of(mover))[i];
  if (choice.rising == choice.falling) return step(piece, mover, memory, record);
  const MoverState before = mover.state;
  const std::size_t pieces = record != nullptr ? record->pieces.size() : 0;
  const double rate = step(piece, mover, memory, record);
  if (gap * (goal.end - mover.state.value) >= 0.0) return rate;
  const auto is_on_the_same_side = [&](double u) {
    MoverState state = before;
    StepMemory once;
    advance(motion_of(mover), state, once, {piece.elapsed.begin, piece.elapsed.begin + u},
            {goal.start, goal.start + slope * u}, u);
    return (goal.start + slope * u - state.value) * gap > 0.0;
  };
  const double high = change_between(is_on_the_same_side, 0.0, piece.length).second;
  if (record != nullptr) record->pieces.resize(pieces);
  mover.state = before;
  constexpr double at_once = 1e-15;
  if (high <= at_once * piece.length) {
    choose_direction(i, mover, -gap);
    return step(piece, mover, memory, record);
  }
  const double met = goal.start + slope * high;
  StepMemory once;
  const double then = piece.elapsed.begin + high;
  step({piece.row, piece.from, high, {goal.start, met}, {piece.elapsed.begin, then}}, mover, once, record);
  choose_direction(i, mover, -gap);
  StepMemory rest;
  return step({piece.row, piece.from + high, piece.length - high, {met, goal.end}, {then, piece.elapsed.end}}, mover,
              rest, record);
}

/// How the goal that a motion works towards runs over a frame, into goal_pieces_: straight from corner to corner;
/// behind a motion that waits what it did so long ago, jumps included.
void ChannelMover::read_goal_pieces(Mover& mover, std::int64_t frame, std::size_t row, std::size_t& knot,
                                    const ComponentBlock& out) {
  goal_pieces_.clear();
  double at = 0.0, from = asked_state(mover, out.goal_states[row]);
  const double dt = clock_.dt(frame);
  for (; knot < out.knots.size() && out.knots[knot].row == row; ++knot) {
    const ComponentBlock::Knot& next = out.knots[knot];
    const double to = asked_state(mover, next.goal_state);
    goal_pieces_.push_back({{from, to}, next.at - at});
    at = next.at;
    from = to;
  }
  goal_pieces_.push_back({{from, asked_state(mover, out.goal_states[row + 1])}, dt - at});
  if (!keeps_way_) return;
  const double time = clock_.time(frame), end = clock_.time(frame + 1), wait = wait_of(motion_of(mover));
  at = time;
  for (std::size_t p = 0; p + 1 < goal_pieces_.size(); ++p)
    mover.line.add(at += goal_pieces_[p].length, goal_pieces_[p].goal.end);
  mover.line.add(end, goal_pieces_.back().goal.end);
  mover.line.forget(time - longest_wait_);
  mover.line.pieces(time - wait, end - wait, goal_pieces_);
  // Times of the clock differ by the frame's length except for a rounding, and the last piece ends with the frame.
  double before = 0.0;
  for (std::size_t p = 0; p + 1 < goal_pieces_.size(); ++p) before += goal_pieces_[p].length;
  if (dt > before) goal_pieces_.back().length = dt - before;
}

/// True if a jump that waits will change anything: it leads elsewhere, or begins an eased move again.
bool ChannelMover::brings_anything(const Mover& mover) const noexcept {
  if (mover.pending.empty()) return false;
  const auto* chain = std::get_if<Chain>(&motion_of(mover));
  if (chain == nullptr || chain->head) return true;
  for (std::size_t p = 0; p < mover.pending.size(); ++p)
    if (mover.pending[p].goal_state != mover.acting_state) return true;
  return false;
}

/// The first frame at whose end nothing that the goal did is still to come through a delay. \param end of the block.
std::int64_t ChannelMover::awaits_until(const Mover& mover, std::int64_t end) const noexcept {
  if (brings_anything(mover)) return INT64_MAX;
  if (mover.line.is_empty() || mover.led) return 0;
  const double comes = mover.line.stands_since() + wait_of(motion_of(mover));
  if (!std::isfinite(comes)) return 0;
  if (comes > clock_.time(end) + instant_slack) return INT64_MAX;
  const std::int64_t next = first_frame_at(clock_, comes);
  return comes < clock_.time(next) - instant_slack ? next - 1 : next;
}

/// Where the goal is as a block begins, for motions that see it later.
void ChannelMover::begin_way(Mover& mover, double time, double goal_state) {
  if (mover.line.is_empty()) mover.line.add(time, mover.seen = mover.acting_state);
  mover.line.add(time, goal_state);
}

/// Cuts the frame where what was put off begins: until then the move under way goes to its own goal. It begins once
/// that is over, or as soon as the goal moves by itself, which nothing waits for: at the frame's start at once.
/// \returns when within the frame, s; infinite if not there.
double ChannelMover::cut_for_pending(std::size_t i, Mover& mover, std::int64_t frame) {
  if (mover.pending.empty()) return never;
  const double asked = mover.pending.back().goal_state, dt = clock_.dt(frame);
  const auto moves = [&](const DelayLine::Piece& piece) {
    return piece.goal.start != piece.goal.end || is_elsewhere(piece.goal.end, asked);
  };
  double at = std::max(arrival_after(mover, frame), 0.0), stood = 0.0;
  for (const DelayLine::Piece& piece : goal_pieces_) {
    if (moves(piece)) at = std::min(at, stood);
    stood += piece.length;
  }
  const GoalSegment under_way{mover.acting_state, mover.acting_state};
  if (at >= dt - instant_slack) {
    goal_pieces_.assign(1, {under_way, dt});
    return never;
  }
  if (at == 0.0) {
    begin_pending(i, mover, frame, 0.0);
    return never;
  }
  double end = 0.0;
  auto first = goal_pieces_.begin();
  for (; end + first->length <= at; ++first) end += first->length;
  first->length -= at - end;
  goal_pieces_.erase(goal_pieces_.begin(), first);
  goal_pieces_.insert(goal_pieces_.begin(), {under_way, at});
  return at;
}

/// What was put off begins `at` seconds into the frame.
void ChannelMover::begin_pending(std::size_t i, Mover& mover, std::int64_t frame, double at) {
  Jumps jumps;
  jumps[i] = mover.pending.back();
  jumps[i]->frame = frame;
  jumps[i]->wait = at;
  mover.pending.clear();
  take_up(jumps);
}

/// A frame by a rule that acts once in it, or by what takes turns with one: never split. \returns the rate just before
/// its end.
double ChannelMover::step_by_frames(std::size_t i, const Piece& whole, Mover& mover, ComponentBlock& out) {
  const GoalSegment goal = whole.goal;
  const bool runs = goal.start != goal.end;
  const double gap = goal.start - mover.state.value;
  if (runs) choose_direction(i, mover, gap != 0.0 ? gap : goal.end - goal.start);
  double rate = step(whole, mover, mover.memory, nullptr);
  if (std::holds_alternative<PerFrame>(motion_of(mover)))
    rate = out.rate[whole.row] = (mover.state.value - out.state[whole.row]) / whole.length;
  // The goal may have passed the value, and stand from here on.
  if (runs) choose_direction(i, mover, goal.end - mover.state.value);
  return rate;
}

void ChannelMover::fill_moving(std::size_t i, std::int64_t first, ComponentBlock& out) {
  Mover& mover = movers_[i];
  const std::size_t count = out.state.size() - 1;
  if (keeps_way_) begin_way(mover, clock_.time(first), asked_state(mover, out.goal_states[0]));
  const auto keep_stages = [&](std::size_t row) {
    if (!out.stages.empty()) out.stages[row] = {mover.state.input, mover.state.links};
  };
  std::size_t knot = 0;
  double rate = 0.0;
  for (std::size_t r = 0; r < count; ++r) {
    const std::int64_t frame = first + static_cast<std::int64_t>(r);
    const double dt = clock_.dt(frame);
    read_goal_pieces(mover, frame, r, knot, out);
    const double begins_at = cut_for_pending(i, mover, frame);
    const auto& begins = goal_pieces_.front();
    const bool arrived = keeps_way_ && is_elsewhere(begins.goal.start, mover.seen);
    mover.seen = goal_pieces_.back().goal.end;
    const auto plan_if_standing = [&](const GoalSegment& goal, double at) {
      if (goal.start == goal.end) plan_standing(i, mover, {frame, at, goal.end, goal.end, false, false});
    };
    plan_if_standing(begins.goal, 0.0);
    const double elapsed = elapsed_of(mover, frame);
    out.state[r] = mover.state.value;
    out.rate[r] = rate_at_start(motion_of(mover), mover.state, elapsed, begins.goal.start,
                                (begins.goal.end - begins.goal.start) / begins.length);
    keep_stages(r);
    if (goes_by_frames(i, mover)) {
      const GoalSegment whole{begins.goal.start, goal_pieces_.back().goal.end};
      rate = step_by_frames(i, {r, 0.0, dt, whole, {elapsed, elapsed_of(mover, frame + 1)}}, mover, out);
      continue;
    }
    const bool is_whole = goal_pieces_.size() == 1;
    const std::size_t pieces = out.pieces.size();
    double at = 0.0;
    for (const DelayLine::Piece& run : goal_pieces_) {
      if (at == begins_at) begin_pending(i, mover, frame, at);
      plan_if_standing(run.goal, at);
      const bool is_last = &run == &goal_pieces_.back();
      const double end = is_last ? elapsed_of(mover, frame + 1) : elapsed_of(mover, frame, at + run.length);
      const Piece piece{r, at, run.length, run.goal, {elapsed_of(mover, frame, at), end}};
      StepMemory& memory = is_whole ? mover.memory : mover.piece_memory;
      rate = keeps_way_ || run.goal.start == run.goal.end ? step(piece, mover, memory, &out)
                                                          : step_after(i, piece, mover, memory, &out);
      at += run.length;
    }
    out.pieces[pieces].arrived = arrived;
    // What is one piece of the block's motion is told by the rows.
    if (out.pieces.size() == pieces + 1 && mover.motion == out.motion && mover.state.run == out.run && !keeps_way_)
      out.pieces.resize(pieces);
  }
  keep_stages(count);
  out.state[count] = mover.state.value;
  out.rate[count] = rate;
  leave_moving(i, out);
}

/// The goal is where it was at the block's end.
void ChannelMover::leave_moving(std::size_t i, const ComponentBlock& out) {
  Mover& mover = movers_[i];
  mover.turned = mover.turned && out.goal_states.back() == mover.goal_state;
  mover.goal = out.goals.back();
  mover.goal_state = out.goal_states.back();
  if (mover.pending.empty() && !mover.turned) {
    mover.acting = mover.goal;
    mover.acting_state = mover.goal_state;
  }
  mover.asked = channel_.obstacles ? mover.goal : allowed(i, out.wishes.back());
  mover.moved_by_itself = true;
}

void ChannelMover::hold_back(double most, std::int64_t frame, ChannelBlock* out) {
  Mover& mover = movers_[0];
  const double held = std::max(most, goal_range(channel_, 0).low);
  if (mover.smooth <= held) return;
  const double speed = finite_or_zero(mover.state.velocity);
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
  MoveStart start = start_of(0, mover, {frame, 0.0, mover.goal, mover.goal_state, mover.once, false});
  begin_move(motion_of(mover), mover.state, start);
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
  Components rate_before{};
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
      Components place = axes.parts(value), rate = axes.parts(velocity), before{};
      for (std::size_t i = 0; i < components; ++i) {
        Mover& mover = movers_[i];
        mover.state.value = place[i];
        mover.state.velocity = rate[i];
        StepMemory& memory = end - at == dt ? mover.memory : mover.piece_memory;
        before[i] = step({r, at, end - at, {from[i], to[i]}, {0.0, end - at}}, mover, memory,
                         by_frames ? nullptr : &out.component[i]);
        place[i] = mover.state.value;
        rate[i] = mover.state.velocity;
      }
      value = axes.sum(place);
      velocity = axes.sum(rate);
      rate_before = axes.sum(before);
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
    column.rate[count] = rate_before[i];
    mover.state.velocity = velocity[i];
    leave_moving(i, column);
  }
}

/// A row's value, and its rate just after the frame begins.
// many: all that stands in one row
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
