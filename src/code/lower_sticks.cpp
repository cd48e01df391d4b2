// Sticks and pointers.
#include <algorithm>
#include <numbers>

#include "code/lowering.hpp"
#include "code/parts.hpp"

namespace stasis::code {
namespace {

std::string name_of_control(const Lowering& to, const Control& control) {
  return "CONTROL_" + to.capitals(identifier(control.name));
}

std::string share_of(const Stick& stick) {
  return fmt::format("{}response_to(s.deflection[control], {}, {}, {})", stick.invert ? "-" : "",
                     literal(stick.response.dead_band), literal(stick.response.outer_dead_band),
                     literal(stick.response.exponent));
}

/// A stick whose deflection is a place.
std::string placing(const Lowering& to, const Stick& stick) {
  return fmt::format("place_by_stick(s, {}, {});", to.value_name(stick.target), share_of(stick));
}

/// A stick whose deflection is a speed, over one frame.
void run_stick(Lowering& to, const Control& control, const Stick& stick) {
  const std::string name = name_of_control(to, control);
  const bool by_doublings = is_logarithmic(to.feel.channels[stick.target.channel].space.space);
  to.add("  run_stick(s, {0}, {1}, choose(is_suppressed(s, {0}), 0.0, {2}), s.stick_gain[{0}]{3}, {4}, {5}, {6});",
         name, to.value_name(stick.target),
         fmt::format("{}response_to(s.deflection[{}], {}, {}, {})", stick.invert ? "-" : "", name,
                     literal(stick.response.dead_band), literal(stick.response.outer_dead_band),
                     literal(stick.response.exponent)),
         by_doublings ? " * " + literal(std::numbers::ln2) : std::string(), literal(stick.spin_up),
         literal(stick.spin_down), step_by(stick.runs_on));
}

} // namespace

void lower_sticks(Lowering& to) {
  to.out.text += sticks_part();
  to.add("/// Sticks and pointers move the homes of values while the frame lasts.\nact run_sticks(changing State s, "
         "real dt) {{");
  for (const Control& control : to.feel.controls) {
    if (const auto* stick = std::get_if<Stick>(&control.rule); stick != nullptr && !stick->absolute)
      run_stick(to, control, *stick);
    if (const auto* pointer = std::get_if<Pointer>(&control.rule); pointer != nullptr && pointer->top_speed)
      to.add("  run_pointer(s, {}, {}, {}, {});", name_of_control(to, control), to.value_name(pointer->target),
             literal(*pointer->top_speed), step_by(pointer->runs_on));
  }
  to.add("}}\n/// The speeds of sticks, which may be read from other values.\nact read_gains(changing State s) {{");
  bool any_stick = false, any_pointer = false;
  for (const Control& control : to.feel.controls) {
    any_pointer = any_pointer || std::holds_alternative<Pointer>(control.rule);
    const auto* stick = std::get_if<Stick>(&control.rule);
    any_stick = any_stick || stick != nullptr;
    if (stick == nullptr || stick->absolute) continue;
    to.add("  s.stick_gain[{}] = {};", name_of_control(to, control),
           stick->gain_from ? fmt::format("max(1.0e-9, s.mover[{}].shown)", to.value_name(*stick->gain_from))
                            : literal(stick->gain));
  }
  to.add("}}");
  const char* const unless_locked = locks(to.feel) ? "if (s.locked[control]) { return; } " : "";
  if (any_stick) {
    to.add("/// A stick is at a deflection, -1 to 1.\nopen act stick(changing State s, whole control, real deflection) "
           "{{\n  {}s.heard = true;\n  s.deflection[control] = held(deflection, -1.0, 1.0);",
           unless_locked);
    for (const Control& control : to.feel.controls)
      if (const auto* one = std::get_if<Stick>(&control.rule); one != nullptr && one->absolute)
        to.add("  if (control == {}) {{ {} }}", name_of_control(to, control), placing(to, *one));
    to.add("}}");
  }
  if (!any_pointer) return;
  to.add("/// A pointer has moved by so many counts.\nopen act pointer(changing State s, whole control, real counts) "
         "{{\n  "
         "s.touched[control] = true;\n  {}if (is_suppressed(s, control)) {{ return; }}",
         unless_locked);
  for (const Control& control : to.feel.controls) {
    const auto* one = std::get_if<Pointer>(&control.rule);
    if (one == nullptr) continue;
    const std::string value = to.value_name(one->target);
    const std::string amount = fmt::format("{}{} * counts{}", one->invert ? "-" : "", literal(one->gain),
                                           one->times_frame_time ? " * s.last_step" : "");
    to.add("  if (control == {}) {{ {} }}", name_of_control(to, control),
           one->top_speed
               ? fmt::format("s.to_come[control] = held(s.home[{0}] + s.to_come[control] + {1}, lowest({0}), "
                             "highest({0})) - s.home[{0}];",
                             value, amount)
               : fmt::format("set_home(s, {0}, s.home[{0}] + {1});", value, amount));
  }
  to.add("}}");
}

} // namespace stasis::code
