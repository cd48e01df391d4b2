#include "core/measure/measure_facts.hpp"

#include <fmt/format.h>

#include "core/feel/goal_source.hpp"

namespace stasis {

std::string_view in_words(MeasureOf of) noexcept {
  switch (of) {
  case MeasureOf::move: return "a move";
  case MeasureOf::move_of_several: return "a move of several components";
  case MeasureOf::channel: return "a channel";
  case MeasureOf::component: return "a channel's component";
  case MeasureOf::pushed: return "what a stick or a pointer moves";
  case MeasureOf::watched: return "what a switch looks at";
  case MeasureOf::trailing: return "what follows a track, or has another goal that moves by itself";
  case MeasureOf::following: return "what follows a track";
  case MeasureOf::on_grid: return "what lies on a grid (`snap`)";
  case MeasureOf::keeping_size: return "what keeps a subject's size (`keeps_width`)";
  case MeasureOf::held_in: return "what obstacles may hold in (`obstacles`)";
  case MeasureOf::placed: return "an eye that is `placed`";
  case MeasureOf::held_in_or_placed: return "what obstacles may hold in, a `placed` eye";
  case MeasureOf::camera: return "the camera (`camera.NAME`)";
  case MeasureOf::shake: return "a shake";
  case MeasureOf::shaken_component: return "a shake, on a component";
  }
  return "";
}

bool has_measure(const Measure& measure, const Channel& channel) noexcept {
  switch (measure.of) {
  case MeasureOf::move:
  case MeasureOf::channel:
  case MeasureOf::component: return true;
  case MeasureOf::move_of_several: return channel.components > 1;
  case MeasureOf::pushed: return channel.is_pushed;
  case MeasureOf::watched: return channel.is_watched;
  case MeasureOf::trailing: return trails_goal(channel);
  case MeasureOf::following: return channel.follow.has_value();
  case MeasureOf::on_grid: return channel.snap.has_value();
  case MeasureOf::keeping_size: return channel.keeps_width.has_value();
  case MeasureOf::held_in: return channel.obstacles.has_value();
  case MeasureOf::placed: return channel.is_placed;
  case MeasureOf::held_in_or_placed: return channel.obstacles.has_value() || channel.is_placed;
  case MeasureOf::camera:
  case MeasureOf::shake:
  case MeasureOf::shaken_component: return false;
  }
  return false;
}

bool depends_on_channel(MeasureUnit unit) noexcept {
  return unit != MeasureUnit::seconds && unit != MeasureUnit::per_cent && unit != MeasureUnit::plain;
}

std::string unit_of(const Measure& measure, const Channel& channel) {
  if (measure.unit == MeasureUnit::plain && !measure.unit_word.empty()) return std::string(measure.unit_word);
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
  case MeasureUnit::channel_per_second3: return fmt::format("{}/s3", own);
  }
  return "";
}

} // namespace stasis
