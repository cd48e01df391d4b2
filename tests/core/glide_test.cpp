#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/motion/glide.hpp"
#include "core/units.hpp"
#include "support/exact.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

TEST(Glide, OneStepIsExactForMovingGoals) {
  std::mt19937_64 random(3);
  std::uniform_real_distribution<double> unit(-1.0, 1.0);
  for (const double span : {1e-12, 1e-7, 1e-3, 0.2, 0.49999, 0.5, 0.50001, 0.69, 0.7, 2.0, 40.0, 1e4})
    for (int i = 0; i < 30; ++i) {
      const double rate = std::exp(4.0 * unit(random)), dt = span / rate;
      const double x0 = unit(random), g0 = unit(random), g1 = i % 3 == 0 ? g0 : unit(random);
      const double found = advance(glide_step({rate}, dt), x0, {g0, g1});
      const test::Real slope = (test::Real(g1) - test::Real(g0)) / test::Real(dt);
      const double error =
          std::fabs(static_cast<double>(test::exact_glide(rate, x0, g0, slope, dt) - test::Real(found)));
      EXPECT_LE(error, 1e-15 * std::max({std::fabs(x0), std::fabs(g0), std::fabs(g1)})) << span;
    }
}

TEST(Glide, StaysAtRestAndArrivesExactly) {
  EXPECT_EQ(advance(glide_step({3.0}, 0.1), 0.7, {0.7, 0.7}), 0.7);
  EXPECT_EQ(advance(glide_step({3.0}, 0.0), 0.7, {5.0, 5.0}), 0.7);
  EXPECT_EQ(advance(glide_step({3.0}, 1000.0), -4.0, {0.1, 0.1}), 0.1);
}

TEST(Glide, LagsBehindARampBySlopeOverRate) {
  const double rate = 5.0, slope = 3.0, dt = 1.0 / 60;
  double value = 0.0, goal = 0.0;
  for (int k = 1; k <= 1200; ++k) {
    const double next = slope * k * dt;
    value = advance(glide_step({rate}, dt), value, {goal, next});
    goal = next;
  }
  EXPECT_NEAR(goal - value, slope / rate, 1e-12);
}

TEST(Glide, EveryWordForTheSameRateGivesTheSamePath) {
  const double half_life = 0.15, rate = std::log(2.0) / half_life;
  const std::string words[] = {"half_life = 0.15",
                               "half_life = \"150 ms\"",
                               fmt::format("rate = {:.17g}", rate),
                               fmt::format("time_constant = {:.17g}", 1 / rate),
                               fmt::format("settling_time = {:.17g}", std::log(50.0) / rate),
                               fmt::format("per_frame = {:.17g}, at_fps = 60", -std::expm1(-rate / 60))};
  for (const double fps : {24.0, 60.0, 144.0})
    for (const std::string& word : words) {
      const test::Rows rows = test::play_rows(test::feel_from(test::step_feel("kind = \"glide\", " + word, fps, 2)));
      for (std::size_t k = 0; k < rows.time.size(); ++k) {
        const double exact = -std::expm1(-rate * rows.time[k]);
        EXPECT_NEAR(rows.smooth[k], exact, 1e-12) << word;
        EXPECT_NEAR(rows.velocity[k], rate * (1.0 - exact), 1e-11) << word;
      }
    }
}

} // namespace
} // namespace stasis
