#include "core/feel/compose.hpp"

#include <algorithm>
#include <array>
#include <iterator>

#include <fmt/format.h>

#include "core/feel/key_table.hpp"
#include "core/feel/misspelt_tables.hpp"
#include "core/feel/section_reader.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

constexpr std::array<std::string_view, 4> shared_sections{"motion", "curve", "shake", "setting"};

std::optional<double> number_in(const Node& node) noexcept {
  if (const auto* real = std::get_if<double>(&node.value)) return *real;
  if (const auto* whole = std::get_if<std::int64_t>(&node.value)) return static_cast<double>(*whole);
  return std::nullopt;
}

class SettingResolver {
public:
  explicit SettingResolver(const Node& document) {
    const Node* settings = document.find("setting");
    if (settings == nullptr || settings->table() == nullptr) return;
    for (const Entry& entry : *settings->table())
      if (const Node* value = entry.value.find("value"))
        if (const auto number = number_in(*value)) settings_.push_back({entry.key, *number});
  }

  /// \param path of the node, which stays as it was
  void resolve(Node& node, std::string& path) {
    const std::size_t length = path.size();
    if (NodeTable* table = node.table()) {
      if (node.find("setting") != nullptr && !path.empty()) {
        replace(node, path);
        return;
      }
      for (Entry& entry : *table)
        // The settings themselves, and overrides that are not in force, stand as they are.
        if (!path.empty() || (entry.key != "setting" && entry.key != "variant")) {
          append_key(path, entry.key);
          resolve(entry.value, path);
          path.resize(length);
        }
    } else if (auto* list = std::get_if<NodeList>(&node.value)) {
      for (std::size_t i = 0; i < list->size(); ++i) {
        fmt::format_to(std::back_inserter(path), "[{}]", i);
        resolve((*list)[i], path);
        path.resize(length);
      }
    }
  }

  Problems problems;
  std::vector<std::string> used;

private:
  struct Known {
    std::string name;
    double value;
  };

  void report(std::string_view code, const std::string& path, Position where, std::string message,
              std::string hint = {}) {
    problems.push_back({std::string(code), path, where, std::move(message), std::move(hint)});
  }

  void replace(Node& node, const std::string& path) {
    double times = 1.0, add = 0.0;
    std::optional<double> value;
    for (const Entry& entry : *node.table()) {
      if (entry.key == "setting") {
        value = value_of(entry.value, path);
        continue;
      }
      const auto number = number_in(entry.value);
      if (entry.key != "times" && entry.key != "add")
        report("feel.unknown_key", joined_path(path, entry.key), entry.where,
               "a reference to a setting has the keys setting, times and add");
      else if (!number)
        report("feel.not_a_number", joined_path(path, entry.key), entry.value.where,
               fmt::format("expected a number, found {}", kind_in_words(entry.value)));
      else
        (entry.key == "times" ? times : add) = *number;
    }
    if (value) node.value = *value * times + add;
  }

  std::optional<double> value_of(const Node& node, const std::string& path) {
    const std::string* name = node.text();
    if (name == nullptr) {
      report("feel.not_a_text", path, node.where,
             fmt::format("expected the name of a setting, found {}", kind_in_words(node)));
      return std::nullopt;
    }
    for (const Known& known : settings_)
      if (known.name == *name) {
        used.push_back(*name);
        return known.value;
      }
    std::vector<std::string_view> names;
    for (const Known& known : settings_) names.push_back(known.name);
    const auto close = nearest(*name, names);
    report("feel.unknown_setting", path, node.where,
           fmt::format("the feel has no setting named \"{}\"", printable(*name, 60)),
           close           ? fmt::format("Did you mean {}?", *close)
           : names.empty() ? std::string("The feel has no setting at all.")
                           : fmt::format("Known: {}.", listed(names)));
    return std::nullopt;
  }

  std::vector<Known> settings_;
};

} // namespace

std::vector<std::string_view> variant_names(const Node& document) {
  std::vector<std::string_view> names;
  const Node* variants = document.find("variant");
  if (variants != nullptr && variants->table() != nullptr)
    for (const Entry& entry : *variants->table()) names.push_back(entry.key);
  return names;
}

namespace {

/// True if a key of the table may stand beside this kind: families of kinds, such as motions, have a section for each.
bool is_key_of_kind(std::string_view key, std::string_view old_kind, std::string_view new_kind) {
  bool known = false, any = false;
  for (const SectionSpec& section : all_sections()) {
    const std::string_view id = section.id;
    if (!id.ends_with(new_kind) || id.size() == new_kind.size() || id[id.size() - new_kind.size() - 1] != '.') continue;
    const std::string family(id.substr(0, id.size() - new_kind.size()));
    if (find_section(family + std::string(old_kind)) == nullptr) continue;
    any = true;
    known = known || find_key(section, key) != nullptr;
  }
  return known || !any;
}

/// Another kind has other keys: those that only the old one had go.
void drop_keys_of_old_kind(Node& table, const std::string& new_kind) {
  const Node* kind = table.find("kind");
  if (kind == nullptr || kind->text() == nullptr || *kind->text() == new_kind) return;
  const std::string old_kind = *kind->text();
  std::erase_if(*table.table(), [&](const Entry& entry) { return !is_key_of_kind(entry.key, old_kind, new_kind); });
}

/// The table in which a path's last key stands, if it is there.
Node* table_of(Node& document, const std::vector<PathStep>& steps) {
  Node* at = &document;
  for (std::size_t k = 0; k + 1 < steps.size() && at != nullptr; ++k) {
    if (const auto* key = std::get_if<std::string>(&steps[k])) {
      at = at->find(*key);
    } else {
      auto* list = std::get_if<NodeList>(&at->value);
      const std::size_t index = std::get<std::size_t>(steps[k]);
      at = list != nullptr && index < list->size() ? &(*list)[index] : nullptr;
    }
  }
  return at != nullptr && at->table() != nullptr ? at : nullptr;
}

/// True of a path at which a text names a file: its rows have taken the text's place by the time anything is put there.
bool names_a_file(const std::vector<PathStep>& steps) {
  const auto* section = std::get_if<std::string>(&steps.front());
  const auto* key = std::get_if<std::string>(&steps.back());
  if (section == nullptr || key == nullptr || steps.size() < 3) return false;
  return (*section == "track" && *key == "file") || (*section == "curve" && *key == "points")
         || (*section == "take" && *key == "recorded");
}

/// What may be meant by a kind of tables of which the document has none.
std::string meant_by(const Node& document, std::string_view section) {
  const auto found = misspelt_tables(document, section);
  return found ? fmt::format("There is [{}]: did you mean {}?", printable(*found, 60), section) : std::string();
}

Result<void> put_at(Node& document, const std::vector<PathStep>& steps, std::string_view path, Node value) {
  if (value.text() != nullptr && names_a_file(steps))
    return fail({"feel.late_file",
                 std::string(printable(path, 80)),
                 {},
                 fmt::format("\"{}\" comes too late: files are read before variants and overrides",
                             printable(*value.text(), 60)),
                 "Declare a second track, curve or take with that file, and choose between them."});
  const auto* section = std::get_if<std::string>(&steps.front());
  const KeySpec* spec = section != nullptr ? find_key(*find_section("feel"), *section) : nullptr;
  if (spec != nullptr && spec->kind == ValueKind::tables && steps.size() > 2) {
    const auto* name = std::get_if<std::string>(&steps[1]);
    const Node* tables = document.find(*section);
    std::vector<std::string_view> known;
    if (tables != nullptr && tables->table() != nullptr)
      for (const Entry& entry : *tables->table()) known.push_back(entry.key);
    if (name != nullptr && std::find(known.begin(), known.end(), *name) == known.end()) {
      const auto close = nearest(*name, known);
      return fail({"call.path",
                   std::string(printable(path, 80)),
                   {},
                   fmt::format("the feel has no {} named \"{}\"", *section, printable(*name, 60)),
                   close            ? fmt::format("Did you mean {}?", *close)
                   : !known.empty() ? fmt::format("Known: {}.", listed(known))
                                    : meant_by(document, *section)});
    }
  }
  const auto* last = std::get_if<std::string>(&steps.back());
  if (last != nullptr && *last == "kind" && value.text() != nullptr)
    if (Node* table = table_of(document, steps)) drop_keys_of_old_kind(*table, *value.text());
  return put(document, steps, path, std::move(value));
}

/// An entry of a variant: a value at its path. What stands in a table by headers and dotted keys is put leaf by leaf,
/// its kind first.
Result<void> put_leaves(Node& document, std::vector<PathStep> steps, const std::string& path, const Node& value) {
  if (value.table() == nullptr || value.is_braced || value.table()->empty())
    return put_at(document, steps, path, value);
  const auto put_one = [&](const Entry& entry) {
    auto below = steps;
    below.emplace_back(entry.key);
    return put_leaves(document, std::move(below), joined_path(path, entry.key), entry.value);
  };
  for (const bool kinds_now : {true, false})
    for (const Entry& entry : *value.table())
      if ((entry.key == "kind") == kinds_now)
        if (auto done = put_one(entry); !done) {
          if (done.error().front().where.line == 0) done.error().front().where = entry.where;
          return done;
        }
  return {};
}

} // namespace

Result<void> put_override(Node& document, std::string_view path, Node value) {
  auto steps = parse_path(path);
  if (!steps) return tl::unexpected(steps.error());
  return put_at(document, *steps, path, std::move(value));
}

Result<void> apply_variant(Node& document, std::string_view name) {
  const Node* variants = document.find("variant");
  const Node* variant = variants != nullptr ? variants->find(name) : nullptr;
  if (variant == nullptr) {
    const auto known = variant_names(document);
    const auto close = nearest(name, known);
    return fail({"call.variant",
                 "",
                 {},
                 fmt::format("the feel has no variant \"{}\"", printable(name, 60)),
                 close           ? fmt::format("Did you mean {}?", *close)
                 : known.empty() ? std::string("The feel has no variant at all.")
                                 : fmt::format("Known: {}.", listed(known))});
  }
  if (variant->table() == nullptr)
    return fail({"feel.not_a_table", joined_path("variant", name), variant->where,
                 fmt::format("expected a table of paths and values, found {}", kind_in_words(*variant)), ""});
  const NodeTable overrides = *variant->table(); // the document changes under it
  for (const Entry& entry : overrides) {
    const std::string place = fmt::format("variant.{}.{}", name, joined_path("", entry.key));
    auto steps = parse_path(entry.key);
    auto done = steps ? put_leaves(document, std::move(*steps), entry.key, entry.value)
                      : Result<void>(tl::unexpected(steps.error()));
    if (done) continue;
    if (done.error().front().where.line == 0) done.error().front().where = entry.where;
    done.error().front().path = place;
    return done;
  }
  return {};
}

Result<std::vector<std::string>> resolve_settings(Node& document) {
  SettingResolver resolver(document);
  std::string path;
  resolver.resolve(document, path);
  if (!resolver.problems.empty()) return tl::unexpected(std::move(resolver.problems));
  return std::move(resolver.used);
}

bool is_rules_only(const Node& document) noexcept {
  if (document.table() == nullptr) return false;
  bool any = false;
  for (const Entry& section : *document.table()) {
    const bool is_shared =
        section.key != "shake" // which needs channels
        && std::find(shared_sections.begin(), shared_sections.end(), section.key) != shared_sections.end();
    if (!is_shared && section.key != "feel" && section.key != "history" && section.key != "title") return false;
    any = any || is_shared;
  }
  return any;
}

Result<void> merge_included(Node& document, Node other) {
  Problems problems;
  for (Entry& section : *other.table()) {
    if (section.key == "feel" || section.key == "history") continue; // of that file alone
    if (std::find(shared_sections.begin(), shared_sections.end(), section.key) == shared_sections.end()) {
      problems.push_back({"feel.include", section.key, section.where,
                          "an included file brings in motions, curves, shakes and settings only",
                          "Move the rest into the feel itself."});
      continue;
    }
    if (section.value.table() == nullptr) {
      problems.push_back(
          {"feel.not_a_table", section.key, section.value.where,
           fmt::format("expected named tables such as [{}.name], found {}", section.key, kind_in_words(section.value)),
           ""});
      continue;
    }
    Node* own = document.find(section.key);
    if (own == nullptr) {
      document.table()->push_back(std::move(section));
      continue;
    }
    if (own->table() == nullptr) continue; // a problem of the feel itself, found when it is read
    for (Entry& entry : *section.value.table()) {
      if (own->find(entry.key) != nullptr)
        problems.push_back({"feel.name_taken", joined_path(section.key, entry.key), entry.where,
                            fmt::format("there is already a {} named {}", section.key, entry.key),
                            "A name given twice, here and in an included file, is an error."});
      else
        own->table()->push_back(std::move(entry));
    }
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return {};
}

} // namespace stasis
