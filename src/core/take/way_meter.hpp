// How far a track has gone since a take began.
#pragma once

#include <vector>

#include "core/scene/track.hpp"

namespace stasis {

class WayMeter {
public:
  explicit WayMeter(const Track& track) : track_(&track) {}

  /// Goes on from the way of another one.
  void go_on_from(const WayMeter& old) noexcept {
    way_ = old.way_;
    at_ = old.at_;
  }

  /// Adds the way up to a time (s), which lies in the stretch that the track's reader has entered; an earlier one adds
  /// nothing. The reader is not kept: whoever has both may be moved.
  void go_on(double time, const TrackReader& reader);
  /// In the track's unit.
  double way() const noexcept { return way_; }

private:
  const Track* track_;
  std::vector<double> corners_;
  double way_ = 0.0, at_ = 0.0;
};

} // namespace stasis
