// The figure of several versions of one take: their lines over each other, and how far they are apart.
#pragma once

#include <string>
#include <vector>

#include "core/measure/comparison.hpp"
#include "figure/figure.hpp"

namespace stasis::figure {

/// At most so many lines can be told apart.
inline constexpr std::size_t most_contenders = 5;

struct CompareFigureInput {
  const std::vector<Contender>* contenders = nullptr;
  const std::vector<SharedChannel>* channels = nullptr;
  std::string title;
  std::vector<std::string> only; ///< channels to draw; empty for all
};

/// Panels of the channels that differ most, each above the differences from the first contender; what does not fit is
/// said in `left_out` and on the figure. No two text boxes overlap.
Figure compare_figure(const CompareFigureInput& input);

} // namespace stasis::figure
