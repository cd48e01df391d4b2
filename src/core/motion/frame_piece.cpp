#include "core/motion/frame_piece.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/motion/chain_input.hpp"
#include "core/motion/led.hpp"
#include "core/overloaded.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

double slope_of(const FramePiece& piece) noexcept {
  return piece.dt > 0.0 ? (piece.goal.end - piece.goal.start) / piece.dt : 0.0;
}

Instant inside_glide(const Glide& glide, const FramePiece& piece, double u) noexcept {
  const double slope = slope_of(piece);
  const GoalSegment part{piece.goal.start, piece.goal.start + slope * u};
  const double value = u == 0.0        ? piece.state.value
                       : u == piece.dt ? piece.end_value
                                       : advance(glide_step(glide, u), piece.state.value, part);
  const double rate = velocity(glide, value, part.end);
  const double acceleration = glide.rate * (slope - rate);
  return {value, rate, acceleration, -glide.rate * acceleration};
}

const SpringStep& step_of(const Spring& spring, const FramePiece& piece, double u, KeptSpringStep& kept) noexcept {
  if (kept.motion != piece.motion || kept.u != u) kept = {piece.motion, u, spring_step(spring, u)};
  return kept.step;
}

Instant inside_spring(const Spring& spring, const FramePiece& piece, double u, KeptSpringStep& kept) noexcept {
  const double slope = slope_of(piece);
  const GoalSegment part{piece.goal.start, piece.goal.start + slope * u};
  SpringState state{piece.state.value, piece.state.velocity};
  if (u == piece.dt)
    state = {piece.end_value, piece.end_velocity};
  else if (u != 0.0)
    state = advance(step_of(spring, piece, u, kept), state, part);
  const double w = spring.angular_frequency, drag = 2.0 * spring.damping_ratio * w;
  const double speeding = acceleration(spring, state, part.end, slope);
  return {state.value, state.velocity, speeding, w * w * (slope - state.velocity) - drag * speeding};
}

Instant inside_run(const Ease* ease, const FramePiece& piece, double u, Side side) noexcept {
  const double slope = slope_of(piece);
  const double goal = piece.goal.start + slope * u;
  if (piece.state.run == nullptr) return {slope == 0.0 ? piece.state.value : goal, slope, 0.0, 0.0};
  return instant_of(ease, *piece.state.run, piece.run_elapsed + u, {goal, slope}, side);
}

/// True where a pace goes by what was planned when its goal jumped; else its goal moves, or has just moved.
bool is_planned(const FramePiece& piece) noexcept { return piece.state.run != nullptr && slope_of(piece) == 0.0; }

Instant inside_pace(const Pace& pace, const FramePiece& piece, double u, Side side) noexcept {
  if (is_planned(piece)) return inside_run(nullptr, piece, u, side);
  return PaceChase(pace, piece.state.value, finite_or_zero(piece.state.velocity), piece.goal, piece.dt).at(u, side);
}

Instant inside_chain(const Chain& chain, const FramePiece& piece, double u, Side side) {
  if (u == piece.dt && piece.end_stages && side == Side::before) {
    MoverState end = piece.state;
    end.input = piece.end_stages->input;
    end.links = piece.end_stages->links;
    const double slope = slope_of(piece);
    const ChainInput input(chain, piece.state, piece.run_elapsed, piece.goal, piece.dt);
    const Instant at_end = chain.head ? input.at(u, side) : Instant{piece.goal.end, slope, 0.0, 0.0};
    return chain.links.empty() ? at_end : output_of(chain.links, end.links, at_end);
  }
  return instant_in_chain(chain, piece.state, piece.run_elapsed, piece.goal, piece.dt, u, side);
}

/// Between two frames a per-frame rule says nothing; what is drawn goes straight on.
Instant inside_per_frame(const FramePiece& piece, double u) noexcept {
  const double rate = piece.dt > 0.0 ? (piece.end_value - piece.state.value) / piece.dt : 0.0;
  return {u == piece.dt ? piece.end_value : piece.state.value + rate * u, rate, 0.0, 0.0};
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

Outlook outlook_of(const FrameRule& rule, const FramePiece& piece) noexcept {
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

double radius_of(const Spring& spring, double gap, double velocity) noexcept {
  return std::hypot(gap, velocity / spring.angular_frequency);
}

/// Seconds after the piece's end until its run is over.
double run_left(const FramePiece& piece) noexcept {
  const Run* run = piece.state.run.get();
  if (run == nullptr || (ease_of(*piece.motion) == nullptr && pace_of(*piece.motion) == nullptr)) return 0.0;
  return std::max(0.0, total_time(ease_of(*piece.motion), *run) - (piece.run_elapsed + piece.dt));
}

/// A quarter of a spring's damped period; infinite where it does not swing.
double quarter_period_of(const Spring& spring) noexcept {
  const double z = spring.damping_ratio;
  if (z >= 1.0) return unbounded;
  return 0.5 * std::numbers::pi / (spring.angular_frequency * std::sqrt((1.0 - z) * (1.0 + z)));
}

double calm_time_of(const Spring& spring) noexcept {
  // One period shows every later swing at its largest; above ratio 1, several of the slow root's time constants do.
  constexpr double slow_time_constants = 8.0;
  return spring.damping_ratio < 1.0 ? 4.0 * quarter_period_of(spring)
                                    : slow_time_constants * 2.0 * spring.damping_ratio / spring.angular_frequency;
}

double calm_time_of(const Glide& glide) noexcept {
  constexpr double time_constants = 4.0;
  return time_constants / glide.rate;
}

/// The shortest time in which the motion's own ways of dying away turn anything, `since` seconds after what has set
/// them off: what has died away by then turns nothing more.
double stretch_of(const Glide& glide, double since) noexcept { return std::max(0.5 / glide.rate, 0.5 * since); }
double stretch_of(const Spring& spring, double since) noexcept {
  const double w = spring.angular_frequency, z = spring.damping_ratio;
  if (z < 1.0) return 0.5 / w;
  return std::max(0.5 / (w * (z + std::sqrt((z - 1.0) * (z + 1.0)))), 0.5 * since);
}
} // namespace

Instant inside(const FramePiece& piece, double u, Side side, KeptSpringStep* kept) {
  KeptSpringStep once;
  if (piece.drawn) return inside_per_frame(piece, u);
  const auto at = Overloaded{
      [&](const Cut&) {
        return Instant{piece.goal.start + slope_of(piece) * u, slope_of(piece), 0.0, 0.0};
      },
      [&](const Glide& glide) { return inside_glide(glide, piece, u); },
      [&](const Spring& spring) { return inside_spring(spring, piece, u, kept != nullptr ? *kept : once); },
      [&](const Ease& ease) { return inside_run(&ease, piece, u, side); },
      [&](const Pace& pace) { return inside_pace(pace, piece, u, side); },
      [&](const Chain& chain) { return inside_chain(chain, piece, u, side); },
      [&](const PerFrame&) { return inside_per_frame(piece, u); },
      [&](const Led&) { return inside_run(nullptr, piece, u, side); },
  };
  return std::visit(at, *piece.motion);
}

std::optional<double> next_break(const FramePiece& piece, double u) {
  using Break = std::optional<double>;
  if (piece.drawn) return std::nullopt;
  const auto within = [&](double next, double rounding) -> Break {
    if (next > piece.dt + rounding) return std::nullopt;
    return next > piece.dt - rounding ? piece.dt : next;
  };
  const auto of_run = [&](const Ease* ease) -> Break {
    const Run* run = piece.state.run.get();
    if (run == nullptr) return std::nullopt;
    return within(next_break(ease, *run, piece.run_elapsed + u) - piece.run_elapsed,
                  rounding_at(ease, *run, piece.run_elapsed + piece.dt));
  };
  const auto next = Overloaded{
      [](const Cut&) -> Break { return std::nullopt; },
      [](const Glide&) -> Break { return std::nullopt; },
      [](const Spring&) -> Break { return std::nullopt; },
      [&](const Ease& ease) { return of_run(&ease); },
      [&](const Pace& pace) {
        if (is_planned(piece)) return of_run(nullptr);
        const PaceChase chase(pace, piece.state.value, finite_or_zero(piece.state.velocity), piece.goal, piece.dt);
        return within(chase.next_break(u), chase.rounding(piece.dt));
      },
      [&](const Chain& chain) {
        const ChainInput input(chain, piece.state, piece.run_elapsed, piece.goal, piece.dt);
        return within(input.next_break(u), input.rounding(piece.dt));
      },
      [](const PerFrame&) -> Break { return std::nullopt; },
      [&](const Led&) { return of_run(nullptr); },
  };
  return std::visit(next, *piece.motion);
}

namespace {

Outlook outlook_of(const Spring& spring, const FramePiece& piece) noexcept {
  const double goal = piece.goal.end, gap = std::fabs(goal - piece.end_value);
  // The energy of a damped spring never grows, so neither does this radius.
  const double radius = radius_of(spring, gap, piece.end_velocity);
  // At ratio 1 and above the goal is passed only by coming in faster than the quick root; what has passed it, and
  // goes on, is not yet as far beyond as it will be.
  const double w = spring.angular_frequency;
  const bool goes_away = piece.end_velocity * (goal - piece.end_value) < 0.0;
  const bool stays_short =
      spring.damping_ratio >= 1.0 && !goes_away && std::fabs(piece.end_velocity) <= w * spring.damping_ratio * gap;
  return {radius, stays_short ? 0.0 : radius};
}

Outlook outlook_of(const Chain& chain, const FramePiece& piece) {
  const double goal = piece.goal.end;
  if (chain.links.empty()) return {std::fabs(goal - piece.end_value), 0.0};
  if (!piece.end_stages) return {unbounded, unbounded};
  const double input_stray = chain.head ? std::fabs(piece.end_stages->input.value - goal) : 0.0;
  const double bound = stray_bound(chain, piece.end_stages->links, goal, input_stray);
  return {bound, bound};
}

} // namespace

Outlook outlook_at_end(const FramePiece& piece) {
  const Outlook on_its_way{unbounded, unbounded}, straight{std::fabs(piece.goal.end - piece.end_value), 0.0};
  const auto ahead = Overloaded{
      [&](const Cut&) { return straight; },
      [&](const Glide&) { return straight; },
      [&](const Spring& spring) { return outlook_of(spring, piece); },
      [&](const Ease&) { return run_left(piece) > 0.0 ? on_its_way : straight; },
      [&](const Pace&) { return run_left(piece) > 0.0 ? on_its_way : straight; },
      [&](const Chain& chain) { return run_left(piece) > 0.0 ? on_its_way : outlook_of(chain, piece); },
      [&](const PerFrame& rule) { return outlook_of(rule.rule, piece); },
      [&](const Led&) { return on_its_way; },
  };
  return std::visit(ahead, *piece.motion);
}

double time_to_calm(const FramePiece& piece) noexcept {
  const double left = run_left(piece);
  const auto time = Overloaded{
      [](const Cut&) { return 0.0; },
      [](const Glide&) { return 0.0; },
      [](const Spring& spring) { return calm_time_of(spring); },
      [&](const Ease&) { return left; },
      [&](const Pace&) { return left; },
      [&](const Chain& chain) {
        double all = left;
        for (const Link& link : chain.links) all += std::visit([](const auto& one) { return calm_time_of(one); }, link);
        return all;
      },
      [](const PerFrame&) { return 0.0; },
      [](const Led&) { return 0.0; }, // its goal goes with it
  };
  return std::visit(time, *piece.motion);
}

double smooth_stretch(const FramePiece& piece, double u, double since) noexcept {
  if (piece.drawn) return unbounded;
  const Run* const run = piece.state.run.get();
  const auto of_ease = [&](const Ease& ease) {
    return run != nullptr ? smooth_stretch(ease, run->way, piece.run_elapsed + u) : unbounded;
  };
  // Of a pace each component's is a parabola between its breaks; of several together the distance from a line is not.
  const auto of_pace = [&] {
    constexpr double parts = 16.0;
    const double total = run != nullptr ? total_time(nullptr, *run) : 0.0;
    return piece.run_elapsed + u < total ? total / parts : unbounded;
  };
  const auto longest = Overloaded{
      [](const Cut&) { return unbounded; },
      [&](const Glide& glide) { return stretch_of(glide, since); },
      [&](const Spring& spring) { return stretch_of(spring, since); },
      of_ease,
      [&](const Pace&) { return of_pace(); },
      [&](const Chain& chain) {
        double least = unbounded;
        if (chain.head) least = std::visit(Overloaded{of_ease, [&](const Pace&) { return of_pace(); }}, *chain.head);
        for (const Link& link : chain.links)
          least = std::min(least, std::visit([&](const auto& one) { return stretch_of(one, since); }, link));
        return least;
      },
      [](const PerFrame&) { return unbounded; },
      [&](const Led&) { return stasis::smooth_stretch(*run->led, piece.run_elapsed + u); },
  };
  return std::visit(longest, *piece.motion);
}

} // namespace stasis
