// Why measures of a take are missing, in words: each reason once, counted where it is many times the same.
#pragma once

#include <string>
#include <vector>

#include "core/measure/take_measures.hpp"

namespace stasis {

/// What is to be said of the moves of each channel.
std::vector<std::string> notes_of_moves(const Feel& feel, const TakeMeasures& measures);
/// What is to be said of channels whose goal never jumped.
std::vector<std::string> notes_of_the_still(const Feel& feel, const TakeMeasures& measures);

} // namespace stasis
