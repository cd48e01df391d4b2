// What is measured on a distance that obstacles may hold in, over a whole take. What each number means:
// docs/measures.md.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/take/block.hpp"

namespace stasis {

struct RoomSummary {
  std::optional<double> penetration, penetration_time, penetration_frames;
  std::optional<double> held_time, time_below_range;
  std::optional<double> let_out_speed, let_out_time;
  std::optional<double> advised_half_life;
  std::optional<double> unseen_clicks;

  double worst_penetration_at = 0.0;         ///< s
  std::optional<std::size_t> worst_obstacle; ///< that the view went through farthest
  std::optional<std::string> why_no_advice;  ///< why no half-life would have kept it out
};

/// Watches one channel over a take.
class RoomTracker {
public:
  /// A channel that has obstacles.
  RoomTracker(const Scene& scene, std::size_t channel);

  void consume(const Block& block);
  RoomSummary finish();
  /// What is to be said beside the numbers.
  std::vector<std::string> notes() const;

private:
  struct Frame {
    double time, dt;
    double hit, ceiling, wish, smooth, velocity;
    double goal, goal_state, goal_state_end; ///< in the space: at the frame, and just before the next one
    std::optional<std::size_t> obstacle;     ///< that sets the limit
    bool jumped, last;
  };
  Frame frame_at(const Block& block, std::size_t row) const;
  void add_penetration(const Frame& frame);
  void add_way_out(const Frame& frame, bool held);
  void add_push(const Frame& frame, bool held);
  void finish_push();
  void refuse_advice(std::string why);

  Scene scene_;
  const Feel& feel_;
  const Channel& channel_;
  std::size_t index_;
  RoomSummary sums_;

  /// From the first frame on which the goal is held to the last one. In the space.
  struct Push {
    double speed = 0.0; ///< largest so far at which the goal falls
    double leap = 0.0;  ///< largest so far downward
    double shortest_dt = unbounded;
    double least_time = unbounded; ///< s: room to lag in, over that speed
  };
  std::optional<Push> push_;
  double goal_before_ = unbounded; ///< in the space, just before this frame's jump
  bool was_held_ = false;
  bool on_way_out_ = false;   ///< it has been held, and is not back at its wish
  double released_at_ = 0.0;  ///< s
  double released_gap_ = 0.0; ///< from the wish, when it was let go
  double last_gap_ = 0.0;
};

} // namespace stasis
