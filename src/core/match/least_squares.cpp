#include "core/match/least_squares.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <unsupported/Eigen/NonLinearOptimization>

namespace stasis {
namespace {

/// Distances as the package asks for them.
class AsFunctor {
public:
  explicit AsFunctor(Distances& distances) noexcept : distances_(distances) {}
  int values() const { return distances_.values(); }
  int inputs() const { return distances_.inputs(); }
  int operator()(const Eigen::VectorXd& at, Eigen::VectorXd& out) {
    distances_.find(at, out);
    return 0;
  }
  int df(const Eigen::VectorXd& at, Eigen::MatrixXd& out) {
    distances_.slopes(at, out);
    return 0;
  }

private:
  Distances& distances_;
};

} // namespace

void Distances::slopes(const Eigen::VectorXd& at, Eigen::MatrixXd& out) {
  Eigen::VectorXd low(values()), high(values()), moved = at;
  for (int j = 0; j < inputs(); ++j) {
    const double step = steps_.share * std::max(steps_.least, std::fabs(at[j]));
    moved[j] = at[j] + step;
    find(moved, high);
    moved[j] = at[j] - step;
    find(moved, low);
    moved[j] = at[j];
    out.col(j) = (high - low) / (2.0 * step);
  }
}

void descend(Distances& distances, Eigen::VectorXd& at, DescentLimits limits) {
  if (at.size() == 0) return;
  AsFunctor functor(distances);
  Eigen::LevenbergMarquardt<AsFunctor> solver(functor);
  solver.parameters.xtol = solver.parameters.ftol = limits.tolerance;
  solver.parameters.maxfev = limits.most_tries;
  solver.minimize(at);
}

Eigen::MatrixXd covariance_of(const Eigen::MatrixXd& slopes) {
  return (slopes.transpose() * slopes).completeOrthogonalDecomposition().pseudoInverse();
}

struct LinearFit::Factors {
  Eigen::ColPivHouseholderQR<Eigen::MatrixXd> of;
};

LinearFit::LinearFit(const Eigen::MatrixXd& of)
    : factors_(std::make_shared<const Factors>(Factors{Eigen::ColPivHouseholderQR<Eigen::MatrixXd>(of)})) {}

Eigen::VectorXd LinearFit::solve(const Eigen::VectorXd& right) const { return factors_->of.solve(right); }

Eigen::Vector4d solved(const Eigen::Matrix4d& normal, const Eigen::Vector4d& right) {
  return normal.ldlt().solve(right);
}

Eigen::VectorXd solved(const Eigen::MatrixXd& square, const Eigen::VectorXd& right) {
  return square.partialPivLu().solve(right);
}

} // namespace stasis
