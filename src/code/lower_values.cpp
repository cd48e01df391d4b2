// The values of a feel: their numbers, what is kept of them, where poses put them, and what happens on each frame.
#include <algorithm>

#include "code/lowering.hpp"
#include "code/parts.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis::code {
namespace {

void lower_value_constants(Lowering& to) {
  to.heading("Values: their number, where they rest, how far they may go.");
  for (std::size_t k = 0; k < to.components.size(); ++k) {
    const ComponentRef one = to.components[k];
    const Channel& channel = channel_of(to, one);
    const std::string name = to.capitals(component_identifier(to.feel, one));
    const std::string unit = unit_words(channel);
    to.add("constant whole VALUE_{} = {};", name, k);
    const auto number = [&](const char* what, double value) {
      if (!unit.empty()) to.add("/// {}", unit);
      to.add("constant real {}_{} = {};", what, name, literal(value));
    };
    number("REST", channel.rest[one.component]);
    if (channel.start[one.component]) number("START", starting_base(channel, one.component));
    number("LOWEST", goal_range(channel, one.component).low);
    number("HIGHEST", goal_range(channel, one.component).high);
  }
  to.add("constant whole VALUES = {};", to.components.size());
}

} // namespace

void lower_constants(Lowering& to) {
  to.add("/// radians of a whole turn\nconstant real TURN = {};", literal(whole_turn));
  lower_value_constants(to);
  to.heading("Poses.");
  for (std::size_t p = 0; p < to.feel.poses.size(); ++p) {
    const Pose& pose = to.feel.poses[p];
    const std::string name = to.capitals(identifier(pose.name));
    to.add("constant whole POSE_{} = {};", name, p);
    for (const PoseGoal& goal : pose.goals)
      for (std::size_t i = 0; i < to.feel.channels[goal.channel].components; ++i) {
        const ComponentGoal& value = goal.value[i];
        if (value.rule == GoalRule::none) continue;
        const std::string unit = unit_words(to.feel.channels[goal.channel]);
        const std::string words = value.rule == GoalRule::times ? "times home"
                                  : value.rule == GoalRule::add ? unit + " from home"
                                                                : unit;
        if (!words.empty()) to.add("/// {}", words);
        to.add("constant real {}_IN_{} = {};", to.capitals(component_identifier(to.feel, {goal.channel, i})), name,
               literal(value.amount));
      }
  }
  // A sequence that has had a value is told from poses by its number.
  if (!to.feel.sequences.empty()) to.heading("Sequences.");
  for (std::size_t q = 0; q < to.feel.sequences.size(); ++q)
    to.add("constant whole SEQUENCE_{} = {};", to.capitals(identifier(to.feel.sequences[q].name)),
           to.feel.poses.size() + q);
  lower_motion_constants(to);
  to.heading("Controls.");
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k)
    to.add("constant whole CONTROL_{} = {};", to.capitals(identifier(to.feel.controls[k].name)), k);
  lower_track_constants(to);
  constexpr const char* policies[] = {"FIRST", "NEITHER", "SUM", "RANKED"};
  for (std::size_t k = 0; k < 4; ++k) to.add("constant whole POLICY_{} = {};", policies[k], k + 1);
}

void lower_records(Lowering& to) {
  const std::size_t values = to.components.size(), controls = std::max<std::size_t>(1, to.feel.controls.size());
  const std::size_t switches = to.feel.switches.size(), most = std::max<std::size_t>(1, controls + switches);
  lower_common_records(to);
  to.add("/// Everything that changes.\nrecord State {{");
  to.add("  real time; /// s since the beginning\n  real time_rest; /// what rounding has kept out of it\n  whole "
         "frame; /// counted from "
         "0\n  real last_step; /// s: the frame before");
  to.add("  real input_time; /// s: when the next input happens, by {}; put an earlier time here if you know it",
         has_clock(to.feel) ? "clock_time" : "time");
  to.add("  real clock_time; /// s, of what the game's slowing leaves alone\n  real clock_rest; /// what rounding has "
         "kept out of it\n  real clock_step; /// s of the frame by that clock\n  flag clock_told; /// its frame's "
         "length has been told\n  flag clock_apart; /// that has been so before: it is not the game's time");
  to.add("  Mover[{0}] mover; /// each value\n  real[{0}] home; /// where each is at home\n  real[{0}] next_home; /// "
         "where it will be as the frame ends\n  flag[{0}] runs_home; /// it goes there evenly\n  whole[{0}] flipped; "
         "/// the "
         "control that has put it on its other side; -1: none",
         values);
  to.add("  flag[{}] down; /// which controls are down", controls);
  to.add("  flag heard; /// an input has come since goals were read last\n  whole contenders; /// poses in force\n  "
         "whole[{0}] contender; /// their controls, the last one last\n  "
         "whole[{0}] contender_pose; /// these poses",
         most);
  to.add("  whole[{0}] turn; /// of a cycle: which pose it is at\n  flag[{0}] has_click; /// a click that may become a "
         "double one\n  real[{0}] last_click; /// s: when it was clicked last\n  whole[{0}] last_way; /// which way: "
         "up 1, down -1\n  real[{0}] pressed_at; "
         "/// s\n  whole[{0}] pressed_frame; /// counted from 0\n  whole[{0}] repeats; /// made since\n  real[{0}] "
         "deflection; /// of a stick, -1 to 1\n  "
         "real[{0}] stick_speed; /// with which it moves a home, in the space\n  real[{0}] stick_home; /// that home "
         "in the space\n  real[{0}] stick_gain; /// its speed at "
         "full deflection\n  real[{0}] to_come; /// of a pointer with a top speed",
         controls);
  to.add(
      "  real stick_left; /// s of the frame in which a stick still moves\n  flag[{}] in_force; /// which switches are",
      std::max<std::size_t>(1, switches));
  for (std::size_t s = 0; s < to.feel.shakes.size(); ++s)
    to.add("  Hits hits_of_{}; /// of this shake", identifier(to.feel.shakes[s].name));
  if (locks(to.feel)) to.add("  flag[{}] locked; /// nothing that it is told counts", controls);
  to.add("  flag[{}] touched; /// a pointer that has moved since the frame before", controls);
  to.add(
      "  flag[{0}] led; /// a sequence has it\n  real[{0}] led_to; /// where the sequence has it as the frame ends\n  "
      "real[{0}] led_speed; /// per second, in its unit\n  real[{0}] wall; /// how far a ray has come\n  real[{0}] "
      "room; /// how far the goal may go\n  real[{0}] wall_then; /// how far a ray has come as the frame ends\n  "
      "real[{0}] room_then; /// how far the goal may go then\n  flag[{0}] is_held; /// the goal would go further\n  "
      "real[{0}] held_at; /// where "
      "it is held\n  real[4] corner; /// shares of a frame at which a goal turns a corner\n  whole corners; /// how "
      "many\n  real last_aim; /// what bounded the goal last",
      values);
  lower_track_fields(to);
  to.add("  real wish; /// where a value should go: the last answer\n  whole owner; /// by which pose; -1 is home\n}}");
}

/// What no value of the feel ever does, so that nothing of it is written.
void lower_habits(Lowering& to) {
  const auto any_motion = [&](const auto& is) {
    return std::any_of(to.used_motions.begin(), to.used_motions.end(),
                       [&](std::size_t m) { return is(to.feel.motions[m].motion); });
  };
  const auto any_control = [&](const auto& is) {
    return std::any_of(to.feel.controls.begin(), to.feel.controls.end(), is);
  };
  const bool waits = any_motion([](const Motion& motion) {
    const Ease* ease = ease_of(motion);
    return wait_of(motion) > 0.0 || (ease != nullptr && ease->handover == Handover::finish_first);
  });
  const bool runs = has_limits(to.feel) || !to.out.given.empty()
                    || std::find(to.follows.begin(), to.follows.end(), 1) != to.follows.end()
                    || std::find(to.has_formula.begin(), to.has_formula.end(), 1) != to.has_formula.end()
                    || any_control([](const Control& control) { return facts_of(control).base_runs(); })
                    || std::any_of(to.components.begin(), to.components.end(),
                                   [&](ComponentRef one) { return keeps_way(to, one.channel); });
  const bool mirrors = any_control([](const Control& control) { return std::holds_alternative<Mirror>(control.rule); });
  const auto say = [&](const char* name, bool is) {
    to.add("flag {}() {{ return {}; }}", name, is ? "true" : "false");
  };
  say("any_links", any_motion([](const Motion& motion) { return std::holds_alternative<Chain>(motion); }));
  say("any_on_clock", has_clock(to.feel));
  say("any_led", !to.feel.sequences.empty());
  say("any_ways", std::any_of(to.feel.shakes.begin(), to.feel.shakes.end(),
                              [&](const Shake& shake) { return is_directed(to.feel, shake); }));
  say("any_waits", waits);
  say("any_runs", runs);
  say("any_mirrors", mirrors);
  bool together = false;
  for (std::size_t c = 0; c < to.feel.channels.size(); ++c) together |= goes_together(to.feel, c, by_pace);
  say("any_pace_together", together);
  say("any_groups", !to.feel.groups.empty());
}

void lower_stretch(Lowering& to) {
  const auto name = [&](std::size_t c) { return to.capitals(component_identifier(to.feel, to.components[c])); };
  const auto space = [&](std::size_t c) { return channel_of(to, to.components[c]).space; };
  const auto is = [&](std::size_t c, Space one) { return space(c).space == one; };
  to.add("/// By what a speed in its unit is multiplied in that scale.\nreal space_per_unit(whole c, real value) {{");
  for (std::size_t c = 0; c < to.components.size(); ++c) {
    const std::string radians = literal(space(c).radians_per_unit);
    if (is(c, Space::ratio)) to.add("  if (c == VALUE_{}) {{ return 1.0 / value; }}", name(c));
    if (is(c, Space::zoom)) to.add("  if (c == VALUE_{0}) {{ return {1} / sin(value * {1}); }}", name(c), radians);
  }
  to.add("  return 1.0;\n}}");
}

/// Values that more than their motion decides about.
void lower_rules_of_values(Lowering& to) {
  to.by_component(
      "flag", "is_on_clock", "True of a value that the game's slowing leaves alone.",
      [&](std::size_t c) { return channel_of(to, to.components[c]).runs_on == RunsOn::clock ? "true" : ""; }, "false");
  const auto rule = [&](std::size_t c) -> const std::optional<ObstacleRule>& {
    return channel_of(to, to.components[c]).obstacles;
  };
  to.by_component(
      "flag", "is_limited", "True of a value that obstacles hold in.",
      [&](std::size_t c) { return rule(c) ? "true" : ""; }, "false");
  to.by_component(
      "flag", "is_never_through", "And of one that is never beyond them.",
      [&](std::size_t c) { return rule(c) && rule(c)->never_through ? "true" : ""; }, "false");
  to.by_component(
      "real", "stand_off_of", "How far from an obstacle it stays.",
      [&](std::size_t c) { return rule(c) ? literal(rule(c)->stand_off) : ""; }, "0.0");
}

ScaleText scale_text(const Channel& channel, const std::string& value) {
  const std::string radians = literal(channel.space.radians_per_unit);
  switch (channel.space.space) {
  case Space::ratio: return {fmt::format("log({})", value), fmt::format("exp(choose({0} > 700.0, 700.0, {0}))", value)};
  case Space::zoom:
    return {fmt::format("zoom_of({} * {})", value, radians), fmt::format("angle_of({}) / {}", value, radians)};
  case Space::linear:
  case Space::turn: break;
  }
  return {value, value};
}

void lower_lookups(Lowering& to) {
  lower_habits(to);
  lower_rules_of_values(to);
  lower_stretch(to);
  const auto name = [&](std::size_t c) { return to.capitals(component_identifier(to.feel, to.components[c])); };
  to.by_component(
      "real", "rest_of", "Where a value rests.", [&](std::size_t c) { return "REST_" + name(c); }, "0.0");
  to.by_component(
      "real", "start_of", "Where a value begins.",
      [&](std::size_t c) {
        const ComponentRef one = to.components[c];
        return (channel_of(to, one).start[one.component] ? "START_" : "REST_") + name(c);
      },
      "0.0");
  to.by_component(
      "real", "lowest", "The ends of its range.", [&](std::size_t c) { return "LOWEST_" + name(c); }, "0.0");
  to.by_component(
      "real", "highest", "", [&](std::size_t c) { return "HIGHEST_" + name(c); }, "0.0");
  const auto space = [&](std::size_t c) { return channel_of(to, to.components[c]).space; };
  to.by_component(
      "real", "radians_of", "How many radians its unit is.",
      [&](std::size_t c) { return literal(space(c).radians_per_unit); }, "1.0");
  to.by_component(
      "real", "turn_of", "A whole turn in its unit; 0 where it is no angle that is taken the short way round.",
      [&](std::size_t c) { return space(c).space == Space::turn ? literal(space(c).units_per_turn) : ""; }, "0.0");
  const auto is = [&](std::size_t c, Space one) { return space(c).space == one; };
  for (const bool inward : {true, false}) {
    to.add("/// {}", inward ? "A value in the scale in which its motions work." : "The way back.");
    to.add("real {}(whole c, real value) {{", inward ? "in_space" : "out_of_space");
    for (std::size_t c = 0; c < to.components.size(); ++c) {
      const Channel& channel = channel_of(to, to.components[c]);
      const ScaleText scale = scale_text(channel, "value");
      const std::string& said = inward ? scale.in : scale.out;
      if (said != "value") to.add("  if (c == VALUE_{}) {{ return {}; }}", name(c), said);
    }
    to.add("  return value;\n}}");
  }
  // What an eased move may not leave, in the space.
  for (const bool low : {true, false})
    to.by_component(
        "real", low ? "low_at" : "high_at", "",
        [&](std::size_t c) -> std::string {
          const ComponentRef one = to.components[c];
          const Channel& channel = channel_of(to, one);
          const ComponentRange range = output_range(channel, one.component);
          const OpenInterval allowed = domain(channel.space);
          if (low) return range.low > allowed.low ? literal(to_space(channel.space, range.low)) : "";
          return range.high < allowed.high ? literal(to_space(channel.space, range.high)) : "";
        },
        low ? "-UNBOUNDED" : "UNBOUNDED");
  to.by_component(
      "real", "lowest_shown", "What the value is held to.",
      [&](std::size_t c) { return is(c, Space::turn) ? "-UNBOUNDED" : "LOWEST_" + name(c); }, "0.0");
  to.by_component(
      "real", "highest_shown", "",
      [&](std::size_t c) { return is(c, Space::turn) ? "UNBOUNDED" : "HIGHEST_" + name(c); }, "0.0");
}

} // namespace stasis::code
