#include "cli/folded.hpp"

#include <algorithm>

#include "core/text.hpp"

namespace stasis::cli {
namespace {

/// "  25 | fps = 60", or the line below it that points at a place.
bool quotes_a_file(std::string_view line) noexcept {
  const std::string_view text = trimmed(line);
  const std::size_t digits = std::min(text.find_first_not_of("0123456789"), text.size());
  return text.substr(digits).starts_with(" |") || text.starts_with("|");
}

/// Where the last column of a row begins that leaves room for what goes on below it; the usual indent of other lines.
std::size_t hanging_indent(std::string_view line, std::size_t width) {
  const std::size_t own = std::min(line.find_first_not_of(' '), line.size());
  std::size_t indent = own + 2, column = own;
  for (std::size_t i = own; i < line.size(); ++i) {
    if ((static_cast<unsigned char>(line[i]) & 0xC0U) == 0x80U) continue; // inside a letter
    ++column;
    const bool begins = i + 2 < line.size() && line[i] == ' ' && line[i + 1] == ' ' && line[i + 2] != ' ';
    if (begins && column + 1 <= width / 2) indent = column + 1;
  }
  return indent;
}

/// The next blank that is not inside braces: what is to be pasted stays on one line, as long as a motion may be.
std::size_t next_blank(std::string_view text, std::size_t from) noexcept {
  constexpr std::size_t longest = 160;
  for (std::size_t i = from; i < text.size(); ++i) {
    if (text[i] == ' ') return i;
    const std::size_t end = text[i] == '{' ? text.find('}', i) : std::string_view::npos;
    if (end != std::string_view::npos && end - i < longest) i = end;
  }
  return std::string_view::npos;
}

} // namespace

std::string folded(std::string_view line, std::size_t width) {
  if (code_points(line) <= width || quotes_a_file(line)) return std::string(line);
  const std::string indent(hanging_indent(line, width), ' ');
  std::string out;
  std::string_view rest = line;
  bool is_first = true;
  while (true) {
    const std::size_t room = is_first ? width : width - indent.size();
    if (code_points(rest) <= room) break;
    // The last blank that leaves a piece that fits; if none does, the first one there is.
    const std::size_t begin = std::min(rest.find_first_not_of(' '), rest.size());
    std::size_t at = std::string_view::npos;
    for (std::size_t blank = next_blank(rest, begin); blank != std::string_view::npos;
         blank = next_blank(rest, blank + 1)) {
      if (at != std::string_view::npos && code_points(rest.substr(0, blank)) > room) break;
      at = blank;
    }
    if (at == std::string_view::npos) break;
    std::string_view piece = rest.substr(0, at);
    piece = piece.substr(0, piece.find_last_not_of(' ') + 1);
    out += (is_first ? "" : indent) + std::string(piece) + "\n";
    rest = rest.substr(std::min(rest.find_first_not_of(' ', at), rest.size()));
    is_first = false;
  }
  return out + (is_first ? "" : indent) + std::string(rest);
}

} // namespace stasis::cli
