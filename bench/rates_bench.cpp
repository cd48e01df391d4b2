// Per-frame rules beside the loop that a program has, and a take on six clocks beside its plain plays.
#include <benchmark/benchmark.h>

#include "core/check/known_names.hpp"
#include "core/feel/read_feel.hpp"
#include "core/measure/frame_rates.hpp"
#include "core/take/player.hpp"
#include "io/toml_reader.hpp"

namespace {

using namespace stasis;

constexpr int frames = 100'000;

void by_hand(benchmark::State& state) {
  std::vector<double> rows(frames);
  for (auto _ : state) {
    double x = 0.0;
    for (double& row : rows) {
      row = x;
      x += 0.07 * (1.0 - x);
    }
    benchmark::DoNotOptimize(rows.data());
  }
  state.SetItemsProcessed(state.iterations() * frames);
}
BENCHMARK(by_hand);

void as_motion(benchmark::State& state) {
  const Motion motion = PerFrame{FractionRule{0.07}, 60.0};
  const Clock clock{60.0, frames};
  std::vector<double> value(frames + 1), rate(frames + 1);
  for (auto _ : state) {
    MoverState mover = state_at_rest(0.0);
    StepMemory memory;
    advance_rows(motion, mover, memory, clock, 0, 1.0, {value, rate, {}});
    benchmark::DoNotOptimize(value.data());
  }
  state.SetItemsProcessed(state.iterations() * frames);
}
BENCHMARK(as_motion);

Feel feel_of_rules() {
  const auto document = io::read_toml(R"([channel.a]
rest = 0
motion = { kind = "per_frame", rule = "fraction", fraction = 0.07, at_fps = 60 }
[channel.b]
rest = 0
motion = { kind = "spring", frequency = 2, damping_ratio = 0.7 }
[pose.up]
a = 1
b = 1
[control.c]
kind = "hold"
pose = "up"
[take.t]
length = 60
cues = [{ at = 0.51, press = "c" }, { at = 20.3, release = "c" }]
)",
                                      0);
  return *read_feel(*document, all_known_names);
}

/// The least that six clocks cost: each played and measured once, and its exact path beside it.
void plain_plays(benchmark::State& state) {
  const Feel feel = feel_of_rules();
  for (auto _ : state)
    for (const RateCase& one : usual_cases(feel.takes[0], usual_rates_to_try()))
      for (int path = 0; path < 3; ++path) {
        const Clock clock = disturbed_clock(one.fps, feel.takes[0].length, one.disturbance);
        MeasureSink measuring;
        BlockSink* const sinks[] = {&measuring};
        benchmark::DoNotOptimize(play({&feel, &feel.takes[0], clock}, sinks));
      }
}
BENCHMARK(plain_plays)->Unit(benchmark::kMillisecond);

void rates(benchmark::State& state) {
  const Feel feel = feel_of_rules();
  for (auto _ : state)
    benchmark::DoNotOptimize(
        play_rates(feel, feel.takes[0], usual_cases(feel.takes[0], usual_rates_to_try())).plays.size());
}
BENCHMARK(rates)->Unit(benchmark::kMillisecond);

} // namespace
