// What all figures over time share: heading, panel frames, time axis, where a time and a value stand.
#pragma once

#include <string>
#include <vector>

#include "figure/axis.hpp"
#include "figure/canvas.hpp"

namespace stasis::figure {

/// Where one panel stands, and its values.
struct PlotArea {
  double top = 0.0, bottom = 0.0; ///< px
  Axis axis;

  double y(double value) const noexcept { return bottom - (bottom - top) * axis.share(value); }
};

class TimePlot {
public:
  /// \param length seconds that the plot's width shows, > 0.
  TimePlot(Canvas& canvas, double length);

  double x(double time) const noexcept;
  std::vector<Point> on_page(const PlotArea& area, const std::vector<Point>& points) const;

  void add_text(TextRole role, std::string words, Point at, Align align);
  /// A text cut to `width` px.
  void add_fitted(TextRole role, const std::string& words, double width, Point at, Align align);

  void draw_heading(const std::string& title, const std::string& subtitle, const std::string& right);
  /// Grid, baseline, name and unit of a panel.
  void draw_frame(const PlotArea& area, const std::string& name, const std::string& unit);
  /// Ticks of time, what they are, and a note on the right.
  void draw_foot(const std::string& note, const std::string& times = "seconds from the start of the take");
  /// A text about a point with the number that it states; false, and nothing drawn, where all around is taken.
  bool annotate(Point about, std::string words, std::string source, double number, Colour colour = {});

private:
  Canvas& canvas_;
  double length_;
  Axis time_axis_;
};

} // namespace stasis::figure
