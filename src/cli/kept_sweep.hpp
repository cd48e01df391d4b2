// A sweep that was kept: its table read again, so that its figure can be drawn without playing it once more.
#pragma once

#include <string>
#include <vector>

#include "cli/sweep_run.hpp"
#include "cli/trial_call.hpp"

namespace stasis::cli {

struct KeptSweep {
  SweepPoints points;
  std::vector<std::string> measures;
};

/// The parts of a sweep.csv: which points, which measures, and by point a row for each take, clock and variant.
struct KeptRows {
  KeptSweep sweep;
  std::vector<std::vector<std::vector<Measured>>> rows; ///< by point, row, measure
};

/// \param text of a file that `stasis sweep` wrote. The error says why it is none, in a sentence without its full stop.
tl::expected<KeptRows, std::string> read_kept_sweep(std::string_view text);

/// What the rows tell: the worst of each measure by point, and where the wants of the feel hold whose measures are in
/// the table. \param better by measure
SweepTable table_of(const KeptRows& kept, const OpenedTrials& opened, const std::vector<Better>& better);

} // namespace stasis::cli
