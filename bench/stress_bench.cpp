// What a frame costs in random plays, beside the same frames played without anyone looking on.
#include <benchmark/benchmark.h>

#include "core/check/known_names.hpp"
#include "core/feel/read_feel.hpp"
#include "core/search/stress.hpp"
#include "core/take/player.hpp"
#include "io/toml_reader.hpp"

namespace stasis {
namespace {

constexpr const char* feel_text = R"(
[channel.fov]
unit = "deg"
rest = 62
range = [30, 95]
space = "zoom"
motion = { kind = "spring", frequency = 2, damping_ratio = 0.8 }
[channel.distance]
rest = 4
range = [1.2, 9]
space = "ratio"
motion = { kind = "glide", half_life = 0.1 }
[channel.side]
rest = 0.55
range = [-0.8, 0.8]
motion = { kind = "ease", duration = 0.3, curve = "in-out sine" }
[pose.listen]
fov = 38
side = 0.3
[control.listen]
kind = "hold"
pose = "listen"
[control.shoulder]
kind = "cycle"
mirror = "side"
[control.wheel]
kind = "clicks"
channel = "distance"
step = 1.12
)";

Feel bench_feel() { return *read_feel(*io::read_toml(feel_text, 0), all_known_names); }

constexpr std::uint64_t plays = 64;

void played(benchmark::State& state) {
  const Feel feel = bench_feel();
  const Stress stress(feel, {});
  std::vector<Take> takes;
  double frames = 0.0;
  for (std::uint64_t number = 0; number < plays; ++number) {
    takes.push_back(stress.take_of(stress.play_of(number), "t"));
    frames += static_cast<double>(steady_clock(takes.back().fps, takes.back().length).frames);
  }
  for (auto _ : state)
    for (const Take& take : takes) play({&feel, &take, steady_clock(take.fps, take.length)}, {});
  state.counters["ns_a_frame"] =
      benchmark::Counter(frames * 1e-9, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK(played);

void stressed(benchmark::State& state) {
  const Feel feel = bench_feel();
  const Stress stress(feel, {});
  std::vector<StressPlay> made;
  double frames = 0.0;
  for (std::uint64_t number = 0; number < plays; ++number) {
    made.push_back(stress.play_of(number));
    const Take take = stress.take_of(made.back(), "t");
    frames += static_cast<double>(steady_clock(take.fps, take.length).frames);
  }
  for (auto _ : state)
    for (const StressPlay& one : made) benchmark::DoNotOptimize(stress.troubles_of(one));
  state.counters["ns_a_frame"] =
      benchmark::Counter(frames * 1e-9, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK(stressed);

} // namespace
} // namespace stasis
