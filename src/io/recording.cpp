#include "io/recording.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <optional>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::io {
namespace {

constexpr std::size_t most_recording_bytes = std::size_t{64} << 20;

/// UTF-16 with a mark of byte order, as bytes; characters beyond ASCII, which only names can have, become "?".
std::string from_utf16(const std::string& text) {
  const bool big = static_cast<unsigned char>(text[0]) == 0xfe;
  std::string out;
  for (std::size_t k = 2; k + 1 < text.size(); k += 2) {
    const auto high = static_cast<unsigned char>(text[big ? k : k + 1]),
               low = static_cast<unsigned char>(text[big ? k + 1 : k]);
    out += high == 0 && low < 0x80 ? static_cast<char>(low) : '?';
  }
  return out;
}

std::string decoded(std::string text) {
  const auto begins = [&](std::string_view mark) { return text.starts_with(mark); };
  if (begins("\xff\xfe") || begins("\xfe\xff")) return from_utf16(text);
  if (begins("\xef\xbb\xbf")) text.erase(0, 3);
  return text;
}

struct NumberedLine {
  std::string_view text;
  std::size_t number; ///< counted from 1
};

/// The lines that hold something, by any line end.
std::vector<NumberedLine> lines_of(std::string_view text) {
  std::vector<NumberedLine> lines;
  std::size_t number = 1;
  for (std::size_t at = 0; at < text.size(); ++number) {
    const std::size_t end = std::min(text.find_first_of("\r\n", at), text.size());
    const std::string_view line = trimmed(text.substr(at, end - at));
    if (!line.empty() && !line.starts_with('#') && !line.starts_with("//")) lines.push_back({line, number});
    at = end + (text.substr(end).starts_with("\r\n") ? 2 : 1);
  }
  return lines;
}

/// A line cut at a separator that does not stand in quotes.
std::vector<std::string> cells_of(std::string_view line, char separator) {
  std::vector<std::string> cells(1);
  bool quoted = false;
  for (std::size_t k = 0; k < line.size(); ++k) {
    if (line[k] == '"') {
      if (quoted && k + 1 < line.size() && line[k + 1] == '"')
        cells.back() += line[k++];
      else
        quoted = !quoted;
    } else if (line[k] == separator && !quoted) {
      cells.emplace_back();
    } else {
      cells.back() += line[k];
    }
  }
  for (std::string& cell : cells) cell = std::string(trimmed(cell));
  return cells;
}

std::optional<double> number_in(std::string cell, bool decimal_comma) {
  if (decimal_comma) std::replace(cell.begin(), cell.end(), ',', '.');
  return read_number(cell);
}

/// What parts the cells: that which the names and the first rows have alike, and most often.
char separator_of(const std::vector<NumberedLine>& lines) {
  char best = ',';
  std::size_t most = 1;
  for (const char one : {'\t', ';', ','}) {
    const std::size_t cells = cells_of(lines[0].text, one).size();
    constexpr std::size_t looked_at = 20;
    bool alike = true;
    for (std::size_t k = 1; k < std::min(lines.size(), looked_at); ++k)
      alike = alike && cells_of(lines[k].text, one).size() == cells;
    if (alike && cells > most) {
      most = cells;
      best = one;
    }
  }
  return best;
}

tl::unexpected<FileError> wrong(const std::string& path, std::string what) {
  return tl::unexpected(FileError{fmt::format("{}: {}", shown_name(path), what), true});
}

bool says_nothing(const std::string& cell) {
  std::string small = cell;
  std::transform(small.begin(), small.end(), small.begin(),
                 [](char c) { return static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c); });
  return small.empty() || small == "nan" || small == "null" || small == "na" || small == "-";
}

} // namespace

FileResult<Recording> read_recording(const std::string& path) {
  auto read = read_file(path, most_recording_bytes);
  if (!read) return tl::unexpected(read.error());
  const std::string text = decoded(std::move(*read));
  if (text.find('\0') != std::string::npos) return wrong(path, "this is no text, but a file of bytes");
  const auto lines = lines_of(text);
  if (lines.empty()) return wrong(path, "there is nothing in it");
  const char separator = separator_of(lines);
  Recording out;
  out.separator = separator == '\t' ? "tab" : separator == ';' ? "semicolon" : "comma";
  out.names = cells_of(lines[0].text, separator);
  if (std::all_of(out.names.begin(), out.names.end(), [](const std::string& n) { return read_number(n).has_value(); }))
    return wrong(path, fmt::format("line {}: the first line holds numbers, not the names of the columns; put a line "
                                   "such as \"time{}value\" above it",
                                   lines[0].number, separator));
  out.columns.resize(out.names.size());
  // Decimal commas, where cells that are no numbers become some by them.
  if (separator != ',')
    for (std::size_t k = 1; k < lines.size() && !out.decimal_comma; ++k)
      for (const std::string& cell : cells_of(lines[k].text, separator))
        out.decimal_comma = out.decimal_comma || (!read_number(cell) && number_in(cell, true));
  for (std::size_t k = 1; k < lines.size(); ++k) {
    const auto cells = cells_of(lines[k].text, separator);
    if (cells.size() != out.names.size())
      return wrong(path, fmt::format("line {}: {} cells, where the names of the columns are {} (parted by {}){}",
                                     lines[k].number, cells.size(), out.names.size(), out.separator,
                                     separator == ',' && cells.size() == 2 * out.names.size()
                                         ? "; decimal commas need semicolons or tabs between the cells"
                                         : ""));
    for (std::size_t c = 0; c < cells.size(); ++c) {
      const auto number = number_in(cells[c], out.decimal_comma);
      out.columns[c].push_back(number                   ? *number
                               : says_nothing(cells[c]) ? std::numeric_limits<double>::quiet_NaN()
                                                        : std::numeric_limits<double>::infinity());
    }
  }
  return out;
}

} // namespace stasis::io
