#include "core/explain/explain.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/curve/curve_facts.hpp"
#include "core/lens/lens.hpp"
#include "core/measure/take_measures.hpp"
#include "core/motion/equivalent.hpp"
#include "core/motion/smoothing.hpp"
#include "core/motion/spring_design.hpp"
#include "core/take/player.hpp"
#include "core/take/step_play.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

std::string number(double value) { return concise(value, 4); }

/// How many frames a step is cut into. Where a move leads links that swing, every instant of a frame that is looked at
/// is integrated from the frame's beginning: it must not hold many swings.
double frames_of_step(const Motion& motion, double length) {
  constexpr double usual = 2000.0;
  const auto* chain = std::get_if<Chain>(&motion);
  if (chain == nullptr || !chain->head) return usual;
  double quickest = length / usual;
  for (const Link& link : chain->links)
    quickest = std::min(quickest, std::visit([](const auto& one) { return one.turning_time(0.0); }, link));
  return length / quickest;
}

/// Plays a step from 0 to 1 under the motion, so that the account says just what `run` measures.
StepAccount step_of(const Motion& motion) {
  // A rule that takes so many frames is as good as its continuous form, from which a frame of it differs by less than a
  // hundred thousandth of the way.
  constexpr double most_frames = 200'000.0;
  if (const auto* rule = std::get_if<PerFrame>(&motion);
      rule != nullptr && long_enough(motion) * rule->at_fps > most_frames)
    return step_of(continuous_form(*rule));
  Feel feel = step_feel(motion, long_enough(motion));
  Take& take = feel.takes[0];
  const double frames = frames_of_step(motion, take.length);
  constexpr double most_swings = 2e6; // a few seconds of work
  if (frames > most_swings) {
    StepAccount step;
    step.why_not_played =
        fmt::format("not played: in the {} s that it may take the motion swings too often", number(take.length));
    return step;
  }
  take.fps = frames / take.length;
  if (const auto* rule = std::get_if<PerFrame>(&motion)) take.fps = rule->at_fps;
  MeasureSink measuring(MeasureScope{.channels = {1}, .paths = false, .limits = false}); // its move is all that is told
  BlockSink* const sinks[] = {&measuring};
  const Scene scene{&feel, &take, clock_of(take)};
  const TakeMeasures measures = measuring.take(play(scene, sinks));
  StepAccount step;
  if (measures.moves.empty()) return step;
  const Move& move = measures.moves.front();
  step.to_50 = move.delay_time;
  if (move.rise_time) step.to_90 = *move.rise_from_time + *move.rise_time;
  step.to_98 = move.to_98;
  step.settling_time = move.settling_time;
  step.overshoot = move.overshoot;
  step.start_kick = move.start_kick;
  step.peak_acceleration = move.peak_acceleration;
  return step;
}

std::string with_unit(double value, const std::string& unit) {
  return number(value) + (unit.empty() ? "" : " " + printable(unit, 16));
}

std::string values_in_words(const Channel& channel, const Components& values) {
  if (channel.components == 1) return with_unit(values[0], channel.unit);
  std::string text = "(";
  for (std::size_t i = 0; i < channel.components; ++i) text += (i > 0 ? ", " : "") + number(values[i]);
  return text + ")" + (channel.unit.empty() ? "" : " " + printable(channel.unit, 16));
}

std::string space_in_words(Space space) {
  switch (space) {
  case Space::linear: return "moves in its own unit";
  case Space::ratio: return "moves by factors: a step from 1 to 2 and one from 4 to 8 look alike";
  case Space::zoom: return "moves evenly in picture scale: equal times change the size of things by equal factors";
  case Space::turn: return "goes round by the short way and counts on over whole turns";
  }
  return {};
}

std::string range_in_words(const Channel& channel, std::size_t i) {
  const auto [low, high] = channel.range[i];
  if (!std::isfinite(low) && !std::isfinite(high)) return "without limits";
  return fmt::format("{} to {}", std::isfinite(low) ? number(low) : "no limit",
                     std::isfinite(high) ? number(high) : "no limit");
}

/// Adds the accounts of a choice of motions, each motion once for each place where it holds.
void add_motions(const Feel& feel, const Channel& channel, const MotionChoices& choices, const std::string& when,
                 std::vector<MotionAccount>& out) {
  const auto all_alike = [&] {
    for (std::size_t i = 1; i < channel.components; ++i)
      if (choices[i].rising != choices[0].rising || choices[i].falling != choices[0].falling) return false;
    return true;
  };
  const auto add = [&](std::size_t motion, std::string place) {
    if (!when.empty()) place = when + (place.empty() ? "" : ", " + place);
    // In the logarithmic spaces a pace was given in doublings, and is said in them.
    MotionAccount account =
        account_of(feel.motions[motion].name, feel.motions[motion].motion, is_logarithmic(channel.space.space));
    account.when = std::move(place);
    out.push_back(std::move(account));
  };
  const std::size_t count = all_alike() ? 1 : channel.components;
  for (std::size_t i = 0; i < count; ++i) {
    const std::string letter = count > 1 ? std::string(1, static_cast<char>('x' + i)) : "";
    const std::string joint = letter.empty() ? "" : letter + " ";
    if (choices[i].rising == choices[i].falling) {
      add(choices[i].rising, letter);
    } else {
      add(choices[i].rising, joint + "rising");
      add(choices[i].falling, joint + "falling");
    }
  }
}

PoseAccount account_of_pose(const Feel& feel, const Pose& pose, const PoseGoal& goal) {
  const Channel& channel = feel.channels[goal.channel];
  if (goal.track) return {pose.name, fmt::format("follows {} instead", feel.tracks[*goal.track].name), {}};
  Components values = channel.rest;
  for (std::size_t i = 0; i < channel.components; ++i)
    if (goal.value[i].rule != GoalRule::none)
      values[i] = std::clamp(goal.value[i].of(channel.rest[i]), channel.range[i].low, channel.range[i].high);
  PoseAccount account{
      pose.name,
      fmt::format("{} against {} at rest", values_in_words(channel, values), values_in_words(channel, channel.rest)),
      {}};
  if (channel.components > 1) return account;
  const double rest = channel.rest[0], value = values[0];
  if (feel.picture.lens_channel == goal.channel || channel.space.space == Space::zoom) {
    const auto unit = find_unit(channel.unit);
    const double to_radians = unit ? radians(convert(1.0, *unit, *find_unit("deg"))) : 1.0;
    const double scale = picture_scale(rest * to_radians, value * to_radians);
    account.picture_scale = scale;
    account.sentence +=
        fmt::format(": things look {} times as large ({} doublings)", number(scale), number(std::log2(scale)));
  } else if (channel.space.space == Space::ratio) {
    account.sentence += fmt::format(": {} times", number(value / rest));
  } else {
    account.sentence += fmt::format(": {}{}", value > rest ? "+" : "", with_unit(value - rest, channel.unit));
  }
  return account;
}

} // namespace

MotionAccount account_of(const std::string& name, const Motion& motion, bool in_doublings) {
  MotionAccount account;
  account.name = name;
  account.sentence = sentence_of(motion, in_doublings);
  account.step = step_of(motion);
  account.forms = forms_of(motion);
  account.lag = steady_lag(motion);
  if (const auto* rule = std::get_if<PerFrame>(&motion)) {
    account.lag = steady_lag(*rule); // at the frame rate of the account
    account.at_fps = rule->at_fps;
  }
  for (const double frequency : sway_frequencies)
    if (const auto sway = sway_of(motion, frequency)) account.sways.push_back(*sway);
  return account;
}

ChannelAccount account_of(const Feel& feel, std::size_t index) {
  const Channel& channel = feel.channels[index];
  ChannelAccount account;
  account.channel = channel.name;
  account.heading = fmt::format("rests at {}, range {}; {}", values_in_words(channel, channel.rest),
                                range_in_words(channel, 0), space_in_words(channel.space.space));
  for (std::size_t i = 1; i < channel.components; ++i)
    if (channel.range[i].low != channel.range[0].low || channel.range[i].high != channel.range[0].high) {
      account.heading += fmt::format("; range of {}: {}", component_name(channel, i), range_in_words(channel, i));
    }
  if (channel.motion_times_channel)
    account.heading += fmt::format(
        "; the channel {} says how many times as long its motions take",
        component_name(feel.channels[channel.motion_times_channel->channel], channel.motion_times_channel->component));
  else if (channel.motion_times != 1.0)
    account.heading += fmt::format("; its motions take {} times as long as they say", concise(channel.motion_times));
  add_motions(feel, channel, channel.motion, "", account.motions);
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals) {
      if (goal.channel != index) continue;
      account.poses.push_back(account_of_pose(feel, pose, goal));
      if (goal.entering) add_motions(feel, channel, *goal.entering, "entering " + pose.name, account.motions);
      if (goal.leaving) add_motions(feel, channel, *goal.leaving, "leaving " + pose.name, account.motions);
    }
  account.follow = follow_in_words(feel, channel);
  account.profile = profile_in_words(feel, index);
  account.room = room_in_words(feel, channel);
  account.realign = realign_in_words(feel, channel) + kept_width_in_words(channel);
  account.snap = snap_in_words(feel, channel);
  if (channel.runs_on == RunsOn::clock)
    account.time = "it runs on the clock: as fast as ever while the game goes slower or faster, or stands still";
  if (channel.space.space == Space::turn)
    account.at_range = "the range limits the goal as it is written; the value itself counts on over whole turns";
  else if (std::isfinite(channel.range[0].low) || std::isfinite(channel.range[0].high))
    account.at_range = "a goal beyond the range is moved to its end; a motion that would swing beyond it is held there "
                       "at speed 0, and goes on unseen until it comes back";
  return account;
}

} // namespace stasis
