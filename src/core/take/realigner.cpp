#include "core/take/realigner.hpp"

#include "core/clock.hpp"
#include "core/components.hpp"
#include "core/units.hpp"

namespace stasis {

Realigner::Realigner(const Feel& feel, std::size_t channel)
    : realign_(*feel.channels[channel].realign), units_per_degree_(feel.channels[channel].space.units_per_turn / 360.0),
      track_components_(realign_.to == Realign::To::heading ? 0 : feel.tracks[realign_.track].components) {}

void Realigner::look(double time, bool held, bool moved) noexcept {
  // A stick that has been let go was touched up to now.
  if (held || held_ || moved) last_touch_ = time;
  held_ = held;
  turning_ = !held && !moved && time >= last_touch_ + realign_.wait - instant_slack;
}

std::optional<double> Realigner::heading(const TrackPoint& subject) const noexcept {
  using To = Realign::To;
  if (realign_.to == To::heading) return realign_.heading;
  const double speed = length_of(subject.velocity);
  if (subject.lost || speed < realign_.least_speed) return std::nullopt;
  if (realign_.to == To::velocity && speed == 0.0) return std::nullopt;
  const double degrees = realign_.to == To::facing   ? subject.facing
                         : realign_.to == To::travel ? subject.travel
                                                     : heading_of(subject.velocity, track_components_);
  return degrees * units_per_degree_ + realign_.heading;
}

} // namespace stasis
