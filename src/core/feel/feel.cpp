#include "core/feel/feel.hpp"

#include <algorithm>
#include <numbers>

#include "core/unbounded.hpp"

namespace stasis {

const char* name_of(CueAction action) noexcept {
  constexpr std::array<const char*, 13> names{"press",  "release", "cancel", "click", "pointer", "stick", "lock",
                                              "unlock", "goal",    "follow", "hit",   "start",   "skip"};
  return names[static_cast<std::size_t>(action)];
}

bool acts_on_control(CueAction action) noexcept {
  switch (action) {
  case CueAction::press:
  case CueAction::release:
  case CueAction::cancel:
  case CueAction::click:
  case CueAction::pointer:
  case CueAction::stick:
  case CueAction::lock:
  case CueAction::unlock: return true;
  case CueAction::goal:
  case CueAction::follow:
  case CueAction::hit:
  case CueAction::start:
  case CueAction::skip: break;
  }
  return false;
}

std::string_view name_of(Policy policy) noexcept {
  constexpr std::array<std::string_view, 5> names{"latest", "first", "neither", "sum", "ranked"};
  return names[static_cast<std::size_t>(policy)];
}

const ComponentRef* target_of(const Control& control) noexcept {
  return std::visit([](const auto& rule) { return rule.moves(); }, control.rule);
}

bool leads(const Sequence& sequence, std::size_t channel) noexcept {
  return std::any_of(sequence.led.begin(), sequence.led.end(),
                     [&](const PoseGoal& goal) { return goal.channel == channel; });
}

bool goes_with_subject(const Sequence& sequence) noexcept {
  return std::any_of(sequence.stops.begin(), sequence.stops.end(), [](const SequenceStop& stop) {
    return std::any_of(stop.goals.begin(), stop.goals.end(),
                       [](const PoseGoal& goal) { return goal.track.has_value(); });
  });
}

bool leads_to(const Control& control, std::size_t pose) noexcept {
  return std::visit([&](const auto& rule) { return rule.leads_to(pose); }, control.rule);
}

bool owns_base(const Control& control) noexcept {
  return std::visit([](const auto& rule) { return rule.owns_base(); }, control.rule);
}

FrameHabit frame_habit_of(const Control& control) noexcept {
  return std::visit([](const auto& rule) { return rule.frame_habit(); }, control.rule);
}

void drop_frame_habit(Control& control, double usual_fps) noexcept {
  std::visit([&](auto& rule) { rule.drop_frame_habit(usual_fps); }, control.rule);
}

std::string_view name_of(AxisFrame frame) noexcept {
  constexpr std::array<std::string_view, 4> names{"world", "heading", "subject", "view"};
  return names[static_cast<std::size_t>(frame)];
}

std::string_view name_of(Lead::By by) noexcept {
  constexpr std::array<std::string_view, 4> names{"none", "velocity", "forward_speed", "throttle"};
  return names[static_cast<std::size_t>(by)];
}

std::size_t moved_channel(const Feel& feel, std::size_t channel) noexcept {
  const auto& tie = feel.channels[channel].tie;
  return tie ? tie->channel : channel;
}

bool has_formula(const Channel& channel) noexcept {
  return std::any_of(channel.formula.begin(), channel.formula.end(),
                     [](const auto& formula) { return formula.has_value(); });
}

bool is_view_from_a_place(const Feel& feel) noexcept {
  const auto& position = feel.picture.position;
  return position && !feel.picture.is_flat() && feel.channels[*position].components == most_components
         && !feel.channels[*position].is_placed;
}

std::vector<std::size_t> channel_order(const Feel& feel) {
  if (!feel.order.empty()) return feel.order;
  std::vector<std::size_t> order(feel.channels.size());
  for (std::size_t c = 0; c < order.size(); ++c) order[c] = c;
  return order;
}

std::string component_name(const Channel& channel, std::size_t component) {
  return channel.components == 1 ? channel.name : channel.name + component_suffixes[component];
}

bool drives(const Feel& feel, const Control& control, std::size_t channel) noexcept {
  if (const ComponentRef* target = target_of(control)) return target->channel == channel;
  for (std::size_t p = 0; p < feel.poses.size(); ++p)
    for (const PoseGoal& goal : feel.poses[p].goals)
      if (goal.channel == channel && leads_to(control, p)) return true;
  return false;
}

std::span<const PictureRole> picture_roles() noexcept {
  static constexpr std::array roles{PictureRole{"position", &Picture::position, 2, 3, false},
                                    PictureRole{"focus", &Picture::focus, 3, 3, false},
                                    PictureRole{"distance", &Picture::distance, 1, 1, false},
                                    PictureRole{"side", &Picture::side, 1, 1, false},
                                    PictureRole{"yaw", &Picture::yaw, 1, 1, true},
                                    PictureRole{"pitch", &Picture::pitch, 1, 1, true},
                                    PictureRole{"roll", &Picture::roll, 1, 1, true}};
  return roles;
}

ComponentRange output_range(const Channel& channel, std::size_t component) noexcept {
  if (channel.space.space == Space::turn) return {-unbounded, unbounded};
  return channel.range[component];
}

ComponentRange goal_range(const Channel& channel, std::size_t component) noexcept {
  // Farther than any camera goes, and near enough that a step in the space is a number.
  constexpr double least_size = 1e-30, least_share = 1e-9;
  constexpr double least_lens = 1e-6 * std::numbers::pi / 180.0, most_lens = 179.999 * std::numbers::pi / 180.0;
  const auto [low, high] = channel.range[component];
  const double rest = channel.rest[component], unit = channel.space.radians_per_unit;
  switch (channel.space.space) {
  case Space::linear:
  case Space::turn: return {low, high};
  case Space::ratio: return {low > 0.0 ? low : std::min(least_size, least_share * rest), high};
  case Space::zoom:
    return {low > 0.0 ? low : std::min(least_lens / unit, rest),
            high < domain(channel.space).high ? high : std::max(most_lens / unit, rest)};
  }
  return {low, high};
}

void make_instant(Feel& feel) {
  for (NamedMotion& named : feel.motions) named.motion = Cut{};
}

} // namespace stasis
