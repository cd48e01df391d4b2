#include "core/feel/section_reader.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/feel/generic_words.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

std::vector<std::string_view> keys_of(const SectionSpec& section) {
  std::vector<std::string_view> keys;
  for (const KeySpec& spec : section.keys) keys.push_back(spec.key);
  return keys;
}

/// Another section of the same family (such as another kind of motion) that knows the key.
const SectionSpec* relative_with_key(const SectionSpec& section, std::string_view key) {
  const std::string_view family = section.id.substr(0, section.id.find('.'));
  for (const SectionSpec& other : all_sections())
    if (&other != &section && section.id != family && other.id.starts_with(family) && other.id != family
        && find_key(other, key) != nullptr)
      return &other;
  return nullptr;
}

/// The sets of an "exactly one of" rule.
std::vector<std::vector<std::string_view>> alternatives_of(std::string_view rule) {
  std::vector<std::vector<std::string_view>> sets;
  for (const std::string_view set : split(rule, '|')) sets.push_back(keys_in(set));
  return sets;
}

std::string found_in_words(const Node& node) {
  if (const auto* text = node.text()) return fmt::format("the text \"{}\"", printable(*text, 60));
  if (const auto* number = std::get_if<double>(&node.value)) return shortest(*number);
  if (const auto* number = std::get_if<std::int64_t>(&node.value)) return fmt::format("{}", *number);
  if (const auto* flag = std::get_if<bool>(&node.value)) return *flag ? "true" : "false";
  return std::string(kind_in_words(node));
}

std::string unit_of(const KeySpec& spec, std::string_view own_unit) {
  return std::string(spec.unit == UnitKind::channel ? own_unit : stasis::own_unit(spec.unit));
}

/// Where a text is a number in quotes, or a share in per cent: the number to write.
std::string number_meant(std::string_view text) {
  const auto lead = read_leading_number(trimmed(text));
  if (!lead) return {};
  const std::string_view rest = trimmed(lead->rest);
  if (rest == "%") return fmt::format("A share is a plain number: {}.", shortest(lead->value / 100.0));
  return rest.empty() ? fmt::format("Write a number without quotes: {}.", shortest(lead->value)) : std::string();
}

bool within(const Bounds& bounds, double value) noexcept {
  const bool above = bounds.low_excluded ? value > bounds.low : value >= bounds.low;
  const bool below = bounds.high_excluded ? value < bounds.high : value <= bounds.high;
  return above && below;
}

std::string units_of_kind(UnitKind kind) {
  std::vector<std::string_view> symbols;
  for (const Unit& unit : all_units())
    if (unit.kind == kind) symbols.push_back(unit.symbol);
  return listed(symbols, "or");
}

} // namespace

void append_key(std::string& path, std::string_view key) {
  constexpr std::size_t longest = 60;
  const bool bare = !key.empty() && std::all_of(key.begin(), key.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' || c == '-';
  });
  if (!path.empty()) path += '.';
  if (bare && key.size() <= longest)
    path += key;
  else
    path += bare ? printable(key, longest) : fmt::format("\"{}\"", printable(key, longest));
}

std::string joined_path(std::string_view parent, std::string_view key) {
  std::string path(parent);
  append_key(path, key);
  return path;
}

std::string bounds_in_words(const KeySpec& spec, std::string_view own_unit) {
  const Bounds& b = spec.bounds;
  const std::string unit = unit_of(spec, own_unit);
  const std::string suffix = unit.empty() ? "" : " " + unit;
  const bool low = std::isfinite(b.low), high = std::isfinite(b.high);
  if (low && high && b.low == b.high) return fmt::format("{}", b.low);
  std::string text;
  if (low) text += fmt::format("{} {}", b.low_excluded ? "greater than" : "at least", b.low);
  if (high) text += fmt::format("{}{} {}", low ? " and " : "", b.high_excluded ? "less than" : "at most", b.high);
  return low || high ? text + suffix : text;
}

SectionReader::SectionReader(const Node& node, const SectionSpec& section, std::string path, Problems& problems)
    : node_(node), section_(section), path_(std::move(path)), problems_(problems), problems_before_(problems.size()) {
  if (node_.table() == nullptr) {
    report_at("feel.not_a_table", path_, node_.where,
              fmt::format("expected a table ({}), found {}", section_.heading, found_in_words(node_)));
    return;
  }
  if (section_.other_keys == SectionSpec::OtherKeys::none) check_keys();
  check_required();
  check_alternatives();
}

void SectionReader::check_keys() {
  const auto known = keys_of(section_);
  for (const Entry& entry : *node_.table()) {
    if (find_key(section_, entry.key) != nullptr) continue;
    std::string message = fmt::format("there is no key of this name in {}", section_.heading);
    std::string hint;
    if (const KeyInstead* const instead = key_instead(section_.id, entry.key);
        instead != nullptr && find_key(section_, instead->key) != nullptr) {
      hint = instead->how;
      if (!has(instead->key)) meant_.push_back(instead->key);
    } else if (const auto close = nearest(entry.key, known)) {
      hint = fmt::format("Did you mean {}?", *close);
      if (!has(*close)) meant_.push_back(*close);
    } else if (const SectionSpec* relative = relative_with_key(section_, entry.key)) {
      hint = fmt::format("That key belongs to {}.", relative->heading);
    }
    hint += fmt::format("{}Allowed here: {}.", hint.empty() ? "" : " ", listed(known));
    report_at("feel.unknown_key", joined_path(path_, entry.key), entry.where, std::move(message), std::move(hint));
  }
}

bool SectionReader::is_meant(std::string_view key) const noexcept {
  return std::find(meant_.begin(), meant_.end(), key) != meant_.end();
}

void SectionReader::check_required() {
  for (const KeySpec& spec : section_.keys)
    if (spec.required && !has(spec.key) && !is_meant(spec.key))
      report_at("feel.missing_key", joined_path(path_, spec.key), node_.where,
                fmt::format("the key {} is missing from {}", spec.key, section_.heading), std::string(spec.meaning));
}

/// What each of some keys goes with; where each stands alone, which there are.
std::string SectionReader::too_many_hint(const std::vector<std::string_view>& found,
                                         const std::vector<std::vector<std::string_view>>& sets) const {
  if (!section_.instead_of_many.empty()) return std::string(section_.instead_of_many);
  std::vector<std::string> partners;
  for (const std::string_view key : found)
    for (const auto& set : sets) {
      const auto own = std::find(set.begin(), set.end(), key);
      if (own == set.end() || set.size() != 2) continue;
      const std::string_view partner = own == set.begin() ? set[1] : set[0];
      if (std::find(found.begin(), found.end(), partner) == found.end())
        partners.push_back(fmt::format("{} goes with {}", key, partner));
    }
  const std::string all = fmt::format("Exactly one of: {}.", section_.exactly_one);
  return partners.empty() ? all : fmt::format("{}. {}", fmt::join(partners, ", "), all);
}

void SectionReader::check_alternatives() {
  if (section_.exactly_one.empty()) return;
  const auto sets = alternatives_of(section_.exactly_one);
  const auto given = [&](const auto& set) {
    return std::any_of(set.begin(), set.end(), [&](auto k) { return has(k) || is_meant(k); });
  };
  const auto count = std::count_if(sets.begin(), sets.end(), given);
  const std::string choice_text(section_.exactly_one);
  if (count == 0)
    report_at("feel.missing_key", path_, node_.where, fmt::format("one of these keys is needed: {}", choice_text));
  if (count > 1) {
    std::vector<std::string_view> found;
    for (const Entry& entry : *node_.table())
      for (const auto& set : sets)
        if (std::find(set.begin(), set.end(), entry.key) != set.end()) found.push_back(entry.key);
    if (found.size() < 2) return; // the other is an unknown key, reported already
    report_at("feel.too_many_keys", joined_path(path_, found.back()), where(found.back()),
              fmt::format("{} do not go together; give one of them", listed(found)), too_many_hint(found, sets));
  }
  if (count != 1) return;
  for (std::string_view key : *std::find_if(sets.begin(), sets.end(), given))
    if (!has(key) && !is_meant(key))
      report_at("feel.missing_key", joined_path(path_, key), node_.where, fmt::format("the key {} is missing", key),
                std::string(find_key(section_, key)->meaning));
}

Position SectionReader::where(std::string_view key) const noexcept {
  const Node* found = node_.find(key);
  return found == nullptr ? node_.where : found->where;
}

std::optional<double> SectionReader::number(std::string_view key, std::string_view own_unit) {
  const KeySpec& spec = *find_key(section_, key);
  const Node* found = node_.find(key);
  if (found != nullptr) return number_of(*found, spec, joined_path(path_, key), own_unit);
  return spec.fallback.empty() ? std::nullopt : read_number(spec.fallback);
}

std::optional<double> SectionReader::number_of(const Node& node, const KeySpec& spec, const std::string& path,
                                               std::string_view own_unit) {
  std::optional<double> value;
  if (const auto* real = std::get_if<double>(&node.value)) {
    value = *real;
  } else if (const auto* whole = std::get_if<std::int64_t>(&node.value)) {
    value = static_cast<double>(*whole);
  } else if (const auto* text = node.text(); text != nullptr && spec.kind != ValueKind::integer) {
    value = quantity_of(*text, node, spec, path, own_unit);
    if (!value) return std::nullopt;
  }
  const std::string bounds = bounds_in_words(spec, own_unit);
  const std::string unit = unit_of(spec, own_unit);
  const std::string expected =
      fmt::format("expected {}{}{}", spec.kind == ValueKind::integer ? "a whole number" : "a number",
                  unit.empty() ? "" : " in " + unit, bounds.empty() ? "" : ", " + bounds);
  if (!value || !std::isfinite(*value)) {
    report_at(value ? "feel.not_finite" : "feel.not_a_number", path, node.where,
              fmt::format("{}, found {}{}", expected, found_in_words(node), value ? ", which is not finite" : ""));
    return std::nullopt;
  }
  if (!is_within_reach(*value)) {
    report_at("feel.out_of_bounds", path, node.where,
              fmt::format("{}, found {}: sizes go from 1e-100 to 1e15", expected, found_in_words(node)));
    return std::nullopt;
  }
  const bool fractional = spec.kind == ValueKind::integer && *value != std::floor(*value);
  if (fractional || !within(spec.bounds, *value)) {
    report_at("feel.out_of_bounds", path, node.where, fmt::format("{}, found {}", expected, found_in_words(node)));
    return std::nullopt;
  }
  return value;
}

std::optional<double> SectionReader::quantity_of(const std::string& text, const Node& node, const KeySpec& spec,
                                                 const std::string& path, std::string_view own_unit) {
  const auto quantity = parse_quantity(text);
  const std::string own = unit_of(spec, own_unit);
  const auto own_known = find_unit(own);
  const UnitKind wanted = spec.unit != UnitKind::channel ? spec.unit : own_known ? own_known->kind : UnitKind::none;
  if (quantity && own_known && quantity->unit.kind == own_known->kind)
    return convert(quantity->value, quantity->unit, *own_known);
  // A unit that only this channel knows is accepted as written, without conversion.
  if (const auto lead = read_leading_number(trimmed(text)); lead && !own.empty() && trimmed(lead->rest) == own)
    return lead->value;
  if (wanted == UnitKind::none) {
    report_at("feel.unit", path, node.where,
              fmt::format("expected a number without quotes{}, found the text \"{}\"",
                          own.empty() ? "" : fmt::format(" or in {}", own), printable(text, 60)),
              number_meant(text));
  } else {
    const std::string found =
        quantity ? fmt::format("\"{}\", which is {}", printable(text, 60), kind_in_words(quantity->unit.kind))
                 : fmt::format("the text \"{}\"", printable(text, 60));
    report_at("feel.unit", path, node.where,
              fmt::format("expected {} in {}, found {}", kind_in_words(wanted), units_of_kind(wanted), found),
              number_meant(text).empty() ? fmt::format("A plain number here is in {}.", own) : number_meant(text));
  }
  return std::nullopt;
}

std::optional<std::string> SectionReader::text(std::string_view key) {
  const KeySpec& spec = *find_key(section_, key);
  const Node* found = node_.find(key);
  if (found == nullptr) {
    if (spec.fallback.empty()) return std::nullopt;
    std::string_view fallback = spec.fallback;
    if (fallback.size() >= 2 && fallback.front() == '"') fallback = fallback.substr(1, fallback.size() - 2);
    return std::string(fallback);
  }
  if (const auto* value = found->text()) return *value;
  report_at("feel.not_a_text", joined_path(path_, key), found->where,
            fmt::format("expected {} in quotes, found {}",
                        spec.kind == ValueKind::name ? fmt::format("the name of a {}", name_kind_in_words(spec.names))
                        : spec.kind == ValueKind::choice ? listed(split(spec.choices, '|'), "or")
                                                         : std::string("a text"),
                        found_in_words(*found)));
  return std::nullopt;
}

std::optional<std::string> SectionReader::choice(std::string_view key) {
  const KeySpec& spec = *find_key(section_, key);
  const auto value = text(key);
  if (!value) return std::nullopt;
  const auto allowed = split(spec.choices, '|');
  if (std::find(allowed.begin(), allowed.end(), *value) != allowed.end()) return value;
  const auto close = nearest(*value, allowed);
  std::string hint = key == "kind" ? kind_written_instead(section_.id, *value) : std::string();
  if (hint.empty() && close) hint = fmt::format("Did you mean {}?", *close);
  report_at("feel.choice", joined_path(path_, key), where(key),
            fmt::format("expected {}, found \"{}\"", listed(allowed, "or"), printable(*value, 60)), std::move(hint));
  return std::nullopt;
}

std::optional<std::vector<std::string>> SectionReader::texts(std::string_view key) {
  const Node* found = find(key);
  if (found == nullptr) return std::nullopt;
  std::vector<std::string> texts;
  const NodeList* list = found->list();
  for (std::size_t i = 0; list != nullptr && i < list->size(); ++i)
    if (const std::string* text = (*list)[i].text()) texts.push_back(*text);
  if (list != nullptr && texts.size() == list->size()) return texts;
  report("feel.not_a_list", key, fmt::format("expected a list of texts, found {}", found_in_words(*found)));
  return std::nullopt;
}

std::optional<bool> SectionReader::flag(std::string_view key) {
  const Node* found = node_.find(key);
  if (found == nullptr) return find_key(section_, key)->fallback == "true";
  if (const auto* value = std::get_if<bool>(&found->value)) return *value;
  report("feel.not_a_flag", key, fmt::format("expected true or false, found {}", found_in_words(*found)));
  return std::nullopt;
}

std::optional<std::vector<double>> SectionReader::components(std::string_view key, std::string_view own_unit) {
  const Node* found = node_.find(key);
  if (found == nullptr) return std::nullopt;
  return components_of(*found, *find_key(section_, key), joined_path(path_, key), own_unit);
}

std::optional<std::vector<double>> SectionReader::components_of(const Node& node, const KeySpec& spec,
                                                                const std::string& path, std::string_view own_unit) {
  const NodeList* list = node.list();
  if (list == nullptr) {
    const auto single = number_of(node, spec, path, own_unit);
    return single ? std::optional(std::vector{*single}) : std::nullopt;
  }
  constexpr std::size_t most = 3;
  if (list->empty() || list->size() > most) {
    report_at("feel.component_count", path, node.where,
              fmt::format("expected a number or a list of 1 to {} numbers, found a list of {}", most, list->size()));
    return std::nullopt;
  }
  std::vector<double> values;
  for (std::size_t i = 0; i < list->size(); ++i)
    if (const auto value = number_of((*list)[i], spec, fmt::format("{}[{}]", path, i), own_unit))
      values.push_back(*value);
  return values.size() == list->size() ? std::optional(values) : std::nullopt;
}

void SectionReader::report(std::string_view code, std::string_view key, std::string message, std::string hint) {
  report_at(code, joined_path(path_, key), where(key), std::move(message), std::move(hint));
}

void SectionReader::report_at(std::string_view code, std::string path, Position where, std::string message,
                              std::string hint) {
  problems_.push_back({std::string(code), std::move(path), where, std::move(message), std::move(hint)});
}

} // namespace stasis
