// The waves of shakes: functions of time with bound 1. Source: docs/maths.md, section 5.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string_view>
#include <variant>
#include <vector>

#include "core/shake/noise.hpp"

namespace stasis {

/// Smooth noise whose power spectrum has its centroid at `frequency`. Each octave more adds half as much at twice the
/// frequency.
struct NoiseWave {
  double frequency = 10.0; ///< Hz
  int octaves = 1;
};
/// Four sines that never come together again, the centroid of their power at `frequency`.
struct SinesWave {
  double frequency = 10.0; ///< Hz
};
/// A spring that is kicked once: its own decay, its peak 1.
struct RingWave {
  double frequency = 10.0; ///< Hz, undamped
  double damping_ratio = 0.1;
};
/// A new value `rate` times a second, held in between.
struct JitterWave {
  double rate = 20.0; ///< Hz
};
/// A sine whose phase is the way that a track has gone.
struct StrideWave {
  double length = 1.0; ///< of a whole swing, in the track's unit
  std::size_t track = 0;
  std::optional<double> phase; ///< turns where the way begins; nothing: the stream decides
};
/// The accident: a fresh random value on each frame, whatever the frame rate.
struct FrameWave {};

using Wave = std::variant<NoiseWave, SinesWave, RingWave, JitterWave, StrideWave, FrameWave>;
/// "noise", "sines", "ring", "jitter", "stride", "every_frame".
std::string_view kind_of(const Wave& wave) noexcept;

/// Where a wave is looked at.
struct WaveTime {
  double time = 0.0;      ///< s of game time
  std::int64_t frame = 0; ///< of a clock; used by FrameWave
  double way = 0.0;       ///< gone by the track; used by StrideWave
};

/// A stream of numbers of its own for each seed, shake and component.
std::uint64_t wave_stream(std::uint64_t seed, std::string_view shake, std::string_view channel,
                          std::size_t component) noexcept;

/// The four sines of one component.
struct SinesParts {
  std::array<double, 4> rates{};  ///< turns a second
  std::array<double, 4> phases{}; ///< turns
};
/// \param place which component of its shake this is, so that their sines differ
SinesParts sines_parts(const SinesWave& sines, std::uint64_t stream, std::size_t place) noexcept;

/// One component's wave, made ready. `ring` is not among them: it runs from each hit, see ring_at().
class WaveStream {
public:
  /// \param place which component of its shake this is, so that their sines differ
  WaveStream(const Wave& wave, std::uint64_t stream, std::size_t place);

  /// In [-1, 1].
  double at(const WaveTime& when) noexcept;

private:
  Wave wave_;
  std::uint64_t stream_;
  double phase_ = 0.0;             ///< cells, or turns
  double pace_ = 1.0;              ///< cells a second of the first octave
  double share_ = 1.0;             ///< 1 / sum of the octaves' gains
  std::vector<UnitNoise> octaves_; ///< of noise
  SinesParts sines_{};
};

/// A ring `since` seconds after its kick; its largest value is 1.
double ring_at(const RingWave& ring, double since) noexcept;
/// How strong it is then, which bounds it: (v0 / wd) e^(-z w t), and 1 before that falls below 1.
double ring_bound(const RingWave& ring, double since) noexcept;
/// v0 / wd: 1 or more.
double ring_reach(const RingWave& ring) noexcept;
double ring_half_life(const RingWave& ring) noexcept;

/// How large a wave of bound 1 is in the long run; 0 for the rms of a ring, which has no long run.
struct WaveSize {
  double rms = 0.0;
  double typical_peak = 0.0; ///< mean size where it turns round; of what is held or random, of its values
};
WaveSize size_of(const Wave& wave);

/// What is known of a wave's long-run power spectrum; nothing for those that have no frequency of their own.
struct WaveSpectrum {
  double centroid = 0.0;         ///< Hz
  double most_power_below = 0.0; ///< Hz: 95 % of the power lies below
  double rms = 0.0;              ///< of the unit wave
};
std::optional<WaveSpectrum> spectrum_of(const Wave& wave);

} // namespace stasis
