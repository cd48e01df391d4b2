#include "figure/stops_figure.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/components.hpp"
#include "core/text.hpp"
#include "figure/axis.hpp"
#include "figure/canvas.hpp"
#include "figure/style.hpp"
#include "figure/time_plot.hpp"

namespace stasis::figure {
namespace {

class StopsDrawer {
public:
  explicit StopsDrawer(const StopsDrawing& what)
      : what_(what), found_(*what.found), first_(what.times.front()),
        plot_(canvas_, std::max(what.times.back() - first_, 1e-9)), groups_(groups_of(what.names)) {
    // Those that move most of their own allowance stand for all.
    std::stable_sort(groups_.begin(), groups_.end(),
                     [&](const ColumnGroup& a, const ColumnGroup& b) { return movement(a) > movement(b); });
    if (groups_.size() > most_panels) groups_.resize(most_panels);
    const double room = style::last_baseline - style::panels_top - 20;
    const double pitch = room / static_cast<double>(groups_.size());
    for (std::size_t g = 0; g < groups_.size(); ++g) {
      double low = 1e300, high = -1e300;
      for (const std::size_t c : groups_[g].columns)
        for (const auto* values : {&column(c).values, &found_.path[c]}) {
          low = std::min(low, *std::min_element(values->begin(), values->end()));
          high = std::max(high, *std::max_element(values->begin(), values->end()));
        }
      const double top = style::panels_top + 20 + pitch * static_cast<double>(g);
      areas_.push_back({top, top + pitch - style::panel_gap, value_axis(low, high, groups_.size() > 2 ? 4 : 7)});
    }
    areas_.back().bottom = style::last_baseline;
  }

  Figure draw() {
    plot_.draw_heading(what_.title, what_.subtitle, "");
    for (std::size_t g = 0; g < groups_.size(); ++g) plot_.draw_frame(areas_[g], groups_[g].channel, "");
    draw_stops();
    for (std::size_t g = 0; g < groups_.size(); ++g)
      for (std::size_t i = 0; i < groups_[g].columns.size(); ++i) draw_column(g, i);
    plot_.draw_foot("dots: recorded    line: the sequence    numbers: its stops    shaded: held",
                    first_ == 0.0 ? "seconds" : fmt::format("seconds after {} s", concise(first_)));
    return canvas_.finish();
  }

private:
  static constexpr std::size_t most_panels = 5, most_dots = 300;

  const LedColumn& column(std::size_t c) const { return (*what_.columns)[c]; }
  double x(double time) const { return plot_.x(time - first_); }

  double movement(const ColumnGroup& group) const {
    double most = 0.0;
    for (const std::size_t c : group.columns) {
      const auto [low, high] = std::minmax_element(column(c).values.begin(), column(c).values.end());
      most = std::max(most, (*high - *low) / column(c).within);
    }
    return most;
  }

  void draw_stops() {
    double now = first_, free_from = 0.0;
    for (std::size_t s = 0; s < found_.stops.size(); ++s) {
      const FoundStop& stop = found_.stops[s];
      now += stop.after;
      if (now > what_.times.back()) return; // a flight may end just after the last row
      for (const PlotArea& area : areas_) {
        canvas_.add(Line{{{x(now), area.top}, {x(now), area.bottom}}, style::baseline, 1.0, true, ""});
        if (stop.hold > 0.0)
          canvas_.add(Fill{{{x(now), area.top},
                            {x(now + stop.hold), area.top},
                            {x(now + stop.hold), area.bottom},
                            {x(now), area.bottom}},
                           style::wash,
                           0.8});
      }
      if (x(now) >= free_from) {
        plot_.add_text(TextRole::annotation, std::to_string(s + 1), {x(now), style::panels_top - 14}, Align::centre);
        constexpr double room = 20.0; // px: of a number of two digits
        free_from = x(now) + room;
      }
      now += stop.hold;
    }
  }

  void draw_column(std::size_t g, std::size_t i) {
    const std::size_t c = groups_[g].columns[i];
    const style::SeriesColour& colour = style::series[i];
    const std::size_t each = std::max<std::size_t>(1, what_.times.size() / most_dots);
    for (std::size_t k = 0; k < what_.times.size(); k += each)
      canvas_.add(Mark{MarkKind::dot, {x(what_.times[k]), areas_[g].y(column(c).values[k])}, colour.faint});
    std::vector<Point> line;
    for (std::size_t k = 0; k < what_.times.size(); ++k)
      line.push_back({x(what_.times[k]), areas_[g].y(found_.path[c][k])});
    if (groups_[g].columns.size() > 1) {
      Text label = styled_text(TextRole::annotation, std::string(component_suffixes[i]).substr(1), {0, 0}, Align::left);
      label.colour = colour.text;
      canvas_.annotate(line.back(), std::move(label), style::plot_left, style::page_right);
    }
    canvas_.add_curve({std::move(line), colour.line, 1.8, false, what_.names[c]}, 2);
  }

  const StopsDrawing& what_;
  const FoundStops& found_;
  double first_;
  Canvas canvas_;
  TimePlot plot_;
  std::vector<ColumnGroup> groups_;
  std::vector<PlotArea> areas_;
};

} // namespace

Figure stops_figure(const StopsDrawing& drawing) { return StopsDrawer(drawing).draw(); }

} // namespace stasis::figure
