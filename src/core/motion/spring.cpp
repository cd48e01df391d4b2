#include "core/motion/spring.hpp"

#include <cmath>

namespace stasis {
namespace {

/// The functions of a = w dt and z from which every coefficient follows; names as in docs/maths.md.
struct Basis {
  double S, P, K, N;
  double R; // (Q + c 2 z P) / a
};

/// Any damping ratio, short steps: D_m = sum h_n / (n + m)!, h_n the coefficients of the two-term recurrence.
Basis series_basis(double a, double z, double c) noexcept {
  constexpr int most_terms = 21;
  double h_before = 0.0, h = 1.0;
  double inverse_factorial = 1.0; // 1 / (n + 1)!
  double d1 = 0.0, d2 = 0.0, d3 = 0.0;
  for (int n = 0; n < most_terms; ++n) {
    d1 += h * inverse_factorial;
    d2 += h * inverse_factorial / (n + 2);
    d3 += h * inverse_factorial / ((n + 2.0) * (n + 3.0));
    const double h_next = -2.0 * z * a * h - a * a * h_before;
    h_before = h;
    h = h_next;
    inverse_factorial /= n + 2;
  }
  const double S = a * d1, P = a * a * d2;
  return {S, P, 1.0 - P, 1.0 - P - 2.0 * z * S, a * a * d3 + c * 2.0 * z * a * d2};
}

/// z < 1, long steps: the decaying oscillation itself.
Basis oscillating_basis(double a, double z, double c) noexcept {
  const double q = std::sqrt((1.0 - z) * (1.0 + z));
  const double decay = std::exp(-z * a);
  const double S = q * a < 1e-8 ? decay * a : decay * std::sin(q * a) / q;
  const double K = decay * std::cos(q * a) + z * S;
  const double P = 1.0 - K;
  const double Q = a - S - 2.0 * z * P;
  return {S, P, K, K - 2.0 * z * S, (Q + c * 2.0 * z * P) / a};
}

/// (1 - e^-y) / y, 1 at 0.
double mean_decay(double y) noexcept { return y == 0.0 ? 1.0 : -std::expm1(-y) / y; }

/// (y + expm1(-y)) / y^2, for y away from 0.
double second_mean(double y) noexcept {
  if (y >= 0.5) return (y + std::expm1(-y)) / (y * y);
  double term = 0.5, sum = 0.0; // series of the same quotient, which cancels for small y
  for (int n = 0; n < 15; ++n) {
    sum += term;
    term *= -y / (n + 3);
  }
  return sum;
}

/// z >= 1, long steps: the slow and the fast root apart, l and L their decays within the step.
Basis two_root_basis(double a, double z, double c) noexcept {
  const double r = std::sqrt((z - 1.0) * (z + 1.0));
  const double L = a * (z + r);
  const double l = a / (z + r);
  const double F = mean_decay(l);
  const double B = std::exp(-l) * mean_decay(2.0 * r * a);
  const double P = l * (F - B);
  const double Q = a * l * (second_mean(l) - (F - B) / L);
  return {a * B, P, std::exp(-l) + l * B, std::exp(-L) - l * B, (Q + c * 2.0 * z * P) / a};
}

Basis basis(double a, double z, double c) noexcept {
  const double reach = z < 1.0 ? a : a * (z + std::sqrt((z - 1.0) * (z + 1.0)));
  if (reach < 1.0) return series_basis(a, z, c);
  return z < 1.0 ? oscillating_basis(a, z, c) : two_root_basis(a, z, c);
}

} // namespace

SpringStep spring_step(const Spring& spring, double dt) noexcept {
  const double w = spring.angular_frequency, z = spring.damping_ratio;
  const double a = w * dt;
  if (a == 0.0) return {0.0, 1.0, 0.0, 0.0, 1.0, 0.0, 0.0, false};
  const double c = spring.resists_gap ? 1.0 : 0.0;
  const Basis b = basis(a, z, c);
  const bool from_goal = b.P >= 0.5;
  const double ramp = from_goal ? -(b.S + (1.0 - c) * 2.0 * z * b.P) / a : b.R;
  return {b.P, b.K, b.S / w, w * b.S, b.N, ramp, (b.P + c * 2.0 * z * b.S) / dt, from_goal};
}

} // namespace stasis
