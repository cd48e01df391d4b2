// What a point of a sweep costs, beside a loop by hand that plays and measures the same spring frame by frame.
#include <cmath>

#include <benchmark/benchmark.h>

#include "core/check/known_names.hpp"
#include "core/motion/spring.hpp"
#include "core/search/sweep.hpp"
#include "core/search/trials.hpp"
#include "core/take/player.hpp"
#include "core/units.hpp"
#include "io/toml_reader.hpp"
#include "support/step_feel.hpp"

namespace stasis {
namespace {

const std::string swept_text = test::step_feel("kind = \"spring\", frequency = 1.2, damping_ratio = 0.9", 240, 3);
constexpr std::uint64_t side = 100;

void swept(benchmark::State& state) {
  const Trials trials({{"", Variations(*io::read_toml(swept_text, 0), all_known_names), {"t"}}},
                      {"a.settling_time", "a.overshoot", "a.peak_speed"});
  const SweepPoints points({*parse_sweep_axis("channel.a.motion.frequency=1:3:100", false),
                            *parse_sweep_axis("channel.a.motion.damping_ratio=0.4:1:100", false)});
  std::uint64_t point = 0;
  for (auto _ : state) {
    benchmark::DoNotOptimize(trials.with(points.assignments(point)));
    point = (point + 37) % points.count();
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations()));
}
BENCHMARK(swept);

/// One play with all its measures, as `run` takes them: what a search's evaluation stands beside.
void one_play(benchmark::State& state) {
  const Feel feel = *read_feel(*io::read_toml(swept_text, 0), all_known_names);
  const Take& take = feel.takes[0];
  for (auto _ : state) {
    MeasureSink sink;
    BlockSink* const sinks[] = {&sink};
    play({&feel, &take, clock_of(take)}, sinks);
    benchmark::DoNotOptimize(sink.take({}));
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations()));
}
BENCHMARK(one_play);

/// To the frame: when it was last outside the band, how far it went beyond, how fast it was.
void swept_by_hand(benchmark::State& state) {
  constexpr int frames = 720;
  constexpr double dt = 1.0 / 240.0, band = 0.02;
  std::uint64_t point = 0;
  for (auto _ : state) {
    const double frequency = 1.0 + 2.0 * static_cast<double>(point / side) / (side - 1);
    const double ratio = 0.4 + 0.6 * static_cast<double>(point % side) / (side - 1);
    const SpringStep step = spring_step({angular_frequency(frequency), ratio}, dt);
    double x = 0.0, v = 0.0, settled = 0.0, beyond = 0.0, fastest = 0.0;
    for (int frame = 1; frame <= frames; ++frame) {
      const double gap = 1.0 - x, next = x + (step.toward * gap + step.coast * v);
      v = step.momentum * v + step.pull * gap;
      x = next;
      if (std::fabs(x - 1.0) > band) settled = frame * dt;
      beyond = std::max(beyond, x - 1.0);
      fastest = std::max(fastest, std::fabs(v));
    }
    benchmark::DoNotOptimize(settled);
    benchmark::DoNotOptimize(beyond);
    benchmark::DoNotOptimize(fastest);
    point = (point + 37) % (side * side);
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations()));
}
BENCHMARK(swept_by_hand);

} // namespace
} // namespace stasis
