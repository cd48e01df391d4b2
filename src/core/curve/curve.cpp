#include "core/curve/curve.hpp"

#include <algorithm>

namespace stasis {
namespace {

template<class... Cases> struct Overloaded : Cases... { using Cases::operator()...; };

std::vector<double> corners_of(const LinearStops& curve) {
  std::vector<double> times;
  for (const LinearStop& stop : curve.stops) times.push_back(stop.input);
  return times;
}

std::vector<double> corners_of(const Steps& curve) {
  std::vector<double> times;
  for (int i = 1; i < curve.count; ++i) times.push_back(static_cast<double>(i) / curve.count);
  return times;
}

std::vector<double> corners_of(const PointsCurve& curve) {
  std::vector<double> times;
  for (const CurveKnot& knot : curve.knots) times.push_back(knot.time);
  return times;
}

std::vector<double> corners_of(const EaseShape& shape) {
  std::vector<double> times;
  if (shape.kind == ShapeKind::bounce) times = {4.0 / 11.0, 8.0 / 11.0, 10.0 / 11.0};
  if (shape.direction == Direction::in)
    for (double& time : times) time = 1.0 - time;
  if (shape.direction != Direction::in_out) return times;
  std::vector<double> halves{0.5};
  for (const double time : times) {
    halves.push_back(0.5 + 0.5 * time);
    halves.push_back(0.5 - 0.5 * time);
  }
  return halves;
}

} // namespace

CurvePoint evaluate(const Curve& curve, double time, Side side) noexcept {
  const double t = std::clamp(time, 0.0, 1.0);
  return std::visit(Overloaded{[&](const StraightLine&) {
                                 return CurvePoint{t, 1.0, 0.0, 0.0};
                               },
                               [&](const CubicBezier& bezier) { return evaluate(bezier, t); },
                               [&](const PointsCurve& points) { return evaluate(points, t); },
                               [&](const auto& sided) { return evaluate(sided, t, side); }},
                    curve);
}

std::vector<double> corners(const Curve& curve) {
  std::vector<double> times = std::visit(Overloaded{[](const StraightLine&) { return std::vector<double>{}; },
                                                    [](const CubicBezier&) { return std::vector<double>{}; },
                                                    [](const auto& cornered) { return corners_of(cornered); }},
                                         curve);
  std::erase_if(times, [](double time) { return time <= 0.0 || time >= 1.0; });
  std::sort(times.begin(), times.end());
  times.erase(std::unique(times.begin(), times.end()), times.end());
  return times;
}

} // namespace stasis
