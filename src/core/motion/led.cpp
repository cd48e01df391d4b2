#include "core/motion/led.hpp"

#include <algorithm>
#include <cmath>

#include "core/overloaded.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

/// A time is a sum: one that misses a break by less is at it.
constexpr double same_instant = 1e-12;

Instant as_instant(const CurvePoint& p) noexcept { return {p.value, p.slope, p.bend, p.twist}; }

/// A move, `u` seconds after it began.
Instant moving_at(const LedWay::Moving& moving, double u, Side side) {
  return inside(moving.piece, std::max(0.0, u), side);
}

} // namespace

void LedWay::add(double begin, What what) {
  while (!parts_.empty() && parts_.back().begin >= begin) parts_.pop_back();
  parts_.push_back({begin, std::move(what)});
}

std::size_t LedWay::part_at(double time, Side side) const noexcept {
  const double rounding = same_instant * std::max(1.0, std::fabs(time));
  const auto next = side == Side::at ? std::upper_bound(parts_.begin(), parts_.end(), time + rounding,
                                                        [](double at, const Part& part) { return at < part.begin; })
                                     : std::lower_bound(parts_.begin(), parts_.end(), time - rounding,
                                                        [](const Part& part, double at) { return part.begin < at; });
  return next == parts_.begin() ? 0 : static_cast<std::size_t>(next - parts_.begin()) - 1;
}

/// Seconds into a part, not beyond its ends.
double LedWay::into(std::size_t k, double time) const noexcept {
  const double begin = parts_[k].begin, u = std::max(0.0, time - begin);
  return k + 1 < parts_.size() ? std::min(u, parts_[k + 1].begin - begin) : u;
}

Instant LedWay::at(double time, Side side) const {
  const std::size_t index = part_at(time, side);
  const Part& part = parts_[index];
  const double u = into(index, time);
  return std::visit(Overloaded{
                        [](const Standing& standing) {
                          return Instant{standing.value, 0.0, 0.0, 0.0};
                        },
                        [&](const Moving& moving) { return moving_at(moving, u, side); },
                        [&](const Flying& flying) { return as_instant(flying.flight->at(flying.axis, u, side)); },
                        [&](const Turning& turning) {
                          const Instant now = as_instant(turning.path->at(turning.angle, u, side));
                          const double k = turning.per_radian;
                          return Instant{k * now.value, k * now.velocity, k * now.acceleration, k * now.jerk};
                        },
                        [&](const Riding& riding) { return riding.way->at(part.begin + u, side); },
                    },
                    part.what);
}

/// The first break of a part after a time, whether or not it lasts until then.
double LedWay::break_in(std::size_t k, double time) const {
  const Part& part = parts_[k];
  const double u = time - part.begin;
  const double next = std::visit(Overloaded{
                                     [](const Standing&) { return unbounded; },
                                     [&](const Moving& moving) {
                                       const auto found = stasis::next_break(moving.piece, std::max(0.0, u));
                                       return found && *found < moving.piece.dt ? *found : double{unbounded};
                                     },
                                     [&](const Flying& flying) { return flying.flight->next_break(u); },
                                     [&](const Turning& turning) {
                                       const auto& times = turning.path->times();
                                       const auto found = std::upper_bound(times.begin(), times.end(), u);
                                       return found != times.end() ? *found : double{unbounded};
                                     },
                                     [&](const Riding& riding) { return riding.way->next_break(time) - part.begin; },
                                 },
                                 part.what);
  return part.begin + next;
}

double LedWay::next_break(double time) const {
  std::size_t k = parts_.size() - 1;
  while (k > 0 && parts_[k].begin > time + same_instant) --k;
  const double end = k + 1 < parts_.size() ? parts_[k + 1].begin : double{unbounded};
  if (time < parts_[k].begin - same_instant) return parts_[k].begin;
  double next = break_in(k, time);
  if (next <= time + same_instant) next = break_in(k, time + same_instant);
  return std::min(next, end);
}

double LedWay::break_before(double time) const {
  std::size_t k = parts_.size() - 1;
  while (k > 0 && parts_[k].begin >= time - same_instant) --k;
  double last = parts_[k].begin < time - same_instant ? parts_[k].begin : -double{unbounded};
  double at = break_in(k, parts_[k].begin);
  while (at < time - same_instant) {
    last = at;
    at = break_in(k, at + same_instant);
  }
  return last;
}

double LedWay::smooth_stretch(double time) const {
  const std::size_t k = part_at(time, Side::at);
  const Part& part = parts_[k];
  const double u = into(k, time);
  return std::visit(Overloaded{
                        [](const Standing&) { return unbounded; },
                        [&](const Moving& moving) { return stasis::smooth_stretch(moving.piece, std::max(0.0, u), u); },
                        [&](const Flying& flying) { return flying.flight->smooth_stretch(u); },
                        [&](const Turning& turning) {
                          const auto& times = turning.path->times();
                          constexpr double parts = 32.0; // of the way from stop to stop, which are many more
                          return u < times.back() ? times.back() / (parts * static_cast<double>(times.size()))
                                                  : double{unbounded};
                        },
                        [&](const Riding& riding) { return riding.way->smooth_stretch(time); },
                    },
                    part.what);
}

Instant LedWay::left_at(double time, bool on_way_back) const {
  const Side side = on_way_back ? Side::at : Side::before;
  const Part& part = parts_[part_at(time, side)];
  if (!std::holds_alternative<Standing>(part.what) && !std::holds_alternative<Moving>(part.what)) return at(time, side);
  // A move is left as it is: one along a curve has come to rest. Where it began, on a way back, it halts.
  const auto* moving = std::get_if<Moving>(&part.what);
  if (moving == nullptr || on_way_back) return {at(time, side).value, 0.0, 0.0, 0.0};
  return moving_at(*moving, time - part.begin, Side::at);
}

double LedWay::heading_at(double time, Side side) const {
  return std::visit(
      Overloaded{
          [](const Standing& standing) { return standing.value; },
          [](const Moving& moving) { return moving.piece.goal.end; },
          [](const Flying& flying) { return flying.flight->at(flying.axis, flying.flight->total()).value; },
          [](const Turning& turning) {
            return turning.per_radian * turning.path->at(turning.angle, turning.path->times().back()).value;
          },
          [&](const Riding& riding) { return riding.way->heading_at(time, side); },
      },
      parts_[part_at(time, side)].what);
}

Instant evaluate(const LedCourse& course, double elapsed, Side side) {
  const LedPlace place = place_at(course.time, elapsed, side == Side::before);
  // A way that is gone back is seen from its other side.
  const bool back = place.rate < 0.0;
  const Side seen = back ? (side == Side::at ? Side::before : Side::at) : side;
  const double rate = place.rate;
  if (place.is_over) {
    const Instant end = course.way->left_at(place.at, back);
    const double speed = end.velocity * rate;
    return {end.value + speed * (elapsed - course.time.total()), speed, 0.0, 0.0};
  }
  const Instant now = course.way->at(place.at, seen);
  return {now.value, now.velocity * rate, now.acceleration * rate * rate, now.jerk * rate * rate * rate};
}

double next_break(const LedCourse& course, double elapsed) {
  const LedPlace place = place_at(course.time, elapsed, false);
  if (place.is_over) return unbounded;
  const double pass_end = elapsed + place.left;
  const double ahead =
      place.rate > 0.0 ? course.way->next_break(place.at) - place.at : place.at - course.way->break_before(place.at);
  const double next = elapsed + ahead / std::fabs(place.rate);
  if (pass_end <= elapsed + same_instant) return next;
  return std::min(next, pass_end);
}

double rounding_at(const LedCourse& course, double elapsed) noexcept {
  // That of the clock, and at a pace that of the way.
  return same_instant * std::max(1.0, elapsed) * (1.0 + 1.0 / course.time.pace);
}

double smooth_stretch(const LedCourse& course, double elapsed) {
  const LedPlace place = place_at(course.time, elapsed, false);
  if (place.is_over) return unbounded;
  return course.way->smooth_stretch(place.at) / std::fabs(place.rate);
}

} // namespace stasis
