// What differs between two documents, value by value.
#pragma once

#include <string>
#include <vector>

#include "core/feel/document.hpp"

namespace stasis {

/// A value at a path before and after, as it stands in TOML; empty where there is none.
struct ValueChange {
  std::string path, before, after;
};

/// Every number, text and truth value that is not the same in both, in the order of the texts.
std::vector<ValueChange> value_changes(const Node& before, const Node& after);

} // namespace stasis
