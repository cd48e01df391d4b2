// A flight through stops, fitted to recorded rows: when each stop is passed, and what is there. Method: docs/maths.md,
// section "Recordings".
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

#include "core/curve/curve.hpp"
#include "core/curve/knot_path.hpp"
#include "core/recorded/led_rows.hpp"

namespace stasis {

/// The rows of one stretch of motion, and what is known of its ends.
struct MovingStretch {
  std::size_t first = 0, last = 0;                 ///< rows, both included
  std::optional<std::vector<double>> from, to;     ///< by column: where it stands before and after, where that is known
  std::optional<double> curve_begins{};            ///< s: when a leg along a curve would begin, where it cannot be told
  std::optional<double> flight_begins{};           ///< s: when a flight begins, where that is known
  std::size_t rest_before = 0, rest_after = 0;     ///< how many of its first and last rows stand
  bool begins_moving = false, ends_moving = false; ///< the recording begins or ends in full flight
};

/// One leg or several without a halt: as a sequence flies through its stops, or along one curve.
struct FittedLegs {
  struct Axis {
    std::vector<std::size_t> stops; ///< at which the column is given, the beginning (0) one of them
    std::vector<double> values;     ///< there, in the column's space
  };
  std::vector<double> times;    ///< s: when it begins, then by stop
  std::vector<Axis> axes;       ///< by column
  PathEnd start, end;           ///< of each axis, at the flight's ends
  std::optional<Curve> curve{}; ///< instead of flying: there is one stop then
  double off = 0.0;             ///< the largest distance of any row, in what is allowed there

  std::size_t stops() const noexcept { return times.size() - 1; }
};

/// Which columns are given at which stops of a flight.
using StopSets = std::vector<std::vector<std::size_t>>;

/// Curves of one kind whose numbers are looked for.
struct CurveFamily {
  std::vector<double> start; ///< unknowns at which a search begins
  /// The curve's own numbers, of any unknowns.
  std::function<std::vector<double>(std::span<const double>)> numbers;
  /// The curve of such numbers; nothing where there is none.
  std::function<std::optional<Curve>(std::span<const double>)> curve;
  /// The same as a feel has it.
  std::function<std::string(std::span<const double>)> text;
};

/// What is known of legs before their times and values.
struct LegShape {
  StopSets sets;                       ///< by column, the beginning (0) the first of each
  std::optional<Curve> curve;          ///< of a single leg; else it is flown
  const CurveFamily* family = nullptr; ///< instead of `curve`: its numbers are looked for too
};

/// How near to the least squares a search goes: roughly, or to the last digits.
enum class Descent : std::uint8_t { rough, full };

/// Times and values of the least squares, from these times on.
FittedLegs fitted_legs(const LedRows& rows, const MovingStretch& stretch, const LegShape& shape,
                       const std::vector<double>& times, Descent how);

/// Only the values of the least squares, at these times; of a long stretch up to `most` rows are fitted.
FittedLegs legs_at(const LedRows& rows, const MovingStretch& stretch, const StopSets& sets,
                   const std::vector<double>& times, std::size_t most);

/// How far the worst row is off, and where.
struct Worst {
  double off = 0.0;
  std::size_t row = 0;
  std::vector<double> by_column;
};

Worst worst_of(const LedRows& rows, const MovingStretch& stretch, const FittedLegs& legs);

/// Of a long stretch so many rows are fitted: a search needs no more.
inline constexpr std::size_t most_fitted_rows = 200;

inline std::size_t rows_of(const MovingStretch& stretch) noexcept { return stretch.last - stretch.first + 1; }

/// The flight with the fewest stops that was found within what is allowed, or what came nearest to it with as many
/// stops as the rows can tell.
FittedLegs fitted_flight(const LedRows& rows, const MovingStretch& stretch);
/// A flight with as many stops as it takes to pass every row within what is allowed, each at a row.
FittedLegs dense_flight(const LedRows& rows, const MovingStretch& stretch);
/// The places of a column at the rows of a stretch.
std::vector<double> places_of(const FittedLegs& legs, std::size_t column, const std::vector<double>& times,
                              const MovingStretch& stretch);
/// Where a stretch may begin to move and where it may have come to rest, s: by its cubics, and by its rests.
std::vector<std::pair<double, double>> rough_ends(const LedRows& rows, const MovingStretch& stretch);
/// One leg along a curve, or flown without one; it may be off by more than is allowed.
/// \param ends where a search begins.
FittedLegs fitted_leg(const LedRows& rows, const MovingStretch& stretch, const std::optional<Curve>& curve,
                      std::pair<double, double> ends);
/// One leg along a curve of a family. \param numbers that curve's, once it is found.
FittedLegs fitted_leg(const LedRows& rows, const MovingStretch& stretch, const CurveFamily& family,
                      std::pair<double, double> ends, std::vector<double>& numbers);
/// The squares that a leg along a curve leaves with just these ends.
double leg_misfit(const LedRows& rows, const MovingStretch& stretch, const Curve& curve,
                  std::pair<double, double> ends);

/// Where a piece of a column ends that one cubic passes within what is allowed: the times between the rows there.
std::vector<double> cubic_joints(const LedRows& rows, std::size_t column, const MovingStretch& stretch);

} // namespace stasis
