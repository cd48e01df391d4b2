// A table for the terminal: columns as wide as their widest cell, numbers to the right.
#pragma once

#include <string>
#include <vector>

namespace stasis::cli {

/// Characters of a line: of the terminal that standard output is, else as COLUMNS says, else 80; from 40 to 200.
std::size_t line_width();

/// Where lines on a descriptor are folded: at the width of its terminal, else as COLUMNS says, else (0) nowhere.
std::size_t fold_width(int descriptor);
/// True of a terminal that can be steered: its line written again.
bool takes_codes(int descriptor);
/// True if marks should be in colour there: it is a terminal that can, and NO_COLOR says nothing.
bool is_for_colours(int descriptor);

/// A paragraph of standard output, each line after `indent`: as wide as lines are folded, else 110.
std::string paragraph(const std::string& text, const std::string& indent);

class TextTable {
public:
  /// \param right_aligned by column.
  TextTable(std::vector<std::string> header, std::vector<bool> right_aligned);
  /// So many of the first columns name a row, instead of one.
  void name_rows_by(std::size_t columns) noexcept { names_ = columns; }
  void add(std::vector<std::string> row) { rows_.push_back(std::move(row)); }
  /// The lines, each indented by two blanks and ended. Where lines are folded, a last column of words is broken, else
  /// the columns that do not fit stand below, those that name the row before them again.
  std::string text() const;

private:
  std::string block(const std::vector<std::size_t>& columns, const std::vector<std::size_t>& widths) const;

  std::vector<bool> right_aligned_;
  std::size_t names_ = 1;
  std::vector<std::vector<std::string>> rows_;
};

} // namespace stasis::cli
