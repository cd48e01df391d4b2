// A recording as other programs write it: a table of numbers with names, whatever its separators and its encoding.
#pragma once

#include <string>
#include <vector>

#include "io/files.hpp"

namespace stasis::io {

struct Recording {
  std::vector<std::string> names;           ///< of the columns
  std::vector<std::vector<double>> columns; ///< a cell that is empty, or no number, is NaN
  std::string separator = "comma";          ///< "comma", "semicolon", "tab", "blank", "bar"
  bool decimal_comma = false;
  std::vector<std::string> notes; ///< what was taken for granted about the cells
  std::size_t rows() const noexcept { return columns.empty() ? 0 : columns.front().size(); }
};

/// What is said of a table before it is read.
struct RecordingForm {
  std::string separator;               ///< one of the words above; empty: as the names and the first rows have it alike
  std::string only_column, only_value; ///< rows whose cell there is this text, where a file holds several recordings
};

/// Reads a table: comma, semicolon, tab, bar or blanks between the cells; decimal commas; thousands parted; units
/// behind numbers; times of day and dates as seconds; comment lines (#, //), blanks, quoted cells, a mark of byte
/// order, UTF-16 with it or without, any line ends. The error names the cause, once, and where.
FileResult<Recording> read_recording(const std::string& path, const RecordingForm& form = {});

} // namespace stasis::io
