#include "figure/curve_sheet.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/canvas.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

constexpr double sheet_left = 56, sheet_right = 1224, sheet_top = 84, sheet_bottom = 766, gutter = 40;
/// The speed scale reaches at most this far, so that a few steep curves do not flatten the rest.
constexpr double most_speed = 6.0, most_backward = 2.5, least_speed = 2.0;

struct Grid {
  std::size_t columns, rows;
};

Grid grid_for(std::size_t count) noexcept {
  if (count <= 1) return {1, 1};
  if (count <= 2) return {2, 1};
  if (count <= 4) return {2, 2};
  if (count <= 6) return {3, 2};
  if (count <= 9) return {3, 3};
  return {4, 3};
}

struct Scales {
  double low = 0.0, high = 1.0;                 // of value
  double backward = 0.0, forward = least_speed; // of speed
};

Scales scales_for(const std::vector<KnownCurve>& curves) {
  Scales s;
  for (const KnownCurve& one : curves) {
    s.low = std::min(s.low, -one.facts.undershoot);
    s.high = std::max(s.high, 1.0 + one.facts.overshoot);
    for (int i = 0; i <= 100; ++i) {
      const double speed = evaluate(one.curve, i / 100.0, i == 100 ? Side::before : Side::at).slope;
      if (std::isnan(speed)) continue;
      s.forward = std::max(s.forward, std::min(speed, most_speed));
      s.backward = std::min(s.backward, std::max(speed, -most_backward));
    }
  }
  return s;
}

struct CellPoint {
  double time, value, speed;
};

/// Enough points for a smooth line, both sides of every corner and jump.
std::vector<CellPoint> points_of(const Curve& curve) {
  std::vector<double> borders = corners(curve);
  borders.insert(borders.begin(), 0.0);
  borders.push_back(1.0);
  constexpr int points = 240;
  std::vector<CellPoint> out;
  for (std::size_t b = 0; b + 1 < borders.size(); ++b) {
    const double from = borders[b], to = borders[b + 1];
    const int count = std::max(2, static_cast<int>(std::ceil(points * (to - from))));
    for (int i = 0; i <= count; ++i) {
      const double t = i == count ? to : from + (to - from) * i / count;
      const CurvePoint p = evaluate(curve, t, i == count ? Side::before : Side::at);
      out.push_back({t, p.value, p.slope});
    }
  }
  if (const CurvePoint end = evaluate(curve, 1.0); end.value != out.back().value) // it jumps there
    out.push_back({1.0, end.value, out.back().speed});
  return out;
}

class Sheet {
public:
  Sheet(const std::vector<KnownCurve>& curves, const Scales& scales, const std::string& title, const std::string& part)
      : curves_(curves), scales_(scales), grid_(grid_for(curves.size())) {
    cell_width_ = (sheet_right - sheet_left - gutter * static_cast<double>(grid_.columns - 1))
                  / static_cast<double>(grid_.columns);
    cell_height_ = (sheet_bottom - sheet_top) / static_cast<double>(grid_.rows);
    canvas_.add_text(styled_text(TextRole::title, fitted(title, 1000, style::title_size, true),
                                 {sheet_left, style::title_y}, Align::left));
    canvas_.add_text(styled_text(TextRole::subtitle, "value from 0 to 1 and its speed over one unit of time" + part,
                                 {sheet_left, style::subtitle_y}, Align::left));
    canvas_.add_text(styled_text(TextRole::subtitle,
                                 fmt::format("speed scale {} to {} times the mean speed", concise(scales.backward, 3),
                                             concise(scales.forward, 3)),
                                 {sheet_right, style::subtitle_y}, Align::right));
    canvas_.add_text(styled_text(TextRole::footnote,
                                 "thin step: goal    heavy: value    ring: half time    filled: speed    ember edge: "
                                 "speed beyond the scale",
                                 {sheet_left, style::footnote_y}, Align::left));
  }

  Figure draw() {
    for (std::size_t i = 0; i < curves_.size(); ++i) {
      const std::size_t row = i / grid_.columns;
      draw_cell(i, sheet_left + (cell_width_ + gutter) * static_cast<double>(i % grid_.columns),
                sheet_top + cell_height_ * static_cast<double>(row));
    }
    return canvas_.finish();
  }

private:
  struct Band {
    double top, bottom, low, high;
    double y(double value) const noexcept { return bottom - (bottom - top) * (value - low) / (high - low); }
  };

  void draw_cell(std::size_t index, double x, double y) {
    const KnownCurve& one = curves_[index];
    const std::string peak = std::isfinite(one.facts.fastest_speed)
                                 ? "peak speed " + readable(one.facts.fastest_speed, 2)
                                 : std::string("peak speed unbounded");
    Text number = styled_text(TextRole::annotation, peak, {x + cell_width_, y + 12}, Align::right);
    number.colour = style::series[1].text;
    number.source = fmt::format("curves[{}].fastest_speed", index);
    number.number = one.facts.fastest_speed;
    Text name = styled_text(TextRole::panel_name, fitted(one.name, number.box.left - 12 - x, style::panel_size, true),
                            {x, y + 12}, Align::left);
    name.series = one.name;
    canvas_.add_text(std::move(name));
    canvas_.add_text(std::move(number));
    draw_note(index, x, y + 30);
    const double plots = cell_height_ - 66, values = 0.62 * plots;
    const Band value{y + 44, y + 44 + values, scales_.low, scales_.high};
    const Band speed{y + 44 + values + 12, y + 44 + plots, scales_.backward, scales_.forward};
    draw_value(one, x, value);
    draw_speed(one, x, speed);
  }

  void draw_note(std::size_t index, double x, double y) {
    const CurveFacts& facts = curves_[index].facts;
    std::string words = fmt::format("{} % at half time", concise(100.0 * facts.half_time_share, 3));
    if (facts.overshoot > 1e-9) words += fmt::format(", {} % over", concise(100.0 * facts.overshoot, 3));
    Text text =
        styled_text(TextRole::end_value, fitted(words, cell_width_, style::small_size, false), {x, y}, Align::left);
    text.source = fmt::format("curves[{}].half_time_share", index);
    text.number = 100.0 * facts.half_time_share;
    canvas_.add_text(std::move(text));
  }

  void draw_value(const KnownCurve& one, double x, const Band& band) {
    const double zero = band.y(0.0), full = band.y(1.0);
    canvas_.add_rule({x, zero}, {x + cell_width_, zero}, style::hairline);
    canvas_.add(
        Line{{{x, zero}, {x, full}, {x + cell_width_, full}}, style::series[0].faint, style::goal_width, false, ""});
    std::vector<Point> line;
    for (const CellPoint& p : points_of(one.curve)) line.push_back({x + cell_width_ * p.time, band.y(p.value)});
    if (one.facts.start_value != 0.0) line.insert(line.begin(), {x, zero});
    canvas_.add(Line{std::move(line), style::series[0].line, style::moving_width, false, one.name + ".value"});
    const Point half{x + 0.5 * cell_width_, band.y(one.facts.half_time_share)};
    canvas_.add(Mark{MarkKind::ring, half, style::series[0].line});
    canvas_.add(Mark{MarkKind::diamond, {x + cell_width_, band.y(one.facts.end_value)}, style::series[0].line});
  }

  void draw_speed(const KnownCurve& one, double x, const Band& band) {
    const double zero = band.y(0.0);
    std::vector<Point> outline{{x, zero}};
    std::vector<Point> beyond;
    double side = 0.0;
    const auto close_edge = [&] {
      if (beyond.size() == 1) beyond = {{beyond[0].x - 1.5, beyond[0].y}, {beyond[0].x + 1.5, beyond[0].y}};
      if (!beyond.empty()) canvas_.add(Line{beyond, style::series[1].line, 3.0, false, one.name + ".beyond"});
      beyond.clear();
    };
    for (const CellPoint& p : points_of(one.curve)) {
      if (std::isnan(p.speed)) continue;
      const double clipped = std::clamp(p.speed, scales_.backward, scales_.forward);
      const double now = p.speed > scales_.forward ? 1.0 : p.speed < scales_.backward ? -1.0 : 0.0;
      if (now != side) close_edge();
      side = now;
      const Point at{x + cell_width_ * p.time, band.y(clipped)};
      if (now != 0.0) beyond.push_back(at);
      outline.push_back(at);
    }
    outline.push_back({x + cell_width_, zero});
    canvas_.add(Fill{std::move(outline), style::series[1].line, 0.4});
    close_edge();
    canvas_.add_rule({x, zero}, {x + cell_width_, zero}, style::baseline);
  }

  const std::vector<KnownCurve>& curves_;
  Scales scales_;
  Grid grid_;
  double cell_width_ = 0.0, cell_height_ = 0.0;
  Canvas canvas_;
};

} // namespace

std::vector<Figure> curve_sheets(const std::vector<KnownCurve>& curves, const std::string& title) {
  const Scales scales = scales_for(curves);
  const std::size_t pages = (curves.size() + most_cells - 1) / most_cells;
  std::vector<Figure> sheets;
  for (std::size_t page = 0; page < pages; ++page) {
    const auto begin = curves.begin() + static_cast<std::ptrdiff_t>(page * most_cells);
    const auto end = curves.begin() + static_cast<std::ptrdiff_t>(std::min(curves.size(), (page + 1) * most_cells));
    const std::vector<KnownCurve> part(begin, end);
    sheets.push_back(
        Sheet(part, scales, title, pages > 1 ? fmt::format("; sheet {} of {}", page + 1, pages) : "").draw());
  }
  return sheets;
}

} // namespace stasis::figure
