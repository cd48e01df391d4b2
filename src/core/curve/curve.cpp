#include "core/curve/curve.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/overloaded.hpp"

namespace stasis {
namespace {

constexpr double none = std::numeric_limits<double>::infinity();

double next_of(const LinearStops& curve, double t) noexcept {
  const auto next = std::upper_bound(curve.stops.begin(), curve.stops.end(), t,
                                     [](double time, const LinearStop& stop) { return time < stop.input; });
  return next == curve.stops.end() ? none : next->input;
}

double next_of(const Steps& curve, double t) noexcept {
  double step = std::floor(t * curve.count) + 1.0;
  if (step / curve.count <= t) step += 1.0; // the product may fall short by a rounding
  return step / curve.count;
}

/// Where it stands upright inside; nowhere unless both handles reach all the way across.
double next_of(const CubicBezier& curve, double t) noexcept {
  constexpr double middle = 0.5;
  return curve.x1 == 1.0 && curve.x2 == 0.0 && t < middle ? middle : none;
}

double next_of(const PointsCurve& curve, double t) noexcept {
  const auto next = std::upper_bound(curve.knots.begin(), curve.knots.end(), t,
                                     [](double time, const CurveKnot& knot) { return time < knot.time; });
  return next == curve.knots.end() ? none : next->time;
}

double next_of(const EaseShape& shape, double t) noexcept {
  constexpr std::array<double, 3> bounces{4.0 / 11.0, 8.0 / 11.0, 10.0 / 11.0};
  double next = none;
  const auto consider = [&](double corner) {
    if (corner > t) next = std::min(next, corner);
  };
  if (shape.direction == Direction::in_out) consider(0.5);
  if (shape.kind == ShapeKind::bounce)
    for (const double at : bounces) {
      if (shape.direction == Direction::out) consider(at);
      if (shape.direction == Direction::in) consider(1.0 - at);
      if (shape.direction != Direction::in_out) continue;
      consider(0.5 + 0.5 * at);
      consider(0.5 - 0.5 * at);
    }
  return next;
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

double next_corner(const Curve& curve, double time) noexcept {
  const double next =
      std::visit(Overloaded{[](const StraightLine&) { return none; },
                            [&](const auto& cornered) { return next_of(cornered, std::max(time, 0.0)); }},
                 curve);
  return next < 1.0 ? next : none;
}

double smooth_until(const Curve& curve, double time) noexcept {
  if (const auto* bezier = std::get_if<CubicBezier>(&curve)) return next_look(*bezier, time);
  const auto* shape = std::get_if<EaseShape>(&curve);
  // An elastic curve turns with its swings; no other of the stock more than once in an eighth of its time.
  constexpr double parts = 16.0;
  const double swings = shape != nullptr && shape->kind == ShapeKind::elastic ? shape->amount : 1.0;
  return std::min(1.0, time + 1.0 / (parts * std::max(1.0, 0.5 * swings)));
}

std::vector<double> corners(const Curve& curve) {
  std::vector<double> times;
  for (double at = next_corner(curve, 0.0); at < 1.0; at = next_corner(curve, at)) times.push_back(at);
  return times;
}

} // namespace stasis
