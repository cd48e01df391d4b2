// How problems look on screen: file:line:column, what is wrong, the line itself, what to do.
#include <algorithm>

#include <fmt/format.h>

#include "cli/command.hpp"
#include "cli/version.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"
#include "io/problem_words.hpp"

namespace stasis::cli {
namespace {

constexpr std::size_t most_shown = 10;
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
  if (err.tells_as_json()) return err.exact_line(problems_json(problems, sources));
  for (std::size_t i = 0; i < err.told_of(problems.size(), most_shown); ++i) {
    const std::string words = io::problem_in_words(problems[i], sources);
    for (const std::string_view line : split(words, '\n')) err.line(line);
  }
  if (const std::size_t told = err.told_of(problems.size(), most_shown); told < problems.size())
    err.line(fmt::format("stasis: error: and {} more; mend these first.", problems.size() - told));
}

void print_error(std::string_view message, Output& err) {
  if (err.tells_as_json())
    return err.exact_line(problems_json({{"call", "", {0, 0, 0, -1}, std::string(message), ""}}, {}));
  err.line(fmt::format("stasis: error: {}", message));
}

} // namespace stasis::cli
