// The key table as a JSON Schema (draft 2020-12) and as the reference page docs/feel-reference.md.
#pragma once

#include <string>

namespace stasis::io {

std::string feel_schema();
std::string feel_reference();

} // namespace stasis::io
