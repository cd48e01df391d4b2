#include "core/motion/mover.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>

namespace stasis {
namespace {

void fill_cut(MoverState& state, double goal, const MoverRows& rows) noexcept {
  const std::size_t count = rows.value.size() - 1;
  for (std::size_t i = 0; i <= count; ++i) {
    rows.value[i] = i == 0 ? state.value : goal;
    rows.velocity[i] = 0.0;
  }
  state.value = rows.value[count];
  state.velocity = 0.0;
}

void fill_glide(const Glide& glide, MoverState& state, const GlideStep& step, double goal,
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

void fill_spring(MoverState& state, const SpringStep& step, double goal, const MoverRows& rows) noexcept {
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

void fill_ease(const Ease& ease, MoverState& state, const Clock& clock, std::int64_t first, double goal,
               const MoverRows& rows) noexcept {
  const std::size_t count = rows.value.size() - 1;
  for (std::size_t i = 0; i <= count; ++i) {
    Instant now{state.value, 0.0, 0.0, 0.0};
    if (state.running) {
      const double elapsed = clock.elapsed(state.run_start, first + static_cast<std::int64_t>(i));
      const bool arrived = elapsed >= ease.duration;
      // The last entry still belongs to the frame before it: the speed of arrival is on, the move not yet over.
      now = i == count ? evaluate_before(ease, state.run_from, elapsed, goal, 0.0)
                       : evaluate(ease, state.run_from, elapsed, goal, 0.0);
      if (arrived) now.value = goal;
      state.running = !arrived || i == count;
      state.value = now.value;
    }
    rows.value[i] = now.value;
    rows.velocity[i] = now.velocity;
  }
  state.velocity = rows.velocity[count];
}

template<class Step, class Make> const Step& remembered(StepMemory& memory, double dt, Make make) noexcept {
  if (memory.dt != dt || !std::holds_alternative<Step>(memory.step)) {
    memory.step = make();
    memory.dt = dt;
  }
  return *std::get_if<Step>(&memory.step);
}

Instant inside_ease(const Ease& ease, const FramePiece& piece, double u, bool before) noexcept {
  const double slope = piece.dt > 0.0 ? (piece.goal.end - piece.goal.start) / piece.dt : 0.0;
  const double goal = piece.goal.start + slope * u;
  if (!piece.running) return {slope == 0.0 ? piece.value : goal, slope, 0.0, 0.0};
  double elapsed = piece.run_elapsed + u;
  // The sum may miss the end of the move by a rounding; its two sides must not be mixed up.
  if (std::fabs(elapsed - ease.duration) < 1e-12 * ease.duration) elapsed = ease.duration;
  return before ? evaluate_before(ease, piece.run_from, elapsed, goal, slope)
                : evaluate(ease, piece.run_from, elapsed, goal, slope);
}

} // namespace

std::string_view kind_of(const Motion& motion) noexcept {
  constexpr std::array<std::string_view, 4> names{"cut", "glide", "spring", "ease"};
  return names[motion.index()];
}

void begin_move(const Motion& motion, MoverState& state, std::int64_t frame) noexcept {
  if (!std::holds_alternative<Ease>(motion)) return;
  state.run_from = state.value;
  state.run_start = frame;
  state.running = true;
}

void advance_rows(const Motion& motion, MoverState& state, StepMemory& memory, const Clock& clock, std::int64_t first,
                  double goal, const MoverRows& rows) noexcept {
  const double dt = clock.dt();
  if (const auto* glide = std::get_if<Glide>(&motion)) {
    const auto& step = remembered<GlideStep>(memory, dt, [&] { return glide_step(*glide, dt); });
    fill_glide(*glide, state, step, goal, rows);
  } else if (const auto* spring = std::get_if<Spring>(&motion)) {
    const auto& step = remembered<SpringStep>(memory, dt, [&] { return spring_step(*spring, dt); });
    fill_spring(state, step, goal, rows);
  } else if (const auto* ease = std::get_if<Ease>(&motion)) {
    fill_ease(*ease, state, clock, first, goal, rows);
  } else {
    fill_cut(state, goal, rows);
  }
}

namespace {

Instant inside_glide(const Glide& glide, const FramePiece& piece, double u) noexcept {
  const double slope = piece.dt > 0.0 ? (piece.goal.end - piece.goal.start) / piece.dt : 0.0;
  const GoalSegment part{piece.goal.start, piece.goal.start + slope * u};
  const double value = u == 0.0        ? piece.value
                       : u == piece.dt ? piece.end_value
                                       : advance(glide_step(glide, u), piece.value, part);
  const double rate = velocity(glide, value, part.end);
  const double acceleration = glide.rate * (slope - rate);
  return {value, rate, acceleration, -glide.rate * acceleration};
}

Instant inside_spring(const Spring& spring, const FramePiece& piece, double u) noexcept {
  const double slope = piece.dt > 0.0 ? (piece.goal.end - piece.goal.start) / piece.dt : 0.0;
  const GoalSegment part{piece.goal.start, piece.goal.start + slope * u};
  SpringState state{piece.value, piece.velocity};
  if (u == piece.dt)
    state = {piece.end_value, piece.end_velocity};
  else if (u != 0.0)
    state = advance(spring_step(spring, u), state, part);
  const double w = spring.angular_frequency;
  const double speeding = acceleration(spring, state, part.end, slope);
  return {state.value, state.velocity, speeding,
          w * w * (slope - state.velocity) - 2.0 * spring.damping_ratio * w * speeding};
}

} // namespace

Instant inside(const FramePiece& piece, double u) noexcept {
  if (const auto* glide = std::get_if<Glide>(piece.motion)) return inside_glide(*glide, piece, u);
  if (const auto* spring = std::get_if<Spring>(piece.motion)) return inside_spring(*spring, piece, u);
  if (const auto* ease = std::get_if<Ease>(piece.motion)) return inside_ease(*ease, piece, u, false);
  const double slope = piece.dt > 0.0 ? (piece.goal.end - piece.goal.start) / piece.dt : 0.0;
  return {piece.goal.start + slope * u, slope, 0.0, 0.0};
}

Instant inside_before(const FramePiece& piece, double u) noexcept {
  if (const auto* ease = std::get_if<Ease>(piece.motion)) return inside_ease(*ease, piece, u, true);
  return inside(piece, u);
}

std::optional<double> break_inside(const FramePiece& piece) noexcept {
  const auto* ease = std::get_if<Ease>(piece.motion);
  if (ease == nullptr || !piece.running) return std::nullopt;
  const double left = ease->duration - piece.run_elapsed;
  if (left <= 0.0 || left > piece.dt) return std::nullopt;
  return left;
}

Outlook outlook_at_end(const FramePiece& piece) noexcept {
  const double gap = std::fabs(piece.goal.end - piece.end_value);
  if (const auto* spring = std::get_if<Spring>(piece.motion)) {
    // The energy of a damped spring never grows, so neither does this radius.
    const double w = spring->angular_frequency, speed = std::fabs(piece.end_velocity);
    const double radius = std::hypot(gap, speed / w);
    // At ratio 1 and above the goal is passed only by coming in faster than the quick root.
    const bool stays_short = spring->damping_ratio >= 1.0 && speed <= w * spring->damping_ratio * gap;
    return {radius, stays_short ? 0.0 : radius};
  }
  const auto* ease = std::get_if<Ease>(piece.motion);
  const bool under_way = ease != nullptr && piece.running && piece.run_elapsed + piece.dt < ease->duration;
  if (under_way) return {std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()};
  return {gap, 0.0};
}

double time_to_calm(const FramePiece& piece) noexcept {
  if (const auto* ease = std::get_if<Ease>(piece.motion))
    return piece.running ? std::max(0.0, ease->duration - piece.run_elapsed) : 0.0;
  const auto* spring = std::get_if<Spring>(piece.motion);
  if (spring == nullptr) return 0.0;
  // One period shows every later swing at its largest; above ratio 1, several of the slow root's time constants do.
  constexpr double slow_time_constants = 8.0;
  return spring->damping_ratio < 1.0 ? 4.0 * longest_smooth_stretch(*piece.motion)
                                     : slow_time_constants * 2.0 * spring->damping_ratio / spring->angular_frequency;
}

double longest_smooth_stretch(const Motion& motion) noexcept {
  constexpr double unbounded = std::numeric_limits<double>::infinity();
  const auto* spring = std::get_if<Spring>(&motion);
  if (spring == nullptr || spring->damping_ratio >= 1.0) return unbounded;
  const double z = spring->damping_ratio;
  const double damped = spring->angular_frequency * std::sqrt((1.0 - z) * (1.0 + z));
  return 0.5 * std::numbers::pi / damped;
}

} // namespace stasis
