// `ease`: a move of fixed duration along a curve. Source: docs/maths.md, section 3.
#pragma once

#include <cstdint>
#include <limits>

#include "core/curve/curve.hpp"
#include "core/motion/asked.hpp"

namespace stasis {

/// What happens when a new goal comes while a move is under way.
enum class Handover : std::uint8_t {
  restart,      ///< the full duration again, from where the value is; the speed may jump
  pro_rata,     ///< the duration times the share of the way that is left to go
  carry,        ///< value and speed go on
  finish_first, ///< the move is finished, then the last request is taken up
};

struct Ease {
  double duration; ///< s, > 0: one way
  Curve curve;
  Handover handover = Handover::restart;
  double delay = 0.0;          ///< s, >= 0: how long the value waits before it moves
  int repeat = 1;              ///< how often the move is made, >= 1
  bool there_and_back = false; ///< each time it returns to where it began
  double brake_at_least = 0.0; ///< s: `carry` shortens a move that comes in fast to no less; 0: a quarter of `duration`

  std::string_view name() const noexcept { return "ease"; }
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
  Ease slowed(double) const { return *this; } // it takes the time that it is given
  MotionTraits traits() const noexcept;
  MotionFacts facts() const noexcept;
  std::string sentence(bool in_doublings) const;
  std::vector<EquivalentForm> forms() const { return {{"duration", duration, "s", "exact"}}; }
};

/// One move of an ease: where it goes, and whether it is made just once, one way (as when the base takes over).
struct EaseRun {
  double from = 0.0, to = 0.0; ///< in the space
  bool once = false;
  double share = 1.0;      ///< of the ease's duration, > 0
  bool at_once = false;    ///< does not wait: it carries a speed on
  double mix = 0.0;        ///< 0..1: how much of a smoothstep takes the curve's place
  bool plain = false;      ///< a smoothstep in the curve's place altogether
  double push = 0.0;       ///< what is added at the start so that the speed goes on, per duration
  double push_width = 1.0; ///< (0, 1]: over which part of the move that fades
  bool overruns = false;   ///< it came in too fast to brake before its goal
};

/// What a move starts from.
struct EaseStart {
  double from = 0.0, to = 0.0;
  double old_goal = 0.0; ///< where the value was heading
  double velocity = 0.0; ///< with which it comes
  double low = -std::numeric_limits<double>::infinity(), high = std::numeric_limits<double>::infinity(); ///< its range
  bool once = false;
};
/// The move by the ease's handover rule. Source: docs/maths.md, section 3.
EaseRun begin_ease(const Ease& ease, const EaseStart& start) noexcept;

/// Seconds from the goal's jump until nothing moves any more.
double total_time(const Ease& ease, const EaseRun& run) noexcept;

/// The move `elapsed` seconds after the goal's jump, its goal now at `goal`, moving at `goal_velocity`. Ways back lead
/// to `run.from`. A curve that does not end at 1 stays where it ends.
Instant evaluate(const Ease& ease, const EaseRun& run, double elapsed, double goal, double goal_velocity,
                 Side side = Side::at) noexcept;

/// Seconds within which an elapsed time, which is a sum, counts as the end of a leg or the corner that it misses: what
/// is asked on one side of a break within that is answered as on the other.
double rounding_at(const Ease& ease, const EaseRun& run, double elapsed) noexcept;

/// The first instant after `elapsed`, by more than a rounding, at which value, speed or acceleration may jump; infinite
/// if there is none.
double next_break(const Ease& ease, const EaseRun& run, double elapsed);

/// Seconds from `elapsed` on in which value, speed and acceleration of the move each turn at most once, if nothing
/// breaks before; infinite before it begins and once it is over.
double smooth_stretch(const Ease& ease, const EaseRun& run, double elapsed) noexcept;

/// The first instant after `elapsed` at which a move that goes there and back turns; infinite if there is none.
double next_turn(const Ease& ease, const EaseRun& run, double elapsed) noexcept;
/// Where the move is heading at `elapsed`: its goal, or where it began.
double heading(const Ease& ease, const EaseRun& run, double elapsed) noexcept;

} // namespace stasis
