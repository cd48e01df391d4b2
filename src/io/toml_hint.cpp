#include "io/toml_hint.hpp"

#include <algorithm>
#include <optional>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::io {
namespace {

/// What to write where a value is a text without quotes, `half_life = 300ms`; empty where it is not that.
/// \param column of the fault, from 1, in bytes: within the value.
std::string quotes_hint(std::string_view line, std::uint32_t column) {
  constexpr std::string_view before_value = "=[,", after_value = ",]}#\r";
  std::size_t from = std::min<std::size_t>(column == 0 ? 0 : column - 1, line.size());
  while (from > 0 && before_value.find(line[from - 1]) == std::string_view::npos) --from;
  if (from == 0) return {}; // not behind a key
  const std::string_view value = trimmed(line.substr(from, line.find_first_of(after_value, from) - from));
  const bool is_plain = !value.empty() && std::all_of(value.begin(), value.end(), [](char c) {
    const bool letter = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'), digit = c >= '0' && c <= '9';
    return letter || digit || std::string_view(" _-.%/+()").find(c) != std::string_view::npos;
  });
  const bool has_letter = std::any_of(
      value.begin(), value.end(), [](char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '%'; });
  if (!is_plain || !has_letter || value.size() > 60) return {};
  const std::string_view key = trimmed(line.substr(0, from - 1));
  const std::string_view name = key.substr(key.find_last_of(" {,[") + 1);
  return line[from - 1] == '=' && !name.empty()
             ? fmt::format("Put a text in quotes: {} = \"{}\".", printable(name, 60), value)
             : fmt::format("Put a text in quotes: \"{}\".", value);
}

/// The key and the value of a line, parted by a sign.
std::string joined_by_equals(std::string_view line, char sign) {
  const std::size_t at = line.find(sign);
  const std::string_view key = trimmed(line.substr(0, at)), value = trimmed(line.substr(at + 1));
  const std::string_view plain = trimmed(value.substr(0, value.find_first_of("#,;")));
  return fmt::format("{} = {}", printable(key, 40), printable(plain.empty() ? value : plain, 40));
}

/// A key or a table that a text gives twice: the line of the first, from 1.
/// \param path of the second, "channel.fov.unit"; a value may stand at a part of it.
std::optional<std::uint32_t> given_before(std::string_view text, std::uint32_t line, std::string_view path) {
  std::string table;
  std::uint32_t twin = 0; // the last one of the same key in the same table, which the library names by its key alone
  const auto leads_to = [&](std::string_view given) {
    return path == given || (path.starts_with(given) && path[given.size()] == '.');
  };
  for (std::uint32_t at = 1; at < line; ++at) {
    const std::string_view whole = trimmed(toml_line(text, at));
    if (whole.starts_with('[')) {
      table = trimmed(whole.substr(1, whole.find(']') - 1));
      if (path == table) return at;
      twin = 0;
    } else if (const std::size_t equals = whole.find('='); equals != std::string_view::npos) {
      const std::string_view key = trimmed(whole.substr(0, equals));
      if (key == path) twin = at;
      if (!key.empty() && leads_to(table.empty() ? std::string(key) : fmt::format("{}.{}", table, key))) return at;
    }
  }
  return twin > 0 ? std::optional(twin) : std::nullopt;
}

std::string twice_hint(std::string_view text, std::uint32_t line, std::string_view said) {
  const std::size_t from = said.find('\''), to = said.rfind('\'');
  if (from == std::string_view::npos || to <= from) return {};
  const std::string_view path = said.substr(from + 1, to - from - 1);
  const auto first = given_before(text, line, path);
  if (!first) return "It is given twice; keep one of them.";
  return fmt::format("Line {} gives it already: {}. Keep one of the two, or give one of them another name.", *first,
                     printable(trimmed(toml_line(text, *first)), 60));
}

} // namespace

std::string_view toml_line(std::string_view text, std::uint32_t line) {
  for (std::uint32_t at = 1; at < line; ++at) {
    const std::size_t end = text.find('\n');
    if (end == std::string_view::npos) return {};
    text.remove_prefix(end + 1);
  }
  return text.substr(0, text.find('\n'));
}

std::string syntax_hint(std::string_view text, std::uint32_t line, std::uint32_t column, std::string_view said) {
  const std::string_view whole = toml_line(text, line), plain = trimmed(whole);
  const auto says = [&](std::string_view part) { return said.find(part) != std::string_view::npos; };
  if (says("cannot redefine") || says("already been defined")) return twice_hint(text, line, said);
  for (const std::string_view comment : {"//", "/*", "--", ";", "%"})
    if (plain.starts_with(comment)) return "A comment begins with #.";
  if (says("expected '='")) {
    if (says("saw ':'")) return fmt::format("Write = between a key and its value: {}.", joined_by_equals(plain, ':'));
    return plain.find(' ') == std::string_view::npos
               ? "Write = between a key and its value."
               : fmt::format("Write = between a key and its value: {}.", joined_by_equals(plain, ' '));
  }
  if (column > 0 && column <= whole.size() && whole[column - 1] == ';')
    return "A line ends without a semicolon; what follows # is a comment.";
  if (says("parsing array") && says("expected comma")) return "The values of a list are separated by commas: [30, 95].";
  if (says("parsing inline table") && says("expected comma"))
    return "The values of a table in braces are separated by commas: { at = 0.5, press = \"NAME\" }.";
  if (says("parsing inline table"))
    return "A table in braces is on one line, with commas between its values and none after the last.";
  if (says("parsing string") || says("parsing basic string") || says("parsing literal string"))
    return "A text ends on the line where it begins, with the same quotation mark.";
  return quotes_hint(whole, column);
}

} // namespace stasis::io
