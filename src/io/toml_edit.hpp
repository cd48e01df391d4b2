// Changes one value in the text of a TOML document and nothing else: comments, order, blanks and line ends survive.
#pragma once

#include <string>
#include <string_view>

#include "core/problem.hpp"

namespace stasis {

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

} // namespace stasis
