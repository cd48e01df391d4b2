// Frames drawn of a camera that is stepped on a fixed tick: of each frame what the latest tick left, or what lies
// between the last two. Rules: docs/design.md, section 3.
#pragma once

#include <optional>
#include <span>

#include "core/scene/track.hpp"
#include "core/take/eye_columns.hpp"

namespace stasis {

/// Takes the blocks of ticks, and hands blocks of one frame each to other sinks.
class DrawnFrames final : public BlockSink {
public:
  DrawnFrames(const Scene& scene, std::span<BlockSink* const> sinks);

  /// The same take, its clock beating once a tick.
  Scene tick_scene() const { return tick_scene_; }

  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;

private:
  /// What one tick leaves: a block of one row.
  struct TickRow {
    std::int64_t tick = -1;
    Block block;
  };
  void take_row(const Block& block, std::size_t row);
  void draw(std::int64_t frame);
  void hand_on(std::int64_t last_frame);
  double share_at(std::int64_t frame) const noexcept;
  void draw_channel(std::size_t channel, double share);
  void draw_component(ComponentBlock& out, const ComponentBlock& before, const ComponentBlock& now, double share) const;
  void draw_tracks(std::int64_t frame);

  Scene scene_, tick_scene_;
  std::span<BlockSink* const> sinks_;
  std::vector<TrackReader> readers_;
  EyeColumns eye_;
  TickRow before_, now_;
  Block frame_;                  ///< being made
  std::optional<Block> waiting_; ///< made, until the next one says where it leads
  std::int64_t next_frame_ = 0;
  std::string cause_;
  std::vector<std::uint8_t> jumped_, turned_; ///< by channel, since the frame before
  std::vector<int> unseen_clicks_;            ///< likewise
  std::vector<std::vector<HitMark>> hits_;    ///< by shake, the same
  std::vector<std::size_t> lost_presses_, runs_to_end_;
};

} // namespace stasis
