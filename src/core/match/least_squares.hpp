// Fits by least squares: what is left of a recording as a function of the unknowns, and the way downhill. The package's
// solvers are made in one place, since they take longer to compile than all of the fits. docs/maths.md, section 12.
#pragma once

#include <Eigen/Core>
#include <memory>

namespace stasis {

/// How far an unknown is moved to either side: this share of it, or of `least` where it is smaller.
struct SlopeSteps {
  double share, least;
};

/// What a fit leaves, row by row.
class Distances {
public:
  explicit Distances(SlopeSteps steps) noexcept : steps_(steps) {}
  virtual ~Distances() = default;

  virtual int values() const = 0; ///< how many there are
  virtual int inputs() const = 0; ///< of how many unknowns
  /// \param out values() numbers, all of them finite.
  virtual void find(const Eigen::VectorXd& at, Eigen::VectorXd& out) = 0;
  /// The Jacobian by central differences. \param out values() x inputs().
  void slopes(const Eigen::VectorXd& at, Eigen::MatrixXd& out);

protected:
  Distances(const Distances&) = default;
  Distances& operator=(const Distances&) = default;

private:
  SlopeSteps steps_;
};

struct DescentLimits {
  double tolerance; ///< relative, of the unknowns and of the sum of squares
  int most_tries;   ///< evaluations of the distances
};

/// Goes downhill from `at` by Levenberg's and Marquardt's method; nothing if there is no unknown.
void descend(Distances& distances, Eigen::VectorXd& at, DescentLimits limits);

/// The covariance of the unknowns for distances of size 1: (J'J)^-1, by pseudo-inverse where two act alike.
Eigen::MatrixXd covariance_of(const Eigen::MatrixXd& slopes);

/// A x = b for many b, by least squares.
class LinearFit {
public:
  explicit LinearFit(const Eigen::MatrixXd& of);
  Eigen::VectorXd solve(const Eigen::VectorXd& right) const;

private:
  struct Factors;
  std::shared_ptr<const Factors> factors_;
};

/// N x = b for a symmetric N that is not negative.
Eigen::Vector4d solved(const Eigen::Matrix4d& normal, const Eigen::Vector4d& right);
/// A x = b for a square A.
Eigen::VectorXd solved(const Eigen::MatrixXd& square, const Eigen::VectorXd& right);

} // namespace stasis
