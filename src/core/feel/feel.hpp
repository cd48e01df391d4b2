// A feel as plain structs: what a document says, checked and with every name resolved to an index.
#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/clock.hpp"
#include "core/components.hpp"
#include "core/feel/control.hpp"
#include "core/feel/follow.hpp"
#include "core/feel/pose.hpp"
#include "core/feel/sequence.hpp"
#include "core/formula/formula.hpp"
#include "core/motion/motion.hpp"
#include "core/scene/obstacle.hpp"
#include "core/scene/track.hpp"
#include "core/shake/shake.hpp"
#include "core/space/space.hpp"

namespace stasis {

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

/// What a formula reads of a track.
enum class TrackField : std::uint8_t { place, speed, heading, throttle };

/// What a name in a formula stands for.
struct FormulaVariable {
  enum class Kind : std::uint8_t { smooth, goal, control, time, track } kind = Kind::smooth;
  ComponentRef component{};
  std::size_t control = 0;
  std::size_t track = 0;
  TrackField field = TrackField::place; ///< of Kind::track; `component.component` says which of the place
  bool operator==(const FormulaVariable&) const = default;
};

/// After a pause an angle turns back to a heading.
struct Realign {
  enum class To : std::uint8_t { travel, velocity, facing, heading } to = To::travel;
  std::size_t track = 0;
  double heading = 0.0;     ///< unit of the channel: the heading itself, or beside the subject's
  double wait = 1.5;        ///< s without a touch
  double least_speed = 0.0; ///< track units a second
};

/// Obstacles hold a distance in.
struct ObstacleRule {
  double radius = 0.0;                ///< unit: of the ball that goes along the ray
  double stand_off = 0.0;             ///< unit, along the surface's normal
  bool never_through = false;         ///< the value after the motion is held to the hit
  std::vector<std::size_t> obstacles; ///< of the feel
  bool has_ray = false;               ///< one of them at least is not recorded
};

/// A channel that is another one of one component, this many times as large: it moves as that does.
struct Tie {
  std::size_t channel = 0;
  double times = 1.0;
};

struct Channel {
  std::string name;
  std::string unit; ///< as declared; may be empty
  std::size_t components = 1;
  Components rest{};
  std::array<ComponentRange, most_components> range{};
  SpaceMap space;
  MotionChoices motion{};                                     ///< by component
  double motion_times = 1.0;                                  ///< they take this many times as long
  std::optional<ComponentRef> motion_times_channel{};         ///< instead of `motion_times`
  std::array<std::optional<double>, most_components> start{}; ///< the base at a take's beginning, where it is not rest
  SettleBand settle_band;
  std::array<std::optional<Formula>, most_components> formula{}; ///< instead of a standing base
  std::optional<Follow> follow;                                  ///< instead of a standing base
  std::optional<Realign> realign{};
  std::optional<Tie> tie{};            ///< the width of a flat view beside its height; its formula says the same
  std::optional<double> keeps_width{}; ///< the distance at which so much fits across the picture, in the unit
  std::optional<ObstacleRule> obstacles{};
  bool is_pushed = false;        ///< a stick or a pointer moves its base
  bool is_watched = false;       ///< a switch looks at it
  bool is_placed = false;        ///< the eye: its goal is where focus, distance, yaw, pitch and side put it
  RunsOn runs_on = RunsOn::game; ///< the time by which its motion goes
  std::optional<double> snap;    ///< cell of the grid to which the output is put, in the unit
};

/// Goals of channels read from a driving one.
struct Profile {
  std::string name;
  ComponentRef driver{};
  double roundness = 1.0;
  struct Driven {
    ComponentRef component;
    std::shared_ptr<const ProfileCurve> curve;
  };
  std::vector<Driven> driven;
};

struct Take {
  std::string name;
  double length = 0.0; ///< s
  double fps = 60.0;
  Disturbance disturbance;         ///< of its clock
  Tick tick{.rate = 0.0};          ///< of its subjects
  std::vector<Cue> cues;           ///< sorted by time, ties as written
  std::vector<std::size_t> tracks; ///< by track of the feel: the one that is played in its stead; empty: themselves
  std::optional<std::vector<std::size_t>> obstacles{}; ///< those that stand, ascending; all without it

  bool has_obstacle(std::size_t obstacle) const noexcept {
    return !obstacles || std::binary_search(obstacles->begin(), obstacles->end(), obstacle);
  }
};

struct Picture {
  int width = 1280; ///< px
  int height = 800;
  enum class LensAxis : std::uint8_t { vertical, horizontal } lens_axis = LensAxis::vertical;
  std::optional<std::size_t> lens_channel;
  std::optional<std::size_t> height_channel, width_channel;
  std::optional<double> margin;    ///< px drawn beyond each edge
  std::optional<double> most_roll; ///< deg: limits of comfort, as the measures of these names
  std::optional<double> top_turn_speed, top_turn_acceleration; ///< deg/s, deg/s2
  std::optional<double> top_eye_speed;                         ///< in the unit of places, per second
  std::optional<std::array<int, 2>> coarse; ///< px: the low-resolution picture that is enlarged to width x height
  std::optional<std::size_t> position, focus, distance, side, yaw, pitch, roll; ///< the channels of picture_roles()

  /// True if it is looked at from above: its view is a part of a plane.
  bool is_flat() const noexcept { return height_channel || width_channel; }
};

/// A channel that places the camera: where the eye is, what it looks at and how it is turned.
struct PictureRole {
  std::string_view key;
  std::optional<std::size_t> Picture::*channel;
  std::size_t least_components, most_components;
  bool is_angle;
};
std::span<const PictureRole> picture_roles() noexcept;

/// A named number with a range that a player may change.
struct Setting {
  std::string name;
  double value = 0.0;
  double low = 0.0, high = 0.0;
  std::string unit;
  bool is_used = false; ///< a value of the feel refers to it
};

enum class WantRule : std::uint8_t { at_most, at_least, near };

/// A bound on a measure of a finished take.
struct Want {
  std::size_t take = 0;
  std::size_t channel = 0;
  std::optional<std::size_t> shake{}; ///< it is of this shake instead
  bool is_of_camera = false;          ///< it is of the camera as a whole instead
  std::string measure;                ///< of the channel, such as "settling_time"
  WantRule rule = WantRule::at_most;
  double bound = 0.0;
  double within = 0.0; ///< WantRule::near
  bool every_take = false;
};

/// A stored trace that a take is held to.
struct Baseline {
  std::size_t take = 0;
  std::string file;    ///< beside the feel
  std::string column;  ///< of the trace, or the name before its dot; empty for every column
  double within = 0.0; ///< how far it may stray, in the column's own unit
};

/// A warning that the feel silences, and why.
struct Silenced {
  std::string code;
  std::string about; ///< what it is about, such as a channel; empty for all
  std::string reason;
};

/// A named curve.
struct NamedCurve {
  std::string name;
  Curve curve;
};

struct Feel {
  std::string title;
  Picture picture;
  std::vector<Channel> channels;
  std::vector<NamedMotion> motions;
  std::vector<Track> tracks;
  std::vector<Shake> shakes;
  std::vector<Pose> poses;
  std::vector<Control> controls;
  std::vector<Group> groups;
  std::vector<Switch> switches;
  std::vector<Sequence> sequences;
  std::vector<Profile> profiles;
  std::vector<Obstacle> obstacles;
  std::vector<FormulaVariable> variables; ///< of all formulas
  std::vector<std::size_t> order;         ///< of the channels, such that a formula comes after what it reads
  std::vector<Take> takes;
  std::vector<NamedCurve> curves;
  std::vector<Setting> settings;
  std::vector<Want> wants;
  std::vector<Baseline> baselines;
  std::vector<Silenced> silenced;
  std::vector<std::string> used_names; ///< motions in the stages of others, in variants, or shared with other feels
};

/// What a component's output is held to: its range, except in the space `turn`, whose range bounds the goal as written
/// while the output counts on over whole turns.
ComponentRange output_range(const Channel& channel, std::size_t component) noexcept;
/// Within what goals and homes are held: the range, as far as the channel's space can hold it. What asks for less than
/// nothing of a ratio, or for a lens of more than half a turn, gets the nearest that there is.
ComponentRange goal_range(const Channel& channel, std::size_t component) noexcept;

/// The channels in an order in which each comes after those that its formulas read.
std::vector<std::size_t> channel_order(const Feel& feel);
/// True if the view looks from a place of its own, in space, towards a place, whatever turns it: it hangs on both.
bool is_view_from_a_place(const Feel& feel) noexcept;
bool has_formula(const Channel& channel) noexcept;
/// The channel whose motion moves this one: of a tied one the other, else itself.
std::size_t moved_channel(const Feel& feel, std::size_t channel) noexcept;
/// When the frames of a take are drawn.
inline Clock clock_of(const Take& take) { return disturbed_clock(take.fps, take.length, take.disturbance); }
/// The track that a take plays where the feel names `track`.
inline std::size_t played_track(const Take& take, std::size_t track) noexcept {
  return take.tracks.empty() ? track : take.tracks[track];
}

/// Where a component's base begins.
inline double starting_base(const Channel& channel, std::size_t component) noexcept {
  return channel.start[component].value_or(channel.rest[component]);
}

/// True if the control can send the channel somewhere.
bool drives(const Feel& feel, const Control& control, std::size_t channel) noexcept;

/// Every motion becomes a cut.
void make_instant(Feel& feel);

/// "fov", or "focus.y" for the second component of a channel of several.
std::string component_name(const Channel& channel, std::size_t component);

} // namespace stasis
