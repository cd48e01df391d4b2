// A recorded path, the sequence that passes it, and where that has its stops.
#pragma once

#include <string>
#include <vector>

#include "core/recorded/found_stops.hpp"
#include "figure/figure.hpp"

namespace stasis::figure {

struct StopsDrawing {
  std::string title, subtitle;
  std::vector<double> times;      ///< s, of the rows
  std::vector<std::string> names; ///< of the columns
  const std::vector<LedColumn>* columns = nullptr;
  const FoundStops* found = nullptr;
};

/// The columns that move most, one above the other; at most six.
Figure stops_figure(const StopsDrawing& drawing);

} // namespace stasis::figure
