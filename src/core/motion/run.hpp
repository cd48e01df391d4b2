// An eased, paced or led move under way: a closed form of the time since it began.
#pragma once

#include <algorithm>
#include <cstdint>
#include <memory>

#include "core/clock.hpp"
#include "core/motion/ease.hpp"
#include "core/motion/pace.hpp"

namespace stasis {

struct LedCourse;

/// Never changed once begun.
struct Run {
  std::int64_t start_frame = 0;
  double offset = 0.0;                    ///< s after that frame
  EaseRun way;                            ///< from where to where, in the space
  PacePlan pace;                          ///< of a pace
  std::size_t axis = 0;                   ///< of a pace: which component of its plan this is
  std::shared_ptr<const LedCourse> led{}; ///< of a value that is led: the run is this, and nothing else

  /// Seconds from the run's start to `at` seconds after a frame's beginning; 0 before it.
  double elapsed(const Clock& clock, std::int64_t frame, double at = 0.0) const noexcept {
    const double since = clock.elapsed(start_frame, frame) + at;
    return offset == 0.0 ? since : std::max(0.0, since - offset);
  }
};

struct RunGoal {
  double value;
  double velocity;
};

/// The move `elapsed` seconds after its start. \param ease null for a pace, and where it is led.
Instant instant_of(const Ease* ease, const Run& run, double elapsed, const RunGoal& goal,
                   Side side = Side::at) noexcept;
/// The first instant after `elapsed` at which value, velocity or acceleration may jump; infinite if there is none.
double next_break(const Ease* ease, const Run& run, double elapsed);
/// Seconds within which a time of the run counts as the break that it misses.
double rounding_at(const Ease* ease, const Run& run, double elapsed) noexcept;
/// Seconds after which nothing moves any more.
double total_time(const Ease* ease, const Run& run) noexcept;

} // namespace stasis
