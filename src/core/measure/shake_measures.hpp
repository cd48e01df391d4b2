// What is measured on the shakes of a take. What each number means: docs/measures.md.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/measure/spectrum.hpp"
#include "core/take/block.hpp"

namespace stasis {

/// What a shake does to one component.
struct ShakePart {
  ComponentRef component;
  double peak = 0.0;    ///< in the channel's unit
  double peak_at = 0.0; ///< s
  std::optional<double> rms, main_frequency, bandwidth, speed_rms, above_3hz, between_0_1_and_0_5hz;
  std::optional<double> margin_pixels; ///< of the picture's position in a flat view
  std::optional<double> leaves_range;  ///< s: when all shakes first take the value out of its range while this is felt
  PowerSpectrum spectrum;
};

struct ShakeSummary {
  std::size_t hits = 0;
  double peak_amplitude = 0.0;            ///< 1: one full hit
  std::optional<double> half_life;        ///< s, of the envelope
  std::optional<double> quiet_after;      ///< s from the last hit until it counts as gone
  std::optional<double> left_at_cut;      ///< %
  std::optional<double> folded;           ///< % of the wave's power above half the frame rate
  std::vector<ShakePart> parts;           ///< by target
  double first_hit = 0.0, last_hit = 0.0; ///< s
};

/// Watches one shake over a take.
class ShakeTracker {
public:
  ShakeTracker(const Scene& scene, std::size_t shake);
  void consume(const Block& block);
  ShakeSummary finish();

private:
  void measure_part(std::size_t target, ShakePart& part) const;

  Scene scene_;
  const Shake& shake_;
  std::size_t index_;
  ShakeSummary summary_;
  double over_at_ = 0.0;                  ///< s: when the last hit still felt counts as gone
  std::vector<std::vector<double>> rows_; ///< by target: from the first frame in which it is felt
  std::vector<double> pixels_;            ///< by target: largest shift of the picture
  std::size_t felt_rows_ = 0;             ///< up to the last frame in which it is felt
  bool has_begun_ = false;
};

/// Share (0..1) of a steady wave's power above a frequency; nothing where that is not known.
std::optional<double> power_above(const Wave& wave, double frequency);

/// When a hit of a strength counts as gone, s after it.
double gone_after(const Shake& shake, double strength) noexcept;

} // namespace stasis
