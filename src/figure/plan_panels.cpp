#include "figure/plan_panels.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/axis.hpp"
#include "figure/style.hpp"

namespace stasis::figure {
namespace {

constexpr Box lag_area{904, 128, 1232, 340};
constexpr double picture_left = 904, picture_right = 1232, picture_top = 444, picture_bottom = 716;
/// What is farther out of the picture is not drawn, in half sizes; its farthest spot is shown here.
constexpr double rim = 1.1;

} // namespace

PlanPanels::PlanPanels(Canvas& canvas, const PlanFigureInput& input)
    : canvas_(canvas), input_(input), frames_(input.plan->frames()),
      channel_(input.scene->feel->channels[*input.plan->channel()]),
      follow_(input.measures->channels[*input.plan->channel()].follow) {}

std::string PlanPanels::unit() const { return channel_.unit.empty() ? "" : " " + printable(channel_.unit, 12); }

std::string PlanPanels::subject_name() const {
  return feel().tracks[played_track(*input_.scene->take, channel_.follow->track)].name;
}

void PlanPanels::text(TextRole role, std::string words, Point at, Align align) {
  canvas_.add_text(styled_text(role, std::move(words), at, align));
}

void PlanPanels::draw_lag() {
  double most = 0.0;
  for (const PlanFrame& frame : frames_)
    if (!frame.catches_up) most = std::max(most, frame.lag);
  Axis axis = value_axis(0.0, std::max(most, 1e-9), 4);
  const double low = 0.0, high = axis.high;
  const auto y = [&](double lag) {
    return lag_area.bottom - (lag_area.bottom - lag_area.top) * (lag - low) / (high - low);
  };
  const auto x = [&](double time) { return lag_area.left + (lag_area.right - lag_area.left) * time / take_length(); };
  text(TextRole::panel_name, "lag behind the goal", {lag_area.left, lag_area.top - 16}, Align::left);
  text(TextRole::panel_unit, printable(channel_.unit, 12), {lag_area.right, lag_area.top - 16}, Align::right);
  for (const double tick : axis.ticks) {
    if (tick < 0.0) continue;
    canvas_.add_rule({lag_area.left, y(tick)}, {lag_area.right, y(tick)}, style::hairline);
    text(TextRole::tick, axis.tick_text(tick), {lag_area.left - 6, y(tick)}, Align::right);
  }
  canvas_.add_rule({lag_area.left, y(0)}, {lag_area.right, y(0)}, style::baseline);
  const Axis times = time_axis(take_length(), 6);
  for (const double tick : times.ticks)
    if (tick <= take_length() * (1.0 + 1e-9))
      text(TextRole::tick, times.tick_text(tick), {x(tick), lag_area.bottom + 16}, Align::centre);
  std::vector<Point> line;
  const auto finish = [&] {
    if (line.size() < 2) return line.clear();
    std::vector<Point> fill = line;
    fill.push_back({line.back().x, y(0)});
    fill.push_back({line.front().x, y(0)});
    canvas_.add(Fill{std::move(fill), style::series[0].line, style::velocity_opacity});
    canvas_.add_curve({line, style::series[0].line, 2.2, false, "lag"}, 2);
    line.clear();
  };
  bool catches_up = false;
  for (const PlanFrame& frame : frames_) {
    if (frame.catches_up)
      finish();
    else
      line.push_back({x(frame.time), y(frame.lag)});
    catches_up = catches_up || frame.catches_up;
  }
  finish();
  if (catches_up)
    text(TextRole::footnote, "left out: catching up with a jump", {lag_area.left, lag_area.bottom + 54}, Align::left);
  if (!follow_.lag_distance || *follow_.lag_distance <= 0.0) return;
  const Point at{x(follow_.worst_lag_at), y(*follow_.lag_distance)};
  canvas_.add_mark({MarkKind::dot, at, style::series[0].line});
  std::string words =
      fmt::format("{}{} at {} s", readable(*follow_.lag_distance), unit(), readable(follow_.worst_lag_at));
  note(at, words, "lag_distance", *follow_.lag_distance, lag_area.left, lag_area.right);
  if (follow_.lag_distance_mean)
    text(TextRole::footnote,
         fmt::format("mean {}{}{}", readable(*follow_.lag_distance_mean), unit(),
                     follow_.lag_time_mean ? fmt::format(", {} s behind", readable(*follow_.lag_time_mean)) : ""),
         {lag_area.left, lag_area.bottom + 36}, Align::left);
}

// many: a text, where it may stand, and the number that it tells
void PlanPanels::note(Point at, std::string words, const std::string& source, double number, double least_x,
                      double most_x, Colour colour) {
  Text made = styled_text(TextRole::annotation, std::move(words), at, Align::left);
  made.source = fmt::format("follow.{}.{}", channel_.name, source);
  made.number = number;
  if (!colour.empty()) made.colour = colour;
  if (!canvas_.annotate(at, std::move(made), least_x, most_x)) canvas_.figure().left_out.push_back(source);
}

/// Where the subject stands in the picture.
void PlanPanels::draw_picture() {
  const bool any = std::any_of(frames_.begin(), frames_.end(), [](const PlanFrame& f) { return f.is_seen; });
  text(TextRole::panel_name, subject_name() + " in the picture", {picture_left, picture_top - 18}, Align::left);
  if (!any) {
    text(TextRole::footnote, "[picture] does not say where the eye is", {picture_left, picture_top + 6}, Align::left);
    return;
  }
  const Picture& picture = feel().picture;
  const double aspect = static_cast<double>(picture.width) / picture.height;
  const double width = std::min(picture_right - picture_left, (picture_bottom - picture_top) * aspect),
               height = width / aspect;
  const Point middle{picture_left + 0.5 * width, picture_top + 0.5 * height};
  const auto at = [&](Point seen) {
    return Point{middle.x + 0.5 * width * std::clamp(seen.x, -rim, rim),
                 middle.y - 0.5 * height * std::clamp(seen.y, -rim, rim)};
  };
  canvas_.add_rectangle(
      {middle.x - 0.5 * width, middle.y - 0.5 * height, middle.x + 0.5 * width, middle.y + 0.5 * height}, style::wash);
  canvas_.add_rule({middle.x - 0.5 * width, middle.y}, {middle.x + 0.5 * width, middle.y}, style::hairline);
  canvas_.add_rule({middle.x, middle.y - 0.5 * height}, {middle.x, middle.y + 0.5 * height}, style::hairline);
  std::vector<Point> path;
  const auto finish = [&] {
    if (path.size() > 1) canvas_.add_curve({thinned(path), style::series[1].line, 1.3, false, "seen"}, 1);
    path.clear();
  };
  for (const PlanFrame& frame : frames_) {
    const bool far = std::fabs(frame.seen.x) > rim || std::fabs(frame.seen.y) > rim;
    if (!frame.is_seen || frame.jumped || frame.is_cut || far) finish();
    if (frame.is_seen && !far) path.push_back(at(frame.seen));
  }
  finish();
  canvas_.add_mark({MarkKind::ring, middle, style::ink});
  if (!follow_.framing_error) return;
  const Point spot = at(frame_nearest(frames_, follow_.worst_framing_at).seen);
  canvas_.add_mark({MarkKind::dot, spot, style::series[1].line});
  note(spot, fmt::format("{} % off at {} s", readable(*follow_.framing_error), readable(follow_.worst_framing_at)),
       "framing_error", *follow_.framing_error, picture_left - 40, picture_right, style::series[1].text);
  double y = middle.y + 0.5 * height * rim + 40;
  const auto add = [&](std::string words) {
    text(TextRole::footnote, std::move(words), {picture_left, y}, Align::left);
    y += 20;
  };
  add(fmt::format("100 % is the edge; out of it for {} s", readable(follow_.time_outside_picture.value_or(0.0))));
  if (follow_.nearest && !input_.plan->is_flat())
    add(fmt::format("eye to {}: {}{} at least", subject_name(), readable(*follow_.nearest), unit()));
}

} // namespace stasis::figure
