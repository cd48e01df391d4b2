// From a document to a feel: validation against the key table, then names resolved and sense checked.
#pragma once

#include "core/feel/document.hpp"
#include "core/feel/feel.hpp"

namespace stasis {

/// The measures that a want may name; those who measure tell.
struct MeasureNames {
  std::vector<std::string> (*of_channel)(const Channel& channel);
  std::vector<std::string> (*of_shake)(const Feel& feel, std::size_t shake);
};

/// Where no want is read.
inline constexpr MeasureNames no_measures{[](const Channel&) { return std::vector<std::string>(); },
                                          [](const Feel&, std::size_t) { return std::vector<std::string>(); }};

/// The feel that a document describes, or everything that is wrong with it, in the order of the text.
Result<Feel> read_feel(const Node& document, const MeasureNames& measures);

/// True for names that a feel may give: a small letter, then small letters, digits and underscores, at most 64.
bool is_valid_name(std::string_view name) noexcept;

} // namespace stasis
