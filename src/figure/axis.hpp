// Value axes: a range that holds the data, and a few round ticks.
#pragma once

#include <string>
#include <vector>

namespace stasis::figure {

struct Axis {
  double low = 0.0;
  double high = 1.0;
  std::vector<double> ticks;
  int decimals = 0;

  /// The share of the way from low to high.
  double share(double value) const noexcept { return (value - low) / (high - low); }
  std::string tick_text(double tick) const;
};

/// The multiples of a step from `low` to `high`, both ends with a billionth of it in hand; none where they are more
/// than anything could show. Counted by number: a step that is added to a large place may not change it.
std::vector<double> multiples_of(double step, double low, double high);

/// An axis over low..high with a little room on both sides, and at most `most_ticks` ticks at steps of 1, 2 or 5 times
/// a power of ten (4 or 3 where those leave a single tick). A range without extent is given one.
Axis value_axis(double low, double high, int most_ticks);
/// An axis of exactly 0..length whose ticks lie on round seconds.
Axis time_axis(double length, int most_ticks);

} // namespace stasis::figure
