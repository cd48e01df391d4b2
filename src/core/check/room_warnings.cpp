// What can look wrong where obstacles hold a view in.
#include <fmt/format.h>

#include "core/check/warning.hpp"
#include "core/text.hpp"

namespace stasis {

namespace {

std::string help_of(const Channel& channel, const RoomSummary& room) {
  if (!channel.obstacles) return "its own motion leads through it";
  if (!room.advised_half_life) return "no half-life alone keeps it out";
  return fmt::format("a glide inward of {} s half-life stays out", readable_at_most(*room.advised_half_life));
}

} // namespace

void warn_of_room(const Feel& feel, std::vector<Warning>& out) {
  for (const Channel& channel : feel.channels)
    if (channel.obstacles && channel.obstacles->stand_off == 0.0)
      out.push_back({"on_the_surface",
                     channel.name,
                     "",
                     fmt::format("the goal of {} is exactly on the surface of what holds it in", channel.name),
                     {}});
}

void warn_of_room(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out) {
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    const RoomSummary& room = measures.channels[c].follow;
    if (!room.penetration) continue;
    const auto add = [&](const char* code, std::string message) {
      out.push_back({code, channel.name, take.name, std::move(message), {}});
    };
    if (*room.penetration > 0.0)
      add("through_obstacle",
          fmt::format("{} goes {} through {} at {} s, and is inside an obstacle on {:g} frames; {}", channel.name,
                      amount_in(*room.penetration, channel.unit),
                      room.worst_obstacle ? feel.obstacles[*room.worst_obstacle].name : "an obstacle",
                      concise(room.worst_penetration_at), *room.penetration_frames, help_of(channel, room)));
    if (room.time_below_range.value_or(0.0) > 0.0)
      add("room_below_range", fmt::format("for {} s an obstacle leaves {} less room than its range allows",
                                          readable(*room.time_below_range), channel.name));
    if (room.unseen_clicks.value_or(0.0) > 0.0)
      add("unseen_clicks", fmt::format("{:g} click{} on {} show nothing, because an obstacle holds the view",
                                       *room.unseen_clicks, *room.unseen_clicks == 1.0 ? "" : "s", channel.name));
  }
}

} // namespace stasis
