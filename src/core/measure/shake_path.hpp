// A shake at any instant of a take, inside frames too: by its wave, its hits and the channels that it reads.
#pragma once

#include <optional>
#include <vector>

#include "core/measure/scene_frames.hpp"
#include "core/shake/shake_stack.hpp"
#include "core/take/way_meter.hpp"

namespace stasis {

/// Where a frame begins, and how long it is.
struct FrameSpan {
  std::int64_t number = 0;
  double begin = 0.0, dt = 0.0; ///< s
};
/// The frame that begins at a row of a block.
FrameSpan span_of(const Clock& clock, const Block& block, std::size_t row);

class ShakePath {
public:
  ShakePath(const Scene& scene, std::size_t shake);

  /// Goes on with a block, without its hits.
  void enter(const Block& block);
  void hit(const Hit& hit) { stack_.hit(hit); }
  /// Works the shake out `u` seconds, by its own time, into a frame, at which `frames` are; instants are asked for in
  /// order. A shake that is new on each frame is looked at at frames only.
  void look_at(const FrameSpan& frame, double u, SceneFrames& frames);

  /// True if it is not felt from the instant looked at last on, as long as no other hit comes.
  bool is_over() const noexcept { return !shake_.always && stack_.is_over(time_, frame_); }

  /// Then: its strength, 1 being one full hit, and what it adds to each of its targets, in the channel's unit.
  double amplitude() const noexcept { return amplitude_; }
  const std::vector<double>& parts() const noexcept { return parts_; }
  /// True if what it adds depends on more than the time.
  bool reads_channels() const noexcept { return shake_.level_channel || shake_.in_view || way_; }

private:
  const Feel& feel_;
  Clock clock_; ///< by which the shake goes
  const Shake& shake_;
  ShakeStack stack_;
  std::vector<WaveStream> streams_; // by target
  std::optional<TrackReader> reader_;
  std::optional<WayMeter> way_;
  double time_ = 0.0, frame_ = 0.0; // of the instant looked at last
  double amplitude_ = 0.0;
  std::vector<double> parts_;
};

} // namespace stasis
