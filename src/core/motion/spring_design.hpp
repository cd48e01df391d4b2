// A spring by other words: stiffness, damping and mass; settling time and overshoot.
#pragma once

#include <optional>

namespace stasis {

struct SpringDesign {
  double frequency_hz; ///< undamped natural frequency
  double damping_ratio;
};

/// \param stiffness pull per unit of gap, > 0; \param damping drag per unit of speed, >= 0; \param mass > 0.
/// Source: x'' = (stiffness gap - damping x') / mass.
SpringDesign design_of_stiffness(double stiffness, double damping, double mass) noexcept;

/// The spring whose step from rest overshoots by `overshoot` (a share, 0 inclusive to 1 exclusive; 0 means ratio 1) and
/// stays within `within` (a share) of its end from `time` seconds (> 0) on.
SpringDesign design_of_settling(double time, double overshoot, double within) noexcept;

/// The last instant, in units of 1 / angular frequency, at which a step from rest is outside `within` of its end.
/// \param damping_ratio > 0. Source: docs/maths.md, section 3; a peak exactly on the band counts as inside.
double settling_angle(double damping_ratio, double within) noexcept;

/// The step's overshoot as a share: exp(-pi z / sqrt(1 - z^2)), 0 from ratio 1 on.
double overshoot_of(double damping_ratio) noexcept;

/// The damping ratio, above 0, at which a step from rest overshoots by a share below 1; 1 where that is 0 or less.
double ratio_of_overshoot(double share) noexcept;

/// From 10 to 90 % of a step from rest, in units of 1 / angular frequency.
double rise_angle(double damping_ratio);

/// A ratio near which a peak touches the settle band, so that the settling time jumps.
struct SettlingJump {
  double damping_ratio;
  double below, above; ///< settling angles for ratios just below and just above
};
/// The jump within 1 % of `damping_ratio`, if there is one.
std::optional<SettlingJump> settling_jump(double damping_ratio, double within) noexcept;

} // namespace stasis
