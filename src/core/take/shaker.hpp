// Shakes of a take: their hits, and what they add to each row.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/scene/camera.hpp"
#include "core/shake/shake_stack.hpp"
#include "core/take/block.hpp"

namespace stasis {

class Shaker {
public:
  Shaker(const Feel& feel, std::size_t shake, const Take& take, std::vector<TrackReader>& readers);

  /// A hit that acts at a frame; `eye` is where the eye then is.
  void hit(const Cue& cue, std::int64_t frame, const Clock& clock, const std::optional<Components>& eye);

  /// What reads channels at a row of the block.
  using ReadRow = std::function<const ReadComponent&(std::size_t row)>;
  /// Works the shake out over a block whose channels are done, without touching them.
  void fill(const Block& block, const Clock& clock, const ReadRow& read, ShakeBlock& out);

private:
  double level_at(const ReadComponent& read) const;
  void add_way(double from, double to);
  double part_of(std::size_t target, double amplitude, const WaveTime& when) noexcept;
  void turn(std::size_t row, const CameraView& view, ShakeBlock& out) const;

  const Feel& feel_;
  const Shake& shake_;
  const Take& take_;
  std::vector<TrackReader>& readers_;
  ShakeStack stack_;
  std::vector<WaveStream> streams_; ///< by target
  std::vector<HitMark> new_hits_;   ///< since the last block
  double way_ = 0.0;                ///< gone by the track of a stride
  double way_at_ = 0.0;             ///< s
};

} // namespace stasis
