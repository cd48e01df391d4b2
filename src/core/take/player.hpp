// Plays a take: cues act on controls, controls on goals, motions follow. Semantics: docs/design.md, section 3.
#pragma once

#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/take/block.hpp"

namespace stasis {

class DrawnFrames;
class FramePlayer;

/// Longest block handed to a sink, frames: enough to amortise a call, small enough to stay in the cache.
inline constexpr std::int64_t longest_block = 512;

/// A take under way: each call plays on by one block of frames.
class TakePlay {
public:
  /// \param sinks each outlives the play, and the scene that it is told of lasts as long as this
  TakePlay(const Scene& scene, std::span<BlockSink* const> sinks);
  ~TakePlay();
  TakePlay(const TakePlay&) = delete;
  TakePlay& operator=(const TakePlay&) = delete;

  /// True once the last frame has been played, and the sinks have been told so.
  bool is_over() const noexcept { return is_over_; }
  /// Not after it is over.
  void play_block();
  /// Notes on inputs that had no effect, in order of time, since this was last asked.
  std::vector<std::string> take_notes();

private:
  std::vector<BlockSink*> sinks_;
  std::unique_ptr<DrawnFrames> drawn_; // where the camera is stepped on a tick: what goes on to the sinks
  std::vector<BlockSink*> played_into_;
  std::unique_ptr<FramePlayer> player_; // of frames, or of ticks
  std::size_t next_cue_ = 0;
  std::int64_t frame_ = 0;
  bool is_over_ = false;
};

/// Plays `scene` from its first frame to its last into `sinks`. Memory does not grow with the length of the take.
/// \returns notes on inputs that had no effect, in order of time.
std::vector<std::string> play(const Scene& scene, std::span<BlockSink* const> sinks);

} // namespace stasis
