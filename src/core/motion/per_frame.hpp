// `per_frame`: what programs do on each frame, replayed as written. Never exact at another frame rate than its own;
// see equivalent.hpp for what is. Source: docs/maths.md, section 3.
#pragma once

#include <cmath>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/motion/spring.hpp"

namespace stasis {

/// value += fraction (goal - value).
struct FractionRule {
  double fraction; ///< > 0
};

/// value += rate dt (goal - value).
struct ProductRule {
  double rate;    ///< 1/s, > 0
  bool is_capped; ///< rate dt is held at 1, so that the goal is never passed
};

/// The value goes a fixed way towards its goal, and no farther than there.
struct AmountRule {
  double amount; ///< space units a frame, > 0
};

/// A spring of mass 1 advanced by one Euler step a frame.
struct SpringStepRule {
  double stiffness; ///< 1/s2, > 0
  double damping;   ///< 1/s, >= 0
  bool speed_first; ///< semi-implicit: the new speed moves the value; explicit: the old one
};

using FrameRule = std::variant<FractionRule, ProductRule, AmountRule, SpringStepRule>;

struct PerFrame {
  FrameRule rule;
  double at_fps = 60.0; ///< the frame rate at which it was tuned

  std::string_view name() const noexcept { return "per_frame"; }
  void fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const noexcept;
  double go_on(MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) const noexcept;
  double starting_rate(const MoverState& state, double elapsed, double goal, double slope) const noexcept;
  Instant inside(const FramePiece& piece, double u, Side side, KeptSpringStep& kept) const noexcept;
  std::optional<double> next_break(const FramePiece&, double) const noexcept { return std::nullopt; }
  Outlook outlook(const FramePiece& piece) const noexcept;
  double calm_time(const FramePiece&) const noexcept { return 0.0; }
  double smooth_stretch(const FramePiece& piece, double u, double since) const noexcept;
  std::optional<Response> response(double) const noexcept { return std::nullopt; } // it depends on the frame rate
  std::optional<double> lag() const noexcept { return std::nullopt; }
  PerFrame slowed(double) const noexcept { return *this; } // it goes by frames
  MotionTraits traits() const noexcept { return {}; }
  MotionFacts facts() const;
  std::string sentence(bool in_doublings) const;
  std::vector<EquivalentForm> forms() const;
};

/// "fraction", "product", "amount" or "spring_step".
std::string_view name_of(const FrameRule& rule) noexcept;

/// One update of each rule: the new value, and of a spring the new speed.
inline SpringState updated(const FractionRule& rule, SpringState state, double goal, double) noexcept {
  return {state.value + rule.fraction * (goal - state.value), state.velocity};
}
inline SpringState updated(const ProductRule& rule, SpringState state, double goal, double dt) noexcept {
  const double share = rule.rate * dt;
  if (rule.is_capped && share >= 1.0) return {goal, state.velocity};
  return {state.value + share * (goal - state.value), state.velocity};
}
inline SpringState updated(const AmountRule& rule, SpringState state, double goal, double) noexcept {
  const double gap = goal - state.value;
  return {std::fabs(gap) <= rule.amount ? goal : state.value + std::copysign(rule.amount, gap), state.velocity};
}
inline SpringState updated(const SpringStepRule& rule, SpringState state, double goal, double dt) noexcept {
  const double push = rule.stiffness * (goal - state.value) - rule.damping * state.velocity;
  const double velocity = state.velocity + push * dt;
  return {state.value + (rule.speed_first ? velocity : state.velocity) * dt, velocity};
}

/// The state after one update with the goal as the new frame sees it. \param dt s since the frame before. The speed is
/// the spring's own; of the others, the way made over dt.
SpringState update(const FrameRule& rule, SpringState state, double goal, double dt) noexcept;

/// A spring's own speed after an update that has led from `before` to `after`.
double speed_after(const SpringStepRule& spring, double before, double after, double goal, double dt) noexcept;

enum class FrameBehaviour : std::uint8_t { monotone, overshoots, diverges };

/// What the rule makes of a standing goal on frames of `dt` seconds. A rule that neither settles nor grows counts as
/// overshooting, and so does a spring whose poles are not both real and positive: it swings.
FrameBehaviour behaviour_at(const FrameRule& rule, double dt) noexcept;

/// A range of frame rates over which a rule behaves alike.
struct BehaviourSpan {
  double low_fps, high_fps; ///< the first from 0, the last to infinity
  FrameBehaviour behaviour;
};

/// From high rates to low ones.
std::vector<BehaviourSpan> behaviours_of(const FrameRule& rule);

/// "monotone at 18 fps and above, overshooting below it, diverging below 9 fps"; "monotone at every frame rate".
std::string behaviour_in_words(const FrameRule& rule);

/// The eigenvalues of one step of a spring, as their sum and product, and whether they are real.
struct StepPoles {
  double trace, determinant;
  bool are_real() const noexcept { return trace * trace >= 4.0 * determinant; }
};
StepPoles poles_of(const SpringStepRule& spring, double dt) noexcept;

} // namespace stasis
