// Switches: poses that go on by thresholds.
#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {

void read_switches(Reading& reading) {
  reading.each("switch", [&](const Entry& entry, const std::string& path) {
    SectionReader reader(entry.value, *find_section("switch"), path, reading.problems);
    if (entry.value.table() == nullptr) return;
    Switch one;
    one.name = entry.key;
    const auto text = reader.text("on");
    const auto on = text ? component_named(reading, reader, "on", *text) : std::nullopt;
    if (reader.has("pose"))
      if (const auto pose = reader.name("pose"))
        one.pose = reading.resolve(reader, "pose", *pose, reading.feel.poses, NameKind::pose).value_or(0);
    if (reader.has("pose") == reader.has("starts"))
      reader.report(reader.has("pose") ? "feel.too_many_keys" : "feel.missing_key",
                    reader.has("pose") ? "starts" : "on", "a switch needs one of pose and starts (a sequence)");
    const std::string unit = on ? reading.feel.channels[on->channel].unit : std::string();
    one.below = reader.has("enter_below");
    const char* const enter = one.below ? "enter_below" : "enter_above";
    const char* const leave = one.below ? "leave_above" : "leave_below";
    const auto enters = reader.number(enter, unit), leaves = reader.number(leave, unit);
    if (enters && leaves && (one.below ? *leaves < *enters : *leaves > *enters))
      reader.report(
          "feel.switch", leave,
          fmt::format("it would leave at {} although it enters at {} only: it could never stay", *leaves, *enters),
          fmt::format("Leave {} the threshold at which it enters.", one.below ? "above" : "below"));
    for (const std::string& name : reader.texts("keep").value_or(std::vector<std::string>{}))
      if (const auto kept = reading.resolve(reader, "keep", name, reading.feel.channels, NameKind::channel))
        one.keep.push_back(*kept);
    one.on = on.value_or(ComponentRef{});
    if (on) reading.feel.channels[on->channel].is_watched = true;
    one.enter = enters.value_or(0.0);
    one.leave = leaves.value_or(0.0);
    if (!reading.feel.channels.empty()) reading.feel.switches.push_back(std::move(one));
  });
}

} // namespace stasis
