// What tests ask of a figure's description.
#pragma once

#include <string>
#include <vector>

#include "figure/figure.hpp"

namespace stasis::test {

/// True if some text holds the words.
bool says(const figure::Figure& figure, const std::string& words);
/// The lines that show a series.
std::vector<const figure::Line*> lines_of(const figure::Figure& figure, const std::string& series);
/// Texts that reach beyond the page, and pairs of texts that overlap ("a / b"); there should be none.
std::vector<std::string> misplaced_texts(const figure::Figure& figure);

} // namespace stasis::test
