#include "core/explain/explain_sequence.hpp"

#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

std::string with_unit(const Channel& channel, const std::string& value) {
  return value + (channel.unit.empty() ? "" : " " + printable(channel.unit, 16));
}

std::string amount_in_words(const ComponentGoal& goal) {
  switch (goal.rule) {
  case GoalRule::times: return fmt::format("{} times its home", concise(goal.amount));
  case GoalRule::add:
    return fmt::format("its home {} {}", goal.amount < 0.0 ? "less" : "and", concise(std::fabs(goal.amount)));
  case GoalRule::value: return concise(goal.amount);
  case GoalRule::none: break;
  }
  return "";
}

std::string goal_in_words(const Feel& feel, const PoseGoal& goal) {
  const Channel& channel = feel.channels[goal.channel];
  if (goal.track)
    return fmt::format("{} where {} is by then, and on with it", channel.name, feel.tracks[*goal.track].name);
  bool is_place = channel.components > 1;
  for (std::size_t i = 0; i < channel.components; ++i) is_place = is_place && goal.value[i].rule == GoalRule::value;
  std::string words;
  for (std::size_t i = 0; i < channel.components; ++i) {
    const GoalRule rule = goal.value[i].rule;
    if (rule == GoalRule::none) continue;
    const std::string amount = amount_in_words(goal.value[i]), before = words.empty() ? "" : ", ";
    if (is_place)
      words += before + amount;
    else
      words += fmt::format("{}{} {}", before, component_name(channel, i),
                           rule == GoalRule::times ? amount : with_unit(channel, amount));
  }
  return is_place ? fmt::format("{} {}", channel.name, with_unit(channel, "(" + words + ")")) : words;
}

std::string way_in_words(const Feel& feel, const Sequence& sequence, std::size_t k) {
  const SequenceStop& stop = sequence.stops[k];
  switch (stop.way) {
  case SequenceStop::Way::flown:
    if (k == 0 && !stop.at && !stop.after && !stop.speed) return "at once";
    return sequence.steady ? "flown at one speed" : sequence.overshoot ? "flown" : "flown without overshoot";
  case SequenceStop::Way::eased: return "eased";
  case SequenceStop::Way::cut: return "cut";
  case SequenceStop::Way::moved: break;
  }
  for (const PoseGoal& goal : stop.goals)
    if (goal.entering) {
      const NamedMotion& motion = feel.motions[(*goal.entering)[0].rising];
      return motion.written_in_place ? fmt::format("by a {}", kind_of(motion.motion)) : "by " + motion.name;
    }
  return "by their own motions";
}

std::string sentence_of(const Sequence& sequence) {
  std::string words = sequence.backward ? "goes backward from its last stop" : "goes from stop to stop";
  if (sequence.there_and_back) words += ", and back the way it came";
  if (sequence.repeat == 0) words += ", again and again, until it is skipped";
  if (sequence.repeat > 1) words += fmt::format(", {} times", sequence.repeat);
  if (sequence.pace != 1.0) words += fmt::format(", {} times as fast as its times say", concise(sequence.pace));
  words += sequence.stays ? "; its last goals become home" : "; then the view goes back to the play";
  return words;
}

} // namespace

SequenceAccount account_of_sequence(const Feel& feel, const Take* take, const Sequence& sequence) {
  const SequencePreview preview = preview_of(feel, take, sequence);
  SequenceAccount account;
  account.sequence = sequence.name;
  account.sentence = sentence_of(sequence);
  account.along = feel.channels[*sequence.along].name;
  account.unit = printable(feel.channels[*sequence.along].unit, 16);
  account.duration = preview.course.total() / sequence.pace;
  account.given_up = preview.course.given_up;
  for (std::size_t k = 0; k < sequence.stops.size(); ++k) {
    StopAccount stop;
    stop.stop = k + 1;
    stop.arrives = preview.course.arrives[k];
    stop.leaves = preview.course.leaves[k];
    stop.way = way_in_words(feel, sequence, k);
    for (const PoseGoal& goal : sequence.stops[k].goals)
      stop.goals += (stop.goals.empty() ? "" : ", ") + goal_in_words(feel, goal);
    for (const LegSummary& leg : preview.legs)
      if (leg.leg.to == k + 1) stop.leg = leg;
    account.stops.push_back(std::move(stop));
  }
  return account;
}

} // namespace stasis
