// A range of numbers that is walked evenly, or by equal factors.
#pragma once

#include <cmath>

namespace stasis {

struct NumberRange {
  double low = 0.0, high = 1.0;
  bool by_factor = false; ///< both ends above 0

  /// The number at a share of the way, 0..1; both ends exactly.
  double number_at(double share) const noexcept {
    if (share <= 0.0) return low;
    if (share >= 1.0) return high;
    return by_factor ? low * std::pow(high / low, share) : low + (high - low) * share;
  }
  /// The share at which a number lies; of one beyond the range that of its end.
  double share_of(double number) const noexcept {
    if (!(number > low)) return 0.0;
    if (!(number < high)) return 1.0;
    return by_factor ? std::log(number / low) / std::log(high / low) : (number - low) / (high - low);
  }
};

} // namespace stasis
