// Holds the goal of one channel to the room that obstacles leave, block by block. Rules: docs/design.md, section 3, 13.
#pragma once

#include <functional>
#include <optional>
#include <string>

#include "core/take/block.hpp"
#include "core/take/channel_mover.hpp"
#include "core/take/obstacle_ray.hpp"

namespace stasis {

class RoomKeeper {
public:
  /// The smoothed values of a block's row, or a share of the way to the next one.
  using ReadRow = std::function<const ReadComponent&(std::size_t, double)>;
  /// The time of the subjects that the camera sees on a frame.
  using SeenAt = std::function<double(std::int64_t)>;

  RoomKeeper(const Feel& feel, std::size_t channel, const Take& take, const std::vector<TrackReader>& readers)
      : feel_(feel), channel_(feel.channels[channel]), ray_(feel, channel, take, readers) {}

  /// Goes on as the one of the channel of the same name was when the feel was changed.
  void go_on_from(const RoomKeeper& old) noexcept {
    now_ = old.now_;
    end_limit_ = old.end_limit_;
    holds_ = old.holds_;
  }

  /// As far as a goal may go.
  double limit(const ReadComponent& read, double seen) const { return ray_.at(read, seen).limit; }
  bool holds() const noexcept { return holds_; }

  /// At a block's first frame, before goals are read. \returns what has come between, or gone, for the cause of moves.
  /// \param wish of the channel
  // many: what is there and what is seen, when and what is wished, who moves and what comes out
  std::string look(const ReadComponent& present, double seen, std::int64_t frame, double wish, ChannelMover& mover,
                   ChannelBlock& out);
  /// Where the goal is held, short of its wish; nothing where it is not.
  std::optional<double> held(const ChannelMover& mover) const noexcept {
    return holds_ ? std::optional(mover.allowed(0, now_.limit)) : std::nullopt;
  }
  /// The room on the rows of a block whose wishes are known. A limit that leaps within a frame acts from the next one
  /// on; until then it stands.
  void fill(const ReadRow& read, const SeenAt& seen, const Clock& clock, std::int64_t first, const ChannelMover& mover,
            ChannelBlock& out);
  /// After the block's rows are filled: holds the value itself back, where that is asked for.
  void hold_back(ChannelMover& mover, std::int64_t next_frame, ChannelBlock& out) const;

private:
  const Feel& feel_;
  const Channel& channel_;
  ObstacleRay ray_;
  Room now_;                     // at the block's first frame
  double end_limit_ = unbounded; // just before the end of the block before
  bool holds_ = false;           // the limit lies below the wish
};

} // namespace stasis
