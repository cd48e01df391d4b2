#include "core/motion/pace.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/components.hpp"
#include "core/motion/run_motion.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Without a limit of acceleration there is nothing but the cruise.
PaceLeg plan_at_once(double gap, const PaceLimits& limits) noexcept {
  PaceLeg leg;
  leg.gap = gap;
  if (gap == 0.0) return leg;
  const double V = gap > 0.0 ? limits.up : limits.down;
  leg.start_velocity = std::copysign(V, gap);
  leg.total = std::fabs(gap) / V;
  leg.phases[1] = {leg.total, 0.0};
  return leg;
}

} // namespace

PaceLeg PaceLeg::plan(double gap, double velocity, const PaceLimits& limits) noexcept {
  const double A = limits.acceleration;
  if (std::isinf(A)) return plan_at_once(gap, limits);
  PaceLeg leg;
  leg.gap = gap;
  leg.start_velocity = velocity;
  if (gap == 0.0 && velocity == 0.0) return leg;
  // Where braking at once would end, seen from the goal, decides the way that is pushed first; mirrored to "up".
  const double ahead = gap - velocity * std::fabs(velocity) / (2.0 * A);
  const double way = ahead < 0.0 || (ahead == 0.0 && gap < 0.0) ? -1.0 : 1.0;
  leg.unavoidable = velocity * gap > 0.0 && way * gap < 0.0;
  const double d = way * gap, v = way * velocity, V = way > 0.0 ? limits.up : limits.down;
  const double peak = std::sqrt(std::max(0.0, A * d + 0.5 * v * v));
  if (v > V) {
    const double cruise = std::max(0.0, d - (v * v - V * V) / (2.0 * A) - V * V / (2.0 * A)) / V;
    leg.phases = {{{(v - V) / A, -way * A}, {cruise, 0.0}, {V / A, -way * A}}};
  } else if (peak <= V) {
    leg.phases = {{{std::max(0.0, peak - v) / A, way * A}, {0.0, 0.0}, {peak / A, -way * A}}};
  } else {
    const double cruise = std::max(0.0, d - (V * V - v * v) / (2.0 * A) - V * V / (2.0 * A)) / V;
    leg.phases = {{{(V - v) / A, way * A}, {cruise, 0.0}, {V / A, -way * A}}};
  }
  for (const PacePhase& phase : leg.phases) leg.total += phase.duration;
  return leg;
}

double rounding_at(const PaceLeg& leg, double t) noexcept {
  return 1e-12 * (std::isinf(leg.total) ? t : std::max(t, leg.total));
}

bool is_over(const PaceLeg& leg, double t, Side side) noexcept {
  return t >= leg.total + (side == Side::at ? -rounding_at(leg, t) : rounding_at(leg, t));
}

Instant evaluate(const PaceLeg& leg, double t, Side side) noexcept {
  // Seen from there on, an end lies a rounding earlier; seen from before, a rounding later.
  const double slack = side == Side::at ? -rounding_at(leg, t) : rounding_at(leg, t);
  if (t >= leg.total + slack || leg.total == 0.0) return {leg.gap, 0.0, 0.0, 0.0};
  // The last phase is written from its end, so that arrival is exact.
  const PacePhase& braking = leg.phases[2];
  const double left = leg.total - t;
  if (left <= braking.duration - slack)
    return {leg.gap + 0.5 * braking.acceleration * left * left, -braking.acceleration * left, braking.acceleration,
            0.0};
  double position = 0.0, velocity = leg.start_velocity, since = t;
  const PacePhase& first = leg.phases[0];
  const bool in_first = t < first.duration + slack;
  if (!in_first) {
    position = first.duration * (velocity + 0.5 * first.acceleration * first.duration);
    velocity += first.acceleration * first.duration;
    since -= first.duration;
  }
  const double a = in_first ? first.acceleration : 0.0;
  return {position + since * (velocity + 0.5 * a * since), velocity + a * since, a, 0.0};
}

double next_phase(const PaceLeg& leg, double t) noexcept {
  double end = 0.0;
  for (const PacePhase& phase : leg.phases) {
    end += phase.duration;
    if (phase.duration > 0.0 && end > t + 2.0 * rounding_at(leg, t)) return end;
  }
  return never;
}

namespace {

/// On and on at a speed, which is come to first.
PaceLeg on_at(double wanted, double velocity, double acceleration) noexcept {
  PaceLeg leg;
  const bool at_once = std::isinf(acceleration);
  const double gain = wanted - velocity;
  leg.start_velocity = at_once ? wanted : velocity;
  if (!at_once && gain != 0.0) leg.phases[0] = {std::fabs(gain) / acceleration, std::copysign(acceleration, gain)};
  leg.phases[1] = {never, 0.0};
  leg.total = never;
  return leg;
}

/// When such a leg meets what is `gap` ahead and comes towards it at `slope`, s.
double meeting(const PaceLeg& leg, double gap, double slope) noexcept {
  const double way = std::copysign(1.0, gap), first = leg.phases[0].duration;
  const double closing = way * (leg.start_velocity - slope), push = way * leg.phases[0].acceleration;
  const double apart = std::fabs(gap), root = closing * closing + 2.0 * push * apart;
  const double soon = root >= 0.0 ? 2.0 * apart / (closing + std::sqrt(root)) : never;
  if (first == 0.0) return apart / closing;
  if (soon >= 0.0 && soon <= first) return soon;
  return first + (apart - first * (closing + 0.5 * push * first)) / (closing + push * first);
}

} // namespace

PaceChase::PaceChase(const Pace& pace, double from, double velocity, GoalSegment goal, double h) noexcept
    : from_(from), carried_(h > 0.0 ? (goal.end - goal.start) / h : 0.0), goal_(goal.start), slope_(carried_) {
  double gap = goal.start - from;
  // At once it would race through what a rounding has left, and that speed would show.
  constexpr double rounding = 1e-13;
  if (std::isinf(pace.acceleration) && std::fabs(gap) <= rounding * std::max(std::fabs(goal.start), std::fabs(from)))
    gap = 0.0;
  if (std::fabs(slope_) < pace.speed) {
    leg_ = PaceLeg::plan(gap, velocity - slope_, {pace.speed - slope_, pace.speed + slope_, pace.acceleration});
    return;
  }
  carried_ = 0.0;
  const double after = std::copysign(pace.speed, slope_);
  if (!(gap * slope_ < 0.0)) {
    leg_ = on_at(after, velocity, pace.acceleration);
    return;
  }
  leg_ = on_at(std::copysign(pace.speed, gap), velocity, pace.acceleration);
  meets_ = meeting(leg_, gap, slope_);
  met_ = goal_ + slope_ * meets_;
  after_ = on_at(after, evaluate(leg_, meets_, Side::before).velocity, pace.acceleration);
}

Instant PaceChase::at(double s, Side side) const noexcept {
  if (s >= meets_ + (side == Side::at ? -rounding_at(leg_, s) : rounding_at(leg_, s))) {
    const Instant now = evaluate(after_, std::max(0.0, s - meets_), side);
    return {met_ + now.value, now.velocity, now.acceleration, 0.0};
  }
  if (is_over(leg_, s, side)) return {goal_ + slope_ * s, slope_, 0.0, 0.0};
  const Instant now = evaluate(leg_, s, side);
  return {from_ + carried_ * s + now.value, carried_ + now.velocity, now.acceleration, 0.0};
}

double PaceChase::next_break(double s) const noexcept {
  if (s + rounding(s) >= meets_) return meets_ + next_phase(after_, std::max(0.0, s - meets_));
  return std::min(next_phase(leg_, s), meets_);
}

PacePlan plan_pace(const Pace& pace, const Components& gap, const Components& velocity) noexcept {
  PacePlan plan;
  const auto limits = [&](double share) {
    return PaceLimits{pace.speed * share, pace.speed * share, pace.acceleration * share};
  };
  const double distance = length_of(gap), speed = length_of(velocity);
  if (distance == 0.0 && speed == 0.0) return plan;
  plan.along_axis = distance > 0.0 ? scaled(gap, 1.0 / distance) : scaled(velocity, 1.0 / speed);
  const double forward = dot(velocity, plan.along_axis);
  Components sideways = velocity;
  for (std::size_t i = 0; i < sideways.size(); ++i) sideways[i] -= forward * plan.along_axis[i];
  const double drift = length_of(sideways);
  constexpr double rounding = 1e-14;
  if (drift <= rounding * speed || std::isinf(pace.acceleration)) {
    plan.along = PaceLeg::plan(distance, forward, limits(1.0));
    return plan;
  }
  plan.across_axis = scaled(sideways, 1.0 / drift);
  // The larger the share across, the sooner that leg ends and the later the other: halve until both end together.
  double low = 0.0, high = 0.5 * std::numbers::pi;
  for (int halving = 0; halving < 100; ++halving) {
    const double angle = 0.5 * (low + high);
    plan.along = PaceLeg::plan(distance, forward, limits(std::cos(angle)));
    plan.across = PaceLeg::plan(0.0, drift, limits(std::sin(angle)));
    (plan.across.total > plan.along.total ? low : high) = angle;
  }
  return plan;
}

namespace {

/// A pace whose goal moves, or has just moved, is planned from where it is.
/// \param s into the piece of `h` s, \param elapsed s since the run began, then.
// many: a rule, its state and the time into it; the piece of a goal; where in it, on which side
Instant paced(const Pace& pace, const MoverState& state, double elapsed, GoalSegment goal, double h, double s,
              Side side) noexcept {
  if (goal.end != goal.start || state.run == nullptr)
    return PaceChase(pace, state.value, finite_or_zero(state.velocity), goal, h).at(s, side);
  return instant_of(nullptr, *state.run, elapsed, {goal.end, 0.0}, side);
}

/// True where it goes by what was planned when its goal jumped; else its goal moves, or has just moved.
bool is_planned(const FramePiece& piece) noexcept { return piece.state.run != nullptr && piece.slope() == 0.0; }

PaceChase chase_of(const Pace& pace, const FramePiece& piece) noexcept {
  return {pace, piece.state.value, finite_or_zero(piece.state.velocity), piece.goal, piece.dt};
}

} // namespace

void Pace::fill(MoverState& state, StepMemory&, const Stretch& stretch) const noexcept {
  fill_run(nullptr, state, stretch);
}

double Pace::go_on(MoverState& state, StepMemory&, RunTime time, GoalSegment goal, double h) const noexcept {
  const Instant before = paced(*this, state, time.end, goal, h, h, Side::before);
  const double rate = arrive(state, before, paced(*this, state, time.end, goal, h, h, Side::at));
  if (goal.end != goal.start) state.run.reset(); // what was planned for a goal that stood is no longer so
  return rate;
}

double Pace::starting_rate(const MoverState& state, double elapsed, double goal, double slope) const noexcept {
  return paced(*this, state, elapsed, {goal, goal + slope}, 1.0, 0.0, Side::at).velocity;
}

Instant Pace::inside(const FramePiece& piece, double u, Side side, KeptSpringStep&) const noexcept {
  return is_planned(piece) ? inside_run(nullptr, piece, u, side) : chase_of(*this, piece).at(u, side);
}

std::optional<double> Pace::next_break(const FramePiece& piece, double u) const {
  if (is_planned(piece)) return break_in_run(nullptr, piece, u);
  const PaceChase chase = chase_of(*this, piece);
  return break_within(piece, chase.next_break(u), chase.rounding(piece.dt));
}

Outlook Pace::outlook(const FramePiece& piece) const noexcept {
  return run_left(nullptr, piece) > 0.0 ? Outlook{unbounded, unbounded} : straight_on(piece);
}

double Pace::calm_time(const FramePiece& piece) const noexcept { return run_left(nullptr, piece); }

double Pace::smooth_stretch(const FramePiece& piece, double u, double) const noexcept {
  // Each component's way is a parabola between its breaks; of several together the distance from a line is not.
  constexpr double parts = 16.0;
  const Run* const run = piece.state.run.get();
  const double total = run != nullptr ? total_time(nullptr, *run) : 0.0;
  return piece.run_elapsed + u < total ? total / parts : unbounded;
}

MotionFacts Pace::facts() const noexcept {
  // How quick it is depends on the way.
  return {.step_time = 2.0 * (1.0 / speed + speed / acceleration + 2.0 / std::sqrt(acceleration)),
          .no_curve = "a pace takes longer the farther it goes, so no single curve fits it"};
}

std::string Pace::sentence(bool in_doublings) const {
  const double per_unit = in_doublings ? std::numbers::ln2 : 1.0;
  const char* const what = in_doublings ? " doublings" : "";
  const std::string top = concise(speed / per_unit);
  if (acceleration == unbounded)
    return fmt::format("a pace of {}{} a second: it is at that speed at once, and stops dead at its goal", top, what);
  return fmt::format("a pace of at most {}{} a second, gaining or losing at most {} a second each second: it arrives "
                     "as soon as these allow, starts and ends softly, and does not overshoot from rest",
                     top, what, concise(acceleration / per_unit));
}

} // namespace stasis
