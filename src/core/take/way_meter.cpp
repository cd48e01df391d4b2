#include "core/take/way_meter.hpp"

#include <cmath>

namespace stasis {

void WayMeter::go_on(double time, const TrackReader& reader) {
  if (time <= at_) return;
  const bool is_recorded = std::holds_alternative<std::shared_ptr<const RecordedPath>>(track_->path);
  corners_.assign(1, at_);
  reader.add_corners(at_, time, corners_);
  corners_.push_back(time);
  at_ = time;
  for (std::size_t k = 1; k < corners_.size(); ++k) {
    const double a = corners_[k - 1], b = corners_[k], middle = 0.5 * (a + b);
    // Between recorded rows the place goes straight and the chord is the way; elsewhere Gauss's three points.
    if (is_recorded) {
      way_ += length_of(plus(reader.at(b).place, reader.at(a).place, -1.0));
      continue;
    }
    const double off = 0.5 * (b - a) * std::sqrt(0.6);
    const auto speed = [&](double t) { return length_of(reader.at(t).velocity); };
    way_ += (b - a) * (5.0 * speed(middle - off) + 8.0 * speed(middle) + 5.0 * speed(middle + off)) / 18.0;
  }
}

} // namespace stasis
