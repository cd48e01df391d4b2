#include "io/measures_json.hpp"

#include <cmath>

#include <nlohmann/json.hpp>

#include "core/text.hpp"

namespace stasis {
namespace {

using Json = nlohmann::ordered_json;

Json number(const std::optional<double>& value) {
  if (!value || !std::isfinite(*value)) return nullptr;
  return *value;
}

/// A number for a channel of one component, a list for one of several.
Json vector_of(const Channel& channel, const Components& values) {
  if (channel.components == 1) return values[0];
  Json list = Json::array();
  for (std::size_t i = 0; i < channel.components; ++i) list.push_back(values[i]);
  return list;
}

Json clock_json(const Scene& scene) {
  return {{"fps", scene.clock.fps}, {"frames", scene.clock.frames}, {"length", scene.take->length}};
}

Json channels_json(const Feel& feel, const TakeMeasures& measures) {
  Json channels = Json::object();
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    Json one = Json::object();
    for (const MoveMeasure& measure : move_measures())
      if (channel.components > 1 || measure.value != &Move::sideways)
        one[std::string(measure.name)] = number(largest(measure, measures.moves, c));
    one["time_at_limit"] = measures.channels[c].time_at_limit;
    for (std::size_t i = 0; i < channel.components; ++i)
      one[std::string("end_value") + (channel.components > 1 ? component_suffixes[i] : "")] =
          measures.channels[c].end_value[i];
    channels[channel.name] = std::move(one);
  }
  return channels;
}

Json moves_json(const Feel& feel, const TakeMeasures& measures) {
  Json moves = Json::array();
  for (const Move& move : measures.moves) {
    const Channel& channel = feel.channels[move.channel];
    Json one{{"channel", channel.name},           {"start", move.start}, {"from", vector_of(channel, move.from)},
             {"to", vector_of(channel, move.to)}, {"cause", move.cause}, {"motion", motion_name(feel, channel)},
             {"retargeted", move.retargeted}};
    for (const MoveMeasure& measure : move_measures())
      if (channel.components > 1 || measure.value != &Move::sideways)
        one[std::string(measure.name)] = number(move.*measure.value);
    moves.push_back(std::move(one));
  }
  return moves;
}

Json inputs_json(const Feel& feel, const TakeMeasures& measures) {
  Json inputs = Json::array();
  for (const InputSpan& span : measures.inputs)
    inputs.push_back({{"control", feel.controls[span.control].name},
                      {"from", span.from},
                      {"to", span.open ? Json(nullptr) : Json(span.to)},
                      {"held", span.to - span.from}});
  return inputs;
}

Json units_json(const Feel& feel) {
  Json units = Json::object();
  for (const MoveMeasure& measure : move_measures())
    if (measure.unit == MeasureUnit::seconds || measure.unit == MeasureUnit::per_cent
        || measure.unit == MeasureUnit::plain)
      units[std::string(measure.name)] = unit_text(measure.unit, "");
  units["time_at_limit"] = "s";
  for (const Channel& channel : feel.channels) {
    units[channel.name] = unit_text(MeasureUnit::channel, printable(channel.unit));
    for (const MoveMeasure& measure : move_measures())
      if (!units.contains(std::string(measure.name)) && (channel.components > 1 || measure.value != &Move::sideways))
        units[channel.name + "." + std::string(measure.name)] = unit_text(measure.unit, printable(channel.unit));
  }
  return units;
}

} // namespace

std::string measures_json(const RunOrigin& origin, const Scene& scene, const TakeMeasures& measures) {
  const Feel& feel = *scene.feel;
  Json root;
  root["stasis"] = origin.version;
  root["feel"] = printable(origin.feel, 10'000);
  root["take"] = scene.take->name;
  root["variant"] = origin.variant.empty() ? Json(nullptr) : Json(origin.variant);
  root["clock"] = clock_json(scene);
  root["channels"] = channels_json(feel, measures);
  root["moves"] = moves_json(feel, measures);
  root["inputs"] = inputs_json(feel, measures);
  root["layers"] = Json::object();
  root["follow"] = Json::object();
  root["notes"] = measures.notes;
  root["units"] = units_json(feel);
  return root.dump();
}

} // namespace stasis
