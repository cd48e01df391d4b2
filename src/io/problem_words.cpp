#include "io/problem_words.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::io {
namespace {

constexpr std::size_t widest_line = 100;

std::string_view line_of(std::string_view text, int line) {
  for (int at = 1; at < line; ++at) {
    const auto end = text.find('\n');
    if (end == std::string_view::npos) return {};
    text.remove_prefix(end + 1);
  }
  return text.substr(0, text.find('\n'));
}

/// Drops the first `count` code points.
std::string_view after_points(std::string_view text, std::size_t count) {
  std::size_t i = 0;
  while (i < text.size() && count > 0) {
    ++i;
    while (i < text.size() && (static_cast<unsigned char>(text[i]) & 0xC0) == 0x80) ++i;
    --count;
  }
  return text.substr(i);
}

void add_line(const Problem& problem, const Source& source, std::string& words) {
  std::string_view line = line_of(source.text, problem.where.line);
  auto column = static_cast<std::size_t>(std::max(problem.where.column, 1)) - 1;
  std::string_view lead;
  if (column > widest_line / 2) { // a long line is shown from shortly before the fault
    line = after_points(line, column - widest_line / 2);
    column = widest_line / 2;
    lead = "\u2026";
  }
  const std::string shown = printable(line, widest_line);
  if (trimmed(shown).empty()) return;
  const std::string number = fmt::format("{}", problem.where.line);
  const std::size_t width =
      std::clamp<std::size_t>(static_cast<std::size_t>(std::max(problem.where.length, 1)), 1,
                              std::max<std::size_t>(code_points(shown) - std::min(column, code_points(shown)), 1));
  words += fmt::format("\n  {} | {}{}", number, lead, shown);
  words += fmt::format("\n  {:{}} | {:{}}{:^>{}}", "", number.size(), "", column + (lead.empty() ? 0 : 1), "", width);
}

} // namespace

std::string problem_in_words(const Problem& problem, const std::vector<Source>& sources) {
  std::string words = "stasis: error: ";
  const auto source = static_cast<std::size_t>(problem.where.source);
  const bool placed = source < sources.size(), has_line = placed && problem.where.line > 0;
  if (placed) words += shown_name(sources[source].name) + ":";
  if (has_line) words += fmt::format("{}:{}:", problem.where.line, problem.where.column);
  if (placed) words += " ";
  if (!problem.path.empty()) words += problem.path + ": ";
  words += problem.message;
  if (!problem.message.ends_with('.')) words += '.';
  if (has_line) add_line(problem, sources[source], words);
  if (!problem.hint.empty()) words += "\n  " + problem.hint;
  return words;
}

} // namespace stasis::io
