#include "core/match/step_distances.hpp"

#include <cmath>
#include <limits>

namespace stasis {

Level level_of(const FitRows& rows, const std::vector<double>& f) {
  double sw = 0, sf = 0, sy = 0, sff = 0, sfy = 0;
  for (std::size_t k = 0; k < f.size(); ++k) {
    const double w = rows.weights[k] * rows.weights[k];
    sw += w;
    sf += w * f[k];
    sy += w * rows.values[k];
  }
  const double mean_f = sf / sw, mean_y = sy / sw;
  Level level{};
  if (rows.from && rows.goal) {
    level = {*rows.from, *rows.goal - *rows.from, 0.0};
  } else if (rows.from) {
    for (std::size_t k = 0; k < f.size(); ++k) {
      const double w = rows.weights[k] * rows.weights[k];
      sff += w * f[k] * f[k];
      sfy += w * f[k] * (rows.values[k] - *rows.from);
    }
    level = {*rows.from, sff > 0.0 ? sfy / sff : 0.0, 0.0};
  } else if (rows.goal) { // y - g f = x0 (1 - f)
    for (std::size_t k = 0; k < f.size(); ++k) {
      const double w = rows.weights[k] * rows.weights[k], left = 1.0 - f[k];
      sff += w * left * left;
      sfy += w * left * (rows.values[k] - *rows.goal * f[k]);
    }
    const double from = sff > 0.0 ? sfy / sff : *rows.goal;
    level = {from, *rows.goal - from, 0.0};
  } else {
    for (std::size_t k = 0; k < f.size(); ++k) { // about the means: large values keep their digits
      const double w = rows.weights[k] * rows.weights[k], df = f[k] - mean_f;
      sff += w * df * df;
      sfy += w * df * (rows.values[k] - mean_y);
    }
    const double way = sff > 0.0 ? sfy / sff : 0.0;
    level = {mean_y - way * mean_f, way, 0.0};
  }
  for (std::size_t k = 0; k < f.size(); ++k) {
    const double off = rows.weights[k] * (rows.values[k] - level.from - level.way * f[k]);
    level.squares += off * off;
  }
  return level;
}

double descended(StepDistances& distances, Eigen::VectorXd& at, double tolerance, int tries) {
  descend(distances, at, {tolerance, tries});
  const double squares = distances.level(at).squares;
  return at.allFinite() && std::isfinite(squares) ? squares : std::numeric_limits<double>::infinity();
}

} // namespace stasis
