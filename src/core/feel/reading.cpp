#include "core/feel/reading.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/feel/generic_words.hpp"
#include "core/feel/misspelt_tables.hpp"
#include "core/text.hpp"

namespace stasis {

bool Reading::is_broken(std::string_view name) const noexcept {
  return std::find(broken.begin(), broken.end(), name) != broken.end();
}

bool Reading::is_misspelt(std::string_view section) const { return misspelt_tables(document, section).has_value(); }

const Node* Reading::named_tables(std::string_view key) {
  const Node* tables = document.find(key);
  if (tables == nullptr || tables->table() != nullptr) return tables;
  report("feel.not_a_table", std::string(key), tables->where,
         fmt::format("expected named tables such as [{}.name], found {}", key, kind_in_words(*tables)));
  return nullptr;
}

const Node* Reading::list_of_tables(std::string_view key) {
  const Node* list = document.find(key);
  if (list == nullptr || list->list() != nullptr) return list;
  report("feel.not_a_list", std::string(key), list->where,
         fmt::format("expected a list of tables, each begun by [[{}]], found {}", key, kind_in_words(*list)));
  return nullptr;
}

void Reading::report_unknown(const std::string& path, Position where, NameKind kind, std::string_view name,
                             std::span<const std::string_view> known) {
  const std::string_view what = name_kind_in_words(kind);
  if (known.empty() && is_misspelt(what)) return;
  std::string hint;
  if (const auto close = nearest(name, known))
    hint = fmt::format("Did you mean {}?", *close);
  else
    hint = known.empty() ? fmt::format("The feel has no {} at all.", what) : fmt::format("Known: {}.", listed(known));
  // A motion may be written in place, so its kind may have been meant.
  const SectionSpec* const meant =
      kind == NameKind::motion ? find_section(fmt::format("motion.{}", printable(name, 60))) : nullptr;
  if (meant != nullptr) hint = fmt::format("A motion in place is a table: motion = {}.", table_of_kind(name, *meant));
  const std::string instead =
      kind == NameKind::motion && meant == nullptr ? written_instead(WordFor::motion_kind, name) : std::string();
  if (!instead.empty()) hint += fmt::format(" A motion in place is a table: motion = {{ kind = .. }}. {}", instead);
  report(fmt::format("feel.unknown_{}", what), path, where,
         fmt::format("the feel has no {} named \"{}\"", what, printable(name, 60)), std::move(hint));
}

std::string table_of_kind(std::string_view kind, const SectionSpec& section) {
  std::string text = fmt::format("{{ kind = \"{}\"", kind);
  for (const KeySpec& key : section.keys)
    if (key.required && key.key != "kind") text += fmt::format(", {} = ...", key.key);
  if (const auto sets = split(section.exactly_one, '|'); !sets.empty())
    for (const std::string_view key : keys_in(sets.front())) text += fmt::format(", {} = ...", key);
  return text + " }";
}

namespace {

/// The kinds of a section's family that know every key of a table; all of them if none does.
std::string kinds_with_keys_of(const Node& node, const SectionSpec& section) {
  const std::string_view family = section.id.substr(0, section.id.rfind('.') + 1);
  std::vector<std::string> fitting, all;
  for (const SectionSpec& other : all_sections()) {
    const std::string_view kind = other.id.substr(std::min(family.size(), other.id.size()));
    if (!other.id.starts_with(family) || kind.find('.') != std::string_view::npos) continue;
    all.push_back(fmt::format("\"{}\"", kind));
    const bool knows_all = std::all_of(node.table()->begin(), node.table()->end(), [&](const Entry& entry) {
      return find_key(other, entry.key) != nullptr || entry.key == "type";
    });
    if (knows_all && !node.table()->empty()) fitting.push_back(all.back());
  }
  const std::vector<std::string>& named = fitting.empty() ? all : fitting;
  const std::vector<std::string_view> kinds(named.begin(), named.end());
  return fmt::format("{} kind = {}.", fitting.empty() ? "It is one of" : "With these keys it is", listed(kinds, "or"));
}

} // namespace

void report_kind(Reading& reading, const Node& node, const std::string& path, std::string_view section) {
  const SectionSpec& any = *find_section(section);
  if (node.table() == nullptr) {
    SectionReader reader(node, any, path, reading.problems);
    return;
  }
  if (node.find("kind") == nullptr) {
    const std::string_view heading = any.heading.substr(0, any.heading.find(" kind ="));
    return reading.report("feel.missing_key", joined_path(path, "kind"), node.where,
                          fmt::format("the key kind is missing from {}", heading), kinds_with_keys_of(node, any));
  }
  // Only the key `kind` is read here: which other keys are allowed depends on it.
  Node alone{NodeTable{}, node.where};
  for (const Entry& entry : *node.table())
    if (entry.key == "kind") alone.table()->push_back(entry);
  const SectionSpec only_kind{any.id, any.heading, any.meaning, std::span(find_key(any, "kind"), 1)};
  SectionReader(alone, only_kind, path, reading.problems).choice("kind");
}

void number_or_channel(Reading& reading, SectionReader& reader, std::string_view key, double& number,
                       std::optional<ComponentRef>& channel) {
  const Node* node = reader.find(key);
  const std::string* text = node != nullptr ? node->text() : nullptr;
  if (text != nullptr && index_of(reading.feel.channels, text->substr(0, text->find('.'))))
    channel = component_named(reading, reader, key, *text);
  else if (const auto value = reader.number(key))
    number = *value;
}

} // namespace stasis
