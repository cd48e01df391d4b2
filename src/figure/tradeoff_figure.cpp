#include "figure/tradeoff_figure.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/axis.hpp"
#include "figure/canvas.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

class TradeoffDrawer {
public:
  explicit TradeoffDrawer(const TradeoffDrawing& what) : what_(what) {
    double low_x = 0, high_x = 1, low_y = 0, high_y = 1;
    bool is_first = true;
    const auto take_in = [&](const TradePoint& one) {
      low_x = is_first ? one.first : std::min(low_x, one.first);
      high_x = is_first ? one.first : std::max(high_x, one.first);
      low_y = is_first ? one.second : std::min(low_y, one.second);
      high_y = is_first ? one.second : std::max(high_y, one.second);
      is_first = false;
    };
    for (const TradePoint& one : what.found->front) take_in(one);
    if (what.found->present) take_in(*what.found->present);
    across_ = value_axis(low_x, high_x, 10);
    up_ = value_axis(low_y, high_y, 8);
  }

  Figure draw() {
    canvas_.add_text(
        styled_text(TextRole::title,
                    fitted(fmt::format("{} against {}", what_.names[0], what_.names[1]), 1120, style::title_size, true),
                    {style::plot_left, style::title_y}, Align::left));
    canvas_.add_text(styled_text(TextRole::subtitle,
                                 fitted(what_.title + ": the best pairs of both", 1120, style::subtitle_size, false),
                                 {style::plot_left, style::subtitle_y}, Align::left));
    axes();
    std::vector<Point> line;
    for (const TradePoint& one : what_.found->front) line.push_back(at(one));
    canvas_.add_curve({line, style::series[0].line, 2.4, false, "front"}, 3);
    for (const std::size_t k : shown()) mark(what_.found->front[k]);
    if (what_.found->present) {
      const Point here = at(*what_.found->present);
      canvas_.add_mark({MarkKind::diamond, here, style::series[1].line});
      note("now", *what_.found->present, style::series[1].text);
    }
    const std::string unit = what_.units[0].empty() ? "" : ", " + what_.units[0];
    canvas_.add_text(styled_text(
        TextRole::footnote,
        fmt::format("to the right: {}{}    upward: {}    line: best pairs    diamond: what the feel has now",
                    what_.names[0], unit, what_.names[1]),
        {style::plot_left, style::footnote_y}, Align::left));
    return canvas_.finish();
  }

private:
  static constexpr double top = style::panels_top, bottom = style::last_baseline - 24;

  Point at(const TradePoint& one) const {
    return {style::plot_left + (style::plot_right - style::plot_left) * across_.share(one.first),
            bottom - (bottom - top) * up_.share(one.second)};
  }

  void axes() {
    canvas_.add_text(styled_text(TextRole::panel_name, what_.names[1], {style::plot_left, top - 18}, Align::left));
    canvas_.add_text(styled_text(TextRole::panel_unit, what_.units[1], {style::plot_right, top - 18}, Align::right));
    for (const double tick : up_.ticks) {
      const double y = bottom - (bottom - top) * up_.share(tick);
      canvas_.add_rule({style::plot_left, y}, {style::plot_right, y}, style::hairline);
      canvas_.add_text(styled_text(TextRole::tick, up_.tick_text(tick), {style::plot_left - 8, y}, Align::right));
    }
    canvas_.add_rule({style::plot_left, bottom}, {style::plot_right, bottom}, style::baseline);
    for (const double tick : across_.ticks)
      canvas_.add_text(
          styled_text(TextRole::tick, across_.tick_text(tick),
                      {style::plot_left + (style::plot_right - style::plot_left) * across_.share(tick), bottom + 16},
                      Align::centre));
  }

  /// Both ends and some between, as far apart on the page as can be.
  std::vector<std::size_t> shown() const {
    constexpr double apart = 110; // px
    std::vector<std::size_t> out;
    const auto& front = what_.found->front;
    for (std::size_t k = 0; k < front.size(); ++k) {
      const bool is_end = k == 0 || k + 1 == front.size();
      const Point here = at(front[k]);
      const auto is_near = [&](std::size_t other) {
        const Point there = at(front[other]);
        return (here.x - there.x) * (here.x - there.x) + (here.y - there.y) * (here.y - there.y) < apart * apart;
      };
      if (is_end || (std::none_of(out.begin(), out.end(), is_near) && !is_near(front.size() - 1))) out.push_back(k);
    }
    return out;
  }

  void mark(const TradePoint& one) {
    canvas_.add_mark({MarkKind::ring, at(one), style::series[0].line});
    note("", one, style::series[0].text);
  }

  void note(const std::string& head, const TradePoint& one, Colour colour) {
    const auto with_unit = [&](std::size_t m, double value) {
      return readable(value) + (what_.units[m].empty() || what_.units[m] == "1" ? "" : " " + what_.units[m]);
    };
    Text text = styled_text(
        TextRole::annotation,
        fmt::format("{}{}{}, {}", head, head.empty() ? "" : ": ", with_unit(0, one.first), with_unit(1, one.second)),
        {0, 0}, Align::left);
    text.colour = colour;
    canvas_.annotate(at(one), std::move(text), style::plot_left, style::page_right);
  }

  const TradeoffDrawing& what_;
  Axis across_, up_;
  Canvas canvas_;
};

} // namespace

Figure tradeoff_figure(const TradeoffDrawing& drawing) { return TradeoffDrawer(drawing).draw(); }

} // namespace stasis::figure
