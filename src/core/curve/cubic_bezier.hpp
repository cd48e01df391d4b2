// The cubic Bezier progress curve of the CSS Easing Functions standard: (0,0), (x1,y1), (x2,y2), (1,1).
#pragma once

#include "core/curve/curve_point.hpp"

namespace stasis {

struct CubicBezier {
  double x1 = 0.0; ///< 0..1
  double y1 = 0.0;
  double x2 = 1.0; ///< 0..1
  double y2 = 1.0;
};

/// The curve at `time` (clamped to 0..1). The derivatives are infinite where the tangent is vertical. The curve's
/// parameter is bracketed to 1e-15, since a small residual in x is no bound where the slope is infinite.
/// Source: CSS Easing Functions Level 1, section 2.2; derivatives by the chain rule.
CurvePoint evaluate(const CubicBezier& curve, double time) noexcept;

/// The first of a row of times after `time` at which the curve's parameter has gone on by a part of its own range: what
/// turns quickly in time does not in the parameter.
double next_look(const CubicBezier& curve, double time) noexcept;

} // namespace stasis
