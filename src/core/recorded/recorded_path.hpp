// The path behind recorded rows: smooth between breaks, told at any time with its rates. Methods: docs/maths.md,
// section "Recordings".
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include "core/components.hpp"
#include "core/measure/scene_frames.hpp"

namespace stasis {

/// Rows as they were recorded: times ascending, s; values by component, in the unit of the recording.
struct RecordedRows {
  std::vector<double> times;
  std::vector<std::vector<double>> values; ///< by component: 1 to 3, each as long as the times
  std::size_t components() const noexcept { return values.size(); }
  std::size_t size() const noexcept { return times.size(); }
};

/// Where the path is known: at a row, or where it breaks.
struct PathNode {
  double time = 0.0;                         ///< s
  std::array<Smooth, most_components> state; ///< by component; the rates beside a break are those of its own side
};

/// What goes on smoothly; the last node of one section and the first of the next are at the same time.
using PathSection = std::vector<PathNode>;
using CapturedPath = std::vector<PathSection>;

/// Between two neighbouring nodes.
Smooth between(const PathNode& a, const PathNode& b, std::size_t component, double time) noexcept;
/// \param later of a break: what follows it.
Components value_at(const CapturedPath& path, double time, bool later = false) noexcept;

/// Where a path without noise is not smooth: between two rows, or at one.
struct PathBreak {
  double time = 0.0;                 ///< s
  std::size_t before = 0, after = 0; ///< rows: the last one before it, the first one after it; equal at a row
  /// Of the value, of its rate, of a higher rate; rough: one of several that lie too near to each other to be told
  /// apart.
  enum class Kind : std::uint8_t { jump, corner, bend, rough } kind = Kind::bend;
};

/// The breaks of rows without noise, by differences of the sixth order: large ones in a row, beside small ones.
/// \param rounding size of what is random in the values; hardly more than the last bits.
std::vector<PathBreak> breaks_of(const RecordedRows& rows, double rounding);

/// Through every row, of rows without noise: by polynomials of the sixth degree that reach across no break.
CapturedPath exact_path(const RecordedRows& rows, const std::vector<PathBreak>& breaks);

/// Which rows a number of a row is read from.
struct RowWindow {
  std::size_t first = 0, last = 0; ///< both included
  std::vector<double> weights;     ///< of the rows, then of what it is tied to; empty: not worked out
};
/// Rows that stand: the path is their mean.
struct StandingRows {
  std::size_t first = 0, last = 0; ///< the path is the mean from here to there
  std::size_t from = 0;            ///< which is taken over the rows from here on
};

/// Where a move sets off.
struct PathCut {
  double time = 0.0;    ///< s
  bool is_jump = false; ///< of the value; else of its rates at most
};

/// How noisy rows are looked at.
struct PathPlan {
  std::vector<PathCut> cuts;          ///< ascending
  std::vector<StandingRows> standing; ///< ascending
  std::vector<double> noise;          ///< by component
};

/// What is between two cuts of noisy rows.
struct SectionWindows {
  std::size_t first = 0, last = 0;                            ///< rows of it
  double from = 0.0, to = 0.0;                                ///< s: where it begins and ends
  bool follows_jump = false;                                  ///< it begins with a jump of the value
  std::vector<std::vector<std::array<RowWindow, 3>>> windows; ///< by component and row: of value, rate and bend
  std::vector<double> tie; ///< by component: how many rows the value at the end of the section before counts for
};
/// How wide to look about each row of noisy rows: as far as what is seen there agrees with what is seen nearer by
/// (intersection of intervals; Goldenshluger and Nemirovski).
std::vector<SectionWindows> windows_of(const RecordedRows& rows, const PathPlan& plan);
/// The path that cubics show in those windows.
CapturedPath smooth_path(const RecordedRows& rows, const PathPlan& plan, const std::vector<SectionWindows>& windows);

} // namespace stasis
