// The shapes of a figure as they are plotted. A figure of thousands of moves has no more pixels than one of ten: where
// shapes are many, those that look alike and follow each other are drawn at once, and what shows nothing of its own is
// left out.
#pragma once

#include <vector>

#include "figure/figure.hpp"

namespace stasis::figure {

/// Shapes of one kind and look, plotted at once.
struct PlotGroup {
  Shape look;                             ///< one of them, without its points
  std::vector<std::vector<Point>> pieces; ///< outlines of fills, stretches of lines, one point for each mark
};

/// In the order of drawing. Few shapes come one to a group and just as they are.
std::vector<PlotGroup> plot_groups(const std::vector<Shape>& shapes);

/// A line without points that cannot be told from those before them, and without stretches that it has drawn already:
/// at most as many points as there are pixels about it, however often it goes there and back.
std::vector<std::vector<Point>> drawn_once(const std::vector<Point>& line);

} // namespace stasis::figure
