#include "cli/table.hpp"

#include <algorithm>
#include <cstdlib>
#include <sys/ioctl.h>
#include <unistd.h>

#include "core/text.hpp"

namespace stasis::cli {

namespace {

constexpr double usual_width = 80.0, least_width = 40.0, most_width = 200.0;

} // namespace

std::size_t fold_width(int descriptor) {
  double width = 0.0;
  winsize window{};
  if (::isatty(descriptor) != 0 && ::ioctl(descriptor, TIOCGWINSZ, &window) == 0 && window.ws_col > 0)
    width = window.ws_col;
  else if (const char* const columns = std::getenv("COLUMNS"); columns != nullptr)
    width = read_number(columns).value_or(usual_width);
  if (width == 0.0) return 0;
  return static_cast<std::size_t>(std::clamp(width, least_width, most_width));
}

bool takes_codes(int descriptor) {
  const char* const terminal = std::getenv("TERM");
  return ::isatty(descriptor) != 0 && terminal != nullptr && std::string_view(terminal) != "dumb";
}

bool is_for_colours(int descriptor) {
  const char* const none = std::getenv("NO_COLOR");
  return takes_codes(descriptor) && (none == nullptr || *none == '\0');
}

std::size_t line_width() {
  const std::size_t width = fold_width(STDOUT_FILENO);
  return width == 0 ? static_cast<std::size_t>(usual_width) : width;
}

std::string paragraph(const std::string& text, const std::string& indent) {
  const std::size_t width = fold_width(STDOUT_FILENO);
  return width == 0 ? wrapped(text, indent) : wrapped(text, indent, width);
}

TextTable::TextTable(std::vector<std::string> header, std::vector<bool> right_aligned)
    : right_aligned_(std::move(right_aligned)) {
  rows_.push_back(std::move(header));
}

std::string TextTable::text() const {
  std::vector<std::size_t> widths(rows_.front().size(), 0), all;
  for (const auto& row : rows_)
    for (std::size_t c = 0; c < row.size(); ++c) widths[c] = std::max(widths[c], code_points(row[c]));
  constexpr std::size_t gap = 2, least_words = 18; // characters
  std::size_t whole = 0;
  for (std::size_t c = 0; c < widths.size(); ++c) {
    all.push_back(c);
    whole += gap + widths[c];
  }
  const std::size_t room = fold_width(STDOUT_FILENO);
  if (room == 0 || whole <= room) return block(all, widths);
  const std::size_t before = whole - widths.back();
  if (!right_aligned_.back() && before + least_words <= room) {
    widths.back() = room - before;
    return block(all, widths);
  }
  std::string out;
  for (std::size_t next = names_; next < widths.size();) {
    std::vector<std::size_t> columns(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(names_));
    std::size_t taken = 0;
    for (const std::size_t c : columns) taken += gap + widths[c];
    do {
      taken += gap + widths[next];
      columns.push_back(next++);
    } while (next < widths.size() && taken + gap + widths[next] <= room);
    out += block(columns, widths);
  }
  return out;
}

std::string TextTable::block(const std::vector<std::size_t>& columns, const std::vector<std::size_t>& widths) const {
  std::string out;
  for (const auto& row : rows_) {
    std::string line = " ", beside; // of the last cell, what goes on below it
    std::size_t indent = 0;
    for (std::size_t k = 0; k < columns.size(); ++k) {
      const std::size_t c = columns[k];
      if (c >= row.size()) continue;
      std::string cell = row[c];
      line += k == 0 ? " " : "  ";
      if (code_points(cell) > widths[c]) {
        indent = code_points(line);
        beside = cell;
        cell.clear();
      }
      const std::string fill(widths[c] - code_points(cell), ' ');
      line += right_aligned_[c] ? fill + cell : cell + fill;
    }
    if (!beside.empty()) {
      const std::string below = wrapped(beside, std::string(indent, ' '), indent + widths[columns.back()]);
      out += line.substr(0, line.find_last_not_of(' ') + 1);
      const std::size_t written = code_points(line.substr(0, line.find_last_not_of(' ') + 1));
      out += below.substr(written <= indent ? written : indent);
      continue;
    }
    line.erase(line.find_last_not_of(' ') + 1);
    out += line + '\n';
  }
  return out;
}

} // namespace stasis::cli
