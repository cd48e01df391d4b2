#include "core/take/goal_sources.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/take/same_names.hpp"
#include "core/text.hpp"

namespace stasis {

GoalSources::GoalSources(const Feel& feel, const Take& take, std::vector<TrackReader>& readers,
                         const Controls& controls)
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
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i)
      if (may_give({c, i})) mine.given[i] = theirs.given[i];
    if (!mine.follower || !theirs.follower) continue;
    mine.follower->go_on_from(*theirs.follower, SameNames::now(same.tracks, theirs.follower->track()));
    mine.follows = theirs.follows;
    mine.own_base = theirs.own_base;
    mine.aim = theirs.aim;
  }
}

bool GoalSources::start(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes) {
  const Channel& declared = feel_.channels[channel];
  if (auto& follower = channels_[channel].follower) {
    channels_[channel].aim = follower->begin(instant.seen, instant.smooth, std::nullopt);
    if (declared.follow->starts_at_rest || declared.follow->only_in_poses) return false;
    channels_[channel].follows = true;
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
  if (Sources& own = channels_[channel]; own.follower) {
    const auto track = controls_.track_for(channel);
    own.follows = !declared.follow->only_in_poses || track;
    if (own.follows) {
      if (declared.follow->only_in_poses && !own.own_base) stand_by(channel);
      own.aim = own.follower->begin(instant.seen, instant.smooth, track);
      put_aim(channel);
    } else {
      own.given = {};
    }
  } else {
    put_formulas(channel, instant, notes);
  }
  if (declared.is_placed) put_seat(instant, channel);
}

void GoalSources::stay(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes) {
  if (is_following(channel)) {
    put_aim(channel);
  } else {
    put_formulas(channel, instant, notes);
    if (feel_.channels[channel].is_placed) put_seat(instant, channel);
  }
}

void GoalSources::go_on(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes) {
  if (is_following(channel)) channels_[channel].aim = channels_[channel].follower->go_on(instant.seen, instant.smooth);
  stay(channel, instant, notes);
}

void GoalSources::go_on_to_corner(std::size_t channel, const SourceInstant& instant) {
  channels_[channel].aim = channels_[channel].follower->go_on(instant.seen, instant.smooth);
  put_aim(channel);
}

void GoalSources::put_aim(std::size_t channel) {
  const Channel& declared = feel_.channels[channel];
  Sources& own = channels_[channel];
  // A lost subject leaves at home what follows it.
  for (std::size_t i = 0; i < declared.components; ++i)
    if (declared.follow->follows(i)) own.given[i] = own.aim.lost ? starting_base(declared, i) : own.aim.goal[i];
}

void GoalSources::stand_by(std::size_t channel) {
  Components& own = channels_[channel].own_base.emplace();
  for (std::size_t i = 0; i < feel_.channels[channel].components; ++i) own[i] = controls_.own_base({channel, i});
}

double GoalSources::home_before_zone(ComponentRef component) const noexcept {
  const Channel& declared = feel_.channels[component.channel];
  const Sources& own = channels_[component.channel];
  return !own.follows || own.aim.lost || !declared.follow->follows(component.component)
             ? home(component)
             : own.aim.wish[component.component];
}

bool GoalSources::may_give(ComponentRef component) const noexcept {
  const Channel& declared = feel_.channels[component.channel];
  return declared.is_placed || declared.formula[component.component]
         || (declared.follow && declared.follow->follows(component.component));
}

void GoalSources::corners(std::size_t channel, double from, double to, std::vector<double>& out) const {
  channels_[channel].follower->add_corners(from, to, out);
}

double GoalSources::begins_at(std::size_t channel) const noexcept {
  const auto& realigner = channels_[channel].realigner;
  return realigner ? realigner->begins_at() : never;
}

bool GoalSources::is_following(std::size_t channel) const noexcept { return channels_[channel].follows; }

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
      channels_[channel].given[i] = value;
      continue;
    }
    const std::string head = component_name(declared, i) + ": its formula";
    const auto is_told = [&](const std::string& note) { return note.starts_with(head); };
    if (std::none_of(notes.begin(), notes.end(), is_told))
      notes.push_back(fmt::format("{} gave no number, first at {} s; the goal stayed", head, concise(instant.time)));
  }
}

/// The home of an eye that is placed.
void GoalSources::put_seat(const SourceInstant& instant, std::size_t channel) {
  const Components eye = seated_eye(feel_, instant.smooth);
  for (std::size_t i = 0; i < most_components; ++i) channels_[channel].given[i] = eye[i];
}

std::optional<double> GoalSources::heading(std::size_t channel, double seen) const {
  const auto& realigner = channels_[channel].realigner;
  if (!realigner || !realigner->is_turning()) return std::nullopt;
  const Realign& rule = realigner->rule();
  return realigner->heading(rule.to == Realign::To::heading ? TrackPoint{}
                                                            : readers_[played_track(take_, rule.track)].at(seen));
}

} // namespace stasis
