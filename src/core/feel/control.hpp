// What inputs do: controls, the groups that decide between them, and the cues of a take.
#pragma once

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/clock.hpp"
#include "core/component_ref.hpp"

namespace stasis {

enum class CueAction : std::uint8_t {
  press,
  release,
  cancel,
  click,
  pointer,
  stick,
  lock,
  unlock,
  goal,
  follow,
  hit,
  start,
  skip
};
/// "press", "release", "cancel", ...
const char* name_of(CueAction action) noexcept;
/// True of what is done to a control.
bool acts_on_control(CueAction action) noexcept;

/// What a control does once on every frame, so that the frame rate changes what it does: accidents, replayed.
enum class FrameHabit : std::uint8_t {
  none,
  steps_each_frame,       ///< goes faster where frames are shorter
  counts_times_frametime, ///< goes slower where frames are shorter
};

/// How long a pose acts.
enum class PoseLasts : std::uint8_t {
  no_pose,
  while_held,       ///< just while a hand is on it: shown as a span of time
  until_next_press, ///< it may stay in force once the hand is gone
};
/// When a base moves.
enum class BaseMoves : std::uint8_t {
  stands_still,
  at_cues,
  between_cues, ///< too
};
/// Whether what a control asks for may lie outside the range.
enum class Asks : std::uint8_t { within_range, beyond_range };
/// How it is told that a hand is on it.
enum class HeldBy : std::uint8_t {
  button,  ///< a press comes after a release
  presses, ///< a button of which only the presses count: one comes again without a release
  state,   ///< there is no button: while its state is not 0
};

/// What a kind of control says about itself, once: whoever must know asks here, and a kind that leaves one out does not
/// compile.
struct ControlFacts {
  CueAction moved_by;      ///< the cue by which a hand moves it, and the meaning of its column in recorded input
  std::string_view traced; ///< its column in the trace beside `down`; empty: none
  PoseLasts pose;
  BaseMoves base;
  Asks asks;
  HeldBy held_by;

  constexpr bool is_hold() const noexcept { return pose == PoseLasts::while_held; }
  constexpr bool keeps_its_pose() const noexcept { return pose == PoseLasts::until_next_press; }
  constexpr bool base_runs() const noexcept { return base == BaseMoves::between_cues; }
};

/// A kind of control that puts poses into force.
struct PutsPoses {
  const ComponentRef* moves() const noexcept { return nullptr; }
  bool owns_base() const noexcept { return false; }
};
/// A kind of control that moves the base of a component.
struct MovesBase {
  ComponentRef target;
  const ComponentRef* moves() const noexcept { return &target; }
  bool leads_to(std::size_t) const noexcept { return false; }
};
/// A kind of control that does nothing once on every frame.
struct NoFrameHabit {
  FrameHabit frame_habit() const noexcept { return FrameHabit::none; }
  void drop_frame_habit(double) noexcept {}
};

/// A pose while the control is down.
struct Hold : PutsPoses, NoFrameHabit {
  static constexpr ControlFacts facts{
      CueAction::press, "", PoseLasts::while_held, BaseMoves::stands_still, Asks::within_range, HeldBy::button};
  bool leads_to(std::size_t one) const noexcept { return pose == one; }

  std::size_t pose = 0;
  bool stays = false; ///< letting go leaves the pose's goals behind as the base
};

/// A pose from one press to the next.
struct Toggle : PutsPoses, NoFrameHabit {
  static constexpr ControlFacts facts{
      CueAction::press,   "state",        PoseLasts::until_next_press, BaseMoves::stands_still,
      Asks::within_range, HeldBy::presses};
  bool leads_to(std::size_t one) const noexcept { return pose == one; }

  std::size_t pose = 0;
};

/// The next of several poses at each press.
struct Cycle : PutsPoses, NoFrameHabit {
  static constexpr ControlFacts facts{
      CueAction::press,   "state",        PoseLasts::until_next_press, BaseMoves::stands_still,
      Asks::within_range, HeldBy::presses};
  bool leads_to(std::size_t one) const noexcept { return std::find(poses.begin(), poses.end(), one) != poses.end(); }

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
struct Mirror : MovesBase, NoFrameHabit {
  static constexpr ControlFacts facts{CueAction::press,   "state",        PoseLasts::no_pose, BaseMoves::at_cues,
                                      Asks::beyond_range, HeldBy::presses};
  bool owns_base() const noexcept { return true; }

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
struct Clicks : MovesBase {
  static constexpr ControlFacts facts{CueAction::click,   "count",       PoseLasts::no_pose, BaseMoves::at_cues,
                                      Asks::within_range, HeldBy::button};
  bool owns_base() const noexcept { return false; }
  FrameHabit frame_habit() const noexcept { return every_frame ? FrameHabit::steps_each_frame : FrameHabit::none; }
  void drop_frame_habit(double usual_fps) noexcept {
    if (!every_frame) return;
    every_frame = false;
    repeat_every = 1.0 / usual_fps;
  }

  StepKind by = StepKind::amount;
  double step = 1.0;
  int per_stroke = 1;                   ///< how many clicks a finger makes in one stroke
  double double_within = 0.0;           ///< s: two clicks one way this close run to the end; 0: never
  std::optional<double> repeat_every{}; ///< s: while held, a click again and again
  bool every_frame = false;             ///< the accident: while held, a click on each frame
  bool repeats_double = false;          ///< the accident: repeats count toward two clicks that run to the end
  bool from_view = false;               ///< where an obstacle holds the view, a click counts from there
  bool invert = false;
};

/// The base by so much for each count of a pointer.
struct Pointer : MovesBase {
  static constexpr ControlFacts facts{
      CueAction::pointer, "", PoseLasts::no_pose, BaseMoves::between_cues, Asks::within_range, HeldBy::button};
  bool owns_base() const noexcept { return false; }
  FrameHabit frame_habit() const noexcept {
    return times_frame_time ? FrameHabit::counts_times_frametime : FrameHabit::none;
  }
  void drop_frame_habit(double usual_fps) noexcept {
    if (!times_frame_time) return;
    times_frame_time = false;
    gain /= usual_fps;
  }

  double gain = 1.0; ///< units a count
  bool invert = false;
  std::optional<double> top_speed{}; ///< units a second: the base follows the counts no faster
  bool times_frame_time = false;     ///< the accident: counts are multiplied by the frame's time
  RunsOn runs_on = RunsOn::game;     ///< the time by which its top speed goes
};

/// How a deflection is taken: nothing within the dead band, all within the outer one before the stop, and between them
/// the share of the way to a power.
struct StickResponse {
  double dead_band = 0.0;       ///< 0..1
  double outer_dead_band = 0.0; ///< 0..1, together with dead_band less than 1
  double exponent = 1.0;        ///< > 0; 1 is even, more is finer about the middle
};
/// The base at a speed, or at a place, that a deflection sets.
struct Stick : MovesBase, NoFrameHabit {
  static constexpr ControlFacts facts{CueAction::stick,   "value",      PoseLasts::no_pose, BaseMoves::between_cues,
                                      Asks::within_range, HeldBy::state};
  bool owns_base() const noexcept { return absolute; } ///< it says outright where the base is

  double gain = 1.0;      ///< at full deflection, per second: units, doublings in the spaces ratio and zoom
  double spin_up = 0.0;   ///< s from rest to full speed
  double spin_down = 0.0; ///< s from full speed to rest
  StickResponse response{};
  std::optional<ComponentRef> gain_from{}; ///< instead of gain: the channel whose value it is
  bool invert = false;
  bool absolute = false;         ///< the deflection is a place: rest at 0, the ends of the range at 1 and -1
  RunsOn runs_on = RunsOn::game; ///< the time by which it moves the base
};

/// A sequence begins at a press, and is skipped at one while it runs.
struct Starter : PutsPoses, NoFrameHabit {
  static constexpr ControlFacts facts{
      CueAction::press, "", PoseLasts::no_pose, BaseMoves::stands_still, Asks::within_range, HeldBy::presses};
  bool leads_to(std::size_t) const noexcept { return false; }

  std::size_t sequence = 0;
};

using ControlRule = std::variant<Hold, Toggle, Cycle, Mirror, Clicks, Pointer, Stick, Starter>;

struct Control {
  std::string name;
  ControlRule rule;
  std::vector<std::string> buttons;  ///< down while any is; empty: the control is its own button
  std::optional<std::size_t> unless; ///< without effect while this control is on
};

inline ControlFacts facts_of(const Control& control) noexcept {
  return std::visit([](const auto& rule) { return rule.facts; }, control.rule);
}
/// The component whose base the control moves, if it moves one.
const ComponentRef* target_of(const Control& control) noexcept;
/// True if the control can put the pose into force.
bool leads_to(const Control& control, std::size_t pose) noexcept;
/// True if it says outright where a base is, so that nothing else may move it.
bool owns_base(const Control& control) noexcept;

/// What the control does once on every frame, if anything.
FrameHabit frame_habit_of(const Control& control) noexcept;
/// The same control with what it does by frames at `usual_fps` done by time instead.
void drop_frame_habit(Control& control, double usual_fps) noexcept;

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

/// A pose that goes on by itself where a value crosses one threshold, and goes where it crosses another; or a
/// sequence that begins there.
struct Switch {
  std::string name;
  ComponentRef on;   ///< whose smoothed value is looked at, at each frame
  bool below = true; ///< it is entered below `enter`; else above
  double enter = 0.0;
  double leave = 0.0; ///< beyond `enter`, seen from inside
  std::optional<std::size_t> pose{};
  std::optional<std::size_t> sequence{};
  std::vector<std::size_t> keep{}; ///< channels that stay where they are when it is entered or left
};

struct CueGoal {
  ComponentRef target;
  double value = 0.0; ///< in the channel's unit
};

/// Another track for a channel that follows.
struct CueTrack {
  std::size_t channel = 0;
  std::size_t track = 0;
};

/// Which part of a sequence is gone, and how: what is not told is as the sequence has it.
struct SequencePart {
  std::optional<std::size_t> from{}, to{}; ///< its stops, counted from 0
  std::optional<double> pace{};
  std::optional<bool> backward{};
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
  std::size_t sequence = 0;                   ///< of CueAction::start and skip
  SequencePart part{};                        ///< of CueAction::start
};

} // namespace stasis
