#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/motion/response.hpp"
#include "core/motion/spring_design.hpp"
#include "core/units.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

TEST(SpringDesign, SettlingTimeAndOvershootMeasureBack) {
  for (const double time : {0.1, 0.4, 3.0})
    for (const double overshoot : {0.0, 0.5, 2.0, 8.0, 30.0, 75.0}) {
      const auto feel = test::feel_from(test::step_feel(
          fmt::format("kind = \"spring\", settling_time = {}, overshoot = {}", time, overshoot), 60, 4 * time + 1));
      const Move move = test::play_measures(feel).moves[0];
      EXPECT_NEAR(*move.settling_time, time, 1e-6 * time) << time << ' ' << overshoot;
      EXPECT_NEAR(*move.overshoot, overshoot, 1e-6) << time << ' ' << overshoot;
      if (overshoot == 0.0) {
        EXPECT_EQ(std::get<Spring>(feel.motions[0].motion).damping_ratio, 1.0);
      }
    }
}

TEST(SpringDesign, StiffnessDampingAndMassAreTheSameSpring) {
  const Feel feel =
      test::feel_from(test::step_feel("kind = \"spring\", stiffness = 400, damping = 24, mass = 4", 60, 1));
  const auto& spring = std::get<Spring>(feel.motions[0].motion);
  EXPECT_DOUBLE_EQ(spring.angular_frequency, 10.0);
  EXPECT_DOUBLE_EQ(spring.damping_ratio, 0.3);
  const Feel light = test::feel_from(test::step_feel("kind = \"spring\", stiffness = 100, damping = 6", 60, 1));
  EXPECT_DOUBLE_EQ(std::get<Spring>(light.motions[0].motion).angular_frequency, 10.0);
}

TEST(SpringDesign, RefusesWhatNoSpringHas) {
  const auto code = [](const char* keys) {
    const auto problems = test::problems_of(test::step_feel(std::string("kind = \"spring\", ") + keys, 60, 1));
    return problems.empty() ? std::string() : problems[0].code;
  };
  EXPECT_EQ(code("settling_time = 0.4, overshoot = 100"), "feel.out_of_bounds");
  EXPECT_EQ(code("settling_time = 0.4, overshoot = -1"), "feel.out_of_bounds");
  EXPECT_EQ(code("settling_time = 0.4"), "feel.missing_key");
  EXPECT_EQ(code("settling_time = 0.4, overshoot = 8, frequency = 2"), "feel.too_many_keys");
  EXPECT_EQ(code("frequency = 2, damping_ratio = 1, mass = 2"), "feel.too_many_keys");
  EXPECT_EQ(code("stiffness = 1e12, damping = 0, mass = 1e-12"), "feel.out_of_bounds");
}

TEST(SpringDesign, SettlingJumpsWhereAPeakTouchesTheBand) {
  for (const double ratio : {0.7797, 0.5285, 0.3834}) {
    const auto jump = settling_jump(ratio, 0.02);
    ASSERT_TRUE(jump) << ratio;
    EXPECT_NEAR(jump->damping_ratio, ratio, 1e-4);
    EXPECT_NEAR(jump->below, settling_angle(jump->damping_ratio * (1 - 1e-6), 0.02), 1e-2);
    EXPECT_GT(jump->below, jump->above * 1.1);
  }
  EXPECT_FALSE(settling_jump(0.65, 0.02));
  EXPECT_FALSE(settling_jump(1.0, 0.02));
}

TEST(SpringDesign, CriticallyDampedSettlesAfter583) {
  // (1 + x) e^-x = 0.02
  const double x = settling_angle(1.0, 0.02);
  EXPECT_NEAR((1 + x) * std::exp(-x), 0.02, 1e-10);
  EXPECT_NEAR(x / 2, 2.917, 1e-3);
}

/// The largest value that a spring or glide shows while its goal sways, stepped finely with straight goals.
template<class Step> Sway stepped_sway(double frequency, Step advance_one) {
  constexpr int per_cycle = 4000;
  const double w = angular_frequency(frequency), dt = 1 / (frequency * per_cycle);
  double size = 0, at = 0;
  for (int i = 0; i < 14 * per_cycle; ++i) {
    const double value = advance_one(GoalSegment{std::sin(w * i * dt), std::sin(w * (i + 1) * dt)}, dt);
    if (i > 13 * per_cycle && value > size) size = value, at = (i + 1) * dt;
  }
  const double cycles = at * frequency - 0.25;
  return {frequency, size, (cycles - std::floor(cycles)) / frequency};
}

TEST(Response, OfASpringAndAGlideIsThatOfTheirSteps) {
  for (const double frequency : {0.5, 2.0, 8.0}) {
    for (const bool gap : {false, true}) {
      const Spring spring{angular_frequency(1.6), 0.7, gap};
      SpringState state{0, 0};
      const SpringStep step = spring_step(spring, 1 / (frequency * 4000));
      const Sway stepped =
          stepped_sway(frequency, [&](GoalSegment goal, double) { return (state = advance(step, state, goal)).value; });
      const Sway found = *sway_of(spring, frequency);
      EXPECT_NEAR(found.passes, stepped.passes, 1e-5);
      EXPECT_NEAR(found.late, stepped.late, 4e-4 / frequency);
    }
    const Glide glide{rate_of_half_life(0.1)};
    double value = 0;
    const GlideStep step = glide_step(glide, 1 / (frequency * 4000));
    const Sway stepped =
        stepped_sway(frequency, [&](GoalSegment goal, double) { return value = advance(step, value, goal); });
    EXPECT_NEAR(sway_of(glide, frequency)->passes, stepped.passes, 1e-5);
    EXPECT_NEAR(sway_of(glide, frequency)->late, stepped.late, 4e-4 / frequency);
  }
}

TEST(Response, SteadyLagIsThatOfARamp) {
  const Spring spring{angular_frequency(2.0), 0.5, false};
  SpringState state{0, 0};
  const SpringStep step = spring_step(spring, 0.01);
  for (int i = 0; i < 2000; ++i) state = advance(step, state, {0.01 * i, 0.01 * (i + 1)});
  EXPECT_NEAR(*steady_lag(spring), 20.0 - state.value, 1e-12);
  EXPECT_EQ(*steady_lag(Spring{1.0, 0.5, true}), 0.0);
  EXPECT_EQ(*steady_lag(Glide{4.0}), 0.25);
  EXPECT_DOUBLE_EQ(*steady_lag(Chain{0.1, std::nullopt, {Glide{4.0}, Glide{2.0}}}), 0.85);
  EXPECT_FALSE(steady_lag(Ease{1.0, StraightLine{}}));
}

TEST(SpringDesign, AnOvershootIsThatOfItsRatio) {
  for (const double share : {1e-9, 0.003, 0.03, 0.2, 0.7, 0.98})
    EXPECT_NEAR(overshoot_of(ratio_of_overshoot(share)), share, 1e-12 + 1e-12 * share);
  EXPECT_EQ(ratio_of_overshoot(0.0), 1.0);
  for (const double ratio : {0.05, 0.4, 0.9}) EXPECT_NEAR(ratio_of_overshoot(overshoot_of(ratio)), ratio, 1e-12);
}

TEST(SpringDesign, TheRiseIsFromATenthToNineTenths) {
  for (const double ratio : {0.1, 0.5, 0.7448, 1.0, 1.3, 4.0}) {
    const auto feel = test::feel_from(
        test::step_feel(fmt::format("kind = \"spring\", frequency = 1, damping_ratio = {}", ratio), 60, 40));
    EXPECT_NEAR(*test::play_measures(feel).moves[0].rise_time, rise_angle(ratio) / angular_frequency(1.0), 1e-9)
        << ratio;
  }
}

} // namespace
} // namespace stasis
