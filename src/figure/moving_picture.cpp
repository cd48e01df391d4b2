#include "figure/moving_picture.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/plan_series.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

constexpr Box heading_area{16, 8, 944, 40}, body_area{16, 44, 944, 436}, strip_area{104, 452, 852, 524};
/// s for which the cause of a jump stays in the heading.
constexpr double cause_shown = 1.5;
/// All that is drawn in, and what lies between each and paper.
const std::vector<Colour> inks{style::ink,
                               style::muted,
                               style::hairline,
                               style::baseline,
                               style::wash,
                               style::bar,
                               style::wall,
                               style::series[0].line,
                               style::series[0].faint,
                               style::series[1].line,
                               style::series[1].text,
                               style::series[1].faint};

} // namespace

MovingPicture::MovingPicture(const Scene& scene, std::string title, const std::vector<MovingState>& states)
    : scene_(scene), title_(std::move(title)), states_(states), side_(body_area) {
  const Feel& feel = *scene.feel;
  for (const Channel& channel : feel.channels)
    for (std::size_t i = 0; i < channel.components; ++i) {
      Track track{component_name(channel, i), printable(channel.unit, 12), 0.0, 0.0};
      const std::size_t at = components_.size();
      track.low = track.high = states.front().values[at];
      for (const MovingState& state : states)
        for (const double value : {state.values[at], state.goals[at]}) {
          track.low = std::min(track.low, value);
          track.high = std::max(track.high, value);
        }
      components_.push_back(std::move(track));
    }
  choose_strip();
  if (sees_a_scene(feel)) {
    constexpr double widest = 620.0, gap = 12.0;
    const double aspect = static_cast<double>(feel.picture.width) / feel.picture.height;
    const double height = std::min(body_area.bottom - body_area.top, widest / aspect), width = height * aspect;
    const double top = 0.5 * (body_area.top + body_area.bottom - height);
    seen_.emplace(scene, Box{body_area.left, top, body_area.left + width, top + height});
    side_.left = body_area.left + width + gap;
  }
  if (plan_channel(feel)) plan_ = std::make_unique<PlanPicture>(scene_, states_, side_);
  constexpr double streak = 0.05; // s
  while (rate_back_ + 1 < states.size() && states[rate_back_].time < streak - 1e-9) ++rate_back_;
}

/// The value that goes the longest way beside where it rests: by its own range of the take, those that stand left out.
void MovingPicture::choose_strip() {
  const auto way = [&](std::size_t c) {
    double gone = 0.0;
    for (std::size_t k = 1; k < states_.size(); ++k) gone += std::fabs(states_[k].values[c] - states_[k - 1].values[c]);
    return gone / std::max(std::fabs(states_.front().values[c]), 1.0);
  };
  double longest = -1.0;
  for (std::size_t c = 0; c < components_.size(); ++c)
    if (const double gone = way(c); gone > longest) {
      longest = gone;
      shown_ = c;
    }
  // What lens and distance do is seen least well in a small picture: where one moves, it is what is shown in numbers.
  const Picture& picture = scene_.feel->picture;
  for (const auto& role : {picture.distance, picture.lens_channel})
    if (role && way(first_component_of(*scene_.feel, *role)) > 0.0) shown_ = first_component_of(*scene_.feel, *role);
}

void MovingPicture::draw_heading(const MovingState& now, DisplayList& to) const {
  const double y = 0.5 * (heading_area.top + heading_area.bottom);
  to.text(fitted(title_, 470, 17, true), {heading_area.left, y}, Align::left, style::ink, 17, true);
  to.text(fmt::format("{:.2f} s", now.time), {heading_area.right, y}, Align::right, style::ink, 17, true);
  if (!now.cause.empty() && now.time - now.cause_at < cause_shown)
    to.text(fitted(printable(now.cause, 60), 320, 14, false), {heading_area.right - 84, y}, Align::right,
            style::series[1].text, 14);
}

/// Each value as a mark on a rail of its own range, its goal as a tick.
void MovingPicture::draw_rails(const MovingState& now, DisplayList& to) const {
  constexpr double least_pitch = 24.0, most_pitch = 56.0, name_width = 92.0, number_width = 82.0;
  const double height = side_.bottom - side_.top;
  const auto fitting = static_cast<std::size_t>(height / least_pitch);
  const std::size_t rows = std::min(components_.size(), std::max<std::size_t>(fitting, 1));
  const double pitch = std::min(most_pitch, height / static_cast<double>(rows));
  const double left = side_.left + name_width, right = side_.right - number_width;
  for (std::size_t k = 0; k < rows; ++k) {
    const Track& track = components_[k];
    const double y = side_.top + pitch * (static_cast<double>(k) + 0.5);
    const auto x = [&](double value) {
      return track.high > track.low ? left + (value - track.low) / (track.high - track.low) * (right - left)
                                    : 0.5 * (left + right);
    };
    to.text(fitted(track.name, name_width - 12, 12, false), {side_.left, y}, Align::left, style::muted, 12);
    to.line({{left, y}, {right, y}}, style::hairline, 2.0);
    const double goal = x(now.goals[k]);
    to.line({{goal, y - 9}, {goal, y + 9}}, style::series[1].line, 1.6);
    to.dot({x(now.values[k]), y}, 6.0, style::series[0].line);
    to.text(fitted(amount_in(now.values[k], track.unit), number_width - 12, 12, false), {side_.right, y}, Align::right,
            style::ink, 12);
  }
}

void MovingPicture::draw_strip(std::size_t k, DisplayList& to) const {
  const Track& track = components_[shown_];
  const double length = std::max(states_.back().time, 1e-9);
  const double room = std::max(track.high - track.low, 1e-9 * std::max(std::fabs(track.high), 1.0));
  const auto place = [&](double time, double value) {
    return Point{strip_area.left + time / length * (strip_area.right - strip_area.left),
                 strip_area.bottom - 4 - (value - track.low) / room * (strip_area.bottom - strip_area.top - 8)};
  };
  to.box(strip_area, style::wash);
  std::vector<Point> goals, values, so_far;
  for (std::size_t i = 0; i < states_.size(); ++i) {
    const MovingState& state = states_[i];
    const Point goal = place(state.time, state.goals[shown_]);
    constexpr double of_a_jump = 3.0; // px in one picture: a goal that moves by itself goes on more slowly
    if (!goals.empty() && std::fabs(goals.back().y - goal.y) > of_a_jump) goals.push_back({goal.x, goals.back().y});
    goals.push_back(goal);
    values.push_back(place(state.time, state.values[shown_]));
    if (i <= k) so_far.push_back(values.back());
  }
  to.line(goals, style::series[1].faint, 1.2);
  to.line(values, style::series[0].faint, 1.2);
  to.line(so_far, style::series[0].line, 2.6);
  const Point here = values[k];
  to.line({{here.x, strip_area.top}, {here.x, strip_area.bottom}}, style::ink, 1.0);
  to.dot(here, 4.5, style::series[0].line);
  to.text(fitted(track.name, 84, 13, true), {strip_area.left - 8, 0.5 * (strip_area.top + strip_area.bottom)},
          Align::right, style::ink, 13, true);
  to.text("its goal", {strip_area.left - 8, 0.5 * (strip_area.top + strip_area.bottom) + 17}, Align::right,
          style::series[1].text, 11);
  to.text(amount_in(track.high, track.unit), {strip_area.right + 8, strip_area.top + 6}, Align::left, style::muted, 11);
  to.text(amount_in(track.low, track.unit), {strip_area.right + 8, strip_area.bottom - 6}, Align::left, style::muted,
          11);
  to.text(fitted(amount_in(states_[k].values[shown_], track.unit), 88, 14, true),
          {strip_area.right + 8, 0.5 * (strip_area.top + strip_area.bottom)}, Align::left, style::series[0].text, 14,
          true);
}

void MovingPicture::draw(std::size_t k, DisplayList& to) const {
  const MovingState& now = states_[k];
  // No streak over a cut.
  std::size_t earlier = k;
  const auto leaps = [&](std::size_t picture) {
    const auto& all = states_[picture].leaps;
    return std::any_of(all.begin(), all.end(), [](std::uint8_t one) { return one != 0; });
  };
  while (earlier > 0 && k - earlier < rate_back_ && !leaps(earlier - 1)) --earlier;
  const MovingState& before = states_[earlier];
  const Box page{0, 0, moving_width_px, moving_height_px};
  to.begin(moving_width_px, moving_height_px, inks);
  if (seen_) seen_->draw(now, before, to);
  if (plan_) plan_->draw(k, to);
  to.clip(page);
  if (!plan_) draw_rails(now, to);
  draw_heading(now, to);
  draw_strip(k, to);
  to.end();
}

} // namespace stasis::figure
