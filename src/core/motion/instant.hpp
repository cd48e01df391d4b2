// A motion at one instant: value and its rates.
#pragma once

namespace stasis {

/// In the channel's space; each rate is per second of the one before.
struct Instant {
  double value;
  double velocity;
  double acceleration;
  double jerk;
};

} // namespace stasis
