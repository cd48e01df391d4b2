// Bases that sticks and pointers move between cues: the part of Controls that runs.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/overloaded.hpp"
#include "core/take/controls.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

/// What `answer` says of a rule whose base runs by itself, else `otherwise`. A kind that says it runs (ControlFacts)
/// and is not answered for does not compile.
template<class Result, class Answer> Result of_running(const Control& control, Result otherwise, Answer&& answer) {
  return std::visit(
      [&](const auto& rule) -> Result {
        if constexpr (std::decay_t<decltype(rule)>::facts.base_runs())
          return answer(rule);
        else
          return otherwise;
      },
      control.rule);
}

} // namespace

/// Speed at full deflection, in the channel's space.
double Controls::full_speed(const Stick& stick, std::size_t control) const noexcept {
  const bool by_doublings = is_logarithmic(feel_.channels[stick.target.channel].space.space);
  const double gain = stick.gain_from ? each_[control].gain : stick.gain;
  return by_doublings ? gain * std::numbers::ln2 : gain;
}

void Controls::read_gains() {
  constexpr double least = 1e-9; // a value at or below 0 moves nothing
  for (std::size_t c = 0; c < each_.size(); ++c)
    if (const auto* stick = std::get_if<Stick>(&feel_.controls[c].rule); stick != nullptr && stick->gain_from)
      each_[c].gain = std::max(least, present_(*stick->gain_from));
}

double Controls::asked_speed(const Stick& stick, std::size_t control) const noexcept {
  if (stick.absolute || is_suppressed(control)) return 0.0;
  const double share = response_to(each_[control].deflection, stick.response);
  return full_speed(stick, control) * (stick.invert ? -share : share);
}

void Controls::deflect(std::size_t control, double deflection) {
  each_[control].deflection = std::clamp(deflection, -1.0, 1.0);
  const auto& stick = std::get<Stick>(feel_.controls[control].rule);
  if (!stick.absolute) return;
  const double share = response_to(each_[control].deflection, stick.response) * (stick.invert ? -1.0 : 1.0);
  const Channel& channel = feel_.channels[stick.target.channel];
  const std::size_t i = stick.target.component;
  const double rest = to_space(channel.space, channel.rest[i]);
  const auto [low, high] = goal_range(channel, i);
  const double outmost = share < 0.0 ? low : high, end = to_space(channel.space, outmost);
  const double place =
      share == 0.0 ? channel.rest[i] : from_space(channel.space, rest + (end - rest) * std::fabs(share));
  set_base(stick.target, std::fabs(share) == 1.0 ? outmost : place);
}

/// Where a running base sets off: as before, unless something else has moved it, or it heads elsewhere now.
Controls::Each::Anchor Controls::anchor_of(std::size_t control) const noexcept {
  const Each& each = each_[control];
  const double asked = of_running(
      feel_.controls[control], 0.0,
      Overloaded{[&](const Stick& stick) { return asked_speed(stick, control); }, [](const Pointer&) { return 0.0; }});
  const double base = base_[index_of(*target_of(feel_.controls[control]))];
  if (each.anchor.reached == base && each.anchor.asked == asked) return each.anchor;
  return {each.looked_at, base, each.speed, each.remaining, asked, base};
}

StickState Controls::stick_state(const Stick& stick, std::size_t control, double time) const noexcept {
  const Channel& channel = feel_.channels[stick.target.channel];
  const ComponentRange range = goal_range(channel, stick.target.component);
  const double low = to_space(channel.space, range.low), high = to_space(channel.space, range.high);
  const Each::Anchor from = anchor_of(control);
  return stick_after({full_speed(stick, control), stick.spin_up, stick.spin_down},
                     {to_space(channel.space, from.base), from.speed}, from.asked, std::max(0.0, time - from.at), low,
                     high);
}

/// A pointer with a top speed: what its counts have asked for and not been given yet.
double Controls::pointer_way(const Pointer& pointer, std::size_t control, double time) const noexcept {
  const Each::Anchor from = anchor_of(control);
  const double way = *pointer.top_speed * std::max(0.0, time - from.at);
  return std::clamp(from.remaining, -way, way);
}

void Controls::count_pointer(std::size_t control, double counts) {
  const auto& rule = std::get<Pointer>(feel_.controls[control].rule);
  const double factor = rule.times_frame_time ? last_dt_ : 1.0;
  const double amount = rule.gain * (rule.invert ? -counts : counts) * factor;
  const double now = base_[index_of(rule.target)];
  each_[control].counted = each_[control].counted || counts != 0.0;
  if (!rule.top_speed) return set_base(rule.target, now + amount);
  const auto [low, high] = goal_range(feel_.channels[rule.target.channel], rule.target.component);
  each_[control].anchor = {}; // from here on, another way
  each_[control].remaining = std::clamp(now + each_[control].remaining + amount, low, high) - now;
}

bool Controls::is_pushed(std::size_t control) const noexcept {
  return of_running(feel_.controls[control], false,
                    Overloaded{[&](const Pointer&) { return each_[control].counted; },
                               [&](const Stick& stick) { return asked_speed(stick, control) != 0.0; }});
}

void Controls::forget_counts() noexcept {
  for (Each& each : each_) each.counted = false;
}

bool Controls::runs(std::size_t control) const noexcept {
  const Each& each = each_[control];
  return of_running(
      feel_.controls[control], false,
      Overloaded{[&](const Pointer&) { return each.remaining != 0.0; },
                 [&](const Stick& stick) { return each.speed != 0.0 || asked_speed(stick, control) != 0.0; }});
}

std::optional<std::size_t> Controls::moving_base(ComponentRef target) const noexcept {
  for (std::size_t c = 0; c < each_.size(); ++c)
    if (runs(c) && *target_of(feel_.controls[c]) == target) return c;
  return std::nullopt;
}

/// The time by which a control moves its base, at a frame.
double Controls::time_of(std::size_t control, std::int64_t frame) const noexcept {
  return clock_.time(frame, runs_on_of(control));
}

RunsOn Controls::runs_on_of(std::size_t control) const noexcept {
  return of_running(feel_.controls[control], RunsOn::game, [](const auto& rule) { return rule.runs_on; });
}

double Controls::base_at(std::size_t control, std::int64_t frame) const noexcept {
  const double time = time_of(control, frame);
  const ComponentRef target = *target_of(feel_.controls[control]);
  const Channel& channel = feel_.channels[target.channel];
  const ComponentRange range = goal_range(channel, target.component);
  const double base = of_running(
      feel_.controls[control], base_[index_of(target)],
      Overloaded{
          [&](const Pointer& pointer) { return anchor_of(control).base + pointer_way(pointer, control, time); },
          [&](const Stick& stick) { return from_space(channel.space, stick_state(stick, control, time).base); }});
  return std::clamp(base, range.low, range.high);
}

void Controls::run_bases(std::int64_t frame) {
  for (std::size_t c = 0; c < each_.size(); ++c) {
    Each& each = each_[c];
    const double time = time_of(c, frame);
    if (runs(c)) {
      const double base = base_at(c, frame);
      Each::Anchor anchor = anchor_of(c);
      of_running(feel_.controls[c], 0.0,
                 Overloaded{[&](const Pointer& pointer) {
                              return each.remaining = anchor.remaining - pointer_way(pointer, c, time);
                            },
                            [&](const Stick& stick) { return each.speed = stick_state(stick, c, time).speed; }});
      base_[index_of(*target_of(feel_.controls[c]))] = anchor.reached = base;
      each.anchor = anchor;
    } else {
      each.anchor = {};
    }
    each.looked_at = time;
  }
}

} // namespace stasis
