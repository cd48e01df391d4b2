// A smooth curve through points that never swings beyond them: monotone wherever the points are.
#pragma once

#include <vector>

#include "core/curve/curve_point.hpp"

namespace stasis {

/// A point of a curve and the slope there.
struct CurveKnot {
  double time;
  double value;
  double slope = 0.0;
};

struct PointsCurve {
  std::vector<CurveKnot> knots; ///< two or more, times ascending
};

/// Fills in the slopes, so that every value lies between those of its neighbours. `knots` are two or more with
/// ascending times. Source: docs/maths.md, "Curves" (the limited three-point slope).
PointsCurve through_points(std::vector<CurveKnot> knots);

/// The same with the times brought to 0..1: the first is the start of a move, the last its end.
PointsCurve through_times(std::vector<CurveKnot> knots);

/// The curve at `time`; beyond its ends it stays where it ends.
CurvePoint evaluate(const PointsCurve& curve, double time) noexcept;

} // namespace stasis
