#include "io/variant_overrides.hpp"

#include <fmt/format.h>

#include "core/feel/compose.hpp"
#include "core/feel/section_reader.hpp"

namespace stasis::io {
namespace {

void collect_overrides(const Node& table, const std::string& variant, const std::string& at, const std::string& path,
                       std::vector<Override>& out) {
  for (const Entry& entry : *table.table()) {
    const std::string whole = path.empty() ? entry.key : path + "." + entry.key;
    out.push_back({variant, at, entry.key, whole, entry.value.table() != nullptr});
    if (entry.value.table() != nullptr) collect_overrides(entry.value, variant, joined_path(at, entry.key), whole, out);
  }
}

} // namespace

std::string Override::renamed(std::string_view last_key) const {
  if (key.find('.') == std::string::npos) return std::string(last_key);
  return fmt::format("\"{}{}\"", std::string_view(path).substr(0, path.rfind('.') + 1), last_key);
}

std::vector<Override> overrides_of(const Node& document, std::string_view path) {
  std::vector<Override> all;
  for (const std::string_view name : variant_names(document)) {
    const Node& variant = *document.find("variant")->find(name);
    if (variant.table() != nullptr)
      collect_overrides(variant, std::string(name), joined_path("variant", name), "", all);
  }
  const std::string below = std::string(path) + ".";
  std::erase_if(all, [&](const Override& one) {
    return !one.path.starts_with(below) || one.path.find('.', below.size()) != std::string::npos;
  });
  return all;
}

} // namespace stasis::io
