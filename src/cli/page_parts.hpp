// The parts of pages that the program carries.
#pragma once

#include <string_view>

namespace stasis::cli {

/// The part of that name; empty where there is none.
std::string_view page_part(std::string_view name);

} // namespace stasis::cli
