// What every motion is asked, and how the answers are given.
//
// A kind of motion answers all of it by members of its own struct: how it steps, what lies inside a frame, what can
// still come, how it is judged, how it is said. Everyone else asks a `Motion` (motion.hpp, mover.hpp, frame_piece.hpp,
// response.hpp); a kind without one of its parts does not compile.
#pragma once

#include <concepts>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/curve/curve_point.hpp"
#include "core/motion/goal_segment.hpp"
#include "core/motion/instant.hpp"

namespace stasis {

struct MoverState;
struct StepMemory;
struct Stretch;
struct FramePiece;
struct KeptSpringStep;

/// s since a run began, at both ends of a piece. The end is that at which the next piece begins, to the bit: a sum
/// would miss it by a rounding.
struct RunTime {
  double begin = 0.0, end = 0.0;
};

/// What can still come of a frame's end if the goal stays: bounds, in the space.
struct Outlook {
  double stray;  ///< largest distance from the goal
  double beyond; ///< largest distance past the goal, seen from where the value now is
};

/// The answer to a goal that sways.
struct Response {
  double gain = 1.0;  ///< share of its amplitude that comes through
  double phase = 0.0; ///< rad, negative: late
  double wait = 0.0;  ///< s by which it is late besides
};

/// One motion in another form.
struct EquivalentForm {
  std::string name;
  double value;
  std::string unit;
  std::string sense; ///< "exact", or in what sense it is the nearest
};

/// What is to be known of a motion without stepping it.
struct MotionFacts {
  std::optional<double> typical_time{}; ///< s, by which its quickness is judged; nothing where it has none
  double step_time = 0.0;               ///< s in which a step from 0 to 1 has long come to rest
  std::string_view no_curve{}; ///< why a step is no curve over its time, as the end of a sentence; empty: it is one
};

/// What is asked of a motion on many frames.
struct MotionTraits {
  bool jumps = false;            ///< it is at its goal as soon as that acts
  bool keeps_speed = false;      ///< its speed does not jump when its goal does
  bool takes_speed_over = false; ///< nor when it follows on another motion
  bool goes_on_alike = false; ///< one closed form over many frames, for as long as its goal stands; a curve may stand
                              ///< upright, a rule per frame and what is led may do anything on any of them
};

/// In each, `elapsed` is s since the run of the state began, if it has one. All in the channel's space.
// many: something of every type that a question needs
template<class Kind>
concept AnswersAll = requires(const Kind& kind, const MoverState& from, MoverState& state, StepMemory& memory,
                              const Stretch& stretch, RunTime time, GoalSegment goal, const FramePiece& piece,
                              Side side, KeptSpringStep& kept, double number, bool in_doublings) {
  /// As in a feel, `kind = "..."`.
  { kind.name() } -> std::same_as<std::string_view>;
  /// Fills rows behind a goal that stands.
  { kind.fill(state, memory, stretch) } -> std::same_as<void>;
  /// Goes on by so many seconds, time, goal, h. \returns the rate just before the end.
  { kind.go_on(state, memory, time, goal, number) } -> std::same_as<double>;
  /// The rate just after a frame begins: elapsed, where the goal then is, how fast it goes.
  { kind.starting_rate(from, number, number, number) } -> std::same_as<double>;
  /// The exact solution, u seconds into a piece of a frame.
  { kind.inside(piece, number, side, kept) } -> std::same_as<Instant>;
  /// See next_break() of a FramePiece, and what follows it there.
  { kind.next_break(piece, number) } -> std::same_as<std::optional<double>>;
  { kind.outlook(piece) } -> std::same_as<Outlook>;
  { kind.calm_time(piece) } -> std::same_as<double>;
  { kind.smooth_stretch(piece, number, number) } -> std::same_as<double>;
  /// To a goal that sways at this angular frequency; nothing if it is not linear.
  { kind.response(number) } -> std::same_as<std::optional<Response>>;
  /// s behind a goal that moves steadily; nothing if it is not linear.
  { kind.lag() } -> std::same_as<std::optional<double>>;
  /// Taking a multiple of the time, > 0, its speed going on as it is; what cannot stays as it is.
  { kind.slowed(number) } -> std::same_as<Kind>;
  { kind.traits() } -> std::same_as<MotionTraits>;
  { kind.facts() } -> std::same_as<MotionFacts>;
  /// What it is and how it feels; in a logarithmic space what is per second was given in doublings, and is said in
  /// them.
  { kind.sentence(in_doublings) } -> std::same_as<std::string>;
  { kind.forms() } -> std::same_as<std::vector<EquivalentForm>>;
};

} // namespace stasis
