// Changes one value in the text of a TOML document and nothing else: comments, order, blanks and line ends survive.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/problem.hpp"

namespace stasis::io {

struct TextEdit {
  std::string text;          ///< the whole text after the edit
  int line = 0;              ///< where it changed, counted from 1
  std::string before, after; ///< that line; `before` is empty where a line was added
};

/// The text with the value at `path` ("motion.soft.frequency", "take.approach.cues[0].at") replaced by `value`, which
/// is written as it was typed where it is a TOML value, and in quotes where it is not. A key that its table does not
/// have is added to it: on a line of its own, or within the braces of an inline table. Problems: the text is not TOML,
/// the path is not understood or leads nowhere, the value stands in an included file.
Result<TextEdit> edit_value(std::string_view text, std::string_view path, std::string_view value);

/// A key of a table that gets another name and value, or is taken out.
struct KeyChange {
  std::string key, new_key; ///< `new_key` empty: taken out
  std::string value;        ///< as it is written in TOML
};

/// The text with keys of the table at `path` changed; those that it does not have are passed over. What is taken out
/// leaves its comment behind. Problems as of edit_value().
Result<std::string> change_keys(std::string_view text, std::string_view path, const std::vector<KeyChange>& changes);

} // namespace stasis::io
