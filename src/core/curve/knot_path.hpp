// A value led through given values at given knots: smoothly, or never beyond its neighbours. Source: docs/maths.md,
// section 13.
#pragma once

#include <array>
#include <vector>

#include "core/curve/curve_point.hpp"

namespace stasis {

/// A time is a sum, and may miss by a rounding the instant that it is meant to be: the nearest of some instants,
/// ascending, if it is that near, else the time itself.
double meant_instant(double time, const std::vector<double>& instants) noexcept;

/// What a path does at one of its ends.
struct PathEnd {
  enum class Kind : std::uint8_t {
    slope,  ///< it has this slope there
    free,   ///< it is straight there: it does not bend
    closed, ///< it ends as it begins; of both ends or none
  } kind = Kind::slope;
  double slope = 0.0;
};

/// Polynomials between knots, continuous in value, slope and bend.
class KnotPath {
public:
  /// The cubic spline. \param knots ascending, at least one; \param values as many. Closed ends take three knots at
  /// least and equal values at both.
  static KnotPath smooth(std::vector<double> knots, const std::vector<double>& values, PathEnd start, PathEnd end);
  /// Quintic pieces, each monotone: no value lies beyond those of the two knots around it. A slope at an end that
  /// leads away from the next knot is not kept.
  static KnotPath between_neighbours(std::vector<double> knots, const std::vector<double>& values, PathEnd start,
                                     PathEnd end);

  /// The path and its derivatives. Before its first and after its last knot it stands at what it has there.
  /// \param side at a knot the third derivative, and at the ends every one, may differ.
  CurvePoint at(double u, Side side = Side::at) const noexcept;
  const std::vector<double>& knots() const noexcept { return knots_; }

private:
  using Piece = std::array<double, 6>; ///< coefficients of the powers of u since the piece's first knot
  std::vector<double> knots_;
  std::vector<Piece> pieces_;
  double first_ = 0.0, last_ = 0.0;
};

} // namespace stasis
