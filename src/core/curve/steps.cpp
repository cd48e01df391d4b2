#include "core/curve/steps.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

CurvePoint evaluate(const Steps& curve, double time, Side side) noexcept {
  // At the time of a jump, k / count, the product may fall short of k by a rounding.
  constexpr double rounding = 1e-12; // of the whole time
  double place = std::clamp(time, 0.0, 1.0) * curve.count;
  if (std::fabs(place - std::round(place)) < rounding * curve.count) place = std::round(place);
  double step = std::floor(place);
  if (curve.jump == StepJump::start || curve.jump == StepJump::both) step += 1.0;
  if (side == Side::before && place == std::floor(place)) step -= 1.0;
  const int jumps = curve.count + (curve.jump == StepJump::both ? 1 : 0) - (curve.jump == StepJump::none ? 1 : 0);
  return {std::clamp(step, 0.0, static_cast<double>(jumps)) / jumps, 0.0, 0.0, 0.0};
}

} // namespace stasis
