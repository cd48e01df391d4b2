// `pace`: to the goal in the least time that a largest speed and a largest acceleration allow.
// Source: docs/maths.md, section 3 (time-optimal control of a double integrator with a speed limit).
#pragma once

#include <algorithm>
#include <array>

#include "core/curve/curve_point.hpp"
#include "core/motion/asked.hpp"
#include "core/unbounded.hpp"

namespace stasis {

/// Limits in the channel's space.
struct Pace {
  double speed;        ///< per second, > 0
  double acceleration; ///< per second squared, > 0; infinite: at full speed at once, and at rest at once

  std::string_view name() const noexcept { return "pace"; }
  void fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const noexcept;
  double go_on(MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) const noexcept;
  double starting_rate(const MoverState& state, double elapsed, double goal, double slope) const noexcept;
  Instant inside(const FramePiece& piece, double u, Side side, KeptSpringStep& kept) const noexcept;
  std::optional<double> next_break(const FramePiece& piece, double u) const;
  Outlook outlook(const FramePiece& piece) const noexcept;
  double calm_time(const FramePiece& piece) const noexcept;
  double smooth_stretch(const FramePiece& piece, double u, double since) const noexcept;
  std::optional<Response> response(double) const noexcept { return std::nullopt; }
  std::optional<double> lag() const noexcept { return std::nullopt; }
  Pace slowed(double) const noexcept { return *this; } // it goes by its limits
  MotionTraits traits() const noexcept {
    return {.keeps_speed = true, .takes_speed_over = true, .goes_on_alike = true};
  }
  MotionFacts facts() const noexcept;
  std::string sentence(bool in_doublings) const;
  std::vector<EquivalentForm> forms() const { return {}; } // no other words for it
};

constexpr Pace pace_at_once(double speed) noexcept { return {speed, unbounded}; }

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
  double start_velocity = 0.0; ///< just after the start: without a limit of acceleration at full speed already
  std::array<PacePhase, 3> phases{};
  double total = 0.0;       ///< s
  bool unavoidable = false; ///< it comes in too fast to stop at the goal, and must come back

  /// The time-optimal leg from `velocity` to rest at `gap` ahead.
  static PaceLeg plan(double gap, double velocity, const PaceLimits& limits) noexcept;
};

/// Seconds by which an elapsed time, which is a sum, may miss the end of a phase that it is meant to be.
double rounding_at(const PaceLeg& leg, double t) noexcept;
/// True from the end of the leg on.
bool is_over(const PaceLeg& leg, double t, Side side) noexcept;
/// The leg `t` seconds after its start; from `total` on exactly at its gap, at rest.
Instant evaluate(const PaceLeg& leg, double t, Side side = Side::at) noexcept;

/// The first instant after `t`, by more than a rounding, at which a leg's acceleration changes, s; infinite if there is
/// none.
double next_phase(const PaceLeg& leg, double t) noexcept;

/// The way after a goal that runs straight, planned from where it begins: seen from the goal the limits differ by its
/// speed. A goal that goes faster than the pace is met where it comes towards the value, and chased at full speed where
/// it leaves it behind.
class PaceChase {
public:
  PaceChase(const Pace& pace, double from, double velocity, GoalSegment goal, double h) noexcept;
  /// `s` seconds on; once caught, with the goal.
  Instant at(double s, Side side = Side::at) const noexcept;
  double next_break(double s) const noexcept;
  double rounding(double s) const noexcept { return 2.0 * std::max(rounding_at(leg_, s), rounding_at(after_, s)); }

private:
  PaceLeg leg_, after_;   // until it meets a goal that is faster, and from there on
  double from_, carried_; // the leg is seen from a place that goes at this speed
  double goal_, slope_;
  double meets_ = unbounded, met_ = 0.0; // when, s, and where
};

/// A move of a vector: one leg along the gap, one across it that takes out the sideways speed, both ending together.
struct PacePlan {
  PaceLeg along, across;
  std::array<double, 3> along_axis{}, across_axis{};
};

/// \param gap, velocity by component (unused ones zero). From rest, or with speed along the gap only, the way is
/// straight.
PacePlan plan_pace(const Pace& pace, const std::array<double, 3>& gap, const std::array<double, 3>& velocity) noexcept;

} // namespace stasis
