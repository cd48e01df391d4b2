// Frame times of a take. Time is frame index over rate, never a running sum.
#pragma once

#include <cstdint>

namespace stasis {

/// Two instants closer than this are the same instant when cues and the end of a take are matched to frames, seconds.
inline constexpr double instant_slack = 1e-9;

/// A steady clock: frame k is drawn at k / fps.
struct Clock {
  double fps = 60.0;       ///< frames a second, > 0
  std::int64_t frames = 1; ///< number of frames, >= 1

  double time(std::int64_t frame) const noexcept { return static_cast<double>(frame) / fps; }
  /// Seconds from one frame to another, rounded once.
  double elapsed(std::int64_t from, std::int64_t to) const noexcept { return static_cast<double>(to - from) / fps; }
  double dt() const noexcept { return 1.0 / fps; }
};

/// The clock of a take of `length` seconds: every frame with time <= length + 1 ns.
Clock steady_clock(double fps, double length) noexcept;

/// The first frame at which a cue at time `at` (seconds, >= 0) is due.
std::int64_t due_frame(const Clock& clock, double at) noexcept;

} // namespace stasis
