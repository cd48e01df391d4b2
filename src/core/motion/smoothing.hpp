// One smoothing in many words: which are the same exactly, and which are only the nearest match.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/curve/curve.hpp"
#include "core/motion/asked.hpp"
#include "core/units.hpp"

namespace stasis {

/// The words in which people say how a value follows its goal.
enum class SmoothingForm : std::uint8_t {
  fraction,      ///< share of the gap closed on each frame, at a frame rate
  product,       ///< rate times frame time taken as that share, at a frame rate; the number is the rate
  rate,          ///< 1/s: of the exponential approach
  time_constant, ///< s
  half_life,     ///< s
  time_to_90,    ///< s: to within 10 % of a step; likewise the next three
  time_to_95,
  time_to_98,
  time_to_99,
  spring_frequency, ///< Hz: of a critically damped spring
  spring_time,      ///< s: 2 / w of such a spring
  ease_duration,    ///< s: of an eased move
};

struct SmoothingWord {
  SmoothingForm form;
  std::string_view word; ///< "half_life"
  UnitKind unit;
  std::string_view meaning;
};
std::span<const SmoothingWord> smoothing_words() noexcept;

/// The kinds of curve behind the forms: within one, translations are exact.
enum class SmoothingFamily : std::uint8_t { exponential, critical_spring, eased };
SmoothingFamily family_of(SmoothingForm form) noexcept;

struct Smoothing {
  SmoothingForm form = SmoothingForm::half_life;
  double value = 0.0;
  double fps = 60.0; ///< of fraction and product
};

struct Translation {
  Smoothing to;
  bool exact = true;
  std::string sense; ///< what holds: "exact", "exact at 60 fps", "nearest: the same time to 90 %"
};

/// Why a smoothing has no equivalent at other frame rates: it reaches or passes its goal within one frame. Empty if it
/// has one.
std::string why_no_equivalent(const Smoothing& smoothing);

/// The smoothing in every form, per-frame forms at each of `rates` (fps). Between families the match is the one with
/// the same time to 90 % of a step. \param curve of eased moves. Needs a smoothing that has an equivalent.
std::vector<Translation> translations_of(const Smoothing& smoothing, std::span<const double> rates, const Curve& curve);

/// The smoothing in every form, at 60 frames a second; between families as behind `ease-in-out`.
std::vector<EquivalentForm> forms_of(const Smoothing& from);

/// One translation: `smoothing` in the form of `to`, at its fps.
double translated(const Smoothing& smoothing, SmoothingForm to, double fps, const Curve& curve);

/// The time, in units of its 2 / w, after which a critically damped spring stays within `share` of a step's end.
double critical_time_to(double share) noexcept;

} // namespace stasis
