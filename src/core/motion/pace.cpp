#include "core/motion/pace.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/components.hpp"

namespace stasis {
PaceLeg PaceLeg::plan(double gap, double velocity, const PaceLimits& limits) noexcept {
  PaceLeg leg;
  leg.gap = gap;
  leg.start_velocity = velocity;
  if (gap == 0.0 && velocity == 0.0) return leg;
  const double A = limits.acceleration;
  // Where braking at once would end, seen from the goal, decides the way that is pushed first; mirrored to "up".
  const double ahead = gap - velocity * std::fabs(velocity) / (2.0 * A);
  const double way = ahead < 0.0 || (ahead == 0.0 && gap < 0.0) ? -1.0 : 1.0;
  leg.unavoidable = velocity * gap > 0.0 && way * gap < 0.0;
  const double d = way * gap, v = way * velocity, V = way > 0.0 ? limits.up : limits.down;
  const double peak = std::sqrt(std::max(0.0, A * d + 0.5 * v * v));
  if (v > V) {
    const double cruise = std::max(0.0, d - (v * v - V * V) / (2.0 * A) - V * V / (2.0 * A)) / V;
    leg.phases = {{{(v - V) / A, -way * A}, {cruise, 0.0}, {V / A, -way * A}}};
  } else if (peak <= V) {
    leg.phases = {{{std::max(0.0, peak - v) / A, way * A}, {0.0, 0.0}, {peak / A, -way * A}}};
  } else {
    const double cruise = std::max(0.0, d - (V * V - v * v) / (2.0 * A) - V * V / (2.0 * A)) / V;
    leg.phases = {{{(V - v) / A, way * A}, {cruise, 0.0}, {V / A, -way * A}}};
  }
  for (const PacePhase& phase : leg.phases) leg.total += phase.duration;
  return leg;
}

Instant evaluate(const PaceLeg& leg, double t, Side side) noexcept {
  if (t > leg.total || (t == leg.total && side == Side::at) || leg.total == 0.0) return {leg.gap, 0.0, 0.0, 0.0};
  // The last phase is written from its end, so that arrival is exact.
  const PacePhase& braking = leg.phases[2];
  const double left = leg.total - t;
  if (left < braking.duration || (left == braking.duration && side == Side::at))
    return {leg.gap + 0.5 * braking.acceleration * left * left, -braking.acceleration * left, braking.acceleration,
            0.0};
  double position = 0.0, velocity = leg.start_velocity, since = t;
  const PacePhase& first = leg.phases[0];
  const bool in_first = side == Side::at ? t < first.duration : t <= first.duration;
  if (!in_first) {
    position = first.duration * (velocity + 0.5 * first.acceleration * first.duration);
    velocity += first.acceleration * first.duration;
    since -= first.duration;
  }
  const double a = in_first ? first.acceleration : 0.0;
  return {position + since * (velocity + 0.5 * a * since), velocity + a * since, a, 0.0};
}

PacePlan plan_pace(const Pace& pace, const Components& gap, const Components& velocity) noexcept {
  PacePlan plan;
  const auto limits = [&](double share) {
    return PaceLimits{pace.speed * share, pace.speed * share, pace.acceleration * share};
  };
  const double distance = length_of(gap), speed = length_of(velocity);
  if (distance == 0.0 && speed == 0.0) return plan;
  plan.along_axis = distance > 0.0 ? scaled(gap, 1.0 / distance) : scaled(velocity, 1.0 / speed);
  const double forward = dot(velocity, plan.along_axis);
  Components sideways = velocity;
  for (std::size_t i = 0; i < sideways.size(); ++i) sideways[i] -= forward * plan.along_axis[i];
  const double drift = length_of(sideways);
  constexpr double rounding = 1e-14;
  if (drift <= rounding * speed) {
    plan.along = PaceLeg::plan(distance, forward, limits(1.0));
    return plan;
  }
  plan.across_axis = scaled(sideways, 1.0 / drift);
  // The larger the share across, the sooner that leg ends and the later the other: halve until both end together.
  double low = 0.0, high = 0.5 * std::numbers::pi;
  for (int halving = 0; halving < 100; ++halving) {
    const double angle = 0.5 * (low + high);
    plan.along = PaceLeg::plan(distance, forward, limits(std::cos(angle)));
    plan.across = PaceLeg::plan(0.0, drift, limits(std::sin(angle)));
    (plan.across.total > plan.along.total ? low : high) = angle;
  }
  return plan;
}

} // namespace stasis
