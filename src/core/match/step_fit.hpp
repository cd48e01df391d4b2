// Least squares of one rule on one move.
#pragma once

#include <limits>
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
/// \param hopeless a rule that leaves more squares than that is only found as nearly as tells so.
std::optional<StepFit> fit_step(const StepRule& kind, const FitRows& rows,
                                double hopeless = std::numeric_limits<double>::infinity());

/// A fit that a few rows far off do not bend.
struct RobustFit {
  std::vector<double> off; ///< what it leaves of each row, weighted
  double size = 0.0;       ///< of most of that, as the deviation of noise; no less than was given
  double squares = 0.0;    ///< what is left, rows far off counted no more than as just far off
};

/// The same where some rows may be wrong: rows are weighed again by how far off they are, first by Huber's function and
/// then by Tukey's, which forgets them. \param noise size of what noise leaves of a row, > 0. Costs several times as
/// much. Nothing where no start leads anywhere. Source: Holland and Welsch, 1977.
std::optional<RobustFit> fit_step_robustly(const StepRule& kind, const FitRows& rows, double noise);

struct ProfileBounds {
  double low, high;
};
/// How far one unknown may go, all else fitted again, until the squares exceed `limit`; infinite where they never do.
/// For rules whose numbers trade against each other, of which slopes at the best say too little (profile likelihood).
ProfileBounds profile_of(const StepRule& kind, const FitRows& rows, const StepFit& fit, std::size_t unknown,
                         double limit);

} // namespace stasis
