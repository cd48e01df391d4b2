// How far and how long a channel trails a goal that moves by itself, on the motion's own closed form. What each number
// means: docs/measures.md.
#pragma once

#include <map>
#include <optional>
#include <vector>

#include "core/measure/scene_frames.hpp"
#include "core/root.hpp"

namespace stasis {

struct LagSummary {
  std::optional<double> lag_distance, lag_distance_mean, lag_distance_steady;
  std::optional<double> lag_time, lag_time_mean, lag_time_steady;
  std::optional<double> wish_distance, wish_distance_mean;
  std::optional<double> catch_up_time;
  double worst_lag_at = 0.0; ///< s
};

/// Watches such a channel; one that follows, while something is there to be followed.
class LagMeter {
public:
  LagMeter(const Scene& scene, std::size_t channel);

  /// Takes in the frame at a row of the block, one that leads to another. \param frame the same seen from inside.
  void follow(const Block& block, std::size_t row, const ChannelFrame& frame);
  LagSummary finish() const;
  /// True if anything was there to be followed.
  bool has_followed() const noexcept { return time_ > 0.0; }
  /// True if there was, though it may never have been caught up with.
  bool has_seen() const noexcept { return has_seen_; }

private:
  /// The channel against its goal at one instant; all in its unit, components that do not follow 0.
  struct Point {
    Components gap{}, gap_rate{}, gap_push{}; // goal less value, and its derivatives
    Components off{}, off_rate{}, off_push{}; // the same of the wish
  };
  /// A stretch of a frame over which goal and wish go straight.
  struct Piece {
    double from = 0.0, to = 0.0;                       // s into the frame
    Components goal{}, goal_end{}, wish{}, wish_end{}; // the goal in the space
    Components way{};                                  // unit vector: which way the goal goes, or last went
    double speed = 0.0;                                // at which, unit/s
  };
  /// A vector and its derivatives as a length.
  struct Length {
    double value, rate, push;
  };
  static Length length(const Components& v, const Components& rate, const Components& push) noexcept;

  void follow_piece(const Piece& piece, const ChannelFrame& frame);
  void follow_smooth(const Piece& piece, const ChannelFrame& frame, double from, double to);
  Point point(const Piece& piece, const ChannelFrame& frame, double u, Side side) const;
  Point point_within(const Piece& piece, const ChannelFrame& frame, double u, double from, double to) const {
    return point(piece, frame, u, side_within(u, from, to));
  }
  std::optional<double> caught_up(const Piece& piece, const ChannelFrame& frame, double from, const Point& a, double to,
                                  const Point& b) const;
  void note_gap(const Piece& piece, const ChannelFrame& frame, double from, const Point& a, double to, const Point& b);
  void note_lag_time(const Piece& piece, const ChannelFrame& frame, double from, const Point& a, double to,
                     const Point& b);
  void note_steadiness(const Piece& piece, double seconds, const Point& end);
  void set_speed(Piece& piece, const Components& goal_change, double ticks);
  bool reads_what_cuts(const Block& block) const;
  bool jumps_from(const Piece& piece) const;
  bool goal_steps(const Block& block, std::size_t row, double dt);
  std::vector<Piece> pieces_of(const Block& block, std::size_t row, double dt);

  Scene scene_;
  const Channel& channel_;
  std::size_t index_;
  std::vector<ComponentRef> reads_; ///< of its formulas
  bool has_limits_;
  bool has_seen_ = false;
  double frame_time_ = 0.0;               // s, of the frame that is followed
  std::optional<Components> goal_before_; // in the space, at the end of the frame before

  LagSummary sums_;
  double time_ = 0.0, gap_sum_ = 0.0, off_sum_ = 0.0; // integrals over time
  /// By octave of the goal's speed: the worst lag, the way gone, and the integral of the gap along it.
  struct Octave {
    double worst, way = 0.0, along = 0.0;
  };
  std::map<int, Octave> octaves_;
  Components last_way_{};
  double last_speed_ = 0.0;
  double goal_speed_ = 0.0; ///< in the space, over the frame that is followed

  /// A stretch at one speed.
  struct Steady {
    double seconds = 0.0, distance = 0.0, time = 0.0;
    bool settled = false;
  };
  Steady steady_, longest_steady_;
  double steady_speed_ = -1.0;

  double jump_gap_ = 0.0; // of a jump that is still being caught up with
  double jump_at_ = 0.0;  // s
};

} // namespace stasis
