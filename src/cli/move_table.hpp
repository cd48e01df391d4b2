// The table of a take's moves on the terminal; bursts of moves by one cause are one line.
#pragma once

#include <string>
#include <vector>

#include "core/measure/take_measures.hpp"

namespace stasis::cli {

/// \param only channels by name; empty: all.
std::string move_table(const Feel& feel, const TakeMeasures& measures, const std::vector<std::string>& only);

/// True if a channel is to be told of. \param only by name; empty: all.
bool is_wanted(const std::vector<std::string>& only, const std::string& name);
/// True if a shake is to be told of: it shakes a channel that is.
bool shakes_wanted(const Feel& feel, std::size_t shake, const std::vector<std::string>& only);

} // namespace stasis::cli
