#include "core/measure/room_measures.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/measure/peak_meter.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// What a rounding may put beyond a surface.
double touch(double hit) noexcept { return 1e-12 * std::max(1.0, std::fabs(hit)); }

} // namespace

RoomTracker::RoomTracker(const Scene& scene, std::size_t channel)
    : scene_(scene), feel_(*scene.feel), channel_(feel_.channels[channel]), index_(channel) {
  for (auto* sum : {&sums_.penetration, &sums_.penetration_time, &sums_.penetration_frames, &sums_.held_time,
                    &sums_.time_below_range, &sums_.unseen_clicks})
    *sum = 0.0;
}

RoomTracker::Frame RoomTracker::frame_at(const Block& block, std::size_t row) const {
  const ChannelBlock& columns = block.channels[index_];
  const ComponentBlock& column = columns.component[0];
  const std::int64_t number = block.first + static_cast<std::int64_t>(row);
  Frame frame{};
  frame.time = scene_.clock.time(number);
  frame.dt = scene_.clock.dt(number);
  frame.hit = columns.hits[row];
  frame.ceiling = columns.ceilings[row];
  const ComponentRange range = goal_range(channel_, 0);
  frame.wish = std::clamp(column.wishes.empty() ? column.wish : column.wishes[row], range.low, range.high);
  frame.smooth = column.smooth[row];
  frame.velocity = column.velocity[row];
  frame.goal = column.goal_at(row);
  frame.goal_state = column.moves() ? column.goal_states[row] : column.goal_state;
  frame.goal_state_end =
      column.moves() ? column.goal_states[std::min(row + 1, column.goal_states.size() - 1)] : column.goal_state;
  frame.obstacle = columns.obstacle;
  frame.jumped = row == 0 && columns.moved;
  frame.last = number + 1 == scene_.clock.frames;
  return frame;
}

void RoomTracker::add_penetration(const Frame& frame) {
  const double beyond = frame.smooth - frame.hit;
  if (!(beyond > touch(frame.hit))) return;
  if (beyond > *sums_.penetration * (1.0 + 1e-9)) {
    sums_.worst_penetration_at = frame.time;
    sums_.worst_obstacle = frame.obstacle;
  }
  keep_largest(sums_.penetration, beyond);
  *sums_.penetration_frames += 1.0;
  if (!frame.last) *sums_.penetration_time += frame.dt;
}

/// On the way out from the moment it is let go until it has come as near its wish as settling asks.
void RoomTracker::add_way_out(const Frame& frame, bool held) {
  const double gap = frame.wish - frame.smooth;
  if (held) {
    on_way_out_ = true;
    released_gap_ = 0.0;
  } else if (was_held_) {
    released_at_ = frame.time;
    released_gap_ = gap;
  }
  if (on_way_out_ && std::isfinite(frame.velocity) && frame.velocity > 0.0)
    keep_largest(sums_.let_out_speed, frame.velocity);
  if (on_way_out_ && !held) {
    const double band = channel_.settle_band.absolute ? channel_.settle_band.size
                                                      : 0.01 * channel_.settle_band.size * std::fabs(released_gap_);
    if (std::fabs(gap) <= band) {
      // Between two frames the gap goes straight enough to say when it was as small as that.
      const double before = std::fabs(last_gap_), now = std::fabs(gap);
      const double since = was_held_ || before <= band ? 0.0 : (band - now) / (before - now);
      const double took = frame.time - released_at_ - since * frame.dt;
      if (released_gap_ > 0.0) keep_largest(sums_.let_out_time, std::max(0.0, took));
      on_way_out_ = false;
    }
  }
  last_gap_ = gap;
}

void RoomTracker::refuse_advice(std::string why) {
  if (!sums_.why_no_advice) sums_.why_no_advice = std::move(why);
}

/// How fast the goal is pushed in, and how much room there is to lag in. Source: docs/measures.md.
void RoomTracker::add_push(const Frame& frame, bool held) {
  const double leap = frame.jumped ? goal_before_ - frame.goal_state : 0.0;
  const bool in_reach = std::isfinite(frame.hit);
  if (in_reach && frame.hit < channel_.range[0].low) {
    refuse_advice(fmt::format("at {} s the range keeps it at {} or more, beyond the obstacle", concise(frame.time),
                              amount_in(channel_.range[0].low, channel_.unit)));
  } else if (in_reach && leap > 0.0 && from_space(channel_.space, goal_before_) > frame.hit + touch(frame.hit)) {
    refuse_advice(
        fmt::format("at {} s the obstacle appears suddenly, and only a motion that takes no time would stay out of it",
                    concise(frame.time)));
  }
  goal_before_ = frame.goal_state_end;
  if (!held) return finish_push();
  if (!push_) push_ = Push{};
  push_->shortest_dt = std::min(push_->shortest_dt, frame.dt);
  push_->leap = std::max(push_->leap, leap);
  // A glide trails at most v tau behind a goal that has fallen at v at most; a leap on every frame, j (1 + tau / dt).
  const double speed = push_->speed + push_->leap / push_->shortest_dt;
  const double room =
      to_space(channel_.space, std::max(frame.hit, channel_.range[0].low)) - frame.goal_state - push_->leap;
  if (speed > 0.0) push_->least_time = std::min(push_->least_time, room / speed);
  if (!frame.last) push_->speed = std::max(push_->speed, (frame.goal_state - frame.goal_state_end) / frame.dt);
}

void RoomTracker::finish_push() {
  if (!push_) return;
  const Push push = *std::exchange(push_, std::nullopt);
  if (push.least_time == unbounded) return;
  if (!(push.least_time > 0.0))
    return refuse_advice(push.leap > 0.0 ? "the obstacle jumps by more than the stand-off"
                                         : "without a stand-off there is no room in which to lag");
  constexpr double rounding = 1e-9;
  const double half_life = (1.0 - rounding) * std::numbers::ln2 * push.least_time;
  sums_.advised_half_life = std::min(sums_.advised_half_life.value_or(unbounded), half_life);
}

void RoomTracker::consume(const Block& block) {
  *sums_.unseen_clicks += block.channels[index_].unseen_clicks;
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const Frame frame = frame_at(block, row);
    const bool held = frame.ceiling < frame.wish;
    if (held && !frame.last) *sums_.held_time += frame.dt;
    if (std::min(frame.ceiling, frame.hit) < channel_.range[0].low && !frame.last) *sums_.time_below_range += frame.dt;
    add_penetration(frame);
    add_way_out(frame, held);
    add_push(frame, held);
    was_held_ = held;
  }
}

RoomSummary RoomTracker::finish() {
  finish_push();
  if (sums_.why_no_advice) sums_.advised_half_life.reset();
  return sums_;
}

std::vector<std::string> RoomTracker::notes() const {
  std::vector<std::string> out;
  if (sums_.why_no_advice)
    out.push_back(fmt::format("{}: no half-life would have kept it out: {}", channel_.name, *sums_.why_no_advice));
  else if (!sums_.advised_half_life)
    out.push_back(fmt::format("{}: no obstacle pushed it in; no half-life to advise", channel_.name));
  if (*sums_.time_below_range > 0.0)
    out.push_back(fmt::format("{}: for {} s an obstacle left less room than its range allows, {}; the range won",
                              channel_.name, readable(*sums_.time_below_range),
                              amount_in(channel_.range[0].low, channel_.unit)));
  if (*sums_.unseen_clicks > 0.0)
    out.push_back(fmt::format("{}: {:g} click{} showed nothing, because an obstacle held the view", channel_.name,
                              *sums_.unseen_clicks, *sums_.unseen_clicks == 1.0 ? "" : "s"));
  return out;
}

} // namespace stasis
