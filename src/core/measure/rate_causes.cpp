#include "core/measure/rate_causes.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

/// The motions that may move a channel.
std::vector<std::size_t> motions_of(const Feel& feel, std::size_t channel) {
  std::vector<std::size_t> out;
  const auto add = [&](const MotionChoices& choices) {
    for (std::size_t i = 0; i < feel.channels[channel].components; ++i)
      for (const std::size_t motion : {choices[i].rising, choices[i].falling})
        if (std::find(out.begin(), out.end(), motion) == out.end()) out.push_back(motion);
  };
  add(feel.channels[channel].motion);
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      for (const auto& choices : {goal.entering, goal.leaving})
        if (goal.channel == channel && choices) add(*choices);
  return out;
}

Replacement replacement_of(const std::string& name, const PerFrame& rule) {
  Replacement out{name, rule, equivalent_of(rule), {}};
  if (out.equivalent) out.residual = residual_of(rule, out.equivalent->motion);
  return out;
}

std::string with_unit(const Channel& channel, double size) {
  return readable(size) + (channel.unit.empty() ? "" : " " + printable(channel.unit, 16));
}

const Control* frame_control(const Feel& feel, std::size_t channel) {
  for (const Control& control : feel.controls) {
    const ComponentRef* target = target_of(control);
    const bool is_its = target != nullptr && target->channel == channel;
    if (is_its && frame_habit_of(control) != FrameHabit::none) return &control;
  }
  return nullptr;
}

/// What an exact motion meets that is not exact: curved goals, frames that decide, ticks.
std::string why_exact_differs(const RatesAccount& account, std::size_t channel) {
  const Feel& feel = *account.feel;
  const Channel& declared = feel.channels[channel];
  const Tick& tick = account.take->tick;
  if (const Control* control = frame_control(feel, channel)) {
    return control->name
           + (frame_habit_of(*control) == FrameHabit::counts_times_frametime
                  ? " multiplies its counts by the frame's time, so it goes slower when frames are shorter"
                  : " acts once on every frame, so it goes faster when frames are shorter");
  }
  if (declared.follow && tick.rate > 0.0 && !tick.blends)
    return "its subject stands still between ticks, and a frame shows the latest tick; between = \"blend\" is even";
  if (declared.follow && tick.order == Tick::Order::camera_first)
    return "the camera is stepped before its subject and sees it one frame late; step it last";
  if (!feel.switches.empty()) return "a switch looks only at frames, so it acts at the first frame past its threshold";
  if (has_formula(declared) && !declared.tie)
    return "its goal is a formula: it is curved between frames, and read only at frames";
  if (declared.follow)
    return "its goal turns between frames, or its lead or dead zone acts there; it is taken as straight between frames";
  for (const Sequence& sequence : feel.sequences)
    if (leads(sequence, channel)) return "a sequence begins, and gives the view back, only at frames";
  return "its goal is curved between frames, and taken as straight there";
}

std::string about_inputs(const RatesAccount& account, std::size_t channel) {
  const auto waits_in = [&](const RatePlay& play) { return play.channels[channel].input_wait.size; };
  const RatePlay& worst = *std::max_element(account.plays.begin(), account.plays.end(),
                                            [&](const auto& a, const auto& b) { return waits_in(a) < waits_in(b); });
  if (!account.is_noticeable(channel, waits_in(worst))) return {};
  double longest = 0.0;
  for (std::int64_t k = 0; k + 1 < worst.clock.frames; ++k) longest = std::max(longest, worst.clock.drawn_dt(k));
  return fmt::format(
      "an input is first seen at the next frame, up to {} ms late at {} ({} at most); no motion can mend "
      "that",
      readable(1e3 * longest), worst.what.label, with_unit(account.feel->channels[channel], waits_in(worst)));
}

} // namespace

std::vector<Replacement> replacements_of(const Feel& feel) {
  std::vector<Replacement> out;
  std::vector<std::size_t> used;
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    for (const std::size_t motion : motions_of(feel, c)) {
      const auto* rule = std::get_if<PerFrame>(&feel.motions[motion].motion);
      const std::string& name = feel.motions[motion].name;
      const bool known = std::any_of(out.begin(), out.end(), [&](const Replacement& r) { return r.motion == name; });
      if (rule == nullptr || known) continue;
      // As it was written: in the logarithmic spaces a copy holds the converted amount.
      const auto written = std::find_if(feel.motions.begin(), feel.motions.end(),
                                        [&](const NamedMotion& one) { return one.name == name; });
      out.push_back(replacement_of(name, *std::get_if<PerFrame>(&written->motion)));
    }
  return out;
}

std::vector<std::string> frame_shakes_of(const RatesAccount& account) {
  std::vector<std::string> out;
  const Feel& feel = *account.feel;
  for (std::size_t s = 0; s < feel.shakes.size(); ++s) {
    const Shake& shake = feel.shakes[s];
    const auto is_felt = [&](const RatePlay& play) { return play.measures.shakes[s].peak_amplitude > 0.0; };
    if (std::none_of(account.plays.begin(), account.plays.end(), is_felt)) continue;
    if (std::holds_alternative<FrameWave>(shake.wave))
      out.push_back(
          fmt::format("{} takes a new value on each frame, so it rattles as fast as the frames; the same everywhere is "
                      "wave = {{ kind = \"jitter\", rate = {} }}",
                      shake.name, concise(account.take->fps, 6)));
    if (shake.decay.kind != Decay::Kind::per_frame) continue;
    const auto by_fps = [](const RatePlay& a, const RatePlay& b) { return a.clock.fps < b.clock.fps; };
    const auto [slow, quick] = std::minmax_element(account.plays.begin(), account.plays.end(), by_fps);
    out.push_back(fmt::format(
        "{} dies away frame by frame: half after {} s at {}, after {} s at {}; the same everywhere is "
        "decay = {{ {} }}",
        shake.name, readable(slow->measures.shakes[s].half_life.value_or(0.0)), slow->what.label,
        readable(quick->measures.shakes[s].half_life.value_or(0.0)), quick->what.label, same_at_any_rate(shake.decay)));
  }
  return out;
}

std::vector<std::string> frame_controls_of(const RatesAccount& account) {
  std::vector<std::string> out;
  for (const Control& control : account.feel->controls) {
    const bool is_used = std::any_of(account.take->cues.begin(), account.take->cues.end(), [&](const Cue& cue) {
      return acts_on_control(cue.action) && &account.feel->controls[cue.control] == &control;
    });
    if (!is_used) continue;
    const double fps = account.take->fps;
    switch (frame_habit_of(control)) {
    case FrameHabit::none: break;
    case FrameHabit::steps_each_frame:
      out.push_back(fmt::format("{} steps on every frame while it is held, so it goes as fast as the frames; the same "
                                "everywhere is repeat_every = {} instead of every_frame",
                                control.name, concise(1.0 / fps, 6)));
      break;
    case FrameHabit::counts_times_frametime:
      out.push_back(fmt::format("{} multiplies counts by the frame's time, so it goes half as far at twice the frame "
                                "rate; the same everywhere is its gain over {}, without times_frame_time",
                                control.name, concise(fps, 6)));
      break;
    }
  }
  return out;
}

std::string advice_on(const Replacement& replacement) {
  const PerFrame& rule = replacement.rule;
  const std::string at = concise(rule.at_fps, 6) + " fps";
  if (!replacement.equivalent)
    return fmt::format("{} ({}, tuned at {}) has no equivalent: {}; it is {}", replacement.motion, name_of(rule.rule),
                       at, why_no_equivalent(rule), behaviour_in_words(rule.rule));
  std::string text = fmt::format("{} ({}, tuned at {}) -> {}: {{ {} }}", replacement.motion, name_of(rule.rule), at,
                                 replacement.equivalent->in_words, replacement.equivalent->text);
  constexpr double rounding = 1e-9;
  if (replacement.residual.of_step > rounding)
    text += fmt::format(", which swings and dies away alike; at {} a step differs by at most {} % of it", at,
                        readable(100.0 * replacement.residual.of_step));
  else
    text += fmt::format(", the same at {} for goals that do not move", at);
  if (replacement.residual.of_ramp > rounding)
    text += fmt::format("; behind a goal that moves steadily the two are {} ms apart",
                        readable(1e3 * replacement.residual.of_ramp));
  if (behaviours_of(rule.rule).size() > 1) text += fmt::format("; the rule is {}", behaviour_in_words(rule.rule));
  return text;
}

std::string cause_of(const RatesAccount& account, std::size_t channel) {
  const Feel& feel = *account.feel;
  double rule_error = 0.0;
  for (const RatePlay& play : account.plays) rule_error = std::max(rule_error, play.channels[channel].rule_error.size);
  double input_wait = 0.0;
  for (const RatePlay& play : account.plays) input_wait = std::max(input_wait, play.channels[channel].input_wait.size);
  std::string text;
  std::vector<std::string> rules;
  for (const std::size_t motion : motions_of(feel, channel))
    if (std::holds_alternative<PerFrame>(feel.motions[motion].motion)) rules.push_back(feel.motions[motion].name);
  if (account.is_noticeable(channel, rule_error)) {
    const std::vector<std::string_view> names(rules.begin(), rules.end());
    text = rules.empty() ? why_exact_differs(account, channel)
                         : fmt::format("it moves by {}, which {} the same on each frame, however long the frame is",
                                       listed(names), rules.size() == 1 ? "does" : "do");
    text += fmt::format(" ({} at most)", with_unit(feel.channels[channel], rule_error));
  }
  if (const std::string inputs = about_inputs(account, channel); !inputs.empty() && input_wait > 0.05 * rule_error)
    text += (text.empty() ? "" : "; and ") + inputs;
  return text;
}

} // namespace stasis
