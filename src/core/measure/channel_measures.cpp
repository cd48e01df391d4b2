#include "core/measure/channel_measures.hpp"

#include <algorithm>

#include "core/measure/take_measures.hpp"

namespace stasis {
namespace {

constexpr std::string_view time_at_limit = "time_at_limit", end_value = "end_value";

const MoveMeasure* move_measure_named(std::string_view name) noexcept {
  for (const MoveMeasure& measure : move_measures())
    if (measure.name == name) return &measure;
  return nullptr;
}

const FollowMeasure* follow_measure_named(std::string_view name) noexcept {
  for (const FollowMeasure& measure : follow_measures())
    if (measure.name == name) return &measure;
  return nullptr;
}

} // namespace

std::vector<std::string> channel_measure_names(const Channel& channel) {
  std::vector<std::string> names;
  for (const MoveMeasure& measure : move_measures())
    if (channel.components > 1 || measure.value != &Move::sideways) names.emplace_back(measure.name);
  names.emplace_back(time_at_limit);
  for (std::size_t i = 0; i < channel.components; ++i)
    names.push_back(std::string(end_value) + (channel.components > 1 ? component_suffixes[i] : ""));
  for (const FollowMeasure& measure : follow_measures())
    if (has_measure(measure, channel)) names.emplace_back(measure.name);
  return names;
}

std::optional<double> channel_measure(const Feel& feel, const TakeMeasures& measures, std::size_t channel,
                                      std::string_view name, bool smallest) {
  if (const MoveMeasure* measure = move_measure_named(name))
    return smallest ? stasis::smallest(*measure, measures.moves, channel) : largest(*measure, measures.moves, channel);
  const ChannelSummary& summary = measures.channels[channel];
  if (const FollowMeasure* measure = follow_measure_named(name)) return summary.follow.*measure->value;
  if (name == time_at_limit) return summary.time_at_limit;
  if (!name.starts_with(end_value)) return std::nullopt;
  const std::string_view suffix = name.substr(end_value.size());
  if (suffix.empty()) return summary.end_value[0];
  for (std::size_t i = 0; i < feel.channels[channel].components; ++i)
    if (suffix == component_suffixes[i]) return summary.end_value[i];
  return std::nullopt;
}

std::string channel_measure_unit(const Channel& channel, std::string_view name) {
  if (const MoveMeasure* measure = move_measure_named(name)) return unit_of(*measure, channel);
  if (const FollowMeasure* measure = follow_measure_named(name))
    return measure->unit_word.empty() ? unit_text(measure->unit, channel.unit) : std::string(measure->unit_word);
  return name == time_at_limit ? "s" : unit_text(MeasureUnit::channel, channel.unit);
}

} // namespace stasis
