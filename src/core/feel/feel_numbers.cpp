#include "core/feel/feel_numbers.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

#include <fmt/format.h>

#include "core/feel/section_reader.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

std::optional<double> plain_number(const Node& node) noexcept {
  if (const auto* number = std::get_if<double>(&node.value)) return *number;
  if (const auto* whole = std::get_if<std::int64_t>(&node.value)) return static_cast<double>(*whole);
  return std::nullopt;
}

/// Goes through a document beside the key table.
class Collector {
public:
  explicit Collector(const Node& document) : document_(document) {}

  void section(const Node& node, const SectionSpec& spec, const std::string& path, const std::string& channel) {
    if (node.table() == nullptr) return;
    for (const Entry& entry : *node.table()) {
      const std::string at = path.empty() ? entry.key : joined_path(path, entry.key);
      if (const KeySpec* key = find_key(spec, entry.key))
        value(entry.value, *key, at, channel);
      else if (spec.other_keys == SectionSpec::OtherKeys::channels)
        goal(entry.value, at, entry.key);
    }
    for (const KeySpec& key : spec.keys) // "\"ease-in-out\"", as it would be typed
      if (key.kind == ValueKind::curve && key.fallback.size() > 2 && node.find(key.key) == nullptr)
        curves.push_back({joined_path(path, key.key), std::string(key.fallback.substr(1, key.fallback.size() - 2))});
  }

  std::vector<FeelNumber> found;
  std::vector<CurveText> curves;

private:
  const Node* channel_table(const std::string& name) const {
    const Node* channels = document_.find("channel");
    return channels != nullptr ? channels->find(name) : nullptr;
  }

  std::string unit_of_channel(const std::string& name) const {
    const Node* channel = channel_table(name);
    const Node* unit = channel != nullptr ? channel->find("unit") : nullptr;
    return unit != nullptr && unit->text() != nullptr ? *unit->text() : std::string();
  }

  void value(const Node& node, const KeySpec& key, const std::string& path, const std::string& channel) {
    switch (key.kind) {
    case ValueKind::number:
    case ValueKind::integer:
    case ValueKind::components:
    case ValueKind::pair:
    case ValueKind::band:
    case ValueKind::strength:
    case ValueKind::weight:
    case ValueKind::numbers_by_name: return numbers(node, key, path, channel);
    case ValueKind::motion:
    case ValueKind::moving: return motion(node, path);
    case ValueKind::motions:
      if (node.list() != nullptr)
        for (std::size_t i = 0; i < node.list()->size(); ++i) motion((*node.list())[i], fmt::format("{}[{}]", path, i));
      return;
    case ValueKind::follow:
    case ValueKind::table: return table(node, key, path, channel);
    case ValueKind::tables:
      if (is_passed_over(path) || node.table() == nullptr) return;
      for (const Entry& entry : *node.table())
        table(entry.value, key, joined_path(path, entry.key), path == "channel" ? entry.key : channel);
      return;
    case ValueKind::list:
      if (is_passed_over(path) || node.list() == nullptr) return;
      for (std::size_t i = 0; i < node.list()->size(); ++i)
        table((*node.list())[i], key, fmt::format("{}[{}]", path, i), channel);
      return;
    case ValueKind::curve:
      if (node.text() != nullptr) curves.push_back({path, *node.text()});
      return;
    case ValueKind::text:
    case ValueKind::file:
    case ValueKind::measure:
    case ValueKind::choice:
    case ValueKind::name:
    case ValueKind::formula:
    case ValueKind::flag:
    case ValueKind::points:
    case ValueKind::texts:
    case ValueKind::texts_by_name:
    case ValueKind::places: return;
    }
  }

  /// What is not of the feel itself, and what decides how others are read.
  static bool is_passed_over(const std::string& path) {
    return path == "take" || path == "want" || path == "variant" || path == "silence";
  }

  void table(const Node& node, const KeySpec& key, const std::string& path, const std::string& channel) {
    if (path == "picture") return;
    std::string id(key.section);
    if (id.ends_with('.')) {
      const Node* kind = node.find("kind");
      if (kind == nullptr || kind->text() == nullptr) return;
      id += *kind->text();
    }
    if (const SectionSpec* spec = find_section(id)) section(node, *spec, path, channel);
  }

  /// A motion written in place, or a table of them.
  void motion(const Node& node, const std::string& path) {
    if (node.table() == nullptr) return;
    if (const Node* kind = node.find("kind"); kind != nullptr && kind->text() != nullptr) {
      if (const SectionSpec* spec = find_section("motion." + *kind->text())) section(node, *spec, path, "");
      return;
    }
    for (const Entry& entry : *node.table()) motion(entry.value, joined_path(path, entry.key));
  }

  void numbers(const Node& node, const KeySpec& key, const std::string& path, const std::string& channel) {
    if (node.list() != nullptr) {
      for (std::size_t i = 0; i < node.list()->size(); ++i)
        numbers((*node.list())[i], key, fmt::format("{}[{}]", path, i), channel);
      return;
    }
    if (node.table() != nullptr) { // by component, or { setting = .. }
      if (node.find("setting") != nullptr) return;
      for (const Entry& entry : *node.table()) numbers(entry.value, key, joined_path(path, entry.key), channel);
      return;
    }
    FeelNumber number;
    number.path = path;
    number.meaning = key.meaning;
    number.bounds = key.bounds;
    if (const auto plain = plain_number(node)) {
      number.value = *plain;
      number.unit = key.unit == UnitKind::channel ? unit_of_channel(channel) : std::string(own_unit(key.unit));
    } else if (!put_quantity(node, key, number)) {
      return;
    }
    const bool grows_by_factors =
        key.unit == UnitKind::time || key.unit == UnitKind::frequency || key.unit == UnitKind::rate;
    number.by_factor = grows_by_factors && key.bounds.low >= 0.0 && number.value > 0.0;
    if (path.starts_with("setting.")) hold_to_setting(path, number);
    put_range(number);
    if (key.key == "rest" || key.key == "start") hold_to_channel(channel, component_in(path), number);
    found.push_back(std::move(number));
  }

  /// "110 ms": the bounds are told in the unit that is written.
  static bool put_quantity(const Node& node, const KeySpec& key, FeelNumber& number) {
    const auto quantity = node.text() != nullptr ? parse_quantity(*node.text()) : std::nullopt;
    if (!quantity) return false;
    number.value = quantity->value;
    number.unit = std::string(quantity->unit.symbol);
    number.has_unit = true;
    const auto own = find_unit(own_unit(key.unit));
    if (!own || own->kind != quantity->unit.kind) return true;
    if (std::isfinite(number.bounds.low)) number.bounds.low = convert(number.bounds.low, *own, quantity->unit);
    if (std::isfinite(number.bounds.high)) number.bounds.high = convert(number.bounds.high, *own, quantity->unit);
    return true;
  }

  /// The range of a setting bounds its value.
  void hold_to_setting(const std::string& path, FeelNumber& number) const {
    if (!path.ends_with(".value")) return;
    const Node* setting = node_at(document_, path.substr(0, path.size() - std::string_view(".value").size()));
    const Node* range = setting != nullptr ? setting->find("range") : nullptr;
    if (range == nullptr || range->list() == nullptr || range->list()->size() != 2) return;
    if (const auto low = plain_number(range->list()->front())) number.bounds.low = *low;
    if (const auto high = plain_number(range->list()->back())) number.bounds.high = *high;
  }

  /// The component that a path of a channel's value names at its end: 1 of "channel.focus.rest[1]".
  static std::size_t component_in(std::string_view path) {
    if (!path.ends_with(']') || path.size() < 3) return 0;
    return static_cast<std::size_t>(path[path.size() - 2] - '0');
  }

  /// The goal of a pose: a number, a list of them, or { times = .. }.
  void goal(const Node& node, const std::string& path, const std::string& channel) {
    if (node.table() != nullptr) {
      if (const SectionSpec* spec = find_section("pose.goal")) section(node, *spec, path, channel);
      return;
    }
    constexpr KeySpec key{.key = {}, .kind = ValueKind::components, .unit = UnitKind::channel, .meaning = "A goal."};
    const std::size_t before = found.size();
    numbers(node, key, path, channel);
    for (std::size_t i = before; i < found.size(); ++i) hold_to_channel(channel, component_in(found[i].path), found[i]);
  }

  /// A goal makes sense within the range of its channel.
  void hold_to_channel(const std::string& name, std::size_t component, FeelNumber& number) const {
    const Node* channel = channel_table(name);
    const Node* range = channel != nullptr ? channel->find("range") : nullptr;
    if (range == nullptr || range->list() == nullptr || range->list()->size() != 2 || number.has_unit) return;
    const auto end = [&](const Node& node) {
      return node.list() != nullptr && component < node.list()->size() ? plain_number((*node.list())[component])
                                                                       : plain_number(node);
    };
    const auto low = end(range->list()->front()), high = end(range->list()->back());
    if (!low || !high || !(number.value >= *low) || !(number.value <= *high)) return;
    number.from = std::max(number.bounds.low, *low);
    number.to = std::min(number.bounds.high, *high);
  }

  /// Three doublings either way, or as far as it is from 0.
  static void put_range(FeelNumber& number) {
    constexpr double factor = 8.0, narrow = 100.0;
    const double low = number.bounds.low, high = number.bounds.high;
    if (high - low <= narrow) {
      number.from = low;
      number.to = high;
    } else if (number.by_factor) {
      number.from = std::max(low, number.value / factor);
      number.to = std::min(high, number.value * factor);
    } else {
      const double span = number.value != 0.0 ? 2.0 * std::fabs(number.value) : 1.0;
      number.from = std::max(low, number.value - span);
      number.to = std::min(high, number.value + span);
    }
  }

  const Node& document_;
};

Collector turned_in(const Node& document) {
  Collector collector(document);
  if (const SectionSpec* whole = find_section("feel")) collector.section(document, *whole, "", "");
  return collector;
}

} // namespace

std::vector<FeelNumber> feel_numbers(const Node& document) {
  Collector collector = turned_in(document);
  // What the text says before it: the version of the format, how many texts the history keeps.
  std::erase_if(collector.found, [](const FeelNumber& number) {
    return number.path.find('.') == std::string::npos || number.path.ends_with(".seed");
  });
  return std::move(collector.found);
}

std::vector<CurveText> curve_texts(const Node& document) { return turned_in(document).curves; }

} // namespace stasis
