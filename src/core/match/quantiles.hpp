// Quantiles of distributions, worked out in doubles.
#pragma once

#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/students_t.hpp>

namespace stasis {

/// Without wider numbers on the way: their tables are made whenever a program starts, and not every machine has them.
using InDoubles = boost::math::policies::policy<boost::math::policies::promote_double<false>>;

/// Of Student's t with so many degrees of freedom, > 0. \param share 0 to 1
inline double students_t_quantile(double freedom, double share) {
  return boost::math::quantile(boost::math::students_t_distribution<double, InDoubles>(freedom), share);
}
/// Of chi squared, likewise.
inline double chi_squared_quantile(double freedom, double share) {
  return boost::math::quantile(boost::math::chi_squared_distribution<double, InDoubles>(freedom), share);
}

} // namespace stasis
