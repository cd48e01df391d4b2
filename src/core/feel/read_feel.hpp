// From a document to a feel: validation against the key table, then names resolved and sense checked.
#pragma once

#include "core/feel/document.hpp"
#include "core/feel/feel.hpp"

namespace stasis {

/// The feel that a document describes, or everything that is wrong with it, in the order of the text.
Result<Feel> read_feel(const Node& document);

/// True for names that a feel may give: a small letter, then small letters, digits and underscores, at most 64.
bool is_valid_name(std::string_view name) noexcept;

} // namespace stasis
