#include "cli/output_schema.hpp"

#include <algorithm>
#include <span>
#include <type_traits>

#include "cli/embedded.hpp"
#include "core/measure/measure_registry.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr std::string_view suffix = ".schema.json";

/// `report --json` prints the measures of its takes as `run --json` does: one shape under two names.
constexpr std::string_view as_run = "report", shown_by_run = "run";

std::string without_braces(const std::string& object) { return object.substr(1, object.size() - 2); }

void write_time(io::JsonWriter& json, const std::string& name) {
  json.key(name).begin_object().key("type").begin_array().text("number").text("null").end_array();
  json.key("description").text("s: when that was").end_object();
}

/// The measures of a table as properties, without the braces about them.
template<class Kind> std::string properties_of(std::span<const Kind> measures) {
  io::JsonWriter json;
  json.begin_object();
  for (const Kind& measure : measures) {
    if (measure.of == MeasureOf::component) continue; // named with its letter, so by a pattern
    json.key(measure.name).begin_object().key("type").begin_array().text("number").text("null").end_array();
    json.key("description").text(measure.meaning).end_object();
    if constexpr (std::is_same_v<Kind, CameraMeasure>) write_time(json, std::string(measure.name) + "_at");
    if constexpr (std::is_same_v<Kind, ChannelMeasure>)
      if (measure.at != nullptr) write_time(json, std::string(measure.name) + "_at");
  }
  json.end_object();
  return without_braces(json.take());
}

/// The measures of a channel's components as properties by pattern: with a letter where there are several.
std::string component_patterns() {
  io::JsonWriter json;
  json.begin_object();
  const auto pattern = [](std::string name) { return "^" + std::move(name) + "(\\.[xyz])?$"; };
  for (const ChannelMeasure& measure : whole_measures()) {
    if (measure.of != MeasureOf::component) continue;
    json.key(pattern(std::string(measure.name))).begin_object().key("type").text("number");
    json.key("description").text(measure.meaning).end_object();
    if (measure.at != nullptr) write_time(json, pattern(std::string(measure.name) + "_at"));
  }
  json.end_object();
  return without_braces(json.take());
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
  fill_in(schema, "component_measures", component_patterns());
  fill_in(schema, "camera_measures", properties_of(camera_measures()));
  fill_in(schema, "shake_measures", properties_of(shake_measures()));
  fill_in(schema, "part_measures", properties_of(part_measures()));
  return schema;
}

} // namespace stasis::cli
