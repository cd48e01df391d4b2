// A camera and its subject on a fixed tick: how evenly they are drawn, by the order in which they are stepped and by
// what is drawn between ticks.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/measure/take_measures.hpp"

namespace stasis {

/// Frames of a take that are kept for drawing; what is measured is of all.
inline constexpr std::size_t most_frames_to_draw = 20'000;

/// One order and one way of drawing between ticks.
struct TickCase {
  Tick tick;
  std::string label;                             ///< "camera last, held"
  std::optional<double> subject, subject_pixels; ///< judder of the subject in the picture
  std::optional<double> picture, picture_pixels; ///< judder of the picture against steady travel
  double late = 0.0;                             ///< s by which the subject is drawn late, and the camera sees it late
  /// By frame, of the first so many: how far the subject (in the picture) and the camera are off even travel, along the
  /// subject's way, for drawing.
  std::vector<double> times, subject_off, picture_off;
  double worst() const noexcept { return std::max(subject.value_or(0.0), picture.value_or(0.0)); }
};

struct TickStudy {
  std::size_t channel = 0;
  double tick_rate = 0.0, fps = 0.0;
  double subject_speed = 0.0; ///< at its fastest, unit/s
  std::vector<TickCase> cases;
  std::size_t best = 0; ///< the most even; of those that are alike, the least late
};

/// Every order and way of drawing, for each channel that follows a place; nothing where the take has no tick.
std::vector<TickStudy> study_ticks(const Feel& feel, const Take& take);

} // namespace stasis
