#include "core/motion/chain.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace stasis {

double stray_bound(const Chain& chain, const LinkStates& states, double goal, double input_stray) noexcept {
  double bound = input_stray;
  for (std::size_t i = 0; i < chain.links.size(); ++i) {
    const double gap = std::fabs(states[i].value - goal);
    const auto* spring = std::get_if<Spring>(&chain.links[i]);
    if (spring == nullptr) {
      bound = std::max(gap, bound);
      continue;
    }
    // Free response: the energy never grows. Forced: the integral of the impulse response's size, 1 where it does not
    // change sign, coth(pi z / 2q) where it swings.
    if (spring->resists_gap && bound > 0.0) return std::numeric_limits<double>::infinity();
    const double z = spring->damping_ratio;
    const double swing = z < 1.0 ? 1.0 / std::tanh(0.5 * std::numbers::pi * z / std::sqrt((1.0 - z) * (1.0 + z))) : 1.0;
    bound = std::hypot(gap, states[i].velocity / spring->angular_frequency) + (bound > 0.0 ? swing * bound : 0.0);
  }
  return bound;
}

} // namespace stasis
