// What turns back to a heading by itself.
#include <algorithm>

#include <fmt/format.h>

#include "core/feel/reading.hpp"

namespace stasis {
namespace {

void read_realign(Reading& reading, Channel& channel, const Node& node, const std::string& path) {
  SectionReader reader(node, *find_section("realign"), path, reading.problems);
  if (node.table() == nullptr) return;
  if (channel.space.space != Space::turn || channel.components != 1)
    return reader.report("feel.realign", "to",
                         fmt::format("{} is not a heading: only an angle with space = \"turn\" is", channel.name),
                         "Give the channel unit = \"deg\" and space = \"turn\".");
  if (channel.formula[0] || (channel.follow && channel.follow->follows(0)))
    return reading.report(
        "feel.two_owners", path, node.where,
        fmt::format("{} already has a goal of its own, by its formula, a profile or what it follows", channel.name));
  Realign realign;
  const auto to = reader.choice("to");
  if (!to) return;
  using To = Realign::To;
  realign.to = to == "velocity"  ? To::velocity
               : to == "facing"  ? To::facing
               : to == "heading" ? To::heading
                                 : To::travel;
  realign.heading = reader.number("heading", channel.unit).value_or(0.0);
  realign.wait = reader.number("wait").value_or(0.0);
  realign.least_speed = reader.number("least_speed").value_or(0.0);
  const auto name = reader.name("track");
  if (realign.to != To::heading && !name)
    return reader.report("feel.missing_key", "track", fmt::format("to turn to the subject's {} takes a track", *to));
  if (name) {
    const auto found = reading.resolve(reader, "track", *name, reading.feel.tracks, NameKind::track);
    if (!found) return;
    realign.track = *found;
    if (reading.feel.tracks[realign.track].components < 2)
      return reader.report("feel.component_count", "track",
                           fmt::format("{} has one component, so it has no heading", *name));
  }
  channel.realign = realign;
  can_follow(reading, channel, path, node.where);
}

} // namespace

void read_realigns(Reading& reading) {
  reading.each("channel", [&](const Entry& entry, const std::string& path) {
    const Node* node = entry.value.find("realign");
    const auto index = index_of(reading.feel.channels, entry.key);
    if (node != nullptr && index)
      read_realign(reading, reading.feel.channels[*index], *node, joined_path(path, "realign"));
  });
}

} // namespace stasis
