// The frames of a channel seen from inside, one after the other.
#pragma once

#include <array>

#include "core/take/block.hpp"

namespace stasis {

/// One frame of a channel: a piece for each component.
struct ChannelPiece {
  std::array<FramePiece, most_components> component;
  bool arrived = false; ///< a jump has come through a delay at the frame's very start
};

/// Makes the pieces of a block's rows. What a block has in common is set once, since most of it costs more to copy than
/// a row costs to follow.
class ChannelPieces {
public:
  ChannelPieces(const Feel& feel, std::size_t channel, const Clock& clock)
      : feel_(feel), clock_(clock), channel_(channel) {}

  /// Goes on with this block, which outlives the reading of its rows.
  void enter(const Block& block);
  /// The frame that begins at this row of the block. It stays until the next call.
  const ChannelPiece& at(std::size_t row);
  /// The frame read last.
  const ChannelPiece& last() const noexcept { return piece_; }

private:
  void set_turn(FramePiece& piece, const ComponentBlock& column) const;

  const Feel& feel_;
  const Clock& clock_;
  std::size_t channel_;
  const ChannelBlock* columns_ = nullptr;
  std::int64_t first_ = 0;
  ChannelPiece piece_;
};

} // namespace stasis
