// What a rule of a frame rate becomes when it is to feel the same at any.
#pragma once

#include <optional>
#include <string>

#include "core/motion/motion.hpp"

namespace stasis {

/// The motion that makes of a standing goal, at every frame of the tuned rate, what the rule makes of it there.
struct Equivalent {
  Motion motion;
  bool is_exact = true; ///< false: the same poles, but another first frame
  std::string text;     ///< as a feel says it: `kind = "glide", half_life = 0.159`
  std::string in_words; ///< "half-life 0.159 s"
};

/// \returns nothing where the rule reaches or passes its goal within one frame, swings from frame to frame, or grows.
std::optional<Equivalent> equivalent_of(const PerFrame& rule);
/// Why there is none, in words; empty if there is one.
std::string why_no_equivalent(const PerFrame& rule);

/// Seconds by which the rule, on frames of its tuned rate, trails a goal that moves steadily, seen on the frames;
/// nothing for an amount, which keeps up or does not, and for a rule that does not settle.
std::optional<double> steady_lag(const PerFrame& rule) noexcept;

/// The continuous rule that was meant: the equivalent, or where there is none, the rule at an endless frame rate.
Motion continuous_form(const PerFrame& rule);

/// Largest distance between the rule and its equivalent at the frames of the tuned rate, a share of what is named.
struct Residual {
  double of_step = 0.0; ///< of a step from rest
  double of_ramp = 0.0; ///< a goal that moves steadily from rest on: a share of the goal's way in one second
};
Residual residual_of(const PerFrame& rule, const Motion& equivalent);

} // namespace stasis
