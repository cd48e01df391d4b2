// `pace`: to the goal in the least time that a largest speed and a largest acceleration allow.
// Source: docs/maths.md, section 3 (time-optimal control of a double integrator with a speed limit).
#pragma once

#include <array>

#include "core/curve/curve_point.hpp"
#include "core/motion/instant.hpp"

namespace stasis {

/// Limits in the channel's space.
struct Pace {
  double speed;        ///< per second, > 0
  double acceleration; ///< per second squared, > 0
};

/// At full speed at once: within a picosecond.
constexpr Pace pace_at_once(double speed) noexcept { return {speed, speed * 1e12}; }

/// Limits seen from the goal: toward larger values, toward smaller ones (they differ where the goal itself moves).
struct PaceLimits {
  double up, down;
  double acceleration;
};

struct PacePhase {
  double duration;
  double acceleration;
};

/// One straight way to a goal `gap` ahead, at rest there: speed up (or brake to the limit), cruise, brake.
struct PaceLeg {
  double gap = 0.0;
  double start_velocity = 0.0;
  std::array<PacePhase, 3> phases{};
  double total = 0.0;       ///< s
  bool unavoidable = false; ///< it comes in too fast to stop at the goal, and must come back

  /// The time-optimal leg from `velocity` to rest at `gap` ahead.
  static PaceLeg plan(double gap, double velocity, const PaceLimits& limits) noexcept;
};

/// The leg `t` seconds after its start; from `total` on exactly at its gap, at rest.
Instant evaluate(const PaceLeg& leg, double t, Side side = Side::at) noexcept;

/// A move of a vector: one leg along the gap, one across it that takes out the sideways speed, both ending together.
struct PacePlan {
  PaceLeg along, across;
  std::array<double, 3> along_axis{}, across_axis{};
};

/// \param gap, velocity by component (unused ones zero). From rest, or with speed along the gap only, the way is
/// straight.
PacePlan plan_pace(const Pace& pace, const std::array<double, 3>& gap, const std::array<double, 3>& velocity) noexcept;

} // namespace stasis
