// What a take's channels did, frame by frame, with the slopes that keys need.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/export/fewest_keys.hpp"
#include "core/measure/channel_frame.hpp"
#include "core/take/block.hpp"

namespace stasis {

/// One component of a channel over a take.
struct TakeCurve {
  std::string name;                  ///< "fov", "eye.x"
  std::size_t channel = 0;           ///< of the feel
  std::vector<SlopedSample> samples; ///< by frame: the value after everything, in the channel's unit
  std::optional<double> coming{};    ///< the slope with which it comes to the next frame
  /// True if the slopes are the motion's own; false if they are differences between frames, because a shake or a
  /// per-frame rule moves the value.
  bool own_slopes = true;

  /// Highest less lowest value.
  double way() const noexcept;
};

/// Follows every channel of a take.
class TakeCurvesSink final : public BlockSink {
public:
  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;

  /// Call once, after the take.
  std::vector<TakeCurve> take() { return std::move(curves_); }

private:
  Scene scene_;
  std::vector<ChannelFrames> frames_; ///< by channel
  std::vector<TakeCurve> curves_;     ///< by channel, by component
};

} // namespace stasis
