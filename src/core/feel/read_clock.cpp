// The clock of a take: frame times and what disturbs them, the tick of its subjects.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

void read_tick(SectionReader& reader, Tick& tick) {
  const auto rate = reader.has("tick") ? reader.number("tick") : std::optional(0.0);
  tick.rate = rate.value_or(1.0);
  tick.blends = reader.choice("between") == "blend";
  const auto order = reader.choice("order");
  if (order == "camera_first") tick.order = Tick::Order::camera_first;
  if (order == "on_tick") tick.order = Tick::Order::on_tick;
  if (rate != 0.0) return;
  if (reader.has("between")) reader.report("feel.too_many_keys", "between", "this goes with a tick only");
  if (tick.order == Tick::Order::on_tick)
    reader.report("feel.missing_key", "order", "order = \"on_tick\" needs a tick, such as tick = 50");
}

void read_random_stalls(Reading& reading, SectionReader& clock, RandomStalls& out) {
  const Node* node = clock.find("random_stalls");
  if (node == nullptr) return;
  SectionReader reader(*node, *find_section("take.clock.random_stalls"), joined_path(clock.path(), "random_stalls"),
                       reading.problems);
  if (node->table() == nullptr) return;
  const auto rate = reader.number("rate"), shortest = reader.number("shortest"), longest = reader.number("longest");
  if (!rate || !shortest || !longest) return;
  if (*longest < *shortest)
    return reader.report(
        "feel.range", "longest",
        fmt::format("the longest stall, {} s, is shorter than the shortest, {} s", *longest, *shortest));
  out = {*rate, *shortest, *longest};
}

/// The times at which recorded frames began, the first at 0; nothing, with a problem, where they do not ascend.
std::optional<std::vector<double>> frame_times_of(Reading& reading, const NumberColumns& file, const std::string& path,
                                                  double scale) {
  const auto named = [&](std::string_view name) {
    return std::find(file.names.begin(), file.names.end(), name) - file.names.begin();
  };
  const std::size_t columns = file.columns.size();
  const auto time = static_cast<std::size_t>(named("time")), length = static_cast<std::size_t>(named("dt"));
  const bool by_time = time < columns;
  const NumberColumn& column = file.columns[by_time ? time : length];
  std::vector<double> times;
  if (!by_time) times.push_back(0.0);
  for (std::size_t row = 0; row < column.size(); ++row) {
    const double value = column[row] * scale;
    if (!by_time && row == 0 && value == 0.0) continue; // the step that led to the first frame
    const double next = by_time ? (value - column[0] * scale) : times.back() + value;
    if (!std::isfinite(next) || (!times.empty() && !(next > times.back()))) {
      reading.report("feel.recorded", path, file.where(row),
                     by_time ? fmt::format("frame times must ascend, but {} is not after the one before", value)
                             : fmt::format("a frame must last longer than 0 s, found {}", value));
      return std::nullopt;
    }
    times.push_back(next);
  }
  return times;
}

void read_frame_times(Reading& reading, SectionReader& reader, Take& take) {
  const Node* recorded = reader.find("recorded");
  const auto unit = reader.choice("time_unit");
  if (recorded == nullptr) return;
  const std::string path = joined_path(reader.path(), "recorded");
  const NumberColumns* file = recorded->columns();
  if (file == nullptr) {
    if (recorded->text() == nullptr) reader.text("recorded");
    return;
  }
  if (reader.has("fps"))
    return reader.report("feel.too_many_keys", "fps", "the recorded frames say when each is drawn");
  if (file->names.empty())
    return reader.report("feel.recorded", "recorded", "the file has neither a column time nor a column dt");
  auto times = frame_times_of(reading, *file, path, unit == "ms" ? 1e-3 : 1.0);
  if (!times) return;
  if (times->size() < 2)
    return reader.report("feel.recorded", "recorded", "a recording of frames has two rows at least");
  if (times->back() < take.length - instant_slack)
    return reader.report(
        "feel.recorded", "recorded",
        fmt::format("the recording ends after {} s, but the take lasts {} s", readable(times->back(), 6), take.length),
        "Shorten the take.");
  take.fps = static_cast<double>(times->size() - 1) / times->back();
  take.disturbance.recorded = std::make_shared<const std::vector<double>>(std::move(*times));
}

} // namespace

void read_clock(Reading& reading, SectionReader& reader, Take& take) {
  take.fps = reader.number("fps").value_or(take.fps);
  take.disturbance.jitter = reader.number("jitter").value_or(0.0);
  take.disturbance.seed = static_cast<std::uint64_t>(reader.number("seed").value_or(1.0));
  if (reader.has("longest_frame")) take.disturbance.longest_frame = reader.number("longest_frame");
  read_tick(reader, take.tick);
  read_random_stalls(reading, reader, take.disturbance.random_stalls);
  read_frame_times(reading, reader, take);
  const Node* stalls = reader.find("stalls");
  if (stalls == nullptr) return;
  const KeySpec& spec = *find_key(reader.section(), "stalls");
  if (stalls->list() == nullptr)
    return reader.report("feel.not_a_list", "stalls",
                         fmt::format("expected a list such as [[1.5, 0.2]], found {}", kind_in_words(*stalls)));
  for (std::size_t i = 0; i < stalls->list()->size(); ++i) {
    const std::string path = fmt::format("{}.stalls[{}]", reader.path(), i);
    const Node& one = (*stalls->list())[i];
    const auto pair = reader.components_of(one, spec, path, "");
    if (!pair) continue;
    if (pair->size() != 2)
      reading.report("feel.component_count", path, one.where, "a stall is a pair: when, and how long, in seconds");
    else
      take.disturbance.stalls.push_back({(*pair)[0], (*pair)[1]});
  }
  std::stable_sort(take.disturbance.stalls.begin(), take.disturbance.stalls.end(),
                   [](const Stall& a, const Stall& b) { return a.at < b.at; });
}

} // namespace stasis
