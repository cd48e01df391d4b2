// What a curve does, as numbers and in words.
#pragma once

#include <optional>
#include <string>

#include "core/curve/curve.hpp"

namespace stasis {

/// Speeds are in multiples of the mean speed of a move from 0 to 1, and infinite where the curve is vertical.
struct CurveFacts {
  double half_time_share = 0.0; ///< progress at half the time
  double fastest_speed = 0.0;   ///< largest size
  double fastest_at = 0.0;      ///< time of it, 0..1: the first, where several are alike
  double start_speed = 0.0;     ///< signed, just after the start
  double end_speed = 0.0;       ///< signed, just before the end
  double overshoot = 0.0;       ///< how far beyond 1, a share; 0 if nowhere
  double overshoot_at = 0.0;
  double undershoot = 0.0; ///< how far below 0
  double undershoot_at = 0.0;
  double start_value = 0.0;  ///< just after the start; not 0 if it jumps there
  double end_value = 1.0;    ///< where the curve stays; 1 unless it falls short or beyond
  int jumps = 0;             ///< places where the value jumps, both ends included
  double largest_jump = 0.0; ///< a share
  int corners = 0;           ///< places inside where the speed jumps
  int turns = 0;             ///< places where it turns back
  bool is_steady = false;    ///< one speed throughout
  bool is_symmetric = false; ///< its end is its start turned round
};

/// Facts to about 1e-9, found between the curve's corners.
CurveFacts facts_of(const Curve& curve);

/// A curve by name, with what is known of it.
struct KnownCurve {
  std::string name;
  Curve curve;
  CurveFacts facts;
};

/// One sentence: how it starts, where it is fastest, how it ends, whether it overshoots, the share at half time.
std::string in_words(const CurveFacts& facts);

} // namespace stasis
