#include "figure/shake_figure.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "core/units.hpp"
#include "figure/axis.hpp"
#include "figure/canvas.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {

void ShakeSink::begin(const Scene& scene) {
  scene_ = scene;
  reducers_.clear();
  kept_.clear();
  constexpr int columns = 716;
  const int used = scene.clock.frames > 4 * columns ? columns : 0;
  const double extent = std::max(scene.clock.time(scene.clock.frames - 1), scene.clock.usual_dt()) * (1.0 + 1e-12);
  for (const Shake& shake : scene.feel->shakes) {
    const SeriesReducer reducer(extent, used);
    reducers_.push_back({reducer, std::vector<SeriesReducer>(shake.targets.size(), reducer)});
    kept_.emplace_back();
  }
}

void ShakeSink::consume(const Block& block) {
  constexpr std::size_t most_points = 6000;
  for (std::size_t s = 0; s < kept_.size(); ++s) {
    const ShakeBlock& shake = block.shakes[s];
    Kept& kept = kept_[s];
    kept.is_felt = kept.is_felt || shake.is_felt;
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
      const double time = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
      reducers_[s].amplitude.add(time, shake.is_felt ? shake.amplitude[row] : 0.0);
      for (std::size_t t = 0; t < reducers_[s].parts.size(); ++t)
        reducers_[s].parts[t].add(time, shake.is_felt ? shake.parts[t][row] : 0.0);
      if (shake.is_felt && shake.parts.size() > 1 && kept.against.size() < most_points)
        kept.against.push_back({shake.parts[0][row], shake.parts[1][row]});
    }
  }
}

void ShakeSink::end() {
  for (std::size_t s = 0; s < kept_.size(); ++s) {
    kept_[s].amplitude = reducers_[s].amplitude.finish();
    for (SeriesReducer& part : reducers_[s].parts) kept_[s].parts.push_back(part.finish());
  }
}

namespace {

constexpr Box trace_area{104, 104, 820, 400}, spectrum_area{104, 490, 820, 738}, square_area{890, 104, 1230, 444};
constexpr double table_left = 890, table_right = 1230, table_top = 524;
constexpr double floor_decibels = -60.0;

class ShakeLayout {
public:
  explicit ShakeLayout(const ShakeFigureInput& input)
      : input_(input), feel_(*input.scene->feel), shake_(feel_.shakes[input.shake]),
        kept_(input.series->kept()[input.shake]), summary_(input.measures->shakes[input.shake]), target_(0) {
    // The first that its hits move; a kick may go another way than the shake's own.
    const auto moves = [&](std::size_t t) { return part(t).peak > 0.0; };
    for (std::size_t t = 0; t < shake_.targets.size() && !moves(target_); ++t)
      if (moves(t)) target_ = t;
    for (const ShakeTarget& target : shake_.targets) norm_ = std::hypot(norm_, target.amplitude);
  }

  Figure lay_out() {
    draw_heading();
    draw_trace();
    draw_spectrum();
    draw_square();
    draw_table();
    text(TextRole::footnote,
         "top: seconds    bottom: Hz, logarithmic    dashed: the strength that bounds it    light line: without it",
         {trace_area.left, style::footnote_y}, Align::left);
    return canvas_.finish();
  }

private:
  const ShakePart& part(std::size_t target) const { return summary_.parts[target]; }
  const Channel& channel_of(std::size_t target) const {
    return feel_.channels[shake_.targets[target].component.channel];
  }
  std::string name_of_target(std::size_t target) const {
    return component_name(channel_of(target), shake_.targets[target].component.component);
  }
  std::string unit_of(std::size_t target) const { return printable(channel_of(target).unit, 16); }
  std::string with_unit(double value, std::size_t target) const {
    return readable(value) + (unit_of(target).empty() ? "" : " " + unit_of(target));
  }

  void text(TextRole role, std::string words, Point at, Align align) {
    canvas_.add_text(styled_text(role, std::move(words), at, align));
  }

  // many: a text, where it may stand, and the number that it tells
  void note(Point at, std::string words, Colour colour, const std::string& source, double number, double least_x,
            double most_x) {
    Text made = styled_text(TextRole::annotation, std::move(words), at, Align::left);
    made.colour = colour;
    made.source = fmt::format("layers.{}.{}", shake_.name, source);
    made.number = number;
    if (!canvas_.annotate(at, std::move(made), least_x, most_x)) canvas_.figure().left_out.push_back(source);
  }

  void draw_heading() {
    text(TextRole::title,
         fitted(fmt::format("{}: {}", printable(input_.feel_name, 60), shake_.name), 1000, style::title_size, true),
         {trace_area.left, style::title_y}, Align::left);
    std::string wave(kind_of(shake_.wave));
    if (const auto spectrum = spectrum_of(shake_.wave)) wave += fmt::format(", {} Hz", concise(spectrum->centroid));
    if (summary_.half_life) wave += fmt::format(", half-life {} s", readable(*summary_.half_life));
    std::string on;
    for (std::size_t t = 0; t < shake_.targets.size(); ++t) on += (t > 0 ? ", " : "") + name_of_target(t);
    text(TextRole::subtitle, fitted(fmt::format("{}; added to {}", wave, on), 860, style::subtitle_size, false),
         {trace_area.left, style::subtitle_y}, Align::left);
    text(TextRole::subtitle,
         fitted(fmt::format("take {}{}, seed {}", input_.scene->take->name,
                            input_.variant.empty() ? "" : ", variant " + input_.variant, shake_.seed),
                330, style::subtitle_size, false),
         {square_area.right, style::subtitle_y}, Align::right);
  }

  double length() const { return std::max(input_.scene->clock.time(input_.scene->clock.frames - 1), 1e-9); }
  double x_of(double time) const { return trace_area.left + (trace_area.right - trace_area.left) * time / length(); }
  double bound_at(const Point& amplitude) const { return amplitude.y * std::fabs(shake_.targets[target_].amplitude); }

  void draw_trace() {
    double most = part(target_).peak;
    for (const Point& point : kept_.amplitude) most = std::max(most, bound_at(point));
    const Axis axis = value_axis(-most, most, 5);
    const auto y = [&](double value) {
      return trace_area.bottom - (trace_area.bottom - trace_area.top) * axis.share(value);
    };
    panel_frame(trace_area, name_of_target(target_), unit_of(target_));
    for (const double tick : axis.ticks) {
      canvas_.add_rule({trace_area.left, y(tick)}, {trace_area.right, y(tick)}, style::hairline);
      text(TextRole::tick, axis.tick_text(tick), {trace_area.left - 5, y(tick)}, Align::right);
    }
    const Axis times = time_axis(length(), 8);
    for (const double tick : times.ticks)
      if (tick <= length() * (1.0 + 1e-9))
        text(TextRole::tick, times.tick_text(tick), {x_of(tick), trace_area.bottom + 14}, Align::centre);
    canvas_.add(Line{{{trace_area.left, y(0)}, {trace_area.right, y(0)}}, style::baseline, 1.2, false, "without"});
    for (const double side : {1.0, -1.0}) {
      std::vector<Point> line;
      for (const Point& point : kept_.amplitude) line.push_back({x_of(point.x), y(side * bound_at(point))});
      canvas_.add_curve({std::move(line), style::series[1].line, 1.4, true, "envelope"}, 2);
    }
    std::vector<Point> line;
    for (const Point& point : kept_.parts[target_]) line.push_back({x_of(point.x), y(point.y)});
    canvas_.add_curve({std::move(line), style::series[0].line, 1.8, false, "shake"}, 2);
    if (part(target_).peak > 0.0) {
      const double side = value_near(part(target_).peak_at) < 0.0 ? -1.0 : 1.0;
      const Point at{x_of(part(target_).peak_at), y(side * part(target_).peak)};
      canvas_.add_mark({MarkKind::dot, at, style::series[0].line});
      note(at, "peak " + with_unit(part(target_).peak, target_), style::series[0].text,
           "on." + name_of_target(target_) + ".peak", part(target_).peak, trace_area.left, trace_area.right);
    }
    mark_decay(y);
  }

  template<class Y> void mark_decay(const Y& y) {
    if (summary_.hits == 0) return;
    const double half = *summary_.half_life + shake_.decay.attack + shake_.decay.hold, at = summary_.first_hit + half;
    if (at <= length()) {
      const Point diamond{x_of(at), y(bound_at(amplitude_near(at)))};
      canvas_.add_mark({MarkKind::diamond, diamond, style::series[1].line});
      note(diamond, fmt::format("half after {} s", readable(half)), style::series[1].text, "half_life",
           *summary_.half_life, trace_area.left, trace_area.right);
    }
    if (!summary_.quiet_after || summary_.last_hit + *summary_.quiet_after > length()) return;
    const double quiet = x_of(summary_.last_hit + *summary_.quiet_after), middle = y(0);
    canvas_.add(Line{{{quiet, middle - 34}, {quiet, middle + 34}}, style::ink, 1.0, false, "quiet"});
    note({quiet, middle - 34},
         fmt::format("under {} % after {} s", concise(100.0 * shake_.quiet_below), readable(*summary_.quiet_after)),
         style::ink, "quiet_after", *summary_.quiet_after, trace_area.left, trace_area.right);
  }

  Point amplitude_near(double time) const { return nearest_to(kept_.amplitude, time); }
  double value_near(double time) const { return nearest_to(kept_.parts[target_], time).y; }
  static Point nearest_to(const std::vector<Point>& line, double time) {
    return *std::min_element(line.begin(), line.end(),
                             [&](Point a, Point b) { return std::fabs(a.x - time) < std::fabs(b.x - time); });
  }

  void panel_frame(const Box& area, const std::string& name, const std::string& unit) {
    text(TextRole::panel_name, fitted(name, area.right - area.left - 120, style::panel_size, true),
         {area.left, area.top - 14}, Align::left);
    if (!unit.empty()) text(TextRole::panel_unit, unit, {area.right, area.top - 14}, Align::right);
    canvas_.add_rule({area.left, area.bottom}, {area.right, area.bottom}, style::baseline);
  }

  /// Power smoothed over a twelfth of an octave, in decibels under the strongest.
  void draw_spectrum() {
    panel_frame(spectrum_area, "spectrum of " + name_of_target(target_), "dB, strongest = 0");
    const double top = 0.5 * input_.scene->clock.fps, low = std::min(0.5, top / 20.0);
    const auto x = [&](double f) {
      return spectrum_area.left + (spectrum_area.right - spectrum_area.left) * std::log(f / low) / std::log(top / low);
    };
    const auto y = [&](double decibels) {
      return spectrum_area.bottom
             - (spectrum_area.bottom - spectrum_area.top) * (std::max(decibels, floor_decibels) - floor_decibels)
                   / (5.0 - floor_decibels);
    };
    for (const double decibels : {0.0, -20.0, -40.0, -60.0}) {
      canvas_.add_rule({spectrum_area.left, y(decibels)}, {spectrum_area.right, y(decibels)}, style::hairline);
      text(TextRole::tick, fmt::format("{}{:.0f}", decibels < 0 ? "\u2212" : "", -decibels == 0.0 ? 0.0 : -decibels),
           {spectrum_area.left - 5, y(decibels)}, Align::right);
    }
    for (const double decade : {0.1, 1.0, 10.0, 100.0, 1000.0})
      for (const double f : {decade, 2 * decade, 5 * decade})
        if (f >= low && f <= top) text(TextRole::tick, concise(f), {x(f), spectrum_area.bottom + 18}, Align::centre);
    const PowerSpectrum& spectrum = part(target_).spectrum;
    if (spectrum.total() <= 0.0) return;
    std::vector<double> smooth;
    constexpr int points = 240;
    for (int k = 0; k <= points; ++k) {
      const double f = low * std::pow(top / low, static_cast<double>(k) / points), half = f * 0.029;
      const auto from = static_cast<std::size_t>(std::max(0.0, std::floor((f - half) / spectrum.step)));
      const auto to =
          std::min(spectrum.power.size() - 1, static_cast<std::size_t>(std::ceil((f + half) / spectrum.step)));
      double sum = 0.0;
      for (std::size_t i = from; i <= to; ++i) sum += spectrum.power[i];
      smooth.push_back(sum / static_cast<double>(to - from + 1));
    }
    const double strongest = *std::max_element(smooth.begin(), smooth.end());
    std::vector<Point> line;
    for (int k = 0; k <= points; ++k)
      line.push_back({x(low * std::pow(top / low, static_cast<double>(k) / points)),
                      y(10.0 * std::log10(smooth[static_cast<std::size_t>(k)] / strongest + 1e-12))});
    std::vector<Point> fill = line;
    fill.push_back({spectrum_area.right, spectrum_area.bottom});
    fill.push_back({spectrum_area.left, spectrum_area.bottom});
    canvas_.add(Fill{std::move(fill), style::series[0].line, style::velocity_opacity});
    canvas_.add_curve({line, style::series[0].line, 1.8, false, "spectrum"}, 2);
    const double main = part(target_).main_frequency.value_or(0.0); // jitter has none
    if (main < low || main > top) return;
    const Point stem{x(main), spectrum_area.bottom};
    canvas_.add(Line{{stem, {stem.x, y(5.0)}}, style::series[1].line, 1.2, true, "main frequency"});
    note({stem.x, y(2.0)}, fmt::format("{} Hz, the middle of its power", readable(main)), style::series[1].text,
         "on." + name_of_target(target_) + ".main_frequency", main, spectrum_area.left, spectrum_area.right);
  }

  /// The first two components against each other: where the picture goes.
  void draw_square() {
    if (shake_.targets.size() < 2) {
      panel_frame(square_area, "one component only", "");
      return;
    }
    const bool one_unit = unit_of(0) == unit_of(1);
    panel_frame(square_area, fmt::format("{} against {}", name_of_target(0), name_of_target(1)),
                one_unit ? unit_of(0) : "");
    const auto reach = [&](std::size_t t) { return std::max(1.1 * part(t).peak, 1e-9); };
    const double across = one_unit ? std::max(reach(0), reach(1)) : reach(0), up = one_unit ? across : reach(1);
    const double middle_x = 0.5 * (square_area.left + square_area.right),
                 middle_y = 0.5 * (square_area.top + square_area.bottom),
                 half = 0.5 * (square_area.right - square_area.left);
    const auto place = [&](Point p) { return Point{middle_x + half * p.x / across, middle_y - half * p.y / up}; };
    for (const double share : {-1.0, -0.5, 0.0, 0.5, 1.0}) {
      canvas_.add_rule({middle_x + share * half, square_area.top}, {middle_x + share * half, square_area.bottom},
                       style::hairline);
      canvas_.add_rule({square_area.left, middle_y + share * half}, {square_area.right, middle_y + share * half},
                       style::hairline);
    }
    std::vector<Point> path;
    for (const Point& point : kept_.against) path.push_back(place(point));
    if (path.size() > 1) canvas_.add_curve({path, style::series[0].faint, 0.8, false, "against"}, 0.5);
    if (part(0).rms && part(1).rms) {
      std::vector<Point> circle;
      const double r = one_unit ? std::hypot(*part(0).rms, *part(1).rms) : 0.0;
      for (int k = 0; k <= 72; ++k) {
        const double angle = whole_turn * k / 72;
        circle.push_back(one_unit ? place({r * std::cos(angle), r * std::sin(angle)})
                                  : place({*part(0).rms * std::cos(angle), *part(1).rms * std::sin(angle)}));
      }
      canvas_.add_curve({std::move(circle), style::series[1].line, 1.4, true, "rms"}, 1);
      text(TextRole::tick,
           one_unit ? "dashed: RMS " + with_unit(r, 0)
                    : fmt::format("dashed: RMS {} and {}", with_unit(*part(0).rms, 0), with_unit(*part(1).rms, 1)),
           {square_area.left, square_area.bottom + 32}, Align::left);
    }
    text(TextRole::tick, fmt::format("edges: {} across, {} up", with_unit(across, 0), with_unit(up, 1)),
         {square_area.left, square_area.bottom + 14}, Align::left);
  }

  void draw_table() {
    double y = table_top;
    const auto row = [&](const std::string& name, const std::string& value) {
      text(TextRole::end_value, name, {table_left, y}, Align::left);
      Text bold = styled_text(TextRole::end_label, value, {table_right, y}, Align::right);
      canvas_.add_text(std::move(bold));
      canvas_.add_rule({table_left, y + 16}, {table_right, y + 16}, style::hairline);
      y += 32;
    };
    const ShakePart& drawn = part(target_);
    const auto or_dash = [](const std::optional<double>& value, const std::string& unit) {
      return value ? readable(*value) + " " + unit : std::string("\u2013");
    };
    row("strongest", with_unit(drawn.peak, target_));
    row("RMS while felt", drawn.rms ? with_unit(*drawn.rms, target_) : "\u2013");
    row("half-life", or_dash(summary_.half_life, "s"));
    row("main frequency", or_dash(drawn.main_frequency, "Hz"));
    row(fmt::format("quiet ({} %) after", concise(100.0 * shake_.quiet_below)), or_dash(summary_.quiet_after, "s"));
    row("too fast for this frame rate", or_dash(summary_.folded, "%"));
  }

  const ShakeFigureInput& input_;
  const Feel& feel_;
  const Shake& shake_;
  const ShakeSink::Kept& kept_;
  const ShakeSummary& summary_;
  std::size_t target_;
  double norm_ = 0.0; ///< of all amplitudes: what a kick in any direction may reach
  Canvas canvas_;
};

} // namespace

Figure shake_figure(const ShakeFigureInput& input) { return ShakeLayout(input).lay_out(); }

} // namespace stasis::figure
