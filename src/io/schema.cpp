#include "io/schema.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "core/feel/key_table.hpp"
#include "core/feel/section_reader.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/text.hpp"

namespace stasis::io {
namespace {

using Json = nlohmann::ordered_json;

constexpr const char* name_pattern = "^[a-z][a-z0-9_]{0,63}$";
/// Neither from the root nor upward: what a feel names stays in its folder.
constexpr const char* file_pattern = "^(?!/)(?!(.*/)?\\.\\.(/|$))";

Json section_schema(const SectionSpec& section);
Json components_schema(const KeySpec& spec);

std::string escaped_for_pattern(std::string_view text) {
  std::string out;
  for (const char c : text) {
    if (std::string_view("/.%").find(c) == std::string_view::npos || c == '%' || c == '/')
      out += c;
    else
      out += std::string("\\") + c;
  }
  return out;
}

/// A text that carries a unit of the kind: "110 ms".
Json quantity_text(UnitKind kind) {
  if (kind == UnitKind::channel) return {{"type", "string"}};
  std::string symbols;
  for (const Unit& unit : all_units())
    if (unit.kind == kind) symbols += (symbols.empty() ? "" : "|") + escaped_for_pattern(unit.symbol);
  return {{"type", "string"}, {"pattern", fmt::format("^\\s*[-+]?[0-9.]+([eE][-+]?[0-9]+)?\\s*({})\\s*$", symbols)}};
}

/// A number of the feel that a player's setting stands for.
Json setting_reference() {
  return {{"type", "object"},
          {"properties",
           {{"setting", {{"type", "string"}, {"pattern", name_pattern}}},
            {"times", {{"type", "number"}}},
            {"add", {{"type", "number"}}}}},
          {"required", {"setting"}},
          {"additionalProperties", false}};
}

Json number_schema(const KeySpec& spec) {
  Json number{{"type", spec.kind == ValueKind::integer ? "integer" : "number"}};
  const Bounds& b = spec.bounds;
  if (std::isfinite(b.low)) number[b.low_excluded ? "exclusiveMinimum" : "minimum"] = b.low;
  if (std::isfinite(b.high)) number[b.high_excluded ? "exclusiveMaximum" : "maximum"] = b.high;
  Json forms = Json::array({number, setting_reference()});
  if (spec.unit != UnitKind::none && spec.kind != ValueKind::integer) forms.push_back(quantity_text(spec.unit));
  return {{"anyOf", forms}};
}

Json components_schema(const KeySpec& spec) {
  const Json one = number_schema(spec);
  return {{"anyOf", {one, {{"type", "array"}, {"items", one}, {"minItems", 1}, {"maxItems", 3}}}}};
}

/// The sections of a family such as "motion.", told apart by their key `kind`.
Json family_schema(std::string_view prefix) {
  Json kinds = Json::array();
  for (const SectionSpec& section : all_sections()) {
    if (!section.id.starts_with(prefix)) continue;
    Json one = section_schema(section);
    one["properties"]["kind"] = {{"const", section.id.substr(prefix.size())}};
    kinds.push_back(std::move(one));
  }
  return {{"oneOf", kinds}};
}

Json sub_section(const KeySpec& spec) {
  return spec.section.ends_with('.') ? family_schema(spec.section) : section_schema(*find_section(spec.section));
}

Json table_of(std::initializer_list<const char*> keys, const Json& value) {
  Json table{{"type", "object"}, {"additionalProperties", false}, {"properties", Json::object()}};
  for (const char* key : keys) table["properties"][key] = value;
  return table;
}

Json either(std::initializer_list<Json> forms) { return {{"anyOf", Json(forms)}}; }

/// The motions stand once, in the schema's definitions.
Json one_motion() { return {{"$ref", "#/$defs/motion"}}; }

Json motion_definition() { return either({{{"type", "string"}, {"pattern", name_pattern}}, family_schema("motion.")}); }

/// A motion written in place, of one of these kinds.
Json written_as(std::initializer_list<const char*> kinds) {
  return {{"type", "object"}, {"properties", {{"kind", {{"enum", Json(kinds)}}}}}, {"required", {"kind"}}};
}

/// Motions in a row: what sets off when its goal jumps does not come after what follows one.
Json stages_schema() {
  Json stage = one_motion();
  stage["not"] = written_as({"per_frame"});
  return {{"type", "array"},
          {"items", stage},
          {"minItems", 1},
          {"if", {{"prefixItems", Json::array({written_as({"glide", "spring"})})}, {"minItems", 1}}},
          {"then", {{"items", {{"not", written_as({"ease", "pace"})}}}}}};
}

Json motion_schema() {
  Json by_direction = table_of({"rising", "falling"}, one_motion());
  by_direction["required"] = {"rising", "falling"};
  return either({one_motion(), by_direction, table_of({"x", "y", "z"}, either({one_motion(), by_direction}))});
}

Json moving_schema() {
  return either({motion_schema(),
                 {{"type", "object"},
                  {"propertyNames", {{"pattern", name_pattern}}},
                  {"additionalProperties", motion_schema()}}});
}

Json goal_schema() {
  const KeySpec goal{.key = "goal", .kind = ValueKind::components, .unit = UnitKind::channel};
  const Json one = either({components_schema(goal), section_schema(*find_section("pose.goal"))});
  return either({one, table_of({"x", "y", "z"}, one)});
}

Json points_schema() {
  const KeySpec coordinate{.key = "point", .kind = ValueKind::number};
  const Json pair{{"type", "array"}, {"items", number_schema(coordinate)}, {"minItems", 2}, {"maxItems", 2}};
  return either(
      {{{"type", "string"}, {"pattern", file_pattern}}, {{"type", "array"}, {"items", pair}, {"minItems", 2}}});
}

Json texts_by_name_schema() {
  return {{"type", "object"},
          {"propertyNames", {{"pattern", name_pattern}}},
          {"additionalProperties", {{"type", "string"}}}};
}

/// "fov.settling_time", "focus.end_value.x", "log_hit.side.peak".
Json measure_schema() {
  std::string names;
  const auto add = [&](const auto& measures) {
    for (const auto& one : measures) names += (names.empty() ? "" : "|") + std::string(one.name);
  };
  add(move_measures());
  add(whole_measures());
  add(camera_measures());
  add(shake_measures());
  add(part_measures());
  return {{"type", "string"},
          {"pattern", fmt::format("^[a-z][a-z0-9_]*(\\.[a-z][a-z0-9_]*)*\\.({})(\\.[xyz])?$", names)}};
}

Json value_schema(const KeySpec& spec) {
  switch (spec.kind) {
  case ValueKind::number:
  case ValueKind::integer: return number_schema(spec);
  case ValueKind::text:
  case ValueKind::curve: return {{"type", "string"}};
  case ValueKind::file: return {{"type", "string"}, {"pattern", file_pattern}};
  case ValueKind::measure: return measure_schema();
  case ValueKind::choice: {
    Json words = Json::array();
    for (const std::string_view word : split(spec.choices, '|')) words.push_back(word);
    return {{"enum", words}};
  }
  case ValueKind::name: return {{"type", "string"}, {"pattern", name_pattern}};
  case ValueKind::components: return components_schema(spec);
  case ValueKind::pair:
    return {{"type", "array"}, {"items", components_schema(spec)}, {"minItems", 2}, {"maxItems", 2}};
  case ValueKind::band: {
    KeySpec number = spec;
    number.unit = UnitKind::none;
    return {{"anyOf", {number_schema(number), {{"type", "string"}}}}};
  }
  case ValueKind::motion: return motion_schema();
  case ValueKind::moving: return moving_schema();
  case ValueKind::motions: return stages_schema();
  case ValueKind::points: return points_schema();
  case ValueKind::texts: return {{"type", "array"}, {"items", {{"type", "string"}}}};
  case ValueKind::texts_by_name: return texts_by_name_schema();
  case ValueKind::numbers_by_name:
    return {{"type", "object"},
            {"propertyNames", {{"pattern", name_pattern}}},
            {"additionalProperties", number_schema(spec)}};
  case ValueKind::places: {
    const Json place{{"type", "array"}, {"items", number_schema(spec)}, {"minItems", 1}, {"maxItems", 3}};
    return {{"type", "array"}, {"items", place}, {"minItems", std::max<std::size_t>(spec.at_least, 1)}};
  }
  case ValueKind::strength:
  case ValueKind::weight: return either({number_schema(spec), {{"type", "string"}, {"pattern", name_pattern}}});
  case ValueKind::follow: return either({{{"type", "string"}}, sub_section(spec)});
  case ValueKind::formula: return {{"type", {"string", "number", "object"}}};
  case ValueKind::flag: return {{"type", "boolean"}};
  case ValueKind::table: return sub_section(spec);
  case ValueKind::tables:
    return {{"type", "object"},
            {"propertyNames", {{"pattern", name_pattern}}},
            {"additionalProperties", sub_section(spec)}};
  case ValueKind::list: {
    Json list{{"type", "array"}, {"items", sub_section(spec)}};
    if (spec.at_least > 0) list["minItems"] = spec.at_least;
    return list;
  }
  }
  return Json::object();
}

Json fallback_json(const KeySpec& spec) {
  const Json parsed = Json::parse(spec.fallback, nullptr, false);
  return parsed.is_discarded() ? Json(std::string(spec.fallback)) : parsed;
}

/// "exactly one of" as JSON Schema says it: the keys of one set are there, those of the others are not.
Json alternatives_schema(std::string_view rule) {
  Json sets = Json::array();
  for (const std::string_view set : split(rule, '|')) {
    sets.push_back({{"required", keys_in(set)}});
  }
  return sets;
}

/// True if a key that is left out is as if it said one of these.
bool is_fallback(const SectionSpec& section, std::string_view key, const std::vector<std::string_view>& values) {
  const KeySpec* spec = find_key(section, key);
  return spec != nullptr && std::any_of(values.begin(), values.end(), [&](std::string_view value) {
           return spec->fallback == fmt::format("\"{}\"", value);
         });
}

/// "if this key is there, or says so, then ...".
Json asked_schema(const SectionSpec& section, const AskedKeys& asked) {
  Json when = Json::object(), then = Json::object(), properties = Json::object();
  const std::vector<std::string_view> values =
      asked.value.empty() ? std::vector<std::string_view>{} : split(asked.value, '|');
  if (!values.empty()) {
    Json words = Json::array();
    for (const std::string_view value : values) words.push_back(value);
    when["properties"][std::string(asked.key)] = {{"enum", words}};
  }
  if (!is_fallback(section, asked.key, values)) when["required"] = {asked.key};
  std::vector<std::string_view> needed = keys_in(asked.needs);
  for (const ExcludedKey& other : excluded_by(section, asked)) properties[std::string(other.key)] = false;
  if (!asked.says.empty()) {
    const auto sides = split(asked.says, '=');
    const std::string_view key = trimmed(sides[0]), value = trimmed(sides[1]);
    properties[std::string(key)] = {{"const", value}};
    if (!is_fallback(section, key, {value})) needed.push_back(key);
  }
  if (!needed.empty()) then["required"] = needed;
  if (!properties.empty()) then["properties"] = properties;
  return {{"if", when}, {"then", then}};
}

Json section_schema(const SectionSpec& section) {
  Json out{{"type", "object"}, {"description", section.meaning}};
  if (section.other_keys == SectionSpec::OtherKeys::paths) return out;
  Json properties = Json::object(), required = Json::array();
  for (const KeySpec& spec : section.keys) {
    Json value = value_schema(spec);
    value["description"] = std::string(spec.meaning);
    if (!spec.fallback.empty()) value["default"] = fallback_json(spec);
    properties[std::string(spec.key)] = std::move(value);
    if (spec.required) required.push_back(std::string(spec.key));
  }
  out["properties"] = std::move(properties);
  using OtherKeys = SectionSpec::OtherKeys;
  out["additionalProperties"] = section.other_keys == OtherKeys::channels ? goal_schema()
                                : section.other_keys == OtherKeys::tracks ? Json{{"type", "string"}}
                                                                          : Json(false);
  if (!required.empty()) out["required"] = std::move(required);
  if (!section.exactly_one.empty()) out["oneOf"] = alternatives_schema(section.exactly_one);
  for (const AskedKeys& asked : section.asks) out["allOf"].push_back(asked_schema(section, asked));
  return out;
}

std::string kind_text(const KeySpec& spec) {
  switch (spec.kind) {
  case ValueKind::number: return "number";
  case ValueKind::integer: return "whole number";
  case ValueKind::text: return "text";
  case ValueKind::file: return "name of a file";
  case ValueKind::measure: return "name of a measure";
  case ValueKind::curve: return "curve";
  case ValueKind::choice: {
    const auto words = split(spec.choices, '|');
    return listed(words, "or");
  }
  case ValueKind::name: return fmt::format("name of a {}", name_kind_in_words(spec.names));
  case ValueKind::components: return "number, or list of up to 3";
  case ValueKind::pair: return "list of two";
  case ValueKind::band: return "number or text";
  case ValueKind::motion: return "motion";
  case ValueKind::moving: return "motion, or motions by channel";
  case ValueKind::motions: return "list of motions";
  case ValueKind::points: return "list of pairs, or a CSV file";
  case ValueKind::texts: return "list of texts";
  case ValueKind::texts_by_name: return "table of texts";
  case ValueKind::numbers_by_name: return "table of numbers";
  case ValueKind::strength: return "number, or a named strength";
  case ValueKind::places: return "list of lists of numbers";
  case ValueKind::weight: return "number, or name of a channel";
  case ValueKind::follow: return "name of a track, or table";
  case ValueKind::formula: return "formula, or table by component";
  case ValueKind::flag: return "true or false";
  case ValueKind::table: return "table";
  case ValueKind::tables: return "named tables";
  case ValueKind::list: return "list of tables";
  }
  return "";
}

std::string unit_column(const KeySpec& spec) {
  if (spec.unit == UnitKind::channel) return "the channel's";
  return std::string(own_unit(spec.unit));
}

/// "`between` goes with `tick`."
std::string asked_in_words(const AskedKeys& asked) {
  const auto in_code = [](const std::vector<std::string_view>& keys, std::string_view word) {
    std::vector<std::string> shown;
    for (const std::string_view key : keys) shown.push_back(fmt::format("`{}`", key));
    return listed(std::vector<std::string_view>(shown.begin(), shown.end()), word);
  };
  std::string who = fmt::format("`{}`", asked.key);
  if (!asked.value.empty()) who += " = " + in_code(split(asked.value, '|'), "or");
  std::string out;
  if (!asked.needs.empty()) out += fmt::format(" takes {}", in_code(keys_in(asked.needs), "and"));
  if (!asked.allows.empty()) out += fmt::format(", and may have {}", in_code(keys_in(asked.allows), "and"));
  if (!asked.says.empty()) out += fmt::format(" goes with `{}`", asked.says);
  return who + out + ".";
}

std::string section_reference(const SectionSpec& section) {
  std::string out = fmt::format("\n## {}\n\n{}\n", section.heading, section.meaning);
  if (!section.exactly_one.empty()) out += fmt::format("\nExactly one of: `{}`.\n", section.exactly_one);
  for (const AskedKeys& asked : section.asks) out += fmt::format("\n{}\n", asked_in_words(asked));
  if (section.keys.empty()) return out;
  out += "\n| key | value | unit | allowed | default | meaning |\n|---|---|---|---|---|---|\n";
  for (const KeySpec& spec : section.keys) {
    KeySpec without_unit = spec;
    without_unit.unit = UnitKind::none;
    const std::string fallback = spec.required           ? "required"
                                 : spec.fallback.empty() ? ""
                                                         : fmt::format("`{}`", spec.fallback);
    out += fmt::format("| `{}` | {} | {} | {} | {} | {} |\n", spec.key, kind_text(spec), unit_column(spec),
                       bounds_in_words(without_unit, ""), fallback, spec.meaning);
  }
  return out;
}

} // namespace

std::string feel_schema() {
  Json schema{{"$schema", "https://json-schema.org/draft/2020-12/schema"}, {"title", "Stasis feel"}};
  schema.update(section_schema(*find_section("feel")));
  schema["$defs"] = {{"motion", motion_definition()}};
  return schema.dump(2) + "\n";
}

std::string feel_reference() {
  std::string out =
      "# Feel reference\n\n"
      "Written by `stasis schema --reference` from the table that also checks feels; do not edit.\n\n"
      "A plain number is in the key's unit; a text may carry another unit of the same kind (`\"110 ms\"`, `\"35 "
      "mm\"`).\n"
      "Names are a small letter, then small letters, digits and underscores, and unique across kinds (a control may\n"
      "share the name of a pose). Unknown keys are errors.\n\n"
      "Any number may also be a player's setting: `{ setting = \"pull\" }`, perhaps with `times` or `add`.\n\nUnits: ";
  std::vector<std::string_view> symbols;
  for (const Unit& unit : all_units()) symbols.push_back(unit.symbol);
  out += listed(symbols) + ".\n";
  for (const SectionSpec& section : all_sections()) out += section_reference(section);
  return out;
}

} // namespace stasis::io
