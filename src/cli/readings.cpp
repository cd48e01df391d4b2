#include "cli/readings.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/load_feel.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/take_measures.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

std::string reading_text(const NamedMeasure& reading, int digits) {
  if (!reading.value) return "\u2013";
  return readable(*reading.value, digits) + (reading.unit == "1" ? "" : " " + printable(reading.unit, 20));
}

} // namespace

std::vector<NamedMeasure> readings_of(const std::string& file, bool allow_outside) {
  Output nowhere(-1);
  FeelCall call;
  call.file = file;
  call.allow_outside = allow_outside;
  std::vector<NamedMeasure> readings;
  const auto source = FeelSource::open(call, nowhere);
  const auto loaded = source ? source->version("", {}, nowhere) : tl::unexpected(source.error());
  if (!loaded) return readings;
  for (const Take& take : loaded->feel.takes) {
    MeasureSink sink;
    BlockSink* const sinks[] = {&sink};
    const TakeMeasures measures = sink.take(play({&loaded->feel, &take, clock_of(take)}, sinks));
    for (std::size_t c = 0; c < loaded->feel.channels.size(); ++c) {
      const Channel& channel = loaded->feel.channels[c];
      for (const std::string& name : channel_measure_names(channel))
        readings.push_back({take.name, channel.name + "." + name, channel_measure_unit(channel, name),
                            fmt::format("{}: {}.{}", take.name, channel.name, name),
                            channel_measure(loaded->feel, measures, c, name)});
    }
  }
  return readings;
}

std::vector<MeasureChange> changes_of(const std::vector<NamedMeasure>& before, const std::vector<NamedMeasure>& after) {
  constexpr double visible = 1e-4;
  std::vector<MeasureChange> changes;
  for (const NamedMeasure& now : after) {
    const auto then =
        std::find_if(before.begin(), before.end(), [&](const NamedMeasure& r) { return r.name == now.name; });
    if (then == before.end()) continue;
    const bool both = then->value && now.value;
    const double size = both ? std::max(std::fabs(*then->value), std::fabs(*now.value)) : 0.0;
    if (both ? std::fabs(*now.value - *then->value) > visible * size : then->value != now.value)
      changes.push_back({&*then, &now});
  }
  return changes;
}

std::string change_text(const MeasureChange& change) {
  const auto& [then, now] = change;
  const std::string share =
      then->value && now->value && *then->value != 0.0
          ? fmt::format(" ({}{} %)", *now->value > *then->value ? "+" : "",
                        readable(100.0 * (*now->value - *then->value) / std::fabs(*then->value), 2))
          : "";
  int digits = 3;
  while (digits < 6 && reading_text(*then, digits) == reading_text(*now, digits)) ++digits;
  return fmt::format("{}: {} to {}{}", now->name, reading_text(*then, digits), reading_text(*now, digits), share);
}

void write_changes(io::JsonWriter& json, const std::vector<MeasureChange>& changes) {
  json.begin_array();
  for (const auto& [then, now] : changes) {
    json.begin_object().key("take").text(now->take).key("measure").text(now->measure).key("from").number(then->value);
    json.key("to").number(now->value).key("unit").text(now->unit).end_object();
  }
  json.end_array();
}

void write_value_changes(io::JsonWriter& json, const std::vector<ValueChange>& changes) {
  json.begin_array();
  for (const ValueChange& change : changes) {
    json.begin_object().key("path").text(change.path).key("before").text(change.before);
    json.key("after").text(change.after).end_object();
  }
  json.end_array();
}

} // namespace stasis::cli
