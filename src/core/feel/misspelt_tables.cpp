#include "core/feel/misspelt_tables.hpp"

#include <span>

#include "core/feel/key_table.hpp"
#include "core/text.hpp"

namespace stasis {

std::optional<std::string_view> misspelt_tables(const Node& document, std::string_view section) {
  if (document.table() == nullptr || document.find(section) != nullptr) return std::nullopt;
  const SectionSpec& whole = *find_section("feel");
  for (const Entry& entry : *document.table())
    if (find_key(whole, entry.key) == nullptr && nearest(entry.key, std::span(&section, 1))) return entry.key;
  return std::nullopt;
}

} // namespace stasis
