// Rows with noise, and what is done to rows before anything is read from them.
#include <algorithm>
#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

#include "core/match/row_cleaning.hpp"
#include "core/random.hpp"
#include "core/recorded/recorded_path.hpp"
#include "core/recorded/unrest.hpp"

namespace stasis::test {
namespace {

template<class Function> RecordedRows noisy_rows(Function function, double noise, std::uint64_t seed, int count = 240) {
  stasis::Random random(seed);
  RecordedRows rows;
  rows.values.resize(1);
  for (int k = 0; k < count; ++k) {
    rows.times.push_back(k / 60.0);
    rows.values[0].push_back(function(k / 60.0) + noise * random.normal());
  }
  return rows;
}

CapturedPath seen_path(const RecordedRows& rows, const PathPlan& plan) {
  return smooth_path(rows, plan, windows_of(rows, plan));
}

TEST(SmoothPath, ACubicIsItself) {
  const auto cubic = [](double t) { return 3.0 - 2.0 * t + 0.7 * t * t - 0.1 * t * t * t; };
  const RecordedRows rows = noisy_rows(cubic, 0.0, 1);
  const CapturedPath path = seen_path(rows, {{}, {}, {0.01}});
  ASSERT_EQ(path.size(), 1u);
  ASSERT_EQ(path[0].size(), rows.size());
  for (const PathNode& node : path[0]) {
    const double t = node.time;
    EXPECT_NEAR(node.state[0].value, cubic(t), 1e-9);
    EXPECT_NEAR(node.state[0].rate, -2.0 + 1.4 * t - 0.3 * t * t, 1e-7);
    EXPECT_NEAR(node.state[0].push, 1.4 - 0.6 * t, 1e-5);
  }
}

TEST(SmoothPath, NoiseIsMadeSmallerMostWhereLittleGoesOn) {
  const auto curve = [](double t) { return std::sin(1.5 * t); };
  const double noise = 0.05;
  double squares = 0.0, rates = 0.0;
  std::size_t count = 0;
  for (std::uint64_t seed = 1; seed <= 5; ++seed) {
    const CapturedPath path = seen_path(noisy_rows(curve, noise, seed), {{}, {}, {noise}});
    for (const PathNode& node : path[0]) {
      squares += std::pow(node.state[0].value - curve(node.time), 2);
      rates += std::pow(node.state[0].rate - 1.5 * std::cos(1.5 * node.time), 2);
      ++count;
    }
  }
  EXPECT_LT(std::sqrt(squares / static_cast<double>(count)), 0.5 * noise);
  EXPECT_LT(std::sqrt(rates / static_cast<double>(count)), 0.25);
}

TEST(SmoothPath, ACutKeepsACornerAndAJump) {
  const double noise = 0.02, at = 1.5;
  const auto corner = [=](double t) { return t < at ? 1.0 : 1.0 + 8.0 * (t - at); };
  const CapturedPath bent = seen_path(noisy_rows(corner, noise, 3), {{{at, false}}, {}, {noise}});
  ASSERT_EQ(bent.size(), 2u);
  EXPECT_NEAR(bent[0].back().state[0].rate, 0.0, 1.0);
  EXPECT_NEAR(bent[1].front().state[0].rate, 8.0, 1.0);
  EXPECT_EQ(bent[0].back().time, bent[1].front().time);
  const auto jump = [=](double t) { return t < at ? 1.0 : 5.0; };
  const CapturedPath cut = seen_path(noisy_rows(jump, noise, 3), {{{at - 1e-6, true}}, {}, {noise}});
  ASSERT_EQ(cut.size(), 2u);
  EXPECT_NEAR(cut[0].back().state[0].value, 1.0, 0.05);
  EXPECT_NEAR(cut[1].front().state[0].value, 5.0, 0.05);
}

TEST(SmoothPath, RowsThatStandAreTheirMean) {
  const RecordedRows rows = noisy_rows([](double) { return 4.0; }, 0.1, 9);
  const CapturedPath path = seen_path(rows, {{}, {{20, 200, 50}}, {0.1}});
  double mean = 0.0;
  for (std::size_t k = 50; k <= 200; ++k) mean += rows.values[0][k] / 151.0;
  for (std::size_t k = 20; k <= 200; ++k) {
    EXPECT_NEAR(path[0][k].state[0].value, mean, 1e-12);
    EXPECT_EQ(path[0][k].state[0].rate, 0.0);
  }
  EXPECT_NE(path[0][10].state[0].value, path[0][11].state[0].value);
}

TEST(SmoothPath, WindowsWidenWithTheNoise) {
  const auto curve = [](double t) { return std::sin(3.0 * t); };
  const RecordedRows rows = noisy_rows(curve, 0.0, 1);
  std::size_t narrow = 0, wide = 0;
  for (const auto& [noise, sum] : {std::pair<double, std::size_t*>{1e-4, &narrow}, {0.1, &wide}}) {
    const std::vector<SectionWindows> sections = windows_of(rows, {{}, {}, {noise}});
    for (const auto& windows : sections[0].windows[0]) *sum += windows[0].last - windows[0].first + 1;
  }
  EXPECT_GT(wide, 2 * narrow);
}

TEST(SmoothPath, TheWeightsAreThoseOfTheFit) {
  const RecordedRows rows = noisy_rows([](double t) { return std::sin(2.0 * t) + 1000.0; }, 0.01, 4, 120);
  const PathPlan plan{{}, {}, {0.01}};
  auto windows = windows_of(rows, plan);
  const CapturedPath by_weights = smooth_path(rows, plan, windows);
  for (auto& row : windows[0].windows[0])
    for (RowWindow& window : row) window.weights.clear();
  const CapturedPath by_fit = smooth_path(rows, plan, windows);
  for (std::size_t k = 0; k < rows.size(); ++k) {
    EXPECT_NEAR(by_weights[0][k].state[0].value, by_fit[0][k].state[0].value, 1e-9);
    EXPECT_NEAR(by_weights[0][k].state[0].rate, by_fit[0][k].state[0].rate, 1e-7);
    EXPECT_NEAR(by_weights[0][k].state[0].push, by_fit[0][k].state[0].push, 1e-5);
  }
}

TEST(RowCleaning, NoiseIsToldAndAPathIsNone) {
  for (std::uint64_t seed = 1; seed <= 6; ++seed) {
    const auto noise = noisy_rows([](double t) { return 5.0 * std::sin(4.0 * t); }, 0.2, seed, 400);
    EXPECT_NEAR(noise_of(noise.values[0]), 0.2, 0.05) << seed;
  }
  const auto clean = noisy_rows([](double t) { return 5.0 * std::sin(4.0 * t); }, 0.0, 1, 400);
  EXPECT_LT(noise_of(clean.values[0]), 1e-6);
}

TEST(RowCleaning, RepeatedRowsAndOutliersAreLeftOut) {
  auto rows = noisy_rows([](double t) { return 10.0 * t; }, 0.01, 2, 100);
  std::vector<double>& values = rows.values[0];
  values[40] = values[39]; // a frame that was recorded twice
  values[70] = values[69];
  values[55] += 3.0;
  RowCleaning found;
  const auto kept = clean_rows(values, found);
  EXPECT_EQ(found.repeated, 2u);
  EXPECT_EQ(found.outliers, 1u);
  for (const std::size_t gone : {40u, 70u, 55u}) EXPECT_EQ(std::count(kept.begin(), kept.end(), gone), 0);
  EXPECT_EQ(kept.size(), 97u);
  EXPECT_TRUE(std::is_sorted(kept.begin(), kept.end()));
}

TEST(RowCleaning, AJumpIsNoOutlierAndWhatStandsIsNotRepeated) {
  const auto jump = noisy_rows([](double t) { return t < 0.5 ? 0.0 : 4.0; }, 0.02, 5, 80);
  RowCleaning found;
  EXPECT_EQ(clean_rows(jump.values[0], found).size(), 80u);
  RowCleaning still;
  EXPECT_EQ(clean_rows(std::vector<double>(50, 3.0), still).size(), 50u);
  EXPECT_EQ(still.repeated, 0u);
}

TEST(Unrest, IsToldAboutTheLineThatItDriftsAlong) {
  const auto rows =
      noisy_rows([](double t) { return 2.0 + 0.3 * t + 0.5 * std::sin(6.0 * std::numbers::pi * t); }, 0.01, 7, 600);
  const Unrest unrest = unrest_of(rows, {0, 599, 0}, 0, 0.01);
  EXPECT_NEAR(unrest.drift, 0.3, unrest.drift_error);
  EXPECT_NEAR(unrest.rms, 0.5 / std::numbers::sqrt2, 0.02);
  EXPECT_NEAR(unrest.spectrum.centroid(), 3.0, 0.3);
  EXPECT_FALSE(unrest.is_noise);
  const auto quiet = noisy_rows([](double) { return 1.0; }, 0.05, 8, 600);
  EXPECT_TRUE(unrest_of(quiet, {0, 599, 0}, 0, 0.05).is_noise);
}

} // namespace
} // namespace stasis::test
