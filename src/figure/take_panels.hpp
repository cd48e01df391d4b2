// Which panels a take's figure has, and where they stand.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "figure/take_figure.hpp"
#include "figure/time_plot.hpp"

namespace stasis::figure {

/// One line of a panel.
struct PanelSeries {
  std::size_t channel = 0;
  std::size_t component = 0;
  std::string name;       ///< "fov", "focus.y"
  std::size_t colour = 0; ///< index into style::series
};

enum class PanelKind { value, velocity, picture_scale, picture_rate };

struct Panel {
  PanelKind kind = PanelKind::value;
  std::string unit;
  std::vector<PanelSeries> series;
  PlotArea area;
};

struct PanelPlan {
  std::vector<Panel> panels;
  std::vector<std::string> left_out; ///< in words, for the figure
};

/// Groups the moving components by unit, at most five to a panel, values first, then velocities; drops the least busy
/// panels where the height between `top` and the page's last baseline does not suffice.
PanelPlan plan_panels(const TakeFigureInput& input, double top);

} // namespace stasis::figure
