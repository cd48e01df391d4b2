// Which motion moves a component of a channel, and what becomes of what another one had under way.
#include <algorithm>
#include <cmath>
#include <memory>

#include "core/take/channel_mover.hpp"

namespace stasis {

void ChannelMover::choose_motion(std::size_t i, Mover& mover, const PoseGoal* owner, std::int64_t frame) {
  const MotionChoices* choices = &channel_.motion;
  mover.choices = nullptr;
  if (owner != nullptr && owner->entering) choices = &*owner->entering;
  if (owner == nullptr && mover.owner != nullptr && mover.owner->leaving) choices = &*mover.owner->leaving;
  mover.choices = choices;
  const MotionChoice& choice = (*choices)[i];
  const double gap = mover.goal_state - mover.state.value;
  std::size_t chosen = gap < 0.0 ? choice.falling : choice.rising;
  // Without a gap there is no direction: what acts stays, if it is one of the two.
  if (gap == 0.0 && mover.motion == choice.falling) chosen = mover.motion;
  mover.owner = owner;
  const double towards = works_towards(mover, frame);
  if (!switch_motion(mover, chosen) || mover.line.is_empty()) return;
  mover.line.begin_anew(clock_.time(frame), towards);
  if (towards == mover.acting_state) return;
  mover.acting_state = towards;
  mover.acting = from_space(channel_.space, towards);
}

/// The goal that the motion in force has been given by a frame, in the space: what has come through its delay, what it
/// has not put off.
double ChannelMover::works_towards(const Mover& mover, std::int64_t frame) const {
  const double wait = wait_of(motion_of(mover));
  return mover.line.is_empty() || wait == 0.0 ? mover.acting_state : mover.line.at(clock_.time(frame) - wait);
}

bool ChannelMover::switch_motion(Mover& mover, std::size_t chosen) {
  if (chosen == mover.motion && !mover.finishes) return false;
  const bool goes_on = chosen == mover.motion && carry_alike(motion_of(mover), feel_.motions[chosen].motion);
  mover.motion = chosen;
  mover.finishes = false;
  slow(mover);
  mover.memory = mover.piece_memory = {};
  if (goes_on) return false;
  mover.pending.clear();
  adopt(motion_of(mover), mover.state);
  return true;
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
    if (movers_[i].finishes || movers_[i].led) continue;
    slow(movers_[i]);
    movers_[i].memory = movers_[i].piece_memory = {};
  }
}

} // namespace stasis
