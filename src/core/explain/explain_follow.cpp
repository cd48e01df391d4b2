// What a channel follows, and the grid it lies on, in words.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/explain/explain.hpp"
#include "core/overloaded.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

std::string amount(double value, const std::string& unit) {
  return concise(value) + (unit.empty() ? "" : " " + printable(unit, 16));
}

std::string vector_in_words(const Channel& channel, const Components& values) {
  std::string text;
  for (std::size_t i = 0; i < channel.components; ++i) text += (i > 0 ? ", " : "") + concise(values[i]);
  return (channel.components > 1 ? "(" + text + ")" : text)
         + (channel.unit.empty() ? "" : " " + printable(channel.unit, 16));
}

std::string axes_in_words(AxisFrame frame) {
  switch (frame) {
  case AxisFrame::world: return "in fixed axes";
  case AxisFrame::heading: return "turned with the way it travels";
  case AxisFrame::subject: return "turned with the way it looks";
  case AxisFrame::view: return "turned with the camera";
  }
  return "";
}

std::string lead_in_words(const Feel& feel, const Channel& channel) {
  const Lead& lead = channel.follow->lead;
  std::string words;
  switch (lead.by) {
  case Lead::By::none: return "";
  case Lead::By::velocity: words = fmt::format("looks at where it will be in {} s", concise(lead.amount)); break;
  case Lead::By::forward_speed:
    words = fmt::format("looks {} s ahead by its speed along the way that it faces, so slipping sideways does not lead",
                        concise(lead.amount));
    break;
  case Lead::By::throttle:
    words = fmt::format("looks {} ahead of its nose at full throttle ({})", amount(lead.amount, channel.unit),
                        lead.stick ? "the stick " + feel.controls[*lead.stick].name : std::string("as recorded"));
    break;
  }
  if (std::isfinite(lead.longest)) words += fmt::format(", {} at most", amount(lead.longest, channel.unit));
  words += lead.motion ? fmt::format("; the lead itself moves by {}", feel.motions[*lead.motion].name)
                       : "; at once, so the goal jumps when the subject turns";
  return words;
}

std::string zone_in_words(const Channel& channel) {
  const DeadZone& zone = *channel.follow->zone;
  const char* const shape = zone.is_ellipse ? "an ellipse" : "a box";
  const auto percent = [](double share) { return concise(100.0 * share); };
  if (zone.measure == DeadZone::Measure::margin)
    return fmt::format("the goal stays until the subject comes nearer to the picture's edges than {} % of its width "
                       "and {} % of its height",
                       percent(zone.size[0]), percent(zone.size[1]));
  if (zone.measure == DeadZone::Measure::picture)
    return fmt::format(
        "the goal stays while the subject is in {} of {} % of the picture's width and {} % of its height", shape,
        percent(zone.size[0]), percent(zone.size[1]));
  std::string size;
  for (std::size_t i = 0; i < channel.components; ++i) size += (i > 0 ? " x " : "") + concise(zone.size[i]);
  return fmt::format("the goal stays while the subject is in {} of {}", shape,
                     size + (channel.unit.empty() ? "" : " " + printable(channel.unit, 16)));
}

std::string track_in_words(const Track& track) {
  if (const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track.path))
    return fmt::format("{} (recorded, {} rows, {} s)", track.name, (*recorded)->time.size(),
                       concise((*recorded)->time.back() - (*recorded)->time.front()));
  const auto kind = Overloaded{
      [](const std::shared_ptr<const RecordedPath>&) -> std::string_view { return "recorded"; },
      [](const LinePath&) -> std::string_view { return "a line"; },
      [](const CirclePath&) -> std::string_view { return "a circle"; },
      [](const EightPath&) -> std::string_view { return "a figure of eight"; },
      [](const StepsPath&) -> std::string_view { return "steps"; },
      [](const StopAndGoPath&) -> std::string_view { return "stop and go"; },
      [](const LedPath&) -> std::string_view { return "led while it is played"; },
  };
  return fmt::format("{} ({})", track.name, std::visit(kind, track.path));
}

} // namespace

std::string follow_in_words(const Feel& feel, const Channel& channel) {
  if (!channel.follow) return "";
  const Follow& follow = *channel.follow;
  if (follow.only_in_poses) {
    for (const Pose& pose : feel.poses)
      for (const PoseGoal& goal : pose.goals)
        if (&feel.channels[goal.channel] == &channel && goal.track)
          return fmt::format("follows {} while the pose {} acts", track_in_words(feel.tracks[*goal.track]), pose.name);
  }
  std::string words = "follows " + track_in_words(feel.tracks[follow.track]);
  if (follow.second)
    words += fmt::format(", {} of the way to {}",
                         follow.weight_channel ? "by the channel "
                                                     + component_name(feel.channels[follow.weight_channel->channel],
                                                                      follow.weight_channel->component)
                                               : concise(100.0 * follow.weight) + " %",
                         track_in_words(feel.tracks[*follow.second]));
  if (const std::string lead = lead_in_words(feel, channel); !lead.empty()) words += "; " + lead;
  if (follow.zone) words += "; " + zone_in_words(channel);
  if (follow.zone && follow.zone->times_channel)
    words += fmt::format(", times the value of {}", component_name(feel.channels[follow.zone->times_channel->channel],
                                                                   follow.zone->times_channel->component));
  else if (follow.zone && follow.zone->times != 1.0)
    words += fmt::format(", {} times as large", concise(follow.zone->times));
  if (std::any_of(follow.offset.begin(), follow.offset.end(), [](double o) { return o != 0.0; }))
    words +=
        fmt::format("; from there {} {}", vector_in_words(channel, follow.offset), axes_in_words(follow.offset_frame));
  for (std::size_t i = 0; i < channel.components; ++i)
    if (follow.keeps[i]) words += fmt::format("; {} stays at home", component_name(channel, i));
  if (follow.damping_frame != AxisFrame::world)
    words += fmt::format("; its motions work on axes {}", axes_in_words(follow.damping_frame));
  return words;
}

std::string snap_in_words(const Feel& feel, const Channel& channel) {
  if (!channel.snap) return "";
  std::string words = fmt::format(
      "rounded to a grid of {}; what the rounding takes away, at most half a cell, is the column {}.remainder: shift "
      "the drawn picture by that much the other way, with a margin of half a cell (one cell is safe)",
      amount(*channel.snap, channel.unit), channel.name);
  const Picture& picture = feel.picture;
  if (picture.height_channel) {
    const double scale = picture.height / feel.channels[*picture.height_channel].rest[0];
    words += fmt::format("; a cell is {} px of the screen at rest", concise(*channel.snap * scale));
  }
  if (picture.coarse)
    words += fmt::format("; the {} x {} picture is enlarged {} times across and {} times down", (*picture.coarse)[0],
                         (*picture.coarse)[1], concise(static_cast<double>(picture.width) / (*picture.coarse)[0]),
                         concise(static_cast<double>(picture.height) / (*picture.coarse)[1]));
  return words;
}

} // namespace stasis
