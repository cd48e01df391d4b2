// Value, velocity and acceleration at one instant.
#pragma once

namespace stasis {

/// In the channel's space, per second and per second squared.
struct Instant {
  double value;
  double velocity;
  double acceleration;
};

}  // namespace stasis
