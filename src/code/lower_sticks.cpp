// Sticks and pointers.
#include <algorithm>
#include <numbers>

#include "code/lowering.hpp"

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
  to.add("  run_stick(s, {0}, {1}, choose(is_suppressed(s, {0}), 0.0, {2}), s.stick_gain[{0}]{3}, {4}, {5}, dt);", name,
         to.value_name(stick.target),
         fmt::format("{}response_to(s.deflection[{}], {}, {}, {})", stick.invert ? "-" : "", name,
                     literal(stick.response.dead_band), literal(stick.response.outer_dead_band),
                     literal(stick.response.exponent)),
         by_doublings ? " * " + literal(std::numbers::ln2) : std::string(), literal(stick.spin_up),
         literal(stick.spin_down));
}

constexpr const char* stick_part = R"(
/// What a deflection asks for, from -1 to 1.
real response_to(real deflection, real dead, real outer, real exponent) {
  real size = min(1.0, abs(deflection));
  if (size <= dead) { return 0.0; }
  real way = (size - dead) / (1.0 - dead - outer);
  if (way >= 1.0 - 1.0e-12) { return with_sign_of(1.0, deflection); }
  return with_sign_of(min(1.0, pow(way, exponent)), deflection);
}
act place_by_stick(changing State s, whole c, real share) {
  if (share == 0.0) {
    set_home(s, c, rest_of(c));
  } else if (abs(share) == 1.0) {
    set_home(s, c, choose(share < 0.0, lowest(c), highest(c)));
  } else {
    real rest = in_space(c, rest_of(c));
    real end_of_range = in_space(c, choose(share < 0.0, lowest(c), highest(c)));
    set_home(s, c, out_of_space(c, rest + (end_of_range - rest) * abs(share)));
  }
}
/// A home that a stick moves goes on while its speed runs from one to another over `whole_time`; at an end it stops.
act run_home(changing State s, whole control, whole c, real to_speed, real whole_time, real over_time) {
  real share = 1.0;
  if (whole_time > 0.0) { share = over_time / whole_time; }
  real before = s.stick_speed[control];
  real speed = before + (to_speed - before) * share;
  real free = s.stick_home[control] + 0.5 * (before + speed) * over_time;
  s.stick_home[control] = held(free, low_at(c), high_at(c));
  s.stick_speed[control] = speed;
  if (free != s.stick_home[control]) { s.stick_speed[control] = 0.0; }
}
/// Its speed goes over to another, as long as s.stick_left of the frame is there.
act spin(changing State s, whole control, whole c, real target, real full, real whole_spin) {
  real before = s.stick_speed[control];
  real time = abs(target - before) / full * whole_spin;
  real over_time = min(s.stick_left, time);
  flag done = time <= s.stick_left;
  run_home(s, control, c, target, time, over_time);
  flag stopped = before != 0.0 && s.stick_speed[control] == 0.0 && target != 0.0;
  if (done && !stopped) { s.stick_speed[control] = target; }
  s.stick_left = s.stick_left - over_time;
}
act run_stick(changing State s, whole control, whole c, real share, real full, real spin_up, real spin_down, real dt) {
  real target = full * share;
  if (target == 0.0 && s.stick_speed[control] == 0.0) { return; }
  s.stick_home[control] = in_space(c, s.home[c]);
  s.stick_left = dt;
  flag turns = s.stick_speed[control] * target < 0.0;
  if (turns || abs(target) < abs(s.stick_speed[control])) {
    spin(s, control, c, choose(turns, 0.0, target), full, spin_down);
  }
  if (s.stick_left > 0.0 && abs(target) > abs(s.stick_speed[control])) {
    spin(s, control, c, target, full, spin_up);
  }
  if (s.stick_left > 0.0) {
    real speed = s.stick_speed[control];
    run_home(s, control, c, speed, s.stick_left, s.stick_left);
  }
  s.next_home[c] = held(out_of_space(c, s.stick_home[control]), lowest(c), highest(c));
  s.runs_home[c] = true;
}
/// A pointer with a top speed gives what its counts have asked for bit by bit.
act run_pointer(changing State s, whole control, whole c, real top_speed, real dt) {
  if (s.to_come[control] == 0.0) { return; }
  real way = held(s.to_come[control], -top_speed * dt, top_speed * dt);
  s.to_come[control] = s.to_come[control] - way;
  s.next_home[c] = held(s.home[c] + way, lowest(c), highest(c));
  s.runs_home[c] = true;
}
)";

} // namespace

void lower_sticks(Lowering& to) {
  to.out.text += stick_part;
  to.add("/// Sticks and pointers move the homes of values while the frame lasts.\nact run_sticks(changing State s, "
         "real dt) {{");
  for (const Control& control : to.feel.controls) {
    if (const auto* stick = std::get_if<Stick>(&control.rule); stick != nullptr && !stick->absolute)
      run_stick(to, control, *stick);
    if (const auto* pointer = std::get_if<Pointer>(&control.rule); pointer != nullptr && pointer->top_speed)
      to.add("  run_pointer(s, {}, {}, {}, dt);", name_of_control(to, control), to.value_name(pointer->target),
             literal(*pointer->top_speed));
  }
  to.add("}}\n/// The speeds of sticks, which may be read off other values.\nact read_gains(changing State s) {{");
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
  if (any_stick) {
    to.add("/// A stick is at a deflection, -1 to 1.\nopen act stick(changing State s, whole control, real deflection) "
           "{{\n  "
           "s.deflection[control] = held(deflection, -1.0, 1.0);");
    for (const Control& control : to.feel.controls)
      if (const auto* one = std::get_if<Stick>(&control.rule); one != nullptr && one->absolute)
        to.add("  if (control == {}) {{ {} }}", name_of_control(to, control), placing(to, *one));
    to.add("}}");
  }
  if (!any_pointer) return;
  to.add("/// A pointer has moved by so many counts.\nopen act pointer(changing State s, whole control, real counts) "
         "{{\n  if "
         "(is_suppressed(s, control)) {{ return; }}");
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
