// How a problem is told: file:line:column, what is wrong, the line itself, what to do.
#pragma once

#include <string>
#include <vector>

#include "core/problem.hpp"

namespace stasis::io {

/// Lines without an end after the last. Texts of others are shown so that they cannot be taken for anything else.
std::string problem_in_words(const Problem& problem, const std::vector<Source>& sources);

} // namespace stasis::io
