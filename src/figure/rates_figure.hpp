// The figures of a take at several frame rates: values over each other and how far each is off the exact path; and
// how evenly a subject on a tick is drawn.
#pragma once

#include <string>
#include <vector>

#include "core/measure/frame_rates.hpp"
#include "core/measure/tick_study.hpp"
#include "figure/figure.hpp"
#include "figure/rates_series.hpp"

namespace stasis::figure {

struct RatesFigureInput {
  const RatesAccount* account = nullptr;
  const RatesSeries* series = nullptr; ///< collected while it was made
  std::string title;
  std::vector<std::string> only; ///< channels to draw; empty for the worst
};

/// The channels that stray farthest, two at most, each above its differences from the exact path, one line a clock and
/// five at most. What does not fit is said in `left_out` and on the figure. No two text boxes overlap.
Figure rates_figure(const RatesFigureInput& input);

struct TicksFigureInput {
  const Feel* feel = nullptr;
  const Take* take = nullptr;
  const std::vector<TickStudy>* studies = nullptr; ///< one at least; the first is drawn
  std::string title;
};

/// One cell for each order and way of drawing: frame by frame, how far subject and picture are off even travel.
Figure ticks_figure(const TicksFigureInput& input);

} // namespace stasis::figure
