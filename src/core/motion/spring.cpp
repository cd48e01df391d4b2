#include "core/motion/spring.hpp"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>

#include <fmt/format.h>

#include "core/motion/frame_piece.hpp"
#include "core/motion/spring_design.hpp"
#include "core/motion/stretch.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

/// The functions of a = w dt and z from which every coefficient follows; names as in docs/maths.md.
struct Basis {
  double S, P, K, N;
  double R; // (Q + c 2 z P) / a
};

/// Any damping ratio, short steps: D_m = sum h_n / (n + m)!, h_n the coefficients of the two-term recurrence.
Basis series_basis(double a, double z, double c) noexcept {
  constexpr int most_terms = 21;
  double h_before = 0.0, h = 1.0;
  double inverse_factorial = 1.0; // 1 / (n + 1)!
  double d1 = 0.0, d2 = 0.0, d3 = 0.0;
  for (int n = 0; n < most_terms; ++n) {
    d1 += h * inverse_factorial;
    d2 += h * inverse_factorial / (n + 2);
    d3 += h * inverse_factorial / ((n + 2.0) * (n + 3.0));
    const double h_next = -2.0 * z * a * h - a * a * h_before;
    h_before = h;
    h = h_next;
    inverse_factorial /= n + 2;
  }
  const double S = a * d1, P = a * a * d2;
  return {S, P, 1.0 - P, 1.0 - P - 2.0 * z * S, a * a * d3 + c * 2.0 * z * a * d2};
}

/// z < 1, long steps: the decaying oscillation itself.
Basis oscillating_basis(double a, double z, double c) noexcept {
  const double q = std::sqrt((1.0 - z) * (1.0 + z));
  const double decay = std::exp(-z * a);
  const double S = q * a < 1e-8 ? decay * a : decay * std::sin(q * a) / q;
  const double K = decay * std::cos(q * a) + z * S;
  const double P = 1.0 - K;
  const double Q = a - S - 2.0 * z * P;
  return {S, P, K, K - 2.0 * z * S, (Q + c * 2.0 * z * P) / a};
}

/// (1 - e^-y) / y, 1 at 0.
double mean_decay(double y) noexcept { return y == 0.0 ? 1.0 : -std::expm1(-y) / y; }

/// (y + expm1(-y)) / y^2, for y away from 0.
double second_mean(double y) noexcept {
  if (y >= 0.5) return (y + std::expm1(-y)) / (y * y);
  double term = 0.5, sum = 0.0; // series of the same quotient, which cancels for small y
  for (int n = 0; n < 15; ++n) {
    sum += term;
    term *= -y / (n + 3);
  }
  return sum;
}

/// z >= 1, long steps: the slow and the fast root apart, l and L their decays within the step.
Basis two_root_basis(double a, double z, double c) noexcept {
  const double r = std::sqrt((z - 1.0) * (z + 1.0));
  const double L = a * (z + r);
  const double l = a / (z + r);
  const double F = mean_decay(l);
  const double B = std::exp(-l) * mean_decay(2.0 * r * a);
  const double P = l * (F - B);
  const double Q = a * l * (second_mean(l) - (F - B) / L);
  return {a * B, P, std::exp(-l) + l * B, std::exp(-L) - l * B, (Q + c * 2.0 * z * P) / a};
}

Basis basis(double a, double z, double c) noexcept {
  const double reach = z < 1.0 ? a : a * (z + std::sqrt((z - 1.0) * (z + 1.0)));
  if (reach < 1.0) return series_basis(a, z, c);
  return z < 1.0 ? oscillating_basis(a, z, c) : two_root_basis(a, z, c);
}

} // namespace

SpringStep spring_step(const Spring& spring, double dt) noexcept {
  const double w = spring.angular_frequency, z = spring.damping_ratio;
  const double a = w * dt;
  if (a == 0.0) return {0.0, 1.0, 0.0, 0.0, 1.0, 0.0, 0.0, false};
  const double c = spring.resists_gap ? 1.0 : 0.0;
  const Basis b = basis(a, z, c);
  const bool from_goal = b.P >= 0.5;
  const double ramp = from_goal ? -(b.S + (1.0 - c) * 2.0 * z * b.P) / a : b.R;
  return {b.P, b.K, b.S / w, w * b.S, b.N, ramp, (b.P + c * 2.0 * z * b.S) / dt, from_goal};
}

namespace {

void fill_rows(MoverState& state, const SpringStep& step, double goal, const MoverRows& rows) noexcept {
  const std::size_t count = rows.value.size() - 1;
  SpringState now{state.value, state.velocity};
  for (std::size_t i = 0; i <= count; ++i) {
    rows.value[i] = now.value;
    rows.velocity[i] = now.velocity;
    if (i < count) now = advance(step, now, {goal, goal});
  }
  state.value = now.value;
  state.velocity = now.velocity;
}

const SpringStep& step_of(const Spring& spring, const FramePiece& piece, double u, KeptSpringStep& kept) noexcept {
  if (kept.motion != piece.motion || kept.u != u) kept = {piece.motion, u, spring_step(spring, u)};
  return kept.step;
}

} // namespace

void Spring::fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const {
  fill_steady(stretch, [&](double dt, const MoverRows& even) {
    fill_rows(state, remembered<SpringStep>(memory, dt, [&] { return spring_step(*this, dt); }), stretch.goal, even);
  });
}

double Spring::go_on(MoverState& state, StepMemory& memory, RunTime, GoalSegment goal, double h) const {
  const auto& step = remembered<SpringStep>(memory, h, [&] { return spring_step(*this, h); });
  const SpringState now = advance(step, {state.value, state.velocity}, goal);
  state.value = now.value;
  return state.velocity = now.velocity;
}

double Spring::starting_rate(const MoverState& state, double, double, double) const noexcept { return state.velocity; }

Instant Spring::inside(const FramePiece& piece, double u, Side, KeptSpringStep& kept) const noexcept {
  const double slope = piece.slope();
  const GoalSegment part{piece.goal.start, piece.goal.start + slope * u};
  SpringState state{piece.state.value, piece.state.velocity};
  if (u == piece.dt)
    state = {piece.end_value, piece.end_velocity};
  else if (u != 0.0)
    state = advance(step_of(*this, piece, u, kept), state, part);
  const double w = angular_frequency, drag = 2.0 * damping_ratio * w;
  const double speeding = acceleration(*this, state, part.end, slope);
  return {state.value, state.velocity, speeding, w * w * (slope - state.velocity) - drag * speeding};
}

Outlook Spring::outlook(const FramePiece& piece) const noexcept {
  const double goal = piece.goal.end, gap = std::fabs(goal - piece.end_value), w = angular_frequency;
  // The energy of a damped spring never grows, so neither does this radius.
  const double radius = std::hypot(gap, piece.end_velocity / w);
  // At ratio 1 and above the goal is passed only by coming in faster than the quick root; what has passed it, and
  // goes on, is not yet as far beyond as it will be.
  const bool goes_away = piece.end_velocity * (goal - piece.end_value) < 0.0;
  const bool stays_short =
      damping_ratio >= 1.0 && !goes_away && std::fabs(piece.end_velocity) <= w * damping_ratio * gap;
  return {radius, stays_short ? 0.0 : radius};
}

namespace {

/// A quarter of a spring's damped period; infinite where it does not swing.
double quarter_period_of(const Spring& spring) noexcept {
  const double z = spring.damping_ratio;
  if (z >= 1.0) return unbounded;
  return 0.5 * std::numbers::pi / (spring.angular_frequency * std::sqrt((1.0 - z) * (1.0 + z)));
}

} // namespace

double Spring::calm_time() const noexcept {
  // One period shows every later swing at its largest; above ratio 1, several of the slow root's time constants do.
  constexpr double slow_time_constants = 8.0;
  return damping_ratio < 1.0 ? 4.0 * quarter_period_of(*this)
                             : slow_time_constants * 2.0 * damping_ratio / angular_frequency;
}

double Spring::turning_time(double since) const noexcept {
  const double w = angular_frequency, z = damping_ratio;
  // e^-40 of a swing is below the rounding of any value it ends at: what turns then is the goal alone.
  constexpr double time_constants_of_swings = 40.0;
  if (z < 1.0) return z * w * since > time_constants_of_swings ? std::max(0.5 / w, 0.5 * since) : 0.5 / w;
  return std::max(0.5 / (w * (z + std::sqrt((z - 1.0) * (z + 1.0)))), 0.5 * since);
}

/// (w^2 + c 2 z w s) / (w^2 + 2 z w s + s^2) at s = i angular.
std::optional<Response> Spring::response(double angular) const noexcept {
  const double x = angular / angular_frequency, drag = 2.0 * damping_ratio * x;
  const std::complex<double> above(1.0, resists_gap ? drag : 0.0), below((1.0 - x) * (1.0 + x), drag);
  return Response{std::abs(above) / std::abs(below), std::arg(above) - std::arg(below)};
}

MotionFacts Spring::facts() const noexcept {
  constexpr double most = 1e4, least_damping = 1e-3, share_left = 0.002;
  const double settled =
      std::min(settling_angle(std::max(damping_ratio, least_damping), share_left), most) / angular_frequency;
  return {.typical_time = 1.0 / natural_frequency_hz(angular_frequency), .step_time = 2.0 * settled};
}

std::string Spring::sentence(bool) const {
  const double z = damping_ratio;
  const std::string how = z == 0.0 ? "it swings forever"
                          : z < 1.0
                              ? fmt::format("it starts softly, overshoots its goal by {} % of the way, and comes back",
                                            readable(100.0 * overshoot_of(z), 3))
                          : z == 1.0 ? "it starts softly, and is as quick as a spring can be without overshooting"
                                     : "it starts softly, and creeps in without overshooting";
  return fmt::format(
      "a spring of {} Hz and damping ratio {}: {}{}", concise(natural_frequency_hz(angular_frequency)), concise(z), how,
      resists_gap ? "; its damping resists the change of the gap, so it does not lag behind a steady goal" : "");
}

std::vector<EquivalentForm> Spring::forms() const {
  const double w = angular_frequency, z = damping_ratio;
  std::vector<EquivalentForm> forms{{"frequency", natural_frequency_hz(w), "Hz", "exact"},
                                    {"damping_ratio", z, "", "exact"},
                                    {"stiffness", w * w, "", "exact, with mass 1"},
                                    {"damping", 2.0 * z * w, "", "exact, with mass 1"}};
  if (z > 0.0) {
    forms.push_back({"settling_time", settling_angle(z, default_settle_share) / w, "s", "exact"});
    if (z <= 1.0) forms.push_back({"overshoot", 100.0 * overshoot_of(z), "%", "exact"});
  }
  return forms;
}

} // namespace stasis
