// Shakes of a take: their hits, and what they add to each row.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/shake/shake_stack.hpp"
#include "core/take/block.hpp"
#include "core/take/way_meter.hpp"
#include "core/view/camera.hpp"

namespace stasis {

class Shaker {
public:
  /// \param readers by track; they outlive it, and stay where they are.
  Shaker(const Feel& feel, std::size_t shake, const Take& take, const std::vector<TrackReader>& readers);

  /// Goes on as the shake of the same name was when the feel was changed.
  /// \param frame at which it goes on, as both clocks have it
  void go_on_from(const Shaker& old, std::int64_t frame, const Clock& old_clock, const Clock& clock) {
    stack_.go_on_from(old.stack_);
    ahead_ = old.shake_.runs_on == shake_.runs_on ? old.ahead_
                                                  : old.time_of(old_clock, frame) - clock.time(frame, shake_.runs_on);
    if (way_ && old.way_) way_->go_on_from(*old.way_);
  }

  /// Begins a block: the hits of the one before are no longer new.
  void begin() noexcept { new_hits_.clear(); }
  /// A hit that acts at a frame; `eye` is where the eye then is.
  void hit(const Cue& cue, std::int64_t frame, const Clock& clock, const std::optional<Components>& eye);

  /// What reads channels at a row of the block.
  using ReadRow = std::function<const ReadComponent&(std::size_t row)>;
  /// Works the shake out over a block whose channels are done, without touching them.
  void fill(const Block& block, const Clock& clock, const ReadRow& read, ShakeBlock& out);

private:
  /// By which its waves and hits go.
  double time_of(const Clock& clock, std::int64_t frame) const noexcept {
    return clock.time(frame, shake_.runs_on) + ahead_;
  }

  const Feel& feel_;
  const Shake& shake_;
  double ahead_ = 0.0; ///< s: of the clock by which it runs, since it ran by another one
  ShakeStack stack_;
  std::vector<WaveStream> streams_;     ///< by target
  std::vector<double> parts_;           ///< of a row, by target
  std::vector<HitMark> new_hits_;       ///< of this block
  const TrackReader* reader_ = nullptr; ///< of the track of a stride
  std::optional<WayMeter> way_;         ///< gone by that track
};

/// The wave of one target of a shake.
WaveStream wave_of_target(const Feel& feel, const Shake& shake, std::size_t target);
/// Strength that is always there, from channels after motion and range.
double level_of(const Shake& shake, const ReadComponent& read);
/// What a shake adds to one target, in the channel's unit. \param amplitude its strength then, hits and level together.
double part_of(const Shake& shake, const ShakeStack& stack, WaveStream& stream, std::size_t target, double amplitude,
               const WaveTime& when) noexcept;
/// Turns places that are meant along the camera's axes. \param parts by target.
void turn_into(const CameraView& view, const Feel& feel, const Shake& shake, std::vector<double>& parts);

} // namespace stasis
