#include "core/feel/reading.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/feel/generic_words.hpp"
#include "core/text.hpp"

namespace stasis {

bool Reading::is_broken(std::string_view name) const noexcept {
  return std::find(broken.begin(), broken.end(), name) != broken.end();
}

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
    for (const std::string_view key : split(sets.front(), '+')) text += fmt::format(", {} = ...", trimmed(key));
  return text + " }";
}

void report_kind(Reading& reading, const Node& node, const std::string& path, std::string_view section) {
  const SectionSpec& any = *find_section(section);
  if (node.table() == nullptr) {
    SectionReader reader(node, any, path, reading.problems);
    return;
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
