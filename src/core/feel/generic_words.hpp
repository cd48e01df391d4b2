// The general words of programmers that this format does not use, and what stands here instead.
#pragma once

#include <string>
#include <string_view>

namespace stasis {

/// What a general word is meant for.
enum class WordFor : unsigned char { motion_kind, curve };

/// What to write for a general word, as a sentence: "linear interpolation" -> "A value that ...". Small and capital
/// letters, blanks, hyphens and underscores do not matter. Empty if the word is not known.
std::string written_instead(WordFor what, std::string_view word);

} // namespace stasis
