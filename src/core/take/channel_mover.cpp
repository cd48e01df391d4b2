#include "core/take/channel_mover.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/unbounded.hpp"

namespace stasis {
namespace {

/// Rate of the output; 0 while the range holds the output, NaN where the rule's own rate has no bound.
double output_rate(const Channel& channel, std::size_t component, double state, double rate, double smooth) noexcept {
  if (!std::isfinite(rate)) return std::numeric_limits<double>::quiet_NaN();
  const auto [low, high] = output_range(channel, component);
  if (smooth == low || smooth == high) {
    const double free = from_space(channel.space, state);
    const bool pinned = (smooth == low && (free < low || (free == low && rate < 0.0)))
                        || (smooth == high && (free > high || (free == high && rate > 0.0)));
    if (pinned) return 0.0;
  }
  return stretch(channel.space, smooth) * rate;
}

/// True if a formula, a track, a stick or a pointer may move the channel's goal.
bool may_move_by_itself(const Feel& feel, std::size_t channel) {
  return is_led(feel.channels[channel])
         || std::any_of(feel.controls.begin(), feel.controls.end(), [&](const Control& control) {
              const bool runs =
                  std::holds_alternative<Stick>(control.rule) || std::holds_alternative<Pointer>(control.rule);
              return runs && target_of(control)->channel == channel;
            });
}

/// The longest wait of all motions that the channel may move by, s.
double longest_wait(const Feel& feel, std::size_t channel) {
  double longest = 0.0;
  const auto look_at = [&](const MotionChoices& choices) {
    for (std::size_t i = 0; i < feel.channels[channel].components; ++i)
      for (const std::size_t motion : {choices[i].rising, choices[i].falling})
        longest = std::max(longest, wait_of(feel.motions[motion].motion));
  };
  look_at(feel.channels[channel].motion);
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      for (const auto& choices : {goal.entering, goal.leaving})
        if (goal.channel == channel && choices) look_at(*choices);
  return longest;
}

} // namespace

ChannelMover::ChannelMover(const Feel& feel, std::size_t channel, const Clock& clock, const Components& start)
    : feel_(feel), channel_(feel.channels[channel]), index_(channel), clock_(clock) {
  longest_wait_ = longest_wait(feel, channel);
  keeps_way_ = longest_wait_ > 0.0 && may_move_by_itself(feel, channel);
  place_at(start);
}

void ChannelMover::place_at(const Components& start) {
  for (std::size_t i = 0; i < channel_.components; ++i) {
    Mover& mover = movers_[i];
    mover.motion = channel_.motion[i].rising;
    mover.asked = mover.goal = mover.acting = mover.start = mover.smooth =
        std::clamp(start[i], channel_.range[i].low, channel_.range[i].high);
    mover.goal_state = mover.acting_state = to_space(channel_.space, mover.goal);
    mover.state = state_at_rest(mover.goal_state);
  }
}

/// Output of a state in the channel's unit. A state that is its goal is reported as the goal was written, without the
/// rounding of the way there and back.
double ChannelMover::output_of(std::size_t i, double state, const Mover& mover) const noexcept {
  const double value = state == mover.acting_state ? mover.acting
                       : state == mover.goal_state ? mover.goal
                                                   : from_space(channel_.space, state);
  const auto [low, high] = output_range(channel_, i);
  return std::clamp(value, low, high);
}

double ChannelMover::output_of(std::size_t i, double state, double goal_state, double goal) const noexcept {
  const auto [low, high] = output_range(channel_, i);
  return std::clamp(state == goal_state ? goal : from_space(channel_.space, state), low, high);
}

void ChannelMover::choose_motion(std::size_t i, Mover& mover, const PoseGoal* owner) {
  const MotionChoices* choices = &channel_.motion;
  mover.choices = nullptr;
  if (owner != nullptr && owner->entering) choices = &*owner->entering;
  if (owner == nullptr && mover.owner != nullptr && mover.owner->leaving) choices = &*mover.owner->leaving;
  mover.choices = choices;
  const MotionChoice& choice = (*choices)[i];
  const double gap = mover.goal_state - mover.state.value;
  std::size_t chosen = gap < 0.0 ? choice.falling : choice.rising;
  // Without a gap there is no direction: what is in force stays, if it is one of the two.
  if (gap == 0.0 && mover.motion == choice.falling) chosen = mover.motion;
  mover.owner = owner;
  switch_motion(mover, chosen);
}

void ChannelMover::switch_motion(Mover& mover, std::size_t chosen) {
  if (chosen == mover.motion) return;
  mover.motion = chosen;
  slow(mover);
  mover.memory = {};
  mover.pending.clear();
  adopt(motion_of(mover), mover.state);
}

void ChannelMover::slow(Mover& mover) const {
  mover.slowed =
      times_ == 1.0 ? nullptr : std::make_shared<const Motion>(slowed(feel_.motions[mover.motion].motion, times_));
}

void ChannelMover::slow_down(double times) {
  constexpr double shortest = 1e-6;
  const double held = std::isfinite(times) ? std::max(times, shortest) : 1.0;
  if (held == times_) return;
  times_ = held;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    slow(movers_[i]);
    movers_[i].memory = movers_[i].piece_memory = {};
  }
}

/// Takes a new wish over. \returns true if the goal has jumped.
bool ChannelMover::jump(std::size_t i, Mover& mover, const Controls::Wish& wish) {
  const double asked = allowed(i, i == 0 ? std::min(wish.value, ceiling_) : wish.value);
  // A goal that has moved by itself is read anew; what differs by a rounding only has not jumped.
  const double rounding = mover.moved_by_itself ? 1e-12 * std::max(1.0, std::fabs(asked)) : 0.0;
  mover.moved_by_itself = false;
  const bool same = std::fabs(asked - mover.asked) <= rounding;
  if (same && rounding > 0.0) {
    mover.owner = wish.owner;
    return false;
  }
  mover.asked = asked;
  if (same) {
    mover.owner = wish.owner;
    return false;
  }
  const double before = mover.goal_state;
  mover.goal = channel_.space.space == Space::turn ? short_way(channel_.space, mover.state.value, asked) : asked;
  mover.goal_state = to_space(channel_.space, mover.goal);
  mover.start = mover.smooth;
  choose_motion(i, mover, wish.owner);
  mover.begins = true;
  mover.once = wish.owner == nullptr; // the way home is made once
  return mover.goal_state != before || mover.state.value != mover.goal_state;
}

/// A move that goes there and back has turned since the frame before: its goal is where it came from, or its goal
/// again.
bool ChannelMover::turn(Mover& mover, std::int64_t frame, ChannelBlock& out) {
  const Ease* ease = ease_of(motion_of(mover));
  const Run* run = mover.state.run.get();
  if (ease == nullptr || run == nullptr || !ease->there_and_back || mover.begins) return false;
  const double elapsed = run->elapsed(clock_, frame) + instant_slack;
  const double state = heading(*ease, run->way, elapsed);
  if (state == mover.goal_state) return false;
  mover.goal_state = state;
  mover.goal = state == run->way.to ? mover.acting : mover.start;
  out.moved_ago = std::max(0.0, std::fmod(elapsed - instant_slack - ease->delay, ease->duration));
  if (out.moved_ago > clock_.dt(std::max<std::int64_t>(frame - 1, 0)))
    out.moved_ago = 0.0; // it was that very instant, missed by a rounding
  return true;
}

bool ChannelMover::take_arrivals(std::size_t i, Mover& mover, std::int64_t frame) {
  bool any = false;
  while (!mover.pending.empty() && arrival_after(mover, frame) <= instant_slack) {
    take_up(i, mover);
    any = true;
  }
  return any;
}

void ChannelMover::take_up(std::size_t i, Mover& mover) {
  const Pending jump = mover.pending.front();
  mover.pending.pop_front();
  const MoveStart start = start_of(i, mover, jump);
  mover.acting = jump.goal;
  mover.acting_state = jump.goal_state;
  begin_move(motion_of(mover), mover.state, start);
}

MoveStart ChannelMover::start_of(std::size_t i, const Mover& mover, const Pending& jump) const {
  const OpenInterval allowed = domain(channel_.space);
  const auto [low, high] = output_range(channel_, i);
  MoveStart start;
  start.frame = jump.frame;
  start.offset = jump.wait;
  start.goal = jump.goal_state;
  start.once = jump.once;
  start.old_goal = mover.acting_state;
  if (low > allowed.low) start.low = to_space(channel_.space, low);
  if (high < allowed.high) start.high = to_space(channel_.space, high);
  return start;
}

double ChannelMover::arrival_after(const Mover& mover, std::int64_t frame) const {
  if (mover.pending.empty()) return never;
  return mover.pending.front().wait - clock_.elapsed(mover.pending.front().frame, frame);
}

bool ChannelMover::put_off(Mover& mover, std::int64_t frame) {
  const Motion& motion = motion_of(mover);
  double wait = wait_of(motion);
  const Ease* ease = ease_of(motion);
  if (ease != nullptr && ease->handover == Handover::finish_first) {
    mover.pending.clear(); // only the last request waits
    if (mover.goal_state == mover.acting_state) return true;
    if (mover.state.run != nullptr)
      wait = std::max(wait, total_time(*ease, mover.state.run->way) - mover.state.run->elapsed(clock_, frame));
  }
  if (wait <= instant_slack) return false;
  mover.pending.push_back({frame, wait, mover.goal, mover.goal_state, mover.once});
  return true;
}

/// Begins the moves of components whose goal has jumped; those that share one pace move together.
void ChannelMover::begin_moves(std::int64_t frame) {
  bool together = channel_.components > 1 && std::holds_alternative<Pace>(motion_of(movers_[0]));
  bool any = false;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    together = together && movers_[i].motion == movers_[0].motion;
    any = any || movers_[i].begins;
  }
  if (!any) return;
  PacePlan plan;
  if (together) {
    std::array<double, 3> gap{}, velocity{};
    for (std::size_t i = 0; i < channel_.components; ++i) {
      gap[i] = movers_[i].goal_state - movers_[i].state.value;
      velocity[i] = std::isfinite(movers_[i].state.velocity) ? movers_[i].state.velocity : 0.0;
    }
    plan = plan_pace(*pace_of(motion_of(movers_[0])), gap, velocity);
  }
  for (std::size_t i = 0; i < channel_.components; ++i) {
    Mover& mover = movers_[i];
    if (!mover.begins && !together) continue;
    if (keeps_way_ && wait_of(motion_of(mover)) > 0.0) continue; // it comes through the line
    if (put_off(mover, frame)) continue;
    MoveStart start = start_of(i, mover, {frame, 0.0, mover.goal, mover.goal_state, mover.once});
    start.plan = together ? &plan : nullptr;
    start.axis = i;
    mover.acting = mover.goal;
    mover.acting_state = mover.goal_state;
    begin_move(motion_of(mover), mover.state, start);
  }
}

void ChannelMover::read_goals(const Controls& controls, std::int64_t frame, ChannelBlock& out) {
  out.moved = out.turned = false;
  out.moved_ago = 0.0;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    Mover& mover = movers_[i];
    out.component[i].arrived = take_arrivals(i, mover, frame);
    mover.begins = false;
    const Controls::Wish wish = controls.wish(index_, i);
    if (jump(i, mover, wish)) out.moved = true;
    out.component[i].wish = wish.value;
  }
  begin_moves(frame);
  for (std::size_t i = 0; i < channel_.components && !out.moved; ++i)
    if (turn(movers_[i], frame, out)) out.moved = out.turned = true;
}

std::int64_t ChannelMover::unbroken_frames(std::int64_t frame, std::int64_t most) const {
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const Mover& mover = movers_[i];
    if (const double after = arrival_after(mover, frame); after < never) {
      most = std::max<std::int64_t>(clock_.frames_within(frame, after, most), 1);
    }
    const Ease* ease = ease_of(motion_of(mover));
    const Run* run = mover.state.run.get();
    if (ease == nullptr || run == nullptr) continue;
    const double elapsed = run->elapsed(clock_, frame);
    const double turn_at = next_turn(*ease, run->way, elapsed + instant_slack);
    if (turn_at == never) continue;
    // The first frame at or after the turn.
    const double until = turn_at - elapsed;
    const std::int64_t before = clock_.frames_within(frame, until - 2.0 * instant_slack, most);
    most = std::min(most, std::max<std::int64_t>(before + 1, 1));
  }
  return most;
}

void ChannelMover::fill(std::int64_t first, std::int64_t count, ChannelBlock& out) {
  bool arrives = false;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    ComponentBlock& column = out.component[i];
    Mover& mover = movers_[i];
    if (!column.wishes.empty())
      read_moving_goals(i, column, out.ceilings);
    else
      column.goals.clear(), column.goal_states.clear();
    const auto rows = static_cast<std::size_t>(count) + 1;
    column.goal = mover.goal;
    column.goal_state = mover.goal_state;
    column.acting_state = mover.acting_state;
    column.rate_before = mover.rate_before;
    column.motion = mover.motion;
    column.slowed = mover.slowed;
    column.run = mover.state.run;
    column.arrival.reset();
    column.state.resize(rows);
    column.rate.resize(rows);
    column.stages.resize(std::holds_alternative<Chain>(motion_of(mover)) ? rows : 0);
    arrives = arrives || arrival_after(mover, first) < clock_.dt(first) - instant_slack;
  }
  const bool moves =
      std::any_of(out.component.begin(), out.component.begin() + static_cast<std::ptrdiff_t>(channel_.components),
                  [](const ComponentBlock& column) { return column.moves(); });
  if (!out.axes.empty())
    fill_turned(first, out);
  else if (arrives && !moves)
    fill_arrival_frame(first, out);
  else if (!fill_amount(first, out))
    for (std::size_t i = 0; i < channel_.components; ++i) fill_component(i, first, out.component[i]);
  for (std::size_t i = 0; i < channel_.components; ++i) convert_rows(i, movers_[i], out.component[i]);
}

void ChannelMover::fill_component(std::size_t i, std::int64_t first, ComponentBlock& out) {
  Mover& mover = movers_[i];
  if (out.moves()) return keeps_way_ ? fill_delayed(i, first, out) : fill_moving(i, first, out);
  advance_rows(motion_of(mover), mover.state, mover.memory, clock_, first, mover.acting_state,
               {out.state, out.rate, out.stages});
}

/// One frame within which delayed jumps arrive: up to the arrival with the old goal, on from there with the new one.
void ChannelMover::fill_arrival_frame(std::int64_t frame, ChannelBlock& out) {
  for (std::size_t i = 0; i < channel_.components; ++i) {
    Mover& mover = movers_[i];
    ComponentBlock& column = out.component[i];
    const double at = arrival_after(mover, frame);
    if (at >= clock_.dt(frame) - instant_slack) {
      fill_component(i, frame, column);
      continue;
    }
    const Motion& motion = motion_of(mover);
    if (const auto* chain = std::get_if<Chain>(&motion))
      arrive_in_chain(*chain, i, frame, at, column);
    else
      arrive_in_run(i, frame, at, column);
  }
}

void ChannelMover::arrive_in_chain(const Chain& chain, std::size_t i, std::int64_t frame, double at,
                                   ComponentBlock& column) {
  Mover& mover = movers_[i];
  const Motion& motion = motion_of(mover);
  const double elapsed = mover.state.run != nullptr ? mover.state.run->elapsed(clock_, frame) : 0.0;
  column.state[0] = mover.state.value;
  column.rate[0] = instant_in_chain(chain, mover.state, elapsed, mover.acting_state, 0.0, Side::at).velocity;
  column.stages[0] = {mover.state.input, mover.state.links};
  advance_by(motion, mover.state, elapsed, mover.acting_state, at);
  take_up(i, mover);
  column.arrival = Arrival{at, mover.state, mover.acting_state};
  const double left = clock_.dt(frame) - at;
  const Instant end = instant_in_chain(chain, mover.state, 0.0, mover.acting_state, left, Side::before);
  advance_by(motion, mover.state, 0.0, mover.acting_state, left);
  column.state[1] = mover.state.value;
  column.rate[1] = end.velocity;
  column.stages[1] = {mover.state.input, mover.state.links};
  mover.state.velocity = end.velocity;
}

/// An eased move that ends within the frame, and the request that waited for it.
void ChannelMover::arrive_in_run(std::size_t i, std::int64_t frame, double at, ComponentBlock& column) {
  Mover& mover = movers_[i];
  const Ease* ease = ease_of(motion_of(mover));
  const double elapsed = mover.state.run->elapsed(clock_, frame);
  column.state[0] = mover.state.value;
  column.rate[0] = instant_of(ease, *mover.state.run, elapsed, {mover.acting_state, 0.0}).velocity;
  const Instant met = instant_of(ease, *mover.state.run, elapsed + at, {mover.acting_state, 0.0}, Side::before);
  mover.state.value = met.value;
  mover.state.velocity = met.velocity;
  take_up(i, mover);
  column.arrival = Arrival{at, mover.state, mover.acting_state};
  const Instant end =
      instant_of(ease, *mover.state.run, clock_.dt(frame) - at, {mover.acting_state, 0.0}, Side::before);
  column.state[1] = mover.state.value = end.value;
  column.rate[1] = mover.state.velocity = end.velocity;
}

void ChannelMover::convert_rows(std::size_t i, Mover& mover, ComponentBlock& out) const {
  const std::size_t count = out.state.size() - 1;
  mover.rate_before = out.rate[count];
  out.smooth.resize(count);
  out.velocity.resize(count);
  for (std::size_t k = 0; k < count; ++k) {
    out.smooth[k] = k == 0        ? mover.smooth
                    : out.moves() ? output_of(i, out.state[k], out.goal_states[k], out.goals[k])
                                  : output_of(i, out.state[k], mover);
    out.velocity[k] = output_rate(channel_, i, out.state[k], out.rate[k], out.smooth[k]);
  }
  mover.smooth = output_of(i, out.state[count], mover);
  out.value = out.smooth;
}

} // namespace stasis
