// The back end: a figure's description to SVG by gnuplot, and that SVG to PNG.
#pragma once

#include <string>

#include "figure/figure.hpp"
#include "figure/process.hpp"

namespace stasis::figure {

/// The gnuplot script that draws the shapes of a figure in pixel coordinates; it holds no text of anybody's.
std::string gnuplot_script(const Figure& figure);

/// The figure as SVG, same bytes for the same figure.
tl::expected<std::string, ProcessError> render_svg(const Figure& figure);

/// A PNG of the very same picture.
tl::expected<std::string, ProcessError> render_png(const std::string& svg);

/// True if the figures' typeface is installed; without it they are drawn in another, wider one.
bool has_figure_font();

} // namespace stasis::figure
