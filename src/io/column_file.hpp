// Columns of a large CSV file (RFC 4180): a header, then rows of numbers. Read piece by piece, so that only the columns
// that are wanted take memory.
#pragma once

#include <string>
#include <vector>

#include "core/feel/document.hpp"

namespace stasis::io {

/// The columns of `path` that bear one of the names in `wanted`. An empty cell reads as NaN. Any other
/// cell of them that does not hold a number is a problem with line and column, and so is a row with more or fewer cells
/// than the head. Cells of other
/// columns are not read. \param source index of the file among the sources, for positions. A problem without a line is
/// about the file itself.
Result<NumberColumns> read_column_file(const std::string& path, const std::vector<std::string>& wanted, int source);

} // namespace stasis::io
