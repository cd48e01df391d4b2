// Lines that are wider than a terminal, broken where they can be.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>

namespace stasis::cli {

/// The line in pieces of at most `width` characters, broken at blanks, without a newline at the end. What goes on
/// stands under the last column of a row, else two blanks in. A word wider than the room stays whole, and so does a
/// line that quotes a file.
std::string folded(std::string_view line, std::size_t width);

} // namespace stasis::cli
