// One move of a channel and what is measured on it. What each number means: docs/measures.md.
#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/clock.hpp"
#include "core/feel/feel.hpp"
#include "core/measure/measure_facts.hpp"

namespace stasis {

/// Times are seconds after the start, shares per cent of the move in the channel's space, the rest in the channel's
/// unit. A measure without a value did not happen; `notes` says why.
/// A move by the clock's time, where game time is another: when it begins, and how long it takes.
struct MoveOnTheClock {
  double start = 0.0; ///< s
  std::optional<double> delay_time, rise_time, peak_time, settling_time;
};

struct Move {
  std::size_t channel = 0;
  std::int64_t start_frame = 0;
  double start = 0.0; ///< s
  double end = 0.0;   ///< s: when the next goal came, or the take ended
  Components from{};
  Components to{};
  std::string cause;
  std::array<std::size_t, most_components> motion{}; ///< in force, by component: index into Feel::motions
  bool unavoidable = false;                          ///< a pace came in too fast to stop at the goal
  bool retargeted = false;                           ///< another goal came before it had settled
  bool unbounded_acceleration = false;               ///< its curve bends without bound somewhere; its speed is finite
  std::optional<double> delay_time;
  std::optional<double> rise_time;
  std::optional<double> rise_from_time; ///< when 10 % was reached; with rise_time, where the figure's rings stand
  std::optional<double> peak_time;
  std::optional<double> overshoot;
  std::optional<double> settling_time;
  std::optional<double> peak_speed;
  std::optional<double> peak_speed_time;
  std::optional<double> peak_acceleration;
  std::optional<double> jolt;
  std::optional<double> start_kick; ///< 1: |v(0+) - v(0-)| settling_time / |delta|
  std::optional<double> remaining;
  std::optional<double> sideways; ///< channels of several components: largest distance from the straight way
  std::optional<double> to_98;    ///< time to the first 98 % of the way
  Components peak_value{};        ///< where it overshot to; meaningful with peak_time
  Components settled_value{};     ///< where it was when it settled; meaningful with settling_time
  std::optional<MoveOnTheClock> on_the_clock{};
  std::shared_ptr<const Clock> by_clock{}; ///< of a move that goes by the clock's time, where game time is another

  /// When, in game time, so many seconds of its own after its start.
  double instant(double seconds) const {
    return by_clock ? by_clock->game_at(by_clock->drawn_at(start) + seconds) : start + seconds;
  }
  double peak_velocity = 0.0; ///< signed velocity of the first component at peak_speed_time
};

/// True if it has ended at its goal, except for rounding: it is not on its way.
bool is_there(const Move& move) noexcept;

struct MoveMeasure : Measure {
  std::optional<double> Move::*value;
};

/// The largest of a measure over a channel's moves; settling as docs/measures.md says (moves that were retargeted are
/// left out, an unsettled last move makes it nothing).
std::optional<double> largest(const MoveMeasure& measure, std::span<const Move> moves, std::size_t channel);
/// The smallest, likewise.
std::optional<double> smallest(const MoveMeasure& measure, std::span<const Move> moves, std::size_t channel);

/// A move of a channel of one component that is this many times as large as the other's.
Move times(const Move& move, double factor, std::size_t channel);

/// The names of the motions of a move, joined where its components differ.
std::string motion_name(const Feel& feel, const Move& move);

} // namespace stasis
