#include "figure/sweep_figure.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/axis.hpp"
#include "figure/canvas.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

/// From little to much, on paper and beside each other.
constexpr std::array<Colour, 10> ramp{"#EEF4F3", "#D9E6E7", "#C3D7DA", "#ACC8CD", "#94B8C0",
                                      "#7BA8B2", "#6197A3", "#468494", "#2A6F82", "#064B5D"};
constexpr Colour without = "#FFFFFF";

/// An axis of numbers along a length of pixels.
struct Scale {
  double low = 0.0, high = 1.0; // of the axis
  bool by_factor = false;
  double from = 0.0, to = 1.0; // px

  double share(double number) const {
    return by_factor ? std::log(number / low) / std::log(high / low) : (number - low) / (high - low);
  }
  double at(double number) const { return from + (to - from) * share(number); }
};

Scale scale_of(const SweepAxis& axis, double from, double to) {
  const auto [low, high] = std::minmax_element(axis.numbers.begin(), axis.numbers.end());
  Scale scale{*low, *high, axis.kind == SweepAxis::Kind::by_factor, from, to};
  if (scale.low == scale.high) scale.high = scale.low + 1.0;
  return scale;
}

/// Numbers to be written along a scale, about so many.
std::vector<double> ticks_of(const Scale& scale, int most) {
  if (!scale.by_factor) {
    const Axis axis = value_axis(scale.low, scale.high, most);
    std::vector<double> ticks;
    for (const double tick : axis.ticks)
      if (tick >= scale.low && tick <= scale.high) ticks.push_back(tick);
    return ticks;
  }
  std::vector<double> ticks;
  for (double power = std::pow(10.0, std::floor(std::log10(scale.low))); power <= scale.high; power *= 10.0)
    for (const double step : {1.0, 2.0, 5.0})
      if (power * step >= scale.low * (1 - 1e-9) && power * step <= scale.high * (1 + 1e-9))
        ticks.push_back(power * step);
  return ticks;
}

struct MeasureExtent {
  double low, high;
  bool is_any = false;
};
MeasureExtent measure_extent_of(const std::vector<Measured>& values) {
  MeasureExtent out{0.0, 1.0};
  for (const Measured& one : values) {
    if (!one) continue;
    if (!out.is_any) out = {*one, *one, true};
    out.low = std::min(out.low, *one);
    out.high = std::max(out.high, *one);
  }
  return out;
}

class SweepDrawer {
public:
  explicit SweepDrawer(const SweepDrawing& what) : what_(what) {}

  Figure lines() {
    constexpr std::size_t most_panels = 4;
    const std::size_t panels = std::min(what_.names.size(), most_panels);
    head(fmt::format("{} over {}", what_.names.front(), axis(0).path));
    const double top = style::panels_top, bottom = style::last_baseline - 20;
    const double each = (bottom - top + style::panel_gap) / static_cast<double>(panels);
    const Scale across = scale_of(axis(0), style::plot_left, style::plot_right);
    for (std::size_t m = 0; m < panels; ++m)
      panel(m, across, top + each * static_cast<double>(m) + 10,
            top + each * static_cast<double>(m + 1) - style::panel_gap);
    for (const double tick : ticks_of(across, 12))
      canvas_.add_text(styled_text(TextRole::tick, concise(tick), {across.at(tick), bottom + 16}, Align::centre));
    for (std::size_t m = panels; m < what_.names.size(); ++m)
      canvas_.figure().left_out.push_back(what_.names[m] + " has no room; sweep it by itself");
    foot("bottom: " + axis(0).path + (across.by_factor ? ", logarithmic" : "")
         + "    dashed: a want    ring: best    upright: what the feel has now");
    return canvas_.finish();
  }

  Figure map() {
    head(fmt::format("{} over {} and {}", what_.names.front(), axis(0).path, axis(1).path));
    constexpr double right = 1010;
    const Scale across = scale_of(axis(0), style::plot_left, right),
                up = scale_of(axis(1), style::last_baseline - 24, style::panels_top);
    const MeasureExtent extent = measure_extent_of((*what_.measures)[0]);
    cells(across, up, extent);
    for (std::size_t b = 0; b < what_.bounds.size(); ++b) edge(b, across, up);
    for (const double tick : ticks_of(across, 10))
      canvas_.add_text(
          styled_text(TextRole::tick, concise(tick), {across.at(tick), style::last_baseline - 8}, Align::centre));
    for (const double tick : ticks_of(up, 8))
      canvas_.add_text(styled_text(TextRole::tick, concise(tick), {style::plot_left - 12, up.at(tick)}, Align::right));
    marks(across, up);
    legend(extent, right + 40);
    for (std::size_t m = 1; m < what_.names.size(); ++m)
      canvas_.figure().left_out.push_back(what_.names[m] + " has no map; name it first");
    foot(fmt::format(
        "to the right: {}    upward: {}    white: it did not happen    ring: best    diamond: what the feel "
        "has now",
        axis(0).path, axis(1).path));
    return canvas_.finish();
  }

private:
  const SweepAxis& axis(std::size_t a) const { return what_.points->axes()[a]; }

  void head(const std::string& title) {
    canvas_.add_text(styled_text(TextRole::title, fitted(title, 1120, style::title_size, true),
                                 {style::plot_left, style::title_y}, Align::left));
    std::string best = what_.title;
    if (what_.best) {
      best += "; best: ";
      const auto words = what_.points->words(*what_.best);
      for (std::size_t a = 0; a < words.size(); ++a) {
        const bool numeric = axis(a).is_numeric();
        best += (a > 0 ? ", " : "") + axis(a).path + " = "
                + (numeric ? concise(what_.points->number(*what_.best, a)) : words[a]);
      }
      if (const Measured& value = (*what_.measures)[0][*what_.best])
        best += fmt::format(" gives {}", with_unit(0, *value));
    }
    canvas_.add_text(styled_text(TextRole::subtitle, fitted(best, 1120, style::subtitle_size, false),
                                 {style::plot_left, style::subtitle_y}, Align::left));
  }
  void foot(const std::string& words) {
    canvas_.add_text(styled_text(TextRole::footnote, words, {style::plot_left, style::footnote_y}, Align::left));
  }
  std::string with_unit(std::size_t measure, double value) const {
    const std::string& unit = what_.units[measure];
    return readable(value) + (unit.empty() || unit == "1" ? "" : " " + unit);
  }

  void panel(std::size_t m, const Scale& across, double top, double bottom) {
    const std::vector<Measured>& values = (*what_.measures)[m];
    MeasureExtent extent = measure_extent_of(values);
    for (const SweepBound& bound : what_.bounds)
      if (bound.measure == m && extent.is_any) {
        // A bound that is far away would flatten the line.
        const double room = extent.high - extent.low;
        if (bound.limit >= extent.low - room && bound.limit <= extent.high + room) {
          extent.low = std::min(extent.low, bound.limit);
          extent.high = std::max(extent.high, bound.limit);
        }
      }
    // What hardly changes is drawn level.
    constexpr double least_share = 0.01;
    const double least = least_share * std::max(std::fabs(extent.low), std::fabs(extent.high));
    if (extent.high - extent.low < least) {
      const double middle = 0.5 * (extent.low + extent.high);
      extent.low = middle - 0.5 * least;
      extent.high = middle + 0.5 * least;
    }
    const Axis value = value_axis(extent.low, extent.high, 5);
    const auto y = [&](double number) { return bottom - (bottom - top) * value.share(number); };
    canvas_.add_text(styled_text(TextRole::panel_name, what_.names[m], {style::plot_left, top - 18}, Align::left));
    canvas_.add_text(styled_text(TextRole::panel_unit, what_.units[m], {style::plot_right, top - 18}, Align::right));
    for (const double tick : value.ticks) {
      canvas_.add_rule({style::plot_left, y(tick)}, {style::plot_right, y(tick)}, style::hairline);
      canvas_.add_text(
          styled_text(TextRole::tick, value.tick_text(tick), {style::plot_left - 8, y(tick)}, Align::right));
    }
    canvas_.add_rule({style::plot_left, bottom}, {style::plot_right, bottom}, style::baseline);
    if (what_.present[0] && *what_.present[0] >= across.low && *what_.present[0] <= across.high) {
      const double x = across.at(*what_.present[0]);
      canvas_.add_curve({{{x, top}, {x, bottom}}, style::muted, 1.2, false, "present"}, 1);
    }
    for (const SweepBound& bound : what_.bounds) {
      if (bound.measure != m || bound.limit < value.low || bound.limit > value.high) continue;
      canvas_.add_curve({{{style::plot_left, y(bound.limit)}, {style::plot_right, y(bound.limit)}},
                         style::series[1].line,
                         1.4,
                         true,
                         bound.name},
                        1);
    }
    draw_values(m, values, across, y);
    for (const SweepBound& bound : what_.bounds) {
      if (bound.measure != m || bound.limit < value.low || bound.limit > value.high) continue;
      // On the side of the line on which there is room.
      for (const double beside : {-10.0, 12.0}) {
        Text text =
            styled_text(TextRole::annotation, bound.name, {style::plot_right, y(bound.limit) + beside}, Align::right);
        text.colour = style::series[1].text;
        if (canvas_.add_text_if_free(std::move(text), 2)) break;
      }
    }
  }

  template<class Height>
  void draw_values(std::size_t m, const std::vector<Measured>& values, const Scale& across, Height y) {
    std::vector<Point> line;
    const auto close = [&] {
      if (line.size() > 1)
        canvas_.add_curve({line, style::series[0].line, 2.4, false, what_.names[m]}, 2);
      else if (!line.empty())
        canvas_.add_mark({MarkKind::dot, line[0], style::series[0].line});
      line.clear();
    };
    for (std::uint64_t point = 0; point < values.size(); ++point) {
      if (!values[point])
        close();
      else
        line.push_back({across.at(what_.points->number(point, 0)), y(*values[point])});
    }
    close();
    if (!what_.best || !values[*what_.best]) return;
    const Point at{across.at(what_.points->number(*what_.best, 0)), y(*values[*what_.best])};
    canvas_.add_mark({MarkKind::ring, at, style::series[0].line});
    Text text = styled_text(
        TextRole::annotation,
        fmt::format("{} at {}", with_unit(m, *values[*what_.best]), concise(what_.points->number(*what_.best, 0))),
        {0, 0}, Align::left);
    text.colour = style::series[0].text;
    text.number = values[*what_.best];
    canvas_.annotate(at, std::move(text), style::plot_left, style::plot_right);
  }

  /// Edges, px, of the cells of an axis: half-way between its values.
  std::vector<double> cell_edges(const SweepAxis& one, const Scale& scale) const {
    std::vector<double> places;
    for (const double number : one.numbers) places.push_back(scale.at(number));
    std::vector<double> edges{places.front()};
    for (std::size_t k = 1; k < places.size(); ++k) edges.push_back(0.5 * (places[k - 1] + places[k]));
    edges.push_back(places.back());
    return edges;
  }

  void cells(const Scale& across, const Scale& up, const MeasureExtent& extent) {
    const auto x = cell_edges(axis(0), across), y = cell_edges(axis(1), up);
    const std::size_t rows = axis(1).numbers.size(), columns = axis(0).numbers.size();
    const auto colour_at = [&](std::size_t i, std::size_t j) -> Colour {
      const std::uint64_t point = i * rows + j;
      const Measured value = point < (*what_.measures)[0].size() ? (*what_.measures)[0][point] : std::nullopt;
      if (!value) return without;
      const double share = extent.high > extent.low ? (*value - extent.low) / (extent.high - extent.low) : 0.5;
      return ramp[std::min(ramp.size() - 1, static_cast<std::size_t>(share * static_cast<double>(ramp.size())))];
    };
    // Neighbours of one colour are one area.
    for (std::size_t j = 0; j < rows; ++j)
      for (std::size_t i = 0; i < columns;) {
        const Colour colour = colour_at(i, j);
        std::size_t to = i + 1;
        while (to < columns && colour_at(to, j) == colour) ++to;
        const double top = std::min(y[j], y[j + 1]), bottom = std::max(y[j], y[j + 1]);
        canvas_.add_rectangle({x[i], top, x[to], bottom}, colour);
        i = to;
      }
  }

  /// Where a want begins to hold.
  void edge(std::size_t b, const Scale& across, const Scale& up) {
    const SweepBound& bound = what_.bounds[b];
    const auto x = cell_edges(axis(0), across), y = cell_edges(axis(1), up);
    const std::size_t rows = axis(1).numbers.size(), columns = axis(0).numbers.size();
    const auto holds = [&](std::size_t i, std::size_t j) {
      const std::uint64_t point = i * rows + j;
      return point < bound.holds->size() && (*bound.holds)[point] != 0;
    };
    const style::SeriesColour& colour = style::series[std::size_t{1} + b % (style::series.size() - 1)];
    std::optional<Point> named;
    const auto add = [&](Point from, Point to) {
      canvas_.add(Line{{from, to}, colour.line, 2.0, false, bound.name});
      if (!named) named = from;
    };
    std::size_t held = 0;
    for (std::size_t i = 0; i < columns; ++i)
      for (std::size_t j = 0; j < rows; ++j) {
        held += holds(i, j) ? 1U : 0U;
        if (i + 1 < columns && holds(i, j) != holds(i + 1, j)) add({x[i + 1], y[j]}, {x[i + 1], y[j + 1]});
        if (j + 1 < rows && holds(i, j) != holds(i, j + 1)) add({x[i], y[j + 1]}, {x[i + 1], y[j + 1]});
      }
    const double share = static_cast<double>(held) / static_cast<double>(rows * columns);
    edge_notes_.push_back({fmt::format("{}: holds on {} %", bound.name, concise(100.0 * share, 3)), colour.text});
  }

  void marks(const Scale& across, const Scale& up) {
    if (what_.present[0] && what_.present[1] && across.share(*what_.present[0]) >= 0.0
        && across.share(*what_.present[0]) <= 1.0 && up.share(*what_.present[1]) >= 0.0
        && up.share(*what_.present[1]) <= 1.0)
      mark(MarkKind::diamond, {across.at(*what_.present[0]), up.at(*what_.present[1])}, "now");
    if (what_.best)
      mark(MarkKind::ring,
           {across.at(what_.points->number(*what_.best, 0)), up.at(what_.points->number(*what_.best, 1))}, "best");
  }
  void mark(MarkKind kind, Point at, const char* word) {
    // On a dark cell as on a light one.
    canvas_.add_rectangle({at.x - 9, at.y - 9, at.x + 9, at.y + 9}, style::paper);
    canvas_.add_mark({kind, at, style::ink});
    Text text = styled_text(TextRole::annotation, word, {0, 0}, Align::left);
    text.colour = style::ink;
    text.at = {at.x + 14, at.y};
    Text placed = styled_text(TextRole::annotation, word, {at.x + 16, at.y}, Align::left);
    placed.colour = style::ink;
    canvas_.add_rectangle({placed.box.left - 4, placed.box.top - 1, placed.box.right + 4, placed.box.bottom + 1},
                          style::paper);
    canvas_.add_text(std::move(placed));
  }

  void legend(const MeasureExtent& extent, double left) {
    double y = style::panels_top + 6;
    canvas_.add_text(styled_text(TextRole::panel_name, fitted(what_.names[0], style::page_right - left, 14, true),
                                 {left, y}, Align::left));
    y += 22;
    constexpr double height = 20;
    for (std::size_t k = ramp.size(); k-- > 0;) {
      canvas_.add_rectangle({left, y, left + 28, y + height}, ramp[k]);
      const double share = static_cast<double>(k + 1) / static_cast<double>(ramp.size());
      if (k + 1 == ramp.size())
        canvas_.add_text(styled_text(TextRole::tick, with_unit(0, extent.high), {left + 38, y + 4}, Align::left));
      else if (k + 1 == ramp.size() / 2)
        canvas_.add_text(styled_text(TextRole::tick, with_unit(0, extent.low + share * (extent.high - extent.low)),
                                     {left + 38, y}, Align::left));
      if (k == 0)
        canvas_.add_text(
            styled_text(TextRole::tick, with_unit(0, extent.low), {left + 38, y + height - 4}, Align::left));
      y += height;
    }
    y += 30;
    for (const auto& [words, colour] : edge_notes_) {
      // A want on two lines: what, and where it holds.
      const auto colon = words.find(": ");
      for (const std::string& part : {words.substr(0, colon), words.substr(colon + 2)}) {
        Text text = styled_text(TextRole::annotation, fitted(part, style::page_right - left, 12, false), {left, y},
                                Align::left);
        text.colour = colour;
        canvas_.add_text(std::move(text));
        y += 17;
      }
      y += 8;
    }
  }

  const SweepDrawing& what_;
  Canvas canvas_;
  std::vector<std::pair<std::string, Colour>> edge_notes_;
};

} // namespace

std::optional<Figure> sweep_figure(const SweepDrawing& drawing) {
  const auto& axes = drawing.points->axes();
  const bool is_grid = !drawing.points->is_random()
                       && std::all_of(axes.begin(), axes.end(), [](const SweepAxis& a) { return !a.numbers.empty(); });
  if (!is_grid || drawing.names.empty()) return std::nullopt;
  if (axes.size() == 1) return SweepDrawer(drawing).lines();
  if (axes.size() == 2) return SweepDrawer(drawing).map();
  return std::nullopt;
}

} // namespace stasis::figure
