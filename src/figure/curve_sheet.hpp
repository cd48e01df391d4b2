// A sheet of easing curves: value above, speed below, all cells on the same scales.
#pragma once

#include <string>
#include <vector>

#include "core/curve/curve_facts.hpp"
#include "figure/figure.hpp"

namespace stasis::figure {

/// Cells of one page.
inline constexpr std::size_t most_cells = 12;

/// The curves on as many pages as they need, at most most_cells to a page.
std::vector<Figure> curve_sheets(const std::vector<KnownCurve>& curves, const std::string& title);

} // namespace stasis::figure
