// One take at several frame rates and on disturbed clocks, against the exact path. What each number means:
// docs/measures.md.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/component_ref.hpp"
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
  std::vector<double> largest_move;  ///< of the exact path, by channel, in its unit; 0 where it makes none
  std::vector<double> largest_value; ///< the same of its values, by size
  std::vector<Replacement> replacements;
  std::vector<std::string> frame_controls; ///< in words: the controls of the take that go by frames
  std::vector<std::string> frame_shakes;   ///< in words: the shakes that are felt and go by frames
  std::vector<std::string> causes;         ///< by channel: why it differs, in words; empty where it does not

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

/// Is told the values that are compared, a stretch of the take at a time, in order: for drawing.
class RateRows {
public:
  virtual ~RateRows() = default;
  /// The plays are known: what they are and their clocks, no more.
  virtual void begin(const RatesAccount& account) = 0;
  /// Of a channel's component: the exact path at instants of its own. \param times, values equally many; s, and the
  /// channel's unit
  virtual void add_exact(ComponentRef component, std::span<const double> times, std::span<const double> values) = 0;
  /// The frames of a play, and how far each is off the exact path. \param times, values, off equally many
  // many: which play, which component, and its three columns
  virtual void add_frames(std::size_t play, ComponentRef component, std::span<const double> times,
                          std::span<const double> values, std::span<const double> off) = 0;
  virtual void end() = 0;
};

/// Plays the take in every case, all of them side by side, so that memory does not grow with its length.
/// \param feel, take outlive the account. \param how_far told of stretches of the take. \param rows null for none
RatesAccount play_rates(const Feel& feel, const Take& take, std::vector<RateCase> cases, const HowFar& how_far = {},
                        RateRows* rows = nullptr);

/// The feel with every per-frame rule replaced by its continuous form: what the exact path is played with.
Feel continuous_feel(const Feel& feel);

/// What to do about a per-frame rule, in words.
std::string advice_on(const Replacement& replacement);

} // namespace stasis
