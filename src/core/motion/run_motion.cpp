#include "core/motion/run_motion.hpp"

#include <algorithm>

namespace stasis {

void fill_run(const Ease* ease, MoverState& state, const Stretch& stretch) noexcept {
  const auto& [clock, first, goal, rows] = stretch;
  const std::size_t count = stretch.count();
  for (std::size_t i = 0; i <= count; ++i) {
    Instant now{state.value, 0.0, 0.0, 0.0};
    double rate = 0.0;
    if (state.run != nullptr) {
      const double elapsed = state.run->elapsed(clock, stretch.frame(i));
      // The last entry still belongs to the frame before it: the speed of arrival is on. Its value is that from there
      // on, since the row which it leads to shows it.
      now = instant_of(ease, *state.run, elapsed, {goal, 0.0});
      rate = i == count && i > 0 ? instant_of(ease, *state.run, elapsed, {goal, 0.0}, Side::before).velocity
                                 : now.velocity;
    }
    if (i > 0) state.value = now.value;
    state.velocity = now.velocity;
    rows.value[i] = state.value;
    rows.velocity[i] = rate;
  }
}

double arrive(MoverState& state, const Instant& before, const Instant& at) noexcept {
  state.value = at.value;
  state.velocity = at.velocity;
  return before.velocity;
}

Instant inside_run(const Ease* ease, const FramePiece& piece, double u, Side side) noexcept {
  const double slope = piece.slope();
  const double goal = piece.goal.start + slope * u;
  if (piece.state.run == nullptr) return {slope == 0.0 ? piece.state.value : goal, slope, 0.0, 0.0};
  return instant_of(ease, *piece.state.run, piece.run_elapsed + u, {goal, slope}, side);
}

std::optional<double> break_within(const FramePiece& piece, double next, double rounding) noexcept {
  if (next > piece.dt + rounding) return std::nullopt;
  return next > piece.dt - rounding ? piece.dt : next;
}

std::optional<double> break_in_run(const Ease* ease, const FramePiece& piece, double u) {
  const Run* run = piece.state.run.get();
  if (run == nullptr) return std::nullopt;
  return break_within(piece, next_break(ease, *run, piece.run_elapsed + u) - piece.run_elapsed,
                      rounding_at(ease, *run, piece.run_elapsed + piece.dt));
}

double run_left(const Ease* ease, const FramePiece& piece) noexcept {
  const Run* run = piece.state.run.get();
  return run == nullptr ? 0.0 : std::max(0.0, total_time(ease, *run) - (piece.run_elapsed + piece.dt));
}

} // namespace stasis
