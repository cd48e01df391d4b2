// How a led value goes along its way: once or again, forward or backward, at which pace.
#pragma once

#include "core/motion/instant.hpp"

namespace stasis {

/// The way's own time, by the time since it began. A pass goes from one end to the other; the first one may begin
/// before the place from which later ones do.
struct LedTime {
  double pace = 1.0;           ///< > 0: the way's seconds in a second
  double first = 0.0;          ///< s: where on the way the first pass begins
  double from = 0.0;           ///< s: where later passes begin, and those back end
  double to = 0.0;             ///< s, > from
  int passes = 1;              ///< 0: without end
  bool backward = false;       ///< the first pass goes back
  bool there_and_back = false; ///< every other pass goes the other way

  /// Seconds after which it is over; infinite if it never is.
  double total() const noexcept;
};

/// Where on its way a value is.
struct LedPlace {
  double at;    ///< s, the way's own time
  double rate;  ///< its seconds in a second: negative on the way back
  double left;  ///< s on the clock until the pass ends
  bool is_over; ///< the last pass has ended
};
/// \param before what held just before, where a pass ends or begins.
LedPlace place_at(const LedTime& time, double elapsed, bool before) noexcept;

} // namespace stasis
