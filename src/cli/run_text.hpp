// What `run` says on the terminal about one take.
#pragma once

#include <string>

#include "cli/output.hpp"
#include "core/measure/take_measures.hpp"

namespace stasis::cli {

/// Heading, table of moves, notes. \param only channels by name; empty: all.
std::string run_text(const std::string& feel_name, const std::string& variant, const Scene& scene,
                     const TakeMeasures& measures, const std::vector<std::string>& only, const Output& like);

} // namespace stasis::cli
