// Where a subject is, between rows and on either side of them, with the rates of its way. Rules: docs/design.md,
// section 3.
#pragma once

#include "core/scene/track.hpp"

namespace stasis {

/// A place in the track's unit, and its rates by time: those of the way that is gone, not a recorded speed.
struct PlaceRates {
  Components place{}, velocity{}, acceleration{}, jerk{};
  bool lost = false; ///< as of TrackPoint
};
/// At a time of the take, s. Straight between rows; with a tick straight from tick to tick, unless a jump lies between.
/// \param before what holds up to that time, where it turns a corner or jumps there.
/// A subject that is led while it is played stands where it was told last.
PlaceRates place_rates(const Track& track, const Tick& tick, double time, bool before = false) noexcept;

/// The first instant after `time` at which it turns a corner or jumps; infinite if there is none.
double next_place_break(const Track& track, const Tick& tick, double time) noexcept;
/// True if it jumps after the one time and not after the other, which is later.
bool jumps_between(const Track& track, double from, double to) noexcept;
/// Adds the instants, in order, after `from` and up to `to`, at which it jumps.
void add_jumps(const Track& track, double from, double to, std::vector<double>& times);

/// Seconds in which place and rates turn at most once, if nothing breaks before; infinite of what goes straight.
double smooth_place_stretch(const Track& track, const Tick& tick) noexcept;

} // namespace stasis
