// A recording as other programs write it: a table of numbers with names, whatever its separators and its encoding.
#pragma once

#include <string>
#include <vector>

#include "io/files.hpp"

namespace stasis::io {

struct Recording {
  std::vector<std::string> names;           ///< of the columns
  std::vector<std::vector<double>> columns; ///< a cell that is empty, or no number, is NaN
  std::string separator = "comma";          ///< "comma", "semicolon", "tab"
  bool decimal_comma = false;
  std::size_t rows() const noexcept { return columns.empty() ? 0 : columns.front().size(); }
};

/// Reads a table: comma, semicolon or tab between the cells; decimal commas where the cells are parted otherwise;
/// comment lines (#, //), blanks, quoted names, a mark of byte order, UTF-16, any line ends. The error names the cause,
/// once, and where.
FileResult<Recording> read_recording(const std::string& path);

} // namespace stasis::io
