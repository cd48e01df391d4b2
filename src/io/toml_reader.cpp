#include "io/toml_reader.hpp"

#include <algorithm>

#define TOML_HEADER_ONLY 1
#define TOML_FLOAT_CHARCONV 1 // numbers by from_chars: exact, and independent of the locale
#define TOML_ENABLE_FORMATTERS 0
#include <fmt/format.h>
#include <toml++/toml.h>

#include "core/feel/key_table.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

Position position_of(const toml::source_region& region, int source) {
  const bool one_line = region.begin.line == region.end.line && region.end.column > region.begin.column;
  return {static_cast<int>(region.begin.line), static_cast<int>(region.begin.column),
          one_line ? static_cast<int>(region.end.column - region.begin.column) : 1, source};
}

Node convert_node(const toml::node& node, int source);

bool stands_before(const Position& a, const Position& b) noexcept {
  return std::tie(a.line, a.column) < std::tie(b.line, b.column);
}

/// The library sorts keys by name; the order of the text is put back from their places.
NodeTable convert_table(const toml::table& table, int source) {
  NodeTable entries;
  entries.reserve(table.size());
  for (const auto& [key, value] : table)
    entries.push_back({std::string(key.str()), position_of(key.source(), source), convert_node(value, source)});
  std::stable_sort(entries.begin(), entries.end(),
                   [](const Entry& a, const Entry& b) { return stands_before(a.where, b.where); });
  return entries;
}

Node convert_node(const toml::node& node, int source) {
  const Position where = position_of(node.source(), source);
  if (const auto* table = node.as_table()) return {convert_table(*table, source), where};
  if (const auto* array = node.as_array()) {
    NodeList list;
    list.reserve(array->size());
    for (const toml::node& element : *array) list.push_back(convert_node(element, source));
    return {std::move(list), where};
  }
  if (const auto* text = node.as_string()) return {text->get(), where};
  if (const auto* real = node.as_floating_point()) return {real->get(), where};
  if (const auto* whole = node.as_integer()) return {std::int64_t{whole->get()}, where};
  if (const auto* flag = node.as_boolean()) return {flag->get(), where};
  return {ForeignValue{node.is_time() ? "a time of day" : "a date"}, where};
}

tl::unexpected<Problems> syntax_problem(const toml::parse_error& error, int source) {
  const std::string_view said = error.description();
  return fail({"feel.syntax", "", position_of(error.source(), source),
               fmt::format("this is not TOML: {}", printable(said, 300)), ""});
}

} // namespace

Result<Node> read_toml(std::string_view text, int source) {
  if (text.size() > most_document_bytes)
    return fail(
        {"feel.too_big",
         "",
         {1, 1, 1, source},
         fmt::format("the text is {} bytes long; a feel is at most {} MiB", text.size(), most_document_bytes >> 20),
         "Recorded motion belongs in a CSV file, not in a feel."});
  if (const auto nul = text.find('\0'); nul != std::string_view::npos) {
    const auto before = text.substr(0, nul);
    const auto line = 1 + std::count(before.begin(), before.end(), '\n');
    const auto line_start = before.rfind('\n') == std::string_view::npos ? 0 : before.rfind('\n') + 1;
    return fail({"feel.syntax",
                 "",
                 {static_cast<int>(line), static_cast<int>(code_points(before.substr(line_start))) + 1, 1, source},
                 "the text holds a NUL byte, so it is not a text file",
                 "Save the feel as plain UTF-8 text."});
  }
  try {
    const toml::table table = toml::parse(text);
    return Node{convert_table(table, source), {1, 1, 1, source}};
  } catch (const toml::parse_error& error) {
    return syntax_problem(error, source);
  }
}

Result<Node> read_toml_value(std::string_view text, int source) {
  if (text.size() > most_document_bytes || text.find('\0') != std::string_view::npos)
    return fail({"call.value", "", {}, "the value is too long or holds a NUL byte", ""});
  Node bare{std::string(text), {1, 1, static_cast<int>(code_points(text)), source}};
  if (text.find_first_of("\r\n") != std::string_view::npos) return bare;
  constexpr std::string_view key = "v=";
  try {
    const toml::table table = toml::parse(std::string(key) + std::string(text));
    if (table.size() != 1) return bare;
    Node value = convert_node(table.begin()->second, source);
    value.where = bare.where;
    return value;
  } catch (const toml::parse_error&) {
    return bare;
  }
}

} // namespace stasis
