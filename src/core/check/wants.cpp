#include "core/check/wants.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/measure/camera_measures.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/shake_measure_names.hpp"
#include "core/text.hpp"

namespace stasis {

std::string_view name_of(WantRule rule) noexcept {
  switch (rule) {
  case WantRule::at_most: return "at_most";
  case WantRule::at_least: return "at_least";
  case WantRule::near: return "near";
  }
  return "";
}

namespace {

/// True if a value is a bound, or on its right side, except for what a worked-out number may be off: a feel that is
/// given by the very number that is wanted of it meets the want.
bool at_most(double value, double bound) noexcept {
  return value - bound <= want_tolerance * std::max(std::fabs(value), std::fabs(bound));
}

} // namespace

std::optional<double> wanted_value(const Want& want, const Feel& feel, const TakeMeasures& measures) {
  if (want.shake) return shake_measure(feel, measures, *want.shake, want.measure);
  if (want.is_of_camera) return camera_measure(measures, want.measure);
  return channel_measure(feel, measures, want.channel, want.measure, want.rule == WantRule::at_least);
}

WantVerdict announced(const Want& want, const Feel& feel) {
  WantVerdict verdict;
  verdict.rule = want.rule;
  verdict.limit = want.bound;
  if (want.rule == WantRule::near) verdict.within = want.within;
  const std::string_view owner = want.shake          ? std::string_view(feel.shakes[*want.shake].name)
                                 : want.is_of_camera ? camera_name
                                                     : std::string_view(feel.channels[want.channel].name);
  verdict.measure = fmt::format("{}.{}", owner, want.measure);
  verdict.unit = want.shake          ? shake_measure_unit(feel, *want.shake, want.measure)
                 : want.is_of_camera ? camera_measure_unit(feel, want.measure)
                                     : channel_measure_unit(feel.channels[want.channel], want.measure);
  if (verdict.unit == "1") verdict.unit.clear();
  const std::string unit = verdict.unit.empty() ? "" : " " + printable(verdict.unit, 20);
  switch (want.rule) {
  case WantRule::at_most: verdict.bound = fmt::format("at most {}{}", concise(want.bound, 6), unit); break;
  case WantRule::at_least: verdict.bound = fmt::format("at least {}{}", concise(want.bound, 6), unit); break;
  case WantRule::near:
    verdict.bound = fmt::format("{}{} within {}", concise(want.bound, 6), unit, concise(want.within, 6));
    break;
  }
  return verdict;
}

namespace {

/// True if a move went on for longer than a settling time's bound and has not settled: it is not within it either.
bool has_gone_on_for_longer(const Want& want, const TakeMeasures& measures) noexcept {
  if (want.shake || want.is_of_camera || want.measure != "settling_time") return false;
  return std::any_of(measures.moves.begin(), measures.moves.end(), [&](const Move& move) {
    return move.channel == want.channel && !move.settling_time && move.overshoot // it is a way, and has been followed
           && !at_most(move.end - move.start, want.bound);
  });
}

} // namespace

WantVerdict judge(const Want& want, const Feel& feel, const TakeMeasures& measures) {
  WantVerdict verdict = announced(want, feel);
  verdict.value = wanted_value(want, feel, measures);
  if (want.rule == WantRule::at_most && has_gone_on_for_longer(want, measures)) verdict.value.reset();
  if (!verdict.value) return verdict;
  switch (want.rule) {
  case WantRule::at_most: verdict.holds = at_most(*verdict.value, want.bound); break;
  case WantRule::at_least: verdict.holds = at_most(want.bound, *verdict.value); break;
  case WantRule::near: verdict.holds = at_most(std::fabs(*verdict.value - want.bound), want.within); break;
  }
  return verdict;
}

} // namespace stasis
