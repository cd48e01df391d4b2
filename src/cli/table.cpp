#include "cli/table.hpp"

#include <algorithm>
#include <cstdlib>
#include <sys/ioctl.h>
#include <unistd.h>

#include "core/text.hpp"

namespace stasis::cli {

std::size_t line_width() {
  constexpr double usual = 80.0, least = 40.0, most = 200.0;
  double width = usual;
  winsize window{};
  if (::isatty(STDOUT_FILENO) != 0 && ::ioctl(STDOUT_FILENO, TIOCGWINSZ, &window) == 0 && window.ws_col > 0)
    width = window.ws_col;
  else if (const char* const columns = std::getenv("COLUMNS"); columns != nullptr)
    width = read_number(columns).value_or(usual);
  return static_cast<std::size_t>(std::clamp(width, least, most));
}

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
