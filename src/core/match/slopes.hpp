// Slopes of what a least squares fit leaves, by central differences.
#pragma once

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace stasis {

/// How far an unknown is moved to either side: this share of it, or of `least` where it is smaller.
struct SlopeSteps {
  double share, least;
};

/// The Jacobian of `distances(at, out)` by its inputs. \param out values x inputs.
template<class Distances>
void central_slopes(Distances& distances, const Eigen::VectorXd& at, SlopeSteps steps, Eigen::MatrixXd& out) {
  Eigen::VectorXd low(distances.values()), high(distances.values()), moved = at;
  for (int j = 0; j < distances.inputs(); ++j) {
    const double step = steps.share * std::max(steps.least, std::fabs(at[j]));
    moved[j] = at[j] + step;
    distances(moved, high);
    moved[j] = at[j] - step;
    distances(moved, low);
    moved[j] = at[j];
    out.col(j) = (high - low) / (2.0 * step);
  }
}

} // namespace stasis
