// How far a track has gone since a take began.
#pragma once

#include <vector>

#include "core/scene/track.hpp"

namespace stasis {

class WayMeter {
public:
  /// \param reader of the track; it is entered by the caller.
  WayMeter(const Track& track, const TrackReader& reader) : track_(track), reader_(reader) {}

  /// Goes on from the way of another one.
  void go_on_from(const WayMeter& old) noexcept {
    way_ = old.way_;
    at_ = old.at_;
  }

  /// Adds the way up to a time (s), which lies in the stretch that the reader has entered; an earlier one adds nothing.
  void go_on(double time);
  /// In the track's unit.
  double way() const noexcept { return way_; }

private:
  const Track& track_;
  const TrackReader& reader_;
  std::vector<double> corners_;
  double way_ = 0.0, at_ = 0.0;
};

} // namespace stasis
