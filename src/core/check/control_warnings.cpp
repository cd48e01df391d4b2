// What can look wrong with controls.
#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include <fmt/format.h>

#include "core/check/warning.hpp"
#include "core/clock.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

bool in_one_group(const Feel& feel, std::size_t a, std::size_t b) {
  return std::any_of(feel.groups.begin(), feel.groups.end(), [&](const Group& group) {
    const auto holds = [&](std::size_t c) {
      return std::find(group.controls.begin(), group.controls.end(), c) != group.controls.end();
    };
    return holds(a) && holds(b);
  });
}

/// True if the poses of two holds pull a channel to different sides of home.
std::optional<std::size_t> opposed_channel(const Feel& feel, const Hold& a, const Hold& b) {
  for (const PoseGoal& mine : feel.poses[a.pose].goals)
    for (const PoseGoal& other : feel.poses[b.pose].goals) {
      if (mine.channel != other.channel) continue;
      for (std::size_t i = 0; i < feel.channels[mine.channel].components; ++i) {
        if (mine.value[i].rule == GoalRule::none || other.value[i].rule == GoalRule::none) continue;
        const double rest = feel.channels[mine.channel].rest[i];
        if ((mine.value[i].of(rest) - rest) * (other.value[i].of(rest) - rest) < 0.0) return mine.channel;
      }
    }
  return std::nullopt;
}

/// One for each pair; for a hold against a crowd of others, one for each channel with their count.
void warn_of_opposed_holds(const Feel& feel, std::vector<Warning>& out) {
  constexpr std::size_t crowd = 8;
  for (std::size_t a = 0; a < feel.controls.size(); ++a) {
    const auto* hold = std::get_if<Hold>(&feel.controls[a].rule);
    if (hold == nullptr) continue;
    const std::string& one = feel.controls[a].name;
    const auto add = [&](const std::string& what) {
      out.push_back({"opposed_without_group", one, {}, what + "; the one pressed last wins", {}});
    };
    const auto pair = [&](std::size_t channel, const std::string& name) {
      return fmt::format("{} and {} pull {} opposite ways and are not in a group", one, name,
                         feel.channels[channel].name);
    };
    std::vector<std::string> pairs;
    std::map<std::size_t, std::vector<std::string>> others; // by channel
    for (std::size_t b = a + 1; b < feel.controls.size(); ++b) {
      const auto* other = std::get_if<Hold>(&feel.controls[b].rule);
      if (other == nullptr || in_one_group(feel, a, b)) continue;
      const auto channel = opposed_channel(feel, *hold, *other);
      if (!channel) continue;
      pairs.push_back(pair(*channel, feel.controls[b].name));
      others[*channel].push_back(feel.controls[b].name);
    }
    if (pairs.size() <= crowd) {
      std::for_each(pairs.begin(), pairs.end(), add);
      continue;
    }
    for (const auto& [channel, names] : others)
      add(names.size() == 1 ? pair(channel, names.front())
                            : fmt::format("{} pulls {} the opposite way of {} and {} more, and none of them is in a "
                                          "group with it",
                                          one, feel.channels[channel].name, names.front(), names.size() - 1));
  }
}

/// True if the first repeat of a press comes in time to be the second of two clicks.
bool doubles_by_repeat(const Clicks& clicks) {
  const bool in_time =
      clicks.every_frame || (clicks.repeat_every && *clicks.repeat_every <= clicks.double_within + instant_slack);
  return clicks.repeats_double && clicks.double_within > 0.0 && in_time;
}

void warn_of_accidents(const Control& control, std::vector<Warning>& out) {
  const auto add = [&](std::string code, std::string message) {
    out.push_back({std::move(code), control.name, {}, std::move(message), {}});
  };
  if (const auto* mirror = std::get_if<Mirror>(&control.rule); mirror != nullptr && mirror->rule != SideRule::stored)
    add("side_not_stored",
        mirror->rule == SideRule::what_is_there
            ? fmt::format("{} mirrors the value as it is now: pressed half-way, it drifts to the middle and sticks",
                          control.name)
            : fmt::format("{} looks at where the value is now: a press before it has crossed is lost", control.name));
  const auto* clicks = std::get_if<Clicks>(&control.rule);
  if (clicks != nullptr && doubles_by_repeat(*clicks))
    add("double_by_repeat",
        fmt::format("{} takes its own repeat for a double click: held a little too long, it runs to the end",
                    control.name));
  switch (frame_habit_of(control)) {
  case FrameHabit::none: break;
  case FrameHabit::steps_each_frame:
    add("step_every_frame",
        fmt::format("{} steps on every frame while it is held: it goes as fast as the frames", control.name));
    break;
  case FrameHabit::counts_times_frametime:
    add("counts_times_time", fmt::format("{} multiplies counts by the frame's time, though they are an amount already: "
                                         "it turns half as far at twice the frame rate",
                                         control.name));
    break;
  }
}

} // namespace

void warn_of_controls(const Feel& feel, std::vector<Warning>& out) {
  for (const Control& control : feel.controls) warn_of_accidents(control, out);
  warn_of_opposed_holds(feel, out);
  for (const NamedMotion& named : feel.motions) {
    const Ease* ease = std::get_if<Ease>(&named.motion);
    if (ease == nullptr || ease->handover != Handover::carry) continue;
    constexpr double steepest = 5.0; // docs/maths.md, section 3
    const double slope = evaluate(ease->curve, 0.0).slope;
    if (!(slope <= steepest))
      out.push_back({"carry_from_steep",
                     named.name,
                     {},
                     fmt::format("the curve of {} starts too steeply ({}) to go on from another speed; a carried move "
                                 "uses a smoothstep instead",
                                 named.name, std::isfinite(slope) ? readable(slope) : "without bound"),
                     {}});
  }
}

void warn_of_controls(const Feel& feel, const Take& take, std::vector<Warning>& out) {
  std::vector<std::size_t> told;
  for (const Cue& cue : take.cues) {
    if (cue.action != CueAction::press) continue;
    const Control& control = feel.controls[cue.control];
    const CueAction worked_by = facts_of(control).moved_by;
    if (worked_by != CueAction::stick && worked_by != CueAction::pointer) continue;
    const bool is_asked = std::any_of(feel.controls.begin(), feel.controls.end(),
                                      [&](const Control& other) { return other.unless == cue.control; });
    if (is_asked || std::find(told.begin(), told.end(), cue.control) != told.end()) continue;
    told.push_back(cue.control);
    out.push_back({"press_without_effect",
                   control.name,
                   take.name,
                   fmt::format("{} is pressed at {} s, but it needs {}: a press does nothing", control.name,
                               concise(cue.at), name_of(worked_by)),
                   {}});
  }
}

} // namespace stasis
