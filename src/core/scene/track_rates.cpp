#include "core/scene/track_rates.hpp"

#include <algorithm>
#include <cmath>

#include "core/overloaded.hpp"
#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

using Recorded = std::shared_ptr<const RecordedPath>;

/// s: what lies nearer to a row than this is at it, as for TrackReader.
constexpr double slack = 1e-9;

PlaceRates standing_at(const Components& place, bool lost = false) noexcept { return {place, {}, {}, {}, lost}; }

/// The number of rows at or before a time, or before it.
std::size_t rows_until(const RecordedPath& path, double time) noexcept {
  std::size_t low = 0, high = path.time.size();
  while (low < high) {
    const std::size_t middle = low + (high - low) / 2;
    if (path.time[middle] <= time)
      low = middle + 1;
    else
      high = middle;
  }
  return low;
}

Components place_at_row(const RecordedPath& path, std::size_t row) noexcept {
  Components place{};
  for (std::size_t i = 0; i < most_components; ++i)
    if (!path.place[i].empty()) place[i] = path.place[i][row];
  return place;
}

PlaceRates on_rows(const Track& track, const RecordedPath& path, double time, bool before) noexcept {
  const double side = before ? -slack : slack;
  const bool is_gone = track.lost == LostRule::base;
  if (time < path.time.front() - side)
    return standing_at(place_at_row(path, 0), is_gone && time + side < path.time.front());
  const std::size_t row = std::max<std::size_t>(rows_until(path, time + side), 1) - 1;
  // The last row itself is seen before the subject is lost.
  if (row + 1 == path.time.size())
    return standing_at(place_at_row(path, row), is_gone && time > path.time.back() + slack);
  // Before a jump it stands at the last row that it came to.
  if (std::binary_search(path.cuts.begin(), path.cuts.end(), row + 1)) return standing_at(place_at_row(path, row));
  const Components from = place_at_row(path, row), to = place_at_row(path, row + 1);
  const double dt = path.time[row + 1] - path.time[row];
  PlaceRates now;
  now.velocity = scaled(plus(to, from, -1.0), 1.0 / dt);
  now.place = plus(from, plus(to, from, -1.0), std::clamp((time - path.time[row]) / dt, 0.0, 1.0));
  return now;
}

/// Rates of something that swings about a centre so many radians a second, by component.
PlaceRates swinging(const TrackPoint& point, const Components& centre, const Components& pace) noexcept {
  PlaceRates now{point.place, point.velocity, {}, {}, false};
  for (std::size_t i = 0; i < most_components; ++i) {
    now.acceleration[i] = -pace[i] * pace[i] * (point.place[i] - centre[i]);
    now.jerk[i] = -pace[i] * pace[i] * point.velocity[i];
  }
  return now;
}

std::size_t step_at(const StepsPath& steps, double time, double side) noexcept {
  const double count = std::floor((time + side) / steps.every);
  return static_cast<std::size_t>(std::clamp(count, 0.0, static_cast<double>(steps.places.size() - 1)));
}

/// Without ticks.
PlaceRates exact_rates(const Track& track, double time, bool before) noexcept {
  const double own = time - track.from;
  const auto read = [&] { return TrackReader(track).at(time); };
  return std::visit(
      Overloaded{
          [&](const Recorded& path) { return on_rows(track, *path, own, before); },
          [&](const LinePath& line) {
            return PlaceRates{read().place, line.velocity, {}, {}, false};
          },
          [&](const CirclePath& circle) {
            const double pace = circle.speed / circle.radius;
            return swinging(read(), circle.centre, {pace, pace, pace});
          },
          [&](const EightPath& eight) {
            const double pace = whole_turn / eight.lap;
            return swinging(read(), eight.centre, {pace, 2.0 * pace, 2.0 * pace});
          },
          [&](const StepsPath& steps) {
            return standing_at(steps.places[step_at(steps, own, before ? -slack : slack)]);
          },
          [&](const StopAndGoPath& path) {
            const double whole = path.go + path.stop, at = own + (before ? -slack : slack);
            const bool goes = at >= 0.0 && at - whole * std::floor(at / whole) < path.go;
            return PlaceRates{read().place, goes ? path.velocity : Components{}, {}, {}, false};
          },
          [&](const LedPath& led) { return standing_at(led.places->is_empty() ? Components{} : led.places->latest()); },
      },
      track.path);
}

} // namespace

bool jumps_between(const Track& track, double from, double to) noexcept {
  if (const auto* steps = std::get_if<StepsPath>(&track.path))
    return step_at(*steps, from - track.from, slack) != step_at(*steps, to - track.from, slack);
  const auto* recorded = std::get_if<Recorded>(&track.path);
  if (recorded == nullptr) return false;
  const RecordedPath& path = **recorded;
  const auto passed = [&](double time) {
    return std::upper_bound(path.cuts.begin(), path.cuts.end(), time - track.from + slack,
                            [&](double t, std::size_t row) { return t < path.time[row]; });
  };
  return passed(from) != passed(to) || exact_rates(track, from, false).lost != exact_rates(track, to, false).lost;
}

void add_jumps(const Track& track, double from, double to, std::vector<double>& times) {
  const auto add = [&](double own) {
    if (const double at = own + track.from; at > from && at <= to) times.push_back(at);
  };
  if (const auto* steps = std::get_if<StepsPath>(&track.path))
    for (std::size_t step = 1; step < steps->places.size(); ++step) add(static_cast<double>(step) * steps->every);
  const auto* recorded = std::get_if<Recorded>(&track.path);
  if (recorded == nullptr) return;
  const RecordedPath& path = **recorded;
  if (track.lost == LostRule::base) add(path.time.front());
  for (const std::size_t row : path.cuts) add(path.time[row]);
  if (track.lost == LostRule::base) add(path.time.back());
}

PlaceRates place_rates(const Track& track, const Tick& tick, double time, bool before) noexcept {
  if (tick.rate <= 0.0) return exact_rates(track, time, before);
  const double latest = before ? std::ceil(time * tick.rate - slack) - 1.0 : tick.latest(time);
  // What blends shows a tick what was there the tick before.
  const auto seen_at = [&](double count) { return std::max(0.0, tick.blends ? count - 1.0 : count) / tick.rate; };
  const double first = seen_at(latest), next = seen_at(latest + 1.0);
  PlaceRates now = standing_at({});
  const PlaceRates from = exact_rates(track, first, false);
  now.place = from.place;
  now.lost = from.lost;
  const PlaceRates to = exact_rates(track, next, false);
  // A jump acts from the tick at which it is seen, and is not blended.
  if (jumps_between(track, first, next)) return tick.blends ? standing_at(to.place, to.lost) : now;
  const Components step = plus(to.place, from.place, -1.0);
  now.velocity = scaled(step, tick.rate);
  now.place = plus(from.place, step, std::clamp(time * tick.rate - latest, 0.0, 1.0));
  return now;
}

double next_place_break(const Track& track, const Tick& tick, double time) noexcept {
  constexpr double instant = 1e-12;
  if (tick.rate > 0.0) return (std::floor(time * tick.rate + slack) + 1.0) / tick.rate;
  const double own = time - track.from;
  const double next =
      std::visit(Overloaded{
                     [&](const Recorded& path) {
                       const std::size_t row = rows_until(*path, own + instant * std::max(1.0, std::fabs(own)));
                       return row < path->time.size() ? path->time[row] : double{unbounded};
                     },
                     [&](const StepsPath& steps) {
                       const std::size_t step = step_at(steps, own, slack) + 1;
                       if (own + slack < 0.0) return steps.places.size() > 1 ? steps.every : double{unbounded};
                       return step < steps.places.size() ? static_cast<double>(step) * steps.every : double{unbounded};
                     },
                     [&](const StopAndGoPath& path) {
                       if (own + slack < 0.0) return 0.0;
                       const double whole = path.go + path.stop, round = std::floor((own + slack) / whole) * whole;
                       return own + slack < round + path.go ? round + path.go : round + whole;
                     },
                     [](const LinePath&) { return unbounded; },
                     [](const CirclePath&) { return unbounded; },
                     [](const EightPath&) { return unbounded; },
                     [](const LedPath&) { return unbounded; },
                 },
                 track.path);
  return next + track.from;
}

double smooth_place_stretch(const Track& track, const Tick& tick) noexcept {
  // What swings quicker than a thousand times a second is looked at no closer: nobody sees it, and a frame has an end.
  constexpr double parts = 16.0, shortest = 1e-4; // of a swing; s
  if (tick.rate > 0.0) return unbounded;
  if (const auto* circle = std::get_if<CirclePath>(&track.path))
    return std::max(shortest, whole_turn * circle->radius / (parts * std::fabs(circle->speed)));
  if (const auto* eight = std::get_if<EightPath>(&track.path)) return std::max(shortest, eight->lap / (2.0 * parts));
  return unbounded;
}

} // namespace stasis
