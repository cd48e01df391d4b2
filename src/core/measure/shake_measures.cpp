#include "core/measure/shake_measures.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/scene/camera.hpp"
#include "core/shake/noise.hpp"

namespace stasis {
namespace {

/// Share of one lattice's power above 0, 0.1, 0.2, ... 3 cycles a cell; measured like noise_centroid.
constexpr std::array power_above_table{1.000000, 0.993860, 0.953993, 0.860747, 0.715982, 0.540797, 0.365469, 0.217076,
                                       0.110658, 0.047035, 0.016658, 0.006216, 0.004327, 0.004230, 0.003499, 0.002195,
                                       0.001024, 0.000364, 0.000142, 0.000114, 0.000108, 0.000081, 0.000055, 0.000046,
                                       0.000046, 0.000040, 0.000028, 0.000015, 0.000008, 0.000006, 0.000006};

double lattice_power_above(double cycles) noexcept {
  constexpr double step = 0.1;
  const double place = cycles / step;
  const auto k = static_cast<std::size_t>(place);
  if (place < 0.0) return 1.0;
  if (k + 1 >= power_above_table.size()) return 0.0;
  return power_above_table[k] + (power_above_table[k + 1] - power_above_table[k]) * (place - static_cast<double>(k));
}

} // namespace

std::optional<double> power_above(const Wave& wave, double frequency) {
  if (const auto* noise = std::get_if<NoiseWave>(&wave)) {
    double power = 0.0, moment = 0.0;
    for (int k = 0; k < noise->octaves; ++k) {
      power += std::pow(0.25, k);
      moment += std::pow(0.5, k);
    }
    const double pace = noise->frequency / (noise_centroid * moment / power); // cells a second of the first octave
    double above = 0.0;
    for (int k = 0; k < noise->octaves; ++k)
      above += std::pow(0.25, k) * lattice_power_above(frequency / (pace * std::pow(2.0, k)));
    return above / power;
  }
  if (const auto* sines = std::get_if<SinesWave>(&wave)) {
    // The four lie at these shares of the mean.
    double above = 0.0;
    for (const double share : {0.6295, 0.8821, 1.1388, 1.3493})
      if (sines->frequency * share > frequency) above += 0.25;
    return above;
  }
  return std::nullopt;
}

double gone_after(const Shake& shake, double strength) noexcept {
  const double share = shake.quiet_below / strength;
  if (const auto* ring = std::get_if<RingWave>(&shake.wave)) {
    const double full = ring_bound(*ring, 0.0);
    return share >= full ? 0.0 : ring_half_life(*ring) * std::log2(full / share);
  }
  return share >= 1.0 ? 0.0 : time_above(shake.decay, share);
}

ShakeTracker::ShakeTracker(const Scene& scene, std::size_t shake)
    : scene_(scene), shake_(scene.feel->shakes[shake]), index_(shake), rows_(shake_.targets.size()),
      pixels_(shake_.targets.size(), 0.0) {
  for (const ShakeTarget& target : shake_.targets) {
    ShakePart part;
    part.component = target.component;
    summary_.parts.push_back(std::move(part));
  }
  const auto* ring = std::get_if<RingWave>(&shake_.wave);
  summary_.half_life = ring != nullptr ? std::optional(ring_half_life(*ring)) : half_life_of(shake_.decay);
  if (const auto left = left_at_cut(shake_.decay)) summary_.left_at_cut = 100.0 * *left;
  if (const auto above = power_above(shake_.wave, 0.5 * scene.clock.fps)) summary_.folded = 100.0 * *above;
}

void ShakeTracker::consume(const Block& block) {
  const ShakeBlock& shake = block.shakes[index_];
  for (const HitMark& hit : shake.hits) {
    if (summary_.hits++ == 0) summary_.first_hit = hit.time;
    summary_.last_hit = hit.time;
    over_at_ = std::max(over_at_, hit.time + gone_after(shake_, hit.strength));
  }
  if (!shake.is_felt && !has_begun_) return;
  const Picture& picture = scene_.feel->picture;
  constexpr std::size_t most_rows = std::size_t{1} << 18;
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const double amplitude = shake.is_felt ? shake.amplitude[row] : 0.0;
    has_begun_ = has_begun_ || amplitude > 0.0;
    if (!has_begun_) continue;
    summary_.peak_amplitude = std::max(summary_.peak_amplitude, amplitude);
    const double time = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
    for (std::size_t t = 0; t < rows_.size(); ++t) {
      const double part = shake.is_felt ? shake.parts[t][row] : 0.0;
      if (rows_[t].size() < most_rows) rows_[t].push_back(part);
      ShakePart& out = summary_.parts[t];
      if (std::fabs(part) > out.peak) {
        out.peak = std::fabs(part);
        out.peak_at = time;
      }
      const auto& value = block.channels[out.component.channel].component[out.component.component].value;
      const ComponentRange range = output_range(scene_.feel->channels[out.component.channel], out.component.component);
      if (!out.leaves_range && part != 0.0 && (value[row] < range.low || value[row] > range.high))
        out.leaves_range = time;
      if (picture.height_channel && picture.position == out.component.channel) {
        const double height = block.channels[*picture.height_channel].component[0].smooth[row];
        pixels_[t] = std::max(pixels_[t], std::fabs(part) * picture.height / height);
        out.margin_pixels = pixels_[t];
      }
    }
    if (amplitude > 0.0 && !rows_.empty()) felt_rows_ = rows_.front().size();
  }
}

void ShakeTracker::measure_part(std::size_t target, ShakePart& part) const {
  std::vector<double> rows(rows_[target].begin(), rows_[target].begin() + static_cast<std::ptrdiff_t>(felt_rows_));
  if (!scene_.clock.is_steady()) return; // a spectrum needs evenly spaced samples
  part.spectrum = power_spectrum(rows, scene_.clock.fps);
  const double power = part.spectrum.total();
  if (power <= 0.0) return;
  part.rms = std::sqrt(power);
  part.main_frequency = part.spectrum.centroid();
  part.bandwidth = part.spectrum.bandwidth();
  part.speed_rms = part.spectrum.rate_rms();
  part.above_3hz = 100.0 * part.spectrum.share_between(3.0, std::numeric_limits<double>::infinity());
  part.between_0_1_and_0_5hz = 100.0 * part.spectrum.share_between(0.1, 0.5);
}

ShakeSummary ShakeTracker::finish() {
  if (summary_.hits > 0 && std::isfinite(over_at_)) summary_.quiet_after = std::max(0.0, over_at_ - summary_.last_hit);
  for (std::size_t t = 0; t < rows_.size(); ++t) measure_part(t, summary_.parts[t]);
  return std::move(summary_);
}

} // namespace stasis
