// Measures against formulas of control engineering, solved in 50 digits.
#include <cmath>
#include <functional>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/measure/measure_registry.hpp"
#include "core/measure/take_measures.hpp"
#include "core/units.hpp"
#include "support/exact.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::step_feel;

/// The step response of a spring from rest, by its closed form.
double step_response(double w, double z, double t) {
  if (z < 1) {
    const double q = std::sqrt(1 - z * z);
    return 1 - std::exp(-z * w * t) * (std::cos(q * w * t) + z / q * std::sin(q * w * t));
  }
  if (z == 1) return 1 - std::exp(-w * t) * (1 + w * t);
  const double r = std::sqrt(z * z - 1), slow = w * (z - r), fast = w * (z + r);
  return 1 - (fast * std::exp(-slow * t) - slow * std::exp(-fast * t)) / (fast - slow);
}

double bisect(const std::function<double(double)>& f, double low, double high) {
  for (int i = 0; i < 200; ++i) {
    const double middle = 0.5 * (low + high);
    ((f(middle) < 0) == (f(low) < 0) ? low : high) = middle;
  }
  return 0.5 * (low + high);
}

struct Expected {
  double delay, rise, overshoot, peak_time, settling;
};

Expected expected_step(double w, double z) {
  const double end = z < 1 ? std::acos(-1.0) / (w * std::sqrt(1 - z * z)) : 60.0 * z / w;
  const auto reach = [&](double level) {
    return bisect([&](double t) { return step_response(w, z, t) - level; }, 0, end);
  };
  Expected out{reach(0.5), reach(0.9) - reach(0.1), 0, 0, 0};
  if (z >= 1) {
    out.settling = reach(0.98);
    return out;
  }
  const double q = std::sqrt(1 - z * z), half = std::acos(-1.0) / (w * q);
  out.overshoot = 100 * std::exp(-std::acos(-1.0) * z / q);
  out.peak_time = half;
  int n = 0; // the last extreme outside the band
  while (std::exp(-(n + 1) * std::acos(-1.0) * z / q) > 0.02 * (1 + 1e-9)) ++n;
  const double sign = n % 2 == 0 ? -1 : 1;
  out.settling = bisect([&](double t) { return sign * (step_response(w, z, t) - 1) - 0.02; }, n * half, (n + 1) * half);
  return out;
}

void expect_relative(const std::optional<double>& found, double exact, double tolerance, const std::string& what) {
  ASSERT_TRUE(found) << what;
  EXPECT_NEAR(*found, exact, tolerance * std::fabs(exact)) << what;
}

TEST(Measures, OfASpringStepAreThoseOfTheClosedForm) {
  for (const double frequency : {0.3, 0.8, 2.5, 5.0, 8.0})
    for (const double ratio : {0.2, 0.3, 0.5, 0.7, 0.9, 1.0, 1.5, 3.0})
      for (const double fps : {24.0, 60.0}) {
        const std::string what = fmt::format("{} Hz, ratio {}, {} fps", frequency, ratio, fps);
        const auto measures = play_measures(
            feel_from(step_feel(fmt::format("kind = \"spring\", frequency = {}, damping_ratio = {}", frequency, ratio),
                                fps, 40 / frequency, 0.5)));
        ASSERT_EQ(measures.moves.size(), 1u);
        const Move& move = measures.moves[0];
        const Expected exact = expected_step(angular_frequency(frequency), ratio);
        expect_relative(move.delay_time, exact.delay, 1e-9, what + " delay");
        expect_relative(move.rise_time, exact.rise, 1e-9, what + " rise");
        expect_relative(move.settling_time, exact.settling, 1e-9, what + " settling");
        if (ratio < 1) {
          expect_relative(move.overshoot, exact.overshoot, 1e-9, what + " overshoot");
          expect_relative(move.peak_time, exact.peak_time, 1e-9, what + " peak time");
        } else {
          EXPECT_EQ(move.overshoot, 0.0) << what;
          EXPECT_FALSE(move.peak_time) << what;
        }
        EXPECT_EQ(move.jolt, 0.0) << what;
        EXPECT_EQ(move.start_kick, 0.0) << what;
      }
}

TEST(Measures, OfASpringsSpeedAreThoseOfTheClosedForm) {
  const double w = angular_frequency(2.0), z = 0.4, q = std::sqrt(1 - z * z);
  const Move move =
      play_measures(feel_from(step_feel("kind = \"spring\", frequency = 2, damping_ratio = 0.4", 60, 6, 0.5))).moves[0];
  // v = (w / q) e^(-z w t) sin(q w t) is largest at tan(q w t) = q / z; the acceleration is largest at the start.
  const double t = std::atan2(q, z) / (q * w);
  EXPECT_NEAR(*move.peak_speed, w / q * std::exp(-z * w * t) * std::sin(q * w * t), 1e-12 * w);
  EXPECT_NEAR(*move.peak_speed_time, t, 1e-9);
  EXPECT_NEAR(*move.peak_acceleration, w * w, 1e-9);
}

TEST(Measures, OfAGlide) {
  const double rate = std::log(2.0) / 0.2;
  const Move move = play_measures(feel_from(step_feel("kind = \"glide\", half_life = 0.2", 60, 8, 0.5))).moves[0];
  EXPECT_NEAR(*move.delay_time, 0.2, 1e-12);
  EXPECT_NEAR(*move.rise_time, std::log(9.0) / rate, 1e-12);
  EXPECT_NEAR(*move.settling_time, std::log(50.0) / rate, 1e-9);
  EXPECT_NEAR(*move.start_kick, std::log(50.0), 1e-8);
  EXPECT_NEAR(*move.jolt, rate, 1e-12);
  EXPECT_NEAR(*move.peak_speed, rate, 1e-12);
  EXPECT_EQ(move.overshoot, 0.0);
  EXPECT_FALSE(move.peak_time);
}

TEST(Measures, OfAnEasedMove) {
  const Move move =
      play_measures(feel_from(step_feel("kind = \"ease\", duration = 0.5, curve = \"linear\"", 60, 2, 0.51))).moves[0];
  EXPECT_NEAR(*move.delay_time, 0.25, 1e-12);
  EXPECT_NEAR(*move.rise_time, 0.4, 1e-12);
  EXPECT_NEAR(*move.settling_time, 0.49, 1e-9);
  EXPECT_NEAR(*move.jolt, 2.0, 1e-12); // at the start and, at the same size, on arrival
  EXPECT_NEAR(*move.peak_speed, 2.0, 1e-12);
  const Move over =
      play_measures(feel_from(step_feel("kind = \"ease\", duration = 0.5, curve = \"cubic-bezier(0.3, 0, 0.3, 1.6)\"",
                                        60, 2, 0.5)))
          .moves[0];
  double largest = 0;
  for (int i = 0; i <= 100'000; ++i)
    largest = std::max(largest, evaluate(CubicBezier{0.3, 0, 0.3, 1.6}, i / 1e5).value);
  EXPECT_NEAR(*over.overshoot, 100 * (largest - 1), 1e-6);
}

TEST(Measures, OfACutSayThatItHasNoSpeed) {
  const auto measures = play_measures(feel_from(step_feel("kind = \"cut\"", 60, 2, 0.5)));
  const Move& move = measures.moves[0];
  EXPECT_EQ(move.delay_time, 0.0);
  EXPECT_EQ(move.rise_time, 0.0);
  EXPECT_EQ(move.settling_time, 0.0);
  EXPECT_EQ(move.overshoot, 0.0);
  EXPECT_FALSE(move.peak_speed);
  EXPECT_FALSE(move.peak_speed_time);
  EXPECT_FALSE(move.jolt);
  ASSERT_EQ(measures.notes.size(), 1u);
  EXPECT_NE(measures.notes[0].find("no speed"), std::string::npos);
}

TEST(Measures, AreTakenInTheChannelsSpaceAndSpeedsInItsUnit) {
  const auto text = [](const char* space) {
    return fmt::format(R"(feel = 1
[channel.fov]
unit = "deg"
rest = 62
space = "{}"
motion = {{ kind = "glide", half_life = 0.2 }}
[pose.p]
fov = 38
[control.c]
kind = "hold"
pose = "p"
[take.t]
length = 4
cues = [{{ at = 0.5, press = "c" }}]
)",
                       space);
  };
  const Move zoom = play_measures(feel_from(text("zoom"))).moves[0],
             linear = play_measures(feel_from(text("linear"))).moves[0];
  EXPECT_NEAR(*zoom.delay_time, *linear.delay_time, 1e-12);
  const double rate = std::log(2.0) / 0.2, way = std::log(std::tan(radians(31)) / std::tan(radians(19)));
  EXPECT_NEAR(*zoom.jolt, degrees(std::sin(radians(62)) * rate * way), 1e-10);
  EXPECT_NEAR(*linear.peak_speed, 24 * rate, 1e-10);
}

TEST(Measures, ARetargetedMoveHasNoSettlingTime) {
  const auto measures = play_measures(
      feel_from(step_feel("kind = \"glide\", half_life = 0.2", 60, 4, 0.5, "{ at = 0.7, release = \"c\" }")));
  ASSERT_EQ(measures.moves.size(), 2u);
  EXPECT_TRUE(measures.moves[0].retargeted);
  EXPECT_FALSE(measures.moves[0].settling_time);
  EXPECT_FALSE(measures.moves[1].retargeted);
  EXPECT_NEAR(measures.moves[0].remaining.value(), 0.5, 1e-12);
  const auto& settling = *std::find_if(move_measures().begin(), move_measures().end(),
                                       [](const MoveMeasure& m) { return m.name == "settling_time"; });
  EXPECT_EQ(largest(settling, measures.moves, 0), measures.moves[1].settling_time);
  EXPECT_NE(measures.notes[0].find("another goal came"), std::string::npos);
}

TEST(Measures, AMoveStillSwingingAtTheEndIsNotSettled) {
  // The take ends as the value passes its goal at full speed: inside the band, but not for long.
  const double w = angular_frequency(1.0), z = 0.1,
               crossing = (std::acos(-1.0) - std::acos(z)) / (w * std::sqrt(1 - z * z));
  const auto measures = play_measures(feel_from(
      step_feel("kind = \"spring\", frequency = 1, damping_ratio = 0.1", 1000, std::round(crossing * 1000) / 1000)));
  ASSERT_LT(*measures.moves[0].remaining, 0.02);
  EXPECT_FALSE(measures.moves[0].settling_time);
  const auto& settling = *std::find_if(move_measures().begin(), move_measures().end(),
                                       [](const MoveMeasure& m) { return m.name == "settling_time"; });
  EXPECT_FALSE(largest(settling, measures.moves, 0));
  EXPECT_NE(measures.notes[0].find("still on its way"), std::string::npos);
}

TEST(Measures, AFrameMayHoldSeveralSwings) {
  // 8 Hz at 5 frames a second: more than one period a frame; the events are inside frames.
  const double w = angular_frequency(8), z = 0.15;
  const Move move =
      play_measures(feel_from(step_feel("kind = \"spring\", frequency = 8, damping_ratio = 0.15", 5, 10))).moves[0];
  const Expected exact = expected_step(w, z);
  expect_relative(move.overshoot, exact.overshoot, 1e-9, "overshoot");
  expect_relative(move.settling_time, exact.settling, 1e-9, "settling");
  expect_relative(move.delay_time, exact.delay, 1e-9, "delay");
}

TEST(Measures, ABandMayBeGivenInTheUnit) {
  std::string text = step_feel("kind = \"glide\", half_life = 0.2", 60, 8, 0.5);
  text.insert(text.find("range"), "unit = \"m\"\nsettle_band = \"5 cm\"\n");
  const Move move = play_measures(feel_from(text)).moves[0];
  EXPECT_NEAR(*move.settling_time, std::log(20.0) / (std::log(2.0) / 0.2), 1e-8);
}

TEST(Measures, OfAVectorAreAlongItsWayWithTheDetourBesideIt) {
  const Feel feel = feel_from(R"(feel = 1
[channel.focus]
unit = "m"
rest = [0, 0]
motion = { x = "quick", y = "slow" }
[motion.quick]
kind = "ease"
duration = 0.2
curve = "linear"
[motion.slow]
kind = "ease"
duration = 0.6
curve = "linear"
[pose.p]
focus = [3, 4]
[control.c]
kind = "hold"
pose = "p"
[take.t]
length = 2
cues = [{ at = 0, press = "c" }]
)");
  const Move move = play_measures(feel).moves[0];
  // At 0.2 s the point is (3, 4/3): its distance from the line through (3, 4) is |3 * 0.8 - 4/3 * 0.6| = 1.6.
  EXPECT_NEAR(*move.sideways, 1.6, 1e-9);
  EXPECT_NEAR(*move.peak_speed, std::hypot(15.0, 4 / 0.6), 1e-9);
  EXPECT_NEAR(*move.jolt, std::hypot(15.0, 4 / 0.6), 1e-9);
  EXPECT_NEAR(*move.settling_time, 0.6 - 0.02 * 5 / 0.8 / (4 / 0.6), 1e-9);
}

TEST(Measures, ACurveThatStandsUprightWhereItBeginsAgainHasNoPeakSpeedAndNoJolt) {
  // It arrives level and sets off upright again: only one side of the instant has no bound.
  const Feel feel =
      feel_from("[channel.a]\nrest = 0\nmotion = { kind = \"ease\", duration = 0.5, curve = \"out circle\", "
                "repeat = 2, delay = 0.1 }\n[pose.p]\na = 1\n[control.c]\nkind = \"hold\"\npose = "
                "\"p\"\n[take.t]\nlength = 2\ncues = [{ at = 0, press = \"c\" }]\n");
  const Move move = play_measures(feel).moves[0];
  EXPECT_FALSE(move.peak_speed);
  EXPECT_FALSE(move.peak_speed_time);
  EXPECT_FALSE(move.jolt);
}

TEST(Measures, OneChannelNeverTouchesAnother) {
  const char* alone = "[channel.a]\nrest = 0\nmotion = { kind = \"spring\", frequency = 1, damping_ratio = 0.3 }\n";
  const char* other = "[channel.z]\nrest = 9\nmotion = { kind = \"glide\", half_life = 1 }\n";
  const char* rest = "[pose.p]\na = 1\n[pose.q]\n[control.c]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = "
                     "3\ncues = [{ at = 0.3, press = \"c\" }]\n";
  const auto plain = test::play_rows(feel_from(std::string(alone) + rest));
  std::string crowded = std::string(alone) + other + rest;
  crowded.insert(crowded.find("[pose.q]"), "z = 4\n");
  EXPECT_EQ(test::play_rows(feel_from(crowded)).smooth, plain.smooth);
}

} // namespace
} // namespace stasis
