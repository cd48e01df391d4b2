#include "core/explain/explain_controls.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/lens/lens.hpp"
#include "core/take/ladder.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

std::string target_name(const Feel& feel, ComponentRef target) {
  return component_name(feel.channels[target.channel], target.component);
}

std::string with_unit(const Feel& feel, ComponentRef target, double value) {
  const std::string& unit = feel.channels[target.channel].unit;
  return readable(value, 4) + (unit.empty() ? "" : " " + printable(unit, 16));
}

std::string step_in_words(const Feel& feel, const Clicks& clicks) {
  const double per_cent = 100.0 * (std::max(clicks.step, 1.0 / clicks.step) - 1.0);
  switch (clicks.by) {
  case StepKind::factor: return fmt::format("{} %", readable(per_cent));
  case StepKind::picture_scale: return fmt::format("{} % of picture scale", readable(per_cent));
  case StepKind::amount: break;
  }
  return with_unit(feel, clicks.target, clicks.step);
}

/// How much larger the first and the last step of a lens, given in degrees, makes the picture.
std::string uneven_steps(const Feel& feel, const Clicks& clicks, const Ladder& ladder) {
  const Channel& channel = feel.channels[clicks.target.channel];
  if (clicks.by != StepKind::amount || channel.space.space == Space::linear || channel.space.space == Space::turn)
    return {};
  const auto share = [&](int rung) {
    const double a = ladder.value(rung), b = ladder.value(rung + 1);
    if (channel.space.space == Space::ratio) return 100.0 * (b / a - 1.0);
    const double per_unit = channel.space.radians_per_unit;
    return 100.0 * (1.0 / picture_scale(a * per_unit, b * per_unit) - 1.0);
  };
  return fmt::format("; that is {} % at the low end and {} % at the high one, so the two ends feel different",
                     readable(share(ladder.lowest()), 2), readable(share(ladder.highest() - 1), 2));
}

void describe(const Feel& feel, const Hold& hold, ControlAccount& account) {
  account.sentence = fmt::format("the pose {} while it is held; {}", feel.poses[hold.pose].name,
                                 hold.stays ? "when released or cancelled it stays there: that is its new home"
                                            : "returns to rest when released or cancelled");
}

void describe(const Feel& feel, const Toggle& toggle, ControlAccount& account) {
  account.sentence = fmt::format("the pose {} from one press to the next", feel.poses[toggle.pose].name);
}

void describe(const Feel& feel, const Cycle& cycle, ControlAccount& account) {
  std::vector<std::string_view> names;
  for (const std::size_t pose : cycle.poses)
    names.push_back(pose == Cycle::home ? std::string_view("home") : std::string_view(feel.poses[pose].name));
  account.sentence = fmt::format("each press takes the next of {}, and then the first again", listed(names));
}

void describe(const Feel& feel, const Mirror& mirror, ControlAccount& account) {
  const std::string about = fmt::format("the other side of {}", with_unit(feel, mirror.target, mirror.centre));
  const std::string name = target_name(feel, mirror.target);
  account.sentence =
      mirror.rule == SideRule::stored
          ? fmt::format("each press puts {} on {}; the side is kept, so every press counts", name, about)
      : mirror.rule == SideRule::what_is_there
          ? fmt::format("each press mirrors {} as it is now about {}: pressed half-way, it drifts to the middle", name,
                        about)
          : fmt::format("each press sends {} to {} from where it is now: a press before it has crossed is lost", name,
                        about);
}

void describe(const Feel& feel, const Clicks& clicks, ControlAccount& account) {
  const Ladder ladder(feel.channels[clicks.target.channel], clicks);
  const int count = ladder.highest() - ladder.lowest();
  account.clicks_end_to_end = count;
  account.strokes_end_to_end = (count + clicks.per_stroke - 1) / clicks.per_stroke;
  account.sentence = fmt::format("a click up {} {} by {}, a click down {} it again{}; {} clicks from end to end, {} of "
                                 "them above home and {} below",
                                 clicks.invert ? "lowers" : "raises", target_name(feel, clicks.target),
                                 step_in_words(feel, clicks), clicks.invert ? "raises" : "lowers",
                                 uneven_steps(feel, clicks, ladder), count, ladder.highest(), -ladder.lowest());
  if (clicks.per_stroke > 1)
    account.sentence += fmt::format(", {} strokes of {}", *account.strokes_end_to_end, clicks.per_stroke);
  if (clicks.double_within > 0.0)
    account.sentence += fmt::format("; two within {} s run to the end", concise(clicks.double_within));
  if (clicks.repeat_every) account.sentence += fmt::format("; held, again every {} s", concise(*clicks.repeat_every));
  if (clicks.repeats_double && clicks.double_within > 0.0)
    account.sentence += "; a repeat counts as the second of two, so holding it may run to the end";
  if (clicks.every_frame) account.sentence += "; held, again on every frame: twice as fast at twice the frame rate";
}

void describe(const Feel& feel, const Pointer& pointer, ControlAccount& account) {
  account.sentence =
      fmt::format("{} moves by {}{} a count{}", target_name(feel, pointer.target), pointer.invert ? "\u2212" : "",
                  with_unit(feel, pointer.target, pointer.gain),
                  pointer.times_frame_time ? ", times the frame's time: half as far at twice the frame rate"
                                           : ", at any frame rate");
  if (pointer.top_speed)
    account.sentence +=
        fmt::format(", no faster than {} a second{}", with_unit(feel, pointer.target, *pointer.top_speed),
                    pointer.runs_on == RunsOn::clock ? " of the clock" : "");
}

void describe(const Feel& feel, const Stick& stick, ControlAccount& account) {
  const std::string name = target_name(feel, stick.target);
  const Channel& channel = feel.channels[stick.target.channel];
  const char* const inverted = stick.invert ? ", inverted" : "";
  if (stick.absolute) {
    account.sentence = fmt::format(
        "{} is where the stick is put: home in the middle, the ends of the range at its ends{}", name, inverted);
    return;
  }
  const std::string speed =
      stick.gain_from ? fmt::format("the value of {}{}", target_name(feel, *stick.gain_from),
                                    is_logarithmic(channel.space.space) ? " in doublings a second" : " a second")
      : is_logarithmic(channel.space.space)
          ? fmt::format("{} doublings a second", readable(stick.gain))
          : with_unit(feel, stick.target, stick.gain) + (channel.unit.empty() ? " a second" : "/s");
  account.sentence = fmt::format("{} moves at up to {}{}, at full speed after {} s and at rest again after {} s", name,
                                 speed, inverted, concise(stick.spin_up), concise(stick.spin_down));
  if (stick.runs_on == RunsOn::clock) account.sentence += "; by the clock, as fast as ever in slow motion";
  if (stick.response.dead_band > 0.0)
    account.sentence += fmt::format("; deflections up to {} do nothing", concise(stick.response.dead_band));
  if (stick.response.outer_dead_band > 0.0)
    account.sentence += fmt::format("; from {} on it counts as full", concise(1.0 - stick.response.outer_dead_band));
  if (stick.response.exponent != 1.0)
    account.sentence +=
        fmt::format("; between these, the deflection is raised to the power of {}: half-way asks for {} % of the speed",
                    concise(stick.response.exponent), readable(100.0 * std::pow(0.5, stick.response.exponent)));
}

void describe(const Feel& feel, const Starter& starter, ControlAccount& account) {
  account.sentence = fmt::format("a press begins the sequence {}; a press while it runs skips it",
                                 feel.sequences[starter.sequence].name);
}

constexpr const char* latest_wins =
    "the last one pressed wins; when it is released, the one before it has the channel again";

/// Who wins when several of `names` are held.
std::string policy_in_words(const Feel& feel, const Group& group, const std::string& names) {
  const std::string together = fmt::format("if {} are held together, ", names);
  switch (group.policy) {
  case Policy::latest: return together + latest_wins;
  case Policy::first: return together + "the first one pressed wins; when it is released, the next one has the channel";
  case Policy::neither: return together + "none wins, and it goes home";
  case Policy::sum: return together + "their distances from home are added up";
  case Policy::ranked: break;
  }
  std::vector<std::string_view> ranked;
  for (const std::size_t control : group.controls) ranked.push_back(feel.controls[control].name);
  return fmt::format("the first of {} that is held wins", listed(ranked));
}

} // namespace

std::string account_of_switch(const Feel& feel, const Switch& one) {
  if (one.sequence)
    return fmt::format("begins the sequence {} when {} is {} {}; it can do so again after it has been {} {}",
                       feel.sequences[*one.sequence].name, target_name(feel, one.on), one.below ? "below" : "above",
                       with_unit(feel, one.on, one.enter), one.below ? "above" : "below",
                       with_unit(feel, one.on, one.leave));
  return fmt::format("the pose {} when {} is {} {}, until it is {} {}", feel.poses[*one.pose].name,
                     target_name(feel, one.on), one.below ? "below" : "above", with_unit(feel, one.on, one.enter),
                     one.below ? "above" : "below", with_unit(feel, one.on, one.leave));
}

std::vector<ControlAccount> accounts_of_controls(const Feel& feel) {
  std::vector<ControlAccount> accounts;
  for (std::size_t c = 0; c < feel.controls.size(); ++c) {
    const Control& control = feel.controls[c];
    ControlAccount account;
    account.control = c;
    std::visit([&](const auto& rule) { describe(feel, rule, account); }, control.rule);
    if (control.buttons.size() > 1)
      account.sentence += fmt::format("; down until the last of its {} buttons is released", control.buttons.size());
    if (control.unless)
      account.sentence += fmt::format("; does nothing while {} is on", feel.controls[*control.unless].name);
    accounts.push_back(std::move(account));
  }
  return accounts;
}

std::vector<ContestAccount> accounts_of_contests(const Feel& feel) {
  std::vector<ContestAccount> accounts;
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    std::vector<std::size_t> wanting; // controls that can put a pose into force that names the channel
    for (std::size_t k = 0; k < feel.controls.size(); ++k)
      if (target_of(feel.controls[k]) == nullptr && drives(feel, feel.controls[k], c)) wanting.push_back(k);
    if (wanting.size() < 2) continue;
    std::string sentence;
    for (const Group& group : feel.groups) {
      std::vector<std::string_view> names;
      for (const std::size_t control : group.controls)
        if (std::find(wanting.begin(), wanting.end(), control) != wanting.end()) {
          names.push_back(feel.controls[control].name);
          std::erase(wanting, control);
        }
      if (names.size() > 1) sentence += fmt::format("{}; ", policy_in_words(feel, group, listed(names)));
    }
    if (!wanting.empty() && sentence.empty()) {
      std::vector<std::string_view> names;
      for (const std::size_t control : wanting) names.push_back(feel.controls[control].name);
      sentence = fmt::format("if {} are held together, {}", listed(names), latest_wins);
    } else if (!wanting.empty()) {
      sentence += "against other controls, the last one pressed wins";
    } else {
      sentence.resize(sentence.size() - 2);
    }
    accounts.push_back({c, sentence});
  }
  return accounts;
}

} // namespace stasis
