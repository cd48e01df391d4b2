#include "core/curve/points_curve.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {
namespace {

double secant(const CurveKnot& a, const CurveKnot& b) noexcept { return (b.value - a.value) / (b.time - a.time); }

/// The slope of the parabola through three neighbours, held to where no span can leave its ends.
double limited_slope(const CurveKnot& a, const CurveKnot& b, const CurveKnot& c) noexcept {
  const double before = secant(a, b), after = secant(b, c);
  if (before * after <= 0.0) return 0.0;
  const double left = b.time - a.time, right = c.time - b.time;
  const double parabola = (right * before + left * after) / (right + left);
  return std::copysign(std::min({std::fabs(parabola), 3.0 * std::fabs(before), 3.0 * std::fabs(after)}), before);
}

} // namespace

PointsCurve through_points(std::vector<CurveKnot> knots) {
  const std::size_t last = knots.size() - 1;
  for (std::size_t i = 0; i <= last; ++i) {
    if (i == 0)
      knots[i].slope = secant(knots[0], knots[1]);
    else if (i == last)
      knots[i].slope = secant(knots[last - 1], knots[last]);
    else
      knots[i].slope = limited_slope(knots[i - 1], knots[i], knots[i + 1]);
  }
  return {std::move(knots)};
}

PointsCurve through_times(std::vector<CurveKnot> knots) {
  const double start = knots.front().time, length = knots.back().time - start;
  for (CurveKnot& knot : knots) knot.time = (knot.time - start) / length;
  knots.back().time = 1.0;
  return through_points(std::move(knots));
}

CurvePoint evaluate(const PointsCurve& curve, double time) noexcept {
  const auto& knots = curve.knots;
  if (time < knots.front().time) return {knots.front().value, 0.0, 0.0, 0.0};
  if (time > knots.back().time) return {knots.back().value, 0.0, 0.0, 0.0};
  const auto beyond =
      std::upper_bound(knots.begin(), knots.end(), time, [](double t, const CurveKnot& knot) { return t < knot.time; });
  const auto right = std::clamp<std::size_t>(static_cast<std::size_t>(beyond - knots.begin()), 1, knots.size() - 1);
  const CurveKnot &a = knots[right - 1], &b = knots[right];
  // Cubic Hermite form in h = b.time - a.time, u in 0..1.
  const double h = b.time - a.time, u = (time - a.time) / h, rise = b.value - a.value;
  const double p = h * a.slope + h * b.slope - 2.0 * rise, q = 3.0 * rise - 2.0 * h * a.slope - h * b.slope;
  return {time == b.time ? b.value : a.value + u * (h * a.slope + u * (q + u * p)),
          (h * a.slope + u * (2.0 * q + 3.0 * u * p)) / h, (2.0 * q + 6.0 * u * p) / (h * h), 6.0 * p / (h * h * h)};
}

} // namespace stasis
