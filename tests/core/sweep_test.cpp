// Which points a sweep has, and what their measures tell.
#include <cmath>

#include <gtest/gtest.h>

#include "core/search/solve.hpp"
#include "core/search/sweep.hpp"

namespace stasis {
namespace {

SweepPoints points_of(const std::vector<std::string>& texts) {
  std::vector<SweepAxis> axes;
  for (const std::string& text : texts) axes.push_back(*parse_sweep_axis(text, false));
  return SweepPoints(std::move(axes));
}

TEST(SweepAxis, IsSpacedEvenlyByFactorOrListed) {
  const auto even = parse_sweep_axis("a.b=1:3:5", false);
  ASSERT_TRUE(even);
  EXPECT_EQ(even->numbers, (std::vector<double>{1, 1.5, 2, 2.5, 3}));
  const auto factor = parse_sweep_axis("a.b=0.1:10:3:log", false);
  ASSERT_TRUE(factor);
  EXPECT_NEAR(factor->numbers[1], 1.0, 1e-12);
  EXPECT_EQ(factor->numbers[2], 10.0);
  const auto listed = parse_sweep_axis("a.b=soft, drift,3", false);
  ASSERT_TRUE(listed);
  EXPECT_EQ(listed->words, (std::vector<std::string>{"soft", "drift", "3"}));
  EXPECT_FALSE(listed->is_numeric());
  EXPECT_TRUE(parse_sweep_axis("a.b=3,1,2", false)->is_numeric());
  for (const char* const wrong : {"a.b", "=1:2:3", "a.b=", "a.b=2:1:3", "a.b=1:2", "a.b=1:2:1", "a.b=0:2:3:log",
                                  "a.b=1:2:2.5", "a.b=1,,2", "a.b=x:y:3", "a.b=1:inf:3"})
    EXPECT_FALSE(parse_sweep_axis(wrong, false)) << wrong;
  EXPECT_TRUE(parse_sweep_axis("a.b=1:2", true));
  EXPECT_FALSE(parse_sweep_axis("a.b=1:2:3", true));
}

TEST(SweepPoints, TheLastAxisGoesFastest) {
  const SweepPoints points = points_of({"a.b=1:2:2", "c.d=x,y,z"});
  ASSERT_EQ(points.count(), 6U);
  std::string all;
  for (std::uint64_t k = 0; k < points.count(); ++k) all += points.words(k)[0] + points.words(k)[1] + " ";
  EXPECT_EQ(all, "1x 1y 1z 2x 2y 2z ");
  EXPECT_EQ(points.index(4, 0), 1U);
  EXPECT_EQ(points.index(4, 1), 1U);
}

TEST(SweepPoints, AreDrawnWithinTheirRangesTheSameForTheSameSeed) {
  const auto draw = [](std::uint64_t seed) {
    return SweepPoints({*parse_sweep_axis("a.b=1:2", true), *parse_sweep_axis("c.d=0.01:100:log", true)}, 500, seed);
  };
  const SweepPoints one = draw(3), same = draw(3), other = draw(4);
  int below_one = 0;
  for (std::uint64_t k = 0; k < 500; ++k) {
    EXPECT_EQ(one.number(k, 1), same.number(k, 1));
    EXPECT_GE(one.number(k, 0), 1.0);
    EXPECT_LE(one.number(k, 0), 2.0);
    below_one += one.number(k, 1) < 1.0 ? 1 : 0;
  }
  EXPECT_NE(one.number(7, 0), other.number(7, 0));
  EXPECT_NEAR(below_one, 250, 60); // by factors: half of them below the middle factor
}

TEST(Cliffs, AreWhereAStepStandsOutFromItsNeighbours) {
  const SweepPoints points = points_of({"a.b=0:1:21"});
  std::vector<Measured> smooth, jumping;
  for (std::uint64_t k = 0; k < points.count(); ++k) {
    const double x = points.number(k, 0);
    smooth.push_back(1.0 / (0.2 + x));
    jumping.push_back(x + (x > 0.52 ? 0.5 : 0.0));
  }
  EXPECT_TRUE(cliffs_of(points, smooth).empty());
  const auto found = cliffs_of(points, jumping);
  ASSERT_EQ(found.size(), 1U);
  EXPECT_NEAR(found[0].jump, 0.55, 1e-12);
  EXPECT_NEAR(points.number(found[0].after, 0), 0.55, 1e-12);
}

TEST(RankCorrelation, TellsWhatMatters) {
  const SweepPoints points({*parse_sweep_axis("a.b=0:1", true), *parse_sweep_axis("c.d=0:1", true)}, 400, 5);
  std::vector<Measured> measure;
  for (std::uint64_t k = 0; k < points.count(); ++k)
    measure.push_back(k % 10 == 0 ? Measured() : Measured(-std::exp(5.0 * points.number(k, 0))));
  const auto ranks = rank_correlations(points, measure);
  EXPECT_NEAR(ranks[0], -1.0, 1e-12);
  EXPECT_LT(std::fabs(ranks[1]), 0.15);
}

TEST(FreeValue, IsANumberOrOneOfSomeNames) {
  const auto wide = parse_free_value("a.b=0.5:5");
  ASSERT_TRUE(wide);
  EXPECT_TRUE(wide->range.by_factor);
  EXPECT_NEAR(wide->range.number_at(wide->range.share_of(2.0)), 2.0, 1e-12);
  EXPECT_FALSE(parse_free_value("a.b=-1:5")->range.by_factor);
  EXPECT_EQ(parse_free_value("a.b=soft|drift")->names.size(), 2U);
  for (const char* const wrong : {"a.b", "a.b=1", "a.b=2:1", "a.b=x|", "=1:2"})
    EXPECT_FALSE(parse_free_value(wrong)) << wrong;
}

TEST(Violation, IsNothingWhereAWantHoldsAndTheLogarithmBeyondIt) {
  TrialWant want;
  want.rule = WantRule::at_most;
  want.limit = 2.0;
  want.value = 4.0;
  EXPECT_NEAR(violation_of(want), std::log(2.0), 1e-12);
  want.rule = WantRule::at_least;
  want.value = 1.0;
  EXPECT_NEAR(violation_of(want), std::log(2.0), 1e-12);
  want.holds = true;
  EXPECT_EQ(violation_of(want), 0.0);
  want.holds = false;
  want.value.reset();
  EXPECT_GT(violation_of(want), 2.0); // what did not happen is worse than twice as much
}

} // namespace
} // namespace stasis
