// The staircase of the CSS Easing Functions standard, steps().
#pragma once

#include "core/curve/curve_point.hpp"

namespace stasis {

/// Where the jumps lie: at the start of each of the intervals, at their ends, at neither end of the whole, at both.
enum class StepJump : std::uint8_t { start, end, none, both };

struct Steps {
  int count = 1; ///< intervals of the time, >= 1; >= 2 with StepJump::none
  StepJump jump = StepJump::end;
};

/// The staircase at `time` (0..1). Just before a jump the lower step holds (the standard's "before flag").
/// Source: CSS Easing Functions Level 1, section 2.3.
CurvePoint evaluate(const Steps& curve, double time, Side side = Side::at) noexcept;

} // namespace stasis
