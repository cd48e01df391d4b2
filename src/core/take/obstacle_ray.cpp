#include "core/take/obstacle_ray.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

void narrow(Room& room, const RayHit& hit, double stand_off, std::size_t obstacle) noexcept {
  room.hit = std::min(room.hit, hit.distance);
  const double limit = limit_of(hit, stand_off);
  if (limit >= room.limit) return;
  room.limit = limit;
  room.obstacle = obstacle;
}

std::vector<std::size_t> standing_obstacles(const ObstacleRule& rule, const Take& take) {
  std::vector<std::size_t> standing;
  for (const std::size_t o : rule.obstacles)
    if (take.has_obstacle(o)) standing.push_back(o);
  return standing;
}

ObstacleRay::ObstacleRay(const Feel& feel, std::size_t channel, const Take& take,
                         const std::vector<TrackReader>& readers)
    : feel_(feel), take_(take), readers_(readers), rule_(*feel.channels[channel].obstacles),
      standing_(standing_obstacles(rule_, take)) {
  has_ray_ = std::any_of(standing_.begin(), standing_.end(), [&](std::size_t o) {
    return !std::holds_alternative<RecordedClearance>(feel.obstacles[o].shape);
  });
}

Room ObstacleRay::at(const ReadComponent& read, double seen) const {
  Ray ray;
  if (has_ray_) {
    const EyeSeat seat = eye_seat(feel_, read);
    ray = {seat.pivot, seat.axes.back, rule_.radius};
  }
  Room room;
  for (const std::size_t o : standing_) {
    const ObstacleShape& shape = feel_.obstacles[o].shape;
    std::optional<RayHit> hit;
    if (const auto* recorded = std::get_if<RecordedClearance>(&shape)) {
      const TrackPoint point = readers_[played_track(take_, recorded->track)].at(seen);
      if (!point.lost) hit = RayHit{std::max(0.0, point.place[0]), 1.0};
    } else {
      hit = hit_of(ray, shape);
    }
    if (hit) narrow(room, *hit, rule_.stand_off, o);
  }
  return room;
}

std::vector<double> corners_of_cap(GoalSegment wish, GoalSegment limit, ComponentRange range) {
  std::vector<double> corners;
  if (!std::isfinite(limit.start) || !std::isfinite(limit.end)) return corners;
  for (const GoalSegment& other : {wish, GoalSegment{range.low, range.low}, GoalSegment{range.high, range.high}}) {
    const double before = limit.start - other.start, after = limit.end - other.end;
    if (!(before * after < 0.0) || !std::isfinite(before)) continue;
    const double share = before / (before - after);
    const double slack = 1e-12 * std::max(1.0, std::fabs(limit.start));
    if (limit.start + (limit.end - limit.start) * share <= wish.start + (wish.end - wish.start) * share + slack)
      corners.push_back(share);
  }
  std::sort(corners.begin(), corners.end());
  return corners;
}

bool leaps_between(const std::function<double(double)>& at, double from, double to) {
  // A change that stays whole while the time shrinks to a millionth of a millionth is a leap; the way in which a ray
  // slides off a ball, whose speed has no bound, has shrunk to a thousandth by then.
  constexpr int halvings = 40;
  constexpr double smooth = 1e-3;
  const double whole = std::fabs(to - from);
  if (whole <= 1e-12 * std::max(1.0, std::fabs(from))) return false;
  double low = 0.0, high = 1.0;
  for (int k = 0; k < halvings; ++k) {
    const double middle = 0.5 * (low + high), value = at(middle);
    if (std::fabs(value - from) > std::fabs(to - value)) {
      high = middle;
      to = value;
    } else {
      low = middle;
      from = value;
    }
    if (std::fabs(to - from) < smooth * whole) return false;
  }
  return true;
}

} // namespace stasis
