// One sample of a shake's noise, beside two plain lattices written out by hand.
#include <cmath>
#include <cstdint>

#include <benchmark/benchmark.h>

#include "core/shake/wave.hpp"

namespace {

std::uint64_t hand_mixed(std::uint64_t z) {
  z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
  z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
  return z ^ (z >> 31);
}
double hand_lattice(std::uint64_t seed, double x) {
  const auto i = static_cast<std::int64_t>(x);
  const double u = x - static_cast<double>(i), f = u * u * u * (u * (u * 6 - 15) + 10);
  const auto gradient = [&](std::int64_t place) {
    return static_cast<double>(static_cast<std::int64_t>(hand_mixed(seed + static_cast<std::uint64_t>(place))))
           * 0x1p-63;
  };
  const double a = gradient(i) * u, b = gradient(i + 1) * (u - 1);
  return a + (b - a) * f;
}

void hand_noise(benchmark::State& state) {
  double x = 3.0;
  for (auto _ : state) {
    benchmark::DoNotOptimize((hand_lattice(1, x) + hand_lattice(2, x + 0.5)) / 0.6035);
    x += 0.078; // 10 Hz at 240 frames a second
  }
}
BENCHMARK(hand_noise);

void shake_noise(benchmark::State& state) {
  stasis::WaveStream wave(stasis::NoiseWave{10, 1}, 7, 0);
  double time = 0.0;
  for (auto _ : state) {
    benchmark::DoNotOptimize(wave.at({time, 0, 0.0}));
    time += 1.0 / 240.0;
  }
}
BENCHMARK(shake_noise);

} // namespace
