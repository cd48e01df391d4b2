// Follows one move through its frames and finds its events on the motion's own closed form, inside frames too.
#pragma once

#include <array>
#include <limits>
#include <optional>

#include "core/measure/channel_piece.hpp"
#include "core/measure/move.hpp"

namespace stasis {

class MoveTracker {
public:
  /// A move of `channel` whose goal jumped at the first frame of `block`.
  MoveTracker(const Feel& feel, std::size_t channel, const Block& block, const Clock& clock);

  /// Goes on with a block, the first one as well.
  void enter(const Block& block) { pieces_.enter(block); }
  /// Takes in the frame that begins at a row of the block, `since_start` seconds after the move's start.
  void follow(std::size_t row, double since_start);
  /// True once nothing more can be learnt from further frames.
  bool is_calm() const noexcept { return calm_; }
  /// Ends the move because its goal jumped again (`retargeted`) or the take ended, `since_start` seconds after its
  /// start. `last` is the last frame followed, if any; `output` the channel's value then.
  Move finish(bool retargeted, double since_start, const Components& output);

private:
  /// The move at one instant: how far, how fast.
  struct Sample {
    double progress = 0.0;      // 0 at the start, 1 at the goal; of the output, range included
    double progress_rate = 0.0; // 1/s, of the motion itself
    double speed = 0.0;         // unit/s, of the output
    double speed_up = 0.0;      // derivative of speed^2 / 2
    double acceleration = 0.0;  // unit/s^2
    double push_up = 0.0;       // derivative of acceleration^2 / 2
    double sideways = 0.0;      // in the space
    Components velocity{};      // unit/s
    Components value{};         // unit
  };

  Sample sample(const ChannelPiece& piece, double u, bool before) const;
  void follow_unbroken(const ChannelPiece& piece, double since_start, double from, double to);
  void note_break(const ChannelPiece& piece, double at, const Sample& arriving);
  /// Follows a stretch in which the motion turns at most once, from the last sample on.
  void follow_smooth(const ChannelPiece& piece, double since_start, double from, double to);
  void follow_monotone(const ChannelPiece& piece, double since_start, double from, const Sample& at_from, double to,
                       const Sample& at_to);
  void note_extremes(const ChannelPiece& piece, double since_start, double from, const Sample& at_from, double to,
                     const Sample& at_to);
  void note_speed_peak(const ChannelPiece& piece, double since_start, double from, const Sample& at_from, double to,
                       const Sample& at_to);
  void note_speed(const Sample& at, double time);
  void note_progress(const Sample& at, double time);
  double crossing(const ChannelPiece& piece, double level, double from, double to) const;
  bool in_band(double progress) const noexcept { return progress >= band_low_ && progress <= band_high_; }
  bool strays_later() const;
  bool nothing_more_comes(const ChannelPiece& piece, const Sample& end) const;
  void set_band();

  const Channel& channel_;
  ChannelPieces pieces_;
  std::array<ComponentRange, most_components> range_{}; ///< of the output
  Move move_;
  Components start_state_{}, final_state_{}, direction_{};
  double length_ = 0.0;         // |delta| in the space
  bool negligible_ = false;     // too short for shares to mean anything
  bool instant_ = false;        // every component is a cut
  bool goes_by_frames_ = false; // one of its motions is a rule of frames
  double band_low_ = 0.0, band_high_ = 0.0;
  double noise_ = 0.0;        // progress that rounding alone can make
  double start_speed_ = 0.0;  // |v(0+)| in the space
  double start_jump_ = 0.0;   // |v(0+) - v(0-)| in the space
  double last_outside_ = 0.0; // s since the start
  Components last_outside_value_{};
  double last_progress_ = 0.0;
  double largest_progress_ = 1.0;
  std::optional<double> tenth_, ninetieth_;
  bool followed_ = false;             ///< at least one frame
  std::optional<Sample> last_sample_; // where the stretch followed last ends
  bool calm_ = false;
  bool turned_ = false;    // the move went back from its goal
  bool unbounded_ = false; // the rule's own speed or acceleration has no bound
};

} // namespace stasis
