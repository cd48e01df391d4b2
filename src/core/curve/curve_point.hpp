// A progress curve at one place.
#pragma once

#include <cstdint>

namespace stasis {

/// Progress and its first three derivatives by the share of time. A derivative is infinite where the tangent is
/// vertical.
struct CurvePoint {
  double value;
  double slope;
  double bend;
  double twist;
};

/// Which side of a corner or jump is meant: what holds from there on, or what held just before.
enum class Side : std::uint8_t { at, before };

} // namespace stasis
