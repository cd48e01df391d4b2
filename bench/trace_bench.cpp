// A whole take with its trace, beside a bare writer of as many numbers.
#include <cstdio>
#include <vector>

#include <benchmark/benchmark.h>
#include <fmt/compile.h>
#include <fmt/format.h>

#include "core/check/known_names.hpp"
#include "core/feel/read_feel.hpp"
#include "core/measure/take_measures.hpp"
#include "core/take/player.hpp"
#include "io/toml_reader.hpp"
#include "io/trace_csv.hpp"
#include "support/step_feel.hpp"

namespace {

const std::string text =
    stasis::test::step_feel("kind = \"spring\", frequency = 0.4, damping_ratio = 0.01", 1000, 100, 0.5);

void bare_writer(benchmark::State& state) {
  std::vector<char> buffer(1 << 18);
  for (auto _ : state) {
    char* at = buffer.data();
    double x = 0.1;
    for (int row = 0; row < 100'001; ++row) {
      at = fmt::format_to(at, FMT_COMPILE("{},{},{},{},{},{},{},{}\n"), row, row / 1000.0, 0.001, 1.0, x, x * 1.1, -x,
                          1.0);
      x = x * 0.99997 + 0.001;
      if (at - buffer.data() > (1 << 17)) {
        benchmark::DoNotOptimize(buffer.data());
        at = buffer.data();
      }
    }
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations()) * 100'001);
}
BENCHMARK(bare_writer)->Unit(benchmark::kMillisecond);

void play_take(benchmark::State& state, bool with_trace, bool with_measures) {
  const auto document = stasis::io::read_toml(text, 0);
  const auto feel = stasis::read_feel(*document, stasis::all_known_names);
  for (auto _ : state) {
    std::size_t bytes = 0;
    stasis::io::TraceCsvSink trace([&](std::string_view piece) { bytes += piece.size(); });
    stasis::MeasureSink measures;
    std::vector<stasis::BlockSink*> sinks;
    if (with_trace) sinks.push_back(&trace);
    if (with_measures) sinks.push_back(&measures);
    const stasis::Take& take = feel->takes[0];
    stasis::play({&*feel, &take, stasis::steady_clock(take.fps, take.length)}, sinks);
    benchmark::DoNotOptimize(bytes);
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations()) * 100'001);
}
BENCHMARK_CAPTURE(play_take, nothing_kept, false, false)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(play_take, trace, true, false)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(play_take, trace_and_measures, true, true)->Unit(benchmark::kMillisecond);

} // namespace
