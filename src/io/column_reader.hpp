// Columns of a table of numbers as text (RFC 4180): a header, then rows. Takes line after line and keeps what is
// wanted.
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/feel/document.hpp"

namespace stasis::io {

class ColumnReader {
public:
  static constexpr std::size_t longest_line = std::size_t{1} << 20; ///< bytes

  /// \param wanted names of the columns that are kept, which outlive the reader. \param source index of the text among
  /// the sources, for positions. \param shelf where long columns lie; null: in memory.
  ColumnReader(const std::vector<std::string>& wanted, int source, std::shared_ptr<const NumberShelf> shelf)
      : wanted_(wanted), shelf_(std::move(shelf)) {
    out_.source = source;
  }

  /// \param may_have_quotes false where it is known that the line has none.
  void line(std::string_view text, bool may_have_quotes);
  Result<NumberColumns> finish();
  /// True once so much is wrong that the rest need not be read.
  bool is_done() const noexcept { return problems_.size() >= 10; }

private:
  static constexpr int unwanted = -1;

  void fault(int column, int length, std::string message);
  void read_header(std::string_view text);
  void note_line();
  void keep(std::size_t cell, std::string_view text, int column);
  const char* take_number(std::size_t cell, const char* at, const char* end);
  bool read_plain(std::string_view text);
  bool read_quoted(std::string_view text);
  bool check_width(std::size_t cells);

  const std::vector<std::string>& wanted_;
  std::shared_ptr<const NumberShelf> shelf_;
  NumberColumns out_;
  std::vector<NumberColumnWriter> columns_;
  std::vector<int> place_; ///< by column of the file: which of the kept columns
  std::size_t last_wanted_ = 0;
  std::size_t rows_ = 0;
  int number_ = 0, last_line_ = 0;
  Problems problems_;
};

/// The columns of a whole text; see read_column_file().
Result<NumberColumns> read_columns(std::string_view text, const std::vector<std::string>& wanted, int source);

} // namespace stasis::io
