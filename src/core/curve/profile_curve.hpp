// A smooth curve through knots, read from at a driving value: monotone between its knots, from straight to round.
// Source: docs/maths.md, section 6 (cubic pieces with limited tangents).
#pragma once

#include <vector>

namespace stasis {

struct ProfileKnot {
  double at;    ///< the driving value
  double value; ///< there
};

class ProfileCurve {
public:
  /// \param knots one at least, ascending; \param roundness 0 (straight pieces) to 1 (smooth).
  ProfileCurve(std::vector<ProfileKnot> knots, double roundness);

  /// Exactly the knots' values at the knots; beyond the first and the last their values.
  double value_at(double driver) const noexcept;
  const std::vector<ProfileKnot>& knots() const noexcept { return knots_; }
  /// What a piece between two knots is bent by, beside its straight line: t (1 - t) ((1 - t) start - t end) at its
  /// share t. \param piece the number of the knot at which it begins.
  struct Bend {
    double start, end;
  };
  Bend bend_of(std::size_t piece) const noexcept {
    const ProfileKnot &a = knots_[piece], &b = knots_[piece + 1];
    const double width = b.at - a.at, rise = b.value - a.value;
    return {roundness_ * (tangents_[piece] * width - rise), roundness_ * (tangents_[piece + 1] * width - rise)};
  }

private:
  std::vector<ProfileKnot> knots_;
  std::vector<double> tangents_; ///< by knot, as smooth as they come
  double roundness_;
};

} // namespace stasis
