// The fewest stops and keys: no exhaustive search over the same candidates finds fewer.
#include <cmath>
#include <functional>

#include <gtest/gtest.h>

#include "core/export/fewest_keys.hpp"
#include "core/export/fewest_stops.hpp"
#include "core/random.hpp"

namespace stasis {
namespace {

double between(Random& random, double low, double high) { return low + (high - low) * random.share(); }

std::vector<TubeSample> random_tube(Random& random, std::size_t count) {
  std::vector<TubeSample> tube;
  double value = 0.0;
  for (std::size_t k = 0; k < count; ++k) {
    value += between(random, -1.0, 1.0);
    const double half = between(random, 0.05, 0.6);
    tube.push_back({static_cast<double>(k), value - half, value + half});
  }
  for (TubeSample* end : {&tube.front(), &tube.back()}) end->low = end->high = 0.5 * (end->low + end->high);
  return tube;
}

/// A polyline with stops at given samples within the tube exists just if this linear feasibility problem in the stops'
/// values has an answer; solved by Fourier and Motzkin's elimination, stop after stop: each sample bounds a weighted
/// sum of two neighbours, so that what is left after a stop is eliminated are bounds between its neighbours.
struct Bound {
  std::vector<double> weights; // sum of weights times values is at most `most`
  double most;
};

bool feasible(std::vector<Bound> bounds, std::size_t variables) {
  for (std::size_t v = 0; v < variables; ++v) {
    std::vector<Bound> lower, upper, rest;
    for (Bound& bound : bounds)
      (std::fabs(bound.weights[v]) < 1e-14 ? rest : bound.weights[v] > 0.0 ? upper : lower).push_back(bound);
    for (const Bound& a : lower)
      for (const Bound& b : upper) {
        Bound sum{std::vector<double>(variables), a.most / -a.weights[v] + b.most / b.weights[v]};
        for (std::size_t k = 0; k < variables; ++k)
          sum.weights[k] = a.weights[k] / -a.weights[v] + b.weights[k] / b.weights[v];
        sum.weights[v] = 0.0;
        rest.push_back(std::move(sum));
      }
    bounds = std::move(rest);
  }
  for (const Bound& bound : bounds)
    if (bound.most < -1e-9) return false;
  return true;
}

bool stops_hold(const std::vector<TubeSample>& tube, const std::vector<std::size_t>& stops) {
  std::vector<Bound> bounds;
  for (std::size_t k = 0; k + 1 < stops.size(); ++k)
    for (std::size_t s = stops[k]; s <= stops[k + 1]; ++s) {
      const double share = (tube[s].time - tube[stops[k]].time) / (tube[stops[k + 1]].time - tube[stops[k]].time);
      Bound upper{std::vector<double>(stops.size(), 0.0), tube[s].high}, lower = upper;
      upper.weights[k] = 1.0 - share;
      upper.weights[k + 1] = share;
      for (std::size_t v = 0; v < stops.size(); ++v) lower.weights[v] = -upper.weights[v];
      lower.most = -tube[s].low;
      bounds.push_back(upper);
      bounds.push_back(lower);
    }
  return feasible(std::move(bounds), stops.size());
}

/// True if some choice of `inner` samples between the ends holds.
bool any_choice(std::size_t count, std::size_t inner,
                const std::function<bool(const std::vector<std::size_t>&)>& holds) {
  std::vector<std::size_t> chosen{0};
  const std::function<bool(std::size_t, std::size_t)> choose = [&](std::size_t from, std::size_t left) {
    if (left == 0) {
      chosen.push_back(count - 1);
      const bool fine = holds(chosen);
      chosen.pop_back();
      return fine;
    }
    for (std::size_t k = from; k + 1 < count; ++k) {
      chosen.push_back(k);
      const bool fine = choose(k + 1, left - 1);
      chosen.pop_back();
      if (fine) return true;
    }
    return false;
  };
  return choose(1, inner);
}

TEST(FewestStops, StayInTheTubeAndNoExhaustiveSearchFindsFewer) {
  Random random(11);
  for (int trial = 0; trial < 120; ++trial) {
    const std::size_t count = 7;
    const auto tube = random_tube(random, count);
    const auto stops = fewest_stops(tube, count);
    ASSERT_TRUE(stops);
    for (std::size_t k = 0; k + 1 < stops->size(); ++k) {
      const TubeStop &a = (*stops)[k], &b = (*stops)[k + 1];
      for (std::size_t s = a.sample; s <= b.sample; ++s) {
        const double share = (tube[s].time - tube[a.sample].time) / (tube[b.sample].time - tube[a.sample].time);
        const double value = a.value + share * (b.value - a.value);
        EXPECT_GE(value, tube[s].low - 1e-9) << trial;
        EXPECT_LE(value, tube[s].high + 1e-9) << trial;
      }
    }
    if (stops->size() <= 2) continue;
    EXPECT_FALSE(any_choice(count, stops->size() - 3, [&](const auto& some) { return stops_hold(tube, some); }))
        << trial;
  }
}

TEST(FewestStops, StopsOffTheCurveAreFewerThanOnIt) {
  // Half a sine: with stops on the curve a piece may be sqrt(8 e / |f''|) long, off it sqrt(16 e / |f''|).
  const double tolerance = 1e-3;
  std::vector<TubeSample> tube;
  const int count = 401;
  for (int k = 0; k < count; ++k) {
    const double t = k / (count - 1.0), y = std::sin(3.14159265358979 * t);
    tube.push_back({t, y - tolerance, y + tolerance});
  }
  const double root = 2.39628; // integral of sqrt(|f''|) over 0..1, which is that of sqrt(sin) over 0..pi
  const double off = 0.25 * root / std::sqrt(tolerance);
  const auto stops = fewest_stops(tube, 400);
  ASSERT_TRUE(stops);
  EXPECT_NEAR(static_cast<double>(stops->size() - 1), off, 2.0);
}

TEST(FewestStops, SayWhenTheyAreTooMany) {
  EXPECT_FALSE(fewest_stops({{0, 0, 0}, {1, 1, 1}, {2, 0, 0}, {3, 1, 1}}, 2));
  EXPECT_TRUE(fewest_stops({{0, 0, 0}, {1, 1, 1}, {2, 0, 0}, {3, 1, 1}}, 3));
}

TEST(FewestKeys, HoldAndNoExhaustiveSearchFindsFewer) {
  Random random(5);
  for (int trial = 0; trial < 200; ++trial) {
    const std::size_t count = 11;
    const double a = between(random, 0.5, 3.0), b = between(random, 0.0, 6.0), c = between(random, -1.0, 1.0);
    std::vector<SlopedSample> samples;
    for (std::size_t k = 0; k < count; ++k) {
      const double t = 0.2 * static_cast<double>(k);
      const double slope = a * std::cos(a * t) + c * b * std::cos(b * t);
      samples.push_back({t, std::sin(a * t) + c * std::sin(b * t), slope, slope});
    }
    const double tolerance = std::pow(10.0, between(random, -4.0, -1.0));
    const auto holds = [&](const std::vector<std::size_t>& keys) {
      for (std::size_t k = 0; k + 1 < keys.size(); ++k)
        for (std::size_t s = keys[k]; s <= keys[k + 1]; ++s)
          if (std::fabs(hermite(samples[keys[k]], samples[keys[k + 1]], samples[s].time) - samples[s].value)
              > tolerance)
            return false;
      return true;
    };
    const auto keys = fewest_keys(samples, tolerance);
    EXPECT_TRUE(holds(keys)) << trial;
    if (keys.size() <= 2) continue;
    EXPECT_FALSE(any_choice(count, keys.size() - 3, holds)) << trial;
  }
}

TEST(FewestKeys, ACubicNeedsItsEndsOnlyAndACornerIsAKey) {
  std::vector<SlopedSample> cubic, corner;
  for (int k = 0; k <= 50; ++k) {
    const double t = 0.1 * k;
    cubic.push_back({t, t * t * t - 2.0 * t, 3.0 * t * t - 2.0, 3.0 * t * t - 2.0});
    corner.push_back({t, std::fabs(t - 2.0), t <= 2.0 ? -1.0 : 1.0, t < 2.0 ? -1.0 : 1.0});
  }
  EXPECT_EQ(fewest_keys(cubic, 1e-9), (std::vector<std::size_t>{0, 50}));
  EXPECT_EQ(fewest_keys(corner, 1e-9), (std::vector<std::size_t>{0, 20, 50}));
  EXPECT_EQ(fewest_keys({{1.0, 2.0, 0.0, 0.0}}, 1e-9), (std::vector<std::size_t>{0}));
}

} // namespace
} // namespace stasis
