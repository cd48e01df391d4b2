// The piecewise straight progress curve of the CSS Easing Functions standard, linear().
#pragma once

#include <optional>
#include <vector>

#include "core/curve/curve_point.hpp"

namespace stasis {

/// A stop as written: its output, and up to two inputs (shares of the time) at which it holds.
struct WrittenStop {
  double output = 0.0;
  std::optional<double> input, second_input;
};

struct LinearStop {
  double input;  ///< never below that of the stop before
  double output; ///< progress
};

struct LinearStops {
  std::vector<LinearStop> stops; ///< two or more
};

/// Stops with every implied input filled in: the first is 0, the last 1 (or the largest before it), an input below an
/// earlier one is raised to it, and runs without inputs are spread evenly.
/// \param written two stops or more. Source: CSS Easing Functions Level 2, "create a linear easing function".
LinearStops resolve_stops(const std::vector<WrittenStop>& written);

/// The curve at `time`; beyond its first and last stop it goes on straight. Where several stops share an input, the
/// last counts at it and the first just before it. Source: the same, "calculate linear easing output progress".
CurvePoint evaluate(const LinearStops& curve, double time, Side side = Side::at) noexcept;

} // namespace stasis
