#include "core/explain/explain.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/curve/curve_facts.hpp"
#include "core/lens/lens.hpp"
#include "core/measure/take_measures.hpp"
#include "core/motion/equivalent.hpp"
#include "core/motion/smoothing.hpp"
#include "core/motion/spring_design.hpp"
#include "core/overloaded.hpp"
#include "core/take/player.hpp"
#include "core/take/step_play.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

std::string number(double value) { return concise(value, 4); }

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
  constexpr double frames = 2000.0;
  take.fps = frames / take.length;
  if (const auto* rule = std::get_if<PerFrame>(&motion)) take.fps = rule->at_fps;
  MeasureSink measuring;
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

std::vector<EquivalentForm> forms_of(const Smoothing& from) {
  constexpr double rates[] = {60.0};
  std::vector<EquivalentForm> forms;
  for (const Translation& t : translations_of(from, rates, *parse_curve("ease-in-out"))) {
    const SmoothingWord& word = smoothing_words()[static_cast<std::size_t>(t.to.form)];
    forms.push_back({std::string(word.word), t.to.value, std::string(own_unit(word.unit)), t.sense});
  }
  return forms;
}

std::vector<EquivalentForm> forms_of(const Spring& spring) {
  const double w = spring.angular_frequency, z = spring.damping_ratio;
  std::vector<EquivalentForm> forms{{"frequency", natural_frequency_hz(w), "Hz", "exact"},
                                    {"damping_ratio", z, "", "exact"},
                                    {"stiffness", w * w, "", "exact, with mass 1"},
                                    {"damping", 2.0 * z * w, "", "exact, with mass 1"}};
  if (z > 0.0) {
    forms.push_back({"settling_time", settling_angle(z, default_settle_share) / w, "s", "exact"});
    if (z <= 1.0) forms.push_back({"overshoot", 100.0 * overshoot_of(z), "%", "exact"});
  }
  return forms;
}

/// What the exact equivalent of a per-frame rule is in numbers.
std::vector<EquivalentForm> forms_of(const PerFrame& rule) {
  const auto equivalent = equivalent_of(rule);
  if (!equivalent) return {};
  if (const auto* glide = std::get_if<Glide>(&equivalent->motion))
    return forms_of(Smoothing{SmoothingForm::rate, glide->rate, rule.at_fps});
  if (const auto* spring = std::get_if<Spring>(&equivalent->motion)) {
    std::vector<EquivalentForm> forms = forms_of(*spring);
    for (EquivalentForm& form : forms) form.sense = "nearest: the same poles";
    return forms;
  }
  if (const auto* pace = std::get_if<Pace>(&equivalent->motion)) return {{"speed", pace->speed, "per second", "exact"}};
  return {};
}

std::string sentence_of(const Motion& motion);

std::string sentence_of(const Glide& glide) {
  return fmt::format("a glide of half-life {} s: the gap halves every {} s; it sets off at full speed (a kick), slows "
                     "down all the way, and never quite arrives",
                     number(std::numbers::ln2 / glide.rate), number(std::numbers::ln2 / glide.rate));
}

std::string sentence_of(const Spring& spring) {
  const double z = spring.damping_ratio;
  const std::string how = z == 0.0 ? "it swings forever"
                          : z < 1.0
                              ? fmt::format("it starts softly, overshoots its goal by {} % of the way, and comes back",
                                            readable(100.0 * overshoot_of(z), 3))
                          : z == 1.0 ? "it starts softly, and is as quick as a spring can be without overshooting"
                                     : "it starts softly, and creeps in without overshooting";
  return fmt::format(
      "a spring of {} Hz and damping ratio {}: {}{}", number(natural_frequency_hz(spring.angular_frequency)), number(z),
      how,
      spring.resists_gap ? "; its damping resists the change of the gap, so it does not lag behind a steady goal" : "");
}

std::string handover_in_words(const Ease& ease) {
  switch (ease.handover) {
  case Handover::restart: return "a new goal half-way takes the full time again, from where the value is";
  case Handover::pro_rata:
    return "a new goal half-way takes a share of the time, by how much of the way there is to go; the speed jumps";
  case Handover::finish_first:
    return "a new goal half-way waits until the move is done; of several, the last one counts";
  case Handover::carry: break;
  }
  return fmt::format(
      "a new goal half-way lets value and speed go on; if the value comes in fast, it brakes for at least {} s",
      number(ease.brake_at_least > 0.0 ? ease.brake_at_least : 0.25 * ease.duration));
}

std::string sentence_of(const Ease& ease) {
  std::string words = in_words(facts_of(ease.curve));
  if (!words.empty()) {
    words[0] = static_cast<char>(words[0] >= 'A' && words[0] <= 'Z' ? words[0] - 'A' + 'a' : words[0]);
    words.pop_back();
  }
  std::string text = fmt::format("an eased move of {} s: {}", number(ease.duration), words);
  if (ease.delay > 0.0) text += fmt::format("; it waits {} s first", number(ease.delay));
  if (ease.there_and_back) text += "; then it goes back the same way";
  if (ease.repeat > 1) text += fmt::format("; {} times over", ease.repeat);
  return text + "; " + handover_in_words(ease);
}

std::string sentence_of(const Pace& pace, std::string_view what = {}) {
  if (pace.acceleration >= pace_at_once(pace.speed).acceleration)
    return fmt::format("a pace of {}{} a second: it is at that speed at once, and stops dead at its goal",
                       number(pace.speed), what);
  return fmt::format("a pace of at most {}{} a second, gaining or losing at most {} a second each second: it arrives "
                     "as soon as these allow, starts and ends softly, and does not overshoot from rest",
                     number(pace.speed), what, number(pace.acceleration));
}

std::string rule_in_words(const PerFrame& frames) {
  const auto& rule = frames.rule;
  if (const auto* fraction = std::get_if<FractionRule>(&rule))
    return fmt::format("{} % of the gap is closed on each frame", number(100.0 * fraction->fraction));
  if (const auto* product = std::get_if<ProductRule>(&rule))
    return fmt::format("on each frame {} times the frame's time of the gap is closed{}", number(product->rate),
                       product->is_capped ? ", but never more than all of it" : "");
  if (const auto* amount = std::get_if<AmountRule>(&rule))
    return fmt::format("the value goes {} towards its goal on each frame, at most all the way", number(amount->amount));
  const auto& spring = std::get<SpringStepRule>(rule);
  return fmt::format("a spring of stiffness {} and damping {} makes one {} Euler step on each frame",
                     number(spring.stiffness), number(spring.damping),
                     spring.speed_first ? "semi-implicit" : "explicit");
}

std::string sentence_of(const PerFrame& rule) {
  std::string text = fmt::format("a per-frame rule, tuned at {} fps: {}; {}", number(rule.at_fps), rule_in_words(rule),
                                 behaviour_in_words(rule.rule));
  const auto equivalent = equivalent_of(rule);
  if (!equivalent) return text + "; it has no equivalent at other frame rates, since " + why_no_equivalent(rule);
  text += fmt::format("; the same at every rate is {{ {} }}", equivalent->text);
  const Residual residual = residual_of(rule, equivalent->motion);
  constexpr double rounding = 1e-9;
  if (residual.of_step > rounding)
    text += fmt::format(", which swings and dies away alike; a step differs by at most {} % of it",
                        readable(100.0 * residual.of_step));
  if (residual.of_ramp > rounding)
    text += fmt::format("; behind a goal that moves steadily, the two are {} s apart", readable(residual.of_ramp));
  return text;
}

std::string sentence_of(const Chain& chain) {
  std::vector<std::string> parts;
  if (chain.delay > 0.0 || (!chain.head && chain.links.empty()))
    parts.push_back(fmt::format("a wait of {} s", number(chain.delay)));
  if (chain.head) parts.push_back(std::visit([](const auto& head) { return sentence_of(head); }, *chain.head));
  for (const Link& link : chain.links)
    parts.push_back(std::visit([](const auto& one) { return sentence_of(one); }, link));
  std::string text = parts.size() > 1 ? "stages in a row, each following the one before: " : "";
  for (std::size_t i = 0; i < parts.size(); ++i) text += (i > 0 ? "; then " : "") + parts[i];
  return text;
}

std::string sentence_of(const Cut&) { return "a cut: it jumps to its goal, one frame later"; }

std::string sentence_of(const Motion& motion) {
  return std::visit([](const auto& one) { return sentence_of(one); }, motion);
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
    MotionAccount account = account_of(feel.motions[motion].name, feel.motions[motion].motion);
    // In the logarithmic spaces a pace was given in doublings, and is said in them.
    const bool in_doublings = is_logarithmic(channel.space.space);
    if (const auto* rule = std::get_if<PerFrame>(&feel.motions[motion].motion); rule != nullptr && in_doublings)
      if (const auto* amount = std::get_if<AmountRule>(&rule->rule))
        account.sentence =
            sentence_of(PerFrame{AmountRule{amount->amount / std::numbers::ln2}, rule->at_fps}) + ", in doublings";
    if (const auto* pace = std::get_if<Pace>(&feel.motions[motion].motion); pace != nullptr && in_doublings)
      account.sentence =
          sentence_of(Pace{pace->speed / std::numbers::ln2, pace->acceleration / std::numbers::ln2}, " doublings");
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

MotionAccount account_of(const std::string& name, const Motion& motion) {
  MotionAccount account;
  account.name = name;
  account.sentence = sentence_of(motion);
  account.step = step_of(motion);
  account.lag = steady_lag(motion);
  const auto add_forms = Overloaded{
      [](const Cut&) {},
      [&](const Glide& glide) {
        account.forms = forms_of(Smoothing{SmoothingForm::rate, glide.rate, 60.0});
      },
      [&](const Spring& spring) { account.forms = forms_of(spring); },
      [&](const Ease& ease) {
        account.forms = {{"duration", ease.duration, "s", "exact"}};
      },
      [](const Pace&) {}, // no other words for it
      [](const Chain&) {},
      [&](const PerFrame& rule) {
        account.forms = forms_of(rule);
        account.lag = steady_lag(rule);
        account.at_fps = rule.at_fps;
      },
      [](const Led&) {},
  };
  std::visit(add_forms, motion);
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
