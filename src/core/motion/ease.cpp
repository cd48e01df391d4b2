#include "core/motion/ease.hpp"

namespace stasis {
namespace {

Instant on_curve(const Ease& ease, double from, double elapsed, double goal, double goal_velocity) noexcept {
  const CurvePoint point = evaluate(ease.curve, elapsed / ease.duration);
  const double gap = goal - from, D = ease.duration;
  if (gap == 0.0 && goal_velocity == 0.0) return {goal, 0.0, 0.0, 0.0};
  return {from + gap * point.value, gap * point.slope / D + goal_velocity * point.value,
          gap * point.bend / (D * D) + 2.0 * goal_velocity * point.slope / D,
          gap * point.twist / (D * D * D) + 3.0 * goal_velocity * point.bend / (D * D)};
}

} // namespace

Instant evaluate(const Ease& ease, double from, double elapsed, double goal, double goal_velocity) noexcept {
  if (elapsed >= ease.duration) return {goal, goal_velocity, 0.0, 0.0};
  return on_curve(ease, from, elapsed, goal, goal_velocity);
}

Instant evaluate_before(const Ease& ease, double from, double elapsed, double goal, double goal_velocity) noexcept {
  if (elapsed > ease.duration) return {goal, goal_velocity, 0.0, 0.0};
  return on_curve(ease, from, elapsed, goal, goal_velocity);
}

} // namespace stasis
