// How a stick moves a base: its speed runs up to what the deflection asks for, and down again.
#pragma once

#include "core/feel/control.hpp"

namespace stasis {

struct StickSpeed {
  double full = 1.0;      ///< speed at full deflection, in the channel's space, > 0
  double spin_up = 0.0;   ///< s from rest to full speed
  double spin_down = 0.0; ///< s from full speed to rest
};

struct StickState {
  double base = 0.0;  ///< in the space
  double speed = 0.0; ///< per second
};

/// The base `elapsed` seconds after `from` while the speed runs toward `target`, within the range: at an end it stops,
/// and starts from there when it turns.
StickState stick_after(const StickSpeed& rule, StickState from, double target, double elapsed, double low,
                       double high) noexcept;

/// What a deflection of -1..1 asks for, -1..1.
double response_to(double deflection, const StickResponse& response) noexcept;

} // namespace stasis
