// An independent solver for tests: linear systems stepped by a matrix exponential in 50 digits.
#pragma once

#include <array>

#include <boost/multiprecision/cpp_bin_float.hpp>

namespace stasis::test {

using Real = boost::multiprecision::cpp_bin_float_50;
template<std::size_t N> using Matrix = std::array<std::array<Real, N>, N>;

template<std::size_t N> Matrix<N> times(const Matrix<N>& a, const Matrix<N>& b) {
  Matrix<N> out{};
  for (std::size_t i = 0; i < N; ++i)
    for (std::size_t k = 0; k < N; ++k)
      for (std::size_t j = 0; j < N; ++j) out[i][j] += a[i][k] * b[k][j];
  return out;
}

/// exp(a t) by a Taylor series of the halved argument, squared back.
template<std::size_t N> Matrix<N> exponential(Matrix<N> a, const Real& t) {
  Real size = 0;
  for (auto& row : a)
    for (Real& entry : row) {
      entry *= t;
      size += abs(entry);
    }
  int halvings = 0;
  for (; size > Real(0.25); size /= 2) ++halvings;
  const Real scale = ldexp(Real(1), -halvings);
  Matrix<N> sum{}, term{};
  for (std::size_t i = 0; i < N; ++i) sum[i][i] = term[i][i] = 1;
  for (auto& row : a)
    for (Real& entry : row) entry *= scale;
  for (int n = 1; n < 40; ++n) {
    term = times(term, a);
    for (std::size_t i = 0; i < N; ++i)
      for (std::size_t j = 0; j < N; ++j) {
        term[i][j] /= n;
        sum[i][j] += term[i][j];
      }
  }
  for (int i = 0; i < halvings; ++i) sum = times(sum, sum);
  return sum;
}

struct ExactState {
  Real value, velocity;
};

/// A spring of angular frequency w and ratio z, `t` after a state, its goal running from `goal` at `slope`.
inline ExactState exact_spring(double w_, double z_, bool resists_gap, Real value, Real velocity, Real goal, Real slope,
                               Real t) {
  const Real w = w_, z = z_;
  const Real c = resists_gap ? 1 : 0;
  // State (x, v, g, s): x' = v, v' = w^2 (g - x) - 2 z w (v - c s), g' = s.
  Matrix<4> a{};
  a[0][1] = 1;
  a[1] = {-w * w, -2 * z * w, w * w, 2 * z * w * c};
  a[2][3] = 1;
  const Matrix<4> e = exponential(a, t);
  const std::array<Real, 4> start{value, velocity, goal, slope};
  ExactState out{0, 0};
  for (std::size_t j = 0; j < 4; ++j) {
    out.value += e[0][j] * start[j];
    out.velocity += e[1][j] * start[j];
  }
  return out;
}

/// A glide of rate k, `t` after a value, its goal running from `goal` at `slope`.
inline Real exact_glide(double k_, Real value, Real goal, Real slope, Real t) {
  const Real k = k_;
  const Real decay = exp(-k * t);
  return goal + slope * t - slope / k + (value - goal + slope / k) * decay;
}

} // namespace stasis::test
