// One take at several frame rates and on disturbed clocks, against the exact path. What each number means:
// docs/measures.md.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/how_far.hpp"
#include "core/measure/take_measures.hpp"
#include "core/motion/equivalent.hpp"

namespace stasis {

/// A clock on which the take is played.
struct RateCase {
  std::string label; ///< "30 fps", "60 fps with jitter"
  double fps = 60.0;
  Disturbance disturbance;
};

/// The frame rates that are tried where nothing else is asked for, fps.
inline std::vector<double> usual_rates_to_try() { return {15, 30, 60, 144}; }

/// Steady clocks at `rates` (fps), then jitter and stalls at 60 fps; and first of all the take's own clock, where it is
/// none of those.
std::vector<RateCase> usual_cases(const Take& take, const std::vector<double>& rates);

/// A largest distance, in the channel's unit, and when.
struct Deviation {
  double size = 0.0;
  double at = 0.0; ///< s
};

/// How one channel fares on one clock.
struct ChannelAtRate {
  Deviation spread;     ///< from the exact path, at every frame
  Deviation rule_error; ///< the part of the motion: from the exact path of inputs that come on this clock's frames
  Deviation input_wait; ///< the part of inputs that are first seen at the next frame
  std::optional<double> settling_time, overshoot;
  std::array<std::vector<double>, most_components> smooth, off; ///< by frame: the value, and its difference
};

struct RatePlay {
  RateCase what;
  Clock clock;
  TakeMeasures measures;
  std::vector<ChannelAtRate> channels;
};

/// A per-frame rule that the feel uses, and what to put in its place.
struct Replacement {
  std::string motion; ///< its name
  PerFrame rule;
  std::optional<Equivalent> equivalent;
  Residual residual;
};

struct RatesAccount {
  const Feel* feel = nullptr;
  const Take* take = nullptr;
  std::vector<RatePlay> plays;
  std::vector<double> largest_move; ///< of the exact path, by channel, in its unit; 0 where it makes none
  std::vector<Replacement> replacements;
  std::vector<std::string> frame_controls; ///< in words: the controls of the take that go by frames
  std::vector<std::string> frame_shakes;   ///< in words: the shakes that are felt and go by frames
  std::vector<std::string> causes;         ///< by channel: why it differs, in words; empty where it does not
  /// The exact path at instants of its own, by channel and component, for drawing.
  std::vector<double> exact_times;
  std::vector<std::array<std::vector<double>, most_components>> exact;

  /// A distance as a share of the channel's largest move, per cent; nothing where it makes none.
  std::optional<double> share(std::size_t channel, double size) const noexcept;
  /// True if its motion or goal is off by itself on any clock, beside inputs that wait.
  bool has_rule_error(std::size_t channel) const noexcept;
  /// What a channel is judged by in a play: the rule error where it has one on any clock, else the spread.
  const Deviation& judged_by(std::size_t channel, const RatePlay& play) const noexcept;
  /// The play in which a channel fares worst by that.
  std::size_t worst_play(std::size_t channel) const noexcept;
  /// The channel that fares worst of all, by share: those with a rule error first, then those that make moves. Nothing
  /// where none differs by more than rounding.
  std::optional<std::size_t> worst_channel() const noexcept;
  bool is_noticeable(std::size_t channel, double size) const noexcept;
};

/// Plays the take in every case. \param feel, take outlive the account. \param how_far told of plays.
RatesAccount play_rates(const Feel& feel, const Take& take, std::vector<RateCase> cases, const HowFar& how_far = {});

/// The feel with every per-frame rule replaced by its continuous form: what the exact path is played with.
Feel continuous_feel(const Feel& feel);

/// What to do about a per-frame rule, in words.
std::string advice_on(const Replacement& replacement);

} // namespace stasis
