// What is measured on shakes comes from wave and envelope: checked against sums made here, at any frame rate.
#include <cmath>
#include <numbers>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/measure/shake_measure_names.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;

/// A take of 2 s with a hit at 0.25 s.
Feel hit_feel(const std::string& shake, double fps, const std::string& cues = "{ at = 0.25, hit = \"s\" }") {
  return feel_from(
      fmt::format("[channel.a]\nunit = \"m\"\nrest = 0\n[shake.s]\non = {{ a = 0.5 }}\n{}\n[take.t]\nlength = "
                  "2\nclock = {{ fps = {} }}\ncues = [{}]\n",
                  shake, fps, cues));
}

double measured(const Feel& feel, std::string_view name) {
  const auto value = shake_measure(feel, test::play_measures(feel), 0, name);
  return value.value_or(std::numeric_limits<double>::quiet_NaN());
}

const std::string waves[] = {
    "wave = { kind = \"noise\", frequency = 8 }\ndecay = { kind = \"half_life\", half_life = 0.2 }",
    "wave = { kind = \"noise\", frequency = 5, octaves = 3 }\ndecay = { kind = \"linear\", duration = 0.7 }",
    "wave = { kind = \"sines\", frequency = 7 }\ndecay = { kind = \"power\", duration = 0.9, attack = 0.05 }",
    "wave = { kind = \"ring\", frequency = 6, damping_ratio = 0.1 }",
    "wave = { kind = \"jitter\", rate = 15 }\ndecay = { kind = \"linear\", duration = 0.5 }",
};

TEST(ShakeMeasures, AreTakenWhileItIsFeltNotOverGaps) {
  const auto rings = [](const std::string& cues, const char* measure) {
    const Feel feel = test::feel_from("[channel.a]\nrest = 0\n[shake.s]\non = { a = 1 }\nwave = { kind = \"ring\", "
                                      "frequency = 4, damping_ratio = 0.2 }\n[take.t]\nlength = 20\ncues = ["
                                      + cues + "]\n");
    return *shake_measure(feel, test::play_measures(feel), 0, measure);
  };
  const std::string one = "{ at = 0.5, hit = \"s\" }", later = ", { at = 12.5, hit = \"s\" }";
  for (const char* const measure : {"a.rms", "a.speed_rms"})
    EXPECT_NEAR(rings(one + later, measure), rings(one, measure), 5e-3 * rings(one, measure)) << measure;
}

TEST(ShakeMeasures, AreTheSameAtAnyRate) {
  for (const std::string& wave : waves) {
    const Feel usual = hit_feel(wave, 60);
    const TakeMeasures expected = test::play_measures(usual);
    for (const double fps : {24.0, 144.0, 1000.0, 10'000.0}) {
      const Feel feel = hit_feel(wave, fps);
      const TakeMeasures measures = test::play_measures(feel);
      for (const std::string& name : shake_measure_names(feel, 0)) {
        if (name == "folded") continue; // what a frame rate is too slow for
        const auto here = shake_measure(feel, measures, 0, name), there = shake_measure(usual, expected, 0, name);
        ASSERT_EQ(here.has_value(), there.has_value()) << wave << name;
        if (!here) continue;
        EXPECT_NEAR(*here, *there, 1e-9 * std::max(1.0, *there)) << wave << " " << name << " at " << fps;
      }
    }
  }
}

/// Mean squares of a function and of its slope, and its largest size, by small steps.
struct Sums {
  double square = 0.0, slope_square = 0.0, peak = 0.0;
};
template<class Function> Sums sums_of(Function f, double from, double to) {
  constexpr int steps = 1'000'000;
  const double h = (to - from) / steps;
  Sums sums;
  double last = f(from);
  for (int k = 0; k < steps; ++k) {
    const double next = f(from + (k + 1) * h), middle = 0.5 * (last + next), slope = (next - last) / h;
    sums.square += middle * middle / steps;
    sums.slope_square += slope * slope / steps;
    sums.peak = std::max(sums.peak, std::fabs(next));
    last = next;
  }
  return sums;
}

TEST(ShakeMeasures, OfARingAreThoseOfTheKickedSpring) {
  const Feel feel = hit_feel(waves[3], 60);
  constexpr double z = 0.1;
  const double w = 2 * std::numbers::pi * 6, wd = w * std::sqrt(1 - z * z);
  const double top = std::exp(-z / std::sqrt(1 - z * z) * std::acos(z)) * std::sqrt(1 - z * z);
  const auto ring = [&](double t) { return 0.5 / top * std::exp(-z * w * t) * std::sin(wd * t); };
  // It ends where its bound is a thousandth.
  const double end = std::log(1000.0 / top) / (z * w);
  const Sums sums = sums_of(ring, 0, std::min(end, 1.75));
  EXPECT_NEAR(measured(feel, "a.rms"), std::sqrt(sums.square), 1e-4 * std::sqrt(sums.square));
  EXPECT_NEAR(measured(feel, "a.speed_rms"), std::sqrt(sums.slope_square), 1e-4 * std::sqrt(sums.slope_square));
  EXPECT_NEAR(measured(feel, "a.peak"), 0.5, 1e-8);
  EXPECT_NEAR(measured(feel, "a.main_frequency"), 6.0, 0.2);
}

TEST(ShakeMeasures, ALeapIsNoSpeed) {
  const std::string leaping =
      "wave = { kind = \"noise\", frequency = 8 }\ndecay = { kind = \"linear\", duration = 0.7, stop_after = 0.4 }";
  const Feel feel = hit_feel(leaping, 144),
             other = hit_feel(leaping, 144, "{ at = 0.25, hit = \"s\" }, { at = 0.4375, hit = \"s\" }");
  WaveStream wave(feel.shakes[0].wave, wave_stream(1, "s", "a", 0), 0);
  const auto part = [&](double since_start, double since_hit) {
    return 0.5 * (1 - since_hit / 0.7) * wave.at({0.25 + since_start, 0, 0});
  };
  const Sums sums = sums_of([&](double t) { return part(t, t); }, 0, 0.4);
  EXPECT_NEAR(measured(feel, "a.speed_rms"), std::sqrt(sums.slope_square), 1e-4 * std::sqrt(sums.slope_square));
  EXPECT_NEAR(measured(feel, "a.rms"), std::sqrt(sums.square), 1e-4 * std::sqrt(sums.square));
  // A second hit leaps in the middle.
  const Sums first = sums_of([&](double t) { return part(t, t); }, 0, 0.1875),
             second = sums_of([&](double t) { return part(t + 0.1875, t); }, 0, 0.4);
  const double both = std::sqrt((first.slope_square * 0.1875 + second.slope_square * 0.4) / 0.5875);
  EXPECT_NEAR(measured(other, "a.speed_rms"), both, 1e-3 * both);
}

TEST(ShakeMeasures, JitterHasNoSpeed) {
  const Feel feel = hit_feel(waves[4], 60);
  const TakeMeasures measures = test::play_measures(feel);
  EXPECT_FALSE(measures.shakes[0].parts[0].speed_rms);
  EXPECT_FALSE(measures.shakes[0].parts[0].main_frequency);
  EXPECT_GT(*measures.shakes[0].parts[0].rms, 0.0);
  EXPECT_TRUE(std::any_of(measures.notes.begin(), measures.notes.end(),
                          [](const std::string& note) { return note.find("jitter") != std::string::npos; }));
}

TEST(ShakeMeasures, ADecayPerFrameIsToldAsItIsPlayed) {
  const std::string shake =
      "wave = { kind = \"sines\", frequency = 7 }\ndecay = { kind = \"per_frame\", factor = 0.95, "
      "at_fps = 60, stop_after = 0.5 }";
  for (const double fps : {30.0, 60.0, 120.0}) {
    const Feel feel = hit_feel(shake, fps);
    EXPECT_NEAR(measured(feel, "left_at_cut"), 100 * std::pow(0.95, 0.5 * fps), 1e-9) << fps;
    EXPECT_NEAR(measured(feel, "half_life"), std::log(0.5) / std::log(0.95) / fps, 1e-12) << fps;
    const std::string uncut = shake.substr(0, shake.find(", stop_after")) + " }";
    EXPECT_NEAR(measured(hit_feel(uncut, fps), "quiet_after"), std::log(0.02) / std::log(0.95) / fps, 1e-9) << fps;
  }
}

TEST(ShakeMeasures, SeveralHitsAreQuietWhenTheirSumIs) {
  const std::string shake =
      "wave = { kind = \"sines\", frequency = 7 }\ndecay = { kind = \"half_life\", half_life = 0.1 "
      "}\nstack = \"sum\"";
  const Feel feel = hit_feel(shake, 60, "{ at = 0.25, hit = \"s\" }, { at = 0.35, hit = \"s\" }");
  EXPECT_NEAR(measured(feel, "quiet_after"), 0.1 * std::log2(1.5 / 0.02), 1e-9);
}

TEST(ShakeMeasures, RingsAddUpWithoutALeap) {
  const Feel feel = hit_feel(waves[3], 1000, "{ at = 0.25, hit = \"s\" }, { at = 0.4, hit = \"s\", strength = 0.6 }");
  const test::Rows rows = test::play_rows(feel, 0);
  const double fastest = 0.5 * 1.6 / 0.85 * 2 * std::numbers::pi * 6;
  for (std::size_t k = 1; k < rows.value.size(); ++k)
    ASSERT_LE(std::fabs(rows.value[k] - rows.value[k - 1]), 1.01 * fastest / 1000) << k;
}

TEST(ShakeMeasures, ADirectionStaysInItsUnits) {
  const auto part = [](const std::string& direction, std::size_t target) {
    const Feel feel =
        feel_from("[channel.aim]\nunit = \"m\"\nrest = [0, 0]\n[channel.fov]\nunit = \"deg\"\nrest = 0\n[shake.s]\n"
                  "on = { \"aim.x\" = 0.1, fov = 2 }\nwave = { kind = \"ring\", frequency = 6, damping_ratio = "
                  "0.1 }\n[take.t]\nlength = 1\ncues = [{ at = 0, hit = \"s\", direction = "
                  + direction + " }]\n");
    return test::play_measures(feel).shakes[0].parts[target].peak;
  };
  EXPECT_NEAR(part("[1, 0]", 0), 0.1, 1e-8);
  EXPECT_EQ(part("[1, 0]", 1), 0.0);
  EXPECT_NEAR(part("[1, 0.5]", 1), 1.0, 1e-8);
  EXPECT_NEAR(part("[0, -3]", 1), 2.0, 1e-8);
}

} // namespace
} // namespace stasis
