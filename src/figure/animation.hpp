// Pictures to PNGs by stasis-draw, and PNGs to one that moves.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "figure/process.hpp"

namespace stasis::figure {

/// Draws what a DisplayList says. \returns a PNG a picture
tl::expected<std::vector<std::string>, ProcessError> draw_pictures(std::string_view words);

/// One animated PNG (PNG specification, third edition, 11.3.6) of PNGs alike in size and kind, as draw_pictures() gives
/// them; it goes round forever. \param rate  pictures a second, in thousandths of one: 1 to 65535
std::string animated_png(const std::vector<std::string>& pictures, double rate);

/// The PNG with a chunk after its header by which Stasis knows its own pictures (PNG specification, 11.3.3.2).
std::string signed_png(std::string png);

} // namespace stasis::figure
