// Motions of a channel that take longer or shorter, by a number or another channel.
#include <fmt/format.h>

#include "core/feel/reading.hpp"

namespace stasis {
namespace {

/// The motions that a channel may move by: its own, and those of poses that enter and leave.
std::vector<std::size_t> motions_of(const Feel& feel, std::size_t channel) {
  std::vector<std::size_t> all;
  const auto add = [&](const MotionChoices& choices) {
    for (std::size_t i = 0; i < feel.channels[channel].components; ++i)
      for (const std::size_t one : {choices[i].rising, choices[i].falling})
        if (one < feel.motions.size()) all.push_back(one);
  };
  add(feel.channels[channel].motion);
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      if (goal.channel == channel) {
        if (goal.entering) add(*goal.entering);
        if (goal.leaving) add(*goal.leaving);
      }
  return all;
}

void read_channel_motion_times(Reading& reading, std::size_t index, const Node& declared, const std::string& path) {
  SectionReader reader(declared, *find_section("channel"), path, reading.problems);
  Channel& channel = reading.feel.channels[index];
  number_or_channel(reading, reader, "motion_times", channel.motion_times, channel.motion_times_channel);
  for (const std::size_t motion : motions_of(reading.feel, index)) {
    const NamedMotion& named = reading.feel.motions[motion];
    if (std::holds_alternative<Glide>(named.motion) || std::holds_alternative<Spring>(named.motion)
        || std::holds_alternative<Cut>(named.motion))
      continue;
    return reader.report(
        "feel.motion_times", "motion_times",
        fmt::format("{} moves by {}, of the kind {}; only glides and springs can take longer or shorter "
                    "while they run",
                    channel.name, named.name, kind_of(named.motion)));
  }
}

} // namespace

void read_motion_times(Reading& reading) {
  if (!reading.problems.empty()) return; // a channel's keys are looked at once more
  reading.each("channel", [&](const Entry& entry, const std::string& path) {
    const auto index = index_of(reading.feel.channels, entry.key);
    if (index && entry.value.find("motion_times") != nullptr)
      read_channel_motion_times(reading, *index, entry.value, path);
  });
}

} // namespace stasis
