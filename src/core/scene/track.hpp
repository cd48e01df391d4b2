// Motion of a subject over time: recorded rows, or a simple path for rehearsals. Rules: docs/design.md, section 3.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/clock.hpp"
#include "core/components.hpp"
#include "core/number_column.hpp"

namespace stasis {

/// Rows of a recording, by column. Columns that the recording does not have are empty.
struct RecordedPath {
  NumberColumn time;                                  ///< s, ascending
  std::array<NumberColumn, most_components> place;    ///< in the track's unit
  std::array<NumberColumn, most_components> velocity; ///< unit/s; empty: from the last two rows
  NumberColumn facing;                                ///< deg, without leaps of whole turns
  NumberColumn throttle;                              ///< -1 to 1
  NumberColumn travel;           ///< deg: which way it travels, without leaps; kept up while it stands. See add_travel
  std::vector<std::size_t> cuts; ///< rows reached by a jump, ascending; see add_cuts

  /// The rows from `first` to before `last` are not needed for now; they may still be read.
  void let_go(std::size_t first, std::size_t last) const noexcept;
};

/// Straight on at a steady speed.
struct LinePath {
  Components from{}, velocity{};
};
/// Round and round, seen from above anticlockwise at positive speed; in a flat view in its plane.
struct CirclePath {
  Components centre{};
  double radius = 1.0; ///< unit
  double speed = 1.0;  ///< unit/s along the circle
};
/// A figure of eight about its crossing, `width` across and `height` along the other axis, once in `lap` seconds.
struct EightPath {
  Components centre{};
  double width = 1.0, height = 1.0, lap = 1.0;
};
/// From place to place in jumps, the next after each `every` seconds; it stays at the last.
struct StepsPath {
  std::vector<Components> places;
  double every = 1.0;
};
/// Straight on for `go` seconds, standing for `stop` seconds, and so on.
struct StopAndGoPath {
  Components from{}, velocity{};
  double go = 1.0, stop = 1.0;
};

/// Where a subject is and how it moves.
struct TrackPoint {
  Components place{}, velocity{};
  double travel = 0.0; ///< deg: which way it travels
  double facing = 0.0; ///< deg: which way it looks; as it travels where nothing is recorded
  double throttle = 0.0;
  bool lost = false; ///< there is no row for this time, and the track's rule is `base`
};

/// Where a subject is that is led while it is played: told at frames, straight between them. Its last places only.
class LedPlaces {
public:
  /// At `time`, after every time told before, it is there. It stood at its first place before. Which way it will go is
  /// known once it first moves; until then it travels along 0.
  void lead(double time, const Components& place, std::size_t components);
  bool is_empty() const noexcept { return count_ == 0; }
  /// The place told last.
  const Components& latest() const noexcept { return rows_[count_ - 1].place; }
  /// As a recording of the same rows would have it; within the last three times told.
  TrackPoint at(double time) const noexcept;

private:
  struct Row {
    double time = 0.0;
    Components place{}, velocity{};
    double travel = 0.0; ///< deg
  };
  std::array<Row, 4> rows_{};
  std::size_t count_ = 0;
  bool has_moved_ = false;
};
struct LedPath {
  std::shared_ptr<const LedPlaces> places;
};

using TrackPath = std::variant<std::shared_ptr<const RecordedPath>, LinePath, CirclePath, EightPath, StepsPath,
                               StopAndGoPath, LedPath>;

/// What a channel does whose track has no row yet, or no more.
enum class LostRule : std::uint8_t {
  hold,  ///< the subject stands where it was, or will be, seen
  base,  ///< the channel goes home
  error, ///< a take that needs it is refused
};

/// What a track's places are measured from.
enum class TrackPlace : std::uint8_t {
  world,
  about_subject, ///< in half sizes of the picture, right and up, about the subject that is followed with it
  about_camera,  ///< the same about the channel itself: what it does comes back as a goal one frame later
};

struct Track {
  std::string name;
  std::size_t components = 1;
  TrackPath path;
  double from = 0.0; ///< s: when in a take the track's own time 0 lies
  LostRule lost = LostRule::hold;
  TrackPlace in = TrackPlace::world;
  double radius = 0.0;                  ///< of the subject, about its place
  std::optional<Components> half_box{}; ///< instead: half its size, along its own axes
  std::string unit;                     ///< as declared; may be empty
};

/// First and last instant of the track in a take's time, s; infinite both ways for a path that never ends.
struct TrackSpan {
  double first, last;
};
TrackSpan span_of(const Track& track) noexcept;

/// Directions as angles, deg. In space (three components) 0 looks along -z and turns left, seen from above; in a flat
/// view 0 is to the right and turns to the left, anticlockwise.
double heading_of(const Components& direction, std::size_t components) noexcept;
Components direction_of(double heading, std::size_t components) noexcept;

/// Works out which way the path travels at each row.
void add_travel(RecordedPath& path, std::size_t components);
/// Finds the rows that are farther than `cut_beyond` from the one before.
void add_cuts(RecordedPath& path, double cut_beyond);
/// Takes leaps of more than half a turn out of angles that follow each other, deg.
class UnwrapDegrees {
public:
  double operator()(double angle) noexcept;

private:
  std::optional<double> before_;
};

/// The middle one of the steps from row to row of a column that ascends strictly, of two rows at least; of an even
/// number of steps the longer of the two. Takes no more memory for a longer column.
double middle_step(const NumberColumn& column);

/// Reads a track while time goes on. Between two jumps of the track lies a stretch; a stretch is entered, and read up
/// to its very end, before the next one is.
class TrackReader {
public:
  /// \param tick read by ticks where it has a rate; a jump acts from the tick at which it is seen and is not blended.
  explicit TrackReader(const Track& track, const Tick& tick = {.rate = 0.0});

  /// Enters the stretch in which `time` (s, of the take) lies; a jump at that time has been made.
  void enter(double time) noexcept;
  /// The track at a time of the stretch entered last; beyond its end it stands still.
  TrackPoint at(double time) const noexcept;
  /// When the stretch ends with a jump; infinite if it does not.
  double stretch_end() const noexcept { return end_; }
  /// Adds the instants strictly between two times of the stretch at which the track turns a corner.
  void add_corners(double from, double to, std::vector<double>& instants) const;

private:
  void enter_exactly(double time) noexcept;
  TrackPoint exactly_at(double time) const noexcept;
  TrackPoint recorded_at(const RecordedPath& path, double time) const noexcept;
  void enter_recorded(const RecordedPath& path, double time) noexcept;
  std::size_t row_at(const RecordedPath& path, double time) const noexcept;

  const Track& track_;
  Tick tick_;
  double end_;
  bool lost_ = false;
  std::size_t first_row_ = 0, last_row_ = 0; ///< of the stretch, both included
  std::size_t step_ = 0;                     ///< of StepsPath
  mutable std::size_t row_ = 0;              ///< where the last reading was
  mutable std::optional<RowPass<RecordedPath>> pass_;
};

} // namespace stasis
