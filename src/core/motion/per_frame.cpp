#include "core/motion/per_frame.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <type_traits>

#include <fmt/format.h>

#include "core/motion/equivalent.hpp"
#include "core/motion/frame_piece.hpp"
#include "core/motion/smoothing.hpp"
#include "core/motion/stretch.hpp"
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
    double to = unbounded;
    if (i < borders.size()) to = borders[i];
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

namespace {

template<class Rule> void fill_rule(const Rule& rule, MoverState& state, const Stretch& stretch) noexcept {
  const auto& [clock, first, goal, rows] = stretch;
  const std::size_t count = stretch.count();
  SpringState now{state.value, finite_or_zero(state.velocity)};
  rows.value[0] = now.value;
  rows.velocity[0] = 0.0;
  for (std::size_t i = 0; i < count; ++i) {
    const double dt = clock.dt(stretch.frame(i)), before = now.value;
    now = updated(rule, now, goal, dt);
    rows.value[i + 1] = now.value;
    rows.velocity[i] = dt > 0.0 ? (now.value - before) / dt : 0.0;
  }
  // The last one's is that just before the end.
  rows.velocity[count] = count > 0 ? rows.velocity[count - 1] : 0.0;
  state.value = now.value;
  state.velocity = std::is_same_v<Rule, SpringStepRule> ? now.velocity : rows.velocity[count];
}

/// Frames after which what is left of a swing of a spring's steps is below a thousandth.
int frames_to_calm(const SpringStepRule& spring, double dt) noexcept {
  constexpr int most = 20'000;
  const StepPoles poles = poles_of(spring, dt);
  const double root = std::sqrt(std::fabs(0.25 * poles.trace * poles.trace - poles.determinant));
  const double radius = poles.are_real() ? 0.5 * std::fabs(poles.trace) + root : std::sqrt(poles.determinant);
  if (radius >= 1.0) return most;
  return std::clamp(static_cast<int>(std::log(1e-3) / std::log(radius)), 8, most);
}

} // namespace

void PerFrame::fill(MoverState& state, StepMemory&, const Stretch& stretch) const noexcept {
  std::visit([&](const auto& one) { fill_rule(one, state, stretch); }, rule);
}

double PerFrame::go_on(MoverState& state, StepMemory&, RunTime, GoalSegment goal, double h) const noexcept {
  return update_once(*this, state, goal.end, h);
}

double PerFrame::starting_rate(const MoverState& state, double, double, double) const noexcept {
  return state.velocity;
}

Instant PerFrame::inside(const FramePiece& piece, double u, Side, KeptSpringStep&) const noexcept {
  return drawn_inside(piece, u);
}

Outlook PerFrame::outlook(const FramePiece& piece) const noexcept {
  const double goal = piece.goal.end, gap = goal - piece.end_value;
  const double speed = piece.dt > 0.0 ? (piece.end_value - piece.state.value) / piece.dt : 0.0;
  if (gap == 0.0 && speed == 0.0) return {0.0, 0.0};
  if (behaviour_at(rule, piece.dt) == FrameBehaviour::diverges) return {unbounded, unbounded};
  const auto* spring = std::get_if<SpringStepRule>(&rule);
  if (spring == nullptr) {
    const double after = goal - update(rule, {piece.end_value, 0.0}, goal, piece.dt).value;
    return {std::fabs(gap), after * gap < 0.0 ? std::max(std::fabs(after), std::fabs(gap)) : 0.0};
  }
  SpringState state{piece.end_value, speed_after(*spring, piece.state.value, piece.end_value, goal, piece.dt)};
  const double side = std::copysign(1.0, gap);
  Outlook out{std::fabs(gap), 0.0};
  for (int k = frames_to_calm(*spring, piece.dt); k > 0; --k) {
    state = update(rule, state, goal, piece.dt);
    out.stray = std::max(out.stray, std::fabs(state.value - goal));
    out.beyond = std::max(out.beyond, side * (state.value - goal));
  }
  return out;
}

double PerFrame::smooth_stretch(const FramePiece&, double, double) const noexcept { return unbounded; }

MotionFacts PerFrame::facts() const {
  constexpr double frames_more = 8.0;
  MotionFacts facts;
  facts.step_time = facts_of(continuous_form(*this)).step_time + frames_more / at_fps;
  if (!equivalent_of(*this)) facts.no_curve = "it is a rule per frame that no motion by time equals";
  return facts;
}

namespace {

std::string rule_in_words(const FrameRule& rule) {
  if (const auto* fraction = std::get_if<FractionRule>(&rule))
    return fmt::format("{} % of the gap is closed on each frame", concise(100.0 * fraction->fraction));
  if (const auto* product = std::get_if<ProductRule>(&rule))
    return fmt::format("on each frame {} times the frame's time of the gap is closed{}", concise(product->rate),
                       product->is_capped ? ", but never more than all of it" : "");
  if (const auto* amount = std::get_if<AmountRule>(&rule))
    return fmt::format("the value goes {} towards its goal on each frame, at most all the way",
                       concise(amount->amount));
  const auto& spring = std::get<SpringStepRule>(rule);
  return fmt::format("a spring of stiffness {} and damping {} makes one {} Euler step on each frame",
                     concise(spring.stiffness), concise(spring.damping),
                     spring.speed_first ? "semi-implicit" : "explicit");
}

} // namespace

std::string PerFrame::sentence(bool in_doublings) const {
  if (const auto* amount = std::get_if<AmountRule>(&rule); amount != nullptr && in_doublings)
    return PerFrame{AmountRule{amount->amount / std::numbers::ln2}, at_fps}.sentence(false) + ", in doublings";
  std::string text = fmt::format("a per-frame rule, tuned at {} fps: {}; {}", concise(at_fps), rule_in_words(rule),
                                 behaviour_in_words(rule));
  const auto equivalent = equivalent_of(*this);
  if (!equivalent) return text + "; it has no equivalent at other frame rates, since " + why_no_equivalent(*this);
  text += fmt::format("; the same at every rate is {{ {} }}", equivalent->text);
  const Residual residual = residual_of(*this, equivalent->motion);
  constexpr double rounding = 1e-9;
  if (residual.of_step > rounding)
    text += fmt::format(", which swings and dies away alike; a step differs by at most {} % of it",
                        readable(100.0 * residual.of_step));
  if (residual.of_ramp > rounding)
    text += fmt::format("; behind a goal that moves steadily, the two are {} s apart", readable(residual.of_ramp));
  return text;
}

/// What its equivalent is in numbers.
std::vector<EquivalentForm> PerFrame::forms() const {
  const auto equivalent = equivalent_of(*this);
  if (!equivalent) return {};
  if (const auto* glide = std::get_if<Glide>(&equivalent->motion))
    return forms_of(Smoothing{SmoothingForm::rate, glide->rate, at_fps});
  if (const auto* pace = std::get_if<Pace>(&equivalent->motion)) return {{"speed", pace->speed, "per second", "exact"}};
  const auto* spring = std::get_if<Spring>(&equivalent->motion);
  if (spring == nullptr) return {};
  std::vector<EquivalentForm> forms = spring->forms();
  for (EquivalentForm& form : forms) form.sense = "nearest: the same poles";
  return forms;
}

} // namespace stasis
