// What an expression in a line of source code consists of, read back from its text.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "code/line_tokens.hpp"

namespace stasis::code {

struct LineTree {
  enum class Kind : std::uint8_t {
    word,     ///< a name, a number, a text
    unary,    ///< a sign before parts[0]
    binary,   ///< a sign between parts[0] and parts[1]; "as" too
    choice,   ///< parts[0] asked, parts[1] if so, parts[2] if not
    brackets, ///< round ones around parts[0]
    list,     ///< square ones around all parts
    repeated, ///< parts[0] as often as parts[1] says, in square brackets
    call,     ///< parts[0], and round brackets around all others
    element,  ///< parts[0], and square brackets around parts[1]
    member,   ///< parts[0], a dot, a name
  } kind = Kind::word;
  std::string text;
  std::vector<LineTree> parts;
};

/// How tightly a sign between two expressions binds; larger is tighter, 0 is none.
int tightness_of(std::string_view sign) noexcept;

/// The expression that tokens from `begin` to `end` make; nullopt if they make none.
std::optional<LineTree> line_tree(const std::vector<Token>& tokens, std::size_t begin, std::size_t end);

/// Its text on one line.
std::string on_one_line(const LineTree& tree);

} // namespace stasis::code
