// Two measures against each other: what can be had of both.
#pragma once

#include <array>
#include <string>

#include "core/search/tradeoff.hpp"
#include "figure/figure.hpp"

namespace stasis::figure {

struct TradeoffDrawing {
  const Tradeoff* found = nullptr;
  std::array<std::string, 2> names, units;
  std::string title; ///< of the feel
};
/// The best pairs as a line, the first measure to the right, the second upward; what the feel has now as a diamond.
Figure tradeoff_figure(const TradeoffDrawing& drawing);

} // namespace stasis::figure
