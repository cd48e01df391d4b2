#include "core/take/stick.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace stasis {
namespace {

/// A stretch of constant acceleration in which the speed does not change its sign.
// many: a state, where it heads and how fast, for how long, between which ends
void run(StickState& state, double to_speed, double time, double over, double low, double high) noexcept {
  // After `over` of the `time` that it takes from one speed to the other.
  const double share = time > 0.0 ? over / time : 1.0;
  const double speed = state.speed + (to_speed - state.speed) * share;
  const double free = state.base + 0.5 * (state.speed + speed) * over;
  state.base = std::clamp(free, low, high);
  state.speed = free != state.base ? 0.0 : speed;
}

} // namespace

// many: a rule, a state, where it heads, for how long, between which ends
StickState stick_after(const StickSpeed& rule, StickState from, double target, double elapsed, double low,
                       double high) noexcept {
  double left = elapsed;
  const auto spin = [&](double to, double whole) {
    const double time = std::fabs(to - from.speed) / rule.full * whole;
    const double over = std::min(left, time);
    const bool done = time <= left;
    const bool stopped = from.speed != 0.0;
    run(from, to, time, over, low, high);
    if (done && !(stopped && from.speed == 0.0 && to != 0.0)) from.speed = to;
    left -= over;
  };
  const bool turns = from.speed * target < 0.0;
  if (turns || std::fabs(target) < std::fabs(from.speed)) spin(turns ? 0.0 : target, rule.spin_down);
  if (left > 0.0 && std::fabs(target) > std::fabs(from.speed)) spin(target, rule.spin_up);
  if (left > 0.0) run(from, from.speed, left, left, low, high);
  return from;
}

double response_to(double deflection, const StickResponse& response) noexcept {
  const double size = std::min(1.0, std::fabs(deflection));
  if (size <= response.dead_band) return 0.0;
  const double way = (size - response.dead_band) / (1.0 - response.dead_band - response.outer_dead_band);
  constexpr double rounding = 1e-12; // of what people type: 0.9 is where an outer band of 0.1 begins
  if (way >= 1.0 - rounding) return std::copysign(1.0, deflection);
  const double share = response.exponent == 1.0 ? way : std::pow(way, response.exponent);
  return std::copysign(std::min(1.0, share), deflection);
}

} // namespace stasis
