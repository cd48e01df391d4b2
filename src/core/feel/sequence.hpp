// Views led through places, one after the other. Rules: docs/design.md, section 3.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "core/curve/curve.hpp"
#include "core/feel/pose.hpp"

namespace stasis {

/// A place on the way: goals of channels, when they are reached and how.
struct SequenceStop {
  /// How its goals are come to from those before.
  enum class Way : std::uint8_t {
    flown, ///< through, without a stop, unless it holds
    eased, ///< along a curve, from rest to rest
    moved, ///< by motions, which may need longer than until the next stop
    cut,
  } way = Way::flown;
  std::optional<double> at;    ///< s, from the sequence's beginning
  std::optional<double> after; ///< s, from leaving the stop before
  std::optional<double> speed; ///< along the way, from the stop before
  std::vector<PoseGoal> goals; ///< `entering`: the motion of Way::moved
  std::optional<Curve> curve;  ///< Way::eased
  double hold = 0.0;           ///< s that it stays
};

/// How yaw, pitch and roll are flown.
enum class SequenceTurns : std::uint8_t {
  angles,   ///< each by itself, as any value
  together, ///< as one turn, its angular velocity continuous
  even,     ///< as one turn, at one angular speed from stop to stop
};

struct Sequence {
  std::string name;
  std::vector<SequenceStop> stops;
  std::vector<PoseGoal> led; ///< one for each channel that a stop names; `leaving`: its motion when it is given back
  std::optional<std::size_t> along;        ///< the channel along which ways and speeds are measured; it is one of `led`
  bool steady = false;                     ///< what is flown is flown at one speed along the way
  bool overshoot = true;                   ///< what is flown may swing out beyond the stops around
  std::optional<double> ease_in, ease_out; ///< s: in which a flight gathers and loses its speed; 0: none
  SequenceTurns turns = SequenceTurns::angles;
  double pace = 1.0;
  int repeat = 1; ///< 0: without end
  bool there_and_back = false;
  bool backward = false;
  bool stays = false;                  ///< its last goals become home when it ends
  std::vector<std::size_t> skipped_by; ///< controls; pressed, they end it
};

/// True if the sequence leads the channel anywhere.
bool leads(const Sequence& sequence, std::size_t channel) noexcept;
/// True if a stop names a track, so that it is where a subject then is.
bool goes_with_subject(const Sequence& sequence) noexcept;

} // namespace stasis
