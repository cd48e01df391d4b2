#include "cli/table.hpp"

#include <algorithm>

#include "core/text.hpp"

namespace stasis::cli {

TextTable::TextTable(std::vector<std::string> header, std::vector<bool> right_aligned)
    : right_aligned_(std::move(right_aligned)) {
  rows_.push_back(std::move(header));
}

std::string TextTable::text() const {
  std::vector<std::size_t> widths(rows_.front().size(), 0);
  for (const auto& row : rows_)
    for (std::size_t c = 0; c < row.size(); ++c) widths[c] = std::max(widths[c], code_points(row[c]));
  std::string out;
  for (const auto& row : rows_) {
    std::string line = " ";
    for (std::size_t c = 0; c < row.size(); ++c) {
      const std::string fill(widths[c] - code_points(row[c]), ' ');
      line += (c == 0 ? " " : "  ") + (right_aligned_[c] ? fill + row[c] : row[c] + fill);
    }
    line.erase(line.find_last_not_of(' ') + 1);
    out += line + '\n';
  }
  return out;
}

} // namespace stasis::cli
