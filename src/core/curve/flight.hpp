// A flight of several values through stops: at given times, or at one speed along the way. Source: docs/maths.md,
// section 13.
#pragma once

#include <cstddef>
#include <memory>
#include <vector>

#include "core/curve/knot_path.hpp"

namespace stasis {

struct FlightPlan {
  /// One of the values.
  struct Axis {
    std::vector<std::size_t> stops; ///< at which it is given, ascending; the first stop is one of them
    std::vector<double> values;     ///< there
    PathEnd start, end;             ///< slopes per second; not used by a steady flight
  };
  std::vector<double> times; ///< s, of the stops, ascending, the first 0; a steady flight keeps the last one only
  std::vector<Axis> axes;
  std::vector<std::size_t> along; ///< axes, given at every stop, whose way is measured
  bool steady = false;            ///< at one speed along the way
  bool between_neighbours = false;
  bool closed = false;                    ///< it ends as it begins
  double speed_up = 0.0, slow_down = 0.0; ///< s: of a steady flight, from rest and to rest; 0: at full speed at once
};

/// Continuous in value, speed and acceleration from its first stop to its last.
class Flight {
public:
  /// \param plan two stops at least.
  explicit Flight(const FlightPlan& plan);

  /// A value and its rates, `t` seconds after the first stop; before the first and after the last it stands.
  CurvePoint at(std::size_t axis, double t, Side side = Side::at) const noexcept;
  /// The first instant after `t` at which the third derivative, or at the ends any, may jump; infinite if none.
  double next_break(double t) const noexcept;
  /// Seconds from `t` on in which each value, speed and acceleration turns at most once, if nothing breaks before.
  double smooth_stretch(double t) const noexcept;
  double total() const noexcept { return total_; }
  /// When it comes to a stop, s.
  double time_of(std::size_t stop) const noexcept { return breaks_at_stop_[stop]; }
  /// The way along from one stop to another, in the unit of its axes; 0 without any.
  double way_between(std::size_t from, std::size_t to) const noexcept;
  /// True if it flies at one speed: it was asked to, and there is a way that can be flown so.
  bool is_steady() const noexcept { return steady_; }

private:
  /// The way along by the paths' own argument, and back.
  struct WayTable {
    std::vector<double> at, way; // arguments of its panels' ends, and the way up to there
  };

  double speed_along(double u) const noexcept;
  double way_in_panel(double from, double to) const noexcept;
  void measure_way();
  double least_speed_along() const noexcept;
  double argument_at(double way) const noexcept;
  /// Of a steady flight: the way made, and its rates by time.
  CurvePoint way_at(double t) const noexcept;
  /// Of a steady flight: the paths' argument, and its rates by time.
  CurvePoint argument(double t) const noexcept;

  std::vector<KnotPath> paths_; // by axis
  std::vector<std::size_t> along_;
  std::vector<double> knots_; // of the paths, by stop
  WayTable table_;
  bool steady_ = false;
  double total_ = 0.0, speed_up_ = 0.0, slow_down_ = 0.0, top_speed_ = 0.0;
  std::vector<double> breaks_, breaks_at_stop_; // s
};

} // namespace stasis
