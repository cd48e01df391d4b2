// A take as a program knows it: where its subjects are at frames only, straight between them.
#pragma once

#include <vector>

#include "core/take/block.hpp"

namespace stasis::code {

/// A subject at every frame and once after the last one.
struct SampledTrack {
  std::size_t track = 0; ///< of the feel
  std::vector<Components> place;
  std::vector<Components> before_cut; ///< where it was going as the frame ended on which it is cut; else as `place`
  std::vector<double> travel, facing, throttle;
  std::vector<bool> is_cut; ///< it was put there at this frame
  bool has_facing = false;  ///< which way it looks is told, and not the way it travels
};

/// The feel with tracks of these rows, and the take that plays it.
struct SampledTake {
  Feel feel;
  Take take;
  Clock clock;
  std::vector<SampledTrack> tracks;

  Scene scene() const { return {&feel, &take, clock}; }
};

/// \param tracks  of the feel, each of which lies in the world and is never lost; all others stay as they are
SampledTake sampled_take(const Scene& scene, const std::vector<std::size_t>& tracks);

} // namespace stasis::code
