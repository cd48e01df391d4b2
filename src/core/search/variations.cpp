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

Node number_node(double number) { return Node{number, {}}; }

} // namespace stasis
