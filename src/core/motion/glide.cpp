#include "core/motion/glide.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/motion/frame_piece.hpp"
#include "core/motion/smoothing.hpp"
#include "core/motion/stretch.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// (a + expm1(-a)) / a, the share of a straight goal's travel that is followed within the step.
double ramp_share(double a) noexcept {
  if (a >= 0.5) return (a + std::expm1(-a)) / a;
  // a * sum (-a)^n / (n+2)!: the quotient above cancels for small a. 15 terms reach 1e-17 at a = 0.5.
  double term = 0.5, sum = 0.0;
  for (int n = 0; n < 15; ++n) {
    sum += term;
    term *= -a / (n + 3);
  }
  return a * sum;
}

} // namespace

GlideStep glide_step(const Glide& glide, double dt) noexcept {
  const double a = glide.rate * dt;
  if (a == 0.0) return {0.0, 0.0, 1.0, false};
  const double toward = -std::expm1(-a);
  if (a < std::numbers::ln2) return {toward, ramp_share(a), 1.0 - toward, false};
  return {toward, -toward / a, std::exp(-a), true};
}

namespace {

void fill_rows(const Glide& glide, MoverState& state, const GlideStep& step, double goal,
               const MoverRows& rows) noexcept {
  const std::size_t count = rows.value.size() - 1;
  double value = state.value;
  for (std::size_t i = 0; i <= count; ++i) {
    rows.value[i] = value;
    rows.velocity[i] = velocity(glide, value, goal);
    if (i < count) value = advance(step, value, {goal, goal});
  }
  state.value = value;
  state.velocity = rows.velocity[count];
}

} // namespace

void Glide::fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const {
  fill_steady(stretch, [&](double dt, const MoverRows& even) {
    fill_rows(*this, state, remembered<GlideStep>(memory, dt, [&] { return glide_step(*this, dt); }), stretch.goal,
              even);
  });
}

double Glide::go_on(MoverState& state, StepMemory& memory, RunTime, GoalSegment goal, double h) const {
  const auto& step = remembered<GlideStep>(memory, h, [&] { return glide_step(*this, h); });
  state.value = advance(step, state.value, goal);
  return state.velocity = velocity(*this, state.value, goal.end);
}

double Glide::starting_rate(const MoverState& state, double, double goal, double) const noexcept {
  return velocity(*this, state.value, goal);
}

Instant Glide::inside(const FramePiece& piece, double u, Side, KeptSpringStep&) const noexcept {
  const double slope = piece.slope();
  const GoalSegment part{piece.goal.start, piece.goal.start + slope * u};
  const double value = u == 0.0        ? piece.state.value
                       : u == piece.dt ? piece.end_value
                                       : advance(glide_step(*this, u), piece.state.value, part);
  const double speed = velocity(*this, value, part.end);
  const double acceleration = rate * (slope - speed);
  return {value, speed, acceleration, -rate * acceleration};
}

Outlook Glide::outlook(const FramePiece& piece) const noexcept { return straight_on(piece); }

double Glide::calm_time() const noexcept {
  constexpr double time_constants = 4.0;
  return time_constants / rate;
}

double Glide::turning_time(double since) const noexcept { return std::max(0.5 / rate, 0.5 * since); }

std::optional<Response> Glide::response(double angular) const noexcept {
  const double x = angular / rate;
  return Response{1.0 / std::hypot(1.0, x), -std::atan(x)};
}

MotionFacts Glide::facts() const noexcept { return {.typical_time = 1.0 / rate, .step_time = 12.0 / rate}; }

std::string Glide::sentence(bool) const {
  const std::string half_life = concise(std::numbers::ln2 / rate);
  return fmt::format(
      "a glide of half-life {0} s: the gap halves every {0} s; it sets off at full speed (a kick), slows "
      "down all the way, and never quite arrives",
      half_life);
}

std::vector<EquivalentForm> Glide::forms() const { return forms_of(Smoothing{SmoothingForm::rate, rate, 60.0}); }

} // namespace stasis
