// What is measured on the shakes of a take. What each number means: docs/measures.md.
#pragma once

#include <deque>
#include <optional>
#include <string>
#include <vector>

#include "core/measure/peak_meter.hpp"
#include "core/measure/shake_path.hpp"
#include "core/measure/shake_record.hpp"

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

/// Watches one shake over a take: by its own wave and envelope at instants of a fine grid, which begins with the first
/// hit. Only what the shake itself does by frames is told by them.
class ShakeTracker {
public:
  ShakeTracker(const Scene& scene, std::size_t shake);
  /// \param frames have entered the block.
  void consume(const Block& block, SceneFrames& frames);
  ShakeSummary finish();
  /// Why measures are missing, in words.
  std::vector<std::string> notes() const;

private:
  bool goes_by_frames() const noexcept { return std::holds_alternative<FrameWave>(shake_.wave); }
  void take_hits(const Block& block, SceneFrames& frames);
  void read_rows(const Block& block, SceneFrames& frames);
  void note_range(const Block& block, std::size_t row);
  void note_picture(std::size_t target, double part, double u, SceneFrames& frames, double time);
  void follow_frame(const FrameSpan& frame, SceneFrames& frames);
  void pass_over(double until);
  void glance(const FrameSpan& frame, SceneFrames& frames);
  void measure_part(std::size_t target, ShakePart& part) const;
  std::optional<double> quiet_after() const;
  void put_instants_on_game_time();

  Scene scene_; ///< with the clock by which the shake goes
  Clock game_;
  const Shake& shake_;
  std::size_t index_;
  ShakeSummary summary_;
  ShakePath path_;
  std::vector<Hit> hits_; // that were still felt at the last one

  double rate_;                                   // of the grid, 1/s
  std::optional<double> origin_{};                // s: where the grid begins
  std::int64_t next_ = 0;                         // number of the instant that comes next
  std::deque<double> turns_;                      // s: instants at which a strength may be largest
  std::vector<std::pair<std::size_t, Top>> tops_; // by target: tops that are to be looked at
  std::vector<ShakeRecord> records_;              // by target
  std::vector<PeakMeter> peaks_, pixels_;
  PeakMeter amplitude_peak_;
};

/// Share (0..1) of a steady wave's power above a frequency; nothing where that is not known.
std::optional<double> power_above(const Wave& wave, double frequency);

/// When a hit of a strength counts as gone, s after it. \param fps where a decay per frame is played.
double gone_after(const Shake& shake, double strength, double fps) noexcept;

} // namespace stasis
