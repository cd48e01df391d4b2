#include "figure/plan_picture.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/text.hpp"
#include "figure/axis.hpp"
#include "figure/plan_series.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

/// Seconds of the way so far that are drawn heavy.
constexpr double trail_length = 2.0;

} // namespace

PlanPicture::PlanPicture(const Scene& scene, const std::vector<MovingState>& states, Box area)
    : feel_(*scene.feel), states_(states), area_(area) {
  const std::size_t follower = *plan_channel(feel_), first = first_component_of(feel_, follower);
  subject_name_ = feel_.tracks[played_track(*scene.take, feel_.channels[follower].follow->track)].name;
  is_flat_ = feel_.channels[follower].components == 2;
  has_eye_ = !is_flat_ && has_eye_columns(feel_);
  const std::size_t down = is_flat_ ? 1 : 2;
  constexpr double far = std::numeric_limits<double>::infinity();
  Box extent{far, far, -far, -far};
  const auto add = [&](Point p) {
    extent = {std::min(extent.left, p.x), std::min(extent.top, p.y), std::max(extent.right, p.x),
              std::max(extent.bottom, p.y)};
    return p;
  };
  for (const MovingState& state : states) {
    values_.push_back(add({state.values[first], state.values[first + down]}));
    is_cut_.push_back(state.leaps[first] != 0 || state.leaps[first + down] != 0);
    goals_.push_back({state.goals[first], state.goals[first + down]});
    subjects_.push_back(state.subject ? std::optional(add({(*state.subject)[0], (*state.subject)[down]}))
                                      : std::nullopt);
    if (has_eye_) eyes_.push_back(add({state.camera.eye[0], state.camera.eye[2]}));
  }
  constexpr double margin = 18.0;
  scale_ = std::min({(area.right - area.left - 2 * margin) / std::max(extent.right - extent.left, 1e-9),
                     (area.bottom - area.top - 2 * margin) / std::max(extent.bottom - extent.top, 1e-9)});
  if (!(scale_ < 1e6)) scale_ = 60.0; // nothing moves
  middle_ = {0.5 * (extent.left + extent.right), 0.5 * (extent.top + extent.bottom)};
  if (is_flat_) return;
  const double half_x = 0.5 * (area.right - area.left) / scale_, half_y = 0.5 * (area.bottom - area.top) / scale_;
  obstacles_ = obstacles_on_plan(feel_, *scene.take,
                                 {middle_.x - half_x, middle_.x + half_x, middle_.y - half_y, middle_.y + half_y},
                                 states.front().values[first + 1]);
}

Point PlanPicture::place(Point p) const noexcept {
  return {0.5 * (area_.left + area_.right) + (p.x - middle_.x) * scale_,
          0.5 * (area_.top + area_.bottom) + (is_flat_ ? -1.0 : 1.0) * (p.y - middle_.y) * scale_};
}

void PlanPicture::draw_grid(DisplayList& to) const {
  constexpr double least_apart = 34.0;
  double step = std::pow(10.0, std::floor(std::log10(least_apart / scale_)));
  for (const double factor : {2.0, 2.5, 2.0})
    if (step * scale_ < least_apart) step *= factor;
  const double half_x = 0.5 * (area_.right - area_.left) / scale_, half_y = 0.5 * (area_.bottom - area_.top) / scale_;
  for (const double x : multiples_of(step, middle_.x - half_x, middle_.x + half_x))
    to.line({{place({x, 0}).x, area_.top}, {place({x, 0}).x, area_.bottom}}, style::hairline, 1.0);
  for (const double y : multiples_of(step, middle_.y - half_y, middle_.y + half_y))
    to.line({{area_.left, place({0, y}).y}, {area_.right, place({0, y}).y}}, style::hairline, 1.0);
  const double y = area_.bottom - 10, from = area_.left + 10;
  to.line({{from, y}, {from + step * scale_, y}}, style::ink, 3.0);
  const std::string& unit = feel_.channels[*plan_channel(feel_)].unit;
  to.text(concise(step) + (unit.empty() ? "" : " " + printable(unit, 12)), {from + step * scale_ + 6, y}, Align::left,
          style::muted, 11);
}

void PlanPicture::draw_obstacles(DisplayList& to) const {
  for (const PlanObstacle& one : obstacles_)
    for (const std::vector<PlanPlace>& piece : one.pieces) {
      std::vector<Point> drawn;
      for (const PlanPlace& p : piece) drawn.push_back(place({p[0], p[1]}));
      if (!one.is_line) {
        to.fill(drawn, style::wall);
        drawn.push_back(drawn.front());
      }
      to.line(drawn, style::bar, one.is_line ? 3.0 : 1.0);
    }
}

/// What the camera sees: the angle of its lens from the eye, or the frame of a flat view.
void PlanPicture::draw_sight(const MovingState& now, std::size_t picture, DisplayList& to) const {
  const double aspect = static_cast<double>(feel_.picture.width) / feel_.picture.height;
  if (is_flat_ && feel_.picture.height_channel) {
    const double half = 0.5 * now.values[first_component_of(feel_, *feel_.picture.height_channel)];
    const Point m = values_[picture], a = place({m.x - half * aspect, m.y - half}),
                b = place({m.x + half * aspect, m.y + half});
    to.frame({a.x, a.y, b.x, b.y}, style::baseline, 1.2);
  }
  if (!has_eye_) return;
  const double across = now.camera.half_height * aspect;
  for (const double side : {-across, across}) {
    const Components ray = plus(scaled(now.camera.axes.back, -1.0), now.camera.axes.right, side);
    const double length = std::max(std::hypot(ray[0], ray[2]), 1e-12), reach = 400.0 / scale_;
    const Point eye = eyes_[picture];
    to.line({place(eye), place({eye.x + reach * ray[0] / length, eye.y + reach * ray[2] / length})},
            style::series[0].faint, 1.2);
  }
}

/// What each dot is, one below the other.
void PlanPicture::draw_legend(std::size_t picture, DisplayList& to) const {
  const Channel& follower = feel_.channels[*plan_channel(feel_)];
  struct Entry {
    std::string name;
    Colour dot, text;
    double radius;
  };
  std::vector<Entry> entries{{follower.name, style::series[0].line, style::series[0].text, 5.0}};
  if (subjects_[picture]) entries.push_back({subject_name_, style::series[1].line, style::series[1].text, 5.0});
  if (has_eye_) entries.push_back({"eye", style::muted, style::muted, 4.0});
  double y = area_.top + 14.0;
  for (const Entry& entry : entries) {
    constexpr double pitch = 17.0, size = 12.0;
    const std::string name = fitted(printable(entry.name, 40), 120, size, false);
    to.box({area_.left + 6, y - 8, area_.left + 26 + text_width(name, size, false), y + 8}, style::paper);
    to.dot({area_.left + 14, y}, entry.radius, entry.dot);
    to.text(name, {area_.left + 24, y}, Align::left, entry.text, size);
    y += pitch;
  }
}

void PlanPicture::draw(std::size_t picture, DisplayList& to) const {
  to.clip(area_);
  to.box(area_, style::paper);
  draw_grid(to);
  draw_obstacles(to);
  // The way so far, in pieces: where it is cut, nothing was gone through.
  const auto draw_way = [&](const std::vector<Point>& points, double seconds, Colour colour, double width) {
    std::vector<Point> drawn;
    for (std::size_t k = 0; k <= picture; ++k) {
      if (states_[k].time < states_[picture].time - seconds) continue;
      const Point p = place(points[k]);
      if (drawn.empty() || std::hypot(p.x - drawn.back().x, p.y - drawn.back().y) > 0.7) drawn.push_back(p);
      if (!is_cut_[k]) continue;
      to.line(drawn, colour, width);
      drawn.clear();
    }
    to.line(drawn, colour, width);
  };
  constexpr double all = std::numeric_limits<double>::infinity();
  if (has_eye_) draw_way(eyes_, all, style::baseline, 1.0);
  std::vector<Point> followed;
  for (std::size_t k = 0; k <= picture; ++k) {
    if (!subjects_[k])
      followed.clear();
    else
      followed.push_back(place(*subjects_[k]));
  }
  to.line(followed, style::series[1].faint, 1.2);
  draw_way(values_, all, style::series[0].faint, 1.2);
  draw_way(values_, trail_length, style::series[0].line, 2.6);
  draw_sight(states_[picture], picture, to);
  to.line({place(values_[picture]), place(goals_[picture])}, style::series[1].line, 1.2);
  if (has_eye_) to.dot(place(eyes_[picture]), 4.0, style::muted);
  if (subjects_[picture]) to.dot(place(*subjects_[picture]), 5.0, style::series[1].line);
  to.dot(place(values_[picture]), 5.0, style::series[0].line);
  draw_legend(picture, to);
  to.frame(area_, style::baseline, 1.0);
}

} // namespace stasis::figure
