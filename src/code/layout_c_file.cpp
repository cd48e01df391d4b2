#include <algorithm>

#include "code/layout.hpp"
#include "core/text.hpp"

namespace stasis::code {
namespace {

constexpr std::size_t widest_row = 80;

using Rows = std::vector<std::string>;

/// True if a row begins a function whose first line is one row.
bool begins_function(const std::string& row) noexcept {
  return row.ends_with(") {") && (row.starts_with("static inline ") || row.starts_with("inline "));
}

/// `head {`, one statement and `}` as one row, if they fit.
Rows with_short_functions(const Rows& rows) {
  Rows out;
  for (std::size_t i = 0; i < rows.size(); ++i) {
    const bool is_function = begins_function(rows[i]) && i + 2 < rows.size();
    const bool is_short =
        is_function && rows[i + 2] == "}" && rows[i + 1].ends_with(";") && rows[i + 1].starts_with("  ");
    if (is_function && rows[i + 1] == "}") {
      out.push_back(rows[i] + "}");
      ++i;
    } else if (is_short && rows[i].size() + rows[i + 1].size() < widest_row) {
      out.push_back(rows[i] + rows[i + 1].substr(1) + " }");
      i += 2;
    } else {
      out.push_back(rows[i]);
    }
  }
  return out;
}

/// Where the note at the end of a row begins; npos: it has none, or is one.
std::size_t note_of(const std::string& row, std::string_view mark) noexcept {
  const std::size_t first = row.find_first_not_of(' ');
  if (first == std::string::npos || row.starts_with('#') || row.compare(first, mark.size(), mark) == 0)
    return std::string::npos;
  const std::size_t at = row.find(" " + std::string(mark) + " ");
  return at == std::string::npos ? at : at + 1;
}

/// The notes of rows that follow each other begin in one column, as far as they are not too long for it.
void align_notes(Rows& rows, std::string_view mark) {
  std::size_t begin = 0, least = 0, most = widest_row;
  const auto align = [&](std::size_t end) {
    for (std::size_t k = begin; k < end; ++k)
      rows[k].insert(note_of(rows[k], mark), least - note_of(rows[k], mark), ' ');
  };
  for (std::size_t i = 0; i <= rows.size(); ++i) {
    const std::size_t note = i < rows.size() ? note_of(rows[i], mark) : std::string::npos;
    const std::size_t length = note == std::string::npos ? 0 : rows[i].size() - note;
    const std::size_t last = std::max(note, widest_row > length ? widest_row - length : 0);
    const bool goes_on = note != std::string::npos && i > begin && note <= most && last >= least;
    if (goes_on) {
      least = std::max(least, note);
      most = std::min(most, last);
      continue;
    }
    align(i);
    begin = note == std::string::npos ? i + 1 : i;
    least = note;
    most = last;
  }
}

} // namespace

std::string c_file_layout(const std::string& text, std::string_view mark) {
  Rows rows;
  for (const std::string_view row : split(text, '\n')) rows.emplace_back(row);
  rows = with_short_functions(rows);
  align_notes(rows, mark);
  std::string out;
  for (const std::string& row : rows) out += row + '\n';
  return out;
}

} // namespace stasis::code
