#include "core/motion/response.hpp"

#include <cmath>
#include <complex>

#include "core/units.hpp"

namespace stasis {
namespace {

struct Response {
  double gain = 1.0;
  double phase = 0.0; ///< rad, negative: late
};

Response response_of(const Glide& glide, double angular) {
  const double x = angular / glide.rate;
  return {1.0 / std::hypot(1.0, x), -std::atan(x)};
}

/// (w^2 + c 2 z w s) / (w^2 + 2 z w s + s^2) at s = i angular.
Response response_of(const Spring& spring, double angular) {
  const double x = angular / spring.angular_frequency, drag = 2.0 * spring.damping_ratio * x;
  const std::complex<double> above(1.0, spring.resists_gap ? drag : 0.0), below((1.0 - x) * (1.0 + x), drag);
  return {std::abs(above) / std::abs(below), std::arg(above) - std::arg(below)};
}

double lag_of(const Glide& glide) { return 1.0 / glide.rate; }
double lag_of(const Spring& spring) {
  return spring.resists_gap ? 0.0 : 2.0 * spring.damping_ratio / spring.angular_frequency;
}

/// False for moves along a curve or by limits, and for rules whose answer depends on the frame rate.
bool is_linear(const Motion& motion) noexcept {
  return !std::holds_alternative<Ease>(motion) && !std::holds_alternative<Pace>(motion)
         && !std::holds_alternative<PerFrame>(motion);
}

} // namespace

std::optional<Sway> sway_of(const Motion& motion, double frequency_hz) {
  const double angular = angular_frequency(frequency_hz);
  Response total;
  const auto pass_through = [&](const auto& link) {
    const Response one = response_of(link, angular);
    total.gain *= one.gain;
    total.phase += one.phase;
  };
  if (const auto* glide = std::get_if<Glide>(&motion)) pass_through(*glide);
  if (const auto* spring = std::get_if<Spring>(&motion)) pass_through(*spring);
  if (!is_linear(motion)) return std::nullopt;
  if (const auto* chain = std::get_if<Chain>(&motion)) {
    if (chain->head) return std::nullopt;
    for (const Link& link : chain->links) std::visit(pass_through, link);
  }
  return Sway{frequency_hz, total.gain, -total.phase / angular + wait_of(motion)};
}

std::optional<double> steady_lag(const Motion& motion) {
  if (!is_linear(motion)) return std::nullopt;
  if (const auto* glide = std::get_if<Glide>(&motion)) return lag_of(*glide);
  if (const auto* spring = std::get_if<Spring>(&motion)) return lag_of(*spring);
  double lag = wait_of(motion);
  if (const auto* chain = std::get_if<Chain>(&motion)) {
    if (chain->head) return std::nullopt;
    for (const Link& link : chain->links) lag += std::visit([](const auto& one) { return lag_of(one); }, link);
  }
  return lag;
}

} // namespace stasis
