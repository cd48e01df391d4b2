// How wide a text is drawn in the figures' typeface, so that boxes can be tested before anything is drawn.
#pragma once

#include <string>
#include <string_view>

#include "figure/figure.hpp"

namespace stasis::figure {

/// Width in px of a text in Inter at `size` px. Characters outside the table count as wide as the widest letters.
double text_width(std::string_view text, double size, bool bold) noexcept;

/// The text, cut with an ellipsis where it is wider than `width` px.
std::string fitted(std::string_view text, double width, double size, bool bold);

/// Fills in the box of a text from its place, alignment and size.
void measure_box(Text& text);

} // namespace stasis::figure
