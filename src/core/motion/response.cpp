#include "core/motion/response.hpp"

#include <cmath>
#include <complex>

#include "core/overloaded.hpp"
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

} // namespace

std::optional<Sway> sway_of(const Motion& motion, double frequency_hz) {
  const double angular = angular_frequency(frequency_hz);
  const auto sway = [&](const Response& total, double wait) {
    return std::optional(Sway{frequency_hz, total.gain, -total.phase / angular + wait});
  };
  const std::optional<Sway> not_linear;
  const auto answer = Overloaded{
      [&](const Cut&) { return sway({}, 0.0); },
      [&](const Glide& glide) { return sway(response_of(glide, angular), 0.0); },
      [&](const Spring& spring) { return sway(response_of(spring, angular), 0.0); },
      [&](const Ease&) { return not_linear; },
      [&](const Pace&) { return not_linear; },
      [&](const Chain& chain) {
        if (chain.head) return not_linear;
        Response total;
        for (const Link& link : chain.links) {
          const Response one = std::visit([&](const auto& own) { return response_of(own, angular); }, link);
          total.gain *= one.gain;
          total.phase += one.phase;
        }
        return sway(total, chain.delay);
      },
      [&](const PerFrame&) { return not_linear; }, // its answer depends on the frame rate
      [&](const Led&) { return not_linear; },
  };
  return std::visit(answer, motion);
}

std::optional<double> steady_lag(const Motion& motion) {
  using Lag = std::optional<double>;
  const auto lag = Overloaded{
      [](const Cut&) -> Lag { return 0.0; },
      [](const Glide& glide) -> Lag { return lag_of(glide); },
      [](const Spring& spring) -> Lag { return lag_of(spring); },
      [](const Ease&) -> Lag { return std::nullopt; },
      [](const Pace&) -> Lag { return std::nullopt; },
      [](const Chain& chain) -> Lag {
        if (chain.head) return std::nullopt;
        double all = chain.delay;
        for (const Link& link : chain.links) all += std::visit([](const auto& one) { return lag_of(one); }, link);
        return all;
      },
      [](const PerFrame&) -> Lag { return std::nullopt; },
      [](const Led&) -> Lag { return std::nullopt; },
  };
  return std::visit(lag, motion);
}

} // namespace stasis
