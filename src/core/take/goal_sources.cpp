#include "core/take/goal_sources.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/take/same_names.hpp"
#include "core/text.hpp"

namespace stasis {

GoalSources::GoalSources(const Feel& feel, const Take& take, std::vector<TrackReader>& readers, Controls& controls)
    : feel_(feel), take_(take), readers_(readers), controls_(controls), formulas_(feel, take, readers, controls),
      channels_(feel.channels.size()) {
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    if (feel.channels[c].realign) channels_[c].realigner.emplace(feel, c);
    if (feel.channels[c].follow) channels_[c].follower.emplace(feel, c, take, readers, controls);
  }
}

void GoalSources::go_on_from(const GoalSources& old, const SameNames& same) {
  for (std::size_t c = 0; c < channels_.size(); ++c) {
    if (!same.channels[c]) continue;
    const Sources& theirs = old.channels_[*same.channels[c]];
    Sources& mine = channels_[c];
    if (mine.realigner && theirs.realigner) mine.realigner->go_on_from(*theirs.realigner);
    if (!mine.follower || !theirs.follower) continue;
    mine.follower->go_on_from(*theirs.follower, SameNames::now(same.tracks, theirs.follower->track()));
    mine.own_base = theirs.own_base;
    mine.aim = theirs.aim;
  }
}

bool GoalSources::start(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes) {
  const Channel& declared = feel_.channels[channel];
  if (auto& follower = channels_[channel].follower) {
    channels_[channel].aim = follower->begin(instant.seen, instant.smooth, std::nullopt);
    if (declared.follow->starts_at_rest || declared.follow->only_in_poses) return false;
    put_aim(channel);
  } else {
    put_formulas(channel, instant, notes);
  }
  if (declared.is_placed) put_seat(instant, channel);
  return true;
}

bool GoalSources::look_at_touches(std::size_t channel, double time, const Touches& touches) {
  auto& realigner = channels_[channel].realigner;
  if (!realigner) return false;
  const bool before = realigner->is_turning();
  realigner->look(time, touches.held, touches.moved);
  return realigner->is_turning() && !before;
}

void GoalSources::begin(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes) {
  const Channel& declared = feel_.channels[channel];
  put_heading(channel, instant.seen);
  if (Sources& own = channels_[channel]; own.follower) {
    const auto given = controls_.track_for(channel);
    if (!declared.follow->only_in_poses || takes_track(channel, given.has_value())) {
      own.aim = own.follower->begin(instant.seen, instant.smooth, given);
      put_aim(channel);
    }
  } else {
    put_formulas(channel, instant, notes);
  }
  if (declared.is_placed) put_seat(instant, channel);
}

void GoalSources::stay(std::size_t channel, const SourceInstant& instant, bool by_hand,
                       std::vector<std::string>& notes) {
  if (is_following(channel)) {
    put_aim(channel);
  } else {
    put_formulas(channel, instant, notes);
    if (feel_.channels[channel].is_placed) put_seat(instant, channel);
  }
  if (!by_hand) put_heading(channel, instant.seen);
}

void GoalSources::go_on(std::size_t channel, const SourceInstant& instant, bool by_hand,
                        std::vector<std::string>& notes) {
  if (is_following(channel)) channels_[channel].aim = channels_[channel].follower->go_on(instant.seen, instant.smooth);
  stay(channel, instant, by_hand, notes);
}

void GoalSources::go_on_to_corner(std::size_t channel, const SourceInstant& instant) {
  channels_[channel].aim = channels_[channel].follower->go_on(instant.seen, instant.smooth);
  put_aim(channel);
}

void GoalSources::put_aim(std::size_t channel, bool before_zone) {
  const Channel& declared = feel_.channels[channel];
  const FollowAim& aim = channels_[channel].aim;
  // A lost subject leaves at home what follows it.
  for (std::size_t i = 0; i < declared.components; ++i)
    if (declared.follow->follows(i))
      controls_.put_base({channel, i}, aim.lost ? starting_base(declared, i) : before_zone ? aim.wish[i] : aim.goal[i]);
}

void GoalSources::corners(std::size_t channel, double from, double to, std::vector<double>& out) const {
  channels_[channel].follower->add_corners(from, to, out);
}

double GoalSources::begins_at(std::size_t channel) const noexcept {
  const auto& realigner = channels_[channel].realigner;
  return realigner ? realigner->begins_at() : never;
}

bool GoalSources::is_following(std::size_t channel) const noexcept {
  const Sources& own = channels_[channel];
  return own.follower && (!feel_.channels[channel].follow->only_in_poses || own.own_base);
}

std::size_t GoalSources::track(std::size_t channel) const noexcept {
  const Sources& own = channels_[channel];
  return is_following(channel) && !own.aim.lost ? own.follower->track() + 1 : 0;
}

bool GoalSources::feeds_back() const noexcept {
  return std::any_of(channels_.begin(), channels_.end(),
                     [](const Sources& own) { return own.follower && own.follower->feeds_back(); });
}

Axes GoalSources::damping_axes(std::size_t channel, const SourceInstant& instant) const {
  return channels_[channel].follower->damping_axes(instant.seen, instant.smooth);
}

/// A formula that gives no number leaves the goal unchanged.
void GoalSources::put_formulas(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes) {
  const Channel& declared = feel_.channels[channel];
  for (std::size_t i = 0; i < declared.components; ++i) {
    if (!declared.formula[i]) continue;
    const double value = formulas_.of(*declared.formula[i], instant.time, instant.seen, instant.smooth, instant.goal);
    if (std::isfinite(value)) {
      controls_.put_base({channel, i}, value);
      continue;
    }
    const std::string head = component_name(declared, i) + ": its formula";
    const auto is_told = [&](const std::string& note) { return note.starts_with(head); };
    if (std::none_of(notes.begin(), notes.end(), is_told))
      notes.push_back(fmt::format("{} gave no number, first at {} s; the goal stayed", head, concise(instant.time)));
  }
}

/// The base of an eye that is placed.
void GoalSources::put_seat(const SourceInstant& instant, std::size_t channel) {
  const Components eye = seated_eye(feel_, instant.smooth);
  for (std::size_t i = 0; i < most_components; ++i) controls_.put_base({channel, i}, eye[i]);
}

/// Of a channel that turns back: its base is the heading, while it turns and there is one.
void GoalSources::put_heading(std::size_t channel, double seen) {
  const auto& realigner = channels_[channel].realigner;
  if (!realigner || !realigner->is_turning()) return;
  const Realign& rule = realigner->rule();
  const TrackPoint subject =
      rule.to == Realign::To::heading ? TrackPoint{} : readers_[played_track(take_, rule.track)].at(seen);
  if (const auto heading = realigner->heading(subject)) controls_.put_base({channel, 0}, *heading);
}

/// Of a channel that follows only while a pose gives it a track: its own base stands by meanwhile. \returns `follows`.
bool GoalSources::takes_track(std::size_t channel, bool follows) {
  std::optional<Components>& own = channels_[channel].own_base;
  const std::size_t components = feel_.channels[channel].components;
  if (follows && !own) {
    own.emplace();
    for (std::size_t i = 0; i < components; ++i) (*own)[i] = controls_.own_base({channel, i});
  } else if (!follows && own) {
    for (std::size_t i = 0; i < components; ++i) controls_.put_base({channel, i}, (*own)[i]);
    own.reset();
  }
  return follows;
}

} // namespace stasis
