#include "cli/page_parts.hpp"

#include <algorithm>

#include "cli/embedded.hpp"

namespace stasis::cli {

std::string_view page_part(std::string_view name) {
  const auto parts = embedded_page();
  const auto part = std::find_if(parts.begin(), parts.end(), [&](const EmbeddedFile& f) { return f.name == name; });
  return part == parts.end() ? std::string_view{} : part->text;
}

} // namespace stasis::cli
