// A feel as plain structs: what a document says, checked and with every name resolved to an index.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/motion/mover.hpp"
#include "core/space/space.hpp"

namespace stasis {

inline constexpr std::size_t most_components = 3;
using Components = std::array<double, most_components>;
/// The suffixes of a channel's components: ".x", ".y", ".z".
inline constexpr std::array<const char*, most_components> component_suffixes{".x", ".y", ".z"};

struct ComponentRange {
  double low;
  double high;
};

/// How near to its end a move must stay to count as settled.
struct SettleBand {
  double size = 2.0;     ///< per cent of the move, or in the channel's unit
  bool absolute = false; ///< `size` is in the channel's unit
};

struct NamedMotion {
  std::string name;
  Motion motion;
  bool written_in_place = false;
};

struct Channel {
  std::string name;
  std::string unit; ///< as declared; may be empty
  std::size_t components = 1;
  Components rest{};
  std::array<ComponentRange, most_components> range{};
  SpaceMap space;
  std::array<std::size_t, most_components> motion{}; ///< index into Feel::motions, by component
  SettleBand settle_band;
};

/// The goal of one channel in a pose.
struct PoseGoal {
  std::size_t channel;
  Components value{};
};

struct Pose {
  std::string name;
  std::vector<PoseGoal> goals;
};

enum class ControlKind : std::uint8_t { hold };

struct Control {
  std::string name;
  ControlKind kind = ControlKind::hold;
  std::size_t pose = 0;
};

enum class CueAction : std::uint8_t { press, release, cancel };

struct Cue {
  double at = 0.0; ///< s
  CueAction action = CueAction::press;
  std::size_t control = 0;
};

struct Take {
  std::string name;
  double length = 0.0; ///< s
  double fps = 60.0;
  std::vector<Cue> cues; ///< sorted by time, ties as written
};

struct Picture {
  int width = 1280; ///< px
  int height = 800;
  enum class LensAxis : std::uint8_t { vertical, horizontal } lens_axis = LensAxis::vertical;
  std::optional<std::size_t> lens_channel;
  std::optional<std::size_t> height_channel;
};

struct Feel {
  std::string title;
  Picture picture;
  std::vector<Channel> channels;
  std::vector<NamedMotion> motions;
  std::vector<Pose> poses;
  std::vector<Control> controls;
  std::vector<Take> takes;
};

/// "press", "release" or "cancel".
const char* name_of(CueAction action) noexcept;
/// "fov", or "focus.y" for the second component of a channel of several.
std::string component_name(const Channel& channel, std::size_t component);

} // namespace stasis
