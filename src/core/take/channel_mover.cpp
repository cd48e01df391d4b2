#include "core/take/channel_mover.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/feel/goal_source.hpp"
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
    : feel_(feel), channel_(feel.channels[channel]), index_(channel), clock_(clock.of(feel.channels[channel].runs_on)) {
  longest_wait_ = longest_wait(feel, channel);
  keeps_way_ = longest_wait_ > 0.0 && may_run(feel, channel);
  place_at(start);
}

void ChannelMover::place_at(const Components& start) {
  for (std::size_t i = 0; i < channel_.components; ++i) {
    Mover& mover = movers_[i];
    mover.motion = channel_.motion[i].rising;
    mover.asked = mover.goal = mover.acting = mover.start = mover.smooth = allowed(i, start[i]);
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

/// True if it rests at its goal; what a rounding leaves is rest.
bool ChannelMover::is_there(const Mover& mover) noexcept {
  const double size = std::max(1.0, std::fabs(mover.goal_state));
  constexpr double rounding = 4e-15, creep = 1e-13;
  return std::fabs(mover.state.value - mover.goal_state) <= rounding * size
         && std::fabs(mover.state.velocity) <= creep * size;
}

/// The goal stays, another pose asks for it, or none: from now on its motion acts. \returns true if that is a
/// new move, because the value is still on its way.
bool ChannelMover::take_owner(std::size_t i, Mover& mover, const PoseGoal* owner, std::int64_t frame) {
  if (owner == mover.owner) return false;
  const std::size_t before = mover.motion;
  // What has just come through the delay of the motion before may lead it away again.
  const bool is_led_away = works_towards(mover, frame) != mover.goal_state && !mover.homeward;
  choose_motion(i, mover, owner, frame);
  if (mover.motion == before) return false;
  if (is_there(mover) && !is_led_away) return false;
  mover.start = mover.smooth;
  mover.begins = true;
  mover.once = owner == nullptr;
  return true;
}

/// Takes a new wish over. \returns true if a move begins: the goal has jumped, or another motion takes over on the way.
bool ChannelMover::jump(std::size_t i, Mover& mover, const Controls::Wish& wish, std::int64_t frame) {
  const double asked = allowed(i, i == 0 ? std::min(wish.value, ceiling_) : wish.value);
  // A goal that has moved by itself is read again, and the room behind it is measured on each frame; what differs
  // by a rounding only has not jumped.
  const double rounding = mover.moved_by_itself || channel_.obstacles ? 1e-12 * std::max(1.0, std::fabs(asked)) : 0.0;
  mover.moved_by_itself = false;
  if (std::fabs(asked - mover.asked) <= rounding) return take_owner(i, mover, wish.owner, frame);
  mover.asked = asked;
  mover.turned = false;
  const double before = mover.goal_state;
  const bool was_on_its_way = is_on_its_way(mover, frame);
  mover.goal = channel_.space.space == Space::turn ? short_way(channel_.space, mover.state.value, asked) : asked;
  mover.goal_state = to_space(channel_.space, mover.goal);
  const bool stays = mover.goal_state == before && is_there(mover);
  mover.start = mover.smooth;
  choose_motion(i, mover, wish.owner, frame);
  // A move that has come home by itself does not start again because home is asked for.
  mover.begins = !stays || was_on_its_way;
  if (!mover.begins) {
    mover.acting = mover.goal;
    mover.acting_state = mover.goal_state;
  }
  mover.once = wish.owner == nullptr; // the way home is made once
  return !stays;
}

/// A move that goes there and back has turned since the frame before: its goal is where it came from, or its goal
/// again.
bool ChannelMover::turn(Mover& mover, std::int64_t frame) {
  const Ease* ease = ease_of(motion_of(mover));
  const Run* run = mover.state.run.get();
  if (ease == nullptr || run == nullptr || !ease->there_and_back) return false;
  const double elapsed = run->elapsed(clock_, frame) + instant_slack;
  // A goal that moves by itself is no turn; which way it heads tells.
  const double state = heading(*ease, run->way, elapsed);
  const bool homeward = state != run->way.to;
  if (homeward == mover.homeward) return false;
  mover.homeward = mover.turned = homeward;
  // Behind a delay it set off from where it was then, not from where it was when it was asked.
  mover.goal_state = homeward ? state : mover.acting_state;
  mover.goal = !homeward                                        ? mover.acting
               : state == to_space(channel_.space, mover.start) ? mover.start
                                                                : from_space(channel_.space, state);
  return true;
}

/// What a goal asks of the motion: a move that has turned goes on by the goal that it was given.
double ChannelMover::asked_state(const Mover& mover, double goal_state) noexcept {
  return mover.turned && goal_state == mover.goal_state ? mover.acting_state : goal_state;
}

bool ChannelMover::is_on_its_way(const Mover& mover, std::int64_t frame) const noexcept {
  if (!mover.pending.empty()) return true;
  const Run* run = mover.state.run.get();
  return run != nullptr && elapsed_of(mover, frame) < total_time(ease_of(motion_of(mover)), *run) - instant_slack;
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
  start.runs = &runs_;
  if (low > allowed.low) start.low = to_space(channel_.space, low);
  if (high < allowed.high) start.high = to_space(channel_.space, high);
  return start;
}

/// Those that share one pace are planned together, from where they are.
void ChannelMover::take_up(const Jumps& jumps) {
  const bool together = std::all_of(jumps.begin(), jumps.begin() + static_cast<std::ptrdiff_t>(channel_.components),
                                    [](const auto& jump) { return jump && jump->together; });
  PacePlan plan;
  if (together) {
    Components gap{}, velocity{};
    for (std::size_t i = 0; i < channel_.components; ++i) {
      const SpringState from = pace_start(motion_of(movers_[i]), movers_[i].state);
      gap[i] = jumps[i]->goal_state - from.value;
      velocity[i] = finite_or_zero(from.velocity);
    }
    plan = plan_pace(*pace_of(motion_of(movers_[0])), gap, velocity);
  }
  for (std::size_t i = 0; i < channel_.components; ++i) {
    if (!jumps[i]) continue;
    Mover& mover = movers_[i];
    MoveStart start = start_of(i, mover, *jumps[i]);
    start.plan = together ? &plan : nullptr;
    start.axis = i;
    mover.acting = jumps[i]->goal;
    mover.acting_state = jumps[i]->goal_state;
    mover.homeward = mover.turned = false;
    begin_move(motion_of(mover), mover.state, start);
  }
}

/// The pending jumps that arrive by `by` seconds after the beginning of `frame`: the first of each component.
ChannelMover::Jumps ChannelMover::due_jumps(std::int64_t frame, double by) {
  Jumps due;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    auto& pending = movers_[i].pending;
    if (arrival_after(movers_[i], frame) > by) continue;
    due[i] = pending.front();
    pending.pop_front();
  }
  return due;
}

double ChannelMover::arrival_after(const Mover& mover, std::int64_t frame) const {
  if (mover.pending.empty()) return never;
  return mover.pending.front().wait - clock_.elapsed(mover.pending.front().frame, frame);
}

bool ChannelMover::put_off(Mover& mover, const Pending& jump) {
  const Motion& motion = motion_of(mover);
  double wait = wait_of(motion);
  const Ease* ease = ease_of(motion);
  if (ease != nullptr && ease->handover == Handover::finish_first) {
    mover.pending.clear(); // only the last request waits
    if (mover.goal_state == mover.acting_state) return true;
    if (mover.state.run != nullptr)
      wait = std::max(wait, total_time(*ease, mover.state.run->way) - mover.state.run->elapsed(clock_, jump.frame));
  }
  if (wait <= instant_slack) return false;
  mover.pending.push_back(jump);
  mover.pending.back().wait = wait;
  return true;
}

/// True if the components share one pace, and so move straight.
bool ChannelMover::moves_together() const noexcept {
  if (channel_.components == 1 || is_led() || pace_of(motion_of(movers_[0])) == nullptr) return false;
  return std::all_of(movers_.begin() + 1, movers_.begin() + static_cast<std::ptrdiff_t>(channel_.components),
                     [&](const Mover& mover) { return mover.motion == movers_[0].motion; });
}

/// Begins the moves of components whose goal has jumped; those that share one pace move together.
void ChannelMover::begin_moves(std::int64_t frame) {
  const bool any = std::any_of(movers_.begin(), movers_.begin() + static_cast<std::ptrdiff_t>(channel_.components),
                               [](const Mover& mover) { return mover.begins; });
  if (!any) return;
  const bool together = moves_together();
  Jumps jumps;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    Mover& mover = movers_[i];
    if (!mover.begins && !together) continue;
    if (keeps_way_ && wait_of(motion_of(mover)) > 0.0) continue; // it comes through the line
    const Pending jump{frame, 0.0, mover.goal, mover.goal_state, mover.once, together};
    if (!put_off(mover, jump)) jumps[i] = jump;
  }
  take_up(jumps);
}

void ChannelMover::read_goals(const std::array<Controls::Wish, most_components>& wishes, std::int64_t frame,
                              ChannelBlock& out) {
  out.moved = out.turned = false;
  for (std::size_t i = 0; i < channel_.components; ++i) out.component[i].arrived = false;
  for (;;) {
    const Jumps due = due_jumps(frame, instant_slack);
    if (std::none_of(due.begin(), due.end(), [](const auto& jump) { return jump.has_value(); })) break;
    for (std::size_t i = 0; i < channel_.components; ++i)
      out.component[i].arrived = out.component[i].arrived || due[i].has_value();
    take_up(due);
  }
  // A turn since the frame before comes first: whoever asks for home then is there, or on the way, already.
  for (std::size_t i = 0; i < channel_.components; ++i)
    if (turn(movers_[i], frame)) out.turned = true;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    Mover& mover = movers_[i];
    mover.begins = false;
    if (mover.led) {
      const Instant now = led_instant(mover, frame, Side::at);
      mover.goal_state = mover.acting_state = now.value;
      mover.goal = mover.acting = out.component[i].wish = led_value(i, frame);
      continue;
    }
    const Controls::Wish& wish = wishes[i];
    if (jump(i, mover, wish, frame)) out.moved = true;
    out.component[i].wish = wish.value;
  }
  begin_moves(frame);
  out.turned = out.turned && !out.moved;
  out.moved = out.moved || out.turned;
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
    if (mover.led)
      choose_led(mover, column, out.ceilings);
    else if (!column.wishes.empty())
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
    column.pieces.clear();
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
  for (std::size_t i = 0; i < channel_.components; ++i) {
    if (movers_[i].led) fill_led(i, first, out.ceilings, out.component[i]);
    out.component[i].awaits_until = awaits_until(movers_[i], first + count);
    convert_rows(i, movers_[i], out.component[i]);
  }
}

/// A goal that has moved stands now: a pace plans how to get there.
void ChannelMover::plan_standing(std::size_t i, Mover& mover, const Pending& goal) const {
  const Motion& motion = motion_of(mover);
  if (pace_of(motion) == nullptr) return;
  // Behind a motion that waits a jump comes through the line.
  if (mover.state.run != nullptr && (!keeps_way_ || mover.state.run->way.to == goal.goal_state)) return;
  const SpringState from = pace_start(motion, mover.state);
  if (from.value != goal.goal_state || from.velocity != 0.0) begin_move(motion, mover.state, start_of(i, mover, goal));
}

void ChannelMover::fill_component(std::size_t i, std::int64_t first, ComponentBlock& out) {
  Mover& mover = movers_[i];
  if (mover.led) return;
  if (out.moves()) return fill_moving(i, first, out);
  const Motion& motion = motion_of(mover);
  plan_standing(i, mover, {first, 0.0, mover.acting, mover.acting_state, false, false});
  out.run = mover.state.run;
  advance_rows(motion, mover.state, mover.memory, clock_, first, mover.acting_state, {out.state, out.rate, out.stages});
}

/// A piece of a frame, kept in `record`, if there is one, for those who look inside. \returns the rate just before its
/// end.
double ChannelMover::step(const Piece& piece, Mover& mover, StepMemory& memory, ComponentBlock* record) {
  if (record == nullptr) return advance(motion_of(mover), mover.state, memory, piece.elapsed, piece.goal, piece.length);
  FramePiece& kept = record->pieces.emplace_back();
  kept.row = piece.row;
  kept.from = piece.from;
  kept.dt = piece.length;
  kept.motion = &motion_of(mover);
  kept.state = mover.state;
  kept.run_elapsed = piece.elapsed.begin;
  kept.goal = piece.goal;
  kept.end_velocity = advance(motion_of(mover), mover.state, memory, piece.elapsed, piece.goal, piece.length);
  kept.end_value = mover.state.value;
  if (std::holds_alternative<Chain>(*kept.motion)) kept.end_stages = StageRow{mover.state.input, mover.state.links};
  return kept.end_velocity;
}

/// One frame within which delayed jumps arrive: from arrival to arrival, each with the goal that has come by then.
void ChannelMover::fill_arrival_frame(std::int64_t frame, ChannelBlock& out) {
  const double dt = clock_.dt(frame);
  std::array<double, most_components> done{};
  std::array<double, most_components> rate{};
  const auto go_to = [&](std::size_t i, double at) {
    Mover& mover = movers_[i];
    const Piece piece{
        0,
        done[i],
        at - done[i],
        {mover.acting_state, mover.acting_state},
        {elapsed_of(mover, frame, done[i]), at < dt ? elapsed_of(mover, frame, at) : elapsed_of(mover, frame + 1)}};
    if (piece.length > 0.0) rate[i] = step(piece, mover, mover.piece_memory, &out.component[i]);
    done[i] = at;
  };
  for (std::size_t i = 0; i < channel_.components; ++i) {
    ComponentBlock& column = out.component[i];
    const Mover& mover = movers_[i];
    column.state[0] = mover.state.value;
    column.rate[0] = rate_at_start(motion_of(mover), mover.state, elapsed_of(mover, frame), mover.acting_state, 0.0);
    if (!column.stages.empty()) column.stages[0] = {mover.state.input, mover.state.links};
  }
  for (;;) {
    double next = never;
    for (std::size_t i = 0; i < channel_.components; ++i) next = std::min(next, arrival_after(movers_[i], frame));
    if (!(next < dt - instant_slack)) break;
    for (std::size_t i = 0; i < channel_.components; ++i)
      if (arrival_after(movers_[i], frame) <= next) go_to(i, next);
    take_up(due_jumps(frame, next));
  }
  for (std::size_t i = 0; i < channel_.components; ++i) {
    ComponentBlock& column = out.component[i];
    const Mover& mover = movers_[i];
    go_to(i, dt);
    column.state[1] = mover.state.value;
    column.rate[1] = rate[i];
    if (!column.stages.empty()) column.stages[1] = {mover.state.input, mover.state.links};
  }
}

double ChannelMover::arriving_rate(std::size_t i) const noexcept {
  const Mover& mover = movers_[i];
  return output_rate(channel_, i, mover.state.value, mover.rate_before, mover.smooth);
}

void ChannelMover::convert_rows(std::size_t i, Mover& mover, ComponentBlock& out) const {
  const std::size_t count = out.state.size() - 1;
  // A move that has arrived at the block's end has come to rest before anything else happens there.
  const bool by_frames = std::holds_alternative<PerFrame>(motion_of(mover));
  mover.rate_before = by_frames ? out.rate[count] : finite_or_zero(mover.state.velocity);
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
