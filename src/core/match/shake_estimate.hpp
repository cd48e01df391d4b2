// How strong a recorded shake is, how fast it rattles and how quickly it dies away, by its rows alone: nothing is known
// of its wave but that it is random. docs/maths.md, section 12.
#pragma once

#include <optional>
#include <vector>

namespace stasis {

/// Rows of a shake; times ascending, s; values in the unit of the recording.
struct ShakeRows {
  std::vector<double> times, values;
  double noise = 0.0;         ///< deviation of what is random from row to row beside it
  std::optional<double> base; ///< about which it shakes, where that is known
  std::optional<double> hit;  ///< s: from when on, where that is known
};

struct ShakeEstimate {
  double hit = 0.0;       ///< s
  double base = 0.0;      ///< in the recording's unit
  double rms = 0.0;       ///< at the hit, unit
  double fading = 0.0;    ///< 1/s: ln 2 / half-life; 0 or less where it does not die away
  double noise = 0.0;     ///< unit: what is random from row to row beside it
  double frequency = 0.0; ///< Hz: centroid of the power
  double bandwidth = 0.0; ///< Hz: root mean square distance of the power from that

  /// Share of its strength at a time, s: 0 before the hit.
  double strength_at(double time) const noexcept;
};

/// Nothing where there are fewer than 12 rows, or nothing stands out from the noise.
std::optional<ShakeEstimate> estimate_shake(const ShakeRows& rows);

/// The deviation of what is random from row to row, where a shake is not always there: that of the quietest stretches.
double quiet_noise(const std::vector<double>& values);

} // namespace stasis
