#include "core/check/ill_motion.hpp"

#include <cmath>

#include "core/motion/spring_design.hpp"
#include "core/units.hpp"

namespace stasis {
std::optional<double> unlikely_time(const Motion& motion) {
  constexpr double quickest = 0.005, slowest = 60.0; // s
  const auto time = facts_of(motion).typical_time;
  return time && (*time < quickest || *time > slowest) ? time : std::nullopt;
}

bool swings_forever(const Motion& motion) {
  const auto* spring = std::get_if<Spring>(&motion);
  return spring != nullptr && spring->damping_ratio == 0.0;
}

std::optional<double> other_end(const Motion& motion) {
  const Ease* const ease = ease_of(motion);
  if (ease == nullptr) return std::nullopt;
  const double end = evaluate(ease->curve, 1.0).value;
  return std::fabs(end - 1.0) > 1e-9 ? std::optional(end) : std::nullopt;
}

bool is_known_not_to_end(const Motion& motion) {
  return swings_forever(motion) || other_end(motion) || unlikely_time(motion);
}

} // namespace stasis
