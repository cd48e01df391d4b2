#include "cli/output_schema.hpp"

#include <algorithm>
#include <span>

#include "cli/embedded.hpp"
#include "core/measure/measure_registry.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr std::string_view suffix = ".schema.json";

/// `report --json` prints the measures of its takes as `run --json` does: one shape under two names.
constexpr std::string_view as_run = "report", shown_by_run = "run";

/// The measures of a table as properties, without the braces about them.
template<class Kind> std::string properties_of(std::span<const Kind> measures) {
  io::JsonWriter json;
  json.begin_object();
  for (const Measure& measure : measures) {
    if (measure.of == MeasureOf::component) continue; // named with its letter, so by a pattern
    json.key(measure.name).begin_object().key("type").begin_array().text("number").text("null").end_array();
    json.key("description").text(measure.meaning).end_object();
  }
  json.end_object();
  const std::string text = json.take();
  return text.substr(1, text.size() - 2);
}

void replace_all(std::string& text, std::string_view what, std::string_view with) {
  for (std::size_t at = text.find(what); at != std::string::npos; at = text.find(what, at + with.size()))
    text.replace(at, what.size(), with);
}

/// Puts properties where the template names their table: `"@move_measures": true`.
void fill_in(std::string& schema, std::string_view table, const std::string& properties) {
  replace_all(schema, "\"@" + std::string(table) + "\": true", properties);
}

} // namespace

std::vector<std::string_view> outputs_with_schema() {
  std::vector<std::string_view> names;
  for (const EmbeddedFile& file : embedded_outputs())
    names.push_back(file.name.substr(0, file.name.size() - suffix.size()));
  names.push_back(as_run);
  std::sort(names.begin(), names.end());
  return names;
}

std::optional<std::string> output_schema(std::string_view name) {
  const auto files = embedded_outputs();
  const auto found = std::find_if(files.begin(), files.end(), [&](const EmbeddedFile& file) {
    return file.name == std::string(name == as_run ? shown_by_run : name) + std::string(suffix);
  });
  if (found == files.end()) return std::nullopt;
  std::string schema(found->text);
  if (name == as_run) {
    replace_all(schema, ":run:", ":report:");
    replace_all(schema, "stasis run", "stasis report");
  }
  fill_in(schema, "move_measures", properties_of(move_measures()));
  fill_in(schema, "whole_measures", properties_of(whole_measures()));
  fill_in(schema, "shake_measures", properties_of(shake_measures()));
  fill_in(schema, "part_measures", properties_of(part_measures()));
  return schema;
}

} // namespace stasis::cli
