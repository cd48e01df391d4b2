// A recording read and followed, beside a bare loop over the same numbers.
#include <charconv>
#include <cstdio>
#include <cstring>
#include <string>
#include <vector>

#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include "core/scene/track.hpp"
#include "io/column_file.hpp"

namespace {

constexpr int rows = 200'000;
constexpr const char* path = "/tmp/stasis_track_bench.csv";

const std::string& recording() {
  static const std::string text = [] {
    std::string made = "time,a,b,x,y,z,heading,throttle\n";
    for (int row = 0; row < rows; ++row)
      made += fmt::format("{},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:.4f},{:.3f}\n", row / 1000.0, row * 0.37, row * 1.1,
                          row * 0.012345, row * 0.02, -row * 0.7, row * 0.001, 0.5);
    std::FILE* file = std::fopen(path, "w");
    std::fwrite(made.data(), 1, made.size(), file);
    std::fclose(file);
    return made;
  }();
  return text;
}

/// Every number of the text, and nothing else.
void bare_numbers(benchmark::State& state) {
  const std::string& text = recording();
  for (auto _ : state) {
    std::vector<std::vector<double>> columns(8);
    const char* at = static_cast<const char*>(std::memchr(text.data(), '\n', text.size())) + 1;
    const char* const end = text.data() + text.size();
    while (at < end)
      for (auto& column : columns) {
        double value = 0.0;
        at = std::from_chars(at, end, value).ptr + 1;
        column.push_back(value);
      }
    benchmark::DoNotOptimize(columns.data());
  }
  state.SetItemsProcessed(state.iterations() * rows);
}
BENCHMARK(bare_numbers)->Unit(benchmark::kMillisecond);

void read_columns(benchmark::State& state, const std::vector<std::string>& wanted) {
  recording();
  for (auto _ : state) benchmark::DoNotOptimize(stasis::io::read_column_file(path, wanted, 0));
  state.SetItemsProcessed(state.iterations() * rows);
}
BENCHMARK_CAPTURE(read_columns, all_8, std::vector<std::string>{"time", "a", "b", "x", "y", "z", "heading", "throttle"})
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(read_columns, two_of_8, std::vector<std::string>{"time", "x"})->Unit(benchmark::kMillisecond);

/// A subject's place and velocity at frames that lie between its rows.
void read_track(benchmark::State& state) {
  auto path_read = std::make_shared<stasis::RecordedPath>();
  std::vector<double> time(rows), x(rows), z(rows);
  for (int row = 0; row < rows; ++row) {
    const auto r = static_cast<std::size_t>(row);
    time[r] = row / 50.0;
    x[r] = row * 0.01;
    z[r] = row * 0.003;
  }
  path_read->time = std::move(time);
  path_read->place = {std::move(x), {}, std::move(z)};
  stasis::Track track;
  track.components = 3;
  track.path = std::shared_ptr<const stasis::RecordedPath>(std::move(path_read));
  stasis::TrackReader reader(track);
  reader.enter(0.0);
  for (auto _ : state)
    for (int frame = 0; frame < rows; ++frame) benchmark::DoNotOptimize(reader.at(frame / 60.0));
  state.SetItemsProcessed(state.iterations() * rows);
}
BENCHMARK(read_track)->Unit(benchmark::kMillisecond);

} // namespace
