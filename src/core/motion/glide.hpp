// `glide`: the gap to the goal shrinks by one constant factor per equal time. Source: docs/maths.md, section 3.
#pragma once

#include "core/motion/asked.hpp"

namespace stasis {

struct Glide {
  double rate; ///< 1/s, > 0

  std::string_view name() const noexcept { return "glide"; }
  void fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const;
  double go_on(MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) const;
  double starting_rate(const MoverState& state, double elapsed, double goal, double slope) const noexcept;
  Instant inside(const FramePiece& piece, double u, Side side, KeptSpringStep& kept) const noexcept;
  std::optional<double> next_break(const FramePiece&, double) const noexcept { return std::nullopt; }
  Outlook outlook(const FramePiece& piece) const noexcept;
  double calm_time(const FramePiece&) const noexcept { return 0.0; }
  double smooth_stretch(const FramePiece&, double, double since) const noexcept { return turning_time(since); }
  std::optional<Response> response(double angular) const noexcept;
  std::optional<double> lag() const noexcept { return 1.0 / rate; }
  Glide slowed(double times) const noexcept { return {rate / times}; }
  MotionTraits traits() const noexcept { return {.goes_on_alike = true}; }
  MotionFacts facts() const noexcept;
  std::string sentence(bool in_doublings) const;
  std::vector<EquivalentForm> forms() const;

  /// Of a link among others: how long to look ahead, s, to see whether what follows it will stray from its goal again.
  double calm_time() const noexcept;
  /// The shortest time, s, in which its own way of dying away turns anything, `since` s after what has set it off: what
  /// has died away by then turns nothing more.
  double turning_time(double since) const noexcept;
};

/// Coefficients of one exact step of a fixed length; keep them while the length stays the same.
struct GlideStep {
  double toward;    ///< share of the gap closed in the step: 1 - e^-a, a = rate dt
  double ramp;      ///< share of the goal's own travel taken over
  double remaining; ///< e^-a
  bool from_goal;   ///< long steps are written from the goal, so that arrival is exact
};

/// Coefficients for a step of `dt` seconds (>= 0).
GlideStep glide_step(const Glide& glide, double dt) noexcept;

/// The value after the step. Exact for any dt and a goal that runs straight, within 1e-15 of the largest of the
/// value and both goals; exactly at rest stays exactly at rest.
inline double advance(const GlideStep& step, double value, GoalSegment goal) noexcept {
  if (step.from_goal) return goal.end + (step.remaining * (value - goal.start) + step.ramp * (goal.end - goal.start));
  return value + (step.toward * (goal.start - value) + step.ramp * (goal.end - goal.start));
}

/// The rate of change (space units per second) at a value and goal.
inline double velocity(const Glide& glide, double value, double goal) noexcept { return glide.rate * (goal - value); }

} // namespace stasis
