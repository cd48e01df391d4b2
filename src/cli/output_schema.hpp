// The shape of what commands print for machines, as JSON Schema.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace stasis::cli {

/// What has a schema, in alphabetical order: commands, and "errors".
std::vector<std::string_view> outputs_with_schema();

/// The JSON Schema (2020-12) of an output; nothing if there is no such name. Measures come from their registry.
std::optional<std::string> output_schema(std::string_view name);

} // namespace stasis::cli
