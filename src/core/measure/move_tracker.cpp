#include "core/measure/move_tracker.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <boost/math/tools/minima.hpp>
#include <boost/math/tools/toms748_solve.hpp>

namespace stasis {
namespace {

double dot(const Components& a, const Components& b) noexcept { return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]; }
double norm(const Components& a) noexcept { return std::hypot(a[0], a[1], a[2]); }

/// The root of a continuous function between two arguments where its signs differ, to the last few bits.
template<class Function>
double bracketed_root(Function function, double low, double high, double at_low, double at_high) {
  if (at_low == 0.0) return low;
  if (at_high == 0.0) return high;
  std::uintmax_t most_steps = 100;
  const auto tight = [](double a, double b) { return std::fabs(b - a) <= 1e-15 * std::max(1.0, std::fabs(a)); };
  const auto [a, b] = boost::math::tools::toms748_solve(function, low, high, at_low, at_high, tight, most_steps);
  return 0.5 * (a + b);
}

bool opposite(double a, double b) noexcept { return (a < 0.0 && b > 0.0) || (a > 0.0 && b < 0.0); }

}  // namespace

MoveTracker::MoveTracker(const Feel& feel, std::size_t channel, const Block& block, const Clock& clock)
    : feel_(feel), channel_(feel.channels[channel]) {
  const auto& components = block.channels[channel].component;
  move_.channel = channel;
  move_.start_frame = block.first;
  move_.start = clock.time(block.first);
  move_.cause = block.cause;
  Components delta{}, jump{}, start_rate{}, distance{};
  instant_ = true;
  double largest_state = 0.0, span = 0.0;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const ComponentBlock& c = components[i];
    move_.from[i] = c.smooth[0];
    move_.to[i] = c.goal;
    start_state_[i] = c.state[0];
    final_state_[i] = c.goal_state;
    delta[i] = c.goal_state - c.state[0];
    distance[i] = c.goal - c.smooth[0];
    start_rate[i] = c.rate[0];
    jump[i] = stretch(channel_.space, c.smooth[0]) * (c.rate[0] - c.rate_before);
    instant_ = instant_ && std::holds_alternative<Cut>(feel.motions[channel_.motion[i]].motion);
    largest_state = std::max({largest_state, std::fabs(c.state[0]), std::fabs(c.goal_state)});
    const ComponentRange& range = channel_.range[i];
    const double reach = std::isfinite(range.high - range.low) ? range.high - range.low : std::fabs(c.goal);
    span = std::max(span, reach);
  }
  length_ = norm(delta);
  negligible_ = length_ == 0.0 || norm(distance) < 1e-9 * span;
  if (length_ > 0.0)
    for (std::size_t i = 0; i < channel_.components; ++i) direction_[i] = delta[i] / length_;
  noise_ = length_ > 0.0 ? 1e-12 + 8.0 * std::numeric_limits<double>::epsilon() * largest_state / length_ : 0.0;
  start_speed_ = norm(start_rate);
  unbounded_ = !std::isfinite(start_speed_);
  if (!unbounded_ && !instant_) move_.jolt = norm(jump);
  last_outside_value_ = move_.from;
  set_band();
}

void MoveTracker::set_band() {
  const SettleBand& band = channel_.settle_band;
  // A peak that lies exactly on the band counts as inside.
  constexpr double on_the_band = 1.0 + 1e-9;
  double below = band.size / 100.0, above = below;
  if (band.absolute && length_ > 0.0) {
    below = above = band.size / length_;
    if (channel_.components == 1) {
      const OpenInterval allowed = domain(channel_.space);
      const auto share_at = [&](double value) {
        if (value <= allowed.low || value >= allowed.high) return std::numeric_limits<double>::infinity();
        return std::fabs(to_space(channel_.space, value) - final_state_[0]) / length_;
      };
      below = share_at(move_.to[0] - std::copysign(band.size, direction_[0]));
      above = share_at(move_.to[0] + std::copysign(band.size, direction_[0]));
    }
  }
  band_low_ = 1.0 - below * on_the_band;
  band_high_ = 1.0 + above * on_the_band;
}

MoveTracker::Sample MoveTracker::sample(const ChannelPiece& piece, double u, bool before) const {
  Sample out;
  Components offset{}, acceleration{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const Instant now = before ? inside_before(piece.component[i], u) : inside(piece.component[i], u);
    const ComponentRange& range = channel_.range[i];
    const double free = from_space(channel_.space, now.value);
    const double value = std::clamp(free, range.low, range.high);
    const bool pinned = free < range.low || free > range.high;
    out.value[i] = value;
    offset[i] = (pinned ? to_space(channel_.space, value) : now.value) - start_state_[i];
    out.progress_rate += direction_[i] * now.velocity / length_;
    if (pinned) continue;
    const double gain = stretch(channel_.space, value);
    out.velocity[i] = gain * now.velocity;
    acceleration[i] = gain * now.acceleration + stretch_slope(channel_.space, value) * now.velocity * now.velocity;
  }
  const double along = dot(offset, direction_);
  out.progress = along / length_;
  out.speed = norm(out.velocity);
  out.acceleration = norm(acceleration);
  out.speed_up = dot(out.velocity, acceleration);
  if (channel_.components > 1) {
    Components aside{};
    for (std::size_t i = 0; i < channel_.components; ++i) aside[i] = offset[i] - along * direction_[i];
    out.sideways = norm(aside);
  }
  return out;
}

void MoveTracker::follow(const ChannelPiece& piece, double since_start) {
  last_piece_ = piece;
  if (negligible_ || calm_) return;
  double stretch_limit = piece.component[0].dt;
  std::array<double, most_components + 2> cuts{};
  std::size_t cut_count = 0;
  cuts[cut_count++] = 0.0;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    // Half of the longest stretch: the speed on the screen may turn where the motion in its space does not.
    stretch_limit = std::min(stretch_limit, 0.5 * longest_smooth_stretch(*piece.component[i].motion));
    if (const auto at = break_inside(piece.component[i])) cuts[cut_count++] = *at;
  }
  const double dt = piece.component[0].dt;
  cuts[cut_count++] = dt;
  std::sort(cuts.begin(), cuts.begin() + static_cast<std::ptrdiff_t>(cut_count));
  for (std::size_t c = 0; c + 1 < cut_count; ++c) {
    const double width = cuts[c + 1] - cuts[c];
    const int parts = std::clamp(static_cast<int>(std::ceil(width / stretch_limit)), 1, 4096);
    for (int p = 0; p < parts; ++p)
      follow_smooth(piece, since_start, cuts[c] + width * p / parts, p + 1 == parts ? cuts[c + 1] : cuts[c] + width * (p + 1) / parts);
    const bool is_break = c + 2 < cut_count || break_inside(piece.component[0]) == dt;
    if (is_break && !unbounded_) {
      const Sample arriving = sample(piece, cuts[c + 1], true), leaving = sample(piece, cuts[c + 1], false);
      Components jump{};
      for (std::size_t i = 0; i < channel_.components; ++i) jump[i] = leaving.velocity[i] - arriving.velocity[i];
      move_.jolt = std::max(move_.jolt.value_or(0.0), norm(jump));
    }
  }
  const Sample end = sample(piece, dt, false);
  constexpr double calm_share = 1e-13;
  double calm_time = dt;
  for (std::size_t i = 0; i < channel_.components; ++i) calm_time = std::max(calm_time, time_to_calm(piece.component[i]));
  calm_ = std::fabs(1.0 - end.progress) < calm_share && std::fabs(end.progress_rate) * calm_time < calm_share;
}

void MoveTracker::follow_smooth(const ChannelPiece& piece, double since_start, double from, double to) {
  const Sample a = sample(piece, from, false), b = sample(piece, to, true);
  note_extremes(piece, since_start, from, a, to, b);
  if (!opposite(a.progress_rate, b.progress_rate)) {
    follow_monotone(piece, since_start, from, a, to, b);
    return;
  }
  const auto rate_at = [&](double u) { return sample(piece, u, false).progress_rate; };
  const double turn = bracketed_root(rate_at, from, to, a.progress_rate, b.progress_rate);
  const Sample at_turn = sample(piece, turn, false);
  follow_monotone(piece, since_start, from, a, turn, at_turn);
  follow_monotone(piece, since_start, turn, at_turn, to, b);
}

void MoveTracker::follow_monotone(const ChannelPiece& piece, double since_start, double from, const Sample& at_from,
                                  double to, const Sample& at_to) {
  note_progress(at_from, since_start + from);
  note_progress(at_to, since_start + to);
  const auto first_reach = [&](std::optional<double>& time, double level) {
    if (time) return;
    if (at_from.progress >= level)
      time = since_start + from;
    else if (at_to.progress >= level)
      time = since_start + crossing(piece, level, from, to);
  };
  first_reach(tenth_, 0.1);
  first_reach(move_.delay_time, 0.5);
  first_reach(ninetieth_, 0.9);
  if (!in_band(at_to.progress)) {
    last_outside_ = since_start + to;
    last_outside_value_ = at_to.value;
  } else if (!in_band(at_from.progress)) {
    const double edge = at_from.progress < band_low_ ? band_low_ : band_high_;
    const double at = crossing(piece, edge, from, to);
    last_outside_ = since_start + at;
    last_outside_value_ = sample(piece, at, false).value;
  }
  last_progress_ = at_to.progress;
}

double MoveTracker::crossing(const ChannelPiece& piece, double level, double from, double to) const {
  const auto beyond = [&](double u) { return sample(piece, u, u >= to).progress - level; };
  return bracketed_root(beyond, from, to, beyond(from), beyond(to));
}

void MoveTracker::note_extremes(const ChannelPiece& piece, double since_start, double from, const Sample& at_from,
                                double to, const Sample& at_to) {
  if (unbounded_ || instant_) return;
  if (!std::isfinite(at_to.speed)) {
    unbounded_ = true;
    return;
  }
  note_speed(at_from, since_start + from);
  note_speed(at_to, since_start + to);
  if (opposite(at_from.speed_up, at_to.speed_up)) {
    const auto speeding = [&](double u) { return sample(piece, u, u >= to).speed_up; };
    const double at = bracketed_root(speeding, from, to, at_from.speed_up, at_to.speed_up);
    note_speed(sample(piece, at, false), since_start + at);
  }
  double largest_here = std::max(at_from.acceleration, at_to.acceleration);
  const double nudge = 1e-6 * (to - from);
  const auto size_at = [&](double u) { return sample(piece, u, u >= to).acceleration; };
  if (size_at(from + nudge) > at_from.acceleration && size_at(to - nudge) > at_to.acceleration) {
    constexpr int bits = 26;  // half of a double's: what a minimum can be located to
    const auto found = boost::math::tools::brent_find_minima([&](double u) { return -size_at(u); }, from, to, bits);
    largest_here = std::max(largest_here, -found.second);
  }
  if (largest_here > move_.peak_acceleration.value_or(-1.0)) move_.peak_acceleration = largest_here;
}

void MoveTracker::note_speed(const Sample& at, double time) {
  // Strictly faster, by more than rounding: of equal peaks the first is reported.
  if (at.speed <= move_.peak_speed.value_or(-1.0) * (1.0 + 1e-14)) return;
  move_.peak_speed = at.speed;
  move_.peak_speed_time = time;
  move_.peak_velocity = at.velocity[0];
}

void MoveTracker::note_progress(const Sample& at, double time) {
  if (at.progress > largest_progress_ + noise_) {
    largest_progress_ = at.progress;
    move_.peak_time = time;
    move_.peak_value = at.value;
  }
  if (channel_.components > 1) move_.sideways = std::max(move_.sideways.value_or(0.0), at.sideways);
}

bool MoveTracker::strays_later() const {
  constexpr int looks = 64;
  double ahead = 0.0;
  for (std::size_t i = 0; i < channel_.components; ++i) ahead = std::max(ahead, time_to_calm(last_piece_->component[i]));
  const double dt = last_piece_->component[0].dt;
  for (int look = 1; look <= looks && ahead > 0.0; ++look)
    if (!in_band(sample(*last_piece_, dt + ahead * look / looks, false).progress)) return true;
  return false;
}

Move MoveTracker::finish(bool retargeted, double since_start, const Components& output) {
  Components gap{};
  for (std::size_t i = 0; i < channel_.components; ++i) gap[i] = move_.to[i] - output[i];
  move_.remaining = norm(gap);
  move_.end = move_.start + since_start;
  if (tenth_ && ninetieth_) {
    move_.rise_from_time = tenth_;
    move_.rise_time = *ninetieth_ - *tenth_;
  }
  const bool inside = !negligible_ && last_piece_ && in_band(last_progress_) && !strays_later();
  move_.retargeted = retargeted && !inside && !negligible_;
  if (inside) {
    move_.settling_time = last_outside_;
    move_.settled_value = last_outside_value_;
    if (!unbounded_ && !instant_) move_.start_kick = start_speed_ * last_outside_ / length_;
  }
  if (!negligible_ && last_piece_) move_.overshoot = 100.0 * (largest_progress_ - 1.0);
  if (unbounded_) {
    move_.peak_speed.reset();
    move_.peak_speed_time.reset();
    move_.peak_acceleration.reset();
    move_.jolt.reset();
  }
  if (move_.overshoot == 0.0) move_.peak_time.reset();
  return std::move(move_);
}

}  // namespace stasis
