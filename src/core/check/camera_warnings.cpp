// What is uncomfortable about the camera as a whole.
#include <fmt/format.h>

#include "core/check/warning.hpp"
#include "core/measure/camera_measures.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

struct Comfort {
  std::string_view measure, code, does;
  std::optional<double> Picture::*limit;
};
constexpr std::array comforts{
    Comfort{"top_turn_speed", "uncomfortable_motion", "turns at up to", &Picture::top_turn_speed},
    Comfort{"top_turn_acceleration", "uncomfortable_motion", "turns faster and slower by up to",
            &Picture::top_turn_acceleration},
    Comfort{"top_eye_speed", "uncomfortable_motion", "goes at up to", &Picture::top_eye_speed},
    Comfort{"most_roll", "uncomfortable_roll", "rolls by up to", &Picture::most_roll},
};

/// "on the way from stop 2 to 3 of arrival".
std::string leg_text(const Sequence& sequence, const SequenceLeg& leg) {
  if (leg.from == 0) return fmt::format("on the way to stop {} of {}", leg.to, sequence.name);
  return fmt::format("on the way from stop {} to {} of {}", leg.from, leg.to, sequence.name);
}

/// Likewise, after a comma, where a sequence leads the view at that time.
std::string leg_at(const Feel& feel, const TakeMeasures& measures, double when) {
  for (std::size_t s = 0; s < feel.sequences.size(); ++s)
    for (const LegSummary& one : measures.sequences[s].legs)
      if (when >= one.leg.start && when <= one.leg.start + one.leg.duration)
        return ", " + leg_text(feel.sequences[s], one.leg);
  return "";
}

/// Where [picture] says nothing, a view that is led, which nobody turns by hand, turns no faster than this.
constexpr double fastest_led_turn = 360.0; // deg/s

void warn_of_led_turns(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out) {
  for (std::size_t s = 0; s < feel.sequences.size(); ++s) {
    const LegSummary* worst = nullptr;
    for (const LegSummary& one : measures.sequences[s].legs)
      if (one.top_turn_speed.value_or(0.0) > (worst != nullptr ? *worst->top_turn_speed : fastest_led_turn))
        worst = &one;
    if (worst == nullptr) continue;
    Warning warning;
    warning.code = "uncomfortable_motion";
    warning.about = feel.sequences[s].name;
    warning.take = take.name;
    warning.message = fmt::format(
        "the view turns at up to {} deg/s {}; people can follow up to {}. If you mean it, set [picture] top_turn_speed",
        readable(*worst->top_turn_speed), leg_text(feel.sequences[s], worst->leg), fastest_led_turn);
    out.push_back(std::move(warning));
  }
}

} // namespace

void warn_of_camera(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out) {
  if (!feel.picture.top_turn_speed) warn_of_led_turns(feel, take, measures, out);
  for (const Comfort& comfort : comforts) {
    const auto& limit = feel.picture.*comfort.limit;
    const auto value = camera_measure(measures, comfort.measure);
    if (!limit || !value || *value <= *limit) continue;
    const std::string unit = printable(camera_measure_unit(feel, comfort.measure), 20);
    const double when = camera_measure_time(measures, comfort.measure).value_or(0.0);
    Warning warning;
    warning.code = comfort.code;
    warning.about = camera_name;
    warning.take = take.name;
    warning.message =
        fmt::format("the camera {} {} {} ({} s{}), with everything that moves it; [picture] allows {}", comfort.does,
                    readable(*value), unit, readable(when), leg_at(feel, measures, when), concise(*limit));
    out.push_back(std::move(warning));
  }
}

} // namespace stasis
