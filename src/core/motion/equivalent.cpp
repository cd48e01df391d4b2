#include "core/motion/equivalent.hpp"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>

#include <fmt/format.h>

#include "core/motion/mover.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

std::optional<double> share_at_tuned_rate(const PerFrame& rule) noexcept {
  if (const auto* fraction = std::get_if<FractionRule>(&rule.rule)) return fraction->fraction;
  const auto* product = std::get_if<ProductRule>(&rule.rule);
  if (product == nullptr) return std::nullopt;
  const double share = product->rate / rule.at_fps;
  return product->is_capped ? std::min(share, 1.0) : share;
}

Equivalent glide_of_share(double share, double fps) {
  const double rate = rate_of_fraction(share, fps), half_life = std::numbers::ln2 / rate;
  return {Glide{rate}, true, fmt::format("kind = \"glide\", half_life = {}", shortest(half_life)),
          fmt::format("half-life {} s", readable(half_life))};
}

/// The spring whose poles, over one frame, are those of the step: s = ln(pole) / dt.
std::optional<Equivalent> spring_of(const SpringStepRule& spring, double fps) {
  const StepPoles poles = poles_of(spring, 1.0 / fps);
  if (behaviour_at(spring, 1.0 / fps) == FrameBehaviour::diverges || poles.determinant <= 0.0) return std::nullopt;
  if (poles.are_real() && poles.trace <= 0.0) return std::nullopt;
  const std::complex<double> half(0.5 * poles.trace, 0.0),
      root = std::sqrt(std::complex<double>(0.25 * poles.trace * poles.trace - poles.determinant, 0.0));
  const std::complex<double> a = std::log(half + root) * fps, b = std::log(half - root) * fps;
  const double angular = std::sqrt(std::abs(a * b)), ratio = -0.5 * (a + b).real() / angular;
  const double frequency = natural_frequency_hz(angular), damping = std::max(ratio, 0.0);
  return Equivalent{
      Spring{angular, damping, false}, false,
      fmt::format("kind = \"spring\", frequency = {}, damping_ratio = {}", shortest(frequency), shortest(damping)),
      fmt::format("a spring of {} Hz, ratio {}", readable(frequency), readable(damping))};
}

} // namespace

std::optional<Equivalent> equivalent_of(const PerFrame& rule) {
  if (const auto share = share_at_tuned_rate(rule)) {
    if (*share == 1.0) return Equivalent{Cut{}, true, "kind = \"cut\"", "a cut"};
    return *share < 1.0 ? std::optional(glide_of_share(*share, rule.at_fps)) : std::nullopt;
  }
  if (const auto* spring = std::get_if<SpringStepRule>(&rule.rule)) return spring_of(*spring, rule.at_fps);
  const double speed = std::get<AmountRule>(rule.rule).amount * rule.at_fps;
  return Equivalent{pace_at_once(speed), true, fmt::format("kind = \"pace\", speed = {}", shortest(speed)),
                    fmt::format("a pace of {} a second", readable(speed))};
}

std::string why_no_equivalent(const PerFrame& rule) {
  if (equivalent_of(rule)) return {};
  const std::string at = concise(rule.at_fps, 6) + " fps";
  switch (behaviour_at(rule.rule, 1.0 / rule.at_fps)) {
  case FrameBehaviour::diverges: return fmt::format("at {} it runs away from its goal", at);
  case FrameBehaviour::overshoots:
    return fmt::format("at {} it swings past its goal from one frame to the next, which no motion does at every rate",
                       at);
  case FrameBehaviour::monotone: break;
  }
  return fmt::format("at {} it is there within one frame", at);
}

std::optional<double> steady_lag(const PerFrame& rule) noexcept {
  const double dt = 1.0 / rule.at_fps;
  if (behaviour_at(rule.rule, dt) == FrameBehaviour::diverges) return std::nullopt;
  // The gap is the same after each frame: of (gap + way) the share that is left, or what balances the drag.
  if (const auto share = share_at_tuned_rate(rule)) return (1.0 - *share) / *share * dt;
  const auto* spring = std::get_if<SpringStepRule>(&rule.rule);
  return spring != nullptr ? std::optional(spring->damping / spring->stiffness - dt) : std::nullopt;
}

Motion continuous_form(const PerFrame& rule) {
  if (auto equivalent = equivalent_of(rule)) return std::move(equivalent->motion);
  if (const auto* product = std::get_if<ProductRule>(&rule.rule)) return Glide{product->rate};
  const auto* spring = std::get_if<SpringStepRule>(&rule.rule);
  if (spring == nullptr) return Cut{};
  const double angular = std::sqrt(spring->stiffness);
  return Spring{angular, spring->damping / (2.0 * angular), false};
}

Residual residual_of(const PerFrame& rule, const Motion& equivalent) {
  const double dt = 1.0 / rule.at_fps;
  constexpr double seconds = 10.0;
  const int frames = static_cast<int>(std::clamp(seconds * rule.at_fps, 100.0, 20'000.0));
  const auto largest = [&](double start, double slope) {
    SpringState state{0.0, 0.0};
    MoverState exact = state_at_rest(0.0);
    if (slope == 0.0) begin_move(equivalent, exact, {.goal = start});
    StepMemory memory;
    double widest = 0.0;
    for (int k = 0; k < frames; ++k) {
      const double from = start + slope * dt * k, to = start + slope * dt * (k + 1);
      state = update(rule.rule, state, to, dt);
      advance(equivalent, exact, memory, {dt * k, dt * (k + 1)}, {from, to}, dt);
      widest = std::max(widest, std::fabs(state.value - exact.value));
    }
    return widest;
  };
  return {largest(1.0, 0.0), largest(0.0, 1.0)};
}

} // namespace stasis
