// Frame times of a take. Time is frame index over rate, never a running sum.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

namespace stasis {

/// Two instants closer than this are the same instant when cues and the end of a take are matched to frames, seconds.
inline constexpr double instant_slack = 1e-9;

/// When frames are drawn: steadily, frame k at k / fps, or at times of their own.
struct Clock {
  double fps = 60.0;       ///< frames a second, > 0; of a disturbed clock as it would be undisturbed
  std::int64_t frames = 1; ///< number of frames, >= 1
  /// Of a disturbed clock: the time of each frame, and of one more that is not drawn. Ascending, the first 0.
  std::shared_ptr<const std::vector<double>> times{};

  bool is_steady() const noexcept { return times == nullptr; }
  double time(std::int64_t frame) const noexcept {
    return times == nullptr ? static_cast<double>(frame) / fps : (*times)[static_cast<std::size_t>(frame)];
  }
  /// Seconds from one frame to another, rounded once.
  double elapsed(std::int64_t from, std::int64_t to) const noexcept {
    return times == nullptr ? static_cast<double>(to - from) / fps : time(to) - time(from);
  }
  /// Seconds from a frame to the next.
  double dt(std::int64_t frame) const noexcept { return times == nullptr ? 1.0 / fps : elapsed(frame, frame + 1); }
  /// Seconds of a frame if nothing disturbs it.
  double usual_dt() const noexcept { return 1.0 / fps; }
  /// How many whole frames from `frame` on lie within `span` seconds; at most `most`.
  std::int64_t frames_within(std::int64_t frame, double span, std::int64_t most) const noexcept;
};

/// A frame that takes longer.
struct Stall {
  double at = 0.0;     ///< s: the first frame that would begin at or after this begins late
  double length = 0.0; ///< s by which
};

/// What disturbs a clock.
struct Disturbance {
  double jitter = 0.0; ///< share (0..1) of a frame's time by which it may be longer or shorter
  std::uint64_t seed = 1;
  std::vector<Stall> stalls; ///< ascending
  bool any() const noexcept { return jitter > 0.0 || !stalls.empty(); }
};

/// The clock of a take of `length` seconds: every frame with time <= length + 1 ns.
Clock steady_clock(double fps, double length) noexcept;
/// The same disturbed; steady where nothing disturbs it.
Clock disturbed_clock(double fps, double length, const Disturbance& disturbance);

/// The first frame at which a cue at time `at` (seconds, >= 0) is due.
std::int64_t due_frame(const Clock& clock, double at) noexcept;

} // namespace stasis
