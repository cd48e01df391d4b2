// `spring`: a damped oscillator pulled to its goal, stepped by its exact solution. Source: docs/maths.md, section 3
// (first-order-hold discretisation of x'' = w^2 (g - x) - 2 z w (x' - c g')).
#pragma once

#include "core/motion/asked.hpp"

namespace stasis {

struct Spring {
  double angular_frequency; ///< w, rad/s, > 0, undamped
  double damping_ratio;     ///< z, >= 0
  bool resists_gap = false; ///< c: damp the rate of the gap instead of the value's own rate (no steady lag)

  std::string_view name() const noexcept { return "spring"; }
  void fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const;
  double go_on(MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) const;
  double starting_rate(const MoverState& state, double elapsed, double goal, double slope) const noexcept;
  Instant inside(const FramePiece& piece, double u, Side side, KeptSpringStep& kept) const noexcept;
  std::optional<double> next_break(const FramePiece&, double) const noexcept { return std::nullopt; }
  Outlook outlook(const FramePiece& piece) const noexcept;
  double calm_time(const FramePiece&) const noexcept { return calm_time(); }
  double smooth_stretch(const FramePiece&, double, double since) const noexcept { return turning_time(since); }
  std::optional<Response> response(double angular) const noexcept;
  std::optional<double> lag() const noexcept { return resists_gap ? 0.0 : 2.0 * damping_ratio / angular_frequency; }
  Spring slowed(double times) const noexcept { return {angular_frequency / times, damping_ratio, resists_gap}; }
  MotionTraits traits() const noexcept {
    return {.keeps_speed = true, .takes_speed_over = true, .goes_on_alike = true};
  }
  MotionFacts facts() const noexcept;
  std::string sentence(bool in_doublings) const;
  std::vector<EquivalentForm> forms() const;

  /// As those of a glide.
  double calm_time() const noexcept;
  double turning_time(double since) const noexcept;
};

struct SpringState {
  double value;
  double velocity;
};

/// Coefficients of one exact step of a fixed length; keep them while the length stays the same.
struct SpringStep {
  double toward;        ///< P, share of the gap closed from rest
  double kept;          ///< K = 1 - P
  double coast;         ///< S / w, seconds of the old velocity that are travelled
  double pull;          ///< w S, velocity gained per unit of gap
  double momentum;      ///< N, share of the old velocity that is kept
  double ramp;          ///< share of the goal's travel taken over by the value
  double ramp_velocity; ///< velocity gained per unit of the goal's travel, 1/s
  bool from_goal;       ///< long steps are written from the goal, so that arrival is exact
};

/// Coefficients for a step of `dt` seconds (>= 0). Branches where the textbook forms lose digits: a power series for
/// short steps at any damping ratio (no seam at 1), two real roots when they are well apart (no cosh that overflows).
SpringStep spring_step(const Spring& spring, double dt) noexcept;

/// The state after the step; exact for any dt and a goal that runs straight, to 4 eps (1 + w dt) of the larger of
/// value, goals and velocity / w.
inline SpringState advance(const SpringStep& step, SpringState state, GoalSegment goal) noexcept {
  const double travel = goal.end - goal.start;
  const double gap = goal.start - state.value;
  const double value = step.from_goal
                           ? goal.end + (step.coast * state.velocity - step.kept * gap + step.ramp * travel)
                           : state.value + (step.toward * gap + step.coast * state.velocity + step.ramp * travel);
  return {value, step.momentum * state.velocity + step.pull * gap + step.ramp_velocity * travel};
}

/// The acceleration at a state, for a goal at `goal` that moves at `goal_velocity`.
inline double acceleration(const Spring& spring, SpringState state, double goal, double goal_velocity) noexcept {
  const double w = spring.angular_frequency;
  const double resisted = spring.resists_gap ? state.velocity - goal_velocity : state.velocity;
  return w * w * (goal - state.value) - 2.0 * spring.damping_ratio * w * resisted;
}

} // namespace stasis
