// What of a feel is a function of time alone: motions from rest, and the waves of shakes. For programs that keep
// nothing from frame to frame, such as shaders.
#include <cmath>

#include "code/lowering.hpp"
#include "code/parts.hpp"
#include "core/overloaded.hpp"
#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis::code {
namespace {

/// What a motion is at any time, in one expression.
void share_of_time(Lowering& to, const std::string& name, std::string_view from, const std::string& expression) {
  to.add("/// How far {} has gone after t seconds{}: 0 where it begins, 1 at its goal.\nopen real {}(real t) {{ return "
         "{}; "
         "}}",
         name, from, name, expression);
}

void lower_ease_of_time(Lowering& to, const std::string& name, const Ease& ease) {
  lower_curve(to, name, ease.curve);
  const int legs = ease.repeat * (ease.there_and_back ? 2 : 1);
  const double last = evaluate(ease.curve, 1.0).value;
  to.add("/// How far {} has gone after t seconds: 0 where it begins, 1 at its goal. It takes {} s.", name,
         literal(ease.delay + ease.duration * legs));
  to.add("open real {}(real t) {{\n  real since = (t - {}) / {};\n  if (since < 0.0) {{ return 0.0; }}", name,
         literal(ease.delay), literal(ease.duration));
  if (ease.there_and_back) {
    to.add("  if (since >= {}) {{ return 0.0; }}\n  whole leg = whole(since);\n  real gone = curve_of_{}(since - "
           "real(leg));\n  return choose(leg % 2 == 1, 1.0 - gone, gone);\n}}",
           literal(legs), name);
    return;
  }
  to.add("  if (since >= {}) {{ return {}; }}\n  return curve_of_{}(since - floor(since));\n}}", literal(legs),
         literal(last), name);
}

/// The function of one motion; why there is none, as the end of a sentence, where there is none.
std::string lower_motion_of_time(Lowering& to, const std::string& name, const Motion& motion) {
  return std::visit(
      Overloaded{
          [](const Cut&) -> std::string { return "it has no motion"; },
          [&](const Glide& one) -> std::string {
            share_of_time(to, name, "", fmt::format("glide_after(t, {})", literal(one.rate)));
            return {};
          },
          [&](const Spring& one) -> std::string {
            share_of_time(
                to, name, ", from rest",
                fmt::format("spring_after(t, {}, {})", literal(one.angular_frequency), literal(one.damping_ratio)));
            return {};
          },
          [&](const Ease& one) -> std::string {
            lower_ease_of_time(to, name, one);
            return {};
          },
          [&](const Pace& one) -> std::string {
            to.add("/// How far {} has gone of a way after t seconds, from rest.\nopen real {}(real t, real way) {{ "
                   "return pace_after(t, way, {}, {}); }}",
                   name, name, literal(one.speed), literal(one.acceleration));
            return {};
          },
          [](const Chain&) -> std::string { return "it is made of stages"; },
          [](const PerFrame&) -> std::string { return "it goes by frames"; },
          [](const Led&) -> std::string { return "a sequence leads it"; },
      },
      motion);
}

} // namespace

Lowered lower_stateless(const Feel& feel) {
  Lowering to(feel);
  to.add("/// radians of a whole turn\nconstant real TURN = {};", literal(whole_turn));
  lower_common_records(to);
  to.out.text += numbers_part();
  to.out.text += curves_part();
  to.out.text += stateless_part();
  to.add("flag any_ways() {{ return false; }}"); // no hit is kept here
  to.out.text += shakes_part();
  for (std::size_t m = 0; m < feel.motions.size(); ++m)
    if (const std::string why = lower_motion_of_time(to, to.motion_names[m], feel.motions[m].motion); !why.empty())
      to.leave("Motion {} is not in this file: {}.", feel.motions[m].name, why);
  for (std::size_t s = 0; s < feel.shakes.size(); ++s)
    if (const std::string why = lower_shake_of_time(to, s); !why.empty())
      to.leave("Shake {} is not in this file: {}.", feel.shakes[s].name, why);
  return std::move(to.out);
}

} // namespace stasis::code
