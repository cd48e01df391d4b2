// One component of a channel on its way: the state that a motion carries, and its exact steps.
#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <variant>

#include "core/motion/goal_segment.hpp"
#include "core/motion/instant.hpp"
#include "core/motion/motion.hpp"
#include "core/motion/run.hpp"
#include "core/take/clock.hpp"
#include "core/unbounded.hpp"

namespace stasis {

/// What a motion carries from frame to frame, in the channel's space.
struct MoverState {
  double value = 0.0;
  double velocity = 0.0; ///< carried by `spring`; for the others it follows from the rest
  std::shared_ptr<const Run> run;
  SpringState input{}; ///< of stages: what the first link follows, and its rate
  LinkStates links{};  ///< of stages
};

/// A state at rest at `value`.
MoverState state_at_rest(double value) noexcept;
/// Another motion takes over: value and velocity go on, everything else starts afresh.
void adopt(const Motion& motion, MoverState& state) noexcept;

/// The goal of a mover has jumped (for stages: the jump has come through their delay).
struct MoveStart {
  std::int64_t frame = 0;
  double offset = 0.0; ///< s after that frame
  double goal = 0.0;
  bool once = false;                         ///< see EaseRun
  double old_goal = 0.0;                     ///< where it was heading before
  double low = -unbounded, high = unbounded; ///< the channel's range
  const PacePlan* plan = nullptr;            ///< of a pace that moves several components together
  std::size_t axis = 0;                      ///< the component's place in that plan
};
/// Begins an eased or paced move. Springs and glides carry on by themselves.
void begin_move(const Motion& motion, MoverState& state, const MoveStart& start);
/// What a pace starts from: value and velocity of the part that moves by it.
SpringState pace_start(const Motion& motion, const MoverState& state) noexcept;

/// The last step's coefficients, kept while dt stays the same.
struct StepMemory {
  double dt = -1.0;
  std::variant<std::monostate, GlideStep, SpringStep, std::shared_ptr<const LinkStep>> step;
};

/// The remembered step if it is of this kind and length, else a new one.
template<class Step, class Make> const Step& remembered(StepMemory& memory, double dt, Make make) {
  if (memory.dt != dt || !std::holds_alternative<Step>(memory.step)) {
    memory.step = make();
    memory.dt = dt;
  }
  return *std::get_if<Step>(&memory.step);
}

/// What stages carry at one row beside value and velocity.
struct StageRow {
  SpringState input;
  LinkStates links;
};

/// Rows of one component: one entry for each frame and one more for the end of the last step.
struct MoverRows {
  std::span<double> value;
  std::span<double> velocity; ///< just after the frame's goal acts; the last entry is the rate just before the end
  std::span<StageRow> stages; ///< empty unless the motion has stages
};

/// Advances over `rows.value.size() - 1` frames from frame `first` with a standing goal, filling the rows.
void advance_rows(const Motion& motion, MoverState& state, StepMemory& memory, const Clock& clock, std::int64_t first,
                  double goal, const MoverRows& rows);

/// One update of a rule of frames. \returns the rate at which the value goes over the frame.
double update_once(const PerFrame& rule, MoverState& state, double goal, double dt) noexcept;

/// Advances by any time `h` with a standing goal, `run_elapsed` seconds into the run if there is one.
void advance_by(const Motion& motion, MoverState& state, double run_elapsed, double goal, double h);

/// A chain `u` seconds after a state that is `elapsed` seconds into its run.
Instant instant_in_chain(const Chain& chain, MoverState state, double elapsed, double goal, double u, Side side);

/// A jump that comes through a delay within a frame.
struct Arrival {
  double at = 0.0; ///< s into the frame
  MoverState state;
  double goal = 0.0;
};

/// A frame seen from inside: where it began and how its goal ran.
struct FramePiece {
  const Motion* motion = nullptr;
  MoverState state;
  double run_elapsed = 0.0; ///< s since the run began
  GoalSegment goal{};
  double dt = 0.0;
  double end_value = 0.0; ///< at the end of the frame, as stepped; spares stepping there again
  double end_velocity = 0.0;
  std::optional<StageRow> end_stages; ///< of stages: the same for what they carry
  std::optional<Arrival> arrival;
  bool drawn = false;         ///< the motion has gone by a clock of its own: what is drawn goes straight over the frame
  std::optional<double> turn; ///< s into the frame at which a move that goes there and back turns
};

/// The motion's own exact solution `u` seconds into the frame (0..dt).
Instant inside(const FramePiece& piece, double u, Side side = Side::at);
/// The first instant after `u` seconds into the frame, and not after its end, at which value, velocity or acceleration
/// may jump, if there is one.
std::optional<double> next_break(const FramePiece& piece, double u);
/// What can still come of a frame's end if the goal stays: bounds, in the space.
struct Outlook {
  double stray;  ///< largest distance from the goal
  double beyond; ///< largest distance past the goal, seen from where the value now is
};
Outlook outlook_at_end(const FramePiece& piece);
/// How far ahead, seconds, one must look to see whether a value near its goal will stray from it again.
double time_to_calm(const FramePiece& piece) noexcept;
/// Longest stretch, seconds, in which the motion turns at most once: a quarter of a spring's damped period.
double longest_smooth_stretch(const Motion& motion) noexcept;

} // namespace stasis
