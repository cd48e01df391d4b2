// Heavy figures: as many points as there are pixels, however much they show.
#include <cmath>

#include <gtest/gtest.h>

#include "figure/axis.hpp"
#include "figure/plot_groups.hpp"

namespace stasis::figure {
namespace {

std::size_t points_in(const std::vector<std::vector<Point>>& pieces) {
  std::size_t count = 0;
  for (const auto& piece : pieces) count += piece.size();
  return count;
}

std::vector<Point> circles(std::size_t count) {
  std::vector<Point> line;
  for (std::size_t k = 0; k < count; ++k) {
    const double angle = 0.002 * static_cast<double>(k);
    line.push_back({400 + 100 * std::cos(angle), 300 + 100 * std::sin(angle)});
  }
  return line;
}

TEST(PlotGroups, FewShapesAreLeftAsTheyAre) {
  const std::vector<Shape> shapes{Line{{{0, 0}, {9, 9}}, "#000000", 1, false, ""},
                                  Line{{{0, 0}, {9, 9}}, "#000000", 1, false, ""}};
  const auto groups = plot_groups(shapes);
  ASSERT_EQ(groups.size(), 2u);
  EXPECT_EQ(groups[0].pieces.size(), 1u);
}

TEST(PlotGroups, ALineThatGoesRoundIsDrawnOnce) {
  const auto once = drawn_once(circles(10'000)), often = drawn_once(circles(400'000));
  EXPECT_LT(points_in(once), 6'000u); // half pixels on the way round, there being 628 px of it
  EXPECT_LT(points_in(often), 3 * points_in(once));
  // Whatever lies on the line lies near a point that is drawn.
  for (const Point& point : circles(10'000)) {
    double nearest = 1e9;
    for (const auto& piece : often)
      for (const Point& drawn : piece) nearest = std::min(nearest, std::hypot(drawn.x - point.x, drawn.y - point.y));
    EXPECT_LT(nearest, 1.0);
    if (nearest >= 1.0) break;
  }
}

TEST(PlotGroups, ManyAlikeAreOnePlotAndWhatLiesOnItsLikeIsLeftOut) {
  std::vector<Shape> shapes;
  for (int k = 0; k < 5'000; ++k) shapes.push_back(Mark{MarkKind::diamond, {100.0 + k % 400, 50.0}, "#112233"});
  for (int k = 0; k < 5'000; ++k) {
    const double left = 100.0 + 0.01 * k;
    shapes.push_back(Fill{{{left, 0}, {left + 3, 0}, {left + 3, 9}, {left, 9}}, "#445566", 1.0});
  }
  const auto groups = plot_groups(shapes);
  ASSERT_EQ(groups.size(), 2u);
  EXPECT_EQ(groups[0].pieces.size(), 400u);
  EXPECT_LE(groups[1].pieces.size(), 220u); // half pixels of 50 px, and where either side is rounded
}

TEST(PlotGroups, WhatShowsThroughKeepsItsOrderAndItsOwnPlot) {
  std::vector<Shape> shapes;
  for (int k = 0; k < 400; ++k) shapes.push_back(Fill{{{0, 0}, {9, 0}, {9, 9}}, "#445566", 0.2});
  EXPECT_EQ(plot_groups(shapes).size(), 400u);
}

TEST(Axis, TicksAreCountedWhereAStepIsLostInThePlace) {
  EXPECT_EQ(multiples_of(0.5, -1.0, 1.0), (std::vector<double>{-1.0, -0.5, 0.0, 0.5, 1.0}));
  EXPECT_LE(multiples_of(1.0, 1e16, 1e16 + 64).size(), 65u);
  EXPECT_TRUE(multiples_of(1e-9, 0.0, 1e9).empty());
  for (const double place : {5e-324, 1e-310, 1e-100, 1e15}) EXPECT_LE(value_axis(place, place, 5).ticks.size(), 6u);
}

} // namespace
} // namespace stasis::figure
