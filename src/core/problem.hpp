// What is wrong with an input, as data: the core returns problems, only the command line words them on screen.
#pragma once

#include <string>
#include <vector>

#include <tl/expected.hpp>

namespace stasis {

/// A place in a text. Lines and columns count from 1 (columns in code points); line 0 means "nowhere".
struct Position {
  int line = 0;
  int column = 0;
  int length = 1;   ///< code points to underline
  int source = 0;   ///< index into the list of texts that were read; see Source
  int end_line = 0; ///< just after what stands there, where that is known
  int end_column = 0;
};

/// A text that positions refer to: the feel itself, or one override of the command line.
struct Source {
  std::string name;
  std::string text;
};

/// One fault of an input. `code` is a stable short name listed in docs/errors.md.
struct Problem {
  std::string code;
  std::string path; ///< dotted path of the key, such as "motion.soft.frequency"; may be empty
  Position where;
  std::string message; ///< what was found and what is allowed
  std::string hint;    ///< what to do about it; may be empty
};

using Problems = std::vector<Problem>;

template<class T> using Result = tl::expected<T, Problems>;

inline tl::unexpected<Problems> fail(Problem problem) { return tl::unexpected<Problems>(Problems{std::move(problem)}); }

} // namespace stasis
