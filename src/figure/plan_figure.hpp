// The plan of a take: from above, what is followed and what follows it, the lag over time, the subject in the picture.
#pragma once

#include <string>

#include "core/measure/take_measures.hpp"
#include "figure/plan_series.hpp"

namespace stasis::figure {

struct PlanFigureInput {
  const Scene* scene = nullptr;
  const TakeMeasures* measures = nullptr;
  const PlanSink* plan = nullptr; ///< with a channel
  std::string feel_name;
  std::string variant;
};

/// Drawn with as many pixels to a unit along both axes.
Figure plan_figure(const PlanFigureInput& input);

} // namespace stasis::figure
