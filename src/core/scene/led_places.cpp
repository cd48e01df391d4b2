#include <algorithm>
#include <cmath>

#include "core/scene/axes.hpp"
#include "core/scene/track.hpp"

namespace stasis {

void LedPlaces::lead(double time, const Components& place, std::size_t components) {
  Row row{time, place, {}, 0.0};
  if (count_ > 0) {
    const Row& before = rows_[count_ - 1];
    const Components way = plus(place, before.place, -1.0);
    if (time > before.time)
      for (std::size_t i = 0; i < most_components; ++i) row.velocity[i] = way[i] / (time - before.time);
    row.travel = before.travel;
    if (length_of(row.velocity) > 0.0) {
      const double heading = heading_of(row.velocity, components);
      if (has_moved_) // the short way round, so that it never leaps; while it stands it looks where it went last
        row.travel = heading - 360.0 * std::round((heading - before.travel) / 360.0);
      else // before it first moved it looked where it would go
        for (Row& earlier : rows_) earlier.travel = row.travel = heading;
      has_moved_ = true;
    }
  }
  if (count_ == rows_.size())
    std::rotate(rows_.begin(), rows_.begin() + 1, rows_.end());
  else
    ++count_;
  rows_[count_ - 1] = row;
}

TrackPoint LedPlaces::at(double time) const noexcept {
  TrackPoint point;
  if (count_ == 0) return point;
  std::size_t row = 0;
  while (row + 1 < count_ && rows_[row + 1].time <= time) ++row;
  const Row& from = rows_[row];
  const bool between = row + 1 < count_ && time > from.time;
  const Row& to = rows_[between ? row + 1 : row];
  const double share = between ? (time - from.time) / (to.time - from.time) : 0.0;
  const auto mixed = [&](double a, double b) { return between ? a + (b - a) * share : a; };
  for (std::size_t i = 0; i < most_components; ++i) {
    point.place[i] = mixed(from.place[i], to.place[i]);
    point.velocity[i] = mixed(from.velocity[i], to.velocity[i]);
  }
  point.travel = point.facing = mixed(from.travel, to.travel);
  return point;
}

} // namespace stasis
