// Whether a finished take holds to what is wanted of it.
#pragma once

#include <optional>
#include <string>

#include "core/feel/feel.hpp"
#include "core/measure/take_measures.hpp"

namespace stasis {

struct WantVerdict {
  bool holds = false;
  std::optional<double> value; ///< nothing: it did not happen, and the want does not hold
  std::string measure;         ///< "fov.settling_time"
  std::string bound;           ///< "at most 0.6 s"
  std::string unit;
  WantRule rule = WantRule::at_most;
  double limit = 0.0;           ///< what `bound` says, as a number
  std::optional<double> within; ///< of WantRule::near
};
/// "at_most", "at_least", "near": as a feel has it.
std::string_view name_of(WantRule rule) noexcept;

/// A bound is met within this share of it.
inline constexpr double want_tolerance = 1e-9;
/// The measure that a want is of, as a finished take has it; nothing where it did not happen.
std::optional<double> wanted_value(const Want& want, const Feel& feel, const TakeMeasures& measures);
/// What a want says, before anything has been measured.
WantVerdict announced(const Want& want, const Feel& feel);
WantVerdict judge(const Want& want, const Feel& feel, const TakeMeasures& measures);

} // namespace stasis
