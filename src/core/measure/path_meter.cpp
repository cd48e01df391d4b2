#include "core/measure/path_meter.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

#include <boost/math/quadrature/gauss.hpp>
#include <boost/math/quadrature/gauss_kronrod.hpp>
#include <boost/math/tools/minima.hpp>

#include "core/measure/limit_watch.hpp"
#include "core/root.hpp"

namespace stasis {
namespace {

/// Of a larger number, what rounding can make of nothing.
constexpr double way_rounding = 1e-12;
/// s: breaks of several components, and both ends of a part that is there by rounding only (a pace that is no sooner at
/// full speed than it brakes), are one instant.
constexpr double one_break = 1e-8;
/// Beside a place where a curve stands upright nothing has a bound.
bool all_finite(double a, double b) noexcept { return std::isfinite(a) && std::isfinite(b); }

template<auto Member> double length_of_part(const std::array<Smooth, most_components>& now) noexcept {
  Components parts{};
  for (std::size_t i = 0; i < parts.size(); ++i) parts[i] = now[i].*Member;
  return length_of(parts);
}
double speed_of(const std::array<Smooth, most_components>& now) noexcept { return length_of_part<&Smooth::rate>(now); }
double push_of(const std::array<Smooth, most_components>& now) noexcept { return length_of_part<&Smooth::push>(now); }
double jerk_of(const std::array<Smooth, most_components>& now) noexcept { return length_of_part<&Smooth::jerk>(now); }

/// Derivative of half the square of the speed, and its own.
Slope speed_up(const std::array<Smooth, most_components>& now) noexcept {
  Slope slope{0.0, 0.0};
  for (const Smooth& one : now) {
    slope.value += one.rate * one.push;
    slope.rate += one.push * one.push + one.rate * one.jerk;
  }
  return slope;
}
/// Derivative of half the square of the acceleration.
double push_up(const std::array<Smooth, most_components>& now) noexcept {
  double slope = 0.0;
  for (const Smooth& one : now) slope += one.push * one.jerk;
  return slope;
}

} // namespace

PathMeter::PathMeter(const Channel& channel) : channel_(channel), components_(channel.components) {
  for (std::size_t i = 0; i < components_; ++i) {
    limits_[i] = limits_in_space(channel, i);
    has_limits_ = has_limits_ || std::isfinite(limits_[i].low) || std::isfinite(limits_[i].high);
  }
}

void PathMeter::begin(const Components& value) {
  for (std::size_t i = 0; i < components_; ++i) {
    last_[i] = {value[i]};
    sums_.lowest[i] = sums_.highest[i] = {value[i], 0.0};
    turned_at_[i] = value[i];
  }
  sums_.top_acceleration = sums_.top_jerk = sums_.top_speed_jump = sums_.top_acceleration_jump = Peak{};
}

PathMeter::HeldBy PathMeter::held_at(const ChannelInstant& now) const noexcept {
  HeldBy held{};
  for (std::size_t i = 0; i < components_; ++i)
    held[i] = now[i].value < limits_[i].low ? Held::low : now[i].value > limits_[i].high ? Held::high : Held::free;
  return held;
}

PathMeter::Output PathMeter::output(const ChannelInstant& now, const HeldBy& held) const noexcept {
  Output out{};
  for (std::size_t i = 0; i < components_; ++i) {
    const ComponentRange range = output_range(channel_, i);
    if (held[i] != Held::free) {
      out[i] = {held[i] == Held::low ? range.low : range.high};
      continue;
    }
    out[i] = in_unit(channel_, now[i]);
    out[i].value = std::clamp(out[i].value, range.low, range.high); // what meets its end may lie a rounding beyond
  }
  return out;
}

PathMeter::Output PathMeter::at(const Stretch& stretch, double u) const {
  return output(stretch.frame.at(u, side_within(u, stretch.from, stretch.to)), stretch.held);
}

void PathMeter::stand(const Components& states, double time) {
  jumped_ = false;
  Output still{};
  for (std::size_t i = 0; i < components_; ++i) last_state_[i] = {states[i], 0.0, 0.0, 0.0};
  for (std::size_t i = 0; i < components_; ++i) still[i] = output_in_unit(channel_, i, {states[i], 0.0, 0.0, 0.0});
  note_edge(last_, still, time);
  last_ = still;
  ends_in_break_ = true; // what comes next is looked at again
}

bool PathMeter::fades(const Components& end, const Components& end_rate, double time, double dt) {
  // A rest that slow could be as quick to change as what it is the rest of only if it were ten million times as stiff.
  constexpr double of_the_top = 1e-7;
  const double least = of_the_top * sums_.top_speed.value;
  Output to{}, from_unheld{}, to_unheld{};
  Components way{};
  for (std::size_t i = 0; i < components_; ++i) {
    to[i] = output_in_unit(channel_, i, {end[i], end_rate[i], 0.0, 0.0});
    way[i] = to[i].value - last_[i].value;
    // What the range holds at both ends may swing away from it in between.
    if (has_limits_) from_unheld[i] = in_unit(channel_, last_state_[i]);
    if (has_limits_) to_unheld[i] = in_unit(channel_, {end[i], end_rate[i], 0.0, 0.0});
  }
  const double fastest = std::max({speed_of(last_), speed_of(to), speed_of(from_unheld), speed_of(to_unheld)});
  if (fastest > least || length_of(way) > least * dt) return false;
  for (std::size_t i = 0; i < components_; ++i) last_state_[i] = {end[i], end_rate[i], 0.0, 0.0};
  jumped_ = false;
  for (std::size_t i = 0; i < components_; ++i) note_value(i, to[i].value, time + dt);
  sums_.travelled += length_of(way);
  last_ = to;
  ends_in_break_ = true; // what comes next is looked at again
  return true;
}

void PathMeter::follow(const ChannelFrame& frame, double time, bool joined) {
  jumped_ = goes_by_frames_ = false;
  for (std::size_t i = 0; i < frame.components; ++i)
    for (const FramePiece& piece : frame.pieces[i])
      goes_by_frames_ = goes_by_frames_ || piece.drawn || std::holds_alternative<PerFrame>(*piece.motion);
  (goes_by_frames_ ? went_by_frames_ : went_smoothly_) = true;
  look_at_goals(frame);
  ChannelInstant a = joined && !ends_in_break_ ? last_state_ : frame.at(0.0);
  bool is_new = !joined || ends_in_break_;
  for_each_stretch(frame, 0.0, frame.dt, [&](double from, double to, bool breaks) {
    if (is_new) a = frame.at(from);
    const ChannelInstant b = frame.at(to, Side::before);
    is_by_rounding_ = is_new && breaks && to - from < one_break;
    follow_stretch(frame, time, from, a, to, b);
    is_new = ends_in_break_ = breaks;
    a = last_state_ = b;
  });
}

PathSummary PathMeter::finish() {
  close_edge();
  PathSummary out = sums_;
  if (went_by_frames_ && !went_smoothly_) {
    out.top_acceleration = out.top_jerk = out.top_speed_jump = out.top_acceleration_jump = std::nullopt;
    return out;
  }
  if (out.unbounded_acceleration) out.top_acceleration = out.top_acceleration_jump = std::nullopt;
  if (out.unbounded_acceleration || out.unbounded_jerk) out.top_jerk = std::nullopt;
  constexpr double of_the_top = 1e-9;
  const auto drop_noise = [](std::optional<Peak>& jump, double top) {
    if (jump && jump->value <= of_the_top * top) jump = Peak{};
  };
  drop_noise(out.top_speed_jump, out.top_speed.value);
  drop_noise(out.top_acceleration_jump, out.top_acceleration ? out.top_acceleration->value : 0.0);
  return out;
}

/// True if the range may begin or end to hold a component between two instants.
bool PathMeter::may_meet_range(const ChannelInstant& a, const ChannelInstant& b) const noexcept {
  if (!has_limits_) return false;
  const HeldBy at_a = held_at(a), at_b = held_at(b);
  for (std::size_t i = 0; i < components_; ++i)
    if (at_a[i] != Held::free || at_b[i] != Held::free || opposite(a[i].velocity, b[i].velocity)) return true;
  return false;
}

// many: both ends of a stretch of a frame, each with what is there
void PathMeter::follow_stretch(const ChannelFrame& frame, double time, double from, const ChannelInstant& a, double to,
                               const ChannelInstant& b) {
  const auto go = [&](double begin, const ChannelInstant& at_begin, double end, const ChannelInstant& at_end,
                      const HeldBy& held) {
    const Output first = output(at_begin, held), last = output(at_end, held);
    note_edge(last_, first, time + begin);
    follow_smooth({frame, time, begin, end, held}, first, last);
    last_ = last;
  };
  if (!may_meet_range(a, b)) return go(from, a, to, b, {});
  cuts_.clear();
  for (std::size_t i = 0; i < components_; ++i)
    for (const double limit : {limits_[i].low, limits_[i].high})
      if (std::isfinite(limit)) add_crossings(frame, i, from, a[i], to, b[i], limit, cuts_);
  constexpr double alike = 1e-11;
  std::erase_if(cuts_, [&](double cut) { return cut - from < alike || to - cut < alike; });
  std::sort(cuts_.begin(), cuts_.end());
  cuts_.push_back(to);
  double begin = from;
  ChannelInstant at_begin = a;
  for (const double cut : cuts_) {
    if (!(cut > begin)) continue;
    const ChannelInstant at_end = cut == to ? b : frame.at(cut, side_within(cut, from, to));
    go(begin, at_begin, cut, at_end, held_at(frame.at(std::midpoint(begin, cut))));
    begin = cut;
    at_begin = at_end;
  }
}

void PathMeter::note_edge(const Output& arriving, const Output& leaving, double at) {
  const bool jumps = value_jumps(arriving, leaving);
  if (edge_ && (jumps || at - edge_->at > one_break)) close_edge();
  if (jumps) { // of a jump of the value there is no speed, and none that could jump
    jumped_ = true;
    Components way{};
    for (std::size_t i = 0; i < components_; ++i) way[i] = leaving[i].value - arriving[i].value;
    sums_.travelled += length_of(way);
    for (std::size_t i = 0; i < components_; ++i) note_value(i, leaving[i].value, at);
    return;
  }
  const auto goes_on = [](const Smooth& a, const Smooth& b) {
    return a.value == b.value && a.rate == b.rate && a.push == b.push;
  };
  if (goes_by_frames_ || std::equal(arriving.begin(), arriving.end(), leaving.begin(), goes_on)) return;
  if (!edge_) edge_ = Edge{arriving, leaving, at, at, push_of(arriving), jerk_of(arriving)};
  edge_->leaving = leaving;
  edge_->last = at;
  edge_->most_push = std::max(edge_->most_push, push_of(leaving));
  edge_->most_jerk = std::max(edge_->most_jerk, jerk_of(leaving));
}

bool PathMeter::value_jumps(const Output& arriving, const Output& leaving) const noexcept {
  double size = 0.0, way = 0.0;
  for (std::size_t i = 0; i < components_; ++i) {
    way = std::max(way, std::fabs(leaving[i].value - arriving[i].value));
    size = std::max({size, std::fabs(leaving[i].value), std::fabs(arriving[i].value), gone_through(i)});
  }
  return way > way_rounding * size;
}

/// What is different on the two sides of an instant.
void PathMeter::close_edge() {
  if (!edge_) return;
  const Edge edge = *edge_;
  edge_.reset();
  Components speed{}, push{};
  const double since = edge.last - edge.at;
  for (std::size_t i = 0; i < components_; ++i) {
    const double meanwhile = since > 0.0 ? edge.arriving[i].push * since : 0.0;
    speed[i] = edge.leaving[i].rate - edge.arriving[i].rate - meanwhile;
    push[i] = edge.leaving[i].push - edge.arriving[i].push;
  }
  const double speed_jump = length_of(speed), push_jump = length_of(push);
  const auto beyond = [&](double jump, double rate) { // what it changes by meanwhile, it does not jump by
    return std::isfinite(jump) && !(since > 0.0 && jump <= 4.0 * rate * since);
  };
  if (beyond(speed_jump, edge.most_push)) keep_peak(sums_.top_speed_jump, speed_jump, edge.at);
  if (beyond(push_jump, edge.most_jerk)) keep_peak(sums_.top_acceleration_jump, push_jump, edge.at);
}

/// A stretch in which value, speed and acceleration of each component turn at most once, and the range holds the same
/// ones all along.
void PathMeter::follow_smooth(const Stretch& stretch, const Output& a, const Output& b) {
  for (std::size_t i = 0; i < components_; ++i) before_[i] = {sums_.lowest[i].value, sums_.highest[i].value};
  turn_ = stretch.from; // of a single component: where it stands for an instant
  double way = 0.0;
  for (std::size_t i = 0; i < components_; ++i) {
    if (opposite(a[i].rate, b[i].rate)) {
      const double u = bracketed_root([&](double at_u) { return at(stretch, at_u)[i].rate; }, stretch.from, stretch.to,
                                      a[i].rate, b[i].rate);
      const double there = at(stretch, u)[i].value;
      note_value(i, there, stretch.time + u);
      if (components_ == 1) {
        turn_ = u;
        way = std::fabs(there - a[i].value) + std::fabs(b[i].value - there);
      }
    }
    note_value(i, b[i].value, stretch.time + stretch.to);
  }
  sums_.travelled += turn_ > stretch.from ? way : way_between(stretch, a, b);
  note_speed(stretch, a, b);
  if (goes_by_frames_ || is_by_rounding_) return;
  note_push(stretch, a, b);
  note_jerk(stretch, a, b);
}

void PathMeter::note_value(std::size_t i, double value, double at) {
  // Of equal peaks the first is told.
  const double noise = way_rounding * std::max(gone_through(i), std::fabs(value));
  if (value < sums_.lowest[i].value - noise) sums_.lowest[i] = {value, at};
  if (value > sums_.highest[i].value + noise) sums_.highest[i] = {value, at};
  // A way back counts once it is a thousandth of how far it has gone in all; less is the ring of what has come to rest.
  constexpr double least = 1e-3;
  const double width = sums_.highest[i].value - sums_.lowest[i].value, back = value - turned_at_[i];
  if (back * direction_[i] > 0.0) {
    turned_at_[i] = value;
  } else if (std::fabs(back) > std::max(least * width, noise)) {
    sums_.reversals[i] += direction_[i] != 0 ? 1.0 : 0.0;
    direction_[i] = back > 0.0 ? 1 : -1;
    turned_at_[i] = value;
  }
}

void PathMeter::look_at_goals(const ChannelFrame& frame) {
  for (std::size_t i = 0; i < components_; ++i) {
    if (frame.pieces[i].empty()) continue;
    const double goal = frame.pieces[i].back().goal.end;
    if (goal == goal_[i]) continue;
    goal_[i] = goal;
    goal_size_[i] = std::fabs(in_unit(channel_, {goal, 0.0, 0.0, 0.0}).value);
  }
}

double PathMeter::gone_through(std::size_t i) const noexcept {
  return std::max(std::fabs(sums_.lowest[i].value), std::fabs(sums_.highest[i].value));
}

/// A move that waits has a speed of rounding, of what it has gone through or of where it will go; nothing goes so
/// slowly.
double PathMeter::speed_beyond_noise(const Output& now) const noexcept {
  double size = 0.0;
  for (std::size_t i = 0; i < components_; ++i) size = std::max({size, gone_through(i), goal_size_[i]});
  const double speed = speed_of(now);
  return speed <= way_rounding * size ? 0.0 : speed;
}

void PathMeter::note_speed(const Stretch& stretch, const Output& a, const Output& b) {
  const double at_from = speed_beyond_noise(a), at_to = speed_beyond_noise(b);
  sums_.unbounded_speed = sums_.unbounded_speed || !all_finite(at_from, at_to);
  // Beside what has no bound only what is drawn on a frame is told.
  const auto note = [&](double speed, double u) {
    if (std::isfinite(speed)) keep_peak(sums_.top_speed, speed, stretch.time + u);
  };
  if (all_finite(at_from, at_to) || stretch.from == 0.0) note(at_from, stretch.from);
  if (all_finite(at_from, at_to) || stretch.to == stretch.frame.dt) note(at_to, stretch.to);
  double last = stretch.from, speed = at_from;
  const auto go_to = [&](double u, double there) {
    if (!(u > last)) return;
    add_moving_time(stretch, last, speed, u, there);
    last = u;
    speed = there;
  };
  double top = -1.0;
  if (all_finite(at_from, at_to))
    for_each_maximum([&](double u) { return speed_up(at(stretch, u)); }, stretch.from, speed_up(a), stretch.to,
                     speed_up(b), at_from == 0.0,
                     [&](double u) {
                       note(speed_of(at(stretch, u)), u);
                       top = u;
                     });
  if (top > stretch.from && top < turn_) go_to(top, speed_beyond_noise(at(stretch, top)));
  if (turn_ > stretch.from) go_to(turn_, 0.0);
  if (top > last) go_to(top, speed_beyond_noise(at(stretch, top)));
  go_to(stretch.to, at_to);
}

// many: both ends of a stretch, each with the speed there
void PathMeter::add_moving_time(const Stretch& stretch, double from, double speed_from, double to, double speed_to) {
  // It moves while it would cross all that it has gone through in a hundred seconds.
  constexpr double least = 0.01; // 1/s
  // Mostly it is plain from the ends alone, whatever the span was meanwhile.
  Components widest{}, narrowest{};
  for (std::size_t i = 0; i < components_; ++i) {
    widest[i] = sums_.highest[i].value - sums_.lowest[i].value;
    narrowest[i] = before_[i].high - before_[i].low;
  }
  const double most = least * length_of(widest), fewest = least * length_of(narrowest);
  if (speed_from > most && speed_to > most) {
    sums_.moving_time += to - from;
    return;
  }
  if (speed_from < fewest && speed_to < fewest) return;
  const auto excess = [&](double speed, double u, const Output& now) {
    const double finite = std::isfinite(speed) ? speed : std::numeric_limits<double>::max();
    return finite - least * span_until(stretch, u, now);
  };
  const auto above = [&](double u) {
    const Output now = at(stretch, u);
    return excess(speed_beyond_noise(now), u, now);
  };
  const double at_from = excess(speed_from, from, at(stretch, from)), at_to = excess(speed_to, to, at(stretch, to));
  const bool sets_off = at_from == 0.0 && speed_from == 0.0 && speed_to > 0.0;
  if (sets_off || (at_from > 0.0 && at_to > 0.0))
    sums_.moving_time += to - from;
  else if (opposite(at_from, at_to)) {
    const double u = bracketed_root(above, from, to, at_from, at_to);
    sums_.moving_time += at_from > 0.0 ? u - from : to - u;
  }
}

/// The distance between the lowest and the highest value until `u`.
double PathMeter::span_until(const Stretch& stretch, double u, const Output& now) const {
  Components width{};
  const Output begin = at(stretch, stretch.from), turned = turn_ < u ? at(stretch, turn_) : begin;
  for (std::size_t i = 0; i < components_; ++i) {
    const auto [low, high] = std::minmax({begin[i].value, turned[i].value, now[i].value});
    width[i] = std::max(before_[i].high, high) - std::min(before_[i].low, low);
  }
  return length_of(width);
}

void PathMeter::note_push(const Stretch& stretch, const Output& a, const Output& b) {
  const double at_from = push_of(a), at_to = push_of(b);
  if (std::isfinite(at_from)) keep_peak(sums_.top_acceleration, at_from, stretch.time + stretch.from);
  if (std::isfinite(at_to)) keep_peak(sums_.top_acceleration, at_to, stretch.time + stretch.to);
  sums_.unbounded_acceleration = sums_.unbounded_acceleration || !all_finite(at_from, at_to);
  if (!all_finite(at_from, at_to)) return;
  // Between the ends it can be more by what it changes at most; of half a wave the ends tell too little.
  const double dt = stretch.to - stretch.from, change = std::max(jerk_of(a), jerk_of(b)) * dt;
  if (std::max(at_from, at_to) + change < sums_.top_acceleration->value) return;
  const auto pushing = [&](double u) { return push_up(at(stretch, u)); };
  const auto look_between = [&](double low, double at_low, double high, double at_high) {
    if (!(at_low > 0.0 && at_high < 0.0) || !all_finite(at_low, at_high)) return;
    const double u = bracketed_root(pushing, low, high, at_low, at_high);
    keep_peak(sums_.top_acceleration, push_of(at(stretch, u)), stretch.time + u);
  };
  const double middle = std::midpoint(stretch.from, stretch.to), at_middle = pushing(middle);
  look_between(stretch.from, push_up(a), middle, at_middle);
  look_between(middle, at_middle, stretch.to, push_up(b));
}

void PathMeter::note_jerk(const Stretch& stretch, const Output& a, const Output& b) {
  const double at_from = jerk_of(a), at_to = jerk_of(b);
  sums_.unbounded_jerk = sums_.unbounded_jerk || !all_finite(at_from, at_to);
  if (std::isfinite(at_from)) keep_peak(sums_.top_jerk, at_from, stretch.time + stretch.from);
  if (std::isfinite(at_to)) keep_peak(sums_.top_jerk, at_to, stretch.time + stretch.to);
  if (!all_finite(at_from, at_to)) return;
  // What it changes by, and what it is on average, tell whether it can be more between the ends.
  const double dt = stretch.to - stretch.from;
  Components change{}, mean{};
  for (std::size_t i = 0; i < components_; ++i) {
    change[i] = b[i].jerk - a[i].jerk;
    mean[i] = (b[i].push - a[i].push) / dt;
  }
  const double most = std::max(std::max(at_from, at_to) + length_of(change), 2.0 * length_of(mean));
  if (most < sums_.top_jerk->value) return;
  // Where it is largest is found among a few places first.
  constexpr int looks = 8;
  const double step = (stretch.to - stretch.from) / looks;
  int best = at_to > at_from ? looks : 0;
  double largest = std::max(at_from, at_to);
  for (int k = 1; k < looks; ++k)
    if (const double there = jerk_of(at(stretch, stretch.from + k * step)); there > largest) {
      largest = there;
      best = k;
    }
  // Just inside an end that is the largest of them it is seen whether it rises still.
  constexpr double inside = 1e-3;
  if ((best == 0 || best == looks)
      && !(jerk_of(at(stretch, stretch.from + (best == 0 ? inside : looks - inside) * step)) > largest))
    return;
  constexpr int bits = 26; // of where it is: twice as many of how large
  const auto [u, less] = boost::math::tools::brent_find_minima([&](double at_u) { return -jerk_of(at(stretch, at_u)); },
                                                               stretch.from + std::max(best - 1, 0) * step,
                                                               stretch.from + std::min(best + 1, looks) * step, bits);
  if (std::isfinite(less)) keep_peak(sums_.top_jerk, -less, stretch.time + u);
}

/// The length of a way without a turn: of several components, the speed summed up.
double PathMeter::way_between(const Stretch& stretch, const Output& a, const Output& b) const {
  Components chord{};
  double along = 0.0;
  for (std::size_t i = 0; i < components_; ++i) {
    chord[i] = b[i].value - a[i].value;
    along += a[i].rate * b[i].rate;
  }
  const double straight = length_of(chord), from = speed_of(a), to = speed_of(b);
  // Directions that differ by less bend the way by less than a billionth of it.
  constexpr double parallel = 1.0 - 1e-9;
  if (components_ == 1 || !all_finite(from, to) || along >= parallel * from * to) return straight;
  const auto speed = [&](double u) { return speed_of(at(stretch, u)); };
  constexpr double bends_little = 0.99; // cosine of what its direction changes by
  constexpr unsigned halvings = 6;
  constexpr double precision = 1e-9;
  const double way = along > bends_little * from * to
                         ? boost::math::quadrature::gauss<double, 7>::integrate(speed, stretch.from, stretch.to)
                         : boost::math::quadrature::gauss_kronrod<double, 15>::integrate(
                             speed, stretch.from, stretch.to, halvings, precision);
  return std::max(straight, way);
}

} // namespace stasis
