#include "core/measure/move_tracker.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

#include "core/measure/limit_watch.hpp"
#include "core/root.hpp"

namespace stasis {

// many: a channel's place in a feel, where its move begins, and why
MoveTracker::MoveTracker(const Feel& feel, std::size_t channel, const Block& block, const Clock& clock,
                         std::string cause, std::optional<std::size_t> step)
    : feel_(feel), channel_(feel.channels[channel]) {
  const auto& components = block.channels[channel].component;
  const std::size_t row = step.value_or(0);
  move_.channel = channel;
  move_.start_frame = block.first + static_cast<std::int64_t>(row);
  move_.start = clock.time(move_.start_frame);
  move_.cause = std::move(cause);
  Components jump{}, start_rate{}, rate_jump{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const ComponentBlock& c = components[i];
    move_.from[i] = c.smooth[row];
    move_.to[i] = step && c.moves() ? c.goals[row + 1] : c.goal;
    const ComponentRange limits = limits_in_space(channel_, i); // what the range held back begins where it is seen
    start_state_[i] = std::clamp(c.state[row], limits.low, limits.high);
    final_state_[i] = step && c.moves() ? c.goal_states[row + 1] : c.goal_state;
    start_rate[i] = c.rate[row];
    rate_jump[i] = row == 0 ? c.rate[0] - c.rate_before : 0.0; // within a block nothing jumps
    jump[i] = stretch(channel_.space, c.smooth[row]) * rate_jump[i];
    move_.motion[i] = c.motion;
    const Motion& motion = feel.motions[c.motion].motion;
    goes_by_frames_ = goes_by_frames_ || c.drawn || std::holds_alternative<PerFrame>(motion);
    move_.unavoidable = move_.unavoidable
                        || (c.run != nullptr
                            && ((pace_of(motion) != nullptr && c.run->pace.along.unavoidable)
                                || (ease_of(motion) != nullptr && c.run->way.overruns)));
  }
  aim();
  start_speed_ = length_of(start_rate);
  start_jump_ = length_of(rate_jump);
  has_moved_ = start_speed_ > 0.0;
  unbounded_ = !std::isfinite(start_speed_);
  if (!unbounded_ && !instant_) move_.jolt = length_of(jump);
}

/// Works out from where the move starts and where it goes what its numbers are measured by.
void MoveTracker::aim() {
  Components delta{}, distance{};
  instant_ = true;
  double largest_state = 0.0, span = 0.0;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    delta[i] = final_state_[i] - start_state_[i];
    distance[i] = move_.to[i] - move_.from[i];
    instant_ = instant_ && traits_of(feel_.motions[move_.motion[i]].motion).jumps;
    largest_state = std::max({largest_state, std::fabs(start_state_[i]), std::fabs(final_state_[i])});
    range_[i] = output_range(channel_, i);
    range_states_[i] = limits_in_space(channel_, i);
    const double width = range_[i].high - range_[i].low;
    span = std::max(span, std::isfinite(width) ? width : std::fabs(move_.to[i]));
  }
  length_ = length_of(delta);
  span_ = span;
  negligible_ = length_ == 0.0 || length_of(distance) < 1e-9 * span;
  direction_ = length_ > 0.0 ? scaled(delta, 1.0 / length_) : Components{};
  noise_ = length_ > 0.0 ? 1e-12 + 8.0 * std::numeric_limits<double>::epsilon() * largest_state / length_ : 0.0;
  last_outside_value_ = move_.from;
  set_band();
}

MoveTracker MoveTracker::turned(const ChannelFrame& frame, double start, std::int64_t start_frame) const {
  MoveTracker back(*this);
  back.move_ = {};
  back.move_.channel = move_.channel;
  back.move_.motion = move_.motion;
  back.move_.start_frame = start_frame;
  back.move_.start = start;
  back.move_.cause = "turn";
  back.move_.from = last_sample_->value;
  const ChannelInstant here = frame.at(*turn_);
  Components jump{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const FramePiece& piece = frame.piece_at(i, *turn_, Side::at);
    const Ease* ease = ease_of(*piece.motion);
    const bool goes_back = ease != nullptr && ease->there_and_back && piece.state.run != nullptr;
    const double heads_for =
        goes_back ? heading(*ease, piece.state.run->way, piece.run_elapsed + *turn_ - piece.from + instant_slack)
                  : final_state_[i];
    back.start_state_[i] = here[i].value;
    back.final_state_[i] = heads_for;
    back.move_.to[i] = heads_for == final_state_[i]   ? move_.to[i]
                       : heads_for == start_state_[i] ? move_.from[i]
                                                      : from_space(channel_.space, heads_for);
    jump[i] = stretch(channel_.space, last_sample_->value[i]) * (here[i].velocity - last_sample_->free[i].velocity);
  }
  back.aim();
  Components rate{}, rate_jump{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    rate[i] = here[i].velocity;
    rate_jump[i] = here[i].velocity - last_sample_->free[i].velocity;
  }
  back.start_speed_ = length_of(rate);
  back.start_jump_ = length_of(rate_jump);
  back.has_moved_ = back.start_speed_ > 0.0;
  back.unbounded_ = !std::isfinite(back.start_speed_) || !std::isfinite(back.start_jump_);
  if (!back.unbounded_ && !instant_) back.move_.jolt = length_of(jump);
  back.unbounded_push_ = back.calm_ = back.followed_ = false;
  back.turn_.reset();
  back.last_sample_.reset();
  back.before_end_.reset();
  back.tenth_.reset();
  back.ninetieth_.reset();
  back.last_outside_ = back.last_progress_ = 0.0;
  back.largest_progress_ = 1.0;
  back.held_ = {};
  return back;
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

MoveTracker::Sample MoveTracker::sample(const ChannelFrame& frame, double u, Side side) const {
  Sample out;
  Components offset{}, acceleration{}, jerk{};
  out.free = frame.at(u, side);
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const Instant& now = out.free[i];
    const SpaceRates rates = rates_at(channel_.space, now.value);
    out.value[i] = std::clamp(rates.value, range_[i].low, range_[i].high);
    const bool pinned = held_[i] != Held::free;
    if (pinned) out.value[i] = held_[i] == Held::low ? range_[i].low : range_[i].high;
    offset[i] =
        (pinned || out.value[i] != rates.value ? to_space(channel_.space, out.value[i]) : now.value) - start_state_[i];
    if (pinned) continue;
    out.progress_rate += direction_[i] * now.velocity / length_;
    out.progress_push += direction_[i] * now.acceleration / length_;
    const double v = now.velocity;
    out.velocity[i] = rates.first * v;
    acceleration[i] = rates.first * now.acceleration + rates.second * v * v;
    jerk[i] = rates.first * now.jerk + 3.0 * rates.second * v * now.acceleration + rates.third * v * v * v;
  }
  const double along = dot(offset, direction_);
  out.progress = along / length_;
  out.speed = length_of(out.velocity);
  out.acceleration = length_of(acceleration);
  out.speed_up = {dot(out.velocity, acceleration), dot(acceleration, acceleration) + dot(out.velocity, jerk)};
  out.push_up = dot(acceleration, jerk);
  if (channel_.components > 1) {
    Components rate{}, push{};
    for (std::size_t i = 0; i < channel_.components; ++i) {
      if (held_[i] != Held::free) continue;
      rate[i] = out.free[i].velocity;
      push[i] = out.free[i].acceleration;
    }
    const auto across = [&](const Components& v) { return plus(v, direction_, -dot(v, direction_)); };
    const Components aside = across(offset), aside_rate = across(rate);
    out.sideways = length_of(aside);
    out.sideways_up = {dot(aside, aside_rate), dot(aside_rate, aside_rate) + dot(aside, across(push))};
  }
  return out;
}

void MoveTracker::follow(const ChannelFrame& frame, double since_start, double from, double until) {
  followed_ = true;
  followed_until_ = until;
  if (negligible_ || calm_) return;
  turn_ = frame.turn_after(from);
  if (turn_ && *turn_ > until) turn_.reset();
  const double end = turn_.value_or(std::min(frame.dt, until));
  // A move that ends with the frame before has not come to rest where another one begins there and then.
  if (from == 0.0 && (frame.arrived || goes_by_frames_) && last_sample_)
    note_break(frame, 0.0, frame.arrived ? before_end_.value_or(*last_sample_) : *last_sample_);
  before_end_.reset();
  if (!last_sample_) last_sample_ = sample(frame, from, Side::at);
  // Components may arrive at different instants within the frame: each is a place where the velocity may jump.
  bool is_over = false;
  for_each_stretch(frame, from, end, [&](double a, double b, bool breaks) {
    if (is_over) return;
    if (from > 0.0 && b - from < instant_slack) { // a rounding after the turn at which it begins: still the turn
      last_sample_ = sample(frame, b, Side::at);
      return;
    }
    follow_stretch(frame, since_start, a, b);
    // What happens at a turn, or where the goal begins to run, is no longer this move's.
    // A turn is a break too, found by another sum: the same instant except for a rounding.
    is_over = b >= end - instant_slack && (turn_ || end < frame.dt || until <= frame.dt);
    if (is_over && turn_) note_arrival(frame, since_start, *turn_);
    if (!breaks || is_over) return;
    const Sample arriving = sample(frame, b, Side::before);
    if (b >= frame.dt - instant_slack) before_end_ = arriving;
    note_break(frame, b, arriving);
  });
  calm_ = turn_ || nothing_more_comes(frame, *last_sample_);
}

/// A curve may come to its end by a jump, as steps do: at the turn the move is there, and goes back from there.
void MoveTracker::note_arrival(const ChannelFrame& frame, double since_start, double turn) {
  const Sample there = sample(frame, turn, Side::at);
  if (std::fabs(there.progress - last_sample_->progress) <= noise_) return;
  follow_monotone(frame, since_start, turn, there, turn, there);
  last_sample_->value = there.value;
}

bool MoveTracker::nothing_more_comes(const ChannelFrame& frame, const Sample& end) const {
  if (!in_band(end.progress) || frame.awaits) return false;
  Components stray{}, beyond{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const Outlook outlook = outlook_at_end(frame.last(i));
    stray[i] = outlook.stray;
    beyond[i] = outlook.beyond;
  }
  const bool stays_in_band = length_of(stray) <= length_ * std::min(1.0 - band_low_, band_high_ - 1.0);
  const bool has_arrived = move_.to_98.has_value(); // every share of the way that is told has been passed
  return has_arrived && stays_in_band
         && length_of(beyond) <= length_ * std::max(largest_progress_ - 1.0, least_overshoot);
}

/// Where the range holds each component in a stretch that lies on one side of it all along, except for a rounding at
/// one end.
void MoveTracker::note_held(const ChannelInstant& a, const ChannelInstant& b) noexcept {
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const double middle = std::midpoint(a[i].value, b[i].value);
    held_[i] = middle < range_states_[i].low ? Held::low : middle > range_states_[i].high ? Held::high : Held::free;
  }
}

/// True if a component lies on one of its limits at both ends of a stretch, except for a rounding.
bool MoveTracker::meets_range(const ChannelInstant& a, const ChannelInstant& b) const noexcept {
  constexpr double rounding = 64.0 * std::numeric_limits<double>::epsilon();
  const auto is_on = [](double value, double limit) {
    return std::fabs(value - limit) <= rounding * std::max(std::fabs(limit), std::numeric_limits<double>::min());
  };
  for (std::size_t i = 0; i < channel_.components; ++i)
    for (const double limit : {range_states_[i].low, range_states_[i].high})
      if (std::isfinite(limit) && is_on(a[i].value, limit) && is_on(b[i].value, limit)) return true;
  return false;
}

void MoveTracker::follow_stretch(const ChannelFrame& frame, double since_start, double from, double to) {
  stretch_ = {from, to};
  const Sample end = sample(frame, to, Side::before);
  cuts_.clear();
  for (std::size_t i = 0; i < channel_.components; ++i)
    for (const double limit : {range_states_[i].low, range_states_[i].high})
      if (std::isfinite(limit)) add_crossings(frame, i, from, last_sample_->free[i], to, end.free[i], limit, cuts_);
  // What meets the range where the stretch ends, except for a rounding, meets it there.
  constexpr double alike = 1e-11;
  std::erase_if(cuts_, [&](double cut) { return cut - from < alike || to - cut < alike; });
  if (cuts_.empty()) {
    const auto before = held_;
    note_held(last_sample_->free, end.free);
    // A swing beyond the range and back within the stretch has both its ends on the limit: its middle tells the side.
    if (meets_range(last_sample_->free, end.free)) {
      const ChannelInstant middle = frame.at(std::midpoint(from, to));
      note_held(middle, middle);
    }
    if (held_ == before) return follow_smooth(frame, since_start, from, to, end);
    last_sample_ = sample(frame, from, Side::at);
    return follow_smooth(frame, since_start, from, to, sample(frame, to, Side::before));
  }
  std::sort(cuts_.begin(), cuts_.end());
  cuts_.push_back(to);
  for (const double cut : cuts_) {
    if (!(cut > from)) continue;
    const ChannelInstant middle = frame.at(0.5 * (from + cut));
    note_held(middle, middle);
    last_sample_ = sample(frame, from, Side::at);
    follow_smooth(frame, since_start, from, cut, sample(frame, cut, Side::before));
    from = cut;
  }
}

void MoveTracker::note_break(const ChannelFrame& frame, double at, Sample arriving) {
  const ChannelInstant there = frame.at(at);
  note_held(there, there);
  const Sample leaving = sample(frame, at, Side::at);
  last_sample_ = leaving;
  // A move that waits first sets off here, and here it may kick.
  if (!has_moved_) {
    start_speed_ = std::fabs(leaving.progress_rate) * length_;
    start_jump_ = std::max(start_jump_, start_speed_);
  }
  has_moved_ = has_moved_ || start_speed_ > 0.0;
  unbounded_ =
      unbounded_ || !std::isfinite(start_speed_) || !std::isfinite(leaving.speed) || !std::isfinite(arriving.speed);
  if (unbounded_ || instant_) return;       // a cut has no speed that could jump
  if (goes_by_frames_ && at == 0.0) return; // a per-frame rule has another on each
  Components jump{};
  for (std::size_t i = 0; i < channel_.components; ++i) jump[i] = leaving.velocity[i] - arriving.velocity[i];
  move_.jolt = std::max(move_.jolt.value_or(0.0), length_of(jump));
}

void MoveTracker::follow_smooth(const ChannelFrame& frame, double since_start, double from, double to,
                                const Sample& b) {
  Sample& a = *last_sample_;
  has_moved_ = has_moved_ || std::fabs(b.progress) > noise_;
  double last = from;
  const auto go_to = [&](double at, const Sample& there) {
    note_extremes(frame, since_start, last, a, at, there);
    follow_monotone(frame, since_start, last, a, at, there);
    a = there;
    last = at;
  };
  for_each_sign_change([&](double u) { return sample_within(frame, u).progress_rate; },
                       [&](double u) { return sample_within(frame, u).progress_push; }, from,
                       {a.progress_rate, a.progress_push}, to, {b.progress_rate, b.progress_push},
                       [&](double turn) { go_to(turn, sample_within(frame, turn)); });
  go_to(to, b);
}

// many: both ends of a stretch of a frame, each with what is there
void MoveTracker::follow_monotone(const ChannelFrame& frame, double since_start, double from, const Sample& at_from,
                                  double to, const Sample& at_to) {
  note_progress(at_from, since_start + from);
  note_progress(at_to, since_start + to);
  if (channel_.components > 1) note_sideways(frame, from, at_from, to, at_to);
  const auto first_reach = [&](std::optional<double>& time, double level) {
    if (time) return;
    // A step may end on the very level, or miss it by a rounding.
    if (at_from.progress >= level - noise_)
      time = since_start + from;
    else if (at_to.progress >= level - noise_)
      time = since_start + crossing(frame, level, from, to);
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
    const double at = crossing(frame, edge, from, to);
    last_outside_ = since_start + at;
    last_outside_value_ = sample_within(frame, at).value;
  } else if (!in_band(last_progress_)) {
    last_outside_value_ = at_from.value; // it came in by a jump
  }
  last_progress_ = at_to.progress;
}

double MoveTracker::crossing(const ChannelFrame& frame, double level, double from, double to) const {
  const auto beyond = [&](double u) { return sample_within(frame, u).progress - level; };
  return bracketed_root(beyond, from, to, beyond(from), beyond(to));
}

bool MoveTracker::strays_later(const ChannelFrame& frame) const {
  if (frame.awaits) return true;
  // Where the goal runs on within the frame, the piece until then tells what would have come.
  const double end = std::min(frame.dt, followed_until_);
  Components bound{};
  for (std::size_t i = 0; i < channel_.components; ++i)
    bound[i] = outlook_at_end(frame.piece_at(i, end, Side::before)).stray;
  if (length_of(bound) <= length_ * std::min(1.0 - band_low_, band_high_ - 1.0)) return false;
  if (end < frame.dt) return true;  // what lies beyond is another goal's
  if (goes_by_frames_) return true; // not a bound: worked out to its end
  constexpr int looks = 64;
  double ahead = 0.0;
  for (std::size_t i = 0; i < channel_.components; ++i) ahead = std::max(ahead, time_to_calm(frame.last(i)));
  for (int look = 1; look <= looks && ahead > 0.0; ++look)
    if (!in_band(sample(frame, frame.dt + ahead * look / looks, Side::at).progress)) return true;
  return false;
}

Move MoveTracker::finish(const ChannelFrame* last, bool retargeted, double since_start, const Components& output) {
  Components gap{};
  for (std::size_t i = 0; i < channel_.components; ++i) gap[i] = move_.to[i] - output[i];
  move_.remaining = length_of(gap);
  move_.end = move_.start + since_start;
  if (tenth_ && ninetieth_) {
    move_.rise_from_time = tenth_;
    move_.rise_time = *ninetieth_ - *tenth_;
  }
  const bool inside =
      !negligible_ && followed_ && in_band(last_progress_) && (calm_ || (last != nullptr && !strays_later(*last)));
  move_.retargeted = retargeted && !inside && !negligible_;
  if (inside) {
    move_.settling_time = last_outside_;
    move_.settled_value = last_outside_value_;
    if (!unbounded_ && !instant_) {
      move_.start_kick = start_jump_ * last_outside_ / length_;
    }
  }
  if (!negligible_ && followed_) move_.overshoot = 100.0 * (largest_progress_ - 1.0);
  if (unbounded_) {
    move_.peak_speed.reset();
    move_.peak_speed_time.reset();
    move_.jolt.reset();
  }
  // From where it is to where it is: which motion was chosen for that is chance, and nothing has kicked.
  constexpr double no_speed = 1e-12; // of the span, in a second: what rounding leaves
  if (negligible_ && move_.jolt && *move_.jolt <= no_speed * span_) move_.jolt.reset();
  if (unbounded_ || unbounded_push_) move_.peak_acceleration.reset();
  move_.unbounded_acceleration = unbounded_push_ && !unbounded_;
  if (move_.overshoot == 0.0) move_.peak_time.reset();
  return std::move(move_);
}

} // namespace stasis
