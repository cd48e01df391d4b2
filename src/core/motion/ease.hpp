// `ease`: a move of fixed duration along a curve. Source: docs/maths.md, section 3.
#pragma once

#include <limits>

#include "core/curve/curve.hpp"
#include "core/motion/instant.hpp"

namespace stasis {

/// What happens when a new goal comes while a move is under way.
enum class Handover {
  restart, ///< the full duration again, from where the value is; the speed may jump
};

struct Ease {
  double duration; ///< s, > 0: one way
  Curve curve;
  Handover handover = Handover::restart;
  double delay = 0.0;          ///< s, >= 0: how long the value waits before it moves
  int repeat = 1;              ///< how often the move is made, >= 1
  bool there_and_back = false; ///< each time it returns to where it began
};

/// One move of an ease: where it goes, and whether it is made just once, one way (as when the base takes over).
struct EaseRun {
  double from = 0.0, to = 0.0; ///< in the space
  bool once = false;
};

/// Seconds from the goal's jump until nothing moves any more.
double total_time(const Ease& ease, const EaseRun& run) noexcept;

/// The move `elapsed` seconds after the goal's jump, its goal now at `goal`, moving at `goal_velocity`. Ways back lead
/// to `run.from`. A curve that does not end at 1 stays where it ends.
Instant evaluate(const Ease& ease, const EaseRun& run, double elapsed, double goal, double goal_velocity,
                 Side side = Side::at) noexcept;

/// The first instant after `elapsed` at which value, speed or acceleration may jump; infinite if there is none.
double next_break(const Ease& ease, const EaseRun& run, double elapsed);

/// The first instant after `elapsed` at which a move that goes there and back turns; infinite if there is none.
double next_turn(const Ease& ease, const EaseRun& run, double elapsed) noexcept;
/// Where the move is heading at `elapsed`: its goal, or where it began.
double heading(const Ease& ease, const EaseRun& run, double elapsed) noexcept;

} // namespace stasis
