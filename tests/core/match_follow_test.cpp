// Which smoothing follows a moving goal: against paths that an independent solver made.
#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

#include "core/match/match_follow.hpp"
#include "core/random.hpp"

namespace stasis::test {
namespace {

/// What is followed, and by what. The truth is solved by Runge and Kutta's method in small steps.
struct Chase {
  double rate = 0.0, frequency = 0.0, ratio = 0.0; ///< a glide where rate > 0
  double lead = 0.0, half_zone = 0.0, noise = 0.0;
  bool is_even = false;
  double subject(double t) const {
    if (is_even) return 3.0 * t;
    return 1.3 * std::sin(1.7 * t) + 0.8 * std::sin(3.9 * t + 1.0) + 0.6 * std::sin(5.3 * t + 2.0);
  }
};

RecordedFollow chased(const Chase& chase, std::uint64_t seed) {
  stasis::Random random(seed);
  constexpr double dt = 1.0 / 60;
  constexpr int rows = 480, parts = 40;
  std::vector<double> places, goals;
  for (int k = 0; k < rows; ++k) places.push_back(chase.subject(k * dt));
  double middle = places[0];
  for (int k = 0; k < rows; ++k) {
    const auto at = static_cast<std::size_t>(std::max(k, 1));
    const double wish = places[static_cast<std::size_t>(k)] + chase.lead * (places[at] - places[at - 1]) / dt;
    middle = chase.half_zone > 0.0 ? std::clamp(middle, wish - chase.half_zone, wish + chase.half_zone) : wish;
    goals.push_back(middle);
  }
  RecordedFollow out{{}, {{}}, {places}};
  const double w = 2.0 * std::numbers::pi * chase.frequency;
  double x = goals[0] - (chase.is_even ? 3.0 / chase.rate : 0.0), v = 0.0;
  for (int k = 0; k < rows; ++k) {
    out.times.push_back(k * dt);
    out.values[0].push_back(x + chase.noise * random.normal());
    if (k + 1 == rows) break;
    const double from = goals[static_cast<std::size_t>(k)], to = goals[static_cast<std::size_t>(k) + 1], h = dt / parts;
    for (int part = 0; part < parts; ++part) {
      const auto slope = [&](double value, double speed, double share) {
        const double u = from + (to - from) * (part + share) / parts;
        return chase.rate > 0.0 ? std::pair{chase.rate * (u - value), 0.0}
                                : std::pair{speed, w * w * (u - value) - 2.0 * chase.ratio * w * speed};
      };
      const auto a = slope(x, v, 0.0), b = slope(x + 0.5 * h * a.first, v + 0.5 * h * a.second, 0.5),
                 c = slope(x + 0.5 * h * b.first, v + 0.5 * h * b.second, 0.5),
                 d = slope(x + h * c.first, v + h * c.second, 1.0);
      x += h / 6.0 * (a.first + 2.0 * b.first + 2.0 * c.first + d.first);
      v += h / 6.0 * (a.second + 2.0 * b.second + 2.0 * c.second + d.second);
    }
  }
  return out;
}

double number_of(const MatchedFollow& one, const std::string& name) {
  for (const Estimate& number : one.numbers)
    if (number.name == name) return number.value;
  ADD_FAILURE() << name;
  return 0.0;
}

TEST(MatchFollow, WithoutNoiseEveryNumberComesBack) {
  const auto glide = match_follow(chased({.rate = 6.0}, 1));
  EXPECT_EQ(glide->ranking[0].rule.name(), "glide");
  EXPECT_NEAR(number_of(glide->ranking[0], "half_life"), std::numbers::ln2 / 6.0, 1e-7);
  const auto led = match_follow(chased({.rate = 6.0, .lead = 0.07}, 1));
  EXPECT_EQ(led->ranking[0].rule.name(), "glide with lead");
  EXPECT_NEAR(number_of(led->ranking[0], "lead"), 0.07, 1e-6);
  EXPECT_NEAR(number_of(led->ranking[0], "lag"), 1.0 / 6.0 - 0.07, 1e-6);
  const auto spring = match_follow(chased({.frequency = 1.4, .ratio = 0.6}, 1));
  EXPECT_EQ(spring->ranking[0].rule.name(), "spring");
  EXPECT_NEAR(number_of(spring->ranking[0], "frequency"), 1.4, 1e-5);
  EXPECT_NEAR(number_of(spring->ranking[0], "damping_ratio"), 0.6, 1e-5);
  EXPECT_EQ(spring->ranking[0].motion, "{ kind = \"spring\", frequency = 1.4, damping_ratio = 0.6 }");
  const auto zone = match_follow(chased({.rate = 8.0, .half_zone = 0.3}, 1));
  EXPECT_EQ(zone->ranking[0].rule.name(), "glide with dead zone");
  EXPECT_NEAR(number_of(zone->ranking[0], "zone"), 0.6, 1e-4);
  EXPECT_EQ(zone->ranking[0].follow.substr(0, 20), "dead_zone = { size =");
  EXPECT_TRUE(zone->is_explained);
}

TEST(MatchFollow, WithNoiseTheTruthLiesWithinTheIntervals) {
  int within = 0, all = 0;
  for (std::uint64_t seed = 1; seed <= 12; ++seed) {
    const Chase chase{.frequency = 1.0 + 0.1 * static_cast<double>(seed), .ratio = 0.7, .noise = 0.03};
    const auto found = match_follow(chased(chase, seed));
    for (const MatchedFollow& one : found->ranking) {
      if (one.rule.name() != "spring") continue;
      EXPECT_TRUE(one.is_indistinct) << seed;
      for (const auto& [name, truth] : {std::pair{"frequency", chase.frequency}, {"damping_ratio", 0.7}})
        for (const Estimate& number : one.numbers)
          if (number.name == name) {
            within += number.low <= truth && truth <= number.high ? 1 : 0;
            ++all;
          }
    }
  }
  EXPECT_EQ(all, 24);
  EXPECT_GE(within, 20);
}

TEST(MatchFollow, BehindASubjectAtOneSpeedOnlyTheLagIsKnown) {
  const auto found = match_follow(chased({.rate = 5.0, .noise = 0.02, .is_even = true}, 3));
  int alike = 0;
  for (const MatchedFollow& one : found->ranking) {
    if (!one.is_indistinct || one.rule.has_zone) continue;
    ++alike;
    EXPECT_TRUE(one.knows_lag_only);
    EXPECT_NEAR(number_of(one, "lag"), 0.2, 0.01) << one.rule.name();
  }
  EXPECT_GE(alike, 2);
}

TEST(MatchFollow, SeveralColumnsShareOneRule) {
  RecordedFollow both = chased({.rate = 4.0}, 1);
  both.values.push_back(both.values[0]);
  both.goals.push_back(both.goals[0]);
  for (double& value : both.values[1]) value *= -2.0;
  for (double& goal : both.goals[1]) goal *= -2.0;
  EXPECT_NEAR(number_of(match_follow(both)->ranking[0], "half_life"), std::numbers::ln2 / 4.0, 1e-7);
}

TEST(MatchFollow, WhatStandsIsNoChase) {
  RecordedFollow still{{}, {{}}, {{}}};
  for (int k = 0; k < 50; ++k) {
    still.times.push_back(k / 60.0);
    still.values[0].push_back(1.0);
    still.goals[0].push_back(1.0);
  }
  EXPECT_FALSE(match_follow(still));
}

} // namespace
} // namespace stasis::test
