#include "core/scene/track.hpp"

#include <algorithm>
#include <bit>
#include <cmath>

#include "core/scene/axes.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

constexpr double no_end = std::numeric_limits<double>::infinity();

/// The second axis of a path in a plane: z on the ground, y in a flat view. Positive angles turn left seen from above,
/// which on the ground is towards -z.
struct PlanePoint {
  std::size_t second;
  double sign;
};
PlanePoint plane_of(std::size_t components) noexcept {
  return components == most_components ? PlanePoint{2, -1.0} : PlanePoint{1, 1.0};
}

Components along(const Components& from, const Components& velocity, double time) noexcept {
  return plus(from, velocity, time);
}

TrackPoint on_circle(const CirclePath& circle, double time, std::size_t components) noexcept {
  const auto [second, sign] = plane_of(components);
  const double angle = circle.speed / circle.radius * time;
  TrackPoint point{circle.centre, {}, 0.0, 0.0, 0.0, false};
  point.place[0] += circle.radius * std::cos(angle);
  point.place[second] += sign * circle.radius * std::sin(angle);
  point.velocity[0] = -circle.speed * std::sin(angle);
  point.velocity[second] = sign * circle.speed * std::cos(angle);
  return point;
}

TrackPoint on_eight(const EightPath& eight, double time, std::size_t components) noexcept {
  const auto [second, sign] = plane_of(components);
  const double pace = whole_turn / eight.lap, angle = pace * time;
  TrackPoint point{eight.centre, {}, 0.0, 0.0, 0.0, false};
  point.place[0] += 0.5 * eight.width * std::sin(angle);
  point.place[second] += sign * 0.5 * eight.height * std::sin(2.0 * angle);
  point.velocity[0] = 0.5 * eight.width * pace * std::cos(angle);
  point.velocity[second] = sign * eight.height * pace * std::cos(2.0 * angle);
  return point;
}

/// How long it has gone in all, and whether it goes now.
struct Going {
  double time;
  bool goes;
};
Going going(const StopAndGoPath& path, double time) noexcept {
  if (time <= 0.0) return {0.0, time == 0.0};
  const double whole = path.go + path.stop, rounds = std::floor(time / whole), rest = time - rounds * whole;
  return {rounds * path.go + std::min(rest, path.go), rest < path.go};
}

/// Velocity at a row: as recorded, else by the last two rows; the first of a stretch looks ahead.
Components velocity_at(const RecordedPath& path, std::size_t row, std::size_t first, std::size_t last) noexcept {
  Components velocity{};
  if (!path.velocity[0].empty() || !path.velocity[1].empty() || !path.velocity[2].empty()) {
    for (std::size_t i = 0; i < most_components; ++i)
      if (!path.velocity[i].empty()) velocity[i] = path.velocity[i][row];
    return velocity;
  }
  if (first == last) return velocity;
  const std::size_t to = row > first ? row : row + 1;
  const double dt = path.time[to] - path.time[to - 1];
  for (std::size_t i = 0; i < most_components; ++i)
    if (!path.place[i].empty()) velocity[i] = (path.place[i][to] - path.place[i][to - 1]) / dt;
  return velocity;
}

} // namespace

double heading_of(const Components& direction, std::size_t components) noexcept {
  return components == most_components ? degrees(std::atan2(-direction[0], -direction[2]))
                                       : degrees(std::atan2(direction[1], direction[0]));
}

Components direction_of(double heading, std::size_t components) noexcept {
  const double angle = radians(heading);
  return components == most_components ? Components{-std::sin(angle), 0.0, -std::cos(angle)}
                                       : Components{std::cos(angle), std::sin(angle), 0.0};
}

TrackSpan span_of(const Track& track) noexcept {
  const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track.path);
  if (recorded == nullptr) return {-no_end, no_end};
  return {(*recorded)->time.front() + track.from, (*recorded)->time.back() + track.from};
}

void RecordedPath::let_go(std::size_t first, std::size_t last) const noexcept {
  for (const auto* columns : {&place, &velocity})
    for (const NumberColumn& column : *columns) column.let_go(first, last);
  for (const NumberColumn* column : {&time, &facing, &throttle, &travel}) column->let_go(first, last);
}

double UnwrapDegrees::operator()(double angle) noexcept {
  if (before_) angle -= 360.0 * std::round((angle - *before_) / 360.0);
  before_ = angle;
  return angle;
}

double middle_step(const NumberColumn& column) {
  // Positive doubles sort as their bits do. The step is found sixteen bits at a time, from the highest: how many steps
  // that begin as those found so far go on with each pattern says which pattern the middle one has.
  constexpr int digit = 16;
  std::vector<std::size_t> count(std::size_t{1} << digit);
  std::size_t rank = (column.size() - 1) / 2;
  std::uint64_t found = 0;
  for (int shift = 64 - digit; shift >= 0; shift -= digit) {
    std::fill(count.begin(), count.end(), 0);
    ColumnPass numbers(column);
    for (std::size_t row = 1; row < column.size(); ++row) {
      const auto bits = std::bit_cast<std::uint64_t>(numbers[row] - numbers[row - 1]) >> shift;
      if (bits >> digit == found) ++count[bits & (count.size() - 1)];
    }
    std::size_t pattern = 0;
    while (rank >= count[pattern]) rank -= count[pattern++];
    found = found << digit | pattern;
  }
  return std::bit_cast<double>(found);
}

void add_travel(RecordedPath& path, std::size_t components) {
  // Slower than this share of the fastest row, a direction is only noise.
  constexpr double slow = 1e-6;
  const std::size_t rows = path.time.size();
  double fastest = 0.0;
  RowPass over(path);
  for (std::size_t row = 0; row < rows; ++row) {
    over.at(row);
    fastest = std::max(fastest, length_of(velocity_at(path, row, 0, rows - 1)));
  }
  double latest = 0.0;
  NumberColumnWriter travel(path.time.shelf());
  UnwrapDegrees unwrap;
  RowPass again(path);
  for (std::size_t row = 0; row < rows; ++row) {
    again.at(row);
    const Components velocity = velocity_at(path, row, 0, rows - 1);
    if (!(length_of(velocity) > slow * fastest)) continue;
    // While it stands it looks where it went last; before it first moves, where it will go.
    const double heading = heading_of(velocity, components), stands = travel.size() == 0 ? heading : latest;
    while (travel.size() < row) travel.add(unwrap(stands));
    latest = heading;
    travel.add(unwrap(heading));
  }
  while (travel.size() < rows) travel.add(unwrap(latest));
  path.travel = travel.finish();
}

void add_cuts(RecordedPath& path, double cut_beyond) {
  path.cuts.clear();
  RowPass over(path);
  for (std::size_t row = 1; row < path.time.size(); ++row) {
    over.at(row);
    double way = 0.0;
    for (const auto& column : path.place)
      if (!column.empty()) way = std::hypot(way, column[row] - column[row - 1]);
    if (way > cut_beyond) path.cuts.push_back(row);
  }
}

TrackReader::TrackReader(const Track& track, const Tick& tick) : track_(track), tick_(tick), end_(no_end) {
  const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track_.path);
  if (recorded == nullptr) return;
  last_row_ = (*recorded)->time.size() - 1;
  pass_.emplace(**recorded);
}

void TrackReader::enter(double time) noexcept {
  if (tick_.rate <= 0.0) return enter_exactly(time);
  enter_exactly(tick_.latest(time) / tick_.rate);
  if (end_ < no_end) end_ = std::ceil(end_ * tick_.rate - 1e-9) / tick_.rate;
}

TrackPoint TrackReader::at(double time) const noexcept {
  if (tick_.rate <= 0.0) return exactly_at(time);
  const double latest = tick_.latest(time);
  TrackPoint now = exactly_at(latest / tick_.rate);
  if (!tick_.blends || latest < 1.0) return now;
  const TrackPoint before = exactly_at((latest - 1.0) / tick_.rate);
  const double share = std::clamp(time * tick_.rate - latest, 0.0, 1.0);
  const auto mix = [&](double from, double& to) { to = from + (to - from) * share; };
  for (std::size_t i = 0; i < most_components; ++i) {
    mix(before.place[i], now.place[i]);
    mix(before.velocity[i], now.velocity[i]);
  }
  mix(before.travel, now.travel);
  mix(before.facing, now.facing);
  mix(before.throttle, now.throttle);
  return now;
}

void TrackReader::enter_exactly(double time) noexcept {
  const double own = time - track_.from;
  if (const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track_.path))
    return enter_recorded(**recorded, own);
  if (const auto* steps = std::get_if<StepsPath>(&track_.path)) {
    const double count = std::floor((own + 1e-9) / steps->every);
    step_ = static_cast<std::size_t>(std::clamp(count, 0.0, static_cast<double>(steps->places.size() - 1)));
    end_ = step_ + 1 < steps->places.size() ? static_cast<double>(step_ + 1) * steps->every + track_.from : no_end;
  }
}

void TrackReader::enter_recorded(const RecordedPath& path, double time) noexcept {
  constexpr double slack = 1e-9;
  lost_ = false;
  end_ = no_end;
  if (track_.lost == LostRule::base && time + slack < path.time.front()) {
    lost_ = true;
    end_ = path.time.front() + track_.from;
    first_row_ = last_row_ = 0;
    return;
  }
  if (track_.lost == LostRule::base && time > path.time.back() + slack) {
    lost_ = true;
    first_row_ = last_row_ = path.time.size() - 1;
    return;
  }
  const auto next = std::upper_bound(path.cuts.begin(), path.cuts.end(), time + slack,
                                     [&](double t, std::size_t row) { return t < path.time[row]; });
  first_row_ = next == path.cuts.begin() ? 0 : *std::prev(next);
  last_row_ = next == path.cuts.end() ? path.time.size() - 1 : *next - 1;
  row_ = std::clamp(row_, first_row_, last_row_);
  if (next != path.cuts.end())
    end_ = path.time[*next] + track_.from;
  else if (track_.lost == LostRule::base)
    end_ = std::nextafter(path.time.back() + 2.0 * slack, no_end) + track_.from; // the last row itself is seen
}

/// The last row of the stretch at or before a time; near the last reading, since time goes on.
std::size_t TrackReader::row_at(const RecordedPath& path, double time) const noexcept {
  std::size_t low = row_;
  if (path.time[low] > time) {
    low = first_row_;
    if (path.time[low] > time) return low;
  }
  std::size_t stride = 1, high = low + 1;
  while (high <= last_row_ && path.time[high] <= time) {
    low = high;
    high += stride;
    stride *= 2;
  }
  high = std::min(high, last_row_ + 1);
  while (high - low > 1) {
    const std::size_t middle = low + (high - low) / 2;
    (path.time[middle] <= time ? low : high) = middle;
  }
  return low;
}

TrackPoint TrackReader::recorded_at(const RecordedPath& path, double time) const noexcept {
  TrackPoint point;
  point.lost = lost_;
  const std::size_t row = row_ = row_at(path, time);
  pass_->at(row);
  const bool between = row < last_row_ && time > path.time[row];
  const double share = between ? (time - path.time[row]) / (path.time[row + 1] - path.time[row]) : 0.0;
  const auto mixed = [&](const NumberColumn& column) {
    return column.empty() ? 0.0 : between ? column[row] + (column[row + 1] - column[row]) * share : column[row];
  };
  for (std::size_t i = 0; i < most_components; ++i) point.place[i] = mixed(path.place[i]);
  point.throttle = mixed(path.throttle);
  point.travel = mixed(path.travel);
  point.facing = path.facing.empty() ? point.travel : mixed(path.facing);
  // Before the first row and after the last it stands; before a jump it goes on as it went.
  const bool stands = time < path.time.front() || (row + 1 == path.time.size() && time > path.time[row]);
  if (stands) return point;
  point.velocity = velocity_at(path, row, first_row_, last_row_);
  if (!between) return point;
  const Components next = velocity_at(path, row + 1, first_row_, last_row_);
  for (std::size_t i = 0; i < most_components; ++i) point.velocity[i] += (next[i] - point.velocity[i]) * share;
  return point;
}

TrackPoint TrackReader::exactly_at(double time) const noexcept {
  const double own = time - track_.from;
  if (const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track_.path))
    return recorded_at(**recorded, own);
  if (const auto* led = std::get_if<LedPath>(&track_.path)) return led->places->at(own);
  TrackPoint point;
  if (const auto* line = std::get_if<LinePath>(&track_.path)) {
    point.place = along(line->from, line->velocity, own);
    point.velocity = line->velocity;
  } else if (const auto* circle = std::get_if<CirclePath>(&track_.path)) {
    point = on_circle(*circle, own, track_.components);
  } else if (const auto* eight = std::get_if<EightPath>(&track_.path)) {
    point = on_eight(*eight, own, track_.components);
  } else if (const auto* steps = std::get_if<StepsPath>(&track_.path)) {
    point.place = steps->places[step_];
    return point;
  } else if (const auto* path = std::get_if<StopAndGoPath>(&track_.path)) {
    const auto [gone, goes] = going(*path, own);
    point.place = along(path->from, path->velocity, gone);
    point.travel = point.facing = heading_of(path->velocity, track_.components);
    if (goes) point.velocity = path->velocity;
    point.throttle = goes ? 1.0 : 0.0;
    return point;
  }
  point.travel = point.facing = heading_of(point.velocity, track_.components);
  point.throttle = length_of(point.velocity) > 0.0 ? 1.0 : 0.0; // full while it goes
  return point;
}

void TrackReader::add_corners(double from, double to, std::vector<double>& instants) const {
  if (tick_.rate > 0.0) return; // frames read it, and nothing in between
  constexpr double apart = 1e-12;
  const auto add = [&](double at) {
    if (at > from + apart && at < to - apart) instants.push_back(at);
  };
  if (const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track_.path)) {
    const RecordedPath& path = **recorded;
    for (std::size_t row = row_at(path, from - track_.from); row <= last_row_ && path.time[row] + track_.from < to;
         ++row)
      add(path.time[row] + track_.from);
  } else if (const auto* path = std::get_if<StopAndGoPath>(&track_.path)) {
    const double whole = path->go + path->stop;
    for (double round = std::max(0.0, std::floor((from - track_.from) / whole)); round * whole + track_.from < to;
         ++round) {
      add(round * whole + track_.from);
      add(round * whole + path->go + track_.from);
    }
  }
}

} // namespace stasis
