// Programs from their text: a small language, of which docs/design.md tells.
#pragma once

#include <string>
#include <string_view>

#include "code/program.hpp"

namespace stasis::code {

/// Reads a program and keeps what its open functions need, each function after those that it calls. The text is ours:
/// a fault in it is a fault of Stasis, and is thrown as std::logic_error with its line.
Program read_program(std::string_view text);
/// The same with all that it does not need.
Program read_whole_program(std::string_view text);

/// True of a word that one of the languages keeps to itself.
bool is_kept_word(std::string_view word) noexcept;

} // namespace stasis::code
