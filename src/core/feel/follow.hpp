// How a channel takes its goal from tracks. Order of what is done: docs/design.md, section 3, 14.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <optional>
#include <string_view>

#include "core/components.hpp"
#include "core/feel/control.hpp"

namespace stasis {

/// The axes in which an offset, a dead zone or a motion is meant: right, up, back in space; right, up in a flat view.
enum class AxisFrame : std::uint8_t {
  world,
  heading, ///< turned with the way the subject travels
  subject, ///< turned with the way it looks
  view,    ///< turned with the camera
};
std::string_view name_of(AxisFrame frame) noexcept;

/// How far ahead of the subject to look.
struct Lead {
  enum class By : std::uint8_t {
    none,
    velocity,      ///< seconds of its velocity
    forward_speed, ///< seconds of the part of its velocity that points where it looks
    throttle,      ///< so many units at full throttle, where it looks
  } by = By::none;
  double amount = 0.0; ///< s, or the channel's unit
  double longest = std::numeric_limits<double>::infinity();
  std::optional<std::size_t> motion; ///< the lead's own: index into Feel::motions
  std::optional<std::size_t> stick;  ///< whose deflection is the throttle, instead of the track's column
};
std::string_view name_of(Lead::By by) noexcept;

/// How far the subject may stray from the goal before the goal follows.
struct DeadZone {
  bool is_ellipse = false;
  enum class Measure : std::uint8_t {
    units,
    picture, ///< shares of the picture's width and height, at the distance of what is looked at
    margin,  ///< what is left of the picture this share of its width and height from each edge
  } measure = Measure::units;
  Components size{};                           ///< whole widths by axis; 0: no zone on that axis
  double times = 1.0;                          ///< it is this many times as large
  std::optional<ComponentRef> times_channel{}; ///< instead of `times`
};

struct Follow {
  std::size_t track = 0;
  std::optional<std::size_t> part;            ///< of a channel of one component: which component of the track
  std::optional<std::size_t> second;          ///< another track that draws the goal to itself
  double weight = 0.0;                        ///< by this share of the way
  std::optional<ComponentRef> weight_channel; ///< instead of `weight`
  Lead lead;
  std::optional<DeadZone> zone;
  Components offset{};
  AxisFrame offset_frame = AxisFrame::world;
  AxisFrame damping_frame = AxisFrame::world; ///< in which the channel's motions work, component by component
  std::array<bool, most_components> keeps{};  ///< components that do not follow
  bool starts_at_rest = false;
  bool only_in_poses = false; ///< only while a pose gives it a track; else its base is its own

  bool follows(std::size_t component) const noexcept { return !keeps[component]; }
};

} // namespace stasis
