#include "core/motion/glide.hpp"

#include <cmath>
#include <numbers>

namespace stasis {
namespace {

/// (a + expm1(-a)) / a, the share of a straight goal's travel that is followed within the step.
double ramp_share(double a) noexcept {
  if (a >= 0.5) return (a + std::expm1(-a)) / a;
  // a * sum (-a)^n / (n+2)!: the quotient above cancels for small a. 15 terms reach 1e-17 at a = 0.5.
  double term = 0.5, sum = 0.0;
  for (int n = 0; n < 15; ++n) {
    sum += term;
    term *= -a / (n + 3);
  }
  return a * sum;
}

} // namespace

GlideStep glide_step(const Glide& glide, double dt) noexcept {
  const double a = glide.rate * dt;
  if (a == 0.0) return {0.0, 0.0, 1.0, false};
  const double toward = -std::expm1(-a);
  if (a < std::numbers::ln2) return {toward, ramp_share(a), 1.0 - toward, false};
  return {toward, -toward / a, std::exp(-a), true};
}

} // namespace stasis
