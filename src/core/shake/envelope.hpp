// How a shake dies away after a hit: a size, never below 0, exactly 0 at its end. Source: docs/maths.md, section 5.
#pragma once

#include <cstdint>
#include <limits>
#include <optional>
#include <string>
#include <string_view>

#include "core/curve/curve.hpp"

namespace stasis {

struct Decay {
  enum class Kind : std::uint8_t {
    none,      ///< it does not
    half_life, ///< half as strong after each half-life, ended at `until`
    linear,    ///< evenly to nothing in `duration`
    power,     ///< the same to a power
    eased,     ///< from 1 to 0 along a curve in `duration`
    per_frame, ///< the accident: a factor, or an amount less, on each frame, whatever the frame rate
  } kind = Kind::none;
  double half_life = 0.2; ///< s
  double duration = 1.0;  ///< s
  double exponent = 1.0;
  std::optional<Curve> curve{};
  double factor = 0.9;                ///< of Kind::per_frame: what is left after each frame
  std::optional<double> amount{};     ///< instead: share of full strength that each frame takes away
  bool runs_below_zero = false;       ///< the accident: nothing stops the amount at zero, and its size grows again
  double at_fps = 60.0;               ///< where that was tuned
  double until = 0.001;               ///< share at which a decay that never ends is ended
  double attack = 0.0;                ///< s: from nothing to full strength, evenly
  double hold = 0.0;                  ///< s at full strength
  std::optional<double> stop_after{}; ///< s after the hit: cut dead
};
std::string_view name_of(Decay::Kind kind) noexcept;

/// Share of full strength `since` seconds after a hit, 0 before it. \param frames_since how many frames that is, shares
/// of one included: a decay per frame goes by them, in proportion after attack and hold.
double envelope_at(const Decay& decay, double since, double frames_since) noexcept;
/// The half-life of what comes after attack and hold: given, or that of the rule. Here and below `fps` is where a decay
/// per frame is played; decays by time do not need it.
std::optional<double> half_life_of(const Decay& decay, double fps) noexcept;
/// The decay by time that is what a decay per frame is where it was tuned, as a feel has it.
std::string same_at_any_rate(const Decay& per_frame);
/// When it is exactly 0, s after the hit; infinite for Kind::none without a cut.
double end_of(const Decay& decay, double fps) noexcept;
/// Last time at which it is at least `share` (0..1) of full strength, s after the hit.
double time_above(const Decay& decay, double share, double fps) noexcept;
/// What stop_after cuts off, as a share of full strength; nothing if it cuts nothing.
std::optional<double> left_at_cut(const Decay& decay, double fps) noexcept;

} // namespace stasis
