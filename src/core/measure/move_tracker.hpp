// Follows one move through its frames and finds its events on the motion's own closed form, inside frames too.
#pragma once

#include <array>
#include <limits>
#include <optional>

#include "core/measure/channel_frame.hpp"
#include "core/measure/move.hpp"
#include "core/root.hpp"

namespace stasis {

class MoveTracker {
public:
  /// A move of `channel` whose goal jumped at the first frame of `block`, or has gone in one frame, at the row `step`,
  /// to where it then stands.
  MoveTracker(const Feel& feel, std::size_t channel, const Block& block, const Clock& clock, std::string cause,
              std::optional<std::size_t> step = std::nullopt);

  /// Takes in a frame from `from` to `until` seconds into it, its beginning `since_start` seconds after the move's
  /// start.
  void follow(const ChannelFrame& frame, double since_start, double from = 0.0, double until = unbounded);
  /// True once nothing more can be learnt from further frames.
  bool is_calm() const noexcept { return calm_; }
  /// Seconds into the frame followed last at which the move has turned to go back, if it has.
  const std::optional<double>& turn() const noexcept { return turn_; }
  /// The move that begins there. \param start when that is, s; \param start_frame the first frame at or after it.
  MoveTracker turned(const ChannelFrame& frame, double start, std::int64_t start_frame) const;
  /// Ends the move because its goal jumped again (`retargeted`) or the take ended, `since_start` seconds after its
  /// start. `last` is the frame followed last, if any; `output` the channel's value at the end.
  Move finish(const ChannelFrame* last, bool retargeted, double since_start, const Components& output);
  /// The channel's value where it was followed last, such as at the turn; its start before anything was.
  const Components& last_value() const noexcept { return last_sample_ ? last_sample_->value : move_.from; }

private:
  /// What is less beyond the goal, as a share of the move, is no overshoot.
  static constexpr double least_overshoot = 1e-9;

  /// The move at one instant: how far, how fast.
  struct Sample {
    double progress = 0.0;      // 0 at the start, 1 at the goal; of the output, range included
    double progress_rate = 0.0; // 1/s, of the output
    double progress_push = 0.0; // 1/s2, derivative of that
    double speed = 0.0;         // unit/s, of the output
    Slope speed_up{};           // derivative of speed^2 / 2, and its own
    double acceleration = 0.0;  // unit/s^2
    double push_up = 0.0;       // derivative of acceleration^2 / 2
    double sideways = 0.0;      // in the space
    Slope sideways_up{};        // derivative of sideways^2 / 2, and its own
    Components velocity{};      // unit/s
    Components value{};         // unit
    ChannelInstant free{};      // as the motion has it, in the space
  };
  /// Where the range holds a component's output.
  enum class Held : std::uint8_t { free, low, high };

  Sample sample(const ChannelFrame& frame, double u, Side side) const;
  /// The same within the stretch that is followed, of which both ends are part. What a part of it begins with may lie a
  /// rounding before the break at its end: sides go by the whole.
  Sample sample_within(const ChannelFrame& frame, double u) const {
    return sample(frame, u, side_within(u, stretch_.from, stretch_.to));
  }
  void follow_stretch(const ChannelFrame& frame, double since_start, double from, double to);
  bool meets_range(const ChannelInstant& a, const ChannelInstant& b) const noexcept;
  void note_held(const ChannelInstant& a, const ChannelInstant& b) noexcept;
  void note_break(const ChannelFrame& frame, double at, Sample arriving);
  void note_arrival(const ChannelFrame& frame, double since_start, double turn);
  /// Follows a stretch in which the motion turns at most once, from the last sample to `b`.
  void follow_smooth(const ChannelFrame& frame, double since_start, double from, double to, const Sample& b);
  void follow_monotone(const ChannelFrame& frame, double since_start, double from, const Sample& at_from, double to,
                       const Sample& at_to);
  void note_extremes(const ChannelFrame& frame, double since_start, double from, const Sample& at_from, double to,
                     const Sample& at_to);
  void note_speed_peak(const ChannelFrame& frame, double since_start, double from, const Sample& at_from, double to,
                       const Sample& at_to);
  void note_acceleration(const ChannelFrame& frame, double from, const Sample& at_from, double to, const Sample& at_to);
  void note_sideways(const ChannelFrame& frame, double from, const Sample& at_from, double to, const Sample& at_to);
  void note_speed(const Sample& at, double time);
  void note_progress(const Sample& at, double time);
  double crossing(const ChannelFrame& frame, double level, double from, double to) const;
  bool in_band(double progress) const noexcept { return progress >= band_low_ && progress <= band_high_; }
  bool strays_later(const ChannelFrame& frame) const;
  void aim();
  bool nothing_more_comes(const ChannelFrame& frame, const Sample& end) const;
  void set_band();

  const Feel& feel_;
  const Channel& channel_;
  std::array<ComponentRange, most_components> range_{}; ///< of the output
  std::array<ComponentRange, most_components>
      range_states_{};                       ///< the same in the space; infinite where it cannot be met
  std::array<Held, most_components> held_{}; ///< in the stretch that is followed
  std::vector<double> cuts_;
  Move move_;
  Components start_state_{}, final_state_{}, direction_{};
  double length_ = 0.0; // |delta| in the space
  struct Stretch {
    double from = 0.0, to = 0.0;
  };
  Stretch stretch_;             // followed now, s into the frame
  double span_ = 0.0;           // of the values it may take, in the channel's unit
  bool negligible_ = false;     // too short for shares to mean anything
  bool instant_ = false;        // every component is a cut
  bool goes_by_frames_ = false; // one of its motions is a per-frame rule
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
  double followed_until_ = unbounded; ///< s into the last frame followed: where its goal runs on, or beyond its end
  bool has_moved_ = false;            ///< it no longer waits where it began
  std::optional<Sample> last_sample_; // where the stretch followed last ends
  std::optional<Sample> before_end_;  // just before a break with which the frame followed last ends
  bool calm_ = false;
  std::optional<double> turn_;  // s into the frame followed last at which the move went back from its goal
  bool unbounded_ = false;      // the rule's own speed has no bound
  bool unbounded_push_ = false; // its acceleration has none
};

} // namespace stasis
