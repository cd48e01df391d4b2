// A feel that is changed while it is played: its channels go on from where those of the same names are.
#include <algorithm>

#include "core/take/channel_mover.hpp"
#include "core/take/same_names.hpp"

namespace stasis {
namespace {

/// A value and its rate, from one space into another.
void convert(const SpaceMap& from, const SpaceMap& to, MoverState& state) noexcept {
  if (from == to) return;
  const double value = from_space(from, state.value);
  const double rate = stretch(from, value) * state.velocity;
  state = state_at_rest(to_space(to, value));
  state.velocity = rate / stretch(to, value);
}

} // namespace

void ChannelMover::go_on_from(const ChannelMover& old, const SameNames& same, std::int64_t frame) {
  for (std::size_t i = 0; i < channel_.components; ++i) adopt_component(i, old, same, frame);
}

/// By which of its two motions it goes is kept, whichever those are now.
void ChannelMover::adopt_choice(std::size_t i, const ChannelMover& old, const SameNames& same) {
  const Mover& theirs = old.movers_[i];
  Mover& mine = movers_[i];
  mine.owner = same.goal_now(theirs.owner);
  mine.choices = &channel_.motion;
  for (const Pose& pose : old.feel_.poses)
    for (const PoseGoal& goal : pose.goals) {
      const PoseGoal* const now = same.goal_now(&goal);
      if (now == nullptr) continue;
      if (goal.entering && theirs.choices == &*goal.entering && now->entering) mine.choices = &*now->entering;
      if (goal.leaving && theirs.choices == &*goal.leaving && now->leaving) mine.choices = &*now->leaving;
    }
  const bool falls = theirs.motion == (*old.choices_of(theirs))[i].falling;
  mine.motion = falls ? (*mine.choices)[i].falling : (*mine.choices)[i].rising;
}

/// A move that is under way on another clock: as far on as it was there. \param gone s since it began
std::shared_ptr<const Run> ChannelMover::on_my_clock(const Run& run, std::int64_t frame, double gone) const {
  auto mine = std::make_shared<Run>(run);
  mine->start_frame = frame;
  mine->offset = -gone;
  return mine;
}

void ChannelMover::adopt_component(std::size_t i, const ChannelMover& old, const SameNames& same, std::int64_t frame) {
  const Mover& theirs = old.movers_[i];
  Mover& mine = movers_[i];
  const SpaceMap& space = channel_.space;
  const bool same_space = old.channel_.space == space;
  adopt_choice(i, old, same);
  mine.asked = theirs.asked;
  mine.goal = theirs.goal;
  mine.acting = theirs.acting;
  mine.goal_state = same_space ? theirs.goal_state : to_space(space, mine.goal);
  mine.acting_state = same_space ? theirs.acting_state : to_space(space, mine.acting);
  mine.start = theirs.start;
  mine.smooth = theirs.smooth;
  mine.moved_by_itself = theirs.moved_by_itself;
  mine.once = theirs.once;
  mine.homeward = theirs.homeward;
  mine.turned = theirs.turned;
  mine.state = theirs.state;
  convert(old.channel_.space, space, mine.state);
  MoverState rate = theirs.state;
  rate.velocity = theirs.rate_before;
  convert(old.channel_.space, space, rate);
  mine.rate_before = rate.velocity;
  const bool another_clock = old.channel_.runs_on != channel_.runs_on;
  if (same_space && keeps_way_ && old.keeps_way_) mine.line = theirs.line;
  if (another_clock) mine.line.shift(clock_.time(frame) - old.clock_.time(frame));
  if (same_space && theirs.led) {
    mine.led = theirs.led;
    mine.state.run = theirs.led;
    mine.slowed = theirs.slowed;
    return;
  }
  // One that is over is so on this clock as well.
  if (another_clock && mine.state.run != nullptr)
    mine.state.run = on_my_clock(*mine.state.run, frame, old.elapsed_of(theirs, frame));
  if (same_space && old.is_on_its_way(theirs, frame)) {
    // What takes a set time, or waits, is finished by the numbers with which it began.
    mine.slowed = std::make_shared<const Motion>(old.motion_of(theirs));
    mine.finishes = true;
    for (std::size_t p = 0; p < theirs.pending.size(); ++p) {
      mine.pending.push_back(theirs.pending[p]);
      if (!another_clock) continue;
      Pending& waits = mine.pending.back();
      waits.wait -= old.clock_.elapsed(waits.frame, frame);
      waits.frame = frame;
    }
    return;
  }
  mine.slowed = nullptr;
  if (!carry_alike(motion_of(mine), old.motion_of(theirs))) stasis::adopt(motion_of(mine), mine.state);
}

} // namespace stasis
