// What to write where a text is not TOML.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace stasis::io {

/// A line of a text without its end; empty behind the last.
/// \param line from 1.
std::string_view toml_line(std::string_view text, std::uint32_t line);

/// The sentence that mends the mistakes made most; empty where it is another.
/// \param line of the fault, from 1.
/// \param column of the fault, from 1, in bytes.
/// \param said what the TOML library says of it.
std::string syntax_hint(std::string_view text, std::uint32_t line, std::uint32_t column, std::string_view said);

} // namespace stasis::io
