#include "figure/take_figure.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/canvas.hpp"
#include "figure/style.hpp"
#include "figure/take_panels.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

constexpr std::size_t most_rail_rows = 6;
constexpr std::size_t most_annotated_moves = 40;

class TakeFigureLayout {
public:
  explicit TakeFigureLayout(const TakeFigureInput& input)
      : input_(input), feel_(*input.scene->feel), plot_(canvas_, length_of(input.scene->clock)) {
    choose_rail_rows();
  }

  Figure lay_out() {
    const double rail = style::rail_pitch * static_cast<double>(rail_rows_.size()) + (rail_rows_.empty() ? 0 : 8);
    PanelPlan plan = plan_panels(input_, style::panels_top + rail);
    panels_ = std::move(plan.panels);
    canvas_.figure().left_out = std::move(plan.left_out);
    draw_wash();
    draw_rail();
    for (const Panel& panel : panels_) draw_frame(panel);
    for (const Panel& panel : panels_) draw_series(panel);
    for (const Panel& panel : panels_) draw_marks(panel);
    draw_heading();
    draw_foot();
    for (const Panel& panel : panels_) draw_end_labels(panel);
    annotate_rooms();
    annotate_moves();
    return canvas_.finish();
  }

private:
  static double length_of(const Clock& clock) noexcept {
    return std::max(clock.time(clock.frames - 1), clock.usual_dt());
  }
  double x_of(double time) const noexcept { return plot_.x(time); }
  static double y_of(const Panel& panel, double value) noexcept { return panel.area.y(value); }
  static const style::SeriesColour& colour_of(const PanelSeries& series) { return style::series[series.colour]; }
  const ComponentSeries& points_of(const PanelSeries& series) const {
    return input_.series->series()[series.channel][series.component];
  }
  const std::vector<Move>& moves() const { return input_.measures->moves; }
  /// True if the move changes this component's goal.
  static bool concerns(const Move& move, const PanelSeries& series) {
    return move.channel == series.channel && move.from[series.component] != move.to[series.component];
  }

  void choose_rail_rows() {
    for (const InputSpan& span : input_.measures->inputs)
      if (std::find(rail_rows_.begin(), rail_rows_.end(), span.control) == rail_rows_.end())
        rail_rows_.push_back(span.control);
    std::sort(rail_rows_.begin(), rail_rows_.end());
    if (rail_rows_.size() <= most_rail_rows) return;
    hidden_inputs_ = rail_rows_.size() - most_rail_rows;
    rail_rows_.resize(most_rail_rows);
  }

  /// A band behind all panels for every hold that moves the top panel's first channel.
  void draw_wash() {
    const std::size_t top_channel = panels_.front().series.front().channel;
    for (const InputSpan& span : input_.measures->inputs) {
      const Control& control = feel_.controls[span.control];
      if (!facts_of(control).is_hold() || !drives(feel_, control, top_channel)) continue;
      canvas_.add_rectangle({x_of(span.from), style::rail_top - 5, x_of(span.to), style::last_baseline}, style::wash);
    }
  }

  void draw_rail() {
    for (std::size_t row = 0; row < rail_rows_.size(); ++row) {
      const double y = style::rail_top + style::rail_pitch * static_cast<double>(row);
      canvas_.add_rule({style::plot_left, y}, {style::plot_right, y}, style::hairline);
      plot_.add_fitted(TextRole::rail_name, feel_.controls[rail_rows_[row]].name, style::plot_left - 20,
                       {style::plot_left - 12, y}, Align::right);
      for (std::size_t i = 0; i < input_.measures->inputs.size(); ++i)
        if (input_.measures->inputs[i].control == rail_rows_[row]) draw_hold(i, y);
    }
  }

  void draw_hold(std::size_t index, double y) {
    const InputSpan& span = input_.measures->inputs[index];
    constexpr double half = 5;
    const double left = x_of(span.from), right = std::max(x_of(span.to), left + 1.5);
    canvas_.add_rectangle({left, y - half, right, y + half}, style::bar);
    const double held = span.to - span.from;
    Text text = styled_text(TextRole::rail_length, readable(held) + " s", {left + 6, y}, Align::left);
    text.source = fmt::format("inputs[{}].held", index);
    text.number = held;
    if (text.box.right + 6 <= right) canvas_.add_text_if_free(std::move(text), 0);
  }

  void draw_frame(const Panel& panel) {
    if (is_of_picture(panel)) {
      const bool rate = panel.kind == PanelKind::picture_rate;
      plot_.draw_frame(panel.area,
                       (rate ? "rate of picture scale, " : "picture scale against rest, ") + panel.series.front().name,
                       panel.unit);
      return;
    }
    const bool is_velocity = panel.kind == PanelKind::velocity;
    std::string name = is_velocity ? "velocity of " : "";
    for (std::size_t i = 0; i < panel.series.size(); ++i) name += (i > 0 ? ", " : "") + panel.series[i].name;
    plot_.draw_frame(panel.area, name,
                     is_velocity ? unit_text(MeasureUnit::channel_per_second, panel.unit) : panel.unit);
  }

  static bool is_of_picture(const Panel& panel) noexcept {
    return panel.kind == PanelKind::picture_scale || panel.kind == PanelKind::picture_rate;
  }

  void draw_picture(const Panel& panel) {
    const PanelSeries& series = panel.series.front();
    const ComponentSeries& lines = input_.series->picture();
    const bool rate = panel.kind == PanelKind::picture_rate;
    const std::string name = series.name + (rate ? ".picture_rate" : ".picture_scale");
    if (!rate)
      canvas_.add_curve(
          {plot_.on_page(panel.area, lines.goal), colour_of(series).faint, style::goal_width, false, name + ".goal"},
          1.5);
    canvas_.add_curve({plot_.on_page(panel.area, rate ? lines.velocity : lines.smooth), colour_of(series).line,
                       rate ? style::derived_width : style::resting_width, false, name},
                      2.0);
  }

  void draw_series(const Panel& panel) {
    if (is_of_picture(panel)) {
      draw_picture(panel);
      return;
    }
    if (panel.kind == PanelKind::velocity) {
      for (const PanelSeries& series : panel.series) draw_velocity(panel, series);
      return;
    }
    for (const PanelSeries& series : panel.series) draw_room(panel, series);
    for (const PanelSeries& series : panel.series)
      canvas_.add_curve({plot_.on_page(panel.area, points_of(series).goal), colour_of(series).faint, style::goal_width,
                         false, series.name + ".goal"},
                        1.5);
    for (const PanelSeries& series : panel.series) draw_value(panel, series);
  }

  /// Grey from where the ray touches an obstacle on: what is drawn in it has gone through.
  void draw_room(const Panel& panel, const PanelSeries& series) {
    if (points_of(series).hit.empty()) return;
    std::vector<Point> line = plot_.on_page(panel.area, points_of(series).hit);
    for (Point& p : line) p.y = std::clamp(p.y, panel.area.top, panel.area.bottom);
    std::vector<Point> outline = line;
    outline.push_back({line.back().x, panel.area.top});
    outline.push_back({line.front().x, panel.area.top});
    canvas_.add(Fill{std::move(outline), style::wall, 1.0});
    canvas_.add(Line{std::move(line), style::bar, 1.0, false, series.name + ".hit"});
    const FollowSummary& room = input_.measures->channels[series.channel].follow;
    if (*room.penetration == 0.0) return;
    const auto worst = std::find_if(points_of(series).smooth.begin(), points_of(series).smooth.end(),
                                    [&](Point p) { return p.x >= room.worst_penetration_at - 1e-9; });
    if (worst != points_of(series).smooth.end())
      worst_room_.push_back({panel, series, {plot_.x(worst->x), y_of(panel, worst->y)}});
  }

  void annotate_rooms() {
    for (const auto& [panel, series, at] : worst_room_) {
      const FollowSummary& room = input_.measures->channels[series.channel].follow;
      const Channel& channel = feel_.channels[series.channel];
      plot_.annotate(at,
                     fmt::format("{} through {}", amount_in(*room.penetration, channel.unit),
                                 room.worst_obstacle ? feel_.obstacles[*room.worst_obstacle].name : "an obstacle"),
                     fmt::format("channels.{}.penetration", channel.name), *room.penetration, style::series[1].text);
    }
  }

  void draw_velocity(const Panel& panel, const PanelSeries& series) {
    std::vector<Point> points = plot_.on_page(panel.area, points_of(series).velocity);
    if (points.empty()) return;
    std::vector<Point> outline = points;
    const double zero = y_of(panel, 0.0);
    outline.push_back({points.back().x, zero});
    outline.insert(outline.begin(), {points.front().x, zero});
    canvas_.add(Fill{std::move(outline), colour_of(series).line, style::velocity_opacity});
    canvas_.add_curve(
        {std::move(points), colour_of(series).line, style::derived_width, false, series.name + ".velocity"}, 2.0);
  }

  /// Light everywhere; heavy from each change of goal until it has settled.
  void draw_value(const Panel& panel, const PanelSeries& series) {
    const std::vector<Point>& raw = points_of(series).smooth;
    canvas_.add_curve(
        {plot_.on_page(panel.area, raw), colour_of(series).line, style::resting_width, false, series.name + ".smooth"},
        3.0);
    for (const auto& [from, to] : moving_spans(series)) {
      const auto earlier = [](const Point& point, double x) { return point.x < x; };
      const auto first = std::lower_bound(raw.begin(), raw.end(), from - 1e-9, earlier);
      auto last = first;
      while (last != raw.end() && last->x <= to + 1e-9) ++last;
      const std::vector<Point> heavy(first, last);
      if (heavy.size() > 1)
        canvas_.add(Line{plot_.on_page(panel.area, heavy), colour_of(series).line, style::moving_width, false,
                         series.name + ".smooth"});
    }
  }

  /// Times between which the component moves, joined where one move follows another at once.
  std::vector<std::pair<double, double>> moving_spans(const PanelSeries& series) const {
    if (input_.measures->channels[series.channel].goal_ran) return running_spans(points_of(series).smooth);
    std::vector<std::pair<double, double>> spans;
    for (const Move& move : moves()) {
      if (!concerns(move, series)) continue;
      const double end = move.settling_time ? move.instant(*move.settling_time) : move.end;
      if (!spans.empty() && move.start <= spans.back().second + 1e-9)
        spans.back().second = std::max(spans.back().second, end);
      else
        spans.emplace_back(move.start, end);
    }
    return spans;
  }

  /// Of a component whose goal moves by itself: the stretches in which the line itself does.
  static std::vector<std::pair<double, double>> running_spans(const std::vector<Point>& line) {
    const auto [low, high] = std::minmax_element(line.begin(), line.end(), [](Point a, Point b) { return a.y < b.y; });
    const double seen = 2e-4 * (high->y - low->y); // less from point to point is not to be seen
    std::vector<std::pair<double, double>> spans;
    for (std::size_t k = 1; k < line.size(); ++k) {
      if (std::fabs(line[k].y - line[k - 1].y) <= seen) continue;
      if (!spans.empty() && spans.back().second >= line[k - 1].x)
        spans.back().second = line[k].x;
      else
        spans.emplace_back(line[k - 1].x, line[k].x);
    }
    return spans;
  }

  void draw_marks(const Panel& panel) {
    if (panel.kind != PanelKind::value) return;
    for (const PanelSeries& series : panel.series)
      for (const Move& move : moves())
        if (concerns(move, series) && move.settling_time)
          canvas_.add_mark(
              {MarkKind::diamond,
               {x_of(move.instant(*move.settling_time)), y_of(panel, move.settled_value[series.component])},
               colour_of(series).line});
  }

  void draw_heading() {
    const Take& take = *input_.scene->take;
    std::string subtitle = fmt::format("take {}, {} s at {} frames a second", take.name, concise(take.length),
                                       concise(input_.scene->clock.fps));
    for (const std::string& missing : canvas_.figure().left_out) subtitle += "; " + missing;
    if (hidden_inputs_ > 0) subtitle += fmt::format("; {} more inputs not drawn", hidden_inputs_);
    plot_.draw_heading(printable(input_.title, 400), subtitle,
                       input_.variant.empty() ? "" : "variant " + input_.variant);
  }

  void draw_foot() {
    const bool has_room = std::any_of(feel_.channels.begin(), feel_.channels.end(),
                                      [](const Channel& channel) { return channel.obstacles.has_value(); });
    plot_.draw_foot(fmt::format("heavy: moving    light: at rest    diamond: settled{}    thin step: goal{}",
                                band_text(), has_room ? "    grey: through an obstacle" : ""),
                    input_.scene->clock.drawn != nullptr ? "seconds of game time"
                                                         : "seconds from the start of the take");
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

  /// Name and last value at each line's end, pushed apart where they would touch.
  void draw_end_labels(const Panel& panel) {
    if (is_of_picture(panel)) {
      draw_picture_label(panel);
      return;
    }
    std::vector<EndSlot> slots;
    for (std::size_t i = 0; i < panel.series.size(); ++i) {
      const ComponentSeries& lines = points_of(panel.series[i]);
      const auto& points = panel.kind == PanelKind::value ? lines.smooth : lines.velocity;
      const double y = points.empty() ? panel.area.bottom : y_of(panel, points.back().y);
      slots.push_back({i, y, y});
    }
    const double lowest = &panel == &panels_.back() ? panel.area.bottom : panel.area.bottom + style::panel_gap - 22;
    const double highest = panel.area.top - 6;
    constexpr double two_line_pitch = 36, one_line_pitch = 17;
    const bool two_lines =
        panel.kind == PanelKind::value && lowest - highest >= two_line_pitch * static_cast<double>(slots.size());
    push_apart(slots, two_lines ? two_line_pitch : one_line_pitch, highest, lowest);
    for (const EndSlot& slot : slots) draw_end_label(panel, panel.series[slot.index], slot, two_lines ? 8.0 : 0.0);
  }

  void draw_picture_label(const Panel& panel) {
    const PanelSeries& series = panel.series.front();
    const bool rate = panel.kind == PanelKind::picture_rate;
    const auto& points = rate ? input_.series->picture().velocity : input_.series->picture().smooth;
    if (points.empty()) return;
    Text name = styled_text(TextRole::end_label, rate ? "rate" : fmt::format("{} times", readable(points.back().y)),
                            {style::label_left, y_of(panel, points.back().y)}, Align::left);
    name.colour = colour_of(series).text;
    name.series = series.name + (rate ? ".picture_rate" : ".picture_scale");
    canvas_.add_text(std::move(name));
  }

  /// What nobody can tell from zero in this panel, a tenth of a pixel, is zero: the tail of a motion, a rounding.
  static double as_seen(const Panel& panel, double value) {
    const Axis& axis = panel.area.axis;
    return std::fabs(value) < 0.1 / (panel.area.bottom - panel.area.top) * (axis.high - axis.low) ? 0.0 : value;
  }

  /// \param drop px between the middle of the label and each of its two lines; 0 puts both on one line.
  void draw_end_label(const Panel& panel, const PanelSeries& series, const EndSlot& slot, double drop) {
    const Channel& channel = feel_.channels[series.channel];
    const bool with_value = panel.kind == PanelKind::value;
    const double value = input_.measures->channels[series.channel].end_value[series.component];
    const std::string unit = printable(channel.unit);
    const std::string value_text = concise(as_seen(panel, value), 3) + (unit.empty() ? "" : " " + unit);
    const double width = style::page_right - style::label_left;
    const bool shares_line = with_value && drop == 0.0;
    const double name_width = width - (shares_line ? text_width(value_text, style::small_size, false) + 6 : 0);
    Text name =
        styled_text(TextRole::end_label, fitted(series.name, std::max(name_width, 30.0), style::label_size, true),
                    {style::label_left, slot.y - drop}, Align::left);
    name.colour = colour_of(series).text;
    name.series = series.name + (with_value ? ".smooth" : ".velocity");
    if (std::fabs(slot.y - slot.wanted) > 2)
      canvas_.add_rule({style::plot_right + 2, slot.wanted}, {style::label_left - 3, slot.y - drop},
                       colour_of(series).faint);
    const double value_x = shares_line ? name.box.right + 6 : style::label_left;
    canvas_.add_text(std::move(name));
    if (!with_value) return;
    Text number =
        styled_text(TextRole::end_value, fitted(value_text, style::page_right - value_x, style::small_size, false),
                    {value_x, slot.y + drop}, Align::left);
    const std::string suffix = channel.components > 1 ? component_suffixes[series.component] : "";
    number.source = fmt::format("channels.{}.end_value{}", channel.name, suffix);
    number.number = value;
    canvas_.add_text(std::move(number));
  }

  void annotate_moves() {
    std::size_t annotated = 0;
    for (const Panel& panel : panels_)
      for (const PanelSeries& series : panel.series)
        for (std::size_t m = 0; m < moves().size() && annotated < most_annotated_moves; ++m) {
          if (is_of_picture(panel) || !concerns(moves()[m], series)) continue;
          ++annotated;
          panel.kind == PanelKind::value ? annotate_value(panel, series, m) : annotate_velocity(panel, series, m);
        }
  }

  void annotate_value(const Panel& panel, const PanelSeries& series, std::size_t m) {
    const Move& move = moves()[m];
    const std::size_t i = series.component;
    const std::string source = fmt::format("moves[{}].", m);
    // What holds for the whole vector is said once, at its first component that moves.
    for (std::size_t before = 0; before < i; ++before)
      if (move.from[before] != move.to[before]) return;
    if (move.settling_time)
      plot_.annotate({x_of(move.instant(*move.settling_time)), y_of(panel, move.settled_value[i])},
                     fmt::format("settled after {} s", readable(*move.settling_time)), source + "settling_time",
                     *move.settling_time);
    if (feel_.channels[series.channel].components > 1) return;
    constexpr double least_overshoot = 0.05; // per cent; less cannot be seen
    if (move.peak_time && *move.overshoot >= least_overshoot) annotate_overshoot(panel, move, source);
    if (move.rise_time) annotate_rise(panel, series, move, source);
  }

  void annotate_overshoot(const Panel& panel, const Move& move, const std::string& source) {
    const Point peak{x_of(move.instant(*move.peak_time)), y_of(panel, move.peak_value[0])};
    const double goal = y_of(panel, move.to[0]);
    if (std::fabs(peak.y - goal) > 3) canvas_.add_rule({peak.x, goal}, peak, style::ink);
    plot_.annotate(peak, fmt::format("overshoot {} %", readable(*move.overshoot)), source + "overshoot",
                   *move.overshoot);
  }

  void annotate_rise(const Panel& panel, const PanelSeries& series, const Move& move, const std::string& source) {
    const SpaceMap& space = feel_.channels[series.channel].space;
    const double from = to_space(space, move.from[0]), to = to_space(space, move.to[0]);
    const auto at_share = [&](double share, double time) {
      return Point{x_of(move.instant(time)), y_of(panel, from_space(space, from + share * (to - from)))};
    };
    const double tenth = *move.rise_from_time;
    const Point start = at_share(0.1, tenth), end = at_share(0.9, tenth + *move.rise_time);
    constexpr double least_height = 14; // px; below, the rings would hide the line
    if (std::fabs(end.y - start.y) < least_height) return;
    for (const Point& ring : {start, end}) canvas_.add(Mark{MarkKind::ring, ring, colour_of(series).line});
    plot_.annotate({(start.x + end.x) / 2, (start.y + end.y) / 2}, fmt::format("rise {} s", readable(*move.rise_time)),
                   source + "rise_time", *move.rise_time);
  }

  void annotate_velocity(const Panel& panel, const PanelSeries& series, std::size_t m) {
    const Move& move = moves()[m];
    const Channel& channel = feel_.channels[series.channel];
    if (channel.components > 1 || !move.peak_speed || *move.peak_speed == 0.0) return;
    const Point at{x_of(move.instant(*move.peak_speed_time)), y_of(panel, move.peak_velocity)};
    if (at.y < panel.area.top - 2 || at.y > panel.area.bottom + 2) return;
    const std::string unit = unit_text(MeasureUnit::channel_per_second, printable(channel.unit));
    if (plot_.annotate(at, fmt::format("peak {} {}", readable(*move.peak_speed), unit),
                       fmt::format("moves[{}].peak_speed", m), *move.peak_speed))
      canvas_.add(Mark{MarkKind::dot, at, colour_of(series).line});
  }

  const TakeFigureInput& input_;
  const Feel& feel_;
  Canvas canvas_;
  TimePlot plot_;
  std::vector<std::size_t> rail_rows_;
  std::size_t hidden_inputs_ = 0;
  struct WorstRoom {
    Panel panel;
    PanelSeries series;
    Point at;
  };
  std::vector<WorstRoom> worst_room_;
  std::vector<Panel> panels_;
};

} // namespace

Figure take_figure(const TakeFigureInput& input) { return TakeFigureLayout(input).lay_out(); }

} // namespace stasis::figure
