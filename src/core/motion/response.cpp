#include "core/motion/response.hpp"

#include "core/units.hpp"

namespace stasis {

std::optional<Sway> sway_of(const Motion& motion, double frequency_hz) {
  const double angular = angular_frequency(frequency_hz);
  const auto answer = std::visit([&](const auto& kind) { return kind.response(angular); }, motion);
  if (!answer) return std::nullopt;
  return Sway{frequency_hz, answer->gain, -answer->phase / angular + answer->wait};
}

std::optional<double> steady_lag(const Motion& motion) {
  return std::visit([](const auto& kind) { return kind.lag(); }, motion);
}

} // namespace stasis
