#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/motion/pace.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

double optimal_time(double distance, double speed, double acceleration) {
  return distance * acceleration > speed * speed ? distance / speed + speed / acceleration
                                                 : 2 * std::sqrt(distance / acceleration);
}

TEST(Pace, FromRestTakesTheTimeOptimalTimeWithoutOvershoot) {
  std::mt19937_64 random(3);
  std::uniform_real_distribution<double> any(-2, 2);
  for (int i = 0; i < 500; ++i) {
    const double distance = std::pow(10, any(random)), V = std::pow(10, any(random)), A = std::pow(10, any(random));
    for (const double sign : {1.0, -1.0}) {
      const PaceLeg leg = PaceLeg::plan(sign * distance, 0.0, {V, V, A});
      EXPECT_NEAR(leg.total, optimal_time(distance, V, A), 1e-12 * leg.total);
      EXPECT_FALSE(leg.unavoidable);
      for (int k = 0; k <= 50; ++k) {
        const Instant now = evaluate(leg, leg.total * k / 50);
        EXPECT_LE(std::fabs(now.value), distance * (1 + 1e-12));
        EXPECT_LE(std::fabs(now.velocity), V * (1 + 1e-12));
      }
      EXPECT_EQ(evaluate(leg, leg.total).value, sign * distance);
    }
  }
}

TEST(Pace, ValueAndSpeedAreContinuousFromAnyStart) {
  std::mt19937_64 random(4);
  std::uniform_real_distribution<double> any(-3, 3), positive(0.2, 3);
  for (int i = 0; i < 500; ++i) {
    const double gap = any(random), velocity = any(random), V = positive(random), A = positive(random);
    const PaceLeg leg = PaceLeg::plan(gap, velocity, {V, V, A});
    EXPECT_NEAR(evaluate(leg, 0.0).velocity, leg.total > 0 ? velocity : 0.0, 1e-12);
    double at = 0.0;
    for (const PacePhase& phase : leg.phases) {
      at += phase.duration;
      const Instant before = evaluate(leg, at, Side::before), after = evaluate(leg, at);
      EXPECT_NEAR(before.value, after.value, 1e-11) << gap << ' ' << velocity << ' ' << V << ' ' << A;
      EXPECT_NEAR(before.velocity, after.velocity, 1e-11);
      EXPECT_LE(std::fabs(phase.acceleration), A * (1 + 1e-15));
    }
    const bool too_fast = velocity * gap > 0 && velocity * velocity / (2 * A) > std::fabs(gap) * (1 + 1e-12);
    if (std::fabs(velocity * velocity / (2 * A) - std::fabs(gap)) > 1e-9) {
      EXPECT_EQ(leg.unavoidable, too_fast);
    }
  }
}

// Rule M11.
TEST(Pace, AVectorFromRestGoesStraight) {
  const PacePlan plan = plan_pace({2.0, 5.0}, {3.0, 4.0, 0.0}, {0.0, 0.0, 0.0});
  EXPECT_DOUBLE_EQ(plan.along_axis[0], 0.6);
  EXPECT_DOUBLE_EQ(plan.along_axis[1], 0.8);
  EXPECT_NEAR(plan.along.total, optimal_time(5.0, 2.0, 5.0), 1e-12);
  EXPECT_EQ(plan.across.total, 0.0);
}

TEST(Pace, AVectorThatComesInSidewaysEndsBothWaysTogether) {
  std::mt19937_64 random(5);
  std::uniform_real_distribution<double> any(-2, 2);
  for (int i = 0; i < 200; ++i) {
    const std::array<double, 3> gap{any(random), any(random), any(random)},
        velocity{any(random), any(random), any(random)};
    const PacePlan plan = plan_pace({3.0, 4.0}, gap, velocity);
    EXPECT_NEAR(plan.along.total, plan.across.total, 1e-9) << i;
    for (std::size_t k = 0; k < 3; ++k) {
      const double start = plan.along_axis[k] * evaluate(plan.along, 0).velocity
                           + plan.across_axis[k] * evaluate(plan.across, 0).velocity;
      EXPECT_NEAR(start, velocity[k], 1e-12);
      EXPECT_NEAR(plan.along_axis[k] * plan.along.gap, gap[k], 1e-12);
    }
  }
}

TEST(Pace, IsTheSameAtAnyFrameRate) {
  for (const double fps : {24.0, 60.0, 144.0}) {
    const auto feel = test::feel_from(test::step_feel("kind = \"pace\", speed = 2, acceleration = 8", fps, 2.0, 0.25));
    const auto rows = test::play_rows(feel);
    for (std::size_t k = 0; k < rows.time.size(); ++k) {
      const double t = rows.time[k] - 0.25; // 0.25 s up, 0.25 s at 2 1/s, 0.25 s down
      const double exact = t <= 0     ? 0
                           : t < 0.25 ? 4 * t * t
                           : t < 0.5  ? 0.25 + 2 * (t - 0.25)
                           : t < 0.75 ? 1 - 4 * (0.75 - t) * (0.75 - t)
                                      : 1;
      EXPECT_NEAR(rows.smooth[k], exact, 1e-14) << t;
    }
    const Move move = test::play_measures(feel).moves[0];
    EXPECT_EQ(move.overshoot, 0.0);
    EXPECT_NEAR(*move.peak_speed, 2.0, 1e-14);
    EXPECT_NEAR(*move.settling_time, 0.75 - std::sqrt(0.02 / 4), 1e-9);
    EXPECT_EQ(move.jolt, 0.0);
  }
}

TEST(Pace, SaysWhereAnOvershootIsUnavoidable) {
  const auto feel = test::feel_from(R"(
[channel.a]
rest = 0
motion = { kind = "pace", speed = 5, acceleration = 4 }
[pose.far]
a = 10
[pose.near]
a = 2
[control.far]
kind = "hold"
pose = "far"
[control.near]
kind = "hold"
pose = "near"
[take.t]
length = 8
cues = [ { at = 0, press = "far" }, { at = 0.9, press = "near" } ]
)");
  const TakeMeasures measures = test::play_measures(feel);
  ASSERT_EQ(measures.moves.size(), 2u);
  EXPECT_FALSE(measures.moves[0].unavoidable);
  EXPECT_TRUE(measures.moves[1].unavoidable);
  // 3.6 1/s at 1.62: stops 1.62 further on, 1.24 beyond a goal 0.38 ahead.
  EXPECT_NEAR(*measures.moves[1].overshoot, 100 * 1.24 / 0.38, 1e-9);
  EXPECT_NE(measures.notes.back().find("must overshoot"), std::string::npos);
}

TEST(Pace, InALogarithmicSpaceItsNumbersAreDoublings) {
  const auto feel = test::feel_from(R"(
[channel.d]
unit = "m"
rest = 1
space = "ratio"
motion = { kind = "pace", speed = 1, acceleration = 1000 }
[pose.far]
d = 8
[control.far]
kind = "hold"
pose = "far"
[take.t]
length = 4
cues = [ { at = 0, press = "far" } ]
)");
  const auto rows = test::play_rows(feel);
  EXPECT_NEAR(rows.smooth[60] / rows.smooth[0], 2.0, 2e-3);
  EXPECT_NEAR(rows.smooth[120] / rows.smooth[60], 2.0, 1e-12);
}

} // namespace
} // namespace stasis
