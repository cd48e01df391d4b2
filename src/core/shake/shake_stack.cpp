#include "core/shake/shake_stack.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace stasis {

std::string_view name_of(Stacking stacking) noexcept {
  constexpr std::array<std::string_view, 4> names{"largest", "sum", "root_sum", "latest"};
  return names[static_cast<std::size_t>(stacking)];
}

double ring_end(const Shake& shake) noexcept {
  const RingWave& ring = std::get<RingWave>(shake.wave);
  return shake.decay.stop_after.value_or(-ring_half_life(ring) * std::log2(shake.decay.until / ring_reach(ring)));
}

void ShakeStack::hit(Hit hit) {
  if (shake_.stacking == Stacking::latest) hits_.clear();
  hits_.push_back(std::move(hit));
}

void ShakeStack::forget(double time) {
  const double end =
      std::holds_alternative<RingWave>(shake_.wave) ? ring_end(shake_) : end_of(shake_.decay, shake_.decay.at_fps);
  // Frames, not time, end a decay per frame; there a hit is over when it has no strength.
  std::erase_if(hits_, [&](const Hit& hit) {
    return shake_.decay.kind == Decay::Kind::per_frame ? false : time - hit.time > end + 1e-9;
  });
}

bool ShakeStack::is_over(double time, double frame) const noexcept {
  const bool by_frames = shake_.decay.kind == Decay::Kind::per_frame;
  const double end = std::holds_alternative<RingWave>(shake_.wave) ? ring_end(shake_)
                     : by_frames                                   ? shake_.decay.attack + shake_.decay.hold
                                                                   : end_of(shake_.decay, shake_.decay.at_fps);
  return std::all_of(hits_.begin(), hits_.end(), [&](const Hit& hit) {
    return time > hit.time + end && (!by_frames || strength_of(hit, time, frame) == 0.0);
  });
}

double ShakeStack::strength_of(const Hit& hit, double time, double frame) const noexcept {
  if (const auto* ring = std::get_if<RingWave>(&shake_.wave)) {
    const double since = time - hit.time;
    if (shake_.decay.stop_after && since >= *shake_.decay.stop_after) return 0.0;
    const double bound = ring_bound(*ring, since);
    return bound < shake_.decay.until ? 0.0 : hit.strength * bound;
  }
  return hit.strength * envelope_at(shake_.decay, time - hit.time, frame - static_cast<double>(hit.frame));
}

const Hit* ShakeStack::leading(double time, double frame) const noexcept {
  const Hit* leader = nullptr;
  double most = 0.0;
  for (const Hit& hit : hits_)
    if (const double strength = strength_of(hit, time, frame); leader == nullptr || strength > most) {
      leader = &hit;
      most = strength;
    }
  return leader;
}

double ShakeStack::amplitude(double time, double frame) const noexcept {
  if (hits_.empty()) return 0.0;
  if (shake_.stacking == Stacking::largest || shake_.stacking == Stacking::latest)
    return std::min(shake_.cap, strength_of(*leading(time, frame), time, frame));
  double sum = 0.0;
  for (const Hit& hit : hits_) {
    const double strength = strength_of(hit, time, frame);
    sum += shake_.stacking == Stacking::sum ? strength : strength * strength;
  }
  return std::min(shake_.cap, shake_.stacking == Stacking::sum ? sum : std::sqrt(sum));
}

double ShakeStack::ring(std::size_t index, double time) const noexcept {
  const RingWave& ring = std::get<RingWave>(shake_.wave);
  const auto part = [&](const Hit& hit) {
    if (strength_of(hit, time, 0) == 0.0) return 0.0;
    const double way = hit.direction.empty() ? shake_.targets[index].amplitude : hit.direction[index];
    return way * hit.strength * ring_at(ring, time - hit.time);
  };
  if (hits_.empty()) return 0.0;
  if (shake_.stacking == Stacking::largest || shake_.stacking == Stacking::latest) {
    const Hit& leader = *leading(time, 0);
    const double full = strength_of(leader, time, 0);
    return full > shake_.cap ? part(leader) * (shake_.cap / full) : part(leader);
  }
  // Springs add up; a cap on their strength scales them all.
  double sum = 0.0, strength = 0.0;
  for (const Hit& hit : hits_) {
    sum += part(hit);
    const double one = strength_of(hit, time, 0);
    strength += shake_.stacking == Stacking::sum ? one : one * one;
  }
  if (shake_.stacking == Stacking::root_sum) strength = std::sqrt(strength);
  return strength > shake_.cap ? sum * (shake_.cap / strength) : sum;
}

} // namespace stasis
