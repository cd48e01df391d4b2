// The words and signs of one line of source code, and the rows that it becomes.
#pragma once

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace stasis::code {

struct Token {
  enum class Kind : std::uint8_t { word, sign, opens, closes, comma, dot } kind = Kind::word;
  std::string text;
  bool is_spaced = false; ///< a blank stands before it
};

/// What a line consists of; strings, numbers and names are words. It holds no comment and no line break.
std::vector<Token> tokens_of(std::string_view line);

/// Where the first of a sign stands outside all brackets; how many tokens there are, if it does nowhere.
std::size_t place_outside_brackets(const std::vector<Token>& tokens, std::string_view sign);

/// The rows of a text, each without the columns that all behind the first are indented by.
std::vector<std::string> rows_against_first(const std::string& text, std::size_t indent);

} // namespace stasis::code
