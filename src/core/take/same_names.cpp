#include "core/take/same_names.hpp"

#include <algorithm>

namespace stasis {
namespace {

/// Pairs parts by name where `may_go_on(old, new)` holds.
template<class Part, class MayGoOn>
SameNames::Indices paired(const std::vector<Part>& old_parts, const std::vector<Part>& new_parts, MayGoOn may_go_on) {
  SameNames::Indices indices;
  for (const Part& part : new_parts) {
    const auto same = std::find_if(old_parts.begin(), old_parts.end(),
                                   [&](const Part& old) { return old.name == part.name && may_go_on(old, part); });
    indices.push_back(same == old_parts.end() ? std::nullopt
                                              : std::optional(static_cast<std::size_t>(same - old_parts.begin())));
  }
  return indices;
}

bool always(const auto&, const auto&) noexcept { return true; }

} // namespace

SameNames::SameNames(const Feel& before, const Feel& after)
    : channels(paired(before.channels, after.channels,
                      [](const Channel& a, const Channel& b) {
                        return a.components == b.components && a.tie.has_value() == b.tie.has_value();
                      })),
      controls(paired(before.controls, after.controls,
                      [](const Control& a, const Control& b) {
                        return a.rule.index() == b.rule.index() && a.buttons == b.buttons;
                      })),
      shakes(paired(before.shakes, after.shakes,
                    [](const Shake& a, const Shake& b) { return a.targets.size() == b.targets.size(); })),
      poses(paired(before.poses, after.poses, always<Pose, Pose>)),
      switches(paired(before.switches, after.switches, always<Switch, Switch>)),
      tracks(paired(before.tracks, after.tracks,
                    [](const Track& a, const Track& b) { return a.components == b.components; })),
      sequences(paired(before.sequences, after.sequences, always<Sequence, Sequence>)), old_feel(before),
      new_feel(after) {}

std::optional<std::size_t> SameNames::now(const Indices& indices, std::size_t old_index) noexcept {
  const auto found = std::find(indices.begin(), indices.end(), std::optional(old_index));
  if (found == indices.end()) return std::nullopt;
  return static_cast<std::size_t>(found - indices.begin());
}

const PoseGoal* SameNames::goal_now(const PoseGoal* old_goal) const noexcept {
  for (std::size_t p = 0; p < poses.size() && old_goal != nullptr; ++p) {
    if (!poses[p]) continue;
    const auto& old_goals = old_feel.poses[*poses[p]].goals;
    if (old_goals.empty() || old_goal < old_goals.data() || old_goal >= old_goals.data() + old_goals.size()) continue;
    const auto channel = now(channels, old_goal->channel);
    for (const PoseGoal& goal : new_feel.poses[p].goals)
      if (channel && goal.channel == *channel) return &goal;
  }
  return nullptr;
}

std::optional<Cue> SameNames::cue_now(Cue cue) const {
  std::optional<std::size_t> acts_on = 0;
  switch (cue.action) {
  case CueAction::goal:
    std::erase_if(cue.goals, [&](CueGoal& goal) {
      const auto channel = now(channels, goal.target.channel);
      goal.target.channel = channel.value_or(0);
      return !channel;
    });
    break;
  case CueAction::follow:
    std::erase_if(cue.tracks, [&](CueTrack& track) {
      const auto channel = now(channels, track.channel), other = now(tracks, track.track);
      track = {channel.value_or(0), other.value_or(0)};
      return !channel || !other;
    });
    break;
  case CueAction::hit:
    acts_on = now(shakes, cue.shake);
    cue.shake = acts_on.value_or(0);
    break;
  case CueAction::press:
  case CueAction::release:
  case CueAction::cancel:
  case CueAction::click:
  case CueAction::pointer:
  case CueAction::stick:
  case CueAction::lock:
  case CueAction::unlock:
    acts_on = now(controls, cue.control);
    cue.control = acts_on.value_or(0);
    break;
  case CueAction::start:
  case CueAction::skip:
    acts_on = now(sequences, cue.sequence);
    cue.sequence = acts_on.value_or(0);
    break;
  }
  if (!acts_on) return std::nullopt;
  return cue;
}

} // namespace stasis
