#include "core/motion/per_frame.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

FrameBehaviour behaviour_of_share(double share) noexcept {
  if (share <= 1.0) return FrameBehaviour::monotone;
  return share <= 2.0 ? FrameBehaviour::overshoots : FrameBehaviour::diverges;
}

double share_of(const ProductRule& rule, double dt) noexcept {
  const double share = rule.rate * dt;
  return rule.is_capped ? std::min(share, 1.0) : share;
}

/// Positive roots of a h^2 + b h + c.
void add_roots(std::vector<double>& roots, double a, double b, double c) {
  if (a == 0.0) {
    if (b != 0.0 && -c / b > 0.0) roots.push_back(-c / b);
    return;
  }
  const double inside = b * b - 4.0 * a * c;
  if (inside < 0.0) return;
  const double q = -0.5 * (b + std::copysign(std::sqrt(inside), b));
  for (const double root : {q / a, q != 0.0 ? c / q : 0.0})
    if (root > 0.0) roots.push_back(root);
}

/// Frame times at which a rule may begin to behave in another way, s.
std::vector<double> borders_of(const FrameRule& rule) {
  std::vector<double> borders;
  if (const auto* product = std::get_if<ProductRule>(&rule); product != nullptr && !product->is_capped)
    borders = {1.0 / product->rate, 2.0 / product->rate};
  if (const auto* spring = std::get_if<SpringStepRule>(&rule)) {
    const double k = spring->stiffness, c = spring->damping;
    if (spring->speed_first) {
      add_roots(borders, k, 2.0 * c, -4.0);                    // the trace meets -(1 + determinant)
      add_roots(borders, k * k, 2.0 * c * k, c * c - 4.0 * k); // poles become real
      add_roots(borders, k, c, -2.0);                          // the trace is zero
      add_roots(borders, 0.0, c, -1.0);                        // the determinant is zero
    } else {
      add_roots(borders, 0.0, k, -c);       // the determinant is one
      add_roots(borders, k, -2.0 * c, 4.0); // the trace meets -(1 + determinant)
      add_roots(borders, k, -c, 1.0);       // the determinant is zero
      add_roots(borders, 0.0, c, -2.0);     // the trace is zero
    }
  }
  std::sort(borders.begin(), borders.end());
  borders.erase(std::unique(borders.begin(), borders.end()), borders.end());
  return borders;
}

std::string_view word_of(const FrameRule& rule, FrameBehaviour behaviour) noexcept {
  constexpr std::array<std::string_view, 3> words{"monotone", "overshooting", "diverging"};
  const bool swings = std::holds_alternative<SpringStepRule>(rule) && behaviour == FrameBehaviour::overshoots;
  return swings ? "swinging" : words[static_cast<std::size_t>(behaviour)];
}

} // namespace

std::string_view name_of(const FrameRule& rule) noexcept {
  constexpr std::array<std::string_view, 4> names{"fraction", "product", "amount", "spring_step"};
  return names[rule.index()];
}

SpringState update(const FrameRule& rule, SpringState state, double goal, double dt) noexcept {
  const SpringState now = std::visit([&](const auto& one) { return updated(one, state, goal, dt); }, rule);
  if (std::holds_alternative<SpringStepRule>(rule)) return now;
  return {now.value, dt > 0.0 ? (now.value - state.value) / dt : 0.0};
}

double speed_after(const SpringStepRule& spring, double before, double after, double goal, double dt) noexcept {
  const double speed = dt > 0.0 ? (after - before) / dt : 0.0; // that which moved it
  if (spring.speed_first) return speed;
  return speed + (spring.stiffness * (goal - before) - spring.damping * speed) * dt;
}

StepPoles poles_of(const SpringStepRule& spring, double dt) noexcept {
  const double drag = spring.damping * dt, pull = spring.stiffness * dt * dt;
  return spring.speed_first ? StepPoles{2.0 - drag - pull, 1.0 - drag} : StepPoles{2.0 - drag, 1.0 - drag + pull};
}

FrameBehaviour behaviour_at(const FrameRule& rule, double dt) noexcept {
  if (const auto* fraction = std::get_if<FractionRule>(&rule)) return behaviour_of_share(fraction->fraction);
  if (const auto* product = std::get_if<ProductRule>(&rule)) return behaviour_of_share(share_of(*product, dt));
  const auto* spring = std::get_if<SpringStepRule>(&rule);
  if (spring == nullptr) return FrameBehaviour::monotone;
  const StepPoles poles = poles_of(*spring, dt);
  // Inside the unit circle: Jury's conditions for a quadratic.
  if (poles.determinant > 1.0 || std::fabs(poles.trace) > 1.0 + poles.determinant) return FrameBehaviour::diverges;
  const bool both_positive = poles.are_real() && poles.trace > 0.0 && poles.determinant > 0.0;
  return both_positive ? FrameBehaviour::monotone : FrameBehaviour::overshoots;
}

std::vector<BehaviourSpan> behaviours_of(const FrameRule& rule) {
  std::vector<BehaviourSpan> spans;
  double from = 0.0; // s
  const std::vector<double> borders = borders_of(rule);
  for (std::size_t i = 0; i <= borders.size(); ++i) {
    const double to = i < borders.size() ? borders[i] : unbounded;
    const double middle = i < borders.size() ? 0.5 * (from + to) : 2.0 * std::max(from, 1.0);
    const FrameBehaviour here = behaviour_at(rule, middle);
    const double low_fps = to == unbounded ? 0.0 : 1.0 / to;
    if (!spans.empty() && spans.back().behaviour == here)
      spans.back().low_fps = low_fps;
    else
      spans.push_back({low_fps, from == 0.0 ? unbounded : 1.0 / from, here});
    from = to;
  }
  return spans;
}

std::string behaviour_in_words(const FrameRule& rule) {
  const std::vector<BehaviourSpan> spans = behaviours_of(rule);
  if (spans.size() == 1) return fmt::format("{} at every frame rate", word_of(rule, spans[0].behaviour));
  std::string text =
      fmt::format("{} at {} fps and above", word_of(rule, spans[0].behaviour), concise(spans[0].low_fps, 6));
  for (std::size_t i = 1; i < spans.size(); ++i)
    text += fmt::format(", {} below {}", word_of(rule, spans[i].behaviour),
                        i == 1 ? std::string("it") : concise(spans[i].high_fps, 6) + " fps");
  return text;
}

} // namespace stasis
