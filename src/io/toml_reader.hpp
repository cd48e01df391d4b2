// TOML text into a document. The only place that knows the TOML library.
#pragma once

#include <string_view>

#include "core/feel/document.hpp"

namespace stasis::io {

/// Parses a whole document. \param source index by which positions name this text.
/// The problem is a syntax error with its place, or a size that is refused.
Result<Node> read_toml(std::string_view text, int source);

/// Parses one value as it would stand right of an equals sign; text that is no TOML value is taken as a string, so
/// that quotes need not survive a shell.
Result<Node> read_toml_value(std::string_view text, int source);

} // namespace stasis::io
