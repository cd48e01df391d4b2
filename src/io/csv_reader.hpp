// A table of numbers from CSV (RFC 4180): an optional header, then rows of numbers, all of one length.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/problem.hpp"

namespace stasis::io {

struct NumberTable {
  std::vector<std::string> header; ///< empty if there is none
  std::vector<std::vector<double>> rows;
  std::vector<int> lines; ///< by row: where it stands in the text
};

/// \param text lines ended by \n or \r\n; blank lines are passed over; a first line that holds a cell which is no
/// number is the header. \param source index of the text, for positions. Each fault is a problem with line and column.
Result<NumberTable> read_number_table(std::string_view text, int source);

struct CsvCell {
  std::string text;
  int column; ///< in code points, from 1
};
/// The cells of one line; a cell in quotes may hold commas and doubled quotes.
std::vector<CsvCell> csv_cells(std::string_view line);

} // namespace stasis::io
