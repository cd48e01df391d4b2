#include "core/motion/spring_design.hpp"

#include <cmath>
#include <limits>
#include <numbers>

#include "core/motion/spring.hpp"
#include "core/root.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

/// A peak this little beyond the band still counts as inside it; as the measures count.
constexpr double on_the_band = 1.0 + 1e-9;

/// The gap left of a unit step from rest, `angle` = w t after it.
double gap_at(double damping_ratio, double angle) noexcept {
  return 1.0 - advance(spring_step({1.0, damping_ratio, false}, angle), {0.0, 0.0}, {1.0, 1.0}).value;
}

/// Halves [low, high], at whose ends |gap| - within has different signs, down to the last bit.
double outermost(double damping_ratio, double within, double low, double high) noexcept {
  const auto is_outside = [&](double angle) { return std::fabs(gap_at(damping_ratio, angle)) > within; };
  const auto [outside, inside] = change_between(is_outside, low, high);
  return 0.5 * (outside + inside);
}

/// The first instant, in units of 1 / angular frequency, at which a step from rest has come so far.
double first_reach(double damping_ratio, double level) {
  const auto beyond = [&](double angle) { return 1.0 - gap_at(damping_ratio, angle) - level; };
  const double until = damping_ratio < 1.0 ? std::numbers::pi / std::sqrt((1.0 - damping_ratio) * (1.0 + damping_ratio))
                                           : 100.0 * damping_ratio;
  return bracketed_root(beyond, 0.0, until, beyond(0.0), beyond(until));
}

} // namespace

SpringDesign design_of_stiffness(double stiffness, double damping, double mass) noexcept {
  return {natural_frequency_hz(std::sqrt(stiffness / mass)), damping / (2.0 * std::sqrt(stiffness) * std::sqrt(mass))};
}

double overshoot_of(double damping_ratio) noexcept {
  if (damping_ratio >= 1.0) return 0.0;
  const double q = std::sqrt((1.0 - damping_ratio) * (1.0 + damping_ratio));
  return std::exp(-std::numbers::pi * damping_ratio / q);
}

double ratio_of_overshoot(double share) noexcept {
  const double fall = -std::log(share);
  return share <= 0.0 ? 1.0 : fall / std::hypot(std::numbers::pi, fall);
}

double rise_angle(double damping_ratio) { return first_reach(damping_ratio, 0.9) - first_reach(damping_ratio, 0.1); }

double settling_angle(double damping_ratio, double within) noexcept {
  if (damping_ratio <= 0.0) return std::numeric_limits<double>::infinity();
  if (damping_ratio >= 1.0) {
    double high = 1.0;
    while (std::fabs(gap_at(damping_ratio, high)) > within) high *= 2.0;
    return outermost(damping_ratio, within * on_the_band, 0.0, high);
  }
  // Extremes lie at n pi / q and have the size e^(-n pi z / q).
  const double q = std::sqrt((1.0 - damping_ratio) * (1.0 + damping_ratio));
  const double fall = std::numbers::pi * damping_ratio / q;
  const double last = std::ceil(-std::log(within * on_the_band) / fall) - 1.0;
  return outermost(damping_ratio, within * on_the_band, last * std::numbers::pi / q,
                   (last + 1.0) * std::numbers::pi / q);
}

SpringDesign design_of_settling(double time, double overshoot, double within) noexcept {
  const double ratio = ratio_of_overshoot(overshoot);
  return {natural_frequency_hz(settling_angle(ratio, within) / time), ratio};
}

std::optional<SettlingJump> settling_jump(double damping_ratio, double within) noexcept {
  constexpr double near = 0.01;
  const double fall = -std::log(within);
  for (int n = 1; n < 1000; ++n) {
    const double ratio = fall / std::hypot(n * std::numbers::pi, fall);
    if (ratio < damping_ratio * (1.0 - 2.0 * near)) break;
    if (std::fabs(ratio - damping_ratio) > near * ratio) continue;
    constexpr double aside = 1e-7;
    return SettlingJump{ratio, settling_angle(ratio * (1.0 - aside), within),
                        settling_angle(ratio * (1.0 + aside), within)};
  }
  return std::nullopt;
}

} // namespace stasis
