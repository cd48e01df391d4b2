#include "code/lower_feel.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <utility>

#include "code/lowering.hpp"
#include "code/parts.hpp"
#include "code/printer.hpp"
#include "code/read_program.hpp"
#include "core/overloaded.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis::code {

std::string identifier(const std::string& name) {
  std::string out;
  for (const char c : name) {
    const bool plain = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
    const bool large = c >= 'A' && c <= 'Z';
    out += plain ? c : large ? static_cast<char>(c - 'A' + 'a') : '_';
  }
  if (out.empty() || out[0] < 'a' || out[0] > 'z') out = "x" + out;
  return out;
}

std::string component_identifier(const Feel& feel, ComponentRef component) {
  const std::string name = identifier(component_name(feel.channels[component.channel], component.component));
  const bool is_taken = feel.channels[component.channel].components > 1
                        && std::any_of(feel.channels.begin(), feel.channels.end(),
                                       [&](const Channel& other) { return other.name == name; });
  return is_taken ? name + "_part" : name;
}

std::string in_comment(const std::string& text) {
  std::string out = printable(text, 200);
  constexpr std::pair<std::string_view, std::string_view> meant[] = {
      {"*/", "* /"}, {"/*", "/ *"}, {"\\", "/"}, {"??", "? ?"}};
  for (const auto& [mark, plain] : meant)
    for (std::size_t at = out.find(mark); at != std::string::npos; at = out.find(mark, at + 1))
      out.replace(at, mark.size(), plain);
  return out;
}

bool is_kept_name(const std::string& prefix) {
  static const std::set<std::string_view> known{"bits",  "coroutine", "debug",  "functools", "hits",  "io",
                                                "math",  "mover",     "os",     "package",   "state", "std",
                                                "stdio", "sys",       "system", "table",     "utf8"};
  return is_kept_word(prefix) || known.contains(prefix);
}

std::string literal(double value) {
  if (std::isinf(value)) return value > 0.0 ? "UNBOUNDED" : "-UNBOUNDED";
  const std::string text = shortest(value);
  const std::size_t exponent = std::min(text.find('e'), text.size());
  const std::string number = text.substr(0, exponent);
  std::string power = text.substr(exponent); // "e-05" and "e+20" are "e-5" and "e20" in every language
  if (power.starts_with("e+")) power.erase(1, 1);
  if (power.starts_with("e-0")) power.erase(2, 1);
  return (number.find('.') == std::string::npos ? number + ".0" : number) + power;
}

std::vector<std::size_t> motions_of(const Feel& feel, ComponentRef value) {
  std::set<std::size_t> motions;
  const auto note = [&](const MotionChoices& choices) {
    motions.insert({choices[value.component].rising, choices[value.component].falling});
  };
  note(feel.channels[value.channel].motion);
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      for (const auto& choices : {goal.entering, goal.leaving})
        if (goal.channel == value.channel && choices) note(*choices);
  for (const Sequence& sequence : feel.sequences)
    for (const PoseGoal& led : sequence.led)
      if (led.channel == value.channel && led.leaving) note(*led.leaving);
  return {motions.begin(), motions.end()};
}

std::vector<std::size_t> motions_of(const Feel& feel, std::size_t channel) {
  std::set<std::size_t> motions;
  for (std::size_t i = 0; i < feel.channels[channel].components; ++i) {
    const std::vector<std::size_t> own = motions_of(feel, ComponentRef{channel, i});
    motions.insert(own.begin(), own.end());
  }
  return {motions.begin(), motions.end()};
}

Lowering::Lowering(const Feel& one) : feel(one) {
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    for (std::size_t i = 0; i < feel.channels[c].components; ++i) components.push_back({c, i});
  std::set<std::string> taken;
  for (const NamedMotion& motion : feel.motions) {
    const std::string plain = identifier(motion.name);
    std::string name = plain;
    for (int k = 2; !taken.insert(name).second; ++k) name = fmt::format("{}_{}", plain, k);
    motion_names.push_back(name);
  }
  std::set<std::size_t> used;
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const std::vector<std::size_t> motions = motions_of(feel, c);
    used.insert(motions.begin(), motions.end());
    if (feel.channels[c].motion_times_channel) slowed_by_value.insert(motions.begin(), motions.end());
    if (const auto& follow = feel.channels[c].follow; follow && follow->lead.motion && is_followed(feel, c))
      used.insert(*follow->lead.motion);
  }
  used_motions.assign(used.begin(), used.end());
  follows.assign(feel.channels.size(), 0);
  for (const Channel& channel : feel.channels) has_formula.push_back(stasis::has_formula(channel) ? 1 : 0);
}

bool has_cue(const Feel& feel, CueAction action) noexcept {
  return std::any_of(feel.takes.begin(), feel.takes.end(), [&](const Take& take) {
    return std::any_of(take.cues.begin(), take.cues.end(), [&](const Cue& cue) { return cue.action == action; });
  });
}

bool is_directed(const Feel& feel, const Shake& shake) noexcept {
  return std::any_of(feel.takes.begin(), feel.takes.end(), [&](const Take& take) {
    return std::any_of(take.cues.begin(), take.cues.end(), [&](const Cue& cue) {
      return cue.action == CueAction::hit && !cue.direction.empty() && &feel.shakes[cue.shake] == &shake;
    });
  });
}

bool has_clock(const Feel& feel) noexcept {
  const auto of_control = [](const Control& control) {
    return std::visit(Overloaded{
                          [](const PutsPoses&) { return RunsOn::game; }, // what acts at once has no time of its own
                          [](const Mirror&) { return RunsOn::game; },
                          // How soon a hand clicks again is a matter of the clock.
                          [](const Clicks& one) {
                            return one.double_within > 0.0 || one.repeat_every ? RunsOn::clock : RunsOn::game;
                          },
                          [](const Pointer& one) { return one.runs_on; },
                          [](const Stick& one) { return one.runs_on; },
                      },
                      control.rule);
  };
  const auto any = [](const auto& all, const auto& runs_on) {
    return std::any_of(all.begin(), all.end(), [&](const auto& one) { return runs_on(one) == RunsOn::clock; });
  };
  return any(feel.channels, [](const Channel& channel) { return channel.runs_on; })
         || any(feel.shakes, [](const Shake& shake) { return shake.runs_on; }) || any(feel.controls, of_control);
}

bool has_limits(const Feel& feel) noexcept {
  return std::any_of(feel.channels.begin(), feel.channels.end(),
                     [](const Channel& channel) { return channel.obstacles.has_value(); });
}

std::string unit_words(const Channel& channel) { return in_comment(printable(channel.unit, 20)); }

std::string Lowering::value_name(ComponentRef component) const {
  return "VALUE_" + in_capitals(component_identifier(feel, component));
}
std::string Lowering::capitals(const std::string& name) const { return in_capitals(name); }

namespace {

/// True if a formula reads a subject that the program cannot be told about.
bool reads_a_lost_track(const Feel& feel, const Formula& formula) {
  return std::any_of(formula.variables().begin(), formula.variables().end(), [&](std::size_t variable) {
    const FormulaVariable& read = feel.variables[variable];
    return read.kind == FormulaVariable::Kind::track && !is_told(feel, read.track);
  });
}

/// What gives a channel its goal that is not in the program; empty if nothing does.
std::string outside_source(const Feel& feel, std::size_t c) {
  const Channel& channel = feel.channels[c];
  if (channel.follow && !is_followed(feel, c)) return "what it follows";
  if (channel.realign && !is_followed(feel, c)) return "its heading";
  for (const auto& formula : channel.formula)
    if (formula && reads_a_lost_track(feel, *formula)) return "its formula, which reads a track,";
  return {};
}

void look_at_sources(Lowering& to) {
  for (std::size_t c = 0; c < to.feel.channels.size(); ++c) {
    const Channel& channel = to.feel.channels[c];
    if (const std::string source = outside_source(to.feel, c); !source.empty()) {
      to.out.given.push_back(c);
      to.has_formula[c] = 0;
      to.leave("{}: {} is not in this file. Say by `follow` where its goal will be as the frame ends, on each frame on "
               "which it moves.",
               channel.name, source);
    }
    if (std::find(to.out.given.begin(), to.out.given.end(), c) == to.out.given.end())
      to.follows[c] = channel.follow || channel.realign || channel.is_placed ? 1 : 0;
    if (channel.obstacles)
      to.leave("{}: the obstacles are not in this file. Say by `limit` how far your own ray came behind what is looked "
               "at, on each frame on which that changes.",
               channel.name);
  }
  note_tracks(to);
  for (const Sequence& sequence : to.feel.sequences)
    to.leave("Sequence {} is not in this file: export its channels as keys; call `lead` with their values on each "
             "frame, and `give_back` when it ends.",
             sequence.name);
}

/// Names of the feel that become one name in the program: "a_in_b" of c, and a of "b_in_c".
void look_at_names(Lowering& to) {
  std::set<std::string> known;
  for (std::string_view line : split(to.out.text, '\n')) {
    line = trimmed(line);
    if (!line.starts_with("constant ") || line.find('=') == std::string_view::npos) continue;
    const std::string declared(line.substr(0, line.find(" =")));
    if (!known.insert(declared).second)
      to.fault("Two names of the feel become the same, {}: rename one of them.",
               declared.substr(declared.rfind(' ') + 1));
  }
}

/// The text of a feel of which it is known what others give.
Lowered lowered(Lowering& to) {
  lower_constants(to);
  lower_records(to);
  to.out.text += numbers_part();
  lower_lookups(to);
  to.out.text += steps_part();
  to.out.text += curves_part();
  lower_links(to);
  to.out.text += moves_part();
  to.out.text += chains_part();
  lower_motions(to);
  lower_controls_first(to);
  to.out.text += controls_part();
  lower_controls(to);
  to.out.text += shakes_part();
  lower_shakes(to);
  lower_states_of_controls(to);
  lower_formulas(to);
  lower_sticks(to);
  lower_frame(to);
  lower_eye(to);
  look_at_names(to);
  return std::move(to.out);
}

} // namespace

namespace {

/// The feel with motions of their own for channels that take longer or shorter by all of theirs, by a number or by what
/// another value says on each frame.
Feel with_slowed_motions(const Feel& feel) {
  Feel own = feel;
  for (std::size_t c = 0; c < own.channels.size(); ++c) {
    Channel& channel = own.channels[c];
    if (channel.motion_times == 1.0 && !channel.motion_times_channel) continue;
    std::map<std::size_t, std::size_t> slower;
    const auto slow = [&](std::size_t& motion) {
      const auto [at, is_new] = slower.try_emplace(motion, own.motions.size());
      if (is_new) {
        NamedMotion made = own.motions[motion];
        made.name += " of " + channel.name;
        if (!channel.motion_times_channel) made.motion = slowed(made.motion, channel.motion_times);
        own.motions.push_back(std::move(made));
      }
      motion = at->second;
    };
    const auto slow_all = [&](MotionChoices& choices) {
      for (std::size_t i = 0; i < channel.components; ++i) {
        slow(choices[i].rising);
        slow(choices[i].falling);
      }
    };
    slow_all(channel.motion);
    for (Pose& pose : own.poses)
      for (PoseGoal& goal : pose.goals)
        for (auto* choices : {&goal.entering, &goal.leaving})
          if (goal.channel == c && *choices) slow_all(**choices);
    for (Sequence& sequence : own.sequences)
      for (PoseGoal& led : sequence.led)
        if (led.channel == c && led.leaving) slow_all(*led.leaving);
    channel.motion_times = 1.0;
  }
  return own;
}

} // namespace

Lowered lower(const Feel& declared) {
  const Feel feel = with_slowed_motions(declared);
  Lowering to(feel);
  look_at_sources(to);
  return lowered(to);
}

Lowered lower_motions_alone(const Feel& feel) {
  Feel alone;
  alone.motions = feel.motions;
  std::vector<std::string> left;
  for (std::size_t m = 0; m < feel.motions.size(); ++m) {
    const Motion& motion = feel.motions[m].motion;
    if (std::holds_alternative<Cut>(motion)) continue;
    Channel channel;
    channel.name = identifier(feel.motions[m].name);
    channel.range[0] = {-unbounded, unbounded};
    channel.motion[0] = {m, m};
    alone.order.push_back(alone.channels.size());
    alone.channels.push_back(std::move(channel));
  }
  Lowering to(alone);
  to.out.left = std::move(left);
  for (std::size_t c = 0; c < alone.channels.size(); ++c) to.out.given.push_back(c);
  Lowered made = lowered(to);
  if (alone.channels.empty()) made.faults.push_back("The feel has no motion that can be written alone.");
  return made;
}

} // namespace stasis::code
