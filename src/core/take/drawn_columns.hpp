// What a block's columns get after everything else: the grids of channels, and where the tracks are.
#pragma once

#include <functional>

#include "core/take/block.hpp"
#include "core/view/camera.hpp"

namespace stasis {

/// The smoothed values of a block's row.
using ReadRow = std::function<const ReadComponent&(std::size_t)>;

/// Puts values on the grids of channels that lie on one: what is left over, and in pixels of the screen, the other way.
void snap_to_grids(const Feel& feel, const ReadRow& row, Block& block);

/// Fills the columns of a channel that is tied to another from that one's, which are done.
void put_tied(const Feel& feel, std::size_t channel, Block& block);

/// Where the tracks are on the block's frames, as they are drawn. \param readers by track of the feel.
void read_drawn_tracks(const Scene& scene, const std::vector<TrackReader>& readers, Block& block);

} // namespace stasis
