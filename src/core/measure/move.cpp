#include "core/measure/move.hpp"

#include "core/measure/measure_registry.hpp"

namespace stasis {

namespace {

template<class IsBetter>
std::optional<double> extreme(const MoveMeasure& measure, std::span<const Move> moves, std::size_t channel,
                              IsBetter better) {
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

bool is_there(const Move& move) noexcept {
  constexpr double rounding = 1e-9;
  return move.remaining.value_or(0.0) <= rounding * std::max(1.0, length_of(move.to));
}

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
