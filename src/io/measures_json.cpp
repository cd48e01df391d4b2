#include "io/measures_json.hpp"

#include <algorithm>
#include <cmath>

#include "core/feel/goal_source.hpp"
#include "core/measure/camera_measures.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/measure/shake_measure_names.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::io {
namespace {

/// A number for a channel of one component, a list for one of several.
void write_vector(JsonWriter& json, const Channel& channel, const Components& values) {
  if (channel.components == 1) {
    json.number(values[0]);
    return;
  }
  json.begin_array();
  for (std::size_t i = 0; i < channel.components; ++i) json.number(values[i]);
  json.end_array();
}

void write_channels(JsonWriter& json, const Feel& feel, const TakeMeasures& measures) {
  json.key("channels").begin_object();
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    json.key(channel.name).begin_object();
    for (const std::string& name : channel_measure_names(channel)) {
      json.key(name).number(channel_measure(feel, measures, c, name));
      if (const auto time = channel_measure_time(measures, c, name)) json.key(time->key).number(time->at);
    }
    json.end_object();
  }
  json.end_object();
}

/// How long a move takes by the clock's time, of a take whose game time is another.
void write_on_the_clock(JsonWriter& json, const MoveOnTheClock& move) {
  json.key("on_clock").begin_object().key("start").number(move.start);
  json.key("delay_time").number(move.delay_time).key("rise_time").number(move.rise_time);
  json.key("peak_time").number(move.peak_time).key("settling_time").number(move.settling_time).end_object();
}

void write_moves(JsonWriter& json, const Feel& feel, const std::vector<Move>& moves) {
  json.begin_array();
  for (const Move& move : moves) {
    const Channel& channel = feel.channels[move.channel];
    json.begin_object().key("channel").text(channel.name).key("start").number(move.start);
    json.key("from");
    write_vector(json, channel, move.from);
    json.key("to");
    write_vector(json, channel, move.to);
    json.key("cause").text(move.cause).key("motion");
    feel.motions.empty() ? json.null() : json.text(motion_name(feel, move)); // what was recorded has none
    json.key("retargeted").flag(move.retargeted);
    for (const MoveMeasure& measure : move_measures())
      if (has_measure(measure, channel)) json.key(measure.name).number(move.*measure.value);
    if (move.on_the_clock) write_on_the_clock(json, *move.on_the_clock);
    json.end_object();
  }
  json.end_array();
}

void write_inputs(JsonWriter& json, const Feel& feel, const TakeMeasures& measures) {
  json.key("inputs").begin_array();
  for (const InputSpan& span : measures.inputs) {
    json.begin_object().key("control").text(feel.controls[span.control].name).key("from").number(span.from);
    json.key("to").number(span.open ? std::nullopt : std::optional(span.to));
    json.key("held").number(span.to - span.from).end_object();
  }
  json.end_array();
}

/// Of the camera as a whole; empty where the picture places no eye in space.
void write_camera(JsonWriter& json, const Feel& feel, const TakeMeasures& measures) {
  json.key(camera_name).begin_object();
  for (const std::string& name : camera_measure_names(feel)) {
    json.key(name).number(camera_measure(measures, name));
    json.key(name + "_at").number(camera_measure_time(measures, name));
  }
  json.end_object();
}

/// By shake: how strong, how long, and what it does to each component.
void write_layers(JsonWriter& json, const Feel& feel, const TakeMeasures& measures) {
  json.key("layers").begin_object();
  for (std::size_t s = 0; s < feel.shakes.size(); ++s) {
    const ShakeSummary& shake = measures.shakes[s];
    json.key(feel.shakes[s].name).begin_object();
    for (const ShakeMeasure& measure : shake_measures()) json.key(measure.name).number(measure.value(shake));
    json.key("on").begin_object();
    for (const ShakePart& part : shake.parts) {
      json.key(component_name(feel.channels[part.component.channel], part.component.component)).begin_object();
      for (const PartMeasure& measure : part_measures()) json.key(measure.name).number(measure.value(part));
      json.end_object();
    }
    json.end_object().end_object();
  }
  json.end_object();
}

/// True of what `follow` tells beside `channels`.
bool is_of_following(const Measure& measure) noexcept {
  return measure.of != MeasureOf::channel && measure.of != MeasureOf::component;
}

/// By channel whose goal moves by itself, or that lies on a grid: its tracks, and what is measured on it.
void write_follow(JsonWriter& json, const Feel& feel, const TakeMeasures& measures) {
  json.key("follow").begin_object();
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    if (!is_tracked(channel)) continue;
    json.key(channel.name).begin_object();
    if (channel.follow) json.key("track").text(feel.tracks[channel.follow->track].name);
    for (const ChannelMeasure& measure : whole_measures())
      if (is_of_following(measure) && has_measure(measure, channel))
        json.key(measure.name).number(measure.value(measures.channels[c], 0));
    if (trails_goal(channel)) json.key("lag_distance_at").number(measures.channels[c].follow.worst_lag_at);
    if (channel.follow) {
      json.key("framing_error_at");
      measures.channels[c].follow.framing_error ? json.number(measures.channels[c].follow.worst_framing_at)
                                                : json.null();
    }
    if (const FollowSummary& room = measures.channels[c].follow; room.penetration) {
      json.key("penetration_at");
      *room.penetration > 0.0 ? json.number(room.worst_penetration_at) : json.null();
      json.key("penetration_of");
      room.worst_obstacle ? json.text(feel.obstacles[*room.worst_obstacle].name) : json.null();
    }
    json.end_object();
  }
  json.end_object();
}

/// By sequence that the take begins: its legs, in order of time.
void write_sequences(JsonWriter& json, const Feel& feel, const TakeMeasures& measures) {
  json.key("sequences").begin_object();
  for (std::size_t s = 0; s < feel.sequences.size(); ++s) {
    const SequenceSummary& sequence = measures.sequences[s];
    if (sequence.starts == 0) continue;
    json.key(feel.sequences[s].name).begin_object();
    json.key("starts").integer(sequence.starts).key("skips").integer(sequence.skips).key("legs").begin_array();
    for (const auto& [leg, top_turn_speed] : sequence.legs) {
      json.begin_object().key("from").integer(static_cast<std::int64_t>(leg.from));
      json.key("to").integer(static_cast<std::int64_t>(leg.to));
      json.key("start").number(leg.start).key("duration").number(leg.duration).key("length").number(leg.length);
      json.key("top_speed").number(leg.top_speed).key("top_turn_speed").number(top_turn_speed);
      json.key("top_jerk").number(std::isfinite(leg.top_jerk) ? std::optional(leg.top_jerk) : std::nullopt);
      json.key("speed_jump").number(leg.speed_jump).key("acceleration_jump").number(leg.acceleration_jump).end_object();
    }
    json.end_array().end_object();
  }
  json.end_object();
}

/// Units by measure where it is the same for every channel, and by channel and measure where it is not.
void write_units(JsonWriter& json, const Feel& feel) {
  json.key("units").begin_object();
  const auto write_shared = [&](const Measure& measure) {
    const bool used = std::any_of(feel.channels.begin(), feel.channels.end(),
                                  [&](const Channel& channel) { return has_measure(measure, channel); });
    const bool always = measure.of == MeasureOf::move || measure.of == MeasureOf::channel;
    if ((used || always) && !depends_on_channel(measure.unit)) json.key(measure.name).text(unit_of(measure, {}));
  };
  for (const Measure& measure : move_measures()) write_shared(measure);
  for (const Measure& measure : whole_measures()) write_shared(measure);
  for (const Channel& channel : feel.channels) {
    json.key(channel.name).text(unit_text(MeasureUnit::channel, channel.unit));
    const auto write_own = [&](const Measure& measure) {
      const bool is_value = measure.of == MeasureOf::component && measure.unit == MeasureUnit::channel; // just written
      if (has_measure(measure, channel) && depends_on_channel(measure.unit) && !is_value)
        json.key(channel.name + "." + std::string(measure.name)).text(unit_of(measure, channel));
    };
    for (const Measure& measure : move_measures()) write_own(measure);
    for (const Measure& measure : whole_measures()) write_own(measure);
  }
  for (const std::string& name : camera_measure_names(feel))
    json.key(std::string(camera_name) + "." + name).text(camera_measure_unit(feel, name));
  for (std::size_t s = 0; s < feel.shakes.size(); ++s)
    for (const std::string& name : shake_measure_names(feel, s))
      json.key("layers." + feel.shakes[s].name + "." + name).text(shake_measure_unit(feel, s, name));
  json.end_object();
}

} // namespace

void write_channel_measures(JsonWriter& json, const Feel& feel, const TakeMeasures& measures) {
  write_channels(json, feel, measures);
}
void write_move_measures(JsonWriter& json, const Feel& feel, const std::vector<Move>& moves) {
  json.key("moves");
  write_moves(json, feel, moves);
}
void write_measure_units(JsonWriter& json, const Feel& feel) { write_units(json, feel); }

std::string moves_json(const Feel& feel, const std::vector<Move>& moves) {
  JsonWriter json;
  write_moves(json, feel, moves);
  return json.take();
}

std::string measures_json(const RunOrigin& origin, const Scene& scene, const TakeMeasures& measures) {
  const Feel& feel = *scene.feel;
  JsonWriter json;
  json.begin_object().key("stasis").text(origin.version).key("feel").text(printable(origin.feel, 10'000));
  json.key("take").text(scene.take->name).key("variant");
  origin.variant.empty() ? json.null() : json.text(origin.variant);
  json.key("clock").begin_object().key("fps").number(scene.clock.fps);
  json.key("steady").flag(scene.clock.is_steady());
  json.key("frames").integer(scene.clock.frames).key("length").number(scene.take->length).end_object();
  write_channels(json, feel, measures);
  json.key("moves");
  write_moves(json, feel, measures.moves);
  write_inputs(json, feel, measures);
  write_camera(json, feel, measures);
  write_layers(json, feel, measures);
  write_follow(json, feel, measures);
  write_sequences(json, feel, measures);
  json.key("notes").begin_array();
  for (const std::string& note : measures.notes) json.text(note);
  json.end_array();
  write_units(json, feel);
  json.end_object();
  return json.take();
}

} // namespace stasis::io
