// The way of a goal that moves by itself, kept for as long as a motion waits.
#pragma once

#include <limits>
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
  /// Forgets all: from `time` back it has stood at `goal`.
  void begin_anew(double time, double goal);
  /// Where the goal was; after a jump at that time. The line is not empty.
  double at(double time) const;
  /// Since when the goal stands, s: when its way changed last. Without a change minus infinity.
  double stands_since() const noexcept { return changed_; }
  /// The same way, told by a clock that shows so much more.
  void shift(double by) {
    for (std::size_t p = 0; p < points_.size(); ++p) points_[p].time += by;
    changed_ += by;
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
  /// The last point at or before a time, the first if there is none; of several at one time the last.
  std::size_t point_before(double time) const noexcept;
  double goal_after(std::size_t point, double time) const noexcept;

  struct Point {
    double time, goal;
  };
  static constexpr double never_changed = -std::numeric_limits<double>::infinity();
  Queue<Point> points_;            ///< ascending in time
  double changed_ = never_changed; ///< s; it may be forgotten among the points
};

} // namespace stasis
