// A program whose values are short numbers (32 bits) and whose time stays long: what is worked out of time alone, too.
#pragma once

#include <string_view>
#include <vector>

#include "code/program.hpp"

namespace stasis::code {

/// \param program of read_program(); its every `real` is long. \param checked the program that it calls, in single
/// precision already; null: none. Every expression that mixes the two says so, by `single` or by `wide`.
Program in_single_precision(Program program, const Program* checked = nullptr);

/// The fields, parameters and functions that stay long, by the names that the parts of lowered feels give them.
std::vector<std::string_view> names_kept_long();

} // namespace stasis::code
