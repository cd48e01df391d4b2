#include "core/measure/camera_measures.hpp"

#include "core/measure/measure_registry.hpp"

namespace stasis {
namespace {

const CameraMeasure* measure_named(std::string_view name) noexcept {
  for (const CameraMeasure& measure : camera_measures())
    if (measure.name == name) return &measure;
  return nullptr;
}

/// The unit of places: that of the channel that says where the eye is, or what it looks at.
std::string unit_of_places(const Feel& feel) {
  const auto channel = feel.picture.position ? feel.picture.position : feel.picture.focus;
  return channel ? feel.channels[*channel].unit : "";
}

} // namespace

std::vector<std::string> camera_measure_names(const Feel& feel) {
  std::vector<std::string> names;
  if (!has_eye_columns(feel)) return names;
  for (const CameraMeasure& measure : camera_measures()) names.emplace_back(measure.name);
  return names;
}

std::optional<double> camera_measure(const TakeMeasures& measures, std::string_view name) {
  const CameraMeasure* measure = measure_named(name);
  if (measure == nullptr) return std::nullopt;
  const auto& peak = measures.camera.*measure->peak;
  return peak ? std::optional(peak->value) : std::nullopt;
}

std::optional<double> camera_measure_time(const TakeMeasures& measures, std::string_view name) {
  const CameraMeasure* measure = measure_named(name);
  if (measure == nullptr) return std::nullopt;
  const auto& peak = measures.camera.*measure->peak;
  return peak && peak->value > 0.0 ? std::optional(peak->at) : std::nullopt;
}

const Measure* camera_measure_facts(std::string_view name) noexcept { return measure_named(name); }

std::string camera_measure_unit(const Feel& feel, std::string_view name) {
  const CameraMeasure* measure = measure_named(name);
  if (measure == nullptr) return "";
  return depends_on_channel(measure->unit) ? unit_text(measure->unit, unit_of_places(feel)) : unit_of(*measure, {});
}

} // namespace stasis
