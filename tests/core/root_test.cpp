// Where functions are zero, whatever the size of their values, and where sizes are largest.
#include <cmath>
#include <limits>
#include <vector>

#include <gtest/gtest.h>

#include "core/root.hpp"

namespace stasis {
namespace {

constexpr double infinite = std::numeric_limits<double>::infinity();

TEST(Root, IsFoundToTheLastBitsWhateverTheSizeOfTheValues) {
  for (const double root : {1e-9, 0.25, 0.3, 0.999})
    for (const double size : {1e-200, 1.0, 1e200, 1e300})
      for (const double at_low : {1e-320, 1e-300, 1e-100, size}) {
        const auto function = [&](double x) { return size * (std::sqrt(root) - std::sqrt(x)); };
        EXPECT_NEAR(bracketed_root(function, 0.0, 1.0, at_low, function(1.0)), root, 2e-15) << size << " " << at_low;
      }
}

TEST(Root, IsFoundBesideAPlaceWithoutABound) {
  int calls = 0;
  const auto function = [&](double x) {
    ++calls;
    EXPECT_TRUE(std::isfinite(x));
    return x < 0.1 ? infinite : 0.3 - x;
  };
  EXPECT_NEAR(bracketed_root(function, 0.0, 1.0, infinite, -0.7), 0.3, 2e-15);
  EXPECT_LT(calls, 300);
}

TEST(Root, NoNumberOnTheWayDoesNoHarm) {
  const auto function = [](double x) { return x > 0.4 && x < 0.6 ? std::nan("") : 0.9 - x; };
  const double found = bracketed_root(function, 0.0, 1.0, 1e-300, -0.1);
  EXPECT_GE(found, 0.0);
  EXPECT_LE(found, 1.0);
}

TEST(Root, LiesAtAnEndWhereTheSignsAgree) {
  const auto never_called = [](double) -> double { throw 0; };
  EXPECT_EQ(bracketed_root(never_called, 1.0, 2.0, 0.1, 0.2), 1.0);
  EXPECT_EQ(bracketed_root(never_called, 1.0, 2.0, -0.2, -0.1), 2.0);
  EXPECT_EQ(bracketed_root(never_called, 1.0, 2.0, 0.0, -0.1), 1.0);
  EXPECT_EQ(bracketed_root(never_called, 1.0, 2.0, 0.3, 0.0), 2.0);
}

TEST(Root, AConditionChangesBetweenNeighbours) {
  const auto [low, high] = change_between([](double x) { return x * x < 2.0; }, 1.0, 2.0);
  EXPECT_LT(low * low, 2.0);
  EXPECT_GE(high * high, 2.0);
  EXPECT_EQ(std::nextafter(low, 2.0), high);
}

std::vector<double> changes_of(double a, double b, double low, double high) {
  // (x - a)(x - b)
  const auto function = [&](double x) { return (x - a) * (x - b); };
  const auto rate = [&](double x) { return 2.0 * x - a - b; };
  std::vector<double> found;
  for_each_sign_change(function, rate, low, {function(low), rate(low)}, high, {function(high), rate(high)},
                       [&](double at) { found.push_back(at); });
  return found;
}

TEST(Root, SignChangesAreFoundOnceEachAndNotAtTheEnds) {
  const auto two = changes_of(0.25, 0.75, 0.0, 1.0);
  ASSERT_EQ(two.size(), 2U);
  EXPECT_NEAR(two[0], 0.25, 2e-15);
  EXPECT_NEAR(two[1], 0.75, 2e-15);
  EXPECT_EQ(changes_of(0.25, 7.0, 0.0, 1.0).size(), 1U);
  EXPECT_TRUE(changes_of(3.0, 7.0, 0.0, 1.0).empty());
  EXPECT_TRUE(changes_of(0.5, 0.5, 0.0, 1.0).empty()); // it touches, and stays on its side
  const auto from_a_zero = changes_of(0.0, 0.5, 0.0, 1.0);
  ASSERT_EQ(from_a_zero.size(), 1U); // the zero at the end is no change
  EXPECT_NEAR(from_a_zero[0], 0.5, 2e-15);
}

TEST(Root, LargestSizesAreFoundBesideAnUprightStart) {
  // The square of a speed, 2 sqrt(x) - x: its slope 1 / sqrt(x) - 1 has no bound at 0, and is zero at 1.
  const auto slope = [](double x) { return Slope{1.0 / std::sqrt(x) - 1.0, -0.5 / (x * std::sqrt(x))}; };
  std::vector<double> found;
  for_each_maximum(slope, 0.0, slope(0.0), 3.0, slope(3.0), false, [&](double at) { found.push_back(at); });
  ASSERT_EQ(found.size(), 1U);
  EXPECT_NEAR(found[0], 1.0, 1e-14);
}

TEST(Root, LargestSizesAreFoundWhereTheyGrowFromNothing) {
  // x^4 (1 - x)^2 grows from nothing at 0 and is largest at 2/3.
  const auto slope = [](double x) {
    return Slope{4 * x * x * x - 10 * std::pow(x, 4) + 6 * std::pow(x, 5),
                 12 * x * x - 40 * x * x * x + 30 * std::pow(x, 4)};
  };
  std::vector<double> found;
  for_each_maximum(slope, 0.0, slope(0.0), 0.9, slope(0.9), true, [&](double at) { found.push_back(at); });
  ASSERT_EQ(found.size(), 1U);
  EXPECT_NEAR(found[0], 2.0 / 3.0, 1e-12);
}

} // namespace
} // namespace stasis
