// Rows of one component behind a goal that stands.
#pragma once

#include <cstdint>
#include <span>

#include "core/clock.hpp"
#include "core/motion/link_step.hpp"

namespace stasis {

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

/// A stretch of frames behind a goal that stands.
struct Stretch {
  const Clock& clock;
  std::int64_t first; // frame
  double goal;
  const MoverRows& rows;

  std::size_t count() const noexcept { return rows.value.size() - 1; }
  std::int64_t frame(std::size_t i) const noexcept { return first + static_cast<std::int64_t>(i); }
};

/// Calls `fill` for each run of frames that are equally long: all of them on a steady clock, else one by one.
template<class Fill> void fill_steady(const Stretch& stretch, const Fill& fill) {
  const auto& [clock, first, goal, rows] = stretch;
  if (clock.is_steady()) return fill(clock.usual_dt(), rows);
  for (std::size_t i = 0; i < stretch.count(); ++i)
    fill(clock.dt(stretch.frame(i)), MoverRows{rows.value.subspan(i, 2), rows.velocity.subspan(i, 2), {}});
}

} // namespace stasis
