#include "core/measure/channel_measures.hpp"

#include <algorithm>

#include "core/measure/measure_registry.hpp"

namespace stasis {
namespace {

const MoveMeasure* move_measure_named(std::string_view name) noexcept {
  for (const MoveMeasure& measure : move_measures())
    if (measure.name == name) return &measure;
  return nullptr;
}

/// "end_value.y": which measure over the whole take, and of which component.
struct NamedWhole {
  const ChannelMeasure* measure = nullptr;
  std::size_t component = 0;
};
NamedWhole whole_measure_named(std::string_view name) noexcept {
  const std::size_t dot = name.find('.');
  for (const ChannelMeasure& measure : whole_measures()) {
    if (measure.name != name.substr(0, dot)) continue;
    if (dot == std::string_view::npos) return {&measure, 0};
    for (std::size_t i = 0; measure.of == MeasureOf::component && i < component_suffixes.size(); ++i)
      if (name.substr(dot) == component_suffixes[i]) return {&measure, i};
  }
  return {};
}

} // namespace

const Measure* channel_measure_facts(std::string_view name) noexcept {
  if (const MoveMeasure* measure = move_measure_named(name)) return measure;
  return whole_measure_named(name).measure;
}

std::vector<std::string> channel_measure_names(const Channel& channel) {
  std::vector<std::string> names;
  for (const MoveMeasure& measure : move_measures())
    if (has_measure(measure, channel)) names.emplace_back(measure.name);
  for (const ChannelMeasure& measure : whole_measures()) {
    if (!has_measure(measure, channel)) continue;
    if (measure.of != MeasureOf::component || channel.components == 1) {
      names.emplace_back(measure.name);
      continue;
    }
    for (std::size_t i = 0; i < channel.components; ++i)
      names.push_back(std::string(measure.name) + component_suffixes[i]);
  }
  return names;
}

std::optional<double> channel_measure(const Feel& feel, const TakeMeasures& measures, std::size_t channel,
                                      std::string_view name, bool smallest) {
  if (const MoveMeasure* measure = move_measure_named(name))
    return smallest ? stasis::smallest(*measure, measures.moves, channel) : largest(*measure, measures.moves, channel);
  const NamedWhole whole = whole_measure_named(name);
  if (whole.measure == nullptr || whole.component >= feel.channels[channel].components) return std::nullopt;
  return whole.measure->value(measures.channels[channel], whole.component);
}

std::optional<MeasureTime> channel_measure_time(const TakeMeasures& measures, std::size_t channel,
                                                std::string_view name) {
  const NamedWhole whole = whole_measure_named(name);
  if (whole.measure == nullptr || whole.measure->at == nullptr) return std::nullopt;
  std::string key(name.substr(0, name.find('.')));
  key += "_at";
  if (const std::size_t dot = name.find('.'); dot != std::string_view::npos) key += name.substr(dot);
  return MeasureTime{std::move(key), whole.measure->at(measures.channels[channel], whole.component)};
}

std::string channel_measure_unit(const Channel& channel, std::string_view name) {
  const Measure* measure = channel_measure_facts(name);
  return measure != nullptr ? unit_of(*measure, channel) : unit_text(MeasureUnit::channel, channel.unit);
}

} // namespace stasis
