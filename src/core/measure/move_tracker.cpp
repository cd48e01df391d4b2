#include "core/measure/move_tracker.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <boost/math/tools/toms748_solve.hpp>

namespace stasis {
namespace {

bool opposite(double a, double b) noexcept { return (a < 0.0 && b > 0.0) || (a > 0.0 && b < 0.0); }

/// The root of a continuous function between two arguments where its signs differ, to the last few bits. Where rounding
/// has made the signs agree, the root lies at an end: the one whose value is nearer to zero.
template<class Function>
double bracketed_root(Function function, double low, double high, double at_low, double at_high) {
  if (at_low == 0.0) return low;
  if (at_high == 0.0) return high;
  if (!opposite(at_low, at_high)) return std::fabs(at_low) < std::fabs(at_high) ? low : high;
  std::uintmax_t most_tries = 100;
  const auto tight = [](double a, double b) { return std::fabs(b - a) <= 1e-15 * std::max(1.0, std::fabs(a)); };
  const auto [a, b] = boost::math::tools::toms748_solve(function, low, high, at_low, at_high, tight, most_tries);
  return 0.5 * (a + b);
}

/// True if a derivative falls through zero: what it belongs to is largest there.
bool is_maximum_between(double at_low, double at_high) noexcept { return at_low > 0.0 && at_high < 0.0; }

} // namespace

MoveTracker::MoveTracker(const Feel& feel, std::size_t channel, const Block& block, const Clock& clock)
    : channel_(feel.channels[channel]), pieces_(feel, channel, clock) {
  const auto& components = block.channels[channel].component;
  move_.channel = channel;
  move_.start_frame = block.first;
  move_.start = clock.time(block.first) - block.channels[channel].moved_ago;
  move_.cause = block.channels[channel].turned ? "turn" : block.cause;
  Components delta{}, jump{}, start_rate{}, rate_jump{}, distance{};
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
    rate_jump[i] = c.rate[0] - c.rate_before;
    jump[i] = stretch(channel_.space, c.smooth[0]) * (c.rate[0] - c.rate_before);
    move_.motion[i] = c.motion;
    const Motion& motion = feel.motions[c.motion].motion;
    goes_by_frames_ = goes_by_frames_ || c.drawn || std::holds_alternative<PerFrame>(motion);
    instant_ = instant_ && (kind_of(motion) == "cut" || kind_of(motion) == "delay");
    move_.unavoidable = move_.unavoidable
                        || (c.run != nullptr
                            && ((pace_of(motion) != nullptr && c.run->pace.along.unavoidable)
                                || (ease_of(motion) != nullptr && c.run->way.overruns)));
    largest_state = std::max({largest_state, std::fabs(c.state[0]), std::fabs(c.goal_state)});
    range_[i] = output_range(channel_, i);
    const double width = range_[i].high - range_[i].low, reach = std::isfinite(width) ? width : std::fabs(c.goal);
    span = std::max(span, reach);
  }
  length_ = length_of(delta);
  negligible_ = length_ == 0.0 || length_of(distance) < 1e-9 * span;
  if (length_ > 0.0)
    for (std::size_t i = 0; i < channel_.components; ++i) direction_[i] = delta[i] / length_;
  noise_ = length_ > 0.0 ? 1e-12 + 8.0 * std::numeric_limits<double>::epsilon() * largest_state / length_ : 0.0;
  start_speed_ = length_of(start_rate);
  start_jump_ = length_of(rate_jump);
  unbounded_ = !std::isfinite(start_speed_);
  if (!unbounded_ && !instant_) move_.jolt = length_of(jump);
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
  Components offset{}, acceleration{}, jerk{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const Instant now = inside(piece.component[i], u, before ? Side::before : Side::at);
    const ComponentRange range = range_[i];
    const SpaceRates rates = rates_at(channel_.space, now.value);
    out.value[i] = std::clamp(rates.value, range.low, range.high);
    const bool pinned = rates.value < range.low || rates.value > range.high;
    offset[i] = (pinned ? to_space(channel_.space, out.value[i]) : now.value) - start_state_[i];
    out.progress_rate += direction_[i] * now.velocity / length_;
    if (pinned) continue;
    const double v = now.velocity;
    out.velocity[i] = rates.first * v;
    acceleration[i] = rates.first * now.acceleration + rates.second * v * v;
    jerk[i] = rates.first * now.jerk + 3.0 * rates.second * v * now.acceleration + rates.third * v * v * v;
  }
  const double along = dot(offset, direction_);
  out.progress = along / length_;
  out.speed = length_of(out.velocity);
  out.acceleration = length_of(acceleration);
  out.speed_up = dot(out.velocity, acceleration);
  out.push_up = dot(acceleration, jerk);
  if (channel_.components > 1) {
    Components aside{};
    for (std::size_t i = 0; i < channel_.components; ++i) aside[i] = offset[i] - along * direction_[i];
    out.sideways = length_of(aside);
  }
  return out;
}

void MoveTracker::follow(std::size_t row, double since_start) {
  const ChannelPiece& piece = pieces_.at(row);
  followed_ = true;
  if (negligible_ || calm_) return;
  double dt = piece.component[0].dt;
  bool turns = false;
  for (std::size_t i = 0; i < channel_.components; ++i)
    if (const auto& turn = piece.component[i].turn; turn && *turn <= dt) {
      dt = *turn;
      turns = true;
    }
  if ((piece.arrived || goes_by_frames_) && last_sample_) note_break(piece, 0.0, *last_sample_);
  double from = 0.0;
  // Components may arrive at different instants within the frame: each is a place where the velocity may jump.
  while (from < dt) {
    double to = dt;
    bool is_break = false;
    for (std::size_t i = 0; i < channel_.components; ++i)
      if (const auto at = next_break(piece.component[i], from); at && *at > from && *at <= to) {
        to = *at;
        is_break = true;
      }
    follow_unbroken(piece, since_start, from, to);
    if (is_break && !(turns && to == dt)) note_break(piece, to, sample(piece, to, true));
    from = to;
  }
  turned_ = turns;
  calm_ = turns || nothing_more_comes(piece, *last_sample_);
}

bool MoveTracker::nothing_more_comes(const ChannelPiece& piece, const Sample& end) const {
  if (!in_band(end.progress)) return false;
  Components stray{}, beyond{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const Outlook outlook = outlook_at_end(piece.component[i]);
    stray[i] = outlook.stray;
    beyond[i] = outlook.beyond;
  }
  constexpr double least_overshoot = 1e-13;
  const bool stays_in_band = length_of(stray) <= length_ * std::min(1.0 - band_low_, band_high_ - 1.0);
  return stays_in_band && length_of(beyond) <= length_ * std::max(largest_progress_ - 1.0, least_overshoot);
}

void MoveTracker::follow_unbroken(const ChannelPiece& piece, double since_start, double from, double to) {
  double longest = to - from;
  // Half of the longest stretch: the speed in the unit may turn where the motion in its space does not.
  for (std::size_t i = 0; i < channel_.components; ++i)
    longest = std::min(longest, 0.5 * longest_smooth_stretch(*piece.component[i].motion));
  const int parts = std::clamp(static_cast<int>(std::ceil((to - from) / longest)), 1, 4096);
  const double width = (to - from) / parts;
  if (from > 0.0 || !last_sample_) last_sample_ = sample(piece, from, false);
  for (int p = 0; p < parts; ++p)
    follow_smooth(piece, since_start, from + width * p, p + 1 == parts ? to : from + width * (p + 1));
}

void MoveTracker::note_break(const ChannelPiece& piece, double at, const Sample& arriving) {
  const Sample leaving = sample(piece, at, false);
  last_sample_ = leaving;
  // A move that waits first sets off here, and here it may kick.
  if (start_speed_ == 0.0 && largest_progress_ <= 1.0 && !tenth_)
    start_speed_ = start_jump_ = std::fabs(leaving.progress_rate) * length_;
  if (!std::isfinite(start_speed_)) unbounded_ = true;
  if (unbounded_) return;
  Components jump{};
  for (std::size_t i = 0; i < channel_.components; ++i) jump[i] = leaving.velocity[i] - arriving.velocity[i];
  move_.jolt = std::max(move_.jolt.value_or(0.0), length_of(jump));
}

void MoveTracker::follow_smooth(const ChannelPiece& piece, double since_start, double from, double to) {
  Sample& a = *last_sample_;
  const Sample b = sample(piece, to, true);
  if (!opposite(a.progress_rate, b.progress_rate)) {
    note_extremes(piece, since_start, from, a, to, b);
    follow_monotone(piece, since_start, from, a, to, b);
    a = b;
    return;
  }
  const auto rate_at = [&](double u) { return sample(piece, u, false).progress_rate; };
  const double turn = bracketed_root(rate_at, from, to, a.progress_rate, b.progress_rate);
  const Sample at_turn = sample(piece, turn, false);
  note_extremes(piece, since_start, from, a, turn, at_turn);
  note_extremes(piece, since_start, turn, at_turn, to, b);
  follow_monotone(piece, since_start, from, a, turn, at_turn);
  follow_monotone(piece, since_start, turn, at_turn, to, b);
  a = b;
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
  first_reach(move_.to_98, 0.98);
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
  if (goes_by_frames_) return; // straight from frame to frame: no acceleration that means anything
  note_speed_peak(piece, since_start, from, at_from, to, at_to);
  double largest_here = std::max(at_from.acceleration, at_to.acceleration);
  if (is_maximum_between(at_from.push_up, at_to.push_up)) {
    const auto pushing = [&](double u) { return sample(piece, u, u >= to).push_up; };
    const double at = bracketed_root(pushing, from, to, at_from.push_up, at_to.push_up);
    largest_here = std::max(largest_here, sample(piece, at, false).acceleration);
  }
  if (largest_here > move_.peak_acceleration.value_or(-1.0)) move_.peak_acceleration = largest_here;
}

void MoveTracker::note_speed_peak(const ChannelPiece& piece, double since_start, double from, const Sample& at_from,
                                  double to, const Sample& at_to) {
  if (at_to.speed_up >= 0.0) return;
  const auto speeding = [&](double u) { return sample(piece, u, u >= to).speed_up; };
  double low = from, at_low = at_from.speed_up, high = to, at_high = at_to.speed_up;
  // From rest this derivative is zero however quickly the speed then grows: the growth is looked for ever nearer.
  constexpr double at_rest = 1e-9;
  if (at_from.speed <= at_rest * std::max(at_to.speed, move_.peak_speed.value_or(0.0))) {
    constexpr int looks = 24;
    for (int look = 0; look < looks && at_low <= 0.0; ++look) {
      const double nearer = from + 0.5 * (high - from), at_nearer = speeding(nearer);
      if (at_nearer > 0.0) {
        low = nearer;
        at_low = at_nearer;
      } else {
        high = nearer;
        at_high = at_nearer;
      }
    }
  }
  if (!is_maximum_between(at_low, at_high)) return;
  const double at = bracketed_root(speeding, low, high, at_low, at_high);
  note_speed(sample(piece, at, false), since_start + at);
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
  Components bound{};
  for (std::size_t i = 0; i < channel_.components; ++i) bound[i] = outlook_at_end(pieces_.last().component[i]).stray;
  if (length_of(bound) <= length_ * std::min(1.0 - band_low_, band_high_ - 1.0)) return false;
  if (goes_by_frames_) return true; // not a bound: worked out to its end
  constexpr int looks = 64;
  double ahead = 0.0;
  for (std::size_t i = 0; i < channel_.components; ++i)
    ahead = std::max(ahead, time_to_calm(pieces_.last().component[i]));
  const double dt = pieces_.last().component[0].dt;
  for (int look = 1; look <= looks && ahead > 0.0; ++look)
    if (!in_band(sample(pieces_.last(), dt + ahead * look / looks, false).progress)) return true;
  return false;
}

Move MoveTracker::finish(bool retargeted, double since_start, const Components& output) {
  Components gap{};
  for (std::size_t i = 0; i < channel_.components; ++i) gap[i] = move_.to[i] - output[i];
  move_.remaining = length_of(gap);
  move_.end = move_.start + since_start;
  if (tenth_ && ninetieth_) {
    move_.rise_from_time = tenth_;
    move_.rise_time = *ninetieth_ - *tenth_;
  }
  const bool inside = !negligible_ && followed_ && in_band(last_progress_) && (turned_ || !strays_later());
  move_.retargeted = retargeted && !inside && !negligible_;
  if (inside) {
    move_.settling_time = last_outside_;
    move_.settled_value = last_outside_value_;
    if (!unbounded_ && !instant_) {
      move_.start_kick = start_speed_ * last_outside_ / length_;
      move_.rule_kick = start_jump_ * last_outside_ / length_;
    }
  }
  if (!negligible_ && followed_) move_.overshoot = 100.0 * (largest_progress_ - 1.0);
  if (unbounded_) {
    move_.peak_speed.reset();
    move_.peak_speed_time.reset();
    move_.peak_acceleration.reset();
    move_.jolt.reset();
  }
  if (move_.overshoot == 0.0) move_.peak_time.reset();
  return std::move(move_);
}

} // namespace stasis
