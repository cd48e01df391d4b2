// Lines of source code, laid out as the formatter does that a language is used to. Each takes one line without its
// indentation, and gives the lines that it becomes, indented against the first.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace stasis::code {

/// As black does, at 88 columns. \param indent columns that the line is indented by
std::vector<std::string> python_layout(std::string_view line, std::size_t indent);

/// As rustfmt does, at 100 columns.
std::vector<std::string> rust_layout(std::string_view line, std::size_t indent);

/// As prettier does, at 80 columns.
std::vector<std::string> javascript_layout(std::string_view line, std::size_t indent);

/// C and C++ as clang-format does in its own style, at 80 columns.
std::vector<std::string> c_layout(std::string_view line, std::size_t indent);

/// A whole file, as clang-format has it: functions of one short line on one, notes at the ends of rows aligned.
/// \param mark what a note begins with
std::string c_file_layout(const std::string& text, std::string_view mark);

} // namespace stasis::code
