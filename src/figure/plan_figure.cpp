#include "figure/plan_figure.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "core/text.hpp"
#include "core/units.hpp"
#include "core/view/obstacle_plan.hpp"
#include "figure/axis.hpp"
#include "figure/canvas.hpp"
#include "figure/plan_panels.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

constexpr Box plan_area{64, 84, 812, 752};
constexpr double panels_right = 1232;
constexpr Colour struggle = "#F8E3DA", eye_line = "#97A5AB";
/// The way is said to be hard where the lag is at least this share of its worst.
constexpr double hard_share = 0.75;

/// The least of 1, 2, 5, 10, 20, ... that is at least `least`.
double round_up(double least) noexcept {
  const double power = std::pow(10.0, std::floor(std::log10(least)));
  for (const double factor : {1.0, 2.0, 5.0})
    if (factor * power >= least * (1.0 - 1e-9)) return factor * power;
  return 10.0 * power;
}

struct Extent {
  double left = std::numeric_limits<double>::infinity(), right = -left, low = left, high = -left;

  void add(Point p) noexcept {
    left = std::min(left, p.x);
    right = std::max(right, p.x);
    low = std::min(low, p.y);
    high = std::max(high, p.y);
  }
};

class PlanLayout {
public:
  explicit PlanLayout(const PlanFigureInput& input)
      : input_(input), frames_(input.plan->frames()), channel_(input.scene->feel->channels[*input.plan->channel()]),
        follow_(input.measures->channels[*input.plan->channel()].follow) {}

  Figure lay_out() {
    set_scale();
    draw_heading();
    draw_grid();
    draw_obstacles();
    draw_struggle();
    draw_eye();
    draw_outlines();
    draw_whiskers();
    draw_paths();
    draw_rings();
    PlanPanels(canvas_, input_).draw();
    label_paths();
    label_obstacles();
    draw_foot();
    return canvas_.finish();
  }

private:
  const Feel& feel() const { return *input_.scene->feel; }
  double take_length() const { return std::max(frames_.back().time, 1e-9); }
  std::string unit() const { return channel_.unit.empty() ? "" : " " + printable(channel_.unit, 12); }
  std::string subject_name() const {
    return feel().tracks[played_track(*input_.scene->take, channel_.follow->track)].name;
  }

  void set_scale() {
    Extent extent;
    for (const PlanFrame& frame : frames_) {
      extent.add(frame.value);
      extent.add(frame.wish);
      if (frame.has_subject) extent.add(frame.subject);
      if (frame.has_eye) extent.add(frame.eye);
    }
    for (const std::size_t k : outlined_frames()) {
      const PlanFrame& frame = frames_[k];
      extent.add({frame.value.x - frame.half_width, frame.value.y - frame.half_height});
      extent.add({frame.value.x + frame.half_width, frame.value.y + frame.half_height});
    }
    const double width = std::max(extent.right - extent.left, 1e-9), height = std::max(extent.high - extent.low, 1e-9);
    constexpr double margin = 46;
    scale_ = std::min((plan_area.right - plan_area.left - 2 * margin) / width,
                      (plan_area.bottom - plan_area.top - 2 * margin) / height);
    if (!(scale_ < 1e6)) scale_ = 60.0; // nothing moves
    middle_ = {0.5 * (extent.left + extent.right), 0.5 * (extent.low + extent.high)};
  }

  Point place(Point p) const noexcept {
    const double up = input_.plan->is_flat() ? -1.0 : 1.0;
    return {0.5 * (plan_area.left + plan_area.right) + (p.x - middle_.x) * scale_,
            0.5 * (plan_area.top + plan_area.bottom) + up * (p.y - middle_.y) * scale_};
  }

  void text(TextRole role, std::string words, Point at, Align align) {
    canvas_.add_text(styled_text(role, std::move(words), at, align));
  }

  void draw_heading() {
    const std::string variant = input_.variant.empty() ? "" : ", variant " + input_.variant;
    const std::string title =
        fmt::format("{}: {} after {}", printable(input_.feel_name, 60), channel_.name, subject_name());
    text(TextRole::title, fitted(title, plan_area.right - plan_area.left, style::title_size, true),
         {plan_area.left, style::title_y}, Align::left);
    text(TextRole::subtitle,
         fmt::format("{}, grid every {}{}", input_.plan->is_flat() ? "the plane of the view" : "seen from above",
                     concise(grid_step()), unit()),
         {plan_area.left, style::subtitle_y}, Align::left);
    text(TextRole::subtitle,
         fitted(
             fmt::format("take {}{}, {} s", input_.scene->take->name, variant, concise(input_.scene->take->length, 6)),
             400, style::subtitle_size, false),
         {panels_right, style::subtitle_y}, Align::right);
  }

  double grid_step() const noexcept { return round_up(42.0 / scale_); }

  void draw_grid() {
    const double step = grid_step(), reach_x = 0.5 * (plan_area.right - plan_area.left) / scale_,
                 reach_y = 0.5 * (plan_area.bottom - plan_area.top) / scale_;
    for (const double x : multiples_of(step, middle_.x - reach_x, middle_.x + reach_x))
      canvas_.add_rule({place({x, 0}).x, plan_area.top}, {place({x, 0}).x, plan_area.bottom}, style::hairline);
    for (const double y : multiples_of(step, middle_.y - reach_y, middle_.y + reach_y))
      canvas_.add_rule({plan_area.left, place({0, y}).y}, {plan_area.right, place({0, y}).y}, style::hairline);
    const double y = plan_area.bottom - 12, from = plan_area.left + 12, to = from + step * scale_;
    canvas_.add_curve({{{from, y}, {to, y}}, style::ink, 3.5, false, "scale"}, 4);
    text(TextRole::tick, concise(step) + unit(), {to + 8, y}, Align::left);
  }

  /// What lies on the plan, in units.
  PlanBounds bounds() const noexcept {
    const double half_x = 0.5 * (plan_area.right - plan_area.left) / scale_,
                 half_y = 0.5 * (plan_area.bottom - plan_area.top) / scale_;
    return {middle_.x - half_x, middle_.x + half_x, middle_.y - half_y, middle_.y + half_y};
  }

  void draw_obstacles() {
    if (input_.plan->is_flat()) return;
    obstacles_ = obstacles_on_plan(feel(), *input_.scene->take, bounds(), frames_.front().level);
    for (const PlanObstacle& one : obstacles_)
      for (const std::vector<PlanPlace>& piece : one.pieces) {
        std::vector<Point> drawn;
        for (const PlanPlace& p : piece) drawn.push_back(place({p[0], p[1]}));
        if (one.is_line)
          canvas_.add_curve({drawn, style::bar, 4.0, false, "wall " + one.name}, 2.5);
        else
          canvas_.add(Fill{drawn, style::wall, 1.0});
        if (one.is_line) continue;
        drawn.push_back(drawn.front());
        canvas_.add(Line{std::move(drawn), style::bar, 1.0, false, "wall " + one.name});
      }
  }

  /// The name stands in the middle of an obstacle, or beside it; and how far the eye was through one.
  void label_obstacles() {
    if (const auto distance = feel().picture.distance; distance && feel().channels[*distance].obstacles) {
      const FollowSummary& room = input_.measures->channels[*distance].follow;
      const PlanFrame& worst = nearest_frame(room.worst_penetration_at);
      if (*room.penetration > 0.0 && worst.has_eye)
        note(place(worst.eye),
             fmt::format("{} through {}", amount_in(*room.penetration, feel().channels[*distance].unit),
                         room.worst_obstacle ? feel().obstacles[*room.worst_obstacle].name : "an obstacle"),
             "penetration", *room.penetration, plan_area.left, plan_area.right, style::series[1].text);
    }
    for (const PlanObstacle& one : obstacles_) {
      Point sum{0, 0};
      for (const PlanPlace& p : one.pieces.front()) sum = {sum.x + p[0], sum.y + p[1]};
      const double count = static_cast<double>(one.pieces.front().size());
      const Point at = place({sum.x / count, sum.y / count});
      Text name = styled_text(TextRole::annotation, one.name, at, Align::centre);
      name.colour = style::muted;
      name.series = "wall " + one.name;
      if (!canvas_.add_text_if_free(name, 2) && !canvas_.annotate(at, std::move(name), plan_area.left, plan_area.right))
        canvas_.figure().left_out.push_back("name of " + one.name);
    }
  }

  double worst_lag() const noexcept { return follow_.lag_distance.value_or(0.0); }

  bool is_hard(const PlanFrame& frame) const noexcept {
    return worst_lag() > 0.0 && !frame.catches_up && frame.lag >= hard_share * worst_lag();
  }

  /// Stretches of the path in which the lag is near its worst lie on a pale band.
  void draw_struggle() {
    if (worst_lag() <= 0.0) return;
    std::vector<Point> band;
    const auto finish = [&] {
      if (band.size() > 1) canvas_.add(Line{band, struggle, 13, false, "hard"});
      band.clear();
    };
    for (const PlanFrame& frame : frames_) {
      if (is_hard(frame))
        band.push_back(place(frame.value));
      else
        finish();
    }
    finish();
  }

  template<class Take> void draw_path(const Take& take, Colour colour, double width, const std::string& series) {
    std::vector<Point> points;
    const auto finish = [&] {
      if (points.size() > 1) canvas_.add_curve({thinned(points), colour, width, false, series}, 0.5 * width + 1);
      points.clear();
    };
    for (const PlanFrame& frame : frames_) {
      const auto point = take(frame);
      // What is followed may be another thing from here on; a view that is cut goes through nothing in between.
      if (!point || (series == "subject" ? frame.jumped : frame.is_cut)) finish();
      if (point) points.push_back(place(*point));
    }
    finish();
  }

  void draw_eye() {
    draw_path([](const PlanFrame& f) { return f.has_eye ? std::optional(f.eye) : std::nullopt; }, eye_line, 1.2, "eye");
    draw_path([](const PlanFrame& f) { return f.has_eye && f.is_through ? std::optional(f.eye) : std::nullopt; },
              style::series[1].text, 3.4, "through");
  }

  void draw_paths() {
    draw_path([](const PlanFrame& f) { return f.has_subject ? std::optional(f.subject) : std::nullopt; },
              style::series[1].line, 1.6, "subject");
    draw_path([](const PlanFrame& f) { return std::optional(f.value); }, style::series[0].line, style::moving_width,
              "value");
    add_arrows([](const PlanFrame& f) { return f.value; }, style::series[0].line);
    add_arrows([](const PlanFrame& f) { return f.subject; }, style::series[1].line);
  }

  /// Heads of arrows along a path: which way it goes.
  template<class Take> void add_arrows(const Take& take, Colour colour) {
    double length = 0.0;
    for (std::size_t k = 1; k < frames_.size(); ++k)
      length += distance(place(take(frames_[k - 1])), place(take(frames_[k])));
    constexpr double apart = 210;
    const double pitch = length / std::max(1.0, std::round(length / apart));
    double way = 0.0, next = 0.5 * pitch;
    for (std::size_t k = 1; k < frames_.size(); ++k) {
      const Point from = place(take(frames_[k - 1])), to = place(take(frames_[k]));
      way += distance(from, to);
      if (way < next || distance(from, to) < 0.05 || distance(from, to) > 40 || frames_[k].jumped || frames_[k].is_cut)
        continue;
      next += pitch;
      const double x = (to.x - from.x) / distance(from, to), y = (to.y - from.y) / distance(from, to);
      constexpr double long_side = 11, half = 6;
      canvas_.add(Fill{{{to.x + long_side * x, to.y + long_side * y},
                        {to.x - half * y, to.y + half * x},
                        {to.x + half * y, to.y - half * x}},
                       colour,
                       1.0});
    }
  }

  /// Frames at regular times, `apart` s.
  std::vector<std::size_t> frames_every(double apart) const {
    std::vector<std::size_t> out;
    double next = 0.0;
    for (std::size_t k = 0; k < frames_.size(); ++k)
      if (frames_[k].time >= next - 1e-9) {
        out.push_back(k);
        next += apart;
      }
    return out;
  }

  void draw_whiskers() {
    constexpr double most = 60, shortest = 0.25;
    const double apart = std::max(shortest, round_up(take_length() / most));
    for (const std::size_t k : frames_every(apart)) {
      const PlanFrame& frame = frames_[k];
      const Point from = place(frame.value), to = place(frame.wish);
      // Where it is cut next, its wish is already where it will be.
      const bool cuts_next = k + 1 < frames_.size() && frames_[k + 1].is_cut;
      if (distance(from, to) < 2.0 || cuts_next) continue;
      const bool hard = is_hard(frame);
      canvas_.add(
          Line{{from, to}, hard ? style::series[1].line : style::series[1].faint, hard ? 1.8 : 1.1, false, "wish"});
      canvas_.add(Fill{dot_outline(to, hard ? 2.6 : 2.0), hard ? style::series[1].line : style::series[1].faint, 1.0});
    }
    whiskers_apart_ = apart;
  }

  static std::vector<Point> dot_outline(Point at, double radius) {
    std::vector<Point> outline;
    constexpr int corners = 10;
    for (int k = 0; k < corners; ++k) {
      const double angle = whole_turn * k / corners;
      outline.push_back({at.x + radius * std::cos(angle), at.y + radius * std::sin(angle)});
    }
    return outline;
  }

  void draw_rings() {
    constexpr double most_numerals = 14;
    const double apart = std::max(1.0, round_up(take_length() / most_numerals));
    std::vector<Text> numerals;
    for (const std::size_t k : frames_every(apart)) {
      const Point at = place(frames_[k].value);
      canvas_.add_mark({MarkKind::ring, at, style::series[0].line});
      if (frames_[k].has_subject) canvas_.add_mark({MarkKind::ring, place(frames_[k].subject), style::series[1].line});
      rings_.push_back(k);
    }
  }

  /// The frames of three moments.
  std::vector<std::size_t> outlined_frames() const {
    std::vector<std::size_t> chosen;
    for (const double share : {1.0 / 6, 0.5, 5.0 / 6})
      chosen.push_back(static_cast<std::size_t>(share * static_cast<double>(frames_.size() - 1)));
    return chosen;
  }

  /// Dead zone, picture and lines of sight at three moments.
  void draw_outlines() {
    for (const std::size_t k : outlined_frames()) {
      const PlanFrame& frame = frames_[k];
      if (frame.zone.x > 0.0 || frame.zone.y > 0.0) {
        const Point middle{frame.goal.x
                               - channel_.follow->offset[0] * (channel_.follow->offset_frame == AxisFrame::world),
                           frame.goal.y};
        add_outline(middle, frame.zone.x, frame.zone.y, style::ink, true, "dead zone");
      }
      if (frame.half_width > 0.0 && input_.plan->is_flat())
        add_outline(frame.value, frame.half_width, frame.half_height, style::baseline, false, "picture");
      if (!frame.has_eye || (frame.edges[0].x == 0.0 && frame.edges[0].y == 0.0)) continue;
      const double reach = 1.25 * distance(frame.eye, frame.value);
      for (const Point& edge : frame.edges) {
        const auto ray = line_within({frame.eye.x, frame.eye.y},
                                     {frame.eye.x + reach * edge.x, frame.eye.y + reach * edge.y}, bounds());
        if (ray.empty()) continue;
        Line sight{{place({ray[0][0], ray[0][1]}), place({ray[1][0], ray[1][1]})},
                   style::series[0].faint,
                   1.0,
                   false,
                   "sight"};
        canvas_.avoid(sight.points);
        canvas_.add(std::move(sight));
      }
    }
  }

  // many: a shape and how it looks
  void add_outline(Point middle, double half_x, double half_y, Colour colour, bool dashed, const char* series) {
    const bool ellipse = dashed && channel_.follow->zone && channel_.follow->zone->is_ellipse;
    std::vector<Point> outline;
    if (ellipse)
      for (int i = 0; i <= 36; ++i)
        outline.push_back(place(
            {middle.x + half_x * std::cos(i * whole_turn / 36), middle.y + half_y * std::sin(i * whole_turn / 36)}));
    else
      for (const auto& [x, y] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}, {-1, -1}})
        outline.push_back(place({middle.x + x * half_x, middle.y + y * half_y}));
    canvas_.add_curve({std::move(outline), colour, 1.1, dashed, series}, 1.0);
  }

  // many: a text, where it may stand, and the number that it tells
  void note(Point at, std::string words, const std::string& source, double number, double least_x, double most_x,
            Colour colour = {}) {
    Text made = styled_text(TextRole::annotation, std::move(words), at, Align::left);
    made.source = fmt::format("follow.{}.{}", channel_.name, source);
    made.number = number;
    if (!colour.empty()) made.colour = colour;
    if (!canvas_.annotate(at, std::move(made), least_x, most_x)) canvas_.figure().left_out.push_back(source);
  }

  const PlanFrame& nearest_frame(double time) const { return frame_nearest(frames_, time); }

  void label_paths() {
    if (follow_.lag_distance && *follow_.lag_distance > 0.0) {
      note(place(nearest_frame(follow_.worst_lag_at).value),
           fmt::format("lags most here: {}{}", readable(*follow_.lag_distance), unit()), "lag_distance",
           *follow_.lag_distance, plan_area.left, plan_area.right, style::series[1].text);
    }
    const auto last_with = [&](bool PlanFrame::*has) -> const PlanFrame& {
      for (auto frame = frames_.rbegin(); frame != frames_.rend(); ++frame)
        if ((*frame).*has) return *frame;
      return frames_.back();
    };
    const auto end_label = [&](Point at, const std::string& name, Colour colour) {
      Text made = styled_text(TextRole::end_label, fitted(name, 160, style::label_size, true), at, Align::left);
      made.colour = colour;
      made.series = name;
      if (!canvas_.annotate(at, std::move(made), plan_area.left, plan_area.right + 60))
        canvas_.figure().left_out.push_back("label of " + name);
    };
    end_label(place(frames_.back().value), channel_.name, style::series[0].text);
    const PlanFrame& seen_last = last_with(&PlanFrame::has_subject);
    if (seen_last.has_subject) end_label(place(seen_last.subject), subject_name(), style::series[1].text);
    const PlanFrame& eye_last = last_with(&PlanFrame::has_eye);
    if (eye_last.has_eye) end_label(place(eye_last.eye), "eye", style::muted);
    for (const std::size_t k : rings_) {
      Text numeral = styled_text(TextRole::annotation, fmt::format("{} s", concise(frames_[k].time)),
                                 place(frames_[k].value), Align::left);
      numeral.colour = style::series[0].text;
      canvas_.annotate(place(frames_[k].value), std::move(numeral), plan_area.left, plan_area.right);
    }
  }

  void draw_foot() {
    const std::string apart = concise(whiskers_apart_);
    std::string words = fmt::format("heavy: {}    thin: {}    fine lines to dots: from where it is to its wish, every "
                                    "{} s    pale band: lag near its worst",
                                    channel_.name, subject_name(), apart);
    if (channel_.follow->zone) words += "    dashed: dead zone";
    const bool goes_through =
        std::any_of(frames_.begin(), frames_.end(), [](const PlanFrame& frame) { return frame.is_through; });
    if (goes_through) words += "    red: the eye is through an obstacle";
    if (frames_.front().has_eye) words += "    rays: what the eye sees";
    text(TextRole::footnote, fitted(words, style::page_right - plan_area.left - 20, style::small_size, false),
         {plan_area.left, style::footnote_y}, Align::left);
  }

  const PlanFigureInput& input_;
  const std::vector<PlanFrame>& frames_;
  const Channel& channel_;
  const FollowSummary& follow_;
  Canvas canvas_;
  double scale_ = 1.0, whiskers_apart_ = 0.5;
  Point middle_{};
  std::vector<std::size_t> rings_;
  std::vector<PlanObstacle> obstacles_;
};

} // namespace

Figure plan_figure(const PlanFigureInput& input) { return PlanLayout(input).lay_out(); }

} // namespace stasis::figure
