// Least squares of one rule on one move.
#pragma once

#include <optional>
#include <vector>

#include "core/match/step_rules.hpp"

namespace stasis {

/// Rows in the coordinates in which the rule works, each with the weight of its distance.
struct FitRows {
  std::vector<double> times, values, weights;
  std::optional<double> start, from, goal; ///< given
};

struct StepFit {
  double start = 0.0, from = 0.0, way = 0.0;
  std::vector<double> unknowns;
  double squares = 0.0; ///< of the weighted distances
  std::size_t free = 0; ///< how many numbers were found
  /// Covariance of start, the unknowns, from, goal, those that were free only, for distances of size 1; by row.
  std::vector<std::vector<double>> covariance;
  std::vector<std::size_t> free_places; ///< which of (start, unknowns..., from, goal) a row of it is
};

/// The best fit from the best of many starts: where the rule begins and how far it goes is solved for inside (variable
/// projection; Golub and Pereyra), the rest by Levenberg and Marquardt's method. Nothing where no start leads anywhere.
std::optional<StepFit> fit_step(const StepRule& kind, const FitRows& rows);

struct ProfileBounds {
  double low, high;
};
/// How far one unknown may go, all else fitted again, until the squares exceed `limit`; infinite where they never do.
/// For rules whose numbers trade against each other, of which slopes at the best say too little (profile likelihood).
ProfileBounds profile_of(const StepRule& kind, const FitRows& rows, const StepFit& fit, std::size_t unknown,
                         double limit);

} // namespace stasis
