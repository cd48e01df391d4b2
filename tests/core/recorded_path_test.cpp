// Recorded rows: where a path without noise breaks, the path through it, where it rests, and what noise leaves of it.
#include <algorithm>
#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

#include "core/match/row_cleaning.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/random.hpp"
#include "core/recorded/recording_measures.hpp"
#include "core/recorded/rests.hpp"

namespace stasis::test {
namespace {

template<class Function> RecordedRows sampled(Function function, double fps, double length) {
  RecordedRows rows;
  rows.values.resize(1);
  for (int k = 0; k <= static_cast<int>(fps * length); ++k) {
    rows.times.push_back(k / fps);
    rows.values[0].push_back(function(k / fps));
  }
  return rows;
}

/// From 2 to 12, from rest at `start`; damping ratio below 1.
struct TestSpring {
  double start, w, ratio;
  double value(double t) const {
    const double u = t - start, wd = w * std::sqrt(1.0 - ratio * ratio);
    if (u <= 0.0) return 2.0;
    return 12.0 - 10.0 * std::exp(-ratio * w * u) * (std::cos(wd * u) + ratio * w / wd * std::sin(wd * u));
  }
  double overshoot() const { return 100.0 * std::exp(-std::numbers::pi * ratio / std::sqrt(1.0 - ratio * ratio)); }
  double peak_time() const { return std::numbers::pi / (w * std::sqrt(1.0 - ratio * ratio)); }
};

constexpr double bits = 4e-15;

TEST(RecordedPath, ASmoothPathHasNoBreaks) {
  EXPECT_TRUE(breaks_of(sampled([](double t) { return std::sin(5.0 * t) + t; }, 60, 4), bits).empty());
  EXPECT_TRUE(breaks_of(sampled([](double t) { return std::exp(-3.0 * t); }, 60, 4), bits).empty());
  EXPECT_TRUE(breaks_of(sampled([](double) { return 7.0; }, 60, 4), bits).empty());
}

TEST(RecordedPath, BreaksLieWhereTheyAreBetweenRowsAndOnThem) {
  for (const double start : {0.5, 0.50137, 0.5083, 0.5166}) {
    const auto glide =
        breaks_of(sampled([&](double t) { return t < start ? 1.0 : std::exp(-4.0 * (t - start)); }, 60, 2), bits);
    ASSERT_EQ(glide.size(), 1u) << start;
    EXPECT_NEAR(glide[0].time, start, 1e-7);
    EXPECT_EQ(glide[0].kind, PathBreak::Kind::corner);
    const TestSpring spring{start, 8.0, 0.4};
    const auto bend = breaks_of(sampled([&](double t) { return spring.value(t); }, 60, 2), bits);
    ASSERT_EQ(bend.size(), 1u) << start;
    EXPECT_NEAR(bend[0].time, start, 1e-5);
    EXPECT_EQ(bend[0].kind, PathBreak::Kind::bend);
    const auto jump = breaks_of(sampled([&](double t) { return t < start ? 1.0 : 3.0 + std::sin(t); }, 60, 2), bits);
    ASSERT_EQ(jump.size(), 1u) << start;
    EXPECT_EQ(jump[0].kind, PathBreak::Kind::jump);
  }
}

TEST(RecordedPath, RatesBesideABreakAreThoseOfTheirOwnSide) {
  const double start = 0.5037, rate = 5.0;
  const RecordedRows rows =
      sampled([&](double t) { return t < start ? 0.0 : 10.0 * (1.0 - std::exp(-rate * (t - start))); }, 120, 2);
  const CapturedPath path = exact_path(rows, breaks_of(rows, bits));
  ASSERT_EQ(path.size(), 2u);
  EXPECT_NEAR(path[0].back().state[0].rate, 0.0, 1e-9);
  EXPECT_NEAR(path[1].front().state[0].rate, 10.0 * rate, 1e-4);
  EXPECT_NEAR(path[1].front().state[0].push, -10.0 * rate * rate, 0.05);
  for (double t = 0.0; t < 2.0; t += 0.0137) {
    const double truth = t < start ? 0.0 : 10.0 * (1.0 - std::exp(-rate * (t - start)));
    EXPECT_NEAR(value_at(path, t)[0], truth, 1e-7) << t;
  }
}

TEST(RecordedPath, BreaksTooNearToEachOtherAreSaidToBeRough) {
  // Three rows to a side.
  const auto zigzag = [](double t) { return t < 1.0 || t > 1.2 ? 0.0 : 0.05 - std::fabs(std::fmod(t, 0.1) - 0.05); };
  const auto breaks = breaks_of(sampled(zigzag, 60, 3), bits);
  ASSERT_FALSE(breaks.empty());
  const auto rough = std::count_if(breaks.begin(), breaks.end(),
                                   [](const PathBreak& one) { return one.kind == PathBreak::Kind::rough; });
  EXPECT_GT(rough, 4);
}

/// A ramp up and straight on: two corners so many rows apart, on rows and between them.
TEST(RecordedPath, TwoBreaksNearEachOtherAreFoundOrSaidToBeRough) {
  for (const double rate : {24.0, 60.0})
    for (const double offset : {0.0, 0.3, 0.71})
      for (int gap = 2; gap <= 24; ++gap) { // from one row to the next a ramp is a jump
        const double first = (30.0 + offset) / rate, second = first + gap / rate;
        const auto ramp = [=](double t) { return std::clamp(t - first, 0.0, second - first) * 10.0; };
        const auto breaks = breaks_of(sampled(ramp, rate, 120.0 / rate), bits);
        const bool is_rough = std::any_of(breaks.begin(), breaks.end(),
                                          [](const PathBreak& one) { return one.kind == PathBreak::Kind::rough; });
        if (is_rough) {
          EXPECT_LT(gap, 13) << offset;
          continue;
        }
        EXPECT_EQ(breaks.size(), 2u) << rate << " " << offset << " " << gap;
        if (breaks.size() != 2) continue;
        EXPECT_NEAR(breaks[0].time, first, 1e-6) << gap;
        EXPECT_NEAR(breaks[1].time, second, 1e-6) << gap;
        EXPECT_EQ(breaks[0].kind, PathBreak::Kind::corner);
      }
}

/// There and back within a few rows, as a cut that lasts only so long.
TEST(RecordedPath, WhatStandsBetweenTwoJumpsIsPlain) {
  for (int held = 2; held <= 20; ++held) {
    const auto step = [=](double t) { return t > 1.001 && t < 1.001 + held / 60.0 ? 5.0 : 2.0; };
    const RecordedRows rows = sampled(step, 60, 3);
    const CapturedPath path = exact_path(rows, breaks_of(rows, bits));
    double fastest = 0.0;
    for (const PathSection& section : path)
      for (const PathNode& node : section) fastest = std::max(fastest, std::fabs(node.state[0].rate));
    EXPECT_NEAR(value_at(path, 1.0 + (held + 1.0) / 120.0)[0], 5.0, 1e-9) << held;
    if (held >= 13) {
      EXPECT_NEAR(fastest, 0.0, 1e-6) << held; // far enough apart to be two jumps
    }
  }
}

TEST(Random, TheNormalNumbersHaveTheirMoments) {
  stasis::Random random(99);
  double sum = 0.0, squares = 0.0, fourths = 0.0;
  constexpr int count = 200'000;
  for (int k = 0; k < count; ++k) {
    const double x = random.normal();
    sum += x;
    squares += x * x;
    fourths += x * x * x * x;
  }
  EXPECT_NEAR(sum / count, 0.0, 0.01);
  EXPECT_NEAR(squares / count, 1.0, 0.015);
  EXPECT_NEAR(fourths / count, 3.0, 0.1);
}

TEST(RecordedRests, TwoMovesHaveThreeRestsAndNoiseAloneHasOne) {
  stasis::Random random(7);
  const TestSpring there{0.6, 9.0, 0.9}, back{2.6, 9.0, 0.9};
  RecordedRows rows = sampled([&](double t) { return there.value(t) - back.value(t) + 2.0; }, 60, 5);
  for (double& value : rows.values[0]) value += 0.1 * random.normal();
  const auto rests = rests_of(rows, {0.1});
  ASSERT_EQ(rests.size(), 3u);
  EXPECT_NEAR(level_of(rows, rests[0])[0], 2.0, 0.1);
  EXPECT_NEAR(level_of(rows, rests[1])[0], 12.0, 0.1);
  RecordedRows still = sampled([](double) { return 4.0; }, 60, 5);
  for (double& value : still.values[0]) value += 0.1 * random.normal();
  EXPECT_EQ(rests_of(still, {0.1}).size(), 1u);
}

RecordingMeasures measured(RecordedRows rows) {
  RecordedValue value;
  value.rows = std::move(rows);
  value.channel.name = "a";
  return measure_recording(value);
}

TEST(RecordingMeasures, WithoutNoiseTheNumbersAreThoseOfTheSpring) {
  for (const double ratio : {0.2, 0.5, 0.8}) {
    const TestSpring spring{0.7113, 11.0, ratio};
    const RecordingMeasures found = measured(sampled([&](double t) { return spring.value(t); }, 240, 7));
    ASSERT_TRUE(found.is_exact);
    ASSERT_EQ(found.measures.moves.size(), 1u);
    const Move& move = found.measures.moves[0];
    EXPECT_NEAR(move.start, 0.7113, 1e-4);
    EXPECT_NEAR(*move.overshoot, spring.overshoot(), 1e-3);
    EXPECT_NEAR(*move.peak_time, spring.peak_time(), 1e-4);
    EXPECT_NEAR(*move.peak_acceleration, 10.0 * 11.0 * 11.0, 1.0);
    EXPECT_NEAR(*move.jolt, 0.0, 0.1);
  }
}

TEST(RecordingMeasures, WithNoiseTheTruthLiesWithinTheStatedErrors) {
  stasis::Random random(11);
  int within = 0, all = 0;
  for (int trial = 0; trial < 25; ++trial) {
    const TestSpring spring{0.5 + 0.3 * random.share(), 6.0 + 9.0 * random.share(), 0.25 + 0.5 * random.share()};
    RecordedRows rows = sampled([&](double t) { return spring.value(t); }, 60, 3.5);
    for (double& value : rows.values[0]) value += 0.1 * random.normal();
    const RecordingMeasures found = measured(rows);
    EXPECT_NEAR(found.cleaning[0].noise, 0.1, 0.035);
    ASSERT_EQ(found.measures.moves.size(), 1u) << trial;
    const Move& move = found.measures.moves[0];
    const auto check = [&](std::optional<double> Move::*measure, double truth) {
      if (!(move.*measure)) return;
      for (std::size_t m = 0; m < move_measures().size(); ++m)
        if (move_measures()[m].value == measure) {
          within += std::fabs(*(move.*measure) - truth) <= found.move_errors[0][m].value_or(0.0) ? 1 : 0;
          ++all;
        }
    };
    check(&Move::overshoot, spring.overshoot());
    check(&Move::peak_time, spring.peak_time());
    check(&Move::peak_acceleration, 10.0 * spring.w * spring.w);
    within += std::fabs(move.start - spring.start) <= found.start_errors[0] ? 1 : 0;
    ++all;
  }
  EXPECT_GE(within, all * 88 / 100) << all;
}

TEST(RecordingMeasures, ACutIsThereAtOnceWithNoiseAndWithout) {
  stasis::Random random(3);
  for (const double noise : {0.0, 0.03}) {
    RecordedRows rows = sampled([](double t) { return t < 1.001 ? 1.0 : 4.0; }, 60, 2);
    for (double& value : rows.values[0]) value += noise * random.normal();
    const RecordingMeasures found = measured(rows);
    ASSERT_EQ(found.measures.moves.size(), 1u);
    EXPECT_NEAR(found.measures.moves[0].start, 1.0, 1.0 / 60);
    EXPECT_NEAR(*found.measures.moves[0].rise_time, 0.0, 1e-9);
    EXPECT_FALSE(found.measures.moves[0].peak_speed);
  }
}

TEST(RowCleaning, AFewValuesOrEvenStepsWereNotRounded) {
  EXPECT_EQ(digit_of({0, 0, 3, 3}), 0.0);
  EXPECT_EQ(digit_of({5, 5, 5}), 0.0);
  EXPECT_EQ(digit_of({0, 1, 1, 3, 4, 4, 6}), 1.0);
  EXPECT_EQ(digit_of({0, 0, 7, 21, 38, 52, 61, 61}), 1.0); // quick: no two rows are one digit apart
  EXPECT_DOUBLE_EQ(digit_of({0.1, 0.2, 0.7, 0.8, 0.8, 1.3}), 0.1);
  // A straight path on round numbers was not rounded either.
  EXPECT_EQ(digit_of({0, 1, 2, 3, 4, 5, 6, 7}), 0.0);
}

} // namespace
} // namespace stasis::test
