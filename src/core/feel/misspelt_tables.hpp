// Tables whose name is none, but close to one.
#pragma once

#include <optional>
#include <string_view>

#include "core/feel/document.hpp"

namespace stasis {

/// What a document has in place of tables of this name: a key that is none, of a name close to it. Nothing where it has
/// such tables, or no such key. The text is the document's.
std::optional<std::string_view> misspelt_tables(const Node& document, std::string_view section);

} // namespace stasis
