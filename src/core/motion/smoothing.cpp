#include "core/motion/smoothing.hpp"

#include <array>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/motion/spring_design.hpp"
#include "core/root.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

constexpr std::array form_words{
    SmoothingWord{SmoothingForm::fraction, "fraction", UnitKind::none, "share of the gap closed on each frame"},
    SmoothingWord{SmoothingForm::product, "product", UnitKind::rate,
                  "rate whose product with the frame time is that share"},
    SmoothingWord{SmoothingForm::rate, "rate", UnitKind::rate, "rate of the exponential approach, as are the next six"},
    SmoothingWord{SmoothingForm::time_constant, "time_constant", UnitKind::time, "its time to 63 % of a step"},
    SmoothingWord{SmoothingForm::half_life, "half_life", UnitKind::time, "its time in which the gap halves"},
    SmoothingWord{SmoothingForm::time_to_90, "time_to_90", UnitKind::time, "its time to 90 % of a step"},
    SmoothingWord{SmoothingForm::time_to_95, "time_to_95", UnitKind::time, "its time to 95 % of a step"},
    SmoothingWord{SmoothingForm::time_to_98, "time_to_98", UnitKind::time, "its time to 98 % of a step"},
    SmoothingWord{SmoothingForm::time_to_99, "time_to_99", UnitKind::time, "its time to 99 % of a step"},
    SmoothingWord{SmoothingForm::spring_frequency, "spring_frequency", UnitKind::frequency,
                  "frequency of a critically damped spring"},
    SmoothingWord{SmoothingForm::spring_time, "spring_time", UnitKind::time,
                  "time 2/w of a critically damped spring; it settles to 2 % after 2.92 of those"},
    SmoothingWord{SmoothingForm::ease_duration, "ease_duration", UnitKind::time, "duration of an eased move"},
};

/// What is left of a step, by time_to_90 .. time_to_99.
double share_left(SmoothingForm form) noexcept {
  constexpr std::array<double, 4> shares{0.1, 0.05, 0.02, 0.01};
  return shares[static_cast<std::size_t>(form) - static_cast<std::size_t>(SmoothingForm::time_to_90)];
}

/// When the curve first has 90 % of the way behind it, a share of its time.
double nine_tenths_of(const Curve& curve) {
  constexpr double wanted = 0.9;
  constexpr int looks = 4096;
  double low = 0.0;
  for (int i = 1; i <= looks; ++i) {
    const double high = static_cast<double>(i) / looks;
    const auto is_before = [&](double x) { return evaluate(curve, x).value < wanted; };
    if (!is_before(high)) return change_between(is_before, low, high).second;
    low = high;
  }
  return 1.0;
}

/// Seconds to 90 % of a step, the common ground of the families.
double time_to_nine_tenths(const Smoothing& from, const Curve& curve);

double exponential_rate(const Smoothing& s) {
  switch (s.form) {
  case SmoothingForm::fraction: return rate_of_fraction(s.value, s.fps);
  case SmoothingForm::product: return rate_of_fraction(s.value / s.fps, s.fps);
  case SmoothingForm::rate: return s.value;
  case SmoothingForm::time_constant: return rate_of_time_constant(s.value);
  case SmoothingForm::half_life: return rate_of_half_life(s.value);
  default: return rate_of_settling_time(s.value, share_left(s.form));
  }
}

double of_exponential_rate(double rate, SmoothingForm form, double fps) {
  switch (form) {
  case SmoothingForm::fraction: return -std::expm1(-rate / fps);
  case SmoothingForm::product: return -fps * std::expm1(-rate / fps);
  case SmoothingForm::rate: return rate;
  case SmoothingForm::time_constant: return 1.0 / rate;
  case SmoothingForm::half_life: return std::numbers::ln2 / rate;
  default: return -std::log(share_left(form)) / rate;
  }
}

/// 2 / w of a critically damped spring.
double spring_time_of(const Smoothing& s) noexcept {
  return s.form == SmoothingForm::spring_time ? s.value : 2.0 / angular_frequency(s.value);
}

double time_to_nine_tenths(const Smoothing& from, const Curve& curve) {
  switch (family_of(from.form)) {
  case SmoothingFamily::exponential: return -std::log(0.1) / exponential_rate(from);
  case SmoothingFamily::critical_spring: return critical_time_to(0.1) * spring_time_of(from);
  case SmoothingFamily::eased: return from.value * nine_tenths_of(curve);
  }
  return 0.0;
}

} // namespace

std::span<const SmoothingWord> smoothing_words() noexcept { return form_words; }

SmoothingFamily family_of(SmoothingForm form) noexcept {
  if (form == SmoothingForm::ease_duration) return SmoothingFamily::eased;
  const bool spring = form == SmoothingForm::spring_frequency || form == SmoothingForm::spring_time;
  return spring ? SmoothingFamily::critical_spring : SmoothingFamily::exponential;
}

double critical_time_to(double share) noexcept { return 0.5 * settling_angle(1.0, share / (1.0 + 1e-9)); }

std::string why_no_equivalent(const Smoothing& s) {
  if (s.form != SmoothingForm::fraction && s.form != SmoothingForm::product) return {};
  const double share = s.form == SmoothingForm::product ? s.value / s.fps : s.value;
  if (share < 1.0) return {};
  const std::string what = s.form == SmoothingForm::product
                               ? fmt::format("rate x frame time is {} at {} fps", concise(share, 6), concise(s.fps, 6))
                               : fmt::format("the fraction is {}", concise(share, 6));
  if (share == 1.0) return what + ": it arrives within one frame, and has no equivalent at other frame rates";
  if (share < 2.0) return what + ": it overshoots on every frame, and has no equivalent at other frame rates";
  return what + ": it does not settle, and has no equivalent at other frame rates";
}

double translated(const Smoothing& from, SmoothingForm to, double fps, const Curve& curve) {
  const SmoothingFamily family = family_of(from.form), wanted = family_of(to);
  const bool same_rate =
      fps == from.fps || (from.form != SmoothingForm::fraction && from.form != SmoothingForm::product);
  if (from.form == to && same_rate) return from.value;
  if (family == wanted && family == SmoothingFamily::exponential)
    return of_exponential_rate(exponential_rate(from), to, fps);
  if (wanted == SmoothingFamily::exponential)
    return of_exponential_rate(-std::log(0.1) / time_to_nine_tenths(from, curve), to, fps);
  if (wanted == SmoothingFamily::eased) return time_to_nine_tenths(from, curve) / nine_tenths_of(curve);
  const double time =
      family == wanted ? spring_time_of(from) : time_to_nine_tenths(from, curve) / critical_time_to(0.1);
  return to == SmoothingForm::spring_time ? time : natural_frequency_hz(2.0 / time);
}

std::vector<Translation> translations_of(const Smoothing& from, std::span<const double> rates, const Curve& curve) {
  std::vector<Translation> all;
  for (const SmoothingWord& word : form_words) {
    const bool per_frame = word.form == SmoothingForm::fraction || word.form == SmoothingForm::product;
    const bool exact = family_of(from.form) == family_of(word.form);
    const double once[] = {from.fps};
    for (const double fps : per_frame ? rates : std::span<const double>(once)) {
      Translation one{{word.form, translated(from, word.form, fps, curve), fps}, exact, "exact"};
      if (exact && per_frame) one.sense = fmt::format("exact at {} fps, and at no other rate", concise(fps, 6));
      if (!exact) one.sense = "nearest: the same time to 90 % of a step";
      all.push_back(std::move(one));
    }
  }
  return all;
}

std::vector<EquivalentForm> forms_of(const Smoothing& from) {
  constexpr double rates[] = {60.0};
  std::vector<EquivalentForm> forms;
  for (const Translation& t : translations_of(from, rates, *parse_curve("ease-in-out"))) {
    const SmoothingWord& word = smoothing_words()[static_cast<std::size_t>(t.to.form)];
    forms.push_back({std::string(word.word), t.to.value, std::string(own_unit(word.unit)), t.sense});
  }
  return forms;
}

} // namespace stasis
