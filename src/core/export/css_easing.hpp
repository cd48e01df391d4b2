// A motion as an easing function of the CSS Easing Functions standard.
#pragma once

#include <string>

#include "core/motion/motion.hpp"

namespace stasis {

struct CssEasing {
  std::string easing;    ///< "linear(0, 0.31 12%, 1)", "cubic-bezier(0.25, 0.1, 0.25, 1)"; empty where `fault` says why
  double duration = 0.0; ///< s, one way
  double delay = 0.0;    ///< s before it
  bool is_exact = false; ///< the same function, except for the digits that are printed
  std::size_t stops = 0; ///< of linear()
  double deviation = 0.0; ///< largest distance from the motion, a share of the way
  bool is_cut = false;    ///< the motion has no end: from `duration` on it is within the tolerance of its goal
  std::string fault;      ///< why there is none, for the end of a sentence
};

/// The motion's step from 0 to 1 with the fewest stops that stay within `tolerance` (> 0, a share of the way) of it, or
/// exactly where the standard has the function itself. One way of a move that is made several times.
CssEasing css_easing(const Motion& motion, double tolerance);

} // namespace stasis
