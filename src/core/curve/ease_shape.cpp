#include "core/curve/ease_shape.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

constexpr double quarter_turn = 0.5 * std::numbers::pi;
/// Swings that an elastic curve would make in its whole time.
constexpr double default_swings = 10.0 / 3.0;
/// Halvings of an elastic curve's swing over its whole time.
constexpr double elastic_halvings = 10.0;

constexpr std::array shape_names{
    ShapeWord{"sine", ShapeKind::sine, ""},
    ShapeWord{"power", ShapeKind::power, "the exponent: 2 is a parabola, larger is more sudden", 2.0, 0.05, 50.0},
    ShapeWord{"exp", ShapeKind::exp, "how many times the speed doubles on the way", 10.0, 0.1, 50.0},
    ShapeWord{"circle", ShapeKind::circle, ""},
    ShapeWord{"back", ShapeKind::back, "how far it draws back first: 1.7 is a tenth of the way", 1.70158, 0.0, 20.0},
    ShapeWord{"elastic", ShapeKind::elastic, "how many swings fit into the time", default_swings, 0.5, 40.0},
    ShapeWord{"bounce", ShapeKind::bounce, ""},
};

CurvePoint in_sine(double t) noexcept {
  const double w = quarter_turn, s = std::sin(w * t), c = std::cos(w * t), half = std::sin(0.5 * w * t);
  return {2.0 * half * half, w * s, w * w * c, -w * w * w * s};
}

CurvePoint in_power(double t, double p) noexcept {
  const auto term = [&](double factor, double exponent) {
    if (factor == 0.0) return 0.0;
    if (t == 0.0 && exponent < 0.0) return std::copysign(unbounded, factor);
    return factor * std::pow(t, exponent);
  };
  return {term(1.0, p), term(p, p - 1.0), term(p * (p - 1.0), p - 2.0), term(p * (p - 1.0) * (p - 2.0), p - 3.0)};
}

/// (2^(n t) - 1) / (2^n - 1): the speed doubles n times; starts at exactly 0, unlike the plain power of two.
CurvePoint in_exp(double t, double n) noexcept {
  const double k = n * std::numbers::ln2, whole = std::expm1(k), grown = std::exp(k * t) / whole;
  return {std::expm1(k * t) / whole, k * grown, k * k * grown, k * k * k * grown};
}

CurvePoint in_circle(double t) noexcept {
  const double root = std::sqrt((1.0 - t) * (1.0 + t));
  const double value = t * t / (1.0 + root);
  if (root == 0.0) return {value, unbounded, unbounded, unbounded};
  const double cube = root * root * root;
  return {value, t / root, 1.0 / cube, 3.0 * t / (cube * root * root)};
}

CurvePoint in_back(double t, double s) noexcept {
  return {t * t * ((s + 1.0) * t - s), t * (3.0 * (s + 1.0) * t - 2.0 * s), 6.0 * (s + 1.0) * t - 2.0 * s,
          6.0 * (s + 1.0)};
}

/// 1 - d(t) cos(2 pi n t), d falling from 1 to exactly 0 as 2^(-10 t) does, less its remainder.
CurvePoint out_elastic(double t, double swings) noexcept {
  const double k = elastic_halvings * std::numbers::ln2, left = std::exp(-k);
  const double share = 1.0 / (1.0 - left), fall = share * std::exp(-k * t);
  const std::array<double, 4> d{t == 1.0 ? 0.0 : fall - share * left, -k * fall, k * k * fall, -k * k * k * fall};
  const double w = angular_frequency(swings), c = std::cos(w * t), s = std::sin(w * t);
  const std::array<double, 4> wave{c, -w * s, -w * w * c, w * w * w * s};
  return {1.0 - d[0] * wave[0], -(d[1] * wave[0] + d[0] * wave[1]),
          -(d[2] * wave[0] + 2.0 * d[1] * wave[1] + d[0] * wave[2]),
          -(d[3] * wave[0] + 3.0 * d[2] * wave[1] + 3.0 * d[1] * wave[2] + d[0] * wave[3])};
}

/// Four parabolas of one curvature: a fall to 1, then three rebounds, each half as long as the one before.
CurvePoint out_bounce(double t, Side side) noexcept {
  struct Rebound {
    double until, centre, top;
  };
  constexpr double curvature = 7.5625; // (11/4)^2: the fall reaches 1 at 4/11
  constexpr std::array<Rebound, 4> rebounds{{{4.0 / 11.0, 0.0, 0.0},
                                             {8.0 / 11.0, 6.0 / 11.0, 0.75},
                                             {10.0 / 11.0, 9.0 / 11.0, 0.9375},
                                             {2.0, 10.5 / 11.0, 0.984375}}};
  // A time that was turned round may miss a corner by a rounding, which must not mix its two sides up.
  constexpr double rounding = 1e-12;
  std::size_t piece = 0;
  while (t > rebounds[piece].until + (side == Side::at ? -rounding : rounding)) ++piece;
  const Rebound& r = rebounds[piece];
  const double x = t - r.centre;
  return {t == 1.0 ? 1.0 : curvature * x * x + r.top, 2.0 * curvature * x, 2.0 * curvature, 0.0};
}

CurvePoint turned(const CurvePoint& p) noexcept { return {1.0 - p.value, p.slope, -p.bend, p.twist}; }

Side other(Side side) noexcept { return side == Side::at ? Side::before : Side::at; }

CurvePoint inward(const EaseShape& shape, double t, Side side) noexcept {
  switch (shape.kind) {
  case ShapeKind::sine: return in_sine(t);
  case ShapeKind::power: return in_power(t, shape.amount);
  case ShapeKind::exp: return in_exp(t, shape.amount);
  case ShapeKind::circle: return in_circle(t);
  case ShapeKind::back: return in_back(t, shape.amount);
  case ShapeKind::elastic: return turned(out_elastic(1.0 - t, shape.amount));
  case ShapeKind::bounce: return turned(out_bounce(1.0 - t, other(side)));
  }
  return {t, 1.0, 0.0, 0.0};
}

CurvePoint outward(const EaseShape& shape, double t, Side side) noexcept {
  if (shape.kind == ShapeKind::elastic) return out_elastic(t, shape.amount);
  if (shape.kind == ShapeKind::bounce) return out_bounce(t, side);
  return turned(inward(shape, 1.0 - t, other(side)));
}

} // namespace

std::span<const ShapeWord> shape_words() noexcept { return shape_names; }
const ShapeWord& word_of(ShapeKind kind) noexcept { return shape_names[static_cast<std::size_t>(kind)]; }

std::string_view word_of(Direction direction) noexcept {
  constexpr std::array<std::string_view, 3> names{"in", "out", "in-out"};
  return names[static_cast<std::size_t>(direction)];
}

namespace {

CurvePoint in_direction(const EaseShape& shape, double t, Side side) noexcept {
  if (shape.direction == Direction::in) return inward(shape, t, side);
  if (shape.direction == Direction::out) return outward(shape, t, side);
  const bool first_half = side == Side::at ? t < 0.5 : t <= 0.5;
  const CurvePoint half = first_half ? inward(shape, 2.0 * t, side) : outward(shape, 2.0 * t - 1.0, side);
  return {first_half ? 0.5 * half.value : 0.5 + 0.5 * half.value, half.slope, 2.0 * half.bend, 4.0 * half.twist};
}

} // namespace

CurvePoint evaluate(const EaseShape& shape, double time, Side side) noexcept {
  const double t = std::clamp(time, 0.0, 1.0);
  CurvePoint point = in_direction(shape, t, side);
  // The ends are exact by definition, not by evaluation.
  if (t == 0.0 || t == 1.0) point.value = t;
  return point;
}

} // namespace stasis
