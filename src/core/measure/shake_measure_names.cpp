#include "core/measure/shake_measure_names.hpp"

#include <array>

#include <fmt/format.h>

namespace stasis {
namespace {

struct WholeMeasure {
  std::string_view name;
  MeasureUnit unit;
  std::optional<double> (*value)(const ShakeSummary&);
};
constexpr std::array whole_measures{
    WholeMeasure{"hits", MeasureUnit::plain,
                 [](const ShakeSummary& s) { return std::optional(static_cast<double>(s.hits)); }},
    WholeMeasure{"peak_amplitude", MeasureUnit::plain,
                 [](const ShakeSummary& s) { return std::optional(s.peak_amplitude); }},
    WholeMeasure{"half_life", MeasureUnit::seconds, [](const ShakeSummary& s) { return s.half_life; }},
    WholeMeasure{"quiet_after", MeasureUnit::seconds, [](const ShakeSummary& s) { return s.quiet_after; }},
    WholeMeasure{"left_at_cut", MeasureUnit::per_cent, [](const ShakeSummary& s) { return s.left_at_cut; }},
    WholeMeasure{"folded", MeasureUnit::per_cent, [](const ShakeSummary& s) { return s.folded; }},
};

struct PartMeasure {
  std::string_view name;
  MeasureUnit unit;
  std::string_view unit_word; ///< instead, where it is none of those
  std::optional<double> (*value)(const ShakePart&);
};
constexpr std::array part_measures{
    PartMeasure{"peak", MeasureUnit::channel, "", [](const ShakePart& p) { return std::optional(p.peak); }},
    PartMeasure{"rms", MeasureUnit::channel, "", [](const ShakePart& p) { return p.rms; }},
    PartMeasure{"main_frequency", MeasureUnit::plain, "Hz", [](const ShakePart& p) { return p.main_frequency; }},
    PartMeasure{"bandwidth", MeasureUnit::plain, "Hz", [](const ShakePart& p) { return p.bandwidth; }},
    PartMeasure{"speed_rms", MeasureUnit::channel_per_second, "", [](const ShakePart& p) { return p.speed_rms; }},
    PartMeasure{"above_3hz", MeasureUnit::per_cent, "", [](const ShakePart& p) { return p.above_3hz; }},
    PartMeasure{"between_0_1_and_0_5hz", MeasureUnit::per_cent, "",
                [](const ShakePart& p) { return p.between_0_1_and_0_5hz; }},
    PartMeasure{"margin_pixels", MeasureUnit::plain, "px", [](const ShakePart& p) { return p.margin_pixels; }},
};

const WholeMeasure* whole_named(std::string_view name) noexcept {
  for (const WholeMeasure& measure : whole_measures)
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
    for (const PartMeasure& measure : part_measures)
      if (measure.name == name.substr(prefix.size())) return {t, &measure};
  }
  return {};
}

} // namespace

std::vector<std::string> shake_measure_names(const Feel& feel, std::size_t shake) {
  std::vector<std::string> names;
  for (const WholeMeasure& measure : whole_measures) names.emplace_back(measure.name);
  for (std::size_t t = 0; t < feel.shakes[shake].targets.size(); ++t)
    for (const PartMeasure& measure : part_measures)
      names.push_back(fmt::format("{}.{}", target_name(feel, shake, t), measure.name));
  return names;
}

std::optional<double> shake_measure(const Feel& feel, const TakeMeasures& measures, std::size_t shake,
                                    std::string_view name) {
  const ShakeSummary& summary = measures.shakes[shake];
  if (const WholeMeasure* measure = whole_named(name)) return measure->value(summary);
  const NamedPart part = part_named(feel, shake, name);
  if (part.measure == nullptr || part.target >= summary.parts.size()) return std::nullopt;
  return part.measure->value(summary.parts[part.target]);
}

std::string shake_measure_unit(const Feel& feel, std::size_t shake, std::string_view name) {
  if (const WholeMeasure* measure = whole_named(name)) return unit_text(measure->unit, "");
  const NamedPart part = part_named(feel, shake, name);
  if (part.measure == nullptr) return "";
  if (!part.measure->unit_word.empty()) return std::string(part.measure->unit_word);
  const ComponentRef component = feel.shakes[shake].targets[part.target].component;
  return unit_text(part.measure->unit, feel.channels[component.channel].unit);
}

} // namespace stasis
