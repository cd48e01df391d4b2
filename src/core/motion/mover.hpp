// One component of a channel on its way: the state that a motion carries, and its exact steps.
#pragma once

#include <cstdint>
#include <memory>
#include <variant>

#include "core/clock.hpp"
#include "core/motion/motion.hpp"
#include "core/motion/run.hpp"
#include "core/motion/stretch.hpp"
#include "core/unbounded.hpp"

namespace stasis {

/// What a motion carries from frame to frame, in the channel's space.
struct MoverState {
  double value = 0.0;
  double velocity = 0.0; ///< carried by `spring`; for the others it follows from the rest. A move that has just arrived
                         ///< is at rest
  std::shared_ptr<const Run> run;
  SpringState input{}; ///< of stages: what the first link follows, and its rate
  LinkStates links{};  ///< of stages
};

/// A state at rest at `value`.
MoverState state_at_rest(double value) noexcept;
/// Another motion takes over: value and velocity go on, everything else starts afresh.
void adopt(const Motion& motion, MoverState& state) noexcept;

/// True if what one motion carries means the same to another: they are of one kind, and stages of as many links.
bool carry_alike(const Motion& a, const Motion& b) noexcept;

/// Keeps the memory of runs that are over for those that begin; it stays as long as one of them does.
class RunPool {
public:
  std::shared_ptr<Run> make();

private:
  class Memory;
  std::shared_ptr<Memory> memory_;
};

struct MoveStart {
  std::int64_t frame = 0;
  double offset = 0.0; ///< s after that frame
  double goal = 0.0;
  bool once = false;                         ///< see EaseRun
  double old_goal = 0.0;                     ///< where it was heading before
  double low = -unbounded, high = unbounded; ///< the channel's range
  const PacePlan* plan = nullptr;            ///< of a pace that moves several components together
  std::size_t axis = 0;                      ///< the component's place in that plan
  RunPool* runs = nullptr;                   ///< from which the run's memory comes; null: from anywhere
};
/// The goal of a mover has jumped (for stages: the jump has come through their delay).
/// Begins an eased or paced move. Springs and glides carry on by themselves.
void begin_move(const Motion& motion, MoverState& state, const MoveStart& start);
/// What a pace starts from: value and velocity of the part that moves by it.
SpringState pace_start(const Motion& motion, const MoverState& state) noexcept;

/// The last step's coefficients, kept while dt stays the same; of stages those of several lengths.
struct StepMemory {
  double dt = -1.0;
  std::variant<std::monostate, GlideStep, SpringStep, LinkSteps> step;
};

/// The remembered step if it is of this kind and length, else a new one.
template<class Step, class Make> const Step& remembered(StepMemory& memory, double dt, Make make) {
  if (memory.dt != dt || !std::holds_alternative<Step>(memory.step)) {
    memory.step = make();
    memory.dt = dt;
  }
  return *std::get_if<Step>(&memory.step);
}
/// The remembered steps of stages.
LinkSteps& link_steps(StepMemory& memory);

/// Advances over `rows.value.size() - 1` frames from frame `first` with a standing goal, filling the rows. A pace needs
/// a run.
void advance_rows(const Motion& motion, MoverState& state, StepMemory& memory, const Clock& clock, std::int64_t first,
                  double goal, const MoverRows& rows);

/// Advances by `h` seconds while the goal runs along `goal`. \param time into the run, if there is one. \returns the
/// rate just before the end.
double advance(const Motion& motion, MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h);

/// The rate just after a frame begins, its goal at `goal` and moving at `slope`.
double rate_at_start(const Motion& motion, const MoverState& state, double run_elapsed, double goal, double slope);

/// True if the motion can follow a goal that moves by itself; an eased or paced move that waits cannot.
bool follows_moving_goals(const Motion& motion) noexcept;

/// One update of a per-frame rule. \returns the rate at which the value goes over the frame.
double update_once(const PerFrame& rule, MoverState& state, double goal, double dt) noexcept;

/// Where stages have come to at a break within a piece.
struct StagesAtBreak {
  double time = 0.0; ///< s into the piece
  Instant input;     ///< of the first link, just after it
  LinkStates links;
};

} // namespace stasis
