// The rungs on which clicks move a base: whole numbers of steps from the resting value, both ends of the range the
// last.
#pragma once

#include "core/feel/feel.hpp"

namespace stasis {

class Ladder {
public:
  Ladder(const Channel& channel, const Clicks& clicks) noexcept;

  /// Number of the highest and the lowest rung; rung 0 is the resting value. Infinite range: very many.
  int highest() const noexcept { return highest_; }
  int lowest() const noexcept { return lowest_; }
  /// The value of a rung, in the channel's unit; the ends of the range for the last ones and beyond.
  double value(int rung) const noexcept;
  /// The rung reached from `value` by so many clicks; from between two rungs the first click leads to the next.
  int after(double value, int clicks) const noexcept;
  /// The rung at or next below `value`.
  int at(double value) const noexcept;

private:
  double position(double value) const noexcept;

  Clicks clicks_;
  double rest_, low_, high_;
  double radians_per_unit_;
  int lowest_ = 0, highest_ = 0;
};

} // namespace stasis
