// How problems look on screen: file:line:column, what is wrong, the line itself, what to do.
#include <algorithm>

#include <fmt/format.h>

#include "cli/command.hpp"
#include "cli/version.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr std::size_t most_shown = 10;
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

void print_line(const Problem& problem, const Source& source, Output& err) {
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
  err.line(fmt::format("  {} | {}{}", number, lead, shown));
  err.line(fmt::format("  {:{}} | {:{}}{:^>{}}", "", number.size(), "", column + (lead.empty() ? 0 : 1), "", width));
}

/// One line: {"stasis", "errors": [{file, line, column, key, code, message, fix}]}; null where a fault has none.
std::string problems_json(const Problems& problems, const std::vector<Source>& sources) {
  constexpr std::size_t longest = 10'000;
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("errors").begin_array();
  const auto write_text = [&](std::string_view key, std::string_view text) {
    json.key(key);
    text.empty() ? json.null() : json.text(printable(text, longest));
  };
  const auto write_place = [&](std::string_view key, bool is_there, int number) {
    json.key(key);
    is_there ? json.integer(number) : json.null();
  };
  for (const Problem& problem : problems) {
    const auto source = static_cast<std::size_t>(problem.where.source);
    const bool in_file = source < sources.size(), placed = in_file && problem.where.line > 0;
    json.begin_object();
    write_text("file", in_file ? sources[source].name : "");
    write_place("line", placed, problem.where.line);
    write_place("column", placed, problem.where.column);
    write_text("key", problem.path);
    json.key("code").text(problem.code);
    write_text("message", problem.message);
    write_text("fix", problem.hint);
    json.end_object();
  }
  json.end_array().end_object();
  return json.take();
}

} // namespace

void print_problems(const Problems& problems, const std::vector<Source>& sources, Output& err) {
  if (err.tells_as_json()) return err.line(problems_json(problems, sources));
  for (std::size_t i = 0; i < std::min(problems.size(), most_shown); ++i) {
    const Problem& problem = problems[i];
    std::string place = "stasis: error: ";
    const auto source = static_cast<std::size_t>(problem.where.source);
    const bool placed = source < sources.size();
    if (placed) place += shown_name(sources[source].name) + ":";
    if (placed && problem.where.line > 0) place += fmt::format("{}:{}:", problem.where.line, problem.where.column);
    if (placed) place += " ";
    if (!problem.path.empty()) place += problem.path + ": ";
    err.line(fmt::format("{}{}{}", place, problem.message, problem.message.ends_with('.') ? "" : "."));
    if (placed && problem.where.line > 0) print_line(problem, sources[source], err);
    if (!problem.hint.empty()) err.line("  " + problem.hint);
  }
  if (problems.size() > most_shown)
    err.line(fmt::format("stasis: error: and {} more; mend these first.", problems.size() - most_shown));
}

void print_error(std::string_view message, Output& err) {
  if (err.tells_as_json()) return err.line(problems_json({{"call", "", {0, 0, 0, -1}, std::string(message), ""}}, {}));
  err.line(fmt::format("stasis: error: {}", message));
}

} // namespace stasis::cli
