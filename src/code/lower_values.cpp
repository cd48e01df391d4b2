// The values of a feel: their numbers, what is kept of them, where poses put them, and what happens on each frame.
#include <algorithm>
#include <cmath>

#include "code/lowering.hpp"
#include "core/feel/goal_source.hpp"
#include "core/text.hpp"

namespace stasis::code {
namespace {

const Channel& channel_of(const Lowering& to, ComponentRef one) { return to.feel.channels[one.channel]; }

/// A component's unit for a comment.
std::string unit_of(const Channel& channel) { return channel.unit.empty() ? "" : printable(channel.unit, 20); }

void lower_value_constants(Lowering& to) {
  to.heading("Values: their number, where they rest, how far they may go.");
  for (std::size_t k = 0; k < to.components.size(); ++k) {
    const ComponentRef one = to.components[k];
    const Channel& channel = channel_of(to, one);
    const std::string name = to.capitals(component_identifier(to.feel, one));
    const std::string unit = unit_of(channel);
    to.add("constant whole VALUE_{} = {};", name, k);
    const auto number = [&](const char* what, double value) {
      if (!unit.empty()) to.add("/// {}", unit);
      to.add("constant real {}_{} = {};", what, name, literal(value));
    };
    number("REST", channel.rest[one.component]);
    if (channel.start[one.component]) number("START", starting_base(channel, one.component));
    number("LOWEST", channel.range[one.component].low);
    number("HIGHEST", channel.range[one.component].high);
  }
  to.add("constant whole VALUES = {};", to.components.size());
}

} // namespace

void lower_constants(Lowering& to) {
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
        const std::string unit = unit_of(to.feel.channels[goal.channel]);
        const std::string words = value.rule == GoalRule::times ? "times home"
                                  : value.rule == GoalRule::add ? unit + " from home"
                                                                : unit;
        if (!words.empty()) to.add("/// {}", words);
        to.add("constant real {}_IN_{} = {};", to.capitals(component_identifier(to.feel, {goal.channel, i})), name,
               literal(value.amount));
      }
  }
  lower_motion_constants(to);
  to.heading("Controls.");
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k)
    to.add("constant whole CONTROL_{} = {};", to.capitals(identifier(to.feel.controls[k].name)), k);
  constexpr const char* policies[] = {"FIRST", "NEITHER", "SUM", "RANKED"};
  for (std::size_t k = 0; k < 4; ++k) to.add("constant whole POLICY_{} = {};", policies[k], k + 1);
}

void lower_records(Lowering& to) {
  const std::size_t values = to.components.size(), controls = std::max<std::size_t>(1, to.feel.controls.size());
  const std::size_t switches = to.feel.switches.size(), most = std::max<std::size_t>(1, controls + switches);
  to.out.text += R"(
/// One value on its way.
record Mover {
  real value; /// where it is, in its space
  real speed; /// per second, in its space
  whole motion; /// which is in force
  whole owner; /// the pose that has set its goal; -1 is home
  whole side_owner; /// the pose that had set it before
  real asked; /// what was wished of it last
  real goal; /// where it is heading
  real goal_at; /// the same in its space
  real acting; /// the goal that has come through a delay
  real acting_at; /// the same in its space
  real shown; /// the value in its unit, without shakes
  real from_at; /// where the goal is as the frame begins, in its space; acting_at is where it is as the frame ends
  real goal_speed; /// of a goal that runs, per second, in its space
  flag goal_moves; /// it does
  flag moved; /// it has, on the frame before
  real wish; /// of it as the frame begins
  real step_dt; /// s of the step that the next four are of
  whole step_motion; /// and its motion
  real coast; /// s of the old speed that are travelled
  real toward; /// share of the gap that is closed from rest
  real kept; /// what is left of it
  real momentum; /// share of the old speed that stays
  flag begins; /// a move begins on this frame
  flag once; /// it goes one way, once
  flag runs; /// an eased move or a pace has begun
  real elapsed; /// s since then
  real total; /// s that it takes
  real origin; /// where it began
  real target; /// where it was sent
  flag made_once; /// one way, whatever its motion says
  real share; /// of the motion's duration
  flag at_once; /// it does not wait
  flag plain; /// an even start in place of its curve
  real mix; /// how much of an even start takes the curve's place
  real push; /// what is added so that the speed goes on
  real push_width; /// over which part of the move that fades
  whole leg; /// which of its ways
  real within; /// the share of that way's time
  flag homeward; /// of there and back: on its way back
  real setting_off; /// the value with which it set off
  real[2] gap; /// of a pace, along and across: how far it goes
  real[2] leg_speed; /// with which speed it begins
  real[2] way_total; /// s that it takes
  real[2] axis; /// this value's share in it
  real[6] phase_time; /// s of speeding up, cruising, braking
  real[6] phase_push; /// how much its speed changes in each, per second
  real acting_before; /// what it worked toward before that
  real line_from; /// where the goal is as the frame begins
  whole line_points; /// of a goal that runs behind a delay: how many points its way has
  real[512] line_time; /// s at each
  real[512] line_goal; /// where it was, in the space
  real[6] link; /// of glides and springs in a row: each one's value
  real[6] link_speed; /// and speed
  whole waiting; /// jumps that wait
  real[16] wait; /// s for which each still does
  real[16] wait_goal; /// their goals
  real[16] wait_goal_at; /// the same in the space
  flag[16] wait_once; /// one way, once
}
/// Hits of a shake that are still felt.
record Hits {
  whole count; /// how many
  real[16] time; /// s at which each came
  whole[16] frame; /// the frame at which it came
  real[16] strength; /// 1 is a full hit
}
)";
  to.add("/// Everything that changes.\nrecord State {{");
  to.add("  real time; /// s\n  real time_rest; /// what rounding has kept out of it\n  whole frame; /// counted from "
         "0\n  real last_step; /// s: the frame before");
  to.add("  real input_time; /// s: when the next input happens; put an earlier time here if you know it");
  to.add("  Mover[{0}] mover; /// each value\n  real[{0}] home; /// where each is at home\n  real[{0}] next_home; /// "
         "where it will be as the frame ends\n  flag[{0}] runs_home; /// it goes there evenly\n  whole[{0}] flipped; "
         "/// the "
         "control that has put it on its other side; -1: none",
         values);
  to.add("  flag[{}] down; /// of each control", controls);
  to.add("  whole contenders; /// poses in force\n  whole[{0}] contender; /// their controls, the last one last\n  "
         "whole[{0}] contender_pose; /// the poses",
         most);
  to.add("  whole[{0}] turn; /// of a cycle: which pose it is at\n  flag[{0}] has_click; /// a click that may become a "
         "double one\n  real[{0}] last_click; /// s\n  whole[{0}] last_way; /// up 1, down -1\n  real[{0}] pressed_at; "
         "/// s\n  whole[{0}] pressed_frame; /// counted from 0\n  whole[{0}] repeats; /// made since\n  real[{0}] "
         "deflection; /// of a stick, -1 to 1\n  "
         "real[{0}] stick_speed; /// with which it moves a home, in the space\n  real[{0}] stick_home; /// that home "
         "in the space\n  real[{0}] stick_gain; /// its speed at "
         "full deflection\n  real[{0}] to_come; /// of a pointer with a top speed",
         controls);
  to.add("  real stick_left; /// s of the frame in which a stick still moves\n  flag[{}] in_force; /// of each switch",
         std::max<std::size_t>(1, switches));
  for (std::size_t s = 0; s < to.feel.shakes.size(); ++s)
    to.add("  Hits hits_of_{}; /// of this shake", identifier(to.feel.shakes[s].name));
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
  const bool runs = !to.out.given.empty()
                    || std::find(to.has_formula.begin(), to.has_formula.end(), 1) != to.has_formula.end()
                    || any_control([](const Control& control) { return facts_of(control).base_runs(); });
  const bool mirrors = any_control([](const Control& control) { return std::holds_alternative<Mirror>(control.rule); });
  const auto say = [&](const char* name, bool is) {
    to.add("flag {}() {{ return {}; }}", name, is ? "true" : "false");
  };
  say("any_waits", waits);
  say("any_runs", runs);
  say("any_mirrors", mirrors);
  say("any_groups", !to.feel.groups.empty());
}

void lower_lookups(Lowering& to) {
  lower_habits(to);
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
  // Where a value is in the scale in which its motions work, and back.
  for (const bool inward : {true, false}) {
    to.add("/// {}", inward ? "A value in the scale in which its motions work." : "The way back.");
    to.add("real {}(whole c, real value) {{", inward ? "in_space" : "out_of_space");
    for (std::size_t c = 0; c < to.components.size(); ++c) {
      const std::string radians = literal(space(c).radians_per_unit);
      std::string said;
      if (is(c, Space::ratio)) said = inward ? "log(value)" : "exp(held(value, -700.0, 700.0))";
      if (is(c, Space::zoom))
        said = inward ? fmt::format("zoom_of(value * {})", radians) : fmt::format("angle_of(value) / {}", radians);
      if (!said.empty()) to.add("  if (c == VALUE_{}) {{ return {}; }}", name(c), said);
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

namespace {

/// The motion of a value by the pose that owns it, the one before, and whether it goes down.
void lower_choices(Lowering& to) {
  to.add("/// The motion of a value, by the pose that sends it (-1: home), the one before, and its direction.");
  to.add("whole motion_for(whole c, whole owner, whole before, flag falls) {{");
  const auto chosen = [&](const MotionChoice& one) {
    const auto name = [&](std::size_t m) { return "MOTION_" + to.capitals(to.motion_names[m]); };
    return one.rising == one.falling ? name(one.rising)
                                     : fmt::format("choose(falls, {}, {})", name(one.falling), name(one.rising));
  };
  for (const ComponentRef one : to.components) {
    std::string body;
    for (const Pose& pose : to.feel.poses)
      for (const PoseGoal& goal : pose.goals) {
        if (goal.channel != one.channel) continue;
        const std::string named = "POSE_" + to.capitals(identifier(pose.name));
        if (goal.entering)
          body += fmt::format("if (owner == {}) {{ return {}; }} ", named, chosen((*goal.entering)[one.component]));
        if (goal.leaving)
          body += fmt::format("if (owner < 0 && before == {}) {{ return {}; }} ", named,
                              chosen((*goal.leaving)[one.component]));
      }
    to.add("  if (c == {}) {{ {}return {}; }}", to.value_name(one), body,
           chosen(channel_of(to, one).motion[one.component]));
  }
  to.add("  return 0;\n}}");
}

bool is_shaken(const Lowering& to, ComponentRef component) {
  return std::any_of(to.out.shakes.begin(), to.out.shakes.end(), [&](std::size_t s) {
    const auto& targets = to.feel.shakes[s].targets;
    return std::any_of(targets.begin(), targets.end(),
                       [&](const ShakeTarget& target) { return target.component == component; });
  });
}

void lower_getters(Lowering& to) {
  for (std::size_t c = 0; c < to.components.size(); ++c) {
    const std::string name = component_identifier(to.feel, to.components[c]);
    const std::string unit = unit_of(channel_of(to, to.components[c]));
    to.add("/// {} now{}.", component_name(channel_of(to, to.components[c]), to.components[c].component),
           unit.empty() ? "" : ", " + unit);
    to.add("open real value_of_{0}(State s) {{ return s.mover[VALUE_{1}].shown{2}; }}", name, to.capitals(name),
           is_shaken(to, to.components[c]) ? fmt::format(" + shaken(s, VALUE_{})", to.capitals(name)) : "");
    to.add("/// Where it is heading.");
    to.add("open real goal_of_{}(State s) {{ return s.mover[VALUE_{}].goal; }}", name, to.capitals(name));
  }
}

/// The values of a channel, by name.
template<class Say> void each_value(Lowering& to, std::size_t channel, const Say& say) {
  for (std::size_t i = 0; i < to.feel.channels[channel].components; ++i)
    say(to.value_name({channel, i}), to.feel.channels[channel].formula[i].has_value());
}

void lower_begin(Lowering& to) {
  to.out.text += R"(
/// Everything at rest, at its start. Call it once before anything else.
open act begin(changing State s) {
  s.time = 0.0;
  s.time_rest = 0.0;
  s.input_time = 0.0;
  s.frame = 0;
  s.last_step = 0.0;
  s.contenders = 0;
  for c = 0 below VALUES {
    s.home[c] = start_of(c);
    s.flipped[c] = -1;
    s.runs_home[c] = false;
    s.mover[c].owner = -1;
    s.mover[c].side_owner = -1;
    s.mover[c].motion = motion_for(c, -1, -1, false);
    rest_at(s, c, held(start_of(c), lowest(c), highest(c)));
  }
  clear(s);
)";
  for (const std::size_t channel : channel_order(to.feel))
    if (to.has_formula[channel] != 0)
      each_value(to, channel, [&](const std::string& value, bool has_formula) {
        if (has_formula)
          to.add("  s.home[{0}] = number_or(home_by_formula(s, {0}, 0.0), s.home[{0}]);\n  rest_at(s, {0}, "
                 "held(s.home[{0}], "
                 "lowest({0}), highest({0})));",
                 value);
      });
  to.add("}}");
}

bool by_amount(const Motion& motion) {
  const auto* rule = std::get_if<PerFrame>(&motion);
  return rule != nullptr && std::holds_alternative<AmountRule>(rule->rule);
}
bool by_pace(const Motion& motion) { return pace_of(motion) != nullptr; }

/// True if a channel of several components may move by such a motion, which takes them together.
bool goes_together(const Lowering& to, std::size_t channel, bool (*is)(const Motion&)) {
  if (to.feel.channels[channel].components == 1) return false;
  const std::vector<std::size_t> motions = motions_of(to.feel, channel);
  return std::any_of(motions.begin(), motions.end(), [&](std::size_t m) { return is(to.feel.motions[m].motion); });
}

void set_off(Lowering& to, std::size_t channel) {
  if (goes_together(to, channel, by_pace))
    to.add("  set_off_together(s, {}, {});", to.value_name({channel, 0}), to.feel.channels[channel].components);
  else
    each_value(to, channel, [&](const std::string& value, bool) { to.add("  set_off_if_begun(s, {});", value); });
}

void lower_advance(Lowering& to) {
  to.out.text += R"(
/// What is wished of a value as the frame begins.
act read_goal(changing State s, whole c) {
  while (any_waits() && s.mover[c].waiting > 0 && s.mover[c].wait[0] <= 1.0e-9) { take_first(s.mover[c], c); }
  look_at_turn(s.mover[c], c);
  decide(s, c);
  real wish = s.wish;
  whole owner = s.owner;
  s.mover[c].wish = wish;
  take_wish(s.mover[c], c, wish, owner);
}
act set_off_if_begun(changing State s, whole c) {
  if (s.mover[c].begins) { set_off(s.mover[c], c); }
}
/// The home of a value runs to where it is as the frame ends.
act run_home_on(changing State s, whole c, real dt) {
  if (any_runs() && (s.runs_home[c] || keeps_way(c))) {
    if (!s.runs_home[c]) { s.next_home[c] = s.home[c]; }
    s.mover[c].line_from = s.mover[c].goal_at;
    s.mover[c].acting_before = s.mover[c].acting_at;
    s.home[c] = s.next_home[c];
    s.runs_home[c] = false;
    decide(s, c);
    real wish_then = s.wish;
    real wish = s.mover[c].wish;
    run_to(s.mover[c], c, wish_then, wish, dt);
  }
}
/// A value goes on to the next frame.
act move_on(changing State s, whole c, real dt) {
  run_home_on(s, c, dt);
  if (keeps_way(c)) {
    real time = s.time;
    go_by_line(s.mover[c], time, dt);
    finish(s.mover[c], c, dt);
    return;
  }
  go_on(s.mover[c], c, dt);
}
/// True if the values of a channel share one motion.
flag share_motion(State s, whole first, whole count) {
  for c = first + 1 below first + count {
    if (s.mover[c].motion != s.mover[first].motion) { return false; }
  }
  return true;
}
/// The values of a channel that share one pace set off together, straight to their goals: one way along the gap, one
/// across it that takes out the speed sideways, both ending at once.
act set_off_together(changing State s, whole first, whole count) {
  flag any = false;
  for c = first below first + count { any = any || s.mover[c].begins; }
  if (!any) { return; }
  real top_speed = pace_speed(s.mover[first]);
  if (top_speed <= 0.0 || !share_motion(s, first, count)) {
    for c = first below first + count { set_off_if_begun(s, c); }
    return;
  }
  real acceleration = pace_acceleration(s.mover[first]);
  real distance = 0.0;
  real speed = 0.0;
  for c = first below first + count {
    s.mover[c].acting = s.mover[c].goal;
    s.mover[c].acting_at = s.mover[c].goal_at;
    real goal = s.mover[c].goal_at;
    set_out(s.mover[c], goal);
    real gap = goal - s.mover[c].value;
    distance = distance + gap * gap;
    speed = speed + finite(s.mover[c].speed) * finite(s.mover[c].speed);
  }
  distance = sqrt(distance);
  speed = sqrt(speed);
  real forward = 0.0;
  real drift = 0.0;
  for c = first below first + count {
    s.mover[c].axis[0] = 0.0;
    s.mover[c].axis[1] = 0.0;
    if (distance > 0.0) {
      s.mover[c].axis[0] = (s.mover[c].goal_at - s.mover[c].value) / distance;
    } else if (speed > 0.0) {
      s.mover[c].axis[0] = finite(s.mover[c].speed) / speed;
    }
    forward = forward + s.mover[c].axis[0] * finite(s.mover[c].speed);
  }
  for c = first below first + count {
    real sideways = finite(s.mover[c].speed) - forward * s.mover[c].axis[0];
    s.mover[c].axis[1] = sideways;
    drift = drift + sideways * sideways;
  }
  drift = sqrt(drift);
  flag straight = drift <= 1.0e-14 * speed || acceleration == UNBOUNDED;
  real low = 0.0;
  real high = 1.5707963267948966;
  if (straight) { high = 0.0; }
  for c = first below first + count {
    if (straight || drift == 0.0) { s.mover[c].axis[1] = 0.0; } else { s.mover[c].axis[1] = s.mover[c].axis[1] / drift; }
    plan_way(s.mover[c], 0, distance, forward, top_speed, top_speed, acceleration);
    plan_way(s.mover[c], 1, 0.0, 0.0, top_speed, top_speed, acceleration);
  }
  /// The larger the share across, the sooner that way ends and the later the other.
  if (!straight) {
    for n = 0 below 100 {
      real angle = 0.5 * (low + high);
      real part = cos(angle);
      real other = sin(angle);
      for c = first below first + count {
        plan_way(s.mover[c], 0, distance, forward, top_speed * part, top_speed * part, acceleration * part);
        plan_way(s.mover[c], 1, 0.0, drift, top_speed * other, top_speed * other, acceleration * other);
      }
      if (s.mover[first].way_total[1] > s.mover[first].way_total[0]) { low = angle; } else { high = angle; }
    }
  }
  for c = first below first + count {
    s.mover[c].total = max(s.mover[c].way_total[0], s.mover[c].way_total[1]);
  }
}
/// The values of a channel that share a rule of so much a frame go straight to their goals together.
act move_together(changing State s, whole first, whole count, real dt) {
  real amount = amount_of(s.mover[first]);
  if (amount <= 0.0 || !share_motion(s, first, count) || dt <= 0.0) {
    for c = first below first + count { move_on(s, c, dt); }
    return;
  }
  real way = 0.0;
  for c = first below first + count {
    run_home_on(s, c, dt);
    real gap = s.mover[c].acting_at - s.mover[c].value;
    way = way + gap * gap;
  }
  way = sqrt(way);
  for c = first below first + count {
    real before = s.mover[c].value;
    real gap = s.mover[c].acting_at - before;
    if (way <= amount) { s.mover[c].value = s.mover[c].acting_at; } else { s.mover[c].value = before + gap * (amount / way); }
    s.mover[c].speed = (s.mover[c].value - before) / dt;
    finish(s.mover[c], c, dt);
  }
}
/// Goes on to the next frame, `dt` seconds later. What was pressed since the last call acts from this frame on.
open act advance(changing State s, real dt) {
  repeat_clicks(s, s.time, true);
  look_at_switches(s);
  read_gains(s);
)";
  const std::vector<std::size_t> order = channel_order(to.feel);
  for (const std::size_t channel : order) {
    each_value(to, channel, [&](const std::string& value, bool has_formula) {
      if (has_formula && to.has_formula[channel] != 0)
        to.add("  s.home[{0}] = number_or(home_by_formula(s, {0}, s.time), s.home[{0}]);", value);
      to.add("  read_goal(s, {});", value);
    });
    set_off(to, channel);
  }
  to.add("  run_sticks(s, dt);\n  real time_then = s.time + dt;");
  for (const std::size_t channel : order) {
    each_value(to, channel, [&](const std::string& value, bool has_formula) {
      if (has_formula && to.has_formula[channel] != 0)
        to.add("  s.next_home[{0}] = number_or(home_by_formula(s, {0}, time_then), s.home[{0}]);\n  s.runs_home[{0}] = "
               "true;",
               value);
      if (!goes_together(to, channel, by_amount)) to.add("  move_on(s, {}, dt);", value);
    });
    if (goes_together(to, channel, by_amount))
      to.add("  move_together(s, {}, {}, dt);", to.value_name({channel, 0}), to.feel.channels[channel].components);
  }
  to.out.text += R"(
  real step_of_time = dt - s.time_rest;
  real time = s.time + step_of_time;
  s.time_rest = (time - s.time) - step_of_time;
  s.time = time;
  s.input_time = time;
  s.last_step = dt;
  s.frame = s.frame + 1;
}
)";
}

/// Which values' goals run behind a delay, and how long that is at most.
void lower_waits(Lowering& to) {
  double longest = 0.0;
  to.add("/// True if a value's goal may run by itself behind a delay, so that its way is kept.\nflag keeps_way(whole "
         "c) {{");
  for (const ComponentRef one : to.components) {
    double wait = 0.0;
    for (const std::size_t m : motions_of(to.feel, one.channel))
      wait = std::max(wait, wait_of(to.feel.motions[m].motion));
    longest = std::max(longest, wait);
    if (wait > 0.0 && may_run(to.feel, one.channel)) to.add("  if (c == {}) {{ return true; }}", to.value_name(one));
  }
  to.add("  return false;\n}}\nreal longest_wait() {{ return {}; }}", literal(longest));
}

} // namespace

void lower_frame(Lowering& to) {
  lower_choices(to);
  lower_waits(to);
  to.out.text += R"(
act choose_motion(changing Mover m, whole c, whole owner) {
  real gap = m.goal_at - m.value;
  whole chosen = motion_for(c, owner, m.owner, gap < 0.0);
  if (gap == 0.0 && m.motion == motion_for(c, owner, m.owner, true)) { chosen = m.motion; }
  m.side_owner = m.owner;
  m.owner = owner;
  if (chosen != m.motion) {
    m.motion = chosen;
    take_over(m);
  }
}
/// The goal stays, but another pose asks for it: its motion is in force from now on.
act take_owner(changing Mover m, whole c, whole owner) {
  if (owner == m.owner) { return; }
  whole before = m.motion;
  choose_motion(m, c, owner);
  if (m.motion == before || rests(m)) { return; }
  m.setting_off = m.shown;
  m.begins = true;
  m.once = owner == -1;
}
/// What is wished of a value on this frame.
act take_wish(changing Mover m, whole c, real wish, whole owner) {
  m.begins = false;
  real asked = held(wish, lowest(c), highest(c));
  real slack = 0.0;
  if (any_runs() && m.moved) { slack = 1.0e-12 * max(1.0, abs(asked)); }
  m.moved = false;
  if (abs(asked - m.asked) <= slack) {
    take_owner(m, c, owner);
    return;
  }
  m.asked = asked;
  real before = m.goal_at;
  flag was_under_way = is_under_way(m);
  m.goal = asked;
  if (turn_of(c) > 0.0) { m.goal = short_way(m.value, asked, turn_of(c)); }
  m.goal_at = in_space(c, m.goal);
  flag stays = m.goal_at == before && rests(m);
  m.setting_off = m.shown;
  choose_motion(m, c, owner);
  m.begins = !stays || was_under_way;
  if (!m.begins) {
    m.acting = m.goal;
    m.acting_at = m.goal_at;
  }
  m.once = owner == -1;
}
/// A move begins now, or once it has waited.
act set_off(changing Mover m, whole c) {
  real wait = wait_of(m);
  if (keeps_way(c) && wait > 0.0) { return; }
  if (finishes_first(m)) {
    m.waiting = 0;
    if (m.goal_at == m.acting_at) { return; }
    if (m.runs) { wait = max(wait, m.total - m.elapsed); }
  }
  if (!any_waits() || wait <= 1.0e-9) {
    take_up(m, c, m.goal, m.goal_at, m.once);
    return;
  }
  if (m.waiting == 16) { return; }
  m.wait[m.waiting] = wait;
  m.wait_goal[m.waiting] = m.goal;
  m.wait_goal_at[m.waiting] = m.goal_at;
  m.wait_once[m.waiting] = m.once;
  m.waiting = m.waiting + 1;
}
/// The first jump that waits is taken up.
act take_first(changing Mover m, whole c) {
  real goal = m.wait_goal[0];
  real goal_at = m.wait_goal_at[0];
  flag once = m.wait_once[0];
  m.waiting = m.waiting - 1;
  for k = 0 below m.waiting {
    m.wait[k] = m.wait[k + 1];
    m.wait_goal[k] = m.wait_goal[k + 1];
    m.wait_goal_at[k] = m.wait_goal_at[k + 1];
    m.wait_once[k] = m.wait_once[k + 1];
  }
  take_up(m, c, goal, goal_at, once);
}
/// A move there and back that has turned heads for where it began.
act look_at_turn(changing Mover m, whole c) {
  if (!m.runs || !goes_there_and_back(m) || m.made_once) { return; }
  real elapsed = m.elapsed;
  m.elapsed = elapsed + 1.0e-9;
  place(m);
  m.elapsed = elapsed;
  flag homeward = m.leg % 2 == 1 || m.elapsed >= m.total - 1.0e-9;
  if (m.leg < 0) { homeward = false; }
  if (homeward == m.homeward) { return; }
  m.homeward = homeward;
  if (!homeward) {
    m.goal_at = m.acting_at;
    m.goal = m.acting;
    return;
  }
  m.goal_at = m.origin;
  m.goal = out_of_space(c, m.origin);
  if (m.origin == in_space(c, m.setting_off)) { m.goal = m.setting_off; }
}
act wait_less(changing Mover m, real dt) {
  if (!any_waits()) { return; }
  for k = 0 below m.waiting { m.wait[k] = m.wait[k] - dt; }
}
/// The goal runs evenly to where it is wished as the frame ends.
act run_to(changing Mover m, whole c, real wish, real start_wish, real dt) {
  if ((wish == start_wish && !keeps_way(c)) || dt <= 0.0) { return; }
  real asked = held(wish, lowest(c), highest(c));
  real before = m.goal;
  m.moved = true;
  m.asked = asked;
  if (turn_of(c) > 0.0) { asked = short_way(before, asked, turn_of(c)); }
  if (abs(asked - before) <= 1.0e-14 * max(abs(before), max(abs(wish), abs(start_wish)))) { return; }
  m.from_at = m.goal_at;
  m.goal = asked;
  m.goal_at = in_space(c, asked);
  m.acting = m.goal;
  m.acting_at = m.goal_at;
  m.goal_speed = (m.goal_at - m.from_at) / dt;
  m.goal_moves = m.goal_at != m.from_at;
}
/// Rising or falling by the side on which a goal that runs is.
act choose_side(changing Mover m, whole c, real gap) {
  if (gap == 0.0) { return; }
  whole chosen = motion_for(c, m.owner, m.side_owner, gap < 0.0);
  if (chosen != m.motion) {
    m.motion = chosen;
    take_over(m);
  }
}
/// One frame behind a goal that runs, cut where it passes from one side of the value to the other.
act go_behind(changing Mover m, whole c, real dt) {
  real gap = m.from_at - m.value;
  if (gap == 0.0) { gap = m.goal_speed; }
  choose_side(m, c, gap);
  whole falling = motion_for(c, m.owner, m.side_owner, true);
  if (falling == motion_for(c, m.owner, m.side_owner, false) || m.from_at == m.value) {
    step(m, dt);
    return;
  }
  real value = m.value;
  real speed = m.speed;
  real stop = m.acting_at;
  step(m, dt);
  if (gap * (stop - m.value) >= 0.0 || goes_by_frames(m)) { return; }
  real low = 0.0;
  real high = dt;
  for n = 0 below 70 {
    real middle = 0.5 * (low + high);
    m.value = value;
    m.speed = speed;
    m.acting_at = m.from_at + m.goal_speed * middle;
    step(m, middle);
    if ((m.acting_at - m.value) * gap > 0.0) { low = middle; } else { high = middle; }
  }
  m.value = value;
  m.speed = speed;
  m.acting_at = m.from_at + m.goal_speed * high;
  step(m, high);
  choose_side(m, c, -gap);
  m.from_at = m.acting_at;
  m.acting_at = stop;
  step(m, dt - high);
}
/// The frame is over: what is shown of a value.
act finish(changing Mover m, whole c, real dt) {
  m.goal_moves = false;
  m.goal_speed = 0.0;
  real shown = out_of_space(c, m.value);
  if (m.value == m.goal_at) { shown = m.goal; }
  if (m.value == m.acting_at) { shown = m.acting; }
  m.shown = held(shown, lowest_shown(c), highest_shown(c));
}
/// A point on the way of a goal that is kept for a delay; of a goal that stands the last one is enough.
act add_to_line(changing Mover m, real time, real goal) {
  whole n = m.line_points;
  if (n > 1) {
    flag stood = m.line_goal[n - 2] == m.line_goal[n - 1] && m.line_goal[n - 1] == goal;
    if (stood && m.line_time[n - 1] - m.line_time[n - 2] > 1.0e-12) {
      m.line_time[n - 1] = time;
      return;
    }
    if (time - m.line_time[n - 1] <= 1.0e-12 && m.line_goal[n - 1] == goal) { return; }
  }
  whole first = choose(n == 512, 1, 0);
  if (first == 1) {
    for k = 1 below 512 {
      m.line_time[k - 1] = m.line_time[k];
      m.line_goal[k - 1] = m.line_goal[k];
    }
    n = 511;
  }
  m.line_time[n] = time;
  m.line_goal[n] = goal;
  m.line_points = n + 1;
}
/// Forgets what lies before a time, but for the point that holds there.
act forget_line(changing Mover m, real time) {
  whole gone = 0;
  while (m.line_points - gone > 2 && m.line_time[gone + 1] <= time - 1.0e-12) { gone = gone + 1; }
  if (gone == 0) { return; }
  for k = gone below m.line_points {
    m.line_time[k - gone] = m.line_time[k];
    m.line_goal[k - gone] = m.line_goal[k];
  }
  m.line_points = m.line_points - gone;
}
real on_line(Mover m, whole k, real time) {
  if (k + 1 >= m.line_points || time <= m.line_time[k]) { return m.line_goal[k]; }
  real length = m.line_time[k + 1] - m.line_time[k];
  if (length <= 0.0) { return m.line_goal[k]; }
  return m.line_goal[k] + (m.line_goal[k + 1] - m.line_goal[k]) * ((time - m.line_time[k]) / length);
}
/// A piece of the way, straight from one goal to another.
act step_on_line(changing Mover m, real start, real stop, real length) {
  m.from_at = start;
  m.acting_at = stop;
  m.goal_moves = stop != start;
  m.goal_speed = (stop - start) / length;
  step(m, length);
}
/// The motion works on what the goal did so long ago as it waits.
act go_by_line(changing Mover m, real time, real dt) {
  if (dt <= 0.0) { return; }
  if (m.line_points == 0) { add_to_line(m, time, m.acting_before); }
  add_to_line(m, time, m.line_from);
  add_to_line(m, time + dt, m.goal_at);
  forget_line(m, time - longest_wait());
  real start = time - wait_of(m);
  real stop = start + dt;
  whole k = 0;
  while (k + 1 < m.line_points && m.line_time[k + 1] <= start + 1.0e-12) { k = k + 1; }
  real at = start;
  real goal = on_line(m, k, at);
  flag over = false;
  if (m.line_time[0] - start > 1.0e-12) {
    real stood = min(m.line_time[0], stop);
    step_on_line(m, goal, goal, stood - start);
    over = stop - m.line_time[0] <= 1.0e-12;
    at = m.line_time[0];
  }
  while (!over && k + 1 < m.line_points && m.line_time[k + 1] < stop - 1.0e-12) {
    if (m.line_time[k + 1] - at > 1.0e-12) {
      real next = m.line_goal[k + 1];
      real length = m.line_time[k + 1] - at;
      step_on_line(m, goal, next, length);
      at = m.line_time[k + 1];
    }
    goal = m.line_goal[k + 1];
    k = k + 1;
  }
  if (!over) {
    real last = on_line(m, k, stop);
    if (stop > m.line_time[m.line_points - 1]) { last = m.line_goal[m.line_points - 1]; }
    step_on_line(m, goal, last, stop - at);
  }
  m.acting = m.goal;
  m.acting_at = m.goal_at;
}

/// A value goes on for `dt` seconds; jumps that come through a delay meanwhile act where they come.
act go_on(changing Mover m, whole c, real dt) {
  real left = dt;
  while (any_waits() && m.waiting > 0 && m.wait[0] < left - 1.0e-9) {
    real part = m.wait[0];
    if (part > 0.0) {
      m.from_at = m.acting_at;
      step(m, part);
      left = left - part;
      wait_less(m, part);
    }
    take_first(m, c);
  }
  if (any_runs() && m.goal_moves) { go_behind(m, c, left); } else {
    m.from_at = m.acting_at;
    step(m, left);
  }
  wait_less(m, left);
  finish(m, c, left);
}
/// A value at rest somewhere.
act rest_at(changing State s, whole c, real value) {
  s.mover[c].asked = value;
  s.mover[c].goal = value;
  s.mover[c].acting = value;
  s.mover[c].shown = value;
  s.mover[c].goal_at = in_space(c, value);
  s.mover[c].acting_at = s.mover[c].goal_at;
  s.mover[c].from_at = s.mover[c].goal_at;
  s.mover[c].value = s.mover[c].goal_at;
  s.mover[c].speed = 0.0;
  s.mover[c].goal_speed = 0.0;
  s.mover[c].goal_moves = false;
  s.mover[c].moved = false;
  s.mover[c].runs = false;
  s.mover[c].step_dt = -1.0;
  s.mover[c].elapsed = 0.0;
  s.mover[c].total = 0.0;
  s.mover[c].waiting = 0;
  s.mover[c].line_points = 0;
  s.mover[c].homeward = false;
  for k = 0 below 6 {
    s.mover[c].link[k] = s.mover[c].value;
    s.mover[c].link_speed[k] = 0.0;
  }
}
/// A new home for a value, in its unit, from the coming frame on: a jump.
open act goal(changing State s, whole c, real value) { set_home(s, c, value); }
)";
  lower_begin(to);
  lower_advance(to);
  if (!to.out.given.empty())
    to.out.text += R"(
/// A value's home as the coming frame ends: it runs there evenly. Call it before advance(), on each frame on which it
/// moves.
open act follow(changing State s, whole c, real value) {
  s.next_home[c] = value;
  s.runs_home[c] = true;
}
/// Puts a value somewhere, at rest and at home there: before the first frame, or at a cut.
open act place_at(changing State s, whole c, real value) {
  rest_at(s, c, held(value, lowest(c), highest(c)));
  set_home(s, c, value);
}
)";
  lower_getters(to);
}

} // namespace stasis::code
