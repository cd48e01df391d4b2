// What inputs do: controls, the groups that decide between them, and the cues of a take.
#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/component_ref.hpp"

namespace stasis {

/// A pose while the control is down.
struct Hold {
  std::size_t pose = 0;
  bool stays = false; ///< letting go leaves the pose's goals behind as the base
};

/// A pose from one press to the next.
struct Toggle {
  std::size_t pose = 0;
};

/// The next of several poses at each press.
struct Cycle {
  static constexpr std::size_t home = static_cast<std::size_t>(-1); ///< no pose: everything at its base
  std::vector<std::size_t> poses;
};

/// How a press that mirrors finds the other side.
enum class SideRule : std::uint8_t {
  stored,          ///< from a side that is kept: every press changes it
  what_is_there,   ///< the accident: the present value is mirrored, on its way or not
  opposite_of_now, ///< the accident: the side opposite to where the value now is
};

/// The base on the other side of a centre at each press.
struct Mirror {
  ComponentRef target;
  double centre = 0.0;
  SideRule rule = SideRule::stored;
};

/// What one click changes.
enum class StepKind : std::uint8_t {
  amount,        ///< so many units
  factor,        ///< a factor of the value
  picture_scale, ///< a factor of how large things stand in the picture
};

/// The base up or down a ladder at each click.
struct Clicks {
  ComponentRef target;
  StepKind by = StepKind::amount;
  double step = 1.0;
  int per_stroke = 1;                   ///< how many clicks a finger makes in one stroke
  double double_within = 0.0;           ///< s: two clicks one way this close run to the end; 0: never
  std::optional<double> repeat_every{}; ///< s: while held, a click again and again
  bool every_frame = false;             ///< the accident: while held, a click on each frame
  bool from_view = false;               ///< where an obstacle holds the view, a click counts from there
  bool invert = false;
};

/// The base by so much for each count of a pointer.
struct Pointer {
  ComponentRef target;
  double gain = 1.0; ///< units a count
  bool invert = false;
  std::optional<double> top_speed{}; ///< units a second: the base follows the counts no faster
  bool times_frame_time = false;     ///< the accident: counts are multiplied by the frame's time
};

/// The base at a speed, or at a place, that a deflection sets.
struct Stick {
  ComponentRef target;
  double gain = 1.0;      ///< at full deflection, per second: units, doublings in the spaces ratio and zoom
  double spin_up = 0.0;   ///< s from rest to full speed
  double spin_down = 0.0; ///< s from full speed to rest
  double dead_band = 0.0; ///< 0..1: smaller deflections do nothing
  bool invert = false;
  bool absolute = false; ///< the deflection is a place: rest at 0, the ends of the range at 1 and -1
};

using ControlRule = std::variant<Hold, Toggle, Cycle, Mirror, Clicks, Pointer, Stick>;

struct Control {
  std::string name;
  ControlRule rule;
  std::vector<std::string> buttons;  ///< down while any is; empty: the control is its own button
  std::optional<std::size_t> unless; ///< without effect while this control is on
};

/// The component whose base the control moves, if it moves one.
const ComponentRef* target_of(const Control& control) noexcept;
/// True if the control can put the pose into force.
bool leads_to(const Control& control, std::size_t pose) noexcept;

/// Which of several controls of a group decides a channel.
enum class Policy : std::uint8_t {
  latest,  ///< the one that came last
  first,   ///< the one that came first
  neither, ///< one alone; of several none
  sum,     ///< all, added up in the channel's space
  ranked,  ///< the one listed first
};
std::string_view name_of(Policy policy) noexcept;

struct Group {
  std::string name;
  std::vector<std::size_t> controls;
  Policy policy = Policy::latest;
};

/// A pose that comes into force by itself where a value crosses one threshold, and goes where it crosses another.
struct Switch {
  std::string name;
  ComponentRef on;   ///< whose smoothed value is looked at, at each frame
  bool below = true; ///< it is entered below `enter`; else above
  double enter = 0.0;
  double leave = 0.0; ///< beyond `enter`, seen from inside
  std::size_t pose = 0;
  std::vector<std::size_t> keep{}; ///< channels that stay where they are when it is entered or left
};

enum class CueAction : std::uint8_t { press, release, cancel, click, pointer, stick, lock, unlock, goal, follow, hit };
/// "press", "release", "cancel", ...
const char* name_of(CueAction action) noexcept;

struct CueGoal {
  ComponentRef target;
  double value = 0.0; ///< in the channel's unit
};

/// Another track for a channel that follows.
struct CueTrack {
  std::size_t channel = 0;
  std::size_t track = 0;
};

struct Cue {
  double at = 0.0; ///< s
  CueAction action = CueAction::press;
  std::size_t control = 0;
  std::size_t button = 0;         ///< which of the control's buttons is pressed or let go
  double amount = 1.0;            ///< clicks, counts of a pointer, deflection of a stick
  std::vector<CueGoal> goals{};   ///< of CueAction::goal
  std::vector<CueTrack> tracks{}; ///< of CueAction::follow
  std::size_t shake = 0;          ///< of CueAction::hit; its strength is `amount`
  std::vector<double>
      direction{}; ///< of a hit: by target of the shake, in the channels' units; empty: as the shake has it
  std::optional<std::vector<double>> place{}; ///< of a hit
};

} // namespace stasis
