// The figure of one take: inputs, values against goals, speeds.
#pragma once

#include <string>
#include <vector>

#include "core/measure/take_measures.hpp"
#include "figure/figure.hpp"
#include "figure/series.hpp"

namespace stasis::figure {

struct TakeFigureInput {
  const Scene* scene = nullptr;
  const TakeMeasures* measures = nullptr;
  const SeriesSink* series = nullptr;
  std::string title;
  std::string variant;           ///< empty for the base feel
  std::vector<std::string> only; ///< channels to draw; empty for all
  bool picture_scale = false;    ///< draw the lens as picture scale against rest, and its rate, as well
};

/// Lays the figure out. Panels that do not fit are left out, the busiest channels first drawn; what is missing is said
/// in `left_out` and on the figure. No two text boxes overlap.
Figure take_figure(const TakeFigureInput& input);

} // namespace stasis::figure
