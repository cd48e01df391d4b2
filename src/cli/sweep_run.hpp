// The work of `stasis sweep`: every point played, rows in order, and what they tell.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "core/measure/measure_facts.hpp"
#include "core/search/sweep.hpp"
#include "core/search/trials.hpp"

namespace stasis::cli {

/// A share of the points, 1 of 1 being all of them: those from first() to before last().
struct SweepPart {
  std::uint64_t number = 1, of = 1;
  std::uint64_t first(std::uint64_t points) const noexcept { return points * (number - 1) / of; }
  std::uint64_t last(std::uint64_t points) const noexcept { return points * number / of; }
};

/// All that a finished sweep has found, by point.
struct SweepTable {
  std::vector<std::string> rows;                ///< of the CSV file, one point's lines together
  std::vector<std::vector<Measured>> measures;  ///< by measure, then point: the worst over takes, clocks, variants
  std::vector<std::string> wants;               ///< each want of the feel: "fov.overshoot at most 10 %"
  std::vector<std::vector<std::uint8_t>> holds; ///< by want, then point: on every take, clock and variant
  std::uint64_t unreadable = 0;                 ///< points at which the feel cannot be read: rows without measures
  std::uint64_t done = 0;                       ///< points from the first on; fewer than there are: interrupted
};

/// Names the wants of the feel, once each: "fov.overshoot at most 10 %". \returns for each want of a trial which name
/// it has
std::vector<std::size_t> name_wants(const Trials& trials, const SweepPoints& points, std::vector<std::string>& names);

/// By point the worst that a measure is on any take, clock and variant. A row on which it happens at no point at all is
/// none of its: the take does not move that channel. \param by_row by point, row, measure
std::vector<Measured> worst_of(const std::vector<std::vector<std::vector<Measured>>>& by_row, std::size_t measure,
                               Better better);

/// The header of the CSV file.
std::string sweep_header(const SweepPoints& points, const std::vector<std::string>& measures);
/// Plays the points of a part. \param better by measure. \param progress of points done; \returns false to stop early.
SweepTable run_sweep(const Trials& trials, const SweepPoints& points, const SweepPart& part,
                     const std::vector<Better>& better, unsigned threads,
                     const std::function<bool(std::uint64_t)>& progress);

/// The point that is best: the fewest wants that fail, then the best first measure, then nearest to what the feel has
/// now. Nothing where none has the measure. \param present by axis.
std::optional<std::uint64_t> best_point(const SweepTable& table, const SweepPoints& points, Better better,
                                        const std::vector<std::optional<double>>& present);

} // namespace stasis::cli
