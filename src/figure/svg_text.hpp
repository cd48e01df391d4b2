// The texts of a figure as SVG. They are put into the picture by us and never pass through the program that draws the
// shapes, so that nothing in them can be taken for its commands.
#pragma once

#include <string>

#include "figure/figure.hpp"

namespace stasis::figure {

/// One element; escaped, and cleaned of what XML or a line of text may not hold.
std::string svg_text(const Text& text);

} // namespace stasis::figure
