#include "core/motion/ease.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/curve/curve_facts.hpp"
#include "core/motion/run_motion.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

/// What a sum of times may be off by, as a share of the times themselves.
constexpr double place_rounding = 1e-12;

double duration_of(const Ease& ease, const EaseRun& run) noexcept { return ease.duration * run.share; }
double wait_of(const Ease& ease, const EaseRun& run) noexcept { return run.at_once ? 0.0 : ease.delay; }

int legs_of(const Ease& ease, const EaseRun& run) noexcept {
  return run.once ? 1 : ease.repeat * (ease.there_and_back ? 2 : 1);
}

bool goes_back(const Ease& ease, const EaseRun& run, int leg) noexcept {
  return !run.once && ease.there_and_back && leg % 2 == 1;
}

/// A share of the time that misses a corner of the curve by a rounding is that corner: its two sides differ.
double at_corner(const Curve& curve, double share) noexcept {
  const double corner = next_corner(curve, share - place_rounding);
  return std::fabs(corner - share) < place_rounding ? corner : share;
}

/// An elapsed time as a leg and the time within it; a sum may miss a boundary by a rounding, which must not mix
/// its two sides up.
struct Place {
  int leg;
  double within;
};

Place place_of(const Ease& ease, const EaseRun& run, double elapsed, Side side) noexcept {
  const int legs = legs_of(ease, run);
  const double D = duration_of(ease, run), since = elapsed - wait_of(ease, run);
  const double tolerance = place_rounding * std::max(D, elapsed);
  if (since > tolerance && since < D - tolerance) return {0, since}; // as below, sooner: most of what is asked
  const double nearest = std::round(since / D);
  const bool on_boundary = std::fabs(since - nearest * D) < tolerance;
  int leg = on_boundary ? static_cast<int>(std::min(nearest, static_cast<double>(legs)))
                        : static_cast<int>(std::min(std::floor(since / D), static_cast<double>(legs)));
  double within = on_boundary ? 0.0 : since - leg * D;
  // Only an end of one of its legs has a before of its own; after the last nothing happens at a multiple of D.
  if (on_boundary && side == Side::before && nearest <= legs) {
    --leg;
    within = D;
  }
  if (leg >= legs) return {legs, 0.0};
  return {leg, within};
}

/// How far along its way a move is at a share of its time, with the rates by that share.
CurvePoint progress(const Ease& ease, const EaseRun& run, double share, Side side) noexcept {
  const double m = run.plain ? 1.0 : run.mix;
  CurvePoint p{0.0, 0.0, 0.0, 0.0};
  if (m < 1.0) p = evaluate(ease.curve, at_corner(ease.curve, share), side);
  if (m == 0.0) return p;
  const double u = share, k = 1.0 - m;
  return {k * p.value + m * u * u * (3.0 - 2.0 * u), k * p.slope + m * 6.0 * u * (1.0 - u),
          k * p.bend + m * (6.0 - 12.0 * u), k * p.twist - m * 12.0};
}

/// What is added so that the speed goes on: push * h * y (1 - y)^2 with y = share / h, and its rates by the share.
CurvePoint pushed(const EaseRun& run, double share, Side side) noexcept {
  const double h = run.push_width, y = share / h;
  if (run.push == 0.0 || y > 1.0 || (y == 1.0 && side == Side::at)) return {0.0, 0.0, 0.0, 0.0};
  return {run.push * h * y * (1.0 - y) * (1.0 - y), run.push * (1.0 - y) * (1.0 - 3.0 * y),
          run.push * (6.0 * y - 4.0) / h, run.push * 6.0 / (h * h)};
}

/// A slope at the start beyond this cannot be mixed with the speed that comes in without turning back.
constexpr double steepest_carried_start = 5.0;

void carry_speed(const Ease& ease, const EaseStart& start, EaseRun& run) noexcept {
  const double gap = start.to - start.from, v = finite_or_zero(start.velocity);
  // A move from rest is the curve itself; what a rounding, or a swing that has long died away, leaves of a speed is
  // rest.
  constexpr double rest = 1e-6;
  if (std::fabs(v) * ease.duration <= rest * std::fabs(gap)) return;
  run.at_once = true;
  const double slope = evaluate(ease.curve, 0.0, Side::at).slope;
  const bool steep = !(std::fabs(slope) <= steepest_carried_start);
  double D = ease.duration;
  if (gap != 0.0 && v * gap > 0.0) {
    constexpr double fastest = 3.0; // a smoothstep plus the push stays below its goal up to this
    const double floor = ease.brake_at_least > 0.0 ? ease.brake_at_least : 0.25 * D;
    if (v * D / gap > fastest) {
      D = std::max(fastest * gap / v, std::min(floor, D));
      run.share = D / ease.duration;
    }
    const double r = v * D / gap;
    run.overruns = r > fastest * (1.0 + 1e-12);
    run.mix = steep || r >= fastest * (1.0 - 1e-12) ? 1.0 : r / fastest;
    run.push = gap * (r - (run.mix < 1.0 ? (1.0 - run.mix) * slope : 0.0));
    return;
  }
  run.plain = steep;
  run.push = v * D - (steep ? 0.0 : gap * slope);
  const double room = v > 0.0 ? start.high - start.from : start.from - start.low;
  const double excursion = 4.0 / 27.0 * std::fabs(run.push);
  constexpr double narrowest = 1e-3; // at the range's end there is no room at all, and the push must still be finite
  if (excursion > room) run.push_width = std::max(narrowest, room / excursion);
}

} // namespace

EaseRun begin_ease(const Ease& ease, const EaseStart& start) noexcept {
  EaseRun run;
  run.from = start.from;
  run.to = start.to;
  run.once = start.once;
  const double whole = std::fabs(start.to - start.old_goal), left = std::fabs(start.to - start.from);
  if (ease.handover == Handover::pro_rata && left > 0.0 && left < whole) run.share = left / whole;
  if (ease.handover == Handover::carry) carry_speed(ease, start, run);
  return run;
}

double total_time(const Ease& ease, const EaseRun& run) noexcept {
  return wait_of(ease, run) + duration_of(ease, run) * legs_of(ease, run);
}

// many: a rule, its run and the time into it; the goal and how it goes; which side of an instant
Instant evaluate(const Ease& ease, const EaseRun& run, double elapsed, double goal, double goal_velocity,
                 Side side) noexcept {
  const int legs = legs_of(ease, run);
  const auto [leg, within] = place_of(ease, run, elapsed, side);
  if (leg < 0) return {run.from, 0.0, 0.0, 0.0};
  const bool over = leg >= legs;
  const bool back = goes_back(ease, run, over ? legs - 1 : leg);
  const double origin = back ? goal : run.from, end = back ? run.from : goal;
  const double end_velocity = back ? 0.0 : goal_velocity, origin_velocity = back ? goal_velocity : 0.0;
  if (over) {
    const double share = evaluate(ease.curve, 1.0).value;
    if (share == 1.0) return {end, end_velocity, 0.0, 0.0};
    return {origin + (end - origin) * share, origin_velocity + (end_velocity - origin_velocity) * share, 0.0, 0.0};
  }
  const double gap = end - origin, rate = end_velocity - origin_velocity, D = duration_of(ease, run);
  const double share = within / D;
  const CurvePoint push = pushed(run, share, side);
  if (gap == 0.0 && rate == 0.0)
    return {end + push.value, end_velocity + push.slope / D, push.bend / (D * D), push.twist / (D * D * D)};
  const CurvePoint p = progress(ease, run, share, side);
  Instant now{origin + gap * p.value + push.value, origin_velocity + (gap * p.slope + push.slope) / D,
              (gap * p.bend + push.bend) / (D * D), (gap * p.twist + push.twist) / (D * D * D)};
  if (rate == 0.0) return now; // a slope may be infinite, and zero times infinity is NaN
  now.velocity += rate * p.value;
  now.acceleration += 2.0 * rate * p.slope / D;
  now.jerk += 3.0 * rate * p.bend / (D * D);
  return now;
}

double rounding_at(const Ease& ease, const EaseRun& run, double elapsed) noexcept {
  return 2.0 * place_rounding * std::max(elapsed, duration_of(ease, run));
}

double next_break(const Ease& ease, const EaseRun& run, double elapsed) {
  const int legs = legs_of(ease, run);
  const double D = duration_of(ease, run), wait = wait_of(ease, run);
  // What is missed by a rounding is the place itself, not the next one.
  const double after = elapsed + rounding_at(ease, run, elapsed);
  if (after < wait) return wait;
  const int leg = static_cast<int>(std::min((after - wait) / D, static_cast<double>(legs)));
  if (leg >= legs) return never;
  const double start = wait + D * leg, share = (after - start) / D;
  double corner = run.plain || run.mix == 1.0 ? 1.0 : next_corner(ease.curve, share);
  if (run.push != 0.0 && run.push_width > share) corner = std::min(corner, run.push_width);
  return corner < 1.0 ? start + corner * D : start + D;
}

double smooth_stretch(const Ease& ease, const EaseRun& run, double elapsed) noexcept {
  const auto [leg, within] = place_of(ease, run, elapsed, Side::at);
  if (leg < 0 || leg >= legs_of(ease, run)) return never;
  const double D = duration_of(ease, run), share = within / D;
  double until = run.plain ? 1.0 : smooth_until(ease.curve, share);
  constexpr double parts = 16.0; // of what is mixed in or pushed
  if (run.plain || run.mix > 0.0 || run.push != 0.0) until = std::min(until, share + run.push_width / parts);
  return (until - share) * D;
}

double next_turn(const Ease& ease, const EaseRun& run, double elapsed) noexcept {
  if (run.once || !ease.there_and_back) return never;
  const int legs = legs_of(ease, run);
  for (int leg = 1; leg < legs; ++leg)
    if (const double at = wait_of(ease, run) + duration_of(ease, run) * leg; at > elapsed) return at;
  return never;
}

double heading(const Ease& ease, const EaseRun& run, double elapsed) noexcept {
  const int legs = legs_of(ease, run);
  const int leg = std::clamp(place_of(ease, run, elapsed, Side::at).leg, 0, legs - 1);
  return goes_back(ease, run, leg) ? run.from : run.to;
}

namespace {

/// An eased move re-aims without a new start; over, or never begun, it is its goal.
// many: a rule, its state and the time into it; the goal and how it goes; which side of an instant
Instant eased(const Ease& ease, const MoverState& state, double elapsed, double goal, double slope,
              Side side) noexcept {
  if (state.run == nullptr) return {slope == 0.0 ? state.value : goal, slope, 0.0, 0.0};
  return evaluate(ease, state.run->way, elapsed, goal, slope, side);
}

} // namespace

void Ease::fill(MoverState& state, StepMemory&, const Stretch& stretch) const noexcept {
  fill_run(this, state, stretch);
}

double Ease::go_on(MoverState& state, StepMemory&, RunTime time, GoalSegment goal, double h) const noexcept {
  const double slope = slope_of(goal, h);
  const Instant before = eased(*this, state, time.end, goal.end, slope, Side::before);
  return arrive(state, before, eased(*this, state, time.end, goal.end, slope, Side::at));
}

double Ease::starting_rate(const MoverState& state, double elapsed, double goal, double slope) const noexcept {
  return eased(*this, state, elapsed, goal, slope, Side::at).velocity;
}

Instant Ease::inside(const FramePiece& piece, double u, Side side, KeptSpringStep&) const noexcept {
  return inside_run(this, piece, u, side);
}

std::optional<double> Ease::next_break(const FramePiece& piece, double u) const { return break_in_run(this, piece, u); }

Outlook Ease::outlook(const FramePiece& piece) const noexcept {
  return run_left(this, piece) > 0.0 ? Outlook{unbounded, unbounded} : straight_on(piece);
}

double Ease::calm_time(const FramePiece& piece) const noexcept { return run_left(this, piece); }

double Ease::smooth_stretch(const FramePiece& piece, double u, double) const noexcept {
  const Run* const run = piece.state.run.get();
  return run != nullptr ? stasis::smooth_stretch(*this, run->way, piece.run_elapsed + u) : unbounded;
}

MotionTraits Ease::traits() const noexcept {
  const bool is_smooth = handover == Handover::carry && evaluate(curve, 0.0).slope == 0.0;
  return {.keeps_speed = is_smooth, .takes_speed_over = is_smooth};
}

MotionFacts Ease::facts() const noexcept {
  const EaseRun whole{.from = 0.0, .to = 1.0};
  return {.typical_time = duration, .step_time = 1.5 * total_time(*this, whole)};
}

namespace {

std::string handover_in_words(const Ease& ease) {
  switch (ease.handover) {
  case Handover::restart: return "a new goal half-way takes the full time again, from where the value is";
  case Handover::pro_rata:
    return "a new goal half-way takes a share of the time, by how much of the way there is to go; the speed jumps";
  case Handover::finish_first:
    return "a new goal half-way waits until the move is done; of several, the last one counts";
  case Handover::carry: break;
  }
  return fmt::format(
      "a new goal half-way lets value and speed go on; if the value comes in fast, it brakes for at least {} s",
      concise(ease.brake_at_least > 0.0 ? ease.brake_at_least : 0.25 * ease.duration));
}

} // namespace

std::string Ease::sentence(bool) const {
  std::string words = in_words(facts_of(curve));
  if (!words.empty()) {
    words[0] = static_cast<char>(words[0] >= 'A' && words[0] <= 'Z' ? words[0] - 'A' + 'a' : words[0]);
    words.pop_back();
  }
  std::string text = fmt::format("an eased move of {} s: {}", concise(duration), words);
  if (delay > 0.0) text += fmt::format("; it waits {} s first", concise(delay));
  if (there_and_back) text += "; then it goes back the same way";
  if (repeat > 1) text += fmt::format("; {} times over", repeat);
  return text + "; " + handover_in_words(*this);
}

} // namespace stasis
