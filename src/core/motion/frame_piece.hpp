// Frames seen from inside: what a motion does between two rows, on its own exact solution.
#pragma once

#include <optional>

#include "core/motion/mover.hpp"

namespace stasis {

/// A stretch of a frame in which one motion works towards a goal that runs straight.
struct FramePiece {
  std::size_t row = 0; ///< which frame of its block
  double from = 0.0;   ///< s into that frame
  double dt = 0.0;     ///< s: how long it is
  const Motion* motion = nullptr;
  MoverState state;         ///< at its beginning
  double run_elapsed = 0.0; ///< s since the run began, then
  GoalSegment goal{};
  double end_value = 0.0; ///< at its end, as stepped; spares stepping there again
  double end_velocity = 0.0;
  std::optional<StageRow> end_stages;            ///< of stages: the same for what they carry
  mutable std::optional<StagesAtBreak> at_break; ///< of stages, looked into: the last break that was passed
  bool arrived = false;                          ///< as it begins, a jump of the goal has come through a delay
  bool drawn = false; ///< the motion has gone by a clock of its own: what is drawn goes straight over the frame

  double slope() const noexcept { return slope_of(goal, dt); } ///< how fast the goal runs
};

/// A spring's step, kept for components that take the same one.
struct KeptSpringStep {
  const Motion* motion = nullptr;
  double u = 0.0;
  SpringStep step{};
};
/// The motion's own exact solution `u` seconds into the piece (0..dt). \param kept filled, and used where it fits.
Instant inside(const FramePiece& piece, double u, Side side = Side::at, KeptSpringStep* kept = nullptr);
/// The first instant after `u` seconds into the piece, and not after its end, at which value, velocity or acceleration
/// may jump, if there is one. What lies at an end of the piece by all but a rounding lies there, and belongs to the
/// piece that ends.
std::optional<double> next_break(const FramePiece& piece, double u);

/// What can still come of the piece's end.
Outlook outlook_at_end(const FramePiece& piece);
/// The outlook of what never goes farther from its goal, nor past it.
Outlook straight_on(const FramePiece& piece) noexcept;
/// Where nothing is known between two frames: what is drawn goes straight on.
Instant drawn_inside(const FramePiece& piece, double u) noexcept;
/// How far ahead, seconds, one must look to see whether a value near its goal will stray from it again.
double time_to_calm(const FramePiece& piece) noexcept;

/// Longest stretch, seconds, from `u` seconds into the piece on, in which value, speed and acceleration each turn at
/// most once, `since` seconds after the last break or the piece's beginning.
double smooth_stretch(const FramePiece& piece, double u, double since) noexcept;

} // namespace stasis
