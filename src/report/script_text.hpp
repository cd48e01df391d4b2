// Texts that stand inside a script element.
#pragma once

#include <string>
#include <string_view>

namespace stasis::report {

/// JSON with nothing in it that could end a script element or start a comment there. Such characters stand only inside
/// texts, where an escape means the same.
std::string safe_in_script(std::string_view json);

} // namespace stasis::report
