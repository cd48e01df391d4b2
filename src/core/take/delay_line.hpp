// The way of a goal that moves by itself, kept for as long as a motion waits.
#pragma once

#include <vector>

#include "core/motion/goal_segment.hpp"
#include "core/queue.hpp"

namespace stasis {

/// Straight from point to point; two points at one time are a jump.
class DelayLine {
public:
  void add(double time, double goal);
  /// Forgets what lies before `time`, except for the point that holds there.
  void forget(double time);
  bool is_empty() const noexcept { return points_.empty(); }
  /// The same way, told by a clock that shows so much more.
  void shift(double by) {
    for (std::size_t p = 0; p < points_.size(); ++p) points_[p].time += by;
  }

  /// A straight piece of the way.
  struct Piece {
    GoalSegment goal;
    double length = 0.0; ///< s, > 0
  };
  /// The way between two times, `from` < `to`, piece by piece: after a jump at `from`, before one at `to`. Before the
  /// first point it stands.
  void pieces(double from, double to, std::vector<Piece>& out) const;

private:
  struct Point {
    double time, goal;
  };
  Queue<Point> points_; ///< ascending in time
};

} // namespace stasis
