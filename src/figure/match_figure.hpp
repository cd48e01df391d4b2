// A recorded move, the rules that come nearest, and what each leaves.
#pragma once

#include <string>
#include <vector>

#include "figure/figure.hpp"

namespace stasis::figure {

struct MatchLine {
  std::string name;
  std::vector<double> values; ///< at the times of the drawing
};

struct MatchDrawing {
  std::string title, subtitle, unit;
  std::vector<double> times, values; ///< the rows that were fitted
  std::vector<double> goal;          ///< on the same rows, where it moves by itself
  std::vector<MatchLine> rules;      ///< the best first, at most two, on the same rows
  /// Of what is told by its sizes alone, on the same rows: how far it goes at most, and what it is without its dying
  /// away, which stands in the place of what is left; NaN where there is nothing.
  std::vector<double> above, below, even;
};

Figure match_figure(const MatchDrawing& drawing);

} // namespace stasis::figure
