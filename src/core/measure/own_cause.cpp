#include "core/measure/own_cause.hpp"

#include <algorithm>

#include "core/feel/goal_source.hpp"

namespace stasis {
namespace {

/// What a source of goals is called where nothing else has acted.
std::string_view in_words(GoalSource::Kind kind) noexcept {
  switch (kind) {
  case GoalSource::Kind::formula: return "formula";
  case GoalSource::Kind::tie: return "tied width";
  case GoalSource::Kind::follow: return "track";
  case GoalSource::Kind::seat: return "placed eye";
  case GoalSource::Kind::heading: return "heading";
  case GoalSource::Kind::cap: return "obstacle";
  case GoalSource::Kind::hand: return "hand";
  case GoalSource::Kind::led: return "sequence";
  }
  return "";
}

} // namespace

OwnCauses::OwnCauses(const Feel& feel) : feel_(feel) {
  const std::size_t count = feel.channels.size();
  for (std::size_t c = 0; c < count; ++c) {
    std::vector<std::uint8_t> from(count, 0);
    std::vector<std::size_t> ahead{c};
    while (!ahead.empty()) {
      const std::size_t next = ahead.back();
      ahead.pop_back();
      if (from[next] != 0) continue;
      from[next] = 1;
      for (const GoalSource& source : goal_sources(feel, next))
        ahead.insert(ahead.end(), source.reads.begin(), source.reads.end());
    }
    made_from_.push_back(std::move(from));
  }
}

bool OwnCauses::moves_any(std::size_t channel, const Pose& pose) const {
  return std::any_of(pose.goals.begin(), pose.goals.end(),
                     [&](const PoseGoal& goal) { return made_from_[channel][goal.channel] != 0; });
}

bool OwnCauses::concerns(std::size_t channel, std::string_view part) const {
  const std::size_t first = part.find(' ');
  if (first == std::string_view::npos) return true;
  const std::string_view name = part.substr(first + 1, part.find(' ', first + 1) - first - 1);
  bool is_known = false;
  for (const Control& control : feel_.controls) {
    if (control.name != name) continue;
    is_known = true;
    if (const ComponentRef* target = target_of(control); target != nullptr && made_from_[channel][target->channel] != 0)
      return true;
    for (std::size_t p = 0; p < feel_.poses.size(); ++p)
      if (leads_to(control, p) && moves_any(channel, feel_.poses[p])) return true;
  }
  const auto leads_any = [&](const Sequence& sequence) {
    return std::any_of(sequence.led.begin(), sequence.led.end(),
                       [&](const PoseGoal& goal) { return made_from_[channel][goal.channel] != 0; });
  };
  for (const Sequence& sequence : feel_.sequences) {
    if (sequence.name != name) continue;
    is_known = true;
    if (leads_any(sequence)) return true;
  }
  for (const Switch& one : feel_.switches) {
    if (one.name != name) continue;
    is_known = true;
    if (one.pose && moves_any(channel, feel_.poses[*one.pose])) return true;
    if (one.sequence && leads_any(feel_.sequences[*one.sequence])) return true;
    for (const std::size_t kept : one.keep)
      if (made_from_[channel][kept] != 0) return true;
  }
  for (std::size_t c = 0; c < feel_.channels.size(); ++c) {
    if (feel_.channels[c].name != name) continue;
    is_known = true;
    if (made_from_[channel][c] != 0) return true;
  }
  // Another track, or an obstacle, concerns what follows, or what is held in.
  const auto is_named = [&](const auto& all) {
    return std::any_of(all.begin(), all.end(), [&](const auto& one) { return one.name == name; });
  };
  const auto any_made_from = [&](auto has) {
    for (std::size_t c = 0; c < feel_.channels.size(); ++c)
      if (made_from_[channel][c] != 0 && has(feel_.channels[c])) return true;
    return false;
  };
  if (is_named(feel_.tracks)) return any_made_from([](const Channel& c) { return c.follow || c.realign; });
  if (is_named(feel_.obstacles)) return any_made_from([](const Channel& c) { return c.obstacles || c.is_placed; });
  return !is_known;
}

std::string OwnCauses::of(std::size_t channel, std::string_view cause) const {
  std::string own;
  for (std::string_view rest = cause; !rest.empty();) {
    const std::size_t end = std::min(rest.find(", "), rest.size());
    if (const std::string_view part = rest.substr(0, end); concerns(channel, part)) {
      if (!own.empty()) own += ", ";
      own += part;
    }
    rest.remove_prefix(std::min(end + 2, rest.size()));
  }
  if (!own.empty()) return own;
  if (!cause.empty()) return std::string(cause);
  const auto sources = goal_sources(feel_, channel);
  return sources.empty() ? "goal" : std::string(in_words(sources.front().kind));
}

} // namespace stasis
