#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "figure/axis.hpp"

namespace stasis {
namespace {

TEST(Axis, HoldsTheDataAndFewRoundTicks) {
  std::mt19937_64 random(2);
  std::uniform_real_distribution<double> unit(-1, 1);
  for (int i = 0; i < 2000; ++i) {
    const double scale = std::pow(10.0, 8 * unit(random)), low = scale * unit(random),
                 high = low + scale * std::fabs(unit(random));
    for (const int most : {3, 4, 5}) {
      const figure::Axis axis = figure::value_axis(low, high, most);
      EXPECT_LE(axis.low, low);
      EXPECT_GE(axis.high, high);
      EXPECT_LT(axis.low, axis.high);
      EXPECT_LE(axis.ticks.size(), static_cast<std::size_t>(most));
      EXPECT_GE(axis.ticks.size(), 1u);
      for (const double tick : axis.ticks) {
        EXPECT_GE(axis.share(tick), -1e-9);
        EXPECT_LE(axis.share(tick), 1 + 1e-9);
      }
    }
  }
}

TEST(Axis, AConstantIsGivenRoom) {
  for (const double value : {0.0, 62.0, -1e-9, 1e12}) {
    const figure::Axis axis = figure::value_axis(value, value, 5);
    EXPECT_LT(axis.low, value);
    EXPECT_GT(axis.high, value);
  }
}

TEST(Axis, TickTexts) {
  EXPECT_EQ(figure::value_axis(0, 10, 5).tick_text(-2), "\u22122");
  EXPECT_EQ(figure::time_axis(8, 11).ticks.size(), 9u);
  EXPECT_EQ(figure::time_axis(0.5, 11).tick_text(0.1), "0.10");
}

} // namespace
} // namespace stasis
