// A table for the terminal: columns as wide as their widest cell, numbers to the right.
#pragma once

#include <string>
#include <vector>

namespace stasis::cli {

/// Characters of a line: of the terminal that standard output is, else as COLUMNS says, else 80; from 40 to 200.
std::size_t line_width();

class TextTable {
public:
  /// \param right_aligned by column.
  TextTable(std::vector<std::string> header, std::vector<bool> right_aligned);
  void add(std::vector<std::string> row) { rows_.push_back(std::move(row)); }
  /// The lines, each indented by two blanks and ended.
  std::string text() const;

private:
  std::vector<bool> right_aligned_;
  std::vector<std::vector<std::string>> rows_;
};

} // namespace stasis::cli
