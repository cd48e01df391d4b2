// Puts the exact equivalent of every per-frame rule into the text of a feel.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/problem.hpp"

namespace stasis::io {

struct FrameRulesEdit {
  std::string text;
  std::vector<std::string> said; ///< for each rule: what it has become, or why it stays
  int replaced = 0;
};

/// Comments, order and blanks survive. Problems: the text is not TOML.
Result<FrameRulesEdit> replace_frame_rules(std::string_view text);

} // namespace stasis::io
