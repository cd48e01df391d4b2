#include "core/take/trace_columns.hpp"

#include <algorithm>

#include <fmt/format.h>

namespace stasis {
namespace {

ColumnView goal_column(const ComponentBlock& component) { return {component.goals, component.goal, 0}; }

ColumnView wish_column(const ComponentBlock& component) {
  return {component.free_wishes.empty() ? component.wishes : component.free_wishes, component.wish, 0};
}

} // namespace

std::vector<std::string> trace_header(const Scene& scene) {
  const Feel& feel = *scene.feel;
  std::vector<std::string> header{"frame", "time", "dt"};
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    const auto add = [&](const char* field) {
      for (std::size_t i = 0; i < channel.components; ++i)
        header.push_back(channel.name + field + (channel.components > 1 ? component_suffixes[i] : ""));
    };
    for (const char* field : {".goal", ".smooth", ".value", ".velocity"}) add(field);
    if (has_wish_column(feel, c)) add(".wish");
    if (channel.snap) add(".remainder");
    if (has_shift_column(feel, c)) add(".shift");
    if (has_room_columns(channel)) header.insert(header.end(), {channel.name + ".limit", channel.name + ".hit"});
    if (channel.follow) header.push_back(channel.name + ".track");
  }
  for (const Control& control : feel.controls) {
    header.push_back("control." + control.name + ".down");
    if (const std::string_view field = facts_of(control).traced; !field.empty())
      header.push_back(fmt::format("control.{}.{}", control.name, field));
  }
  for (const Switch& one : feel.switches) header.push_back("switch." + one.name);
  for (const Sequence& one : feel.sequences) header.push_back("sequence." + one.name);
  for (const Shake& shake : feel.shakes) header.push_back("shake." + shake.name + ".amplitude");
  for (const Track& track : feel.tracks)
    for (std::size_t i = 0; i < track.components; ++i)
      header.push_back("track." + track.name + (track.components > 1 ? component_suffixes[i] : ".x"));
  for (std::size_t t = 0; t < feel.tracks.size(); ++t)
    if (has_screen_columns(feel, t))
      for (const char* axis : {".x", ".y"}) header.push_back("screen." + feel.tracks[t].name + axis);
  if (has_eye_columns(feel))
    for (const char* part : {"x", "y", "z", "qx", "qy", "qz", "qw"}) header.push_back(std::string("eye.") + part);
  if (scene.clock.drawn != nullptr) header.emplace_back("game_time");
  return header;
}

void trace_columns(const Scene& scene, const Block& block, std::vector<ColumnView>& columns) {
  const Feel& feel = *scene.feel;
  columns.clear();
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const auto& components = block.channels[c].component;
    const std::size_t count = feel.channels[c].components;
    for (std::size_t i = 0; i < count; ++i) columns.push_back(goal_column(components[i]));
    for (std::size_t i = 0; i < count; ++i) columns.push_back({components[i].smooth, 0.0, 0});
    for (std::size_t i = 0; i < count; ++i) columns.push_back({components[i].value, 0.0, count});
    for (std::size_t i = 0; i < count; ++i) columns.push_back({components[i].velocity, 0.0, 0});
    if (has_wish_column(feel, c))
      for (std::size_t i = 0; i < count; ++i) columns.push_back(wish_column(components[i]));
    if (feel.channels[c].snap)
      for (std::size_t i = 0; i < count; ++i) columns.push_back({components[i].remainders, 0.0, 0});
    if (has_shift_column(feel, c))
      for (std::size_t i = 0; i < count; ++i) columns.push_back({components[i].shifts, 0.0, 0});
    if (has_room_columns(feel.channels[c]))
      for (const auto* one : {&block.channels[c].ceilings, &block.channels[c].hits}) columns.push_back({*one, 0.0, 0});
    if (feel.channels[c].follow) columns.push_back({{}, static_cast<double>(block.channels[c].track), 0});
  }
  for (std::size_t c = 0; c < feel.controls.size(); ++c) {
    columns.push_back({{}, static_cast<double>(block.control_down[c]), 0});
    if (!facts_of(feel.controls[c]).traced.empty()) columns.push_back({{}, block.control_state[c], 0});
  }
  for (const std::uint8_t in : block.switches) columns.push_back({{}, static_cast<double>(in), 0});
  for (std::size_t s = 0; s < feel.sequences.size(); ++s) {
    const bool runs = std::any_of(block.sequences.begin(), block.sequences.end(),
                                  [&](const SequenceMark& mark) { return mark.sequence == s; });
    columns.push_back({{}, runs ? 1.0 : 0.0, 0});
  }
  for (const ShakeBlock& shake : block.shakes) columns.push_back({shake.amplitude, 0.0, 0});
  for (std::size_t t = 0; t < feel.tracks.size(); ++t)
    for (std::size_t i = 0; i < feel.tracks[t].components; ++i) columns.push_back({block.tracks[t].place[i], 0.0, 0});
  for (const auto& track : block.screen)
    if (!track[0].empty())
      for (const auto& axis : track) columns.push_back({axis, 0.0, 0});
  if (!block.eye[0].empty())
    for (const auto& part : block.eye) columns.push_back({part, 0.0, 0});
  if (scene.clock.drawn != nullptr)
    columns.push_back(
        {scene.clock.times->row(static_cast<std::size_t>(block.first), static_cast<std::size_t>(block.count)), 0.0, 0});
}

} // namespace stasis
