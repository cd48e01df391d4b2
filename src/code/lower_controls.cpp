// The controls, groups and switches of a feel.
#include <algorithm>

#include "code/lowering.hpp"
#include "core/overloaded.hpp"

namespace stasis::code {
namespace {

std::string control_name(const Lowering& to, std::size_t control) {
  return "CONTROL_" + to.capitals(identifier(to.feel.controls[control].name));
}
std::string pose_name(const Lowering& to, std::size_t pose) {
  return "POSE_" + to.capitals(identifier(to.feel.poses[pose].name));
}

/// True while a control is on, as `Controls::is_on()` has it.
std::string is_on(const Lowering& to, std::size_t k) {
  const std::string name = control_name(to, k);
  const auto by_button = [&] { return fmt::format("s.down[{}]", name); };
  const auto by_pose = [&] { return fmt::format("has_pose(s, {})", name); };
  return std::visit(
      Overloaded{
          [&](const Hold&) { return by_button(); },
          [&](const Toggle&) { return by_pose(); },
          [&](const Cycle&) { return by_pose(); },
          [&](const Mirror& one) { return fmt::format("s.flipped[{}] == {}", to.value_name(one.target), name); },
          [&](const Clicks&) { return by_button(); },
          [&](const Pointer&) { return by_button(); },
          [&](const Stick&) { return fmt::format("s.deflection[{}] != 0.0", name); },
          [&](const Starter&) { return by_button(); },
      },
      to.feel.controls[k].rule);
}

int number_of(StepKind kind) noexcept {
  switch (kind) {
  case StepKind::amount: return 0;
  case StepKind::factor: return 1;
  case StepKind::picture_scale: return 2;
  }
  return 0;
}

/// What a formula reads of a control, as `Controls::state()` has it.
std::string state_of(const Lowering& to, std::size_t k) {
  const std::string name = control_name(to, k);
  const auto on = [&] { return fmt::format("choose({}, 1.0, 0.0)", is_on(to, k)); };
  return std::visit(
      Overloaded{
          [&](const Hold&) { return on(); },
          [&](const Toggle&) { return on(); },
          [&](const Cycle&) { return fmt::format("choose({}, real(s.turn[{}]), 0.0)", is_on(to, k), name); },
          [&](const Mirror& one) {
            return fmt::format("choose(s.flipped[{}] >= 0, -1.0, 1.0)", to.value_name(one.target));
          },
          [&](const Clicks& one) {
            return fmt::format("real(rung_at({0}, {1}, {2}, s.home[{0}]))", to.value_name(one.target),
                               number_of(one.by), literal(one.step));
          },
          [&](const Pointer&) { return on(); },
          [&](const Stick&) { return fmt::format("s.deflection[{}]", name); },
          [&](const Starter&) { return on(); },
      },
      to.feel.controls[k].rule);
}

/// What poses say of values.
void lower_poses(Lowering& to) {
  to.add("/// True if a pose says where a value goes.\nflag names(whole pose, whole c) {{");
  std::string goals;
  for (std::size_t p = 0; p < to.feel.poses.size(); ++p) {
    const Pose& pose = to.feel.poses[p];
    std::string named;
    for (const PoseGoal& goal : pose.goals)
      for (std::size_t i = 0; i < to.feel.channels[goal.channel].components; ++i) {
        const ComponentGoal& value = goal.value[i];
        if (value.rule == GoalRule::none) continue;
        const ComponentRef one{goal.channel, i};
        const std::string number = fmt::format("{}_IN_{}", to.capitals(component_identifier(to.feel, one)),
                                               to.capitals(identifier(pose.name)));
        named += (named.empty() ? "" : " || ") + fmt::format("c == {}", to.value_name(one));
        goals += fmt::format("  if (pose == {} && c == {}) {{ return {}; }}\n", pose_name(to, p), to.value_name(one),
                             value.rule == GoalRule::times ? number + " * home"
                             : value.rule == GoalRule::add ? "home + " + number
                                                           : number);
      }
    if (!named.empty()) to.add("  if (pose == {}) {{ return {}; }}", pose_name(to, p), named);
  }
  to.add("  return false;\n}}\n/// Where a pose puts a value that has a home.\nreal pose_goal(whole pose, whole c, "
         "real home) {{");
  to.out.text += goals;
  to.add("  return home;\n}}\n/// True if a pose changes sides with its value.\nflag is_mirrored(whole pose) {{");
  for (std::size_t p = 0; p < to.feel.poses.size(); ++p)
    if (!to.feel.poses[p].mirrors) to.add("  if (pose == {}) {{ return false; }}", pose_name(to, p));
  to.add("  return true;\n}}");
}

void lower_groups(Lowering& to) {
  constexpr const char* policies[] = {"0", "POLICY_FIRST", "POLICY_NEITHER", "POLICY_SUM", "POLICY_RANKED"};
  const auto group_of = [&](std::size_t control) -> std::pair<std::size_t, std::size_t> {
    for (std::size_t g = 0; g < to.feel.groups.size(); ++g) {
      const auto& all = to.feel.groups[g].controls;
      const auto found = std::find(all.begin(), all.end(), control);
      if (found != all.end()) return {g, static_cast<std::size_t>(found - all.begin())};
    }
    return {to.feel.groups.size(), 0};
  };
  const std::size_t none = to.feel.groups.size();
  to.by_control(
      "whole", "group_of",
      [&](std::size_t k) { return group_of(k).first == none ? std::string() : std::to_string(group_of(k).first); },
      "-1");
  to.by_control(
      "whole", "rank_of",
      [&](std::size_t k) { return group_of(k).first == none ? "" : std::to_string(group_of(k).second); }, "0");
  to.add("whole policy_of(whole group) {{");
  for (std::size_t g = 0; g < to.feel.groups.size(); ++g)
    to.add("  if (group == {}) {{ return {}; }}", g, policies[static_cast<std::size_t>(to.feel.groups[g].policy)]);
  to.add("  return 0;\n}}");
  to.by_control(
      "real", "centre_of",
      [&](std::size_t k) {
        const auto* mirror = std::get_if<Mirror>(&to.feel.controls[k].rule);
        return mirror == nullptr ? "" : literal(mirror->centre);
      },
      "0.0");
}

/// What a control does when it goes down, `control` being free.
std::string when_pressed(Lowering& to, std::size_t k) {
  const Control& control = to.feel.controls[k];
  const std::string name = control_name(to, k);
  const auto unless_suppressed = [&](const std::string& what) {
    return control.unless ? fmt::format("if (!is_suppressed(s, control)) {{ {} }}", what) : what;
  };
  return std::visit(
      Overloaded{
          [&](const Hold& one) { return fmt::format("enter(s, control, {});", pose_name(to, one.pose)); },
          [&](const Toggle& one) {
            return unless_suppressed(
                fmt::format("if (has_pose(s, control)) {{ leave(s, control); }} else {{ enter(s, control, {}); }}",
                            pose_name(to, one.pose)));
          },
          [&](const Cycle& one) {
            std::string said = fmt::format("s.turn[control] = s.turn[control] % {} + 1; ", one.poses.size());
            for (std::size_t p = 0; p < one.poses.size(); ++p)
              said += fmt::format("if (s.turn[control] == {}) {{ {} }} ", p + 1,
                                  one.poses[p] == Cycle::home
                                      ? "leave(s, control);"
                                      : fmt::format("enter(s, control, {});", pose_name(to, one.poses[p])));
            return unless_suppressed(said);
          },
          [&](const Mirror& one) {
            const std::string value = to.value_name(one.target);
            switch (one.rule) {
            case SideRule::stored: return unless_suppressed(fmt::format("flip(s, control, {});", value));
            case SideRule::what_is_there: return unless_suppressed(fmt::format("mirror(s, control, {});", value));
            case SideRule::opposite_of_now: return unless_suppressed(fmt::format("oppose(s, control, {});", value));
            }
            return std::string();
          },
          [&](const Clicks&) { return unless_suppressed("click_by(s, control, 1, true);"); },
          [](const Pointer&) { return std::string(); },
          [](const Stick&) { return std::string(); },
          [](const Starter&) { return std::string(); },
      },
      control.rule);
}

void lower_clicks(Lowering& to) {
  to.add("/// So many clicks of a wheel.\nact click_by(changing State s, whole control, whole count, flag by_hand) {{");
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k) {
    const auto* clicks = std::get_if<Clicks>(&to.feel.controls[k].rule);
    if (clicks == nullptr) continue;
    to.add("  if (control == {}) {{ climb(s, control, {}, {}, {}, {}, {}count, by_hand, {}); }}", control_name(to, k),
           to.value_name(clicks->target), number_of(clicks->by), literal(clicks->step), literal(clicks->double_within),
           clicks->invert ? "-" : "", clicks->from_view ? "true" : "false");
  }
  to.add("}}\n/// Clicks that repeat while a key is held: those due by a time.");
  to.add("act repeat_clicks(changing State s, real time, flag on_frame) {{");
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k) {
    const auto* clicks = std::get_if<Clicks>(&to.feel.controls[k].rule);
    if (clicks == nullptr || !(clicks->repeat_every || clicks->every_frame)) continue;
    const std::string name = control_name(to, k);
    const auto repeated = [&](const std::string& at) {
      if (!clicks->repeats_double) return fmt::format("click_by(s, {}, 1, false);", name);
      return fmt::format("real now = s.input_time; s.input_time = {}; click_by(s, {}, 1, true); s.input_time = now;",
                         at, name);
    };
    to.add("  if (s.down[{0}] && !is_suppressed(s, {0})) {{", name);
    if (clicks->every_frame)
      to.add("    if (on_frame && s.frame > s.pressed_frame[{0}] + s.repeats[{0}]) {{\n      s.repeats[{0}] = s.frame "
             "- s.pressed_frame[{0}];\n      {1}\n    }}",
             name, repeated("time"));
    if (clicks->repeat_every)
      to.add(
          "    while (s.pressed_at[{0}] + real(s.repeats[{0}] + 1) * {1} <= time + 1.0e-9) {{\n      s.repeats[{0}] = "
          "s.repeats[{0}] + 1;\n      {2}\n    }}",
          name, literal(*clicks->repeat_every),
          repeated(
              fmt::format("s.pressed_at[{0}] + real(s.repeats[{0}]) * {1}", name, literal(*clicks->repeat_every))));
    to.add("  }}");
  }
  to.add("}}");
}

void lower_switches(Lowering& to) {
  to.add("/// Switches look at the values of the frame that begins.\nact look_at_switches(changing State s) {{");
  for (std::size_t k = 0; k < to.feel.switches.size(); ++k) {
    const Switch& one = to.feel.switches[k];
    const auto target = std::find(to.components.begin(), to.components.end(), one.on);
    if (target == to.components.end()) {
      to.leave("Switch {} is not in this file: it watches something that is not a value of this file.", one.name);
      continue;
    }
    const std::size_t number = to.feel.controls.size() + k;
    std::string keep;
    for (const std::size_t channel : one.keep)
      for (std::size_t i = 0; i < to.feel.channels[channel].components; ++i)
        keep += fmt::format("set_home(s, {0}, s.mover[{0}].shown); ", to.value_name({channel, i}));
    to.add("  real seen_{} = s.mover[{}].shown;", k, to.value_name(one.on));
    const auto change = [&](bool enters) {
      to.add("{}if ({}s.in_force[{}] && seen_{} {} {}) {{ s.in_force[{}] = {}; {} {} }}", enters ? "  " : "  else ",
             enters ? "!" : "", k, k, one.below == enters ? "<" : ">", literal(enters ? one.enter : one.leave), k,
             enters ? "true" : "false", keep,
             !one.pose ? ""
             : enters  ? fmt::format("enter(s, {}, {});", number, pose_name(to, *one.pose))
                       : fmt::format("leave(s, {});", number));
    };
    change(true);
    change(false);
  }
  to.add("}}");
}

void lower_pressing(Lowering& to) {
  to.add("/// A button goes down.\nopen act press(changing State s, whole control) {{\n  repeat_clicks(s, "
         "s.input_time, false);");
  if (locks(to.feel)) to.add("  if (s.locked[control]) {{ return; }}");
  to.add("  if (s.down[control] && !counts_presses(control)) {{ return; }}");
  to.add("  s.heard = true;\n  s.down[control] = true;\n  s.pressed_at[control] = s.input_time;\n  "
         "s.pressed_frame[control] = s.frame;\n  "
         "s.repeats[control] = 0;");
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k)
    if (const std::string what = when_pressed(to, k); !what.empty())
      to.add("  if (control == {}) {{ {} }}", control_name(to, k), what);
  to.add("}}\n/// It comes up.\nopen act release(changing State s, whole control) {{\n  repeat_clicks(s, s.input_time, "
         "false);\n  if (!s.down[control]) {{ return; }}\n  s.heard = true;\n  s.down[control] = false;");
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k)
    if (const auto* hold = std::get_if<Hold>(&to.feel.controls[k].rule)) {
      const std::string stays = hold->stays ? fmt::format("if (!is_suppressed(s, control)) {{ keep_pose(s, {}); }} ",
                                                          pose_name(to, hold->pose))
                                            : "";
      to.add("  if (control == {}) {{ {}leave(s, control); }}", control_name(to, k), stays);
    }
  to.add(
      "}}\n/// What is held is taken away, as when a window loses the keys.\nopen act cancel(changing State s, whole "
      "control) {{ release(s, control); }}");
  if (std::any_of(to.feel.controls.begin(), to.feel.controls.end(),
                  [](const Control& one) { return std::holds_alternative<Clicks>(one.rule); }))
    to.add("/// Clicks of a wheel: up is positive.\nopen act click(changing State s, whole control, whole count) {{\n  "
           "repeat_clicks(s, s.input_time, false);\n  {}if (!is_suppressed(s, control)) {{ click_by(s, control, count, "
           "true); "
           "}}\n}}",
           locks(to.feel) ? "if (s.locked[control]) { return; } " : "");
  if (!locks(to.feel)) return;
  to.add(
      "/// Nothing that this control is told counts from now on; what it holds is let go of.\nopen act "
      "lock_control(changing "
      "State s, whole control) {{\n  s.heard = true;\n  s.deflection[control] = 0.0;\n  s.to_come[control] = 0.0;\n  "
      "s.locked[control] = true;\n  release(s, control);\n}}\n/// It counts again.\nopen act "
      "unlock_control(changing State "
      "s, whole control) {{ s.locked[control] = false; }}");
}

} // namespace

void lower_controls_first(Lowering& to) {
  lower_poses(to);
  lower_groups(to);
  to.by_control(
      "flag", "counts_presses",
      [&](std::size_t k) {
        return facts_of(to.feel.controls[k]).held_by == HeldBy::presses ? std::string("true") : std::string();
      },
      "false");
  to.add("/// True while a control has a pose in force.\nflag has_pose(State s, whole control) {{\n  for k = 0 below "
         "s.contenders {{\n    if (s.contender[k] == "
         "control) {{ return true; }}\n  }}\n  return false;\n}}");
  to.add("/// True while another control takes this one's effect away.\nflag is_suppressed(State s, whole control) {{");
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k) {
    const auto& unless = to.feel.controls[k].unless;
    if (!unless) continue;
    to.add("  if (control == {}) {{ return {}; }}", control_name(to, k), is_on(to, *unless));
  }
  to.add("  return false;\n}}");
}

void lower_states_of_controls(Lowering& to) {
  to.add("/// What a control is at: 1 where it is on, the rung of a wheel, the deflection of a stick.");
  to.add("real state_of(State s, whole control) {{");
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k)
    to.add("  if (control == {}) {{ return {}; }}", control_name(to, k), state_of(to, k));
  to.add("  return 0.0;\n}}");
}

void lower_controls(Lowering& to) {
  to.add("act unlock_all(changing State s) {{");
  if (locks(to.feel))
    to.add("  for control = 0 below {} {{ s.locked[control] = false; }}",
           std::max<std::size_t>(1, to.feel.controls.size()));
  to.add("}}");
  lower_clicks(to);
  lower_switches(to);
  if (!to.feel.controls.empty()) {
    lower_pressing(to);
  }
}

} // namespace stasis::code
