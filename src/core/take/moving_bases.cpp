// Bases that sticks and pointers move between cues: the part of Controls that runs.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/take/controls.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

/// Speed at full deflection, in the channel's space.
double full_speed(const Channel& channel, const Stick& stick) noexcept {
  return is_logarithmic(channel.space.space) ? stick.gain * std::numbers::ln2 : stick.gain;
}

} // namespace

double Controls::asked_speed(std::size_t control) const noexcept {
  const auto& stick = std::get<Stick>(feel_.controls[control].rule);
  if (stick.absolute || is_suppressed(control)) return 0.0;
  const double share = beyond_dead_band(each_[control].deflection, stick.dead_band);
  return full_speed(feel_.channels[stick.target.channel], stick) * (stick.invert ? -share : share);
}

void Controls::deflect(std::size_t control, double deflection) {
  each_[control].deflection = std::clamp(deflection, -1.0, 1.0);
  const auto& stick = std::get<Stick>(feel_.controls[control].rule);
  if (!stick.absolute) return;
  const double share = beyond_dead_band(each_[control].deflection, stick.dead_band) * (stick.invert ? -1.0 : 1.0);
  const Channel& channel = feel_.channels[stick.target.channel];
  const std::size_t i = stick.target.component;
  const double rest = to_space(channel.space, channel.rest[i]);
  const double end = to_space(channel.space, share < 0.0 ? channel.range[i].low : channel.range[i].high);
  const double place =
      share == 0.0 ? channel.rest[i] : from_space(channel.space, rest + (end - rest) * std::fabs(share));
  set_base(stick.target,
           std::fabs(share) == 1.0 ? (share < 0.0 ? channel.range[i].low : channel.range[i].high) : place);
}

/// Where a running base sets off: as before, unless something else has moved it, or it heads elsewhere now.
Controls::Each::Anchor Controls::anchor_of(std::size_t control) const noexcept {
  const Each& each = each_[control];
  const ControlRule& rule = feel_.controls[control].rule;
  const double asked = std::holds_alternative<Stick>(rule) ? asked_speed(control) : 0.0;
  const double base = base_[index_of(*target_of(feel_.controls[control]))];
  if (each.anchor.reached == base && each.anchor.asked == asked) return each.anchor;
  return {each.looked_at, base, each.speed, each.remaining, asked, base};
}

StickState Controls::stick_state(std::size_t control, double time) const noexcept {
  const auto& stick = std::get<Stick>(feel_.controls[control].rule);
  const Channel& channel = feel_.channels[stick.target.channel];
  const ComponentRange range = channel.range[stick.target.component];
  const OpenInterval allowed = domain(channel.space);
  const double low = range.low > allowed.low ? to_space(channel.space, range.low) : -unbounded;
  const double high = range.high < allowed.high ? to_space(channel.space, range.high) : unbounded;
  const Each::Anchor from = anchor_of(control);
  return stick_after({full_speed(channel, stick), stick.spin_up, stick.spin_down},
                     {to_space(channel.space, from.base), from.speed}, from.asked, std::max(0.0, time - from.at), low,
                     high);
}

/// A pointer with a top speed: what its counts have asked for and not been given yet.
double Controls::pointer_way(std::size_t control, double time) const noexcept {
  const auto& pointer = std::get<Pointer>(feel_.controls[control].rule);
  const Each::Anchor from = anchor_of(control);
  const double way = *pointer.top_speed * std::max(0.0, time - from.at);
  return std::clamp(from.remaining, -way, way);
}

void Controls::count_pointer(std::size_t control, double counts) {
  const auto& rule = std::get<Pointer>(feel_.controls[control].rule);
  const double factor = rule.times_frame_time ? last_dt_ : 1.0;
  const double amount = rule.gain * (rule.invert ? -counts : counts) * factor;
  const double now = base_[index_of(rule.target)];
  if (!rule.top_speed) return set_base(rule.target, now + amount);
  const auto [low, high] = feel_.channels[rule.target.channel].range[rule.target.component];
  each_[control].anchor = {}; // from here on, another way
  each_[control].remaining = std::clamp(now + each_[control].remaining + amount, low, high) - now;
}

bool Controls::runs(std::size_t control) const noexcept {
  const ControlRule& rule = feel_.controls[control].rule;
  if (std::holds_alternative<Pointer>(rule)) return each_[control].remaining != 0.0;
  return std::holds_alternative<Stick>(rule) && (each_[control].speed != 0.0 || asked_speed(control) != 0.0);
}

std::optional<std::size_t> Controls::moving_base(ComponentRef target) const noexcept {
  for (std::size_t c = 0; c < each_.size(); ++c)
    if (runs(c) && *target_of(feel_.controls[c]) == target) return c;
  return std::nullopt;
}

double Controls::base_at(std::size_t control, double time) const noexcept {
  const ComponentRef target = *target_of(feel_.controls[control]);
  const Channel& channel = feel_.channels[target.channel];
  const ComponentRange range = channel.range[target.component];
  const double base = std::holds_alternative<Pointer>(feel_.controls[control].rule)
                          ? anchor_of(control).base + pointer_way(control, time)
                          : from_space(channel.space, stick_state(control, time).base);
  return std::clamp(base, range.low, range.high);
}

void Controls::run_bases(double time) {
  for (std::size_t c = 0; c < each_.size(); ++c) {
    Each& each = each_[c];
    if (runs(c)) {
      const double base = base_at(c, time);
      Each::Anchor anchor = anchor_of(c);
      if (std::holds_alternative<Pointer>(feel_.controls[c].rule))
        each.remaining = anchor.remaining - pointer_way(c, time);
      else
        each.speed = stick_state(c, time).speed;
      base_[index_of(*target_of(feel_.controls[c]))] = anchor.reached = base;
      each.anchor = anchor;
    } else {
      each.anchor = {};
    }
    each.looked_at = time;
  }
}

} // namespace stasis
