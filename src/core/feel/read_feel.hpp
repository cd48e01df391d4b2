// From a document to a feel: validation against the key table, then names resolved and sense checked.
#pragma once

#include "core/feel/document.hpp"
#include "core/feel/feel.hpp"

namespace stasis {

/// What a feel may name that others know: measures, of wants; warnings, of silences.
struct KnownNames {
  std::vector<std::string> (*of_channel)(const Channel& channel);
  std::vector<std::string> (*of_shake)(const Feel& feel, std::size_t shake);
  std::vector<std::string> (*of_camera)(const Feel& feel);
  std::vector<std::string_view> (*warnings)();
};

/// Where no want and no silence is read.
inline constexpr KnownNames no_names{[](const Channel&) { return std::vector<std::string>(); },
                                     [](const Feel&, std::size_t) { return std::vector<std::string>(); },
                                     [](const Feel&) { return std::vector<std::string>(); },
                                     [] { return std::vector<std::string_view>(); }};

/// The feel that a document describes, or everything that is wrong with it, in the order of the text.
Result<Feel> read_feel(const Node& document, const KnownNames& known);

/// True for names that a feel may give: a small letter, then small letters, digits and underscores, at most 64.
bool is_valid_name(std::string_view name) noexcept;

} // namespace stasis
