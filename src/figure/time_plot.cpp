#include "figure/time_plot.hpp"

#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {

TimePlot::TimePlot(Canvas& canvas, double length)
    : canvas_(canvas), length_(length), time_axis_(time_axis(length, 11)) {}

double TimePlot::x(double time) const noexcept {
  return style::plot_left + (style::plot_right - style::plot_left) * time / length_;
}

std::vector<Point> TimePlot::on_page(const PlotArea& area, const std::vector<Point>& points) const {
  std::vector<Point> out;
  out.reserve(points.size());
  for (const Point& point : points) out.push_back({x(point.x), area.y(point.y)});
  return out;
}

void TimePlot::add_text(TextRole role, std::string words, Point at, Align align) {
  canvas_.add_text(styled_text(role, std::move(words), at, align));
}

void TimePlot::add_fitted(TextRole role, const std::string& words, double width, Point at, Align align) {
  const RoleStyle look = role_style(role);
  add_text(role, fitted(words, width, look.size, look.bold), at, align);
}

void TimePlot::draw_heading(const std::string& title, const std::string& subtitle, const std::string& right) {
  Text note = styled_text(TextRole::subtitle, right, {style::plot_right, style::subtitle_y}, Align::right);
  add_fitted(TextRole::title, title, style::plot_right - style::plot_left, {style::plot_left, style::title_y},
             Align::left);
  add_fitted(TextRole::subtitle, subtitle, note.box.left - 20 - style::plot_left, {style::plot_left, style::subtitle_y},
             Align::left);
  if (!right.empty()) canvas_.add_text(std::move(note));
}

void TimePlot::draw_frame(const PlotArea& area, const std::string& name, const std::string& unit) {
  for (const double tick : area.axis.ticks) {
    const double y = area.y(tick);
    canvas_.add_rule({style::plot_left, y}, {style::plot_right, y}, style::hairline);
    add_text(TextRole::tick, area.axis.tick_text(tick), {style::plot_left - 5, y}, Align::right);
  }
  canvas_.add_curve(
      {{{style::plot_left, area.bottom}, {style::plot_right, area.bottom}}, style::baseline, 1.0, false, ""}, 1.0);
  const double y = area.top - 14;
  Text unit_label = styled_text(TextRole::panel_unit, unit, {style::plot_right, y}, Align::right);
  add_fitted(TextRole::panel_name, name, unit_label.box.left - 20 - style::plot_left, {style::plot_left, y},
             Align::left);
  if (!unit.empty()) canvas_.add_text(std::move(unit_label));
}

void TimePlot::draw_foot(const std::string& note, const std::string& times) {
  for (const double tick : time_axis_.ticks)
    if (tick <= length_ * (1.0 + 1e-9))
      add_text(TextRole::tick, time_axis_.tick_text(tick), {x(tick), style::tick_row_y}, Align::centre);
  add_text(TextRole::footnote, times, {style::plot_left, style::footnote_y}, Align::left);
  add_text(TextRole::footnote, note, {style::plot_right, style::footnote_y}, Align::right);
}

bool TimePlot::annotate(Point about, std::string words, std::string source, double number, Colour colour) {
  Text text = styled_text(TextRole::annotation, std::move(words), about, Align::left);
  text.source = std::move(source);
  text.number = number;
  if (!colour.empty()) text.colour = colour;
  return canvas_.annotate(about, std::move(text), style::plot_left, style::plot_right);
}

} // namespace stasis::figure
