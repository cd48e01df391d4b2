// The field's terms in plain words: for `stasis explain --term` and docs/glossary.md.
#pragma once

#include <span>
#include <string>
#include <string_view>

namespace stasis {

struct Term {
  std::string_view name;    ///< as it is written in texts: "half-life"
  std::string_view meaning; ///< one to three short sentences
};

/// By name.
std::span<const Term> glossary() noexcept;
/// The term of that name, blanks, hyphens and underscores being one; null if there is none.
const Term* find_term(std::string_view name);
/// All of them as a page of Markdown.
std::string glossary_page();

} // namespace stasis
