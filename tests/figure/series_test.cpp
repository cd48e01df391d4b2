#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "figure/series.hpp"

namespace stasis {
namespace {

TEST(Series, ThinningKeepsExtremesAndEnds) {
  figure::SeriesReducer reducer(1.0, 100);
  double least = 0, most = 0;
  constexpr int count = 100'000;
  for (int i = 0; i < count; ++i) {
    const double x = static_cast<double>(i) / count;
    const double y = std::sin(200 * x) + (i == 77'777 ? 5 : 0) - (i == 33'333 ? 9 : 0);
    least = std::min(least, y);
    most = std::max(most, y);
    reducer.add(x, y);
  }
  const auto kept = reducer.finish();
  EXPECT_LE(kept.size(), 400u);
  const auto [low, high] =
      std::minmax_element(kept.begin(), kept.end(), [](figure::Point a, figure::Point b) { return a.y < b.y; });
  EXPECT_EQ(low->y, least);
  EXPECT_EQ(high->y, most);
  EXPECT_EQ(kept.front().x, 0.0);
  EXPECT_EQ(kept.back().x, (count - 1.0) / count);
  EXPECT_TRUE(std::is_sorted(kept.begin(), kept.end(), [](figure::Point a, figure::Point b) { return a.x < b.x; }));
}

TEST(Series, WithoutColumnsEveryFinitePointStays) {
  figure::SeriesReducer reducer(1.0, 0);
  for (int i = 0; i < 10; ++i) reducer.add(i * 0.1, i == 3 ? std::nan("") : static_cast<double>(i));
  EXPECT_EQ(reducer.finish().size(), 9u);
}

} // namespace
} // namespace stasis
