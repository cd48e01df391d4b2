// What is used although this feel, as it is read, does not say so: by one of its variants, or by the feels that share a
// file with it.
#include <algorithm>

#include "core/feel/reading.hpp"

namespace stasis {
namespace {

/// Adds every text within a value.
void add_texts(const Node& node, std::vector<std::string_view>& texts) {
  if (const auto* text = node.text()) texts.push_back(*text);
  if (const NodeList* list = node.list())
    for (const Node& one : *list) add_texts(one, texts);
  if (const NodeTable* table = node.table())
    for (const Entry& one : *table) add_texts(one.value, texts);
}

} // namespace

void mark_used_elsewhere(Reading& reading) {
  std::vector<std::string_view> named;
  if (const Node* variants = reading.document.find("variant")) add_texts(*variants, named);
  const auto is_used = [&](const Entry& entry) {
    constexpr int own_file = 0;
    return entry.where.source != own_file || std::find(named.begin(), named.end(), entry.key) != named.end();
  };
  reading.each("motion", [&](const Entry& entry, const std::string&) {
    if (is_used(entry)) reading.feel.used_names.push_back(entry.key);
  });
  reading.each("setting", [&](const Entry& entry, const std::string&) {
    if (const auto found = index_of(reading.feel.settings, entry.key); found && is_used(entry))
      reading.feel.settings[*found].is_used = true;
  });
}

} // namespace stasis
