#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "core/motion/spring.hpp"
#include "core/units.hpp"
#include "support/exact.hpp"

namespace stasis {
namespace {

constexpr double eps = 2.220446049250313e-16;

double difference(const test::Real& exact, double found) {
  return std::fabs(static_cast<double>(exact - test::Real(found)));
}

TEST(Spring, StepsFromZeroToOneAsTheClosedForm) {
  const double w = angular_frequency(2.5);
  for (const double ratio : {0.0, 0.05, 0.3, 0.9999999, 1.0, 1.0000001, 5.0, 50.0})
    for (const double fps : {30.0, 60.0, 144.0, 1000.0}) {
      const SpringStep step = spring_step({w, ratio}, 1.0 / fps);
      SpringState state{0.0, 0.0};
      const int frames = static_cast<int>(2 * fps);
      for (int k = 1; k <= frames; ++k) {
        state = advance(step, state, {1.0, 1.0});
        if (k % (frames / 20) != 0) continue;
        const auto exact = test::exact_spring(w, ratio, false, 0, 0, 1, 0, test::Real(k) / test::Real(fps));
        EXPECT_LT(difference(exact.value, state.value), 1e-12) << ratio << " at " << fps << " fps, frame " << k;
        EXPECT_LT(difference(exact.velocity, state.velocity), 1e-11) << ratio << " at " << fps << " fps, frame " << k;
      }
    }
}

TEST(Spring, FollowsARampExactly) {
  const double w = angular_frequency(2.5);
  for (const bool gap : {false, true})
    for (const double ratio : {0.0, 0.05, 0.3, 0.9999999, 1.0, 1.0000001, 5.0, 50.0})
      for (const double slope : {-3.0, 0.5, 1e6}) {
        const double dt = 1.0 / 60.0;
        const SpringStep step = spring_step({w, ratio, gap}, dt);
        SpringState state{0.25, -1.0};
        for (int k = 0; k < 120; ++k) state = advance(step, state, {slope * (k * dt), slope * ((k + 1) * dt)});
        const test::Real time = test::Real(dt) * 120;
        const auto exact = test::exact_spring(w, ratio, gap, 0.25, -1, 0, slope, time);
        const double scale = std::max(1.0, std::fabs(slope) * 2.0);
        EXPECT_LT(difference(exact.value, state.value), 1e-10 * scale) << ratio << ' ' << slope << ' ' << gap;
        EXPECT_LT(difference(exact.velocity, state.velocity), 1e-10 * scale * w) << ratio << ' ' << slope << ' ' << gap;
      }
}

/// The bound of docs/maths.md on one step, on both sides of every seam.
TEST(Spring, OneStepIsWithinItsBoundOnEverySeam) {
  std::mt19937_64 random(11);
  std::uniform_real_distribution<double> unit(-1.0, 1.0);
  const double ratios[] = {0.0,         1e-6,       0.3, 0.7, 1.0 - 1e-9, 1.0 - 1e-15, 1.0,
                           1.0 + 1e-15, 1.0 + 1e-9, 1.3, 5.0, 50.0,       1e3};
  const double spans[] = {1e-12, 1e-6, 0.01, 0.3, 0.9, 0.999999, 1.0, 1.000001, 1.2, 1.7, 3.0, 20.0, 400.0};
  for (const double ratio : ratios)
    for (const double span : spans)
      for (int i = 0; i < 4; ++i) {
        const double w = std::exp(3.0 * unit(random)) * 6.0, dt = span / w;
        const double x0 = unit(random), v0 = w * unit(random), g0 = unit(random), g1 = i % 2 == 0 ? g0 : unit(random);
        const SpringState found = advance(spring_step({w, ratio}, dt), {x0, v0}, {g0, g1});
        const test::Real slope = (test::Real(g1) - test::Real(g0)) / test::Real(dt);
        const auto exact = test::exact_spring(w, ratio, false, x0, v0, g0, slope, dt);
        const double norm = std::max({std::fabs(x0), std::fabs(g0), std::fabs(g1), std::fabs(v0) / w});
        const double bound = 4.0 * eps * (1.0 + w * dt) * norm;
        EXPECT_LE(difference(exact.value, found.value), bound) << ratio << ' ' << span;
        EXPECT_LE(difference(exact.velocity, found.velocity), bound * w) << ratio << ' ' << span;
      }
}

TEST(Spring, TwoStepsAreOneStep) {
  std::mt19937_64 random(5);
  std::uniform_real_distribution<double> unit(0.0, 1.0);
  for (int i = 0; i < 400; ++i) {
    const double w = std::exp(5.0 * unit(random)), ratio = i % 3 == 0 ? 1.0 : 3.0 * unit(random);
    const double dt1 = 2.0 * unit(random) / w, dt2 = 2.0 * unit(random) / w;
    const Spring spring{w, ratio, i % 2 == 0};
    const double g0 = unit(random), slope = unit(random), x0 = unit(random), v0 = w * unit(random);
    const double g1 = g0 + slope * dt1, g2 = g1 + slope * dt2;
    const SpringState halves =
        advance(spring_step(spring, dt2), advance(spring_step(spring, dt1), {x0, v0}, {g0, g1}), {g1, g2});
    const SpringState whole = advance(spring_step(spring, dt1 + dt2), {x0, v0}, {g0, g2});
    EXPECT_NEAR(halves.value, whole.value, 3e-14);
    EXPECT_NEAR(halves.velocity, whole.velocity, 3e-14 * w * 2);
  }
}

TEST(Spring, NoTimeChangesNothingAndRestStays) {
  const SpringState state = advance(spring_step({10.0, 0.4}, 0.0), {0.3, -2.0}, {5.0, 5.0});
  EXPECT_EQ(state.value, 0.3);
  EXPECT_EQ(state.velocity, -2.0);
  for (const double dt : {1e-4, 1.0 / 60, 10.0}) {
    const SpringState rest = advance(spring_step({10.0, 0.4}, dt), {62.0, 0.0}, {62.0, 62.0});
    EXPECT_EQ(rest.value, 62.0);
    EXPECT_EQ(rest.velocity, 0.0);
  }
}

TEST(Spring, EnergyNeverGrows) {
  for (const double ratio : {0.0, 1e-6, 0.1, 1.0, 4.0}) {
    const double w = 7.0;
    const SpringStep step = spring_step({w, ratio}, 0.013);
    SpringState state{1.0, 3.0};
    const auto energy = [&] { return state.value * state.value + state.velocity * state.velocity / (w * w); };
    double before = energy();
    for (int i = 0; i < 2000; ++i) {
      state = advance(step, state, {0.0, 0.0});
      EXPECT_LE(energy(), before * (1.0 + 4.0 * eps) + 1e-300);
      before = energy();
    }
  }
}

TEST(Spring, LagsBehindARampAsControlTheorySays) {
  const double w = 9.0, ratio = 0.8, slope = 2.0, dt = 1.0 / 90;
  for (const bool gap : {false, true}) {
    const SpringStep step = spring_step({w, ratio, gap}, dt);
    SpringState state{0.0, 0.0};
    double goal = 0.0;
    for (int k = 1; k <= 2000; ++k) {
      const double next = slope * k * dt;
      state = advance(step, state, {goal, next});
      goal = next;
    }
    EXPECT_NEAR(goal - state.value, gap ? 0.0 : 2.0 * ratio * slope / w, 1e-11);
  }
}

} // namespace
} // namespace stasis
