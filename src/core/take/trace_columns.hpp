// Which columns a trace has, and where a block holds their numbers. The names are a contract: docs/design.md, 7.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "core/take/block.hpp"

namespace stasis {

/// The header of a trace: frame, time, dt, then the columns of each channel and control.
std::vector<std::string> trace_header(const Scene& scene);

/// One column over a block: a number for each frame, or one number for all of them.
struct ColumnView {
  std::span<const double> numbers; ///< empty if the column stands still in this block
  double standing = 0.0;
  std::size_t twin = 0; ///< how many columns before this one stands one that mostly holds the same numbers; 0: none

  double at(std::size_t row) const noexcept { return numbers.empty() ? standing : numbers[row]; }
};

/// The columns after frame, time and dt, in the order of trace_header().
void trace_columns(const Scene& scene, const Block& block, std::vector<ColumnView>& columns);

} // namespace stasis
