// A value that a sequence leads: a closed form of the time since it began. Source: docs/maths.md, section 13.
#pragma once

#include <memory>
#include <variant>
#include <vector>

#include "core/curve/flight.hpp"
#include "core/curve/turn_path.hpp"
#include "core/motion/frame_piece.hpp"
#include "core/motion/led_time.hpp"

namespace stasis {

/// s: longer than any part of a way lasts, so that a move's piece never ends before its part.
inline constexpr double longest_part = 1e9;

/// What a value may be led along that is known elsewhere, such as where a subject is: in its channel's space, by the
/// way's own time.
class OuterWay {
public:
  OuterWay() = default;
  OuterWay(const OuterWay&) = delete;
  OuterWay& operator=(const OuterWay&) = delete;
  virtual ~OuterWay() = default;
  virtual Instant at(double time, Side side) const = 0;
  /// The first instant after `time` at which value or a rate may jump; infinite if none.
  virtual double next_break(double time) const = 0;
  /// Seconds from `time` on in which value and rates turn at most once, if nothing breaks before.
  virtual double smooth_stretch(double time) const = 0;
  /// Where it then leads: the value itself, unless something goes after it.
  virtual double heading_at(double time, Side side) const { return at(time, side).value; }
};

/// The way of one component, in its channel's space.
class LedWay {
public:
  /// Part of it, from an instant until the next part begins.
  struct Standing {
    double value;
  };
  struct Moving { ///< a move by a motion; its piece begins with the part, and is longer than any part lasts
    std::shared_ptr<const Motion> motion;
    FramePiece piece;
  };
  struct Flying {
    std::shared_ptr<const Flight> flight;
    std::size_t axis;
  };
  struct Turning { ///< one angle of a camera's turn
    std::shared_ptr<const TurnPath> path;
    std::size_t angle;
    double per_radian; ///< units of the channel
  };
  struct Riding { ///< along with something
    std::shared_ptr<const OuterWay> way;
  };
  using What = std::variant<Standing, Moving, Flying, Turning, Riding>;
  struct Part {
    double begin; ///< s
    What what;
  };

  /// \param begin s, not before that of the part before it; one that begins with it takes its place.
  void add(double begin, What what);
  bool is_empty() const noexcept { return parts_.empty(); }

  /// In the way's own time, s; before the first part it stands where that begins.
  Instant at(double time, Side side = Side::at) const;
  /// The first instant after `time` at which value, speed or acceleration may jump, or turn; infinite if none.
  double next_break(double time) const;
  /// The last such instant before `time`, as for a way that is gone back; negatively infinite if none.
  double break_before(double time) const;
  double smooth_stretch(double time) const;
  /// As it is left at an end of the way: a flight with the speed with which it comes there, a move as it then goes,
  /// and a ride with the speed of what it goes with.
  Instant left_at(double time, bool on_way_back) const;
  /// Where the part that then holds leads in the end.
  double heading_at(double time, Side side = Side::at) const;

private:
  std::size_t part_at(double time, Side side) const noexcept;
  double into(std::size_t part, double time) const noexcept;
  double break_in(std::size_t part, double time) const;

  std::vector<Part> parts_;
};

/// A way, and how it is gone along.
struct LedCourse {
  std::shared_ptr<const LedWay> way;
  LedTime time;
};

/// `elapsed` seconds after the course began; once it is over it goes on with the speed that it is left with, which is
/// none unless it ends in flight.
Instant evaluate(const LedCourse& course, double elapsed, Side side = Side::at);
double next_break(const LedCourse& course, double elapsed);
/// Seconds within which a time counts as the break that it misses.
double rounding_at(const LedCourse& course, double elapsed) noexcept;
/// Seconds from `elapsed` on in which value, speed and acceleration turn at most once, if nothing breaks before.
double smooth_stretch(const LedCourse& course, double elapsed);

} // namespace stasis
