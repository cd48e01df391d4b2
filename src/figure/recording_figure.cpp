#include "figure/recording_figure.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/measure/measure_registry.hpp"
#include "core/text.hpp"
#include "figure/axis.hpp"
#include "figure/canvas.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"
#include "figure/time_plot.hpp"

namespace stasis::figure {
namespace {

class RecordingDrawer {
public:
  RecordingDrawer(const std::string& file, const RecordedRows& rows, const RecordingMeasures& found)
      : file_(file), rows_(rows), found_(found), channel_(found.feel.channels[0]), first_(rows.times.front()),
        plot_(canvas_, std::max(rows.times.back() - first_, 1e-9)) {
    double low = 1e300, high = -1e300, fastest = 0.0, slowest = 0.0;
    for (const auto& values : rows.values) {
      low = std::min(low, *std::min_element(values.begin(), values.end()));
      high = std::max(high, *std::max_element(values.begin(), values.end()));
    }
    for (const PathSection& section : found.path)
      for (const PathNode& node : section) {
        fastest = std::max(fastest, speed_of(node));
        slowest = std::min(slowest, speed_of(node));
      }
    upper_ = {style::panels_top, speed_top - 60, value_axis(low, high, 7)};
    lower_ = {speed_top, style::last_baseline, value_axis(slowest, fastest, 4)};
  }

  Figure draw() {
    const RowTimes& times = found_.row_times;
    double noise = 0.0;
    for (const RowCleaning& clean : found_.cleaning) noise = std::max(noise, clean.noise);
    plot_.draw_heading(
        fmt::format("{}: as it was recorded", channel_.name),
        fmt::format("{}: {} rows, {} apart, {}", file_, rows_.size(), amount_in(1000.0 * times.usual, "ms"),
                    found_.is_exact
                        ? "without noise"
                        : "noise about " + readable(noise, 2) + (channel_.unit.empty() ? "" : " " + channel_.unit)),
        "");
    plot_.draw_frame(upper_, channel_.name, channel_.unit);
    plot_.draw_frame(lower_, is_one() ? "velocity" : "speed", channel_.unit + "/s");
    plot_.draw_foot("dots: recorded    line: the path behind them    shaded: at rest",
                    first_ == 0.0 ? "seconds" : fmt::format("seconds after {} s", concise(first_)));
    draw_rests();
    draw_dots();
    draw_path();
    for (std::size_t k = 0; k < found_.measures.moves.size(); ++k) tell_move(k);
    return canvas_.finish();
  }

private:
  static constexpr double speed_top = 580.0;
  static constexpr std::size_t most_dots = 600;

  bool is_one() const noexcept { return channel_.components == 1; }
  double speed_of(const PathNode& node) const {
    return is_one() ? node.state[0].rate : length_of({node.state[0].rate, node.state[1].rate, node.state[2].rate});
  }
  double x(double time) const { return plot_.x(time - first_); }

  /// Where it stands, as bands under all else.
  void draw_rests() {
    for (const auto& [from, to] : found_.rests)
      for (const PlotArea* area : {&upper_, &lower_})
        canvas_.add(Fill{{{x(from), area->top}, {x(to), area->top}, {x(to), area->bottom}, {x(from), area->bottom}},
                         style::wash,
                         0.6});
  }

  void draw_dots() {
    const std::size_t each = std::max<std::size_t>(1, rows_.size() / most_dots);
    for (std::size_t c = 0; c < channel_.components; ++c)
      for (std::size_t k = 0; k < rows_.size(); k += each)
        canvas_.add(Mark{MarkKind::dot, {x(rows_.times[k]), upper_.y(rows_.values[c][k])}, style::series[c].faint});
  }

  void draw_path() {
    std::vector<Point> speed, middles;
    for (std::size_t c = 0; c < channel_.components; ++c) {
      std::vector<Point> line;
      for (const PathSection& section : found_.path)
        for (const PathNode& node : section) {
          line.push_back({x(node.time), upper_.y(node.state[c].value)});
          if (c == 0) speed.push_back({x(node.time), lower_.y(speed_of(node))});
        }
      middles.push_back(line[line.size() / 2]);
      canvas_.add_curve({std::move(line), style::series[c].line, 1.8, false,
                         is_one() ? channel_.name : channel_.name + component_suffixes[c]},
                        2);
    }
    canvas_.add_curve({std::move(speed), style::series[0].line, 1.8, false, channel_.name + " speed"}, 2);
    for (std::size_t c = 0; c < channel_.components && !is_one(); ++c) // beside all lines
      plot_.annotate(middles[c], fitted(component_names(channel_)[c], 160, style::small_size, false), channel_.name,
                     0.0, style::series[c].text);
  }

  /// Of the first few moves: where it sets off, settles, is fastest.
  void tell_move(std::size_t k) {
    const Move& move = found_.measures.moves[k];
    constexpr std::size_t most = 4;
    if (k >= most) return;
    const std::string source = fmt::format("moves[{}].", k);
    const Point start{x(move.start), upper_.y(move.from[0])};
    canvas_.add_mark({MarkKind::diamond, start, style::ink});
    plot_.annotate(start, fmt::format("sets off at {} s", concise(move.start)), source + "start", move.start);
    if (is_told(k, &Move::peak_speed) && move.peak_speed_time)
      plot_.annotate(
          {x(move.start + *move.peak_speed_time), lower_.y(is_one() ? move.peak_velocity : *move.peak_speed)},
          fmt::format("at most {} {}/s", told(k, &Move::peak_speed), channel_.unit), source + "peak_speed",
          *move.peak_speed);
    if (is_told(k, &Move::overshoot) && move.peak_time && *move.overshoot > 0.0) {
      const Point peak{x(move.start + *move.peak_time), upper_.y(move.peak_value[0])};
      canvas_.add_mark({MarkKind::ring, peak, style::ink});
      plot_.annotate(peak, fmt::format("{} % beyond", told(k, &Move::overshoot)), source + "overshoot",
                     *move.overshoot);
    }
    if (is_told(k, &Move::settling_time) && *move.settling_time > 0.0) {
      const Point settled{x(move.start + *move.settling_time), upper_.y(move.settled_value[0])};
      canvas_.add_mark({MarkKind::ring, settled, style::ink});
      plot_.annotate(settled, fmt::format("settled after {} s", told(k, &Move::settling_time)),
                     source + "settling_time", *move.settling_time);
    }
  }

  /// The half width of a measure of a move.
  double half_width(std::size_t move, std::size_t measure) const {
    return found_.move_errors.empty() ? 0.0 : found_.move_errors[move][measure].value_or(0.0);
  }
  static std::size_t index_of(std::optional<double> Move::*measure) {
    std::size_t index = 0;
    while (move_measures()[index].value != measure) ++index;
    return index;
  }
  /// True if a move has a measure, and noise does not hide it.
  bool is_told(std::size_t move, std::optional<double> Move::*measure) const {
    const std::size_t index = index_of(measure);
    const auto value = found_.measures.moves[move].*measure;
    return value && !is_hidden_by_noise(move_measures()[index], *value, half_width(move, index));
  }
  /// A measure of a move that has it, with what noise leaves open.
  std::string told(std::size_t move, std::optional<double> Move::*measure) const {
    return with_half_width(*(found_.measures.moves[move].*measure), half_width(move, index_of(measure)));
  }

  const std::string& file_;
  const RecordedRows& rows_;
  const RecordingMeasures& found_;
  const Channel& channel_;
  double first_;
  Canvas canvas_;
  TimePlot plot_;
  PlotArea upper_, lower_;
};

} // namespace

Figure recording_figure(const std::string& file, const RecordedRows& rows, const RecordingMeasures& found) {
  return RecordingDrawer(file, rows, found).draw();
}

} // namespace stasis::figure
