// Stepping a channel: what the library does beside a hand-written loop over the same coefficients.
#include <array>
#include <vector>

#include <benchmark/benchmark.h>

#include "core/motion/mover.hpp"
#include "core/units.hpp"

namespace {

constexpr std::size_t rows = 512;

void hand_written_spring(benchmark::State& state) {
  const stasis::SpringStep c = stasis::spring_step({stasis::angular_frequency(2.5), 0.3}, 1.0 / 60);
  std::vector<double> value(rows + 1), velocity(rows + 1);
  for (auto _ : state) {
    double x = 0, v = 0;
    for (std::size_t i = 0; i <= rows; ++i) {
      value[i] = x;
      velocity[i] = v;
      const double gap = 1.0 - x;
      const double next = x + (c.toward * gap + c.coast * v);
      v = c.momentum * v + c.pull * gap;
      x = next;
    }
    benchmark::DoNotOptimize(value.data());
    benchmark::DoNotOptimize(velocity.data());
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations()) * static_cast<std::int64_t>(rows));
}
BENCHMARK(hand_written_spring);

void advance_motion(benchmark::State& state, const stasis::Motion& motion) {
  std::vector<double> value(rows + 1), velocity(rows + 1);
  const stasis::Clock clock{60, 1000};
  stasis::StepMemory memory;
  for (auto _ : state) {
    stasis::MoverState mover = stasis::state_at_rest(0.0);
    stasis::begin_move(motion, mover, {0, 0.0, 1.0});
    stasis::advance_rows(motion, mover, memory, clock, 0, 1.0, {value, velocity, {}});
    benchmark::DoNotOptimize(value.data());
    benchmark::DoNotOptimize(velocity.data());
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations()) * static_cast<std::int64_t>(rows));
}
BENCHMARK_CAPTURE(advance_motion, spring, stasis::Spring{stasis::angular_frequency(2.5), 0.3});
BENCHMARK_CAPTURE(advance_motion, glide, stasis::Glide{4.0});
BENCHMARK_CAPTURE(advance_motion, ease, stasis::Ease{20.0, stasis::CubicBezier{0.42, 0, 0.58, 1}});
BENCHMARK_CAPTURE(advance_motion, pace, stasis::Pace{0.2, 1.0});
BENCHMARK_CAPTURE(advance_motion, glide_then_spring,
                  stasis::Chain{
                      0.0, std::nullopt, {stasis::Glide{4.0}, stasis::Spring{stasis::angular_frequency(2.5), 0.3}}});
BENCHMARK_CAPTURE(advance_motion, ease_then_spring,
                  stasis::Chain{0.0,
                                stasis::Ease{0.5, stasis::CubicBezier{0.42, 0, 0.58, 1}},
                                {stasis::Spring{stasis::angular_frequency(2.5), 0.3}}});

/// The two links of glide_then_spring by hand, as a product with a fixed 3 x 3 matrix.
void hand_written_stages(benchmark::State& state) {
  const double m[3][3] = {{0.93, 0, 0}, {0.02, 0.96, 0.016}, {2.2, -3.9, 0.85}};
  std::vector<double> value(rows + 1), velocity(rows + 1);
  for (auto _ : state) {
    double g = -1, x = -1, v = 0;
    for (std::size_t i = 0; i <= rows; ++i) {
      value[i] = 1 + x;
      velocity[i] = v;
      const double next_g = m[0][0] * g, next_x = m[1][0] * g + m[1][1] * x + m[1][2] * v;
      v = m[2][0] * g + m[2][1] * x + m[2][2] * v;
      g = next_g;
      x = next_x;
    }
    benchmark::DoNotOptimize(value.data());
    benchmark::DoNotOptimize(velocity.data());
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations()) * static_cast<std::int64_t>(rows));
}
BENCHMARK(hand_written_stages);

void evaluate_curve(benchmark::State& state, const char* text) {
  const stasis::Curve curve = *stasis::parse_curve(text);
  double t = 0.0;
  for (auto _ : state) {
    t = t < 1.0 ? t + 0.0101 : 0.0;
    benchmark::DoNotOptimize(stasis::evaluate(curve, t));
  }
}
/// The bare curve at the very shares of its time at which advance_motion/ease looks at it.
void curve_of_the_ease(benchmark::State& state) {
  const stasis::Curve curve = stasis::CubicBezier{0.42, 0, 0.58, 1};
  std::vector<double> value(rows + 1);
  for (auto _ : state) {
    for (std::size_t i = 0; i <= rows; ++i)
      value[i] = stasis::evaluate(curve, static_cast<double>(i) / 60.0 / 20.0).value;
    benchmark::DoNotOptimize(value.data());
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations()) * static_cast<std::int64_t>(rows));
}
BENCHMARK(curve_of_the_ease);
BENCHMARK_CAPTURE(evaluate_curve, cubic_bezier, "cubic-bezier(0.42, 0, 0.58, 1)");
BENCHMARK_CAPTURE(evaluate_curve, linear, "linear(0, 0.5 20%, 0.9, 1)");
BENCHMARK_CAPTURE(evaluate_curve, out_elastic, "out elastic");

void new_coefficients_each_frame(benchmark::State& state) {
  double dt = 1.0 / 60;
  for (auto _ : state) {
    dt = dt < 0.02 ? dt + 1e-9 : 1.0 / 60;
    benchmark::DoNotOptimize(stasis::spring_step({stasis::angular_frequency(2.5), 0.3}, dt));
  }
}
BENCHMARK(new_coefficients_each_frame);

} // namespace
