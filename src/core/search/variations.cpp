#include "core/search/variations.hpp"

#include "core/feel/compose.hpp"

namespace stasis {

Result<Feel> Variations::with(const std::vector<Assignment>& values) const {
  Node trial = document_;
  for (const Assignment& one : values)
    if (auto done = put_override(trial, one.path, one.value); !done) return tl::unexpected(done.error());
  if (auto used = resolve_settings(trial); !used) return tl::unexpected(used.error());
  return read_feel(trial, vocabulary_);
}

const Node* Variations::at(std::string_view path) const {
  const auto steps = parse_path(path);
  if (!steps) return nullptr;
  const Node* node = &document_;
  for (const PathStep& step : *steps) {
    if (const auto* key = std::get_if<std::string>(&step)) {
      node = node->find(*key);
    } else {
      const NodeList* list = node->list();
      const std::size_t index = std::get<std::size_t>(step);
      node = list != nullptr && index < list->size() ? &(*list)[index] : nullptr;
    }
    if (node == nullptr) return nullptr;
  }
  return node;
}

Node number_node(double number) { return Node{number, {}}; }

} // namespace stasis
