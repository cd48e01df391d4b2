// One component of a channel on its way: the motion's parameters, the state that it carries, and its exact steps.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string_view>
#include <variant>

#include "core/motion/ease.hpp"
#include "core/motion/glide.hpp"
#include "core/motion/goal_segment.hpp"
#include "core/motion/instant.hpp"
#include "core/motion/spring.hpp"
#include "core/take/clock.hpp"

namespace stasis {

/// The value is the goal, one frame later.
struct Cut {};

using Motion = std::variant<Cut, Glide, Spring, Ease>;

/// "cut", "glide", "spring" or "ease".
std::string_view kind_of(const Motion& motion) noexcept;

/// What a motion carries from frame to frame, in the channel's space.
struct MoverState {
  double value = 0.0;
  double velocity = 0.0;      ///< carried by `spring`; for the others it follows from the rest
  double run_from = 0.0;      ///< `ease`: where the move under way began
  std::int64_t run_start = 0; ///< `ease`: frame at which it began
  bool running = false;       ///< `ease`: a move is under way
};

/// The last step's coefficients, kept while dt stays the same.
struct StepMemory {
  double dt = -1.0;
  std::variant<std::monostate, GlideStep, SpringStep> step;
};

/// Tells the motion that its goal has jumped at `frame`. Springs and glides carry on by themselves.
void begin_move(const Motion& motion, MoverState& state, std::int64_t frame) noexcept;

/// Rows of one component: one entry for each frame and one more for the end of the last step.
struct MoverRows {
  std::span<double> value;
  std::span<double> velocity; ///< just after the frame's goal acts; the last entry is the rate just before the end
};

/// Advances over `rows.value.size() - 1` frames from frame `first` with a standing goal, filling the rows.
void advance_rows(const Motion& motion, MoverState& state, StepMemory& memory, const Clock& clock, std::int64_t first,
                  double goal, const MoverRows& rows) noexcept;

/// A frame seen from inside: where it began and how its goal ran.
struct FramePiece {
  const Motion* motion;
  double value; ///< at the start of the frame
  double velocity;
  double run_from;
  double run_elapsed; ///< seconds since the eased move began; irrelevant to other motions
  bool running;
  GoalSegment goal;
  double dt;
  double end_value; ///< at the end of the frame, as stepped; spares stepping there again
  double end_velocity;
};

/// The motion's own exact solution `u` seconds into the frame (0..dt).
Instant inside(const FramePiece& piece, double u) noexcept;
/// The same just before `u`, where that differs (an eased move arriving at speed).
Instant inside_before(const FramePiece& piece, double u) noexcept;
/// Seconds into the frame at which the velocity may jump, if it does (an eased move arriving).
std::optional<double> break_inside(const FramePiece& piece) noexcept;
/// What can still come of a frame's end if the goal stays: bounds, in the space.
struct Outlook {
  double stray;  ///< largest distance from the goal
  double beyond; ///< largest distance past the goal, seen from where the value now is
};
Outlook outlook_at_end(const FramePiece& piece) noexcept;
/// How far ahead, seconds, one must look to see whether a value near its goal will stray from it again.
double time_to_calm(const FramePiece& piece) noexcept;
/// Longest stretch, seconds, in which the motion turns at most once: a quarter of a spring's damped period.
double longest_smooth_stretch(const Motion& motion) noexcept;

} // namespace stasis
