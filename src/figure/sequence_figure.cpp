#include "figure/sequence_figure.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include <fmt/format.h>

#include "core/measure/camera_meter.hpp"
#include "core/text.hpp"
#include "core/units.hpp"
#include "figure/axis.hpp"
#include "figure/canvas.hpp"
#include "figure/plan_series.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {

void SequenceSink::begin(const Scene& scene) {
  scene_ = scene;
  kept_.assign(scene.feel->sequences.size(), {});
  turn_speeds_ = {};
}

void SequenceSink::consume(const Block& block) {
  const double now = scene_.clock.time(block.first);
  for (Kept& kept : kept_) {
    const bool ran = std::exchange(kept.runs, false);
    kept.has_ended_here = ran;
    // Between its last frame and this one it has come to its end, or has been skipped here.
    if (ran) kept.elapsed = std::min(now - scene_.clock.time(kept.mark->frame), kept.mark->time.total());
  }
  const double end = scene_.clock.time(block.first + block.count - 1);
  for (const SequenceMark& mark : block.sequences) {
    Kept& kept = kept_[mark.sequence];
    if (kept.mark && (kept.mark->frame != mark.frame || kept.mark->course != mark.course)) continue;
    kept.mark = mark;
    kept.runs = true;
    kept.has_ended_here = false;
    kept.elapsed = std::min(end - scene_.clock.time(mark.frame), mark.time.total());
  }
  note_turning(block);
  note_looks(block);
}

void SequenceSink::note_turning(const Block& block) {
  constexpr std::size_t most_points = 20'000;
  turn_speeds_.read(scene_.clock, block, {}, [&](double from, double to, double speed) {
    for (Kept& kept : kept_) {
      if (!kept.runs || kept.turning.size() >= most_points) continue;
      const double begin = scene_.clock.time(kept.mark->frame), since = 0.5 * (from + to) - begin;
      // A cut is no turning.
      const bool cuts = kept.mark->course->cuts_between(from - begin, to - begin);
      if (since > 0.0) kept.turning.push_back({since, cuts ? std::numeric_limits<double>::quiet_NaN() : speed});
    }
  });
}

void SequenceSink::note_looks(const Block& block) {
  if (block.eye[0].empty()) return;
  for (Kept& kept : kept_) {
    // On the frame at which it is given back the view still is where it was led.
    const std::size_t rows = kept.runs ? static_cast<std::size_t>(block.count) : kept.has_ended_here ? 1 : 0;
    for (std::size_t row = 0; row < rows; ++row) {
      const std::vector<double>& arrives = kept.mark->course->arrives;
      const double time = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
      const double since = time - scene_.clock.time(kept.mark->frame);
      // What is there at once shows a frame later.
      if (kept.looks.size() == arrives.size() || since <= 0.0) continue;
      if (place_at(kept.mark->time, since, true).at < arrives[kept.looks.size()] - instant_slack) continue;
      const Quaternion turn{block.eye[3][row], block.eye[4][row], block.eye[5][row], block.eye[6][row]};
      // Straight ahead is -z, turned.
      kept.looks.push_back(
          {-2.0 * (turn.x * turn.z + turn.w * turn.y), -(1.0 - 2.0 * (turn.x * turn.x + turn.y * turn.y))});
    }
  }
}

namespace {

constexpr Box way_area{64, 104, 700, 730}, speed_area{800, 132, 1220, 396}, turn_area{800, 482, 1220, 730};

class SequenceLayout {
public:
  explicit SequenceLayout(const SequenceFigureInput& input)
      : input_(input), feel_(*input.scene->feel), sequence_(feel_.sequences[input.sequence]),
        kept_(input.series->kept()[input.sequence]), course_(*kept_.mark->course),
        along_(feel_.channels[*course_.along]), length_(std::max(kept_.elapsed, 1e-6)) {
    constexpr int instants = 1200;
    for (int k = 0; k <= instants; ++k) {
      const double elapsed = length_ * k / instants;
      const AlongInstant now = at(elapsed);
      way_.push_back(on_plan(now.place));
      speed_.push_back({elapsed, length_of(now.velocity)});
    }
  }

  Figure lay_out() {
    draw_heading();
    if (along_.components > 1) draw_plan();
    draw_speed();
    if (!kept_.turning.empty()) draw_turning();
    canvas_.add_text(styled_text(TextRole::footnote,
                                 "numbers: the stops    dots along the way: every " + concise(dots_apart()) + " s"
                                     + (kept_.looks.empty() ? ""
                                        : is_way_of_eye()   ? "    short lines: where the view looks there"
                                                            : "    short lines: from where the view looks there"),
                                 {way_area.left, style::footnote_y}, Align::left));
    return canvas_.finish();
  }

private:
  /// `elapsed` seconds after the sequence began: in its unit, rates on the clock.
  AlongInstant at(double elapsed) const {
    const LedPlace place = place_at(kept_.mark->time, elapsed, false);
    AlongInstant now = along_at(feel_, course_, place.at, elapsed < length_ ? Side::at : Side::before);
    now.velocity = scaled(now.velocity, place.is_over ? 0.0 : place.rate);
    return now;
  }
  Point on_plan(const Components& place) const noexcept {
    return along_.components == 2 ? Point{place[0], -place[1]} : Point{place[0], place[2]};
  }
  std::string unit() const { return printable(along_.unit, 12); }
  std::string with_unit(double value, std::string_view more = "") const {
    return readable(value) + (unit().empty() ? "" : " ") + unit() + std::string(more);
  }
  void text(TextRole role, std::string words, Point at, Align align) {
    canvas_.add_text(styled_text(role, std::move(words), at, align));
  }

  void draw_heading() {
    text(TextRole::title,
         fitted(fmt::format("{}: {}", printable(input_.feel_name, 60), sequence_.name), 1100, style::title_size, true),
         {way_area.left, style::title_y}, Align::left);
    double whole = 0.0;
    for (const LegSummary& leg : input_.measures->sequences[input_.sequence].legs) whole += leg.leg.length;
    text(TextRole::subtitle,
         fmt::format("{} stops, {} along {} in {} s{}", sequence_.stops.size(), with_unit(whole), along_.name,
                     readable(length_), sequence_.steady ? ", at one speed" : ""),
         {way_area.left, style::subtitle_y}, Align::left);
    text(TextRole::subtitle,
         fitted(fmt::format("take {}{}", input_.scene->take->name,
                            input_.variant.empty() ? "" : ", variant " + input_.variant),
                330, style::subtitle_size, false),
         {turn_area.right, style::subtitle_y}, Align::right);
  }

  // --- the way, from above

  void draw_plan() {
    Point low = way_.front(), high = low;
    for (const Point& p : way_) {
      low = {std::min(low.x, p.x), std::min(low.y, p.y)};
      high = {std::max(high.x, p.x), std::max(high.y, p.y)};
    }
    constexpr double margin = 48;
    const double width = std::max(high.x - low.x, 1e-9), height = std::max(high.y - low.y, 1e-9);
    scale_ = std::min((way_area.right - way_area.left - 2 * margin) / width,
                      (way_area.bottom - way_area.top - 2 * margin) / height);
    if (!(scale_ < 1e6)) scale_ = 60.0;
    middle_ = {0.5 * (low.x + high.x), 0.5 * (low.y + high.y)};
    draw_grid();
    draw_way();
    draw_dots();
    draw_looks();
    draw_stops();
  }

  Point place(Point p) const noexcept {
    return {0.5 * (way_area.left + way_area.right) + (p.x - middle_.x) * scale_,
            0.5 * (way_area.top + way_area.bottom) + (p.y - middle_.y) * scale_};
  }

  void draw_grid() {
    const double power = std::pow(10.0, std::floor(std::log10(60.0 / scale_)));
    double step = 10.0 * power;
    for (const double factor : {5.0, 2.0, 1.0})
      if (factor * power * scale_ >= 60.0 * (1.0 - 1e-9)) step = factor * power;
    const double reach_x = 0.5 * (way_area.right - way_area.left) / scale_,
                 reach_y = 0.5 * (way_area.bottom - way_area.top) / scale_;
    for (const double x : multiples_of(step, middle_.x - reach_x, middle_.x + reach_x))
      canvas_.add_rule({place({x, 0}).x, way_area.top}, {place({x, 0}).x, way_area.bottom}, style::hairline);
    for (const double y : multiples_of(step, middle_.y - reach_y, middle_.y + reach_y))
      canvas_.add_rule({way_area.left, place({0, y}).y}, {way_area.right, place({0, y}).y}, style::hairline);
    text(TextRole::panel_name, along_.components == 2 ? "its way" : "its way, from above",
         {way_area.left, way_area.top - 14}, Align::left);
    text(TextRole::panel_unit, fmt::format("grid every {} {}", concise(step), unit()),
         {way_area.right, way_area.top - 14}, Align::right);
  }

  /// A cut leaves the way in two.
  void draw_way() {
    std::vector<Point> piece;
    const auto finish = [&] {
      if (piece.size() > 1)
        canvas_.add_curve({thinned(piece), style::series[0].line, style::moving_width, false, "way"}, 3);
      piece.clear();
    };
    for (std::size_t k = 0; k < way_.size(); ++k) {
      if (k > 0 && course_.cuts_between(course_time(speed_[k - 1].x), course_time(speed_[k].x))) finish();
      piece.push_back(place(way_[k]));
    }
    finish();
  }

  double course_time(double elapsed) const noexcept { return place_at(kept_.mark->time, elapsed, false).at; }

  double dots_apart() const noexcept {
    for (const double apart : {0.1, 0.25, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0})
      if (length_ / apart <= 40.0) return apart;
    return 600.0;
  }

  void draw_dots() {
    for (double time = 0.0; time <= length_ + 1e-9; time += dots_apart())
      canvas_.add(Fill{dot_outline(place(on_plan(at(std::min(time, length_)).place))), style::series[0].line, 1.0});
  }

  static std::vector<Point> dot_outline(Point at) {
    constexpr int corners = 16;
    constexpr double radius = 4.5; // px
    std::vector<Point> outline;
    for (int k = 0; k < corners; ++k)
      outline.push_back(
          {at.x + radius * std::cos(whole_turn * k / corners), at.y + radius * std::sin(whole_turn * k / corners)});
    return outline;
  }

  void draw_stops() {
    for (std::size_t k = 0; k < course_.arrives.size(); ++k) {
      const double when = course_.arrives[k];
      if (when > course_time(length_) + 1e-9 && kept_.mark->time.passes == 1) continue;
      const Point at = place(on_plan(along_at(feel_, course_, when, Side::at).place));
      canvas_.add_mark({MarkKind::ring, at, style::series[1].line});
      Text number = styled_text(TextRole::annotation, fmt::format("{}", k + 1), at, Align::left);
      number.colour = style::series[1].text;
      number.bold = true;
      if (!canvas_.annotate(at, std::move(number), way_area.left, way_area.right))
        canvas_.figure().left_out.push_back(fmt::format("number of stop {}", k + 1));
    }
  }

  /// True if the way is that of the eye: else it is that of what is looked at.
  bool is_way_of_eye() const noexcept { return feel_.picture.position == course_.along; }

  /// Where the view looks as it comes to a stop, or from where it is looked at.
  void draw_looks() {
    constexpr double length = 34; // px
    for (std::size_t k = 0; k < kept_.looks.size(); ++k) {
      const Point stop = place(on_plan(along_at(feel_, course_, course_.arrives[k], Side::at).place));
      const Point ahead = kept_.looks[k];
      const double size = std::hypot(ahead.x, ahead.y), side = is_way_of_eye() ? 1.0 : -1.0;
      if (size < 1e-6) continue;
      const Point end{stop.x + side * length * ahead.x / size, stop.y + side * length * ahead.y / size};
      canvas_.add(Line{{stop, end}, style::series[1].faint, 1.6, false, "look"});
    }
  }

  // --- over time

  double x_of(double time) const noexcept {
    return speed_area.left + (speed_area.right - speed_area.left) * time / length_;
  }

  /// Frame, ticks and the stops of a panel over time.
  Axis draw_panel(const Box& area, const std::string& name, const std::string& unit, double most) {
    const Axis axis = value_axis(0.0, std::max(most, 1e-9), 5);
    text(TextRole::panel_name, name, {area.left, area.top - 42}, Align::left);
    text(TextRole::panel_unit, unit, {area.right, area.top - 42}, Align::right);
    for (const double tick : axis.ticks) {
      canvas_.add_rule({area.left, y_of(area, axis, tick)}, {area.right, y_of(area, axis, tick)}, style::hairline);
      text(TextRole::tick, axis.tick_text(tick), {area.left - 6, y_of(area, axis, tick)}, Align::right);
    }
    canvas_.add_rule({area.left, y_of(area, axis, 0.0)}, {area.right, y_of(area, axis, 0.0)}, style::baseline);
    const Axis times = time_axis(length_, 6);
    for (const double tick : times.ticks)
      if (tick <= length_ * (1.0 + 1e-9))
        text(TextRole::tick, times.tick_text(tick) + " s", {x_of(tick), area.bottom + 14}, Align::centre);
    double last = -1e9;
    for (const auto& [leg, turning] : input_.measures->sequences[input_.sequence].legs) {
      const double end = leg.start + leg.duration - input_.scene->clock.time(kept_.mark->frame);
      if (end < 0.0 || end > length_ + 1e-9) continue;
      Line stop{{{x_of(end), area.top}, {x_of(end), area.bottom}}, style::baseline, 1.0, true, "stop"};
      canvas_.avoid(stop.points);
      canvas_.add(std::move(stop));
      if (x_of(end) - last < 16) continue;
      last = x_of(end);
      Text number = styled_text(TextRole::annotation, fmt::format("{}", leg.to), {last, area.top - 10}, Align::centre);
      number.colour = style::series[1].text;
      number.bold = true;
      canvas_.add_text(std::move(number));
    }
    return axis;
  }

  static double y_of(const Box& area, const Axis& axis, double value) noexcept {
    return area.bottom - (area.bottom - area.top - 12) * axis.share(value);
  }

  /// A line, and its peak in numbers. A frame with a cut, which has no turning speed, interrupts the line.
  // many: where, what, in which colours, and what it is
  void draw_line(const Box& area, const Axis& axis, const std::vector<Point>& points, Colour colour, Colour words,
                 const std::string& series, const std::string& unit) {
    std::vector<Point> piece;
    Point peak{0.0, -1.0};
    const auto finish = [&] {
      if (piece.size() > 1) canvas_.add_curve({thinned(piece), colour, 2.0, false, series}, 2);
      piece.clear();
    };
    for (const Point& p : points) {
      if (!std::isfinite(p.y)) {
        finish();
        continue;
      }
      piece.push_back({x_of(p.x), y_of(area, axis, p.y)});
      if (p.y > peak.y) peak = p;
    }
    finish();
    if (peak.y <= 0.0) return;
    Text note = styled_text(TextRole::annotation, readable(peak.y) + " " + unit, {}, Align::left);
    note.colour = words;
    note.source = series;
    note.number = peak.y;
    if (!canvas_.annotate({x_of(peak.x), y_of(area, axis, peak.y)}, std::move(note), area.left, area.right))
      canvas_.figure().left_out.push_back(series);
  }

  void draw_speed() {
    double most = 0.0;
    for (const Point& p : speed_) most = std::max(most, p.y);
    const std::string per_second = (unit().empty() ? "" : unit()) + "/s";
    const Axis axis = draw_panel(speed_area, "speed along " + along_.name, per_second, most);
    draw_line(speed_area, axis, speed_, style::series[0].line, style::series[0].text, "top_speed", per_second);
  }

  void draw_turning() {
    double most = 0.0;
    for (const Point& p : kept_.turning)
      if (std::isfinite(p.y)) most = std::max(most, p.y);
    constexpr double seen = 1e-6; // deg/s
    if (most < seen)
      return text(TextRole::panel_name, "the view does not turn", {turn_area.left, turn_area.top - 42}, Align::left);
    const Axis axis = draw_panel(turn_area, "how fast the view turns", "deg/s", most);
    draw_line(turn_area, axis, kept_.turning, style::series[2].line, style::series[2].text, "top_turn_speed", "deg/s");
  }

  const SequenceFigureInput& input_;
  const Feel& feel_;
  const Sequence& sequence_;
  const SequenceSink::Kept& kept_;
  const SequenceCourse& course_;
  const Channel& along_;
  double length_; // s
  std::vector<Point> way_;
  std::vector<Point> speed_; // elapsed s, unit/s
  double scale_ = 1.0;
  Point middle_{};
  Canvas canvas_;
};

} // namespace

Figure sequence_figure(const SequenceFigureInput& input) { return SequenceLayout(input).lay_out(); }

} // namespace stasis::figure
