#include "core/measure/switch_meter.hpp"

namespace stasis {

SwitchMeter::SwitchMeter(const Scene& scene)
    : scene_(scene), last_(scene.feel->switches.size()), summaries_(scene.feel->switches.size()) {}

void SwitchMeter::consume(const Block& block) {
  const double now = scene_.clock.time(block.first);
  for (std::size_t s = 0; s < last_.size(); ++s) {
    const bool in_force = block.switches[s] != 0;
    if (block.first == 0) last_[s].in_force = in_force;
    if (in_force == last_[s].in_force) continue;
    SwitchSummary& summary = summaries_[s];
    ++summary.flips;
    if (last_[s].flipped_at && now - *last_[s].flipped_at <= quick_return + instant_slack
        && summary.quick_returns++ == 0)
      summary.first_return_at = now;
    last_[s] = {in_force, now};
  }
}

std::optional<double> SwitchMeter::flips_of(std::size_t channel) const noexcept {
  std::optional<double> flips;
  for (std::size_t s = 0; s < last_.size(); ++s)
    if (scene_.feel->switches[s].on.channel == channel)
      flips = flips.value_or(0.0) + static_cast<double>(summaries_[s].flips);
  return flips;
}

} // namespace stasis
