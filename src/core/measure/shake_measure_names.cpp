#include "core/measure/shake_measure_names.hpp"

#include <fmt/format.h>

#include "core/measure/measure_registry.hpp"

namespace stasis {
namespace {

const ShakeMeasure* whole_named(std::string_view name) noexcept {
  for (const ShakeMeasure& measure : shake_measures())
    if (measure.name == name) return &measure;
  return nullptr;
}

/// "focus.x.peak": which target of the shake, and which measure of it.
struct NamedPart {
  std::size_t target = 0;
  const PartMeasure* measure = nullptr;
};
std::string target_name(const Feel& feel, std::size_t shake, std::size_t target) {
  const ComponentRef component = feel.shakes[shake].targets[target].component;
  return component_name(feel.channels[component.channel], component.component);
}
NamedPart part_named(const Feel& feel, std::size_t shake, std::string_view name) {
  for (std::size_t t = 0; t < feel.shakes[shake].targets.size(); ++t) {
    const std::string prefix = target_name(feel, shake, t) + ".";
    if (!name.starts_with(prefix)) continue;
    for (const PartMeasure& measure : part_measures())
      if (measure.name == name.substr(prefix.size())) return {t, &measure};
  }
  return {};
}

} // namespace

std::vector<std::string> shake_measure_names(const Feel& feel, std::size_t shake) {
  std::vector<std::string> names;
  for (const ShakeMeasure& measure : shake_measures()) names.emplace_back(measure.name);
  for (std::size_t t = 0; t < feel.shakes[shake].targets.size(); ++t)
    for (const PartMeasure& measure : part_measures())
      names.push_back(fmt::format("{}.{}", target_name(feel, shake, t), measure.name));
  return names;
}

std::optional<double> shake_measure(const Feel& feel, const TakeMeasures& measures, std::size_t shake,
                                    std::string_view name) {
  const ShakeSummary& summary = measures.shakes[shake];
  if (const ShakeMeasure* measure = whole_named(name)) return measure->value(summary);
  const NamedPart part = part_named(feel, shake, name);
  if (part.measure == nullptr || part.target >= summary.parts.size()) return std::nullopt;
  return part.measure->value(summary.parts[part.target]);
}

const Measure* shake_measure_facts(const Feel& feel, std::size_t shake, std::string_view name) {
  if (const ShakeMeasure* measure = whole_named(name)) return measure;
  return part_named(feel, shake, name).measure;
}

std::string shake_measure_unit(const Feel& feel, std::size_t shake, std::string_view name) {
  if (const ShakeMeasure* measure = whole_named(name)) return unit_of(*measure, {});
  const NamedPart part = part_named(feel, shake, name);
  if (part.measure == nullptr) return "";
  const ComponentRef component = feel.shakes[shake].targets[part.target].component;
  return unit_of(*part.measure, feel.channels[component.channel]);
}

} // namespace stasis
