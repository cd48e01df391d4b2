#include "figure/match_figure.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "figure/axis.hpp"
#include "figure/canvas.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

class MatchDrawer {
public:
  explicit MatchDrawer(const MatchDrawing& what) : what_(what) {
    auto [low, high] = std::minmax_element(what.values.begin(), what.values.end());
    double least = *low, most = *high;
    for (const double goal : what.goal) {
      least = std::min(least, goal);
      most = std::max(most, goal);
    }
    for (const auto* bounds : {&what.above, &what.below})
      for (const double bound : *bounds) {
        if (std::isnan(bound)) continue;
        least = std::min(least, bound);
        most = std::max(most, bound);
      }
    values_ = value_axis(least, most, 7);
    double largest = 0.0;
    for (const MatchLine& rule : what.rules)
      for (std::size_t k = 0; k < rule.values.size(); ++k)
        largest = std::max(largest, std::fabs(what.values[k] - rule.values[k]));
    for (const double value : what.even)
      if (!std::isnan(value)) largest = std::max(largest, std::fabs(value));
    left_ = value_axis(-largest, largest, 3);
    first_ = what.times.front();
    across_ = time_axis(std::max(what.times.back() - first_, 1e-9), 10);
  }

  Figure draw() {
    canvas_.add_text(styled_text(TextRole::title, fitted(what_.title, 1120, style::title_size, true),
                                 {style::plot_left, style::title_y}, Align::left));
    canvas_.add_text(styled_text(TextRole::subtitle, fitted(what_.subtitle, 1120, style::subtitle_size, false),
                                 {style::plot_left, style::subtitle_y}, Align::left));
    axes(what_.even.empty() ? "recorded, and the rules" : "recorded, and how far it goes at most", values_, upper_);
    axes(what_.even.empty() ? "what is left" : "the same without its dying away", left_, lower_);
    time_ticks();
    draw_goal();
    draw_sizes();
    // The best last, so that it lies on top.
    for (std::size_t r = what_.rules.size(); r-- > 0;) {
      std::vector<Point> line, rest;
      for (std::size_t k = 0; k < what_.times.size(); ++k) {
        line.push_back({x(what_.times[k]), y(values_, upper_, what_.rules[r].values[k])});
        rest.push_back({x(what_.times[k]), y(left_, lower_, what_.values[k] - what_.rules[r].values[k])});
      }
      canvas_.add_curve({line, style::series[r].line, r == 0 ? 2.2 : 1.6, r != 0, what_.rules[r].name}, 3);
      canvas_.add_curve({rest, style::series[r].line, r == 0 ? 1.6 : 1.2, r != 0, what_.rules[r].name + " left"}, 2);
    }
    const std::size_t each = std::max<std::size_t>(1, what_.times.size() / most_dots);
    for (std::size_t k = 0; k < what_.times.size(); k += each)
      canvas_.add_mark({MarkKind::dot, {x(what_.times[k]), y(values_, upper_, what_.values[k])}, style::ink});
    legend();
    return canvas_.finish();
  }

private:
  static constexpr std::size_t most_dots = 400;
  static constexpr double bottom = style::last_baseline - 24, lower_top = bottom - 150;
  static constexpr Box upper_{style::plot_left, style::panels_top, style::plot_right, lower_top - 60},
      lower_{style::plot_left, lower_top, style::plot_right, bottom};

  double x(double time) const {
    return style::plot_left + (style::plot_right - style::plot_left) * across_.share(time - first_);
  }
  static double y(const Axis& axis, const Box& box, double value) {
    return box.bottom - (box.bottom - box.top) * axis.share(value);
  }

  void axes(const std::string& name, const Axis& axis, const Box& box) {
    canvas_.add_text(styled_text(TextRole::panel_name, name, {box.left, box.top - 18}, Align::left));
    canvas_.add_text(styled_text(TextRole::panel_unit, what_.unit, {box.right, box.top - 18}, Align::right));
    for (const double tick : axis.ticks) {
      const double at = y(axis, box, tick);
      canvas_.add_rule({box.left, at}, {box.right, at}, style::hairline);
      canvas_.add_text(styled_text(TextRole::tick, axis.tick_text(tick), {box.left - 8, at}, Align::right));
    }
  }

  void draw_goal() {
    if (what_.goal.empty()) return;
    std::vector<Point> line;
    for (std::size_t k = 0; k < what_.times.size(); ++k)
      line.push_back({x(what_.times[k]), y(values_, upper_, what_.goal[k])});
    canvas_.add_curve({std::move(line), style::muted, style::goal_width, false, "goal"}, 2);
  }

  std::vector<Point> points_of(const std::vector<double>& values, const Axis& axis, const Box& box) const {
    std::vector<Point> line;
    for (std::size_t k = 0; k < values.size(); ++k)
      if (!std::isnan(values[k])) line.push_back({x(what_.times[k]), y(axis, box, values[k])});
    return line;
  }

  void draw_sizes() {
    if (what_.even.empty()) return;
    canvas_.add_curve({points_of(what_.values, values_, upper_), style::muted, style::goal_width, false, "recorded"},
                      2);
    canvas_.add_curve({points_of(what_.above, values_, upper_), style::series[0].line, 1.8, true, "most above"}, 3);
    canvas_.add_curve({points_of(what_.below, values_, upper_), style::series[0].line, 1.8, true, "most below"}, 3);
    canvas_.add_curve({points_of(what_.even, left_, lower_), style::series[0].line, 1.4, false, "even"}, 2);
  }

  void time_ticks() {
    canvas_.add_rule({style::plot_left, bottom}, {style::plot_right, bottom}, style::baseline);
    for (const double tick : across_.ticks)
      canvas_.add_text(
          styled_text(TextRole::tick, across_.tick_text(tick + 0.0), {x(first_ + tick), bottom + 16}, Align::centre));
  }

  void legend() {
    std::string text = !what_.even.empty()  ? "dots: recorded    dashed: how far the wave goes at most    time in s"
                       : what_.goal.empty() ? "dots: recorded    time in s"
                                            : "dots: recorded    thin: its goal    time in s";
    if (first_ != 0.0) text += fmt::format(" after {:.4g} s", first_);
    canvas_.add_text(styled_text(TextRole::footnote, text, {style::plot_left, style::footnote_y}, Align::left));
    for (std::size_t r = 0; r < what_.rules.size(); ++r) {
      Text label =
          styled_text(TextRole::annotation, fmt::format("{}: {}", r == 0 ? "line" : "dashed", what_.rules[r].name),
                      {0, 0}, Align::left);
      label.colour = style::series[r].text;
      const std::size_t k = what_.times.size() * (r == 0 ? 3 : 2) / 4;
      canvas_.annotate({x(what_.times[k]), y(values_, upper_, what_.rules[r].values[k])}, std::move(label),
                       style::plot_left, style::page_right);
    }
  }

  const MatchDrawing& what_;
  Axis values_, left_, across_;
  double first_ = 0.0;
  Canvas canvas_;
};

} // namespace

Figure match_figure(const MatchDrawing& drawing) { return MatchDrawer(drawing).draw(); }

} // namespace stasis::figure
