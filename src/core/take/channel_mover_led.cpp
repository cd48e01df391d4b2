// The part of a channel's way on which a sequence leads it.
#include <algorithm>
#include <cmath>

#include "core/take/channel_mover.hpp"

namespace stasis {
namespace {

const std::shared_ptr<const Motion>& led_motion() {
  static const auto motion = std::make_shared<const Motion>(Led{});
  return motion;
}
/// Of a led value that an obstacle holds: it goes where its goal goes.
const std::shared_ptr<const Motion>& held_motion() {
  static const auto motion = std::make_shared<const Motion>(Cut{});
  return motion;
}

} // namespace

Instant ChannelMover::led_instant(const Mover& mover, std::int64_t frame, Side side) const {
  return evaluate(*mover.led->led, mover.led->elapsed(clock_, frame), side);
}

double ChannelMover::led_value(std::size_t i, std::int64_t frame) const {
  const auto [low, high] = output_range(channel_, i);
  return std::clamp(from_space(channel_.space, led_instant(movers_[i], frame, Side::at).value), low, high);
}

void ChannelMover::lead(std::size_t i, LedCourse course, std::int64_t frame) {
  Mover& mover = movers_[i];
  auto run = runs_.make();
  run->start_frame = frame;
  run->led = std::make_shared<const LedCourse>(std::move(course));
  mover.pending.clear();
  mover.finishes = mover.begins = false;
  mover.slowed = led_motion();
  mover.led = std::move(run);
  mover.state.run = mover.led;
}

LedWay::Moving ChannelMover::going_on(std::size_t i, std::int64_t frame) const {
  const Mover& mover = movers_[i];
  LedWay::Moving out{std::make_shared<const Motion>(motion_of(mover)), {}};
  out.piece.dt = longest_part;
  out.piece.motion = out.motion.get();
  out.piece.state = mover.state;
  out.piece.run_elapsed = elapsed_of(mover, frame);
  out.piece.goal = {mover.acting_state, mover.acting_state};
  return out;
}

void ChannelMover::give_back(std::size_t i, const PoseGoal* owner, std::int64_t frame) {
  Mover& mover = movers_[i];
  if (!mover.led) return;
  const LedCourse& course = *mover.led->led;
  const double elapsed = mover.led->elapsed(clock_, frame);
  const Instant now = evaluate(course, elapsed, Side::at);
  mover.led = nullptr;
  slow(mover);
  mover.memory = mover.piece_memory = {};
  // What is seen may lie elsewhere: held by an obstacle or the range, or a frame before a cut shows.
  const double seen = to_space(channel_.space, mover.smooth);
  constexpr double rounding = 1e-9;
  const bool is_there = std::fabs(seen - now.value) <= rounding * std::max(1.0, std::fabs(now.value));
  mover.state = state_at_rest(is_there ? now.value : seen);
  mover.state.velocity = is_there ? now.velocity : 0.0;
  adopt(motion_of(mover), mover.state);
  mover.goal = mover.acting = mover.asked = mover.start = mover.smooth;
  mover.goal_state = mover.acting_state = mover.state.value;
  mover.owner = owner;
  mover.choices = nullptr;
  mover.moved_by_itself = false;
  mover.line = {}; // what the goal did before is no longer on its way
}

/// By which motion the block is played: held where an obstacle is nearer than the way anywhere in it.
void ChannelMover::choose_led(Mover& mover, const ComponentBlock& out, const std::vector<double>& ceilings) {
  bool held = false;
  for (std::size_t r = 0; r < ceilings.size() && r < out.wishes.size(); ++r) held = held || ceilings[r] < out.wishes[r];
  mover.slowed = held ? held_motion() : led_motion();
  mover.state.run = held ? nullptr : mover.led;
}

void ChannelMover::fill_led(std::size_t i, std::int64_t first, const std::vector<double>& ceilings,
                            ComponentBlock& out) {
  Mover& mover = movers_[i];
  const std::size_t rows = out.state.size();
  const auto [low, high] = output_range(channel_, i);
  out.goals.resize(rows);
  out.goal_states.resize(rows);
  out.free_wishes.clear();
  out.knots.clear();
  if (mover.state.run != nullptr) {
    advance_rows(*mover.slowed, mover.state, mover.memory, clock_, first, 0.0, {out.state, out.rate, {}});
    for (std::size_t r = 0; r < rows; ++r) {
      out.goal_states[r] = r == 0 ? led_instant(mover, first, Side::at).value : out.state[r];
      out.goals[r] = std::clamp(from_space(channel_.space, out.goal_states[r]), low, high);
    }
  } else {
    for (std::size_t r = 0; r < rows; ++r) {
      out.goals[r] = std::clamp(std::min(out.wishes[r], ceilings[r]), low, high);
      out.goal_states[r] = to_space(channel_.space, out.goals[r]);
    }
    for (std::size_t r = 0; r < rows; ++r) {
      out.state[r] = r == 0 ? mover.state.value : out.goal_states[r];
      const std::size_t from = r + 1 < rows ? r : r - 1;
      out.rate[r] =
          (out.goal_states[from + 1] - out.goal_states[from]) / clock_.dt(first + static_cast<std::int64_t>(from));
    }
    mover.state.value = out.state.back();
    mover.state.velocity = out.rate.back();
  }
  mover.goal = mover.acting = mover.asked = out.goals.back();
  mover.goal_state = mover.acting_state = out.goal_states.back();
}

} // namespace stasis
