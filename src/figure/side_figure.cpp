#include "figure/side_figure.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "core/unbounded.hpp"
#include "figure/axis.hpp"
#include "figure/canvas.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

/// The eye from what is looked at, as seen from the side: out along the level, and up.
std::optional<Point> from_the_side(const CameraView& view) {
  if (view.is_flat || !view.eye || !view.focus) return std::nullopt;
  const Components away = plus(*view.eye, *view.focus, -1.0);
  return Point{std::hypot(away[0], away[2]), away[1]};
}

constexpr const style::SeriesColour& designed = style::series[0];
constexpr const style::SeriesColour& played = style::series[1];
constexpr double panel_left = 760, panel_right = 1200, side_right = 640;

/// Where the eye is and how it looks with the driver at a value and all else at rest.
struct Station {
  double driver;
  Point eye, upper, lower; ///< the edges of the picture as directions of unit length, out and up
  bool sees = false;
};

class SideLayout {
public:
  explicit SideLayout(const SideFigureInput& input)
      : input_(input), feel_(*input.scene->feel), profile_(feel_.profiles.front()) {}

  Figure lay_out() {
    heading();
    if (make_way())
      draw_side();
    else
      say_no_side();
    draw_panels();
    return canvas_.finish();
  }

private:
  const Channel& driver() const { return feel_.channels[profile_.driver.channel]; }
  double low() const { return ends().first; }
  double high() const { return ends().second; }
  std::pair<double, double> ends() const {
    double least = unbounded, most = -unbounded;
    for (const Profile::Driven& one : profile_.driven)
      for (const ProfileKnot& knot : one.curve->knots()) {
        least = std::min(least, knot.at);
        most = std::max(most, knot.at);
      }
    return {least, most};
  }

  // many: a text, where it may stand, and how it looks
  void text(TextRole role, const std::string& words, Point at, Align align, double width, Colour colour = {},
            std::optional<double> number = {}, const std::string& source = {}) {
    const RoleStyle look = role_style(role);
    Text out = styled_text(role, fitted(words, width, look.size, look.bold), at, align);
    if (!colour.empty()) out.colour = colour;
    out.number = number;
    out.source = source;
    canvas_.add_text(std::move(out));
  }

  static std::string with_unit(double value, const Channel& channel) {
    return concise(value) + (channel.unit.empty() ? "" : " " + printable(channel.unit, 16));
  }

  void heading() {
    const std::string driver_name = component_name(driver(), profile_.driver.component);
    text(TextRole::title,
         fmt::format("{}: from {} at {} to {}", profile_.name, driver_name, with_unit(low(), driver()),
                     with_unit(high(), driver())),
         {style::plot_left, style::title_y}, Align::left, 1100);
    text(TextRole::subtitle,
         fmt::format("{}{}, take {}; roundness {}", printable(input_.title, 80),
                     input_.variant.empty() ? "" : ", variant " + printable(input_.variant, 40),
                     input_.scene->take->name, concise(profile_.roundness)),
         {style::plot_left, style::subtitle_y}, Align::left, 1100);
    text(TextRole::end_label, "as designed", {style::plot_left, 84}, Align::left, 200, designed.text);
    text(TextRole::end_label, "in this take", {style::plot_left + 110, 84}, Align::left, 200, played.text);
    text(TextRole::footnote,
         "diamond: a knot    rays: the picture's upper and lower edge    ticks: equal steps of the driver",
         {style::plot_left, style::footnote_y}, Align::left, 900);
  }

  Station station(double at) const {
    const auto& position = feel_.picture.position;
    const bool is_placed = position && feel_.channels[*position].is_placed;
    const ReadComponent designed_value = [&](ComponentRef read) {
      if (read == profile_.driver) return at;
      for (const Profile::Driven& one : profile_.driven)
        if (one.component == read) return one.curve->value_at(at);
      if (is_placed && read.channel == *position) return seated_eye(feel_, designed_value)[read.component];
      return feel_.channels[read.channel].rest[read.component];
    };
    const CameraView view = camera_view(feel_, designed_value);
    Station out{at, {}, {}, {}, false};
    const auto eye = from_the_side(view);
    if (!eye) return out;
    out.eye = *eye;
    out.sees = true;
    if (!view.half_height) return out;
    const auto edge = [&](double up) {
      const Components ray = plus(scaled(view.axes.back, -1.0), view.axes.up, up * *view.half_height);
      // Seen from the side the eye stands out to the right and looks to the left.
      const double level = -std::copysign(std::hypot(ray[0], ray[2]), -dot(ray, level_back(view)));
      const double length = std::hypot(level, ray[1]);
      return Point{level / length, ray[1] / length};
    };
    out.upper = edge(1.0);
    out.lower = edge(-1.0);
    return out;
  }

  /// The way from what is looked at to the eye, along the level.
  static Components level_back(const CameraView& view) {
    Components away = plus(*view.eye, *view.focus, -1.0);
    away[1] = 0.0;
    return away;
  }

  /// The designed way; false where the picture has no eye, or it stands still.
  bool make_way() {
    constexpr int steps = 160;
    for (int k = 0; k <= steps; ++k) way_.push_back(station(low() + (high() - low()) * k / steps));
    if (!way_.front().sees) return false;
    const auto moved = [&](const Station& s) {
      return std::hypot(s.eye.x - way_.front().eye.x, s.eye.y - way_.front().eye.y) > 1e-9;
    };
    return std::any_of(way_.begin(), way_.end(), moved);
  }

  void say_no_side() {
    canvas_.figure().left_out.push_back("no side view: the profile moves no eye in space");
    text(TextRole::subtitle, "no side view: [picture] has no eye in space that this profile moves",
         {style::plot_left, style::panels_top + 20}, Align::left, 520);
  }

  Point on_page(Point place) const { return {origin_.x + place.x * scale_, origin_.y - place.y * scale_}; }

  void set_scale() {
    double right = 0.0, bottom = 0.0, top = 0.0;
    const auto widen = [&](Point p) {
      right = std::max(right, p.x);
      bottom = std::min(bottom, p.y);
      top = std::max(top, p.y);
    };
    for (const Station& s : way_) widen(s.eye);
    for (const SideFrame& frame : input_.frames->frames())
      if (frame.eye) widen(*frame.eye);
    const double width = side_right - style::plot_left - 60, height = style::last_baseline - style::panels_top - 40;
    scale_ = std::min(width / std::max(right, 1e-9), height / std::max(top - bottom, 1e-9));
    origin_ = {style::plot_left + 30, style::panels_top + 20 + top * scale_ + 0.5 * (height - (top - bottom) * scale_)};
  }

  void draw_side() {
    set_scale();
    canvas_.add_rule({style::plot_left, origin_.y}, {side_right, origin_.y}, style::hairline);
    draw_ruler();
    std::vector<Point> line;
    for (const SideFrame& frame : input_.frames->frames())
      if (frame.eye) line.push_back(on_page(*frame.eye));
    if (line.size() > 1) canvas_.add_curve({line, played.line, style::derived_width, false, "eye in this take"}, 1.5);
    line.clear();
    for (const Station& s : way_) line.push_back(on_page(s.eye));
    canvas_.add_curve({line, designed.line, style::moving_width, false, "eye as designed"}, 2.5);
    draw_ticks();
    canvas_.add(Mark{MarkKind::dot, origin_, style::ink});
    Text focus = styled_text(TextRole::annotation, "looked at", {origin_.x, origin_.y + 14}, Align::left);
    canvas_.add_text_if_free(std::move(focus), 2);
    draw_knots();
  }

  /// A length that is round, so that sizes can be told.
  void draw_ruler() {
    double length = std::pow(10.0, std::floor(std::log10(180.0 / scale_)));
    for (const double times : {5.0, 2.0})
      if (length * times * scale_ <= 180.0) {
        length *= times;
        break;
      }
    const double y = style::last_baseline + 10;
    canvas_.add_rule({style::plot_left, y}, {style::plot_left + length * scale_, y}, style::ink);
    const Channel* place = feel_.picture.focus ? &feel_.channels[*feel_.picture.focus] : &driver();
    text(TextRole::tick, with_unit(length, *place), {style::plot_left + length * scale_ + 8, y}, Align::left, 120);
  }

  void draw_ticks() {
    constexpr int between = 8;
    for (std::size_t k = 0; k + 1 < way_.size(); k += between) {
      const Point a = on_page(way_[k].eye), b = on_page(way_[k + 1].eye);
      const double length = std::hypot(b.x - a.x, b.y - a.y);
      if (length < 1e-6) continue;
      const Point across{-(b.y - a.y) / length * 5.0, (b.x - a.x) / length * 5.0};
      canvas_.add(
          Line{{{a.x - across.x, a.y - across.y}, {a.x + across.x, a.y + across.y}}, designed.line, 1.2, false, ""});
    }
  }

  /// Every knot once: a diamond, the picture's edges, the driver's value.
  void draw_knots() {
    std::vector<double> stops;
    for (const Profile::Driven& one : profile_.driven)
      for (const ProfileKnot& knot : one.curve->knots())
        if (std::find(stops.begin(), stops.end(), knot.at) == stops.end()) stops.push_back(knot.at);
    constexpr double ray = 74;
    for (const double stop : stops) {
      const Station s = station(stop);
      const Point at = on_page(s.eye);
      for (const Point& edge : {s.upper, s.lower})
        if (edge.x != 0.0 || edge.y != 0.0)
          canvas_.add_curve({{at, {at.x + ray * edge.x, at.y - ray * edge.y}}, designed.faint, 1.2, false, "picture"},
                            1.0);
      canvas_.add_mark({MarkKind::diamond, at, designed.line});
    }
    for (const double stop : stops) {
      const Point at = on_page(station(stop).eye);
      Text label = styled_text(
          TextRole::annotation,
          fmt::format("{} {}", component_name(driver(), profile_.driver.component), with_unit(stop, driver())), at,
          Align::left);
      label.number = stop;
      label.source = "profile." + profile_.name + ".knots.at";
      canvas_.annotate(at, std::move(label), style::plot_left, panel_left - 60);
    }
  }

  void draw_panels() {
    constexpr std::size_t most_panels = 4;
    const std::size_t count = std::min(profile_.driven.size(), most_panels);
    for (std::size_t p = most_panels; p < profile_.driven.size(); ++p) {
      const ComponentRef left = profile_.driven[p].component;
      canvas_.figure().left_out.push_back("no panel for "
                                          + component_name(feel_.channels[left.channel], left.component));
    }
    const double room = style::last_baseline - style::panels_top, gap = 62;
    const double height = (room - gap * static_cast<double>(count - 1)) / static_cast<double>(count);
    for (std::size_t p = 0; p < count; ++p)
      draw_panel(p, style::panels_top + static_cast<double>(p) * (height + gap), height);
  }

  void draw_panel(std::size_t p, double top, double height) {
    const Profile::Driven& one = profile_.driven[p];
    const Channel& channel = feel_.channels[one.component.channel];
    constexpr int steps = 200;
    double least = unbounded, most = -unbounded;
    const auto widen = [&](double value) {
      least = std::min(least, value);
      most = std::max(most, value);
    };
    for (int k = 0; k <= steps; ++k) widen(one.curve->value_at(low() + (high() - low()) * k / steps));
    for (const SideFrame& frame : input_.frames->frames()) widen(frame.driven[p]);
    const Axis axis = value_axis(least, most, height > 150 ? 5 : 3), across = value_axis(low(), high(), 9);
    const double bottom = top + height;
    const auto on_panel = [&](double x, double y) {
      return Point{panel_left + (panel_right - panel_left) * std::clamp(across.share(x), 0.0, 1.0),
                   bottom - height * axis.share(y)};
    };
    for (const double tick : axis.ticks) {
      const double y = on_panel(low(), tick).y;
      canvas_.add_rule({panel_left, y}, {panel_right, y}, style::hairline);
      text(TextRole::tick, axis.tick_text(tick), {panel_left - 5, y}, Align::right, 90);
    }
    for (const double tick : across.ticks)
      text(TextRole::tick, across.tick_text(tick), {on_panel(tick, least).x, bottom + 14}, Align::centre, 80);
    canvas_.add_rule({panel_left, bottom}, {panel_right, bottom}, style::baseline);
    text(TextRole::panel_name, component_name(channel, one.component.component), {panel_left, top - 14}, Align::left,
         260);
    text(TextRole::panel_unit,
         fmt::format("{} over {}{}", printable(channel.unit, 16), component_name(driver(), profile_.driver.component),
                     driver().unit.empty() ? "" : ", " + printable(driver().unit, 16)),
         {panel_right, top - 14}, Align::right, 170);
    std::vector<Point> line;
    for (const SideFrame& frame : input_.frames->frames()) line.push_back(on_panel(frame.driver, frame.driven[p]));
    const std::string name = component_name(channel, one.component.component);
    if (line.size() > 1)
      canvas_.add_curve({line, played.line, style::derived_width, false, name + " in this take"}, 1.5);
    line.clear();
    for (int k = 0; k <= steps; ++k) {
      const double at = low() + (high() - low()) * k / steps;
      line.push_back(on_panel(at, one.curve->value_at(at)));
    }
    canvas_.add_curve({line, designed.line, 2.2, false, name + " as designed"}, 2.0);
    for (const ProfileKnot& knot : one.curve->knots())
      canvas_.add_mark({MarkKind::diamond, on_panel(knot.at, knot.value), designed.line});
    for (const ProfileKnot& knot : one.curve->knots()) {
      Text label =
          styled_text(TextRole::annotation, with_unit(knot.value, channel), on_panel(knot.at, knot.value), Align::left);
      label.number = knot.value;
      label.source = fmt::format("profile.{}.knots.{}", profile_.name, name);
      canvas_.annotate(on_panel(knot.at, knot.value), std::move(label), panel_left, panel_right + 60);
    }
  }

  const SideFigureInput& input_;
  const Feel& feel_;
  const Profile& profile_;
  Canvas canvas_;
  std::vector<Station> way_;
  Point origin_{};
  double scale_ = 1.0;
};

} // namespace

void SideSink::begin(const Scene& scene) {
  scene_ = scene;
  frames_.clear();
  constexpr std::int64_t most = 4000;
  stride_ = 1;
  while (scene.clock.frames / stride_ > most) stride_ *= 2;
}

void SideSink::consume(const Block& block) {
  const Feel& feel = *scene_.feel;
  if (feel.profiles.empty()) return;
  const Profile& profile = feel.profiles.front();
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    if ((block.first + static_cast<std::int64_t>(row)) % stride_ != 0) continue;
    const auto read = [&](ComponentRef r) { return block.channels[r.channel].component[r.component].smooth[row]; };
    SideFrame frame;
    frame.driver = read(profile.driver);
    for (const Profile::Driven& one : profile.driven) frame.driven.push_back(read(one.component));
    frame.eye = from_the_side(camera_view(feel, read));
    frames_.push_back(std::move(frame));
  }
}

Figure side_figure(const SideFigureInput& input) { return SideLayout(input).lay_out(); }

} // namespace stasis::figure
