// The general words of programmers that this format does not use, and what stands here instead.
#pragma once

#include <string>
#include <string_view>

namespace stasis {

/// What a general word is meant for.
enum class WordFor : unsigned char { motion_kind, control_kind, track_kind, obstacle_kind, wave_kind, curve };

/// What to write for a general word, as a sentence: "linear interpolation" -> "A value that ...". Small and capital
/// letters, blanks, hyphens and underscores do not matter. Empty if the word is not known.
std::string written_instead(WordFor what, std::string_view word);
/// The same for the kind of a section, such as "obstacle.box"; empty too if its kinds have no general words.
std::string kind_written_instead(std::string_view section, std::string_view word);

/// What stands for a key that a section does not have: `duration` of a take -> `length`.
struct KeyInstead {
  std::string_view key; ///< that was meant
  std::string_view how; ///< what to write
};

/// Null if the key is no general word for one of this section. Sections are named as in key_table.hpp; what is said of
/// "motion" goes for every kind of motion. Small and capital letters, hyphens and underscores do not matter.
const KeyInstead* key_instead(std::string_view section, std::string_view key);

} // namespace stasis
