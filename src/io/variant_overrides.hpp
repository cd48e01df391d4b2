// What the variants of a feel put into one of its tables, and where that is written.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/feel/document.hpp"

namespace stasis::io {

/// A value that a variant puts at a path of the feel, and where that stands.
struct Override {
  std::string variant;
  std::string table;     ///< the path of the table in which it is written
  std::string key;       ///< as it is called there: "fraction", or the whole path in quotes
  std::string path;      ///< of the feel: "motion.soft.fraction"
  bool is_table = false; ///< its value is a table, such as { setting = "pull" }

  /// The last part of its path.
  std::string_view last() const noexcept { return std::string_view(path).substr(path.rfind('.') + 1); }
  /// How its line would call another key of the same table: alone, or as a whole path in quotes.
  std::string renamed(std::string_view last_key) const;
};

/// What variants put into the table at a path of the feel, in the order of the text.
std::vector<Override> overrides_of(const Node& document, std::string_view path);

} // namespace stasis::io
