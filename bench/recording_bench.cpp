// What is read from a recording: beside one fit of a spring by a program of one's own, what matching and measuring
// cost.
#include <cmath>
#include <numbers>

#include <benchmark/benchmark.h>

#include "core/match/match_follow.hpp"
#include "core/match/match_step.hpp"
#include "core/random.hpp"
#include "core/recorded/recording_measures.hpp"

namespace {

using namespace stasis;

double spring_at(double t, double start, double w, double z) {
  const double u = t - start, wd = w * std::sqrt(1.0 - z * z);
  return u <= 0.0 ? 0.0 : 1.0 - std::exp(-z * w * u) * (std::cos(wd * u) + z * w / wd * std::sin(wd * u));
}

/// Two seconds at 60 rows a second, with noise of 1 %.
RecordedMove captured_spring(double length = 2.0) {
  Random random(1);
  RecordedMove move;
  for (int k = 0; k < static_cast<int>(60.0 * length); ++k) {
    move.times.push_back(k / 60.0);
    move.values.push_back(spring_at(k / 60.0, 0.4, 11.0, 0.6) + 0.01 * random.normal());
  }
  return move;
}

/// A spring fitted by hand: Gauss and Newton's steps on start, frequency and ratio from near the truth.
void spring_by_hand(benchmark::State& state) {
  const RecordedMove move = captured_spring();
  for (auto _ : state) {
    std::array<double, 3> at{0.42, 10.0, 0.5};
    for (int step = 0; step < 12; ++step) {
      double jj[3][3] = {}, jr[3] = {};
      for (std::size_t k = 0; k < move.times.size(); ++k) {
        const double t = move.times[k], f = spring_at(t, at[0], at[1], at[2]), off = move.values[k] - f;
        const double h = 1e-6, slopes[3] = {(spring_at(t, at[0] + h, at[1], at[2]) - f) / h,
                                            (spring_at(t, at[0], at[1] + h, at[2]) - f) / h,
                                            (spring_at(t, at[0], at[1], at[2] + h) - f) / h};
        for (int i = 0; i < 3; ++i) {
          jr[i] += slopes[i] * off;
          for (int j = 0; j < 3; ++j) jj[i][j] += slopes[i] * slopes[j];
        }
      }
      // Cramer's rule.
      const auto det = [](const double a[3][3]) {
        return a[0][0] * (a[1][1] * a[2][2] - a[1][2] * a[2][1]) - a[0][1] * (a[1][0] * a[2][2] - a[1][2] * a[2][0])
               + a[0][2] * (a[1][0] * a[2][1] - a[1][1] * a[2][0]);
      };
      const double all = det(jj);
      for (int i = 0; i < 3; ++i) {
        double one[3][3];
        for (int r = 0; r < 3; ++r)
          for (int c = 0; c < 3; ++c) one[r][c] = c == i ? jr[r] : jj[r][c];
        at[static_cast<std::size_t>(i)] += det(one) / all;
      }
    }
    benchmark::DoNotOptimize(at.data());
  }
}
BENCHMARK(spring_by_hand);

void matched_against_all(benchmark::State& state) {
  const RecordedMove move = captured_spring();
  for (auto _ : state) benchmark::DoNotOptimize(match_step({move}, step_rules()));
}
BENCHMARK(matched_against_all)->Unit(benchmark::kMillisecond);

/// \param state rows
void measured_rows(benchmark::State& state) {
  const RecordedMove move = captured_spring(static_cast<double>(state.range(0)) / 60.0);
  RecordedValue value;
  value.rows.times = move.times;
  value.rows.values = {move.values};
  value.channel.name = "a";
  for (auto _ : state) benchmark::DoNotOptimize(measure_recording(value));
}
BENCHMARK(measured_rows)->Arg(120)->Arg(1'200)->Arg(12'000)->Unit(benchmark::kMillisecond);

void followed_goal(benchmark::State& state) {
  RecordedFollow recorded{{}, {{}}, {{}}};
  double x = 0.0;
  for (int k = 0; k < 600; ++k) {
    const double t = k / 60.0, goal = std::sin(1.7 * t) + 0.5 * std::sin(4.1 * t);
    recorded.times.push_back(t);
    recorded.goals[0].push_back(goal);
    recorded.values[0].push_back(x += 0.1 * (goal - x));
  }
  for (auto _ : state) benchmark::DoNotOptimize(match_follow(recorded));
}
BENCHMARK(followed_goal)->Unit(benchmark::kMillisecond);

} // namespace
