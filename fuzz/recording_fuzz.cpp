// Any bytes as a recording: refused, or a table in which every column is as long; its first two columns as times and
// values are measured, and what is told are numbers.
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <string>

#include "core/measure/channel_measures.hpp"
#include "core/recorded/recording_measures.hpp"
#include "io/recording.hpp"
#include "memory_file.hpp"

namespace {

/// The rows of two columns that ascend, as a call would take them; not so many that a run takes long.
stasis::RecordedValue value_of(const stasis::io::Recording& table) {
  stasis::RecordedValue value;
  value.rows.values.resize(1);
  constexpr std::size_t most_rows = 400;
  constexpr double largest = 1e15;
  for (std::size_t row = 0; row < table.rows() && value.rows.times.size() < most_rows; ++row) {
    const double time = table.columns[0][row], number = table.columns[1][row];
    if (!(std::fabs(time) <= largest) || !(std::fabs(number) <= largest)) continue;
    if (!value.rows.times.empty() && !(time > value.rows.times.back())) continue;
    value.rows.times.push_back(time);
    value.rows.values[0].push_back(number);
  }
  value.channel.name = "a";
  return value;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const stasis::fuzz::MemoryFile file(data, size);
  const auto table = stasis::io::read_recording(file.path());
  if (!table) return table.error().message.empty() ? (std::abort(), 0) : 0;
  for (const auto& column : table->columns)
    if (column.size() != table->rows()) std::abort();
  if (table->names.size() != table->columns.size()) std::abort();
  if (table->columns.size() < 2) return 0;
  const stasis::RecordedValue value = value_of(*table);
  if (value.rows.size() < stasis::fewest_recorded_rows) return 0;
  const stasis::RecordingMeasures found = stasis::measure_recording(value);
  for (const std::string& name : stasis::channel_measure_names(found.feel.channels[0]))
    if (const auto number = stasis::channel_measure(found.feel, found.measures, 0, name); number && std::isnan(*number))
      std::abort();
  return 0;
}
