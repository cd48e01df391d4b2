// All channels of a scene seen inside the frames of a block.
#pragma once

#include <vector>

#include "core/measure/channel_frame.hpp"
#include "core/view/camera.hpp"

namespace stasis {

/// A value in the channel's unit, and its first three derivatives by time, as the range lets it through.
struct Smooth {
  double value = 0.0, rate = 0.0, push = 0.0, jerk = 0.0;
};

/// Reads rows of a block in order, each channel only if it is asked for.
class SceneFrames {
public:
  explicit SceneFrames(const Scene& scene);

  /// Goes on with this block, which outlives the reading of its rows.
  void enter(const Block& block);
  /// The frame that begins at this row, one that leads to another; rows are asked for in order.
  void go_to(std::size_t row) noexcept { row_ = row; }
  std::size_t row() const noexcept { return row_; }
  std::int64_t frame_number() const noexcept { return block_->first + static_cast<std::int64_t>(row_); }
  double dt() const noexcept { return scene_.clock.dt(frame_number()); }
  /// Seconds of game time into the frame, of seconds by either time.
  double game_seconds(double u, RunsOn which) const noexcept {
    return which == RunsOn::game ? u : u * dt() / scene_.clock.dt(frame_number(), which);
  }

  const ChannelFrame& frame(std::size_t channel);
  /// A component after motion and range, `u` seconds of game time into the frame.
  double smooth(ComponentRef component, double u, Side side = Side::at);
  Smooth output(ComponentRef component, double u, Side side = Side::at);

private:
  struct Read {
    ChannelFrames frames;
    bool entered = false;
    std::size_t row = 0;
    std::optional<ChannelInstant> state{}; // of the frame, at the instant asked for last
    double u = 0.0;
    Side side = Side::at;
  };
  Scene scene_;
  std::vector<Read> channels_;
  const Block* block_ = nullptr;
  std::size_t row_ = 0;
};

/// A state of the channel's space in the channel's unit, with its derivatives, whatever the range.
Smooth in_unit(const Channel& channel, const Instant& state) noexcept;
/// The same as output: what the range holds stands.
Smooth output_in_unit(const Channel& channel, std::size_t component, const Instant& state) noexcept;

} // namespace stasis
