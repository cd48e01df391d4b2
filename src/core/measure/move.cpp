#include "core/measure/move.hpp"

#include <array>

#include <fmt/format.h>

namespace stasis {

std::span<const MoveMeasure> move_measures() noexcept {
  using enum MeasureUnit;
  static constexpr std::array all{
      MoveMeasure{"delay_time", seconds, &Move::delay_time, "Time to the first 50 % of the way."},
      MoveMeasure{"rise_time", seconds, &Move::rise_time, "Time from the first 10 % to the first 90 % of the way."},
      MoveMeasure{"peak_time", seconds, &Move::peak_time, "Time of the largest value beyond the goal."},
      MoveMeasure{"overshoot", per_cent, &Move::overshoot, "Largest distance beyond the goal, as a share of the move."},
      MoveMeasure{"settling_time", seconds, &Move::settling_time,
                  "Last instant outside the settle band (2 % of the move unless the channel says otherwise)."},
      MoveMeasure{"peak_speed", channel_per_second, &Move::peak_speed, "Largest speed."},
      MoveMeasure{"peak_acceleration", channel_per_second2, &Move::peak_acceleration,
                  "Largest acceleration, jumps of velocity left out."},
      MoveMeasure{"jolt", channel_per_second, &Move::jolt, "Largest jump of velocity that the rule itself makes."},
      MoveMeasure{
          "start_kick", plain, &Move::start_kick,
          "Speed just after the start times settling time over the length of the move: 0 starts softly, a glide 3.9."},
      MoveMeasure{"remaining", channel, &Move::remaining,
                  "Distance from the goal when the next goal came or the take ended."},
      MoveMeasure{"sideways", in_space, &Move::sideways,
                  "Largest distance from the straight line from start to goal, in the channel's space; channels of "
                  "several components."},
  };
  return all;
}

std::string unit_of(const MoveMeasure& measure, const Channel& channel) {
  const bool by_factors = measure.unit == MeasureUnit::in_space && is_logarithmic(channel.space.space);
  return unit_text(by_factors ? MeasureUnit::plain : measure.unit, channel.unit);
}

std::string unit_text(MeasureUnit unit, std::string_view channel_unit) {
  const std::string_view own = channel_unit.empty() ? std::string_view("1") : channel_unit;
  switch (unit) {
  case MeasureUnit::seconds: return "s";
  case MeasureUnit::per_cent: return "%";
  case MeasureUnit::plain: return "1";
  case MeasureUnit::in_space:
  case MeasureUnit::channel: return std::string(own);
  case MeasureUnit::channel_per_second: return fmt::format("{}/s", own);
  case MeasureUnit::channel_per_second2: return fmt::format("{}/s2", own);
  }
  return "";
}

namespace {

template<class Better>
std::optional<double> extreme(const MoveMeasure& measure, std::span<const Move> moves, std::size_t channel,
                              Better better) {
  const bool is_settling = measure.value == &Move::settling_time;
  std::optional<double> result;
  for (const Move& move : moves) {
    if (move.channel != channel || (is_settling && move.retargeted)) continue;
    const auto& value = move.*measure.value;
    if (is_settling && !value) return std::nullopt;
    if (value && (!result || better(*value, *result))) result = value;
  }
  return result;
}

} // namespace

std::optional<double> largest(const MoveMeasure& measure, std::span<const Move> moves, std::size_t channel) {
  return extreme(measure, moves, channel, [](double a, double b) { return a > b; });
}

std::optional<double> smallest(const MoveMeasure& measure, std::span<const Move> moves, std::size_t channel) {
  return extreme(measure, moves, channel, [](double a, double b) { return a < b; });
}

Move times(const Move& move, double factor, std::size_t channel) {
  Move out = move;
  out.channel = channel;
  for (const MoveMeasure& measure : move_measures()) {
    const bool has_unit = measure.unit == MeasureUnit::channel || measure.unit == MeasureUnit::channel_per_second
                          || measure.unit == MeasureUnit::channel_per_second2;
    if (auto& value = out.*measure.value; has_unit && value) value = *value * factor;
  }
  for (Components* values : {&out.from, &out.to, &out.peak_value, &out.settled_value})
    *values = scaled(*values, factor);
  out.peak_velocity *= factor;
  return out;
}

std::string motion_name(const Feel& feel, const Move& move) {
  std::string text = feel.motions[move.motion[0]].name;
  for (std::size_t i = 1; i < feel.channels[move.channel].components; ++i)
    if (move.motion[i] != move.motion[i - 1]) text += ", " + feel.motions[move.motion[i]].name;
  return text;
}

} // namespace stasis
