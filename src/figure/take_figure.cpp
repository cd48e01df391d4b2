#include "figure/take_figure.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/occupancy.hpp"
#include "figure/style.hpp"
#include "figure/take_panels.hpp"
#include "figure/text_width.hpp"

namespace stasis {
namespace {

constexpr std::size_t most_rail_rows = 6;
constexpr std::size_t most_annotated_moves = 40;

class TakeFigureLayout {
 public:
  explicit TakeFigureLayout(const TakeFigureInput& input)
      : input_(input), feel_(*input.scene->feel), occupied_(figure_.width, figure_.height) {
    length_ = std::max(input.scene->clock.time(input.scene->clock.frames - 1), input.scene->clock.dt());
    time_axis_ = time_axis(length_, 11);
    choose_rail_rows();
  }

  Figure lay_out() {
    const double panels_top = style::panels_top + style::rail_pitch * static_cast<double>(rail_rows_.size()) + (rail_rows_.empty() ? 0 : 8);
    PanelPlan plan = plan_panels(input_, panels_top);
    panels_ = std::move(plan.panels);
    figure_.left_out = std::move(plan.left_out);
    draw_wash();
    draw_rail();
    for (const Panel& panel : panels_) draw_frame(panel);
    for (const Panel& panel : panels_) draw_series(panel);
    for (const Panel& panel : panels_) draw_marks(panel);
    draw_heading();
    draw_foot();
    for (const Panel& panel : panels_) draw_end_labels(panel);
    annotate();
    return std::move(figure_);
  }

 private:
  double x_of(double time) const noexcept {
    return style::plot_left + (style::plot_right - style::plot_left) * time / length_;
  }
  static double y_of(const Panel& panel, double value) noexcept {
    return panel.bottom - (panel.bottom - panel.top) * panel.axis.share(value);
  }

  void add_text(Text text) {
    measure_box(text);
    occupied_.take(text.box);
    figure_.texts.push_back(std::move(text));
  }

  void choose_rail_rows() {
    for (const InputSpan& span : input_.measures->inputs)
      if (std::find(rail_rows_.begin(), rail_rows_.end(), span.control) == rail_rows_.end()) rail_rows_.push_back(span.control);
    std::sort(rail_rows_.begin(), rail_rows_.end());
    if (rail_rows_.size() <= most_rail_rows) return;
    hidden_inputs_ = rail_rows_.size() - most_rail_rows;
    rail_rows_.resize(most_rail_rows);
  }

  /// A band behind all panels for every hold that moves the top panel's first channel.
  void draw_wash() {
    const std::size_t top_channel = panels_.front().series.front().channel;
    for (const InputSpan& span : input_.measures->inputs) {
      const Pose& pose = feel_.poses[feel_.controls[span.control].pose];
      const bool drives = std::any_of(pose.goals.begin(), pose.goals.end(), [&](const PoseGoal& g) { return g.channel == top_channel; });
      if (!drives || rail_rows_.empty()) continue;
      const double left = x_of(span.from), right = x_of(span.to), top = style::rail_top - 5;
      figure_.shapes.emplace_back(Fill{{{left, top}, {right, top}, {right, style::last_baseline}, {left, style::last_baseline}}, style::wash, 1.0});
    }
  }

  void draw_rail() {
    for (std::size_t row = 0; row < rail_rows_.size(); ++row) {
      const double y = style::rail_top + style::rail_pitch * static_cast<double>(row);
      const std::string& name = feel_.controls[rail_rows_[row]].name;
      figure_.shapes.emplace_back(Line{{{style::plot_left, y}, {style::plot_right, y}}, style::hairline, 1.0, false, ""});
      add_text({TextRole::rail_name, fitted(name, style::plot_left - 20, style::small_size, false), {style::plot_left - 12, y}, Align::right,
                style::muted, style::small_size, false, {}, {}, {}, {}});
      for (std::size_t i = 0; i < input_.measures->inputs.size(); ++i)
        if (input_.measures->inputs[i].control == rail_rows_[row]) draw_hold(i, y);
    }
  }

  void draw_hold(std::size_t index, double y) {
    const InputSpan& span = input_.measures->inputs[index];
    constexpr double half = 5;
    const double left = x_of(span.from), right = std::max(x_of(span.to), left + 1.5);
    figure_.shapes.emplace_back(Fill{{{left, y - half}, {right, y - half}, {right, y + half}, {left, y + half}}, style::bar, 1.0});
    const double held = span.to - span.from;
    Text text{TextRole::rail_length, readable(held) + " s", {left + 6, y}, Align::left, style::paper, style::rail_size, true, {}, {},
              fmt::format("inputs[{}].held", index), held};
    measure_box(text);
    const bool fits = text.box.right + 6 <= right && occupied_.is_free(text.box);
    if (fits) add_text(std::move(text));
  }

  void draw_frame(const Panel& panel) {
    for (const double tick : panel.axis.ticks) {
      const double y = y_of(panel, tick);
      figure_.shapes.emplace_back(Line{{{style::plot_left, y}, {style::plot_right, y}}, style::hairline, 1.0, false, ""});
      add_text({TextRole::tick, panel.axis.tick_text(tick), {style::plot_left - 5, y}, Align::right, style::muted, style::small_size, false, {}, {}, {}, {}});
    }
    const std::vector<Point> base{{style::plot_left, panel.bottom}, {style::plot_right, panel.bottom}};
    occupied_.take(base, 1.0);
    figure_.shapes.emplace_back(Line{base, style::baseline, 1.0, false, ""});
    std::string name = panel.kind == PanelKind::velocity ? "velocity of " : "";
    for (std::size_t i = 0; i < panel.series.size(); ++i) name += (i > 0 ? ", " : "") + panel.series[i].name;
    const std::string own_unit = panel.unit.empty() && panel.kind == PanelKind::velocity ? "1" : panel.unit;
    const std::string unit = panel.kind == PanelKind::velocity ? own_unit + "/s" : own_unit;
    const double y = panel.top - 14;
    Text unit_text{TextRole::panel_unit, unit, {style::plot_right, y}, Align::right, style::muted, style::small_size, false, {}, {}, {}, {}};
    measure_box(unit_text);
    const double width = unit_text.box.left - 20 - style::plot_left;
    add_text({TextRole::panel_name, fitted(name, width, style::panel_size, true), {style::plot_left, y}, Align::left, style::ink, style::panel_size, true, {}, {}, {}, {}});
    if (!unit.empty()) add_text(std::move(unit_text));
  }

  std::vector<Point> on_page(const Panel& panel, const std::vector<Point>& points) const {
    std::vector<Point> out;
    out.reserve(points.size());
    for (const Point& point : points) out.push_back({x_of(point.x), y_of(panel, point.y)});
    return out;
  }

  const ComponentSeries& points_of(const PanelSeries& series) const { return input_.series->series()[series.channel][series.component]; }

  void draw_series(const Panel& panel) {
    for (const PanelSeries& series : panel.series)
      panel.kind == PanelKind::value ? draw_goal(panel, series) : draw_velocity(panel, series);
    if (panel.kind == PanelKind::value)
      for (const PanelSeries& series : panel.series) draw_value(panel, series);
  }

  void draw_goal(const Panel& panel, const PanelSeries& series) {
    Line goal{on_page(panel, points_of(series).goal), style::series[series.colour].faint, style::goal_width, false, series.name + ".goal"};
    occupied_.take(goal.points, 1.5);
    figure_.shapes.emplace_back(std::move(goal));
  }

  void draw_velocity(const Panel& panel, const PanelSeries& series) {
    std::vector<Point> points = on_page(panel, points_of(series).velocity);
    if (points.empty()) return;
    occupied_.take(points, 2.0);
    std::vector<Point> outline = points;
    const double zero = y_of(panel, 0.0);
    outline.push_back({points.back().x, zero});
    outline.insert(outline.begin(), {points.front().x, zero});
    const auto& colour = style::series[series.colour];
    figure_.shapes.emplace_back(Fill{std::move(outline), colour.line, style::velocity_opacity});
    figure_.shapes.emplace_back(Line{std::move(points), colour.line, style::derived_width, false, series.name + ".velocity"});
  }

  /// Light everywhere; heavy from each change of goal until it has settled.
  void draw_value(const Panel& panel, const PanelSeries& series) {
    const auto& colour = style::series[series.colour];
    const std::vector<Point>& raw = points_of(series).smooth;
    std::vector<Point> all = on_page(panel, raw);
    occupied_.take(all, 3.0);
    figure_.shapes.emplace_back(Line{std::move(all), colour.line, style::resting_width, false, series.name + ".smooth"});
    for (const auto& [from, to] : moving_spans(series)) {
      std::vector<Point> heavy;
      for (const Point& point : raw)
        if (point.x >= from - 1e-9 && point.x <= to + 1e-9) heavy.push_back(point);
      if (heavy.size() > 1)
        figure_.shapes.emplace_back(Line{on_page(panel, heavy), colour.line, style::moving_width, false, series.name + ".smooth"});
    }
  }

  /// Times between which the component moves, joined where one move follows another at once.
  std::vector<std::pair<double, double>> moving_spans(const PanelSeries& series) const {
    std::vector<std::pair<double, double>> spans;
    for (const Move& move : input_.measures->moves) {
      if (move.channel != series.channel || move.from[series.component] == move.to[series.component]) continue;
      const double end = move.settling_time ? move.start + *move.settling_time : move.end;
      if (!spans.empty() && move.start <= spans.back().second + 1e-9)
        spans.back().second = std::max(spans.back().second, end);
      else
        spans.emplace_back(move.start, end);
    }
    return spans;
  }

  void draw_marks(const Panel& panel) {
    if (panel.kind != PanelKind::value) return;
    for (const PanelSeries& series : panel.series)
      for (const Move& move : input_.measures->moves) {
        const std::size_t i = series.component;
        if (move.channel != series.channel || !move.settling_time || move.from[i] == move.to[i]) continue;
        add_mark({MarkKind::diamond, {x_of(move.start + *move.settling_time), y_of(panel, move.settled_value[i])}, style::series[series.colour].line});
      }
  }

  void add_mark(Mark mark) {
    constexpr double reach = 6;
    occupied_.take(Box{mark.at.x - reach, mark.at.y - reach, mark.at.x + reach, mark.at.y + reach});
    figure_.shapes.emplace_back(mark);
  }

  void draw_heading() {
    const std::string variant = input_.variant.empty() ? "" : "variant " + input_.variant;
    Text right{TextRole::subtitle, variant, {style::plot_right, style::subtitle_y}, Align::right, style::muted, style::subtitle_size, false, {}, {}, {}, {}};
    measure_box(right);
    const double width = style::plot_right - style::plot_left;
    add_text({TextRole::title, fitted(printable(input_.title, 400), width, style::title_size, true), {style::plot_left, style::title_y}, Align::left, style::ink, style::title_size, true, {}, {}, {}, {}});
    const Take& take = *input_.scene->take;
    std::string subtitle = fmt::format("take {}, {} s at {} frames a second", take.name, concise(take.length), concise(input_.scene->clock.fps));
    for (const std::string& missing : figure_.left_out) subtitle += "; " + missing;
    if (hidden_inputs_ > 0) subtitle += fmt::format("; {} more inputs not drawn", hidden_inputs_);
    add_text({TextRole::subtitle, fitted(subtitle, right.box.left - 20 - style::plot_left, style::subtitle_size, false), {style::plot_left, style::subtitle_y},
              Align::left, style::muted, style::subtitle_size, false, {}, {}, {}, {}});
    if (!variant.empty()) add_text(std::move(right));
  }

  void draw_foot() {
    for (const double tick : time_axis_.ticks)
      if (tick <= length_ * (1.0 + 1e-9))
        add_text({TextRole::tick, time_axis_.tick_text(tick), {x_of(tick), style::tick_row_y}, Align::centre, style::muted, style::small_size, false, {}, {}, {}, {}});
    add_text({TextRole::footnote, "seconds from the start of the take", {style::plot_left, style::footnote_y}, Align::left, style::muted, style::small_size, false, {}, {}, {}, {}});
    add_text({TextRole::footnote, "heavy: moving    light: at rest    diamond: settled" + band_text() + "    thin step: goal", {style::plot_right, style::footnote_y}, Align::right, style::muted, style::small_size, false, {}, {}, {}, {}});
  }

  /// " (2 %)" if all drawn channels share one relative band.
  std::string band_text() const {
    const SettleBand& first = feel_.channels[panels_.front().series.front().channel].settle_band;
    for (const Panel& panel : panels_)
      for (const PanelSeries& series : panel.series) {
        const SettleBand& band = feel_.channels[series.channel].settle_band;
        if (band.absolute || band.size != first.size) return "";
      }
    return fmt::format(" ({} %)", concise(first.size));
  }

  struct EndLabel {
    const PanelSeries* series;
    double wanted;  // y of the line's end
    double y;       // y of the label's middle
  };

  /// Name and last value at each line's end, pushed apart where they would touch.
  void draw_end_labels(const Panel& panel) {
    std::vector<EndLabel> labels;
    for (const PanelSeries& series : panel.series) {
      const auto& points = panel.kind == PanelKind::value ? points_of(series).smooth : points_of(series).velocity;
      const double y = points.empty() ? panel.bottom : y_of(panel, points.back().y);
      labels.push_back({&series, y, y});
    }
    const double lowest = &panel == &panels_.back() ? panel.bottom : panel.bottom + style::panel_gap - 22;
    const double room = lowest - (panel.top - 6);
    const bool two_lines = panel.kind == PanelKind::value && room >= 36.0 * static_cast<double>(labels.size());
    push_apart(labels, two_lines ? 36.0 : 17.0, panel.top - 6, lowest);
    for (const EndLabel& label : labels) draw_end_label(panel, label, two_lines);
  }

  static void push_apart(std::vector<EndLabel>& labels, double pitch, double top, double bottom) {
    std::stable_sort(labels.begin(), labels.end(), [](const EndLabel& a, const EndLabel& b) { return a.wanted < b.wanted; });
    double next = top + pitch / 2;
    for (EndLabel& label : labels) {
      label.y = std::max(label.y, next);
      next = label.y + pitch;
    }
    double limit = bottom - pitch / 2;
    for (auto label = labels.rbegin(); label != labels.rend(); ++label) {
      label->y = std::min(label->y, limit);
      limit = label->y - pitch;
    }
  }

  void draw_end_label(const Panel& panel, const EndLabel& label, bool two_lines) {
    const PanelSeries& series = *label.series;
    const Channel& channel = feel_.channels[series.channel];
    const double value = input_.measures->channels[series.channel].end_value[series.component];
    const std::string unit = printable(channel.unit);
    const bool with_value = panel.kind == PanelKind::value;
    const std::string value_text = concise(value, 3) + (unit.empty() ? "" : " " + unit);
    const double width = style::page_right - style::label_left;
    const double value_width = with_value && !two_lines ? text_width(value_text, style::small_size, false) + 6 : 0;
    Text name{TextRole::end_label, fitted(series.name, std::max(width - value_width, 30.0), style::label_size, true), {style::label_left, label.y - (two_lines ? 8 : 0)}, Align::left,
              style::series[series.colour].text, style::label_size, true, {}, series.name + (with_value ? ".smooth" : ".velocity"), {}, {}};
    measure_box(name);
    const double value_x = two_lines ? style::label_left : name.box.right + 6;
    if (std::fabs(label.y - label.wanted) > 2)
      figure_.shapes.emplace_back(Line{{{style::plot_right + 2, label.wanted}, {style::label_left - 3, label.y - (two_lines ? 8 : 0)}}, style::series[series.colour].faint, 1.0, false, ""});
    add_text(std::move(name));
    if (!with_value) return;
    const std::string suffix = channel.components > 1 ? component_suffixes[series.component] : "";
    add_text({TextRole::end_label, fitted(value_text, style::page_right - value_x, style::small_size, false), {value_x, label.y + (two_lines ? 8 : 0)}, Align::left, style::muted,
              style::small_size, false, {}, series.name + ".smooth", fmt::format("channels.{}.end_value{}", channel.name, suffix), value});
  }

  /// One text about a move, near a point; tried on all sides, dropped where nothing is free.
  bool annotate_at(Point at, const std::string& words, std::string source, double number) {
    Text text{TextRole::annotation, words, {}, Align::left, style::ink, style::small_size, false, {}, {}, std::move(source), number};
    for (const double away : {8.0, 14.0, 22.0, 32.0})
      for (const auto& [side, below] : {std::pair{Align::left, 1.0}, {Align::left, -1.0}, {Align::right, 1.0}, {Align::right, -1.0}, {Align::left, 0.0}, {Align::right, 0.0}}) {
        text.align = side;
        text.at = {at.x + (side == Align::left ? away : -away), at.y + below * (away * 0.4 + 8)};
        measure_box(text);
        const Box around{text.box.left - 3, text.box.top, text.box.right + 3, text.box.bottom};
        const bool inside = around.left >= style::plot_left && around.right <= style::plot_right;
        if (!inside || !occupied_.is_free(around)) continue;
        add_text(std::move(text));
        return true;
      }
    return false;
  }

  void annotate() {
    std::size_t moves = 0;
    for (const Panel& panel : panels_)
      for (const PanelSeries& series : panel.series)
        for (std::size_t m = 0; m < input_.measures->moves.size() && moves < most_annotated_moves; ++m) {
          const Move& move = input_.measures->moves[m];
          if (move.channel != series.channel || move.from[series.component] == move.to[series.component]) continue;
          ++moves;
          panel.kind == PanelKind::value ? annotate_value(panel, series, m) : annotate_velocity(panel, series, m);
        }
  }

  void annotate_value(const Panel& panel, const PanelSeries& series, std::size_t m) {
    const Move& move = input_.measures->moves[m];
    const Channel& channel = feel_.channels[series.channel];
    const std::size_t i = series.component;
    const std::string source = fmt::format("moves[{}].", m);
    // What holds for the whole vector is said once, at its first component that moves.
    for (std::size_t before = 0; before < i; ++before)
      if (move.from[before] != move.to[before]) return;
    const bool single = channel.components == 1;
    if (move.settling_time)
      annotate_at({x_of(move.start + *move.settling_time), y_of(panel, move.settled_value[i])},
                  fmt::format("settled after {} s", readable(*move.settling_time)), source + "settling_time", *move.settling_time);
    if (single && move.peak_time && *move.overshoot >= 0.05) {
      const Point peak{x_of(move.start + *move.peak_time), y_of(panel, move.peak_value[i])};
      const double goal = y_of(panel, move.to[i]);
      if (std::fabs(peak.y - goal) > 3)
        figure_.shapes.emplace_back(Line{{{peak.x, goal}, peak}, style::ink, 1.0, false, ""});
      annotate_at(peak, fmt::format("overshoot {} %", readable(*move.overshoot)), source + "overshoot", *move.overshoot);
    }
    if (single && move.rise_time) annotate_rise(panel, channel, move, source);
  }

  void annotate_rise(const Panel& panel, const Channel& channel, const Move& move, const std::string& source) {
    const double from = to_space(channel.space, move.from[0]), to = to_space(channel.space, move.to[0]);
    const auto at_share = [&](double share, double time) {
      const double value = from_space(channel.space, from + share * (to - from));
      return Point{x_of(move.start + time), y_of(panel, value)};
    };
    const double tenth = *move.rise_from_time, ninetieth = tenth + *move.rise_time;
    const Point start = at_share(0.1, tenth), end = at_share(0.9, ninetieth);
    constexpr double least_height = 14;  // px; below, the rings would hide the line
    if (std::fabs(end.y - start.y) < least_height) return;
    for (const Point& ring : {start, end}) figure_.shapes.emplace_back(Mark{MarkKind::ring, ring, style::series[colour_of(move.channel)].line});
    annotate_at({(start.x + end.x) / 2, (start.y + end.y) / 2}, fmt::format("rise {} s", readable(*move.rise_time)), source + "rise_time", *move.rise_time);
  }

  std::size_t colour_of(std::size_t channel) const {
    for (const Panel& panel : panels_)
      for (const PanelSeries& series : panel.series)
        if (series.channel == channel) return series.colour;
    return 0;
  }

  void annotate_velocity(const Panel& panel, const PanelSeries& series, std::size_t m) {
    const Move& move = input_.measures->moves[m];
    const Channel& channel = feel_.channels[series.channel];
    if (channel.components > 1 || !move.peak_speed || *move.peak_speed == 0.0) return;
    const Point at{x_of(move.start + *move.peak_speed_time), y_of(panel, move.peak_velocity)};
    const bool clear = at.y >= panel.top - 2 && at.y <= panel.bottom + 2;
    if (!clear) return;
    const std::string words = fmt::format("peak {} {}", readable(*move.peak_speed), unit_text(MeasureUnit::channel_per_second, printable(channel.unit)));
    if (annotate_at(at, words, fmt::format("moves[{}].peak_speed", m), *move.peak_speed))
      figure_.shapes.emplace_back(Mark{MarkKind::dot, at, style::series[series.colour].line});
  }

  const TakeFigureInput& input_;
  const Feel& feel_;
  Figure figure_;
  Occupancy occupied_;
  double length_ = 1.0;
  Axis time_axis_;
  std::vector<std::size_t> rail_rows_;
  std::size_t hidden_inputs_ = 0;
  std::vector<Panel> panels_;
};

}  // namespace

Figure take_figure(const TakeFigureInput& input) { return TakeFigureLayout(input).lay_out(); }

}  // namespace stasis
