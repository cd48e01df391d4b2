#include "core/motion/chain.hpp"

#include <cmath>
#include <limits>
#include <numbers>

namespace stasis {
namespace {

constexpr std::size_t input_rows = 4;

template<std::size_t N> using Square = std::array<std::array<double, N>, N>;

/// out = a b, over the first `used` rows and columns only.
template<std::size_t N>
void multiply_into(const Square<N>& a, const Square<N>& b, Square<N>& out, std::size_t used) noexcept {
  for (std::size_t i = 0; i < used; ++i) {
    for (std::size_t j = 0; j < used; ++j) out[i][j] = 0.0;
    for (std::size_t k = 0; k < used; ++k) {
      const double factor = a[i][k];
      if (factor == 0.0) continue;
      for (std::size_t j = 0; j < used; ++j) out[i][j] += factor * b[k][j];
    }
  }
}

/// a := exp(a) - 1, over the first `used` rows and columns, by a Taylor series of the halved argument, then squared
/// back: (1 + e)^2 - 1 = e (2 + e). Carrying the difference from 1 keeps the digits of slow links.
template<std::size_t N> void to_exponential_less_one(Square<N>& a, std::size_t used) noexcept {
  double size = 0.0;
  for (std::size_t i = 0; i < used; ++i) {
    double row = 0.0;
    for (std::size_t j = 0; j < used; ++j) row += std::fabs(a[i][j]);
    size = std::max(size, row);
  }
  int halvings = 0;
  for (; size > 0.5; size *= 0.5) ++halvings;
  const double scale = std::ldexp(1.0, -halvings);
  Square<N> term, next, sum;
  for (std::size_t i = 0; i < used; ++i)
    for (std::size_t j = 0; j < used; ++j) sum[i][j] = term[i][j] = (a[i][j] *= scale);
  constexpr int terms = 16; // 0.5^17 / 17! is below 1e-19
  for (int n = 2; n <= terms; ++n) {
    multiply_into(term, a, next, used);
    for (std::size_t i = 0; i < used; ++i)
      for (std::size_t j = 0; j < used; ++j) sum[i][j] += (term[i][j] = next[i][j] / n);
  }
  for (int i = 0; i < halvings; ++i) {
    multiply_into(sum, sum, next, used);
    for (std::size_t r = 0; r < used; ++r)
      for (std::size_t c = 0; c < used; ++c) sum[r][c] = 2.0 * sum[r][c] + next[r][c];
  }
  for (std::size_t i = 0; i < used; ++i)
    for (std::size_t j = 0; j < used; ++j) a[i][j] = sum[i][j];
}

Instant output_of(const Glide& glide, const SpringState& state, const Instant& input) noexcept {
  const double v = glide.rate * (input.value - state.value), a = glide.rate * (input.velocity - v);
  return {state.value, v, a, glide.rate * (input.acceleration - a)};
}

Instant output_of(const Spring& spring, const SpringState& state, const Instant& input) noexcept {
  const double w = spring.angular_frequency, drag = 2.0 * spring.damping_ratio * w;
  const double c = spring.resists_gap ? 1.0 : 0.0;
  const auto resisted = [&](double own, double other) { return c == 0.0 ? own : own - other; };
  const double a = w * w * (input.value - state.value) - drag * resisted(state.velocity, input.velocity);
  return {state.value, state.velocity, a,
          w * w * (input.velocity - state.velocity) - drag * resisted(a, input.acceleration)};
}

} // namespace

LinkInput cubic_input(double start, double start_velocity, double end, double end_velocity, double h) noexcept {
  const double mean = (end - start) / h;
  if (!std::isfinite(start_velocity) || !std::isfinite(end_velocity)) return {start, mean, 0.0, 0.0};
  return {start, start_velocity, 2.0 * (3.0 * mean - 2.0 * start_velocity - end_velocity) / h,
          6.0 * (start_velocity + end_velocity - 2.0 * mean) / (h * h)};
}

LinkStep::LinkStep(const Chain& chain, double dt, bool moving) {
  for (const Link& link : chain.links) {
    const bool is_spring = std::holds_alternative<Spring>(link);
    has_velocity_[links_++] = is_spring;
    rows_ += is_spring ? std::size_t{2} : std::size_t{1};
  }
  // d(state)/dt = a * state; the input's value stands in row rows_, its derivatives below.
  Square<most_rows> a{};
  std::size_t row = 0, driver = rows_, driver_velocity = rows_ + 1;
  bool driver_is_glide = false;
  const auto add_driver_velocity = [&](std::size_t to, double factor) {
    if (!driver_is_glide) {
      a[to][driver_velocity] += factor;
      return;
    }
    // The velocity of a glide is its own row of the system.
    for (std::size_t j = 0; j < most_rows; ++j) a[to][j] += factor * a[driver][j];
  };
  for (const Link& link : chain.links) {
    if (const auto* glide = std::get_if<Glide>(&link)) {
      a[row][row] -= glide->rate;
      a[row][driver] += glide->rate;
      driver = row++;
      driver_is_glide = true;
      continue;
    }
    const auto& spring = std::get<Spring>(link);
    const double w = spring.angular_frequency, drag = 2.0 * spring.damping_ratio * w;
    a[row][row + 1] = 1.0;
    a[row + 1][row] -= w * w;
    a[row + 1][driver] += w * w;
    a[row + 1][row + 1] -= drag;
    if (spring.resists_gap) add_driver_velocity(row + 1, drag);
    driver = row;
    driver_velocity = row + 1;
    driver_is_glide = false;
    row += 2;
  }
  for (std::size_t i = 0; i + 1 < input_rows; ++i) a[rows_ + i][rows_ + i + 1] = 1.0;
  // Without an eased or paced move before them the links follow the goal itself: the input's rows stay out of it.
  used_ = chain.head || moving ? rows_ + input_rows : rows_;
  for (std::size_t i = 0; i < used_; ++i)
    for (std::size_t j = 0; j < used_; ++j) a[i][j] *= dt;
  to_exponential_less_one(a, used_);
  for (std::size_t i = 0; i < used_; ++i)
    for (std::size_t j = 0; j < used_; ++j) matrix_[i][j] = a[i][j];
}

void LinkStep::advance(LinkStates& states, double goal, const LinkInput& input) const noexcept {
  std::array<double, most_rows> before;
  std::size_t row = 0;
  for (std::size_t i = 0; i < links_; ++i) {
    before[row++] = states[i].value - goal;
    if (has_velocity_[i]) before[row++] = states[i].velocity;
  }
  before[row] = input.start;
  before[row + 1] = input.velocity;
  before[row + 2] = input.bend;
  before[row + 3] = input.twist;
  const auto gained = [&](std::size_t r) {
    double sum = 0.0;
    for (std::size_t j = 0; j < used_; ++j) sum += matrix_[r][j] * before[j];
    return sum;
  };
  row = 0;
  for (std::size_t i = 0; i < links_; ++i) {
    const double gain = gained(row);
    // Written from the goal when the gap has shrunk by more than half, so that arrival is exact.
    const double gap = before[row];
    states[i].value = std::fabs(gain + gap) < 0.5 * std::fabs(gap) ? goal + (gap + gain) : states[i].value + gain;
    ++row;
    if (has_velocity_[i]) states[i].velocity += gained(row++);
  }
}

Instant output_of(const Chain& chain, const LinkStates& states, Instant input) noexcept {
  for (std::size_t i = 0; i < chain.links.size(); ++i)
    input = std::visit([&](const auto& link) { return output_of(link, states[i], input); }, chain.links[i]);
  return input;
}

double stray_bound(const Chain& chain, const LinkStates& states, double goal, double input_stray) noexcept {
  double bound = input_stray;
  for (std::size_t i = 0; i < chain.links.size(); ++i) {
    const double gap = std::fabs(states[i].value - goal);
    const auto* spring = std::get_if<Spring>(&chain.links[i]);
    if (spring == nullptr) {
      bound = std::max(gap, bound);
      continue;
    }
    // Free response: the energy never grows. Forced: the integral of the impulse response's size, 1 where it does not
    // change sign, coth(pi z / 2q) where it swings.
    if (spring->resists_gap && bound > 0.0) return std::numeric_limits<double>::infinity();
    const double z = spring->damping_ratio;
    const double swing = z < 1.0 ? 1.0 / std::tanh(0.5 * std::numbers::pi * z / std::sqrt((1.0 - z) * (1.0 + z))) : 1.0;
    bound = std::hypot(gap, states[i].velocity / spring->angular_frequency) + (bound > 0.0 ? swing * bound : 0.0);
  }
  return bound;
}

} // namespace stasis
