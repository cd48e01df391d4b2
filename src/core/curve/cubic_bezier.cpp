#include "core/curve/cubic_bezier.hpp"

#include <algorithm>
#include <cmath>

#include "core/unbounded.hpp"

namespace stasis {
namespace {

struct Polynomial {
  double a, b, c; // a p^3 + b p^2 + c p
  double end_slope;
  Polynomial(double p1, double p2)
      : a(1.0 - 3.0 * (p2 - p1)), b(3.0 * (p2 - 2.0 * p1)), c(3.0 * p1), end_slope(3.0 * (1.0 - p2)) {}
  double at(double p) const noexcept { return ((a * p + b) * p + c) * p; }
  // At the end the sum would leave a rounding where the tangent is level or upright.
  double slope(double p) const noexcept { return p == 1.0 ? end_slope : (3.0 * a * p + 2.0 * b) * p + c; }
  double bend(double p) const noexcept { return 6.0 * a * p + 2.0 * b; }
};

/// The parameter at which the monotone polynomial reaches `target`: Newton, kept inside a shrinking bracket.
double solve_parameter(const Polynomial& x, double target) noexcept {
  constexpr double tolerance = 1e-15;
  constexpr int most_steps = 200;
  double low = 0.0, high = 1.0, guess = target;
  for (int step = 0; step < most_steps && high - low > tolerance; ++step) {
    const double error = x.at(guess) - target;
    if (error == 0.0) return guess;
    (error > 0.0 ? high : low) = guess;
    const double slope = x.slope(guess);
    double next = slope > 0.0 ? guess - error / slope : low;
    if (!(next > low && next < high)) next = 0.5 * (low + high);
    if (std::fabs(next - guess) < 0.25 * tolerance) return next;
    guess = next;
  }
  return guess;
}

/// Slope where x'(p) = 0 and y'(p) may be anything: the ratio of the first derivatives that are not zero together.
double slope_at(const Polynomial& x, const Polynomial& y, double p) noexcept {
  const double run = x.slope(p), rise = y.slope(p);
  if (run > 0.0) return rise / run;
  if (rise != 0.0) return std::copysign(unbounded, rise);
  if (x.bend(p) != 0.0) return y.bend(p) / x.bend(p);
  return y.a / x.a;
}

struct HigherRates {
  double bend, twist;
};

/// Second and third derivative of y by x, by the quotient rule on y'/x'.
HigherRates higher_rates_at(const Polynomial& x, const Polynomial& y, double p) noexcept {
  const double run = x.slope(p), rise = y.slope(p);
  const double numerator = y.bend(p) * run - rise * x.bend(p);
  if (run > 0.0) {
    const double numerator_slope = 6.0 * (y.a * run - rise * x.a);
    const double cube = run * run * run;
    return {numerator / cube, (numerator_slope * run - 3.0 * numerator * x.bend(p)) / (cube * run * run)};
  }
  // Upright, or both stand still there: then y goes by x and a power 3/2 of it, whose second rate has no bound, unless
  // the two polynomials are one up to a factor.
  const double cross = rise != 0.0 ? rise : y.a * x.bend(p) - x.a * y.bend(p);
  const double rate = cross == 0.0 ? 0.0 : std::copysign(unbounded, cross);
  return {rate, rate};
}

} // namespace

CurvePoint evaluate(const CubicBezier& curve, double time) noexcept {
  const Polynomial x(curve.x1, curve.x2), y(curve.y1, curve.y2);
  const double target = std::clamp(time, 0.0, 1.0);
  const double p = target == 0.0 ? 0.0 : target == 1.0 ? 1.0 : solve_parameter(x, target);
  // The end points are exact by definition, not by evaluation.
  const double value = p == 0.0 ? 0.0 : p == 1.0 ? 1.0 : y.at(p);
  const auto [bend, twist] = higher_rates_at(x, y, p);
  return {value, slope_at(x, y, p), bend, twist};
}

double next_look(const CubicBezier& curve, double time) noexcept {
  constexpr int looks = 20;
  constexpr double apart = 1e-9; // of the whole time
  const Polynomial x(curve.x1, curve.x2);
  for (int k = 1; k < looks; ++k)
    if (const double at = x.at(static_cast<double>(k) / looks); at > time + apart) return at;
  return 1.0;
}

} // namespace stasis
