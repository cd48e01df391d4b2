// One feel with some of its values put to other ones, again and again: what a sweep and a search try.
#pragma once

#include <string>
#include <vector>

#include "core/feel/document.hpp"
#include "core/feel/read_feel.hpp"

namespace stasis {

/// A value that is put at a path, such as motion.soft.frequency.
struct Assignment {
  std::string path;
  Node value;
};

class Variations {
public:
  /// \param document with its variant and overrides in place, its settings not yet put in.
  Variations(Node document, const KnownNames& vocabulary) : document_(std::move(document)), vocabulary_(vocabulary) {}

  /// The feel with these values, or what is wrong with it then.
  Result<Feel> with(const std::vector<Assignment>& values) const;
  /// What stands at a path now; null where nothing does.
  const Node* at(std::string_view path) const { return node_at(document_, path); }

private:
  Node document_;
  const KnownNames& vocabulary_;
};

/// A number as a value of a document.
Node number_node(double number);

} // namespace stasis
