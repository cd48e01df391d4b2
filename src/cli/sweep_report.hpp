// What `stasis sweep` says of what it found: in words, and as JSON.
#pragma once

#include <string>
#include <vector>

#include "cli/sweep_run.hpp"
#include "cli/trial_call.hpp"
#include "figure/sweep_figure.hpp"

namespace stasis::cli {

struct SweepReport {
  const SweepPoints* points = nullptr;
  const SweepTable* table = nullptr;
  std::string title;
  std::vector<std::string> measures, units;
  Better better = Better::smaller;            ///< side of the first measure
  std::vector<std::optional<double>> present; ///< by axis; nothing where the feel has no number there
  std::size_t rows = 0;                       ///< lines of the CSV file below its header
  std::string csv;                            ///< its name
};

/// What the figure of a sweep is drawn of; it points into what it was given.
figure::SweepDrawing sweep_drawing(const SweepReport& report, const OpenedTrials& opened);
std::string sweep_text(const SweepReport& report);
std::string sweep_json(const SweepReport& report);

} // namespace stasis::cli
