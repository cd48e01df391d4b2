// The fewest keys for paths and turns: within what is allowed, and none fewer by looking at all.
#include <cmath>
#include <functional>

#include <gtest/gtest.h>

#include "core/export/path_keys.hpp"

namespace stasis {
namespace {

SampledPath path_samples(std::size_t count, std::size_t width, const std::function<std::vector<double>(double)>& at,
                         bool is_turn = false) {
  SampledPath path{{}, width, {}, is_turn, {}};
  for (std::size_t k = 0; k < count; ++k) {
    path.times.push_back(0.1 * static_cast<double>(k) + 0.01 * std::sin(static_cast<double>(k)));
    const std::vector<double> row = at(path.times.back());
    path.values.insert(path.values.end(), row.begin(), row.end());
  }
  fill_slopes(path);
  return path;
}

/// How far a path of keys is off at most.
double worst_of(const SampledPath& path, KeyPath kind, const std::vector<std::size_t>& keys) {
  double worst = 0.0;
  std::vector<double> out(path.width);
  for (std::size_t part = 0; part + 1 < keys.size(); ++part)
    for (std::size_t at = keys[part] + 1; at < keys[part + 1]; ++at) {
      show(path, kind, keys[part], keys[part + 1], at, out.data());
      worst = std::max(worst, apart(path, out.data(), path.values.data() + at * path.width));
    }
  return worst;
}

std::vector<double> wave_at(double t) { return {std::sin(3.0 * t), std::cos(2.0 * t)}; }
std::vector<double> turn_at(double t) {
  const double half = 0.5 * (t + 0.4 * std::sin(4.0 * t));
  return {0.0, std::sin(half), 0.0, std::cos(half)};
}

TEST(PathKeys, NoneFewerWouldDo) {
  for (const bool is_turn : {false, true}) {
    const SampledPath path = is_turn ? path_samples(12, 4, turn_at, true) : path_samples(12, 2, wave_at);
    for (const double tolerance : {0.3, 0.05, 0.004}) {
      const PathKeys found = path_keys(path, tolerance);
      EXPECT_LE(worst_of(path, found.path, found.at), tolerance);
      // Every choice of inner samples, each way of going.
      for (const KeyPath kind : {KeyPath::linear, KeyPath::cubic}) {
        const std::size_t numbers = kind == KeyPath::cubic ? 3 : 1;
        for (unsigned choice = 0; choice < 1u << 10; ++choice) {
          std::vector<std::size_t> keys{0};
          for (std::size_t k = 0; k < 10; ++k)
            if ((choice >> k & 1u) != 0) keys.push_back(k + 1);
          keys.push_back(11);
          if (worst_of(path, kind, keys) <= tolerance) {
            EXPECT_LE(found.at.size() * (found.path == KeyPath::cubic ? 3 : 1), keys.size() * numbers);
          }
        }
      }
    }
  }
}

TEST(PathKeys, WhatStandsAndLeapsIsSteps) {
  const SampledPath leaps = path_samples(40, 3, [](double t) {
    return std::vector<double>{t < 1.0 ? 0.0 : t < 2.5 ? 4.0 : 1.0, 2.0, 0.0};
  });
  const PathKeys found = path_keys(leaps, 1e-9);
  EXPECT_EQ(found.path, KeyPath::step);
  EXPECT_EQ(found.at.size(), 3u);
  const SampledPath still = path_samples(40, 1, [](double) { return std::vector<double>{7.0}; });
  EXPECT_EQ(path_keys(still, 0.0).at, std::vector<std::size_t>{0});
}

TEST(PathKeys, ASmoothPathTakesCubicsAndAStraightOneTwoKeys) {
  const SampledPath smooth = path_samples(200, 2, wave_at);
  EXPECT_EQ(path_keys(smooth, 0.02).path, KeyPath::cubic);
  EXPECT_EQ(path_keys(smooth, 0.0).path, KeyPath::linear); // every sample, and no stairs
  const SampledPath straight = path_samples(200, 3, [](double t) { return std::vector<double>{t, 2.0 * t, 1.0 - t}; });
  const PathKeys found = path_keys(straight, 1e-9);
  EXPECT_EQ(found.path, KeyPath::linear);
  EXPECT_EQ(found.at, (std::vector<std::size_t>{0, 199}));
}

TEST(PathKeys, AnEvenTurnIsTwoKeysAndQuaternionsOfOneTurnAreNotApart) {
  const SampledPath even = path_samples(
      60, 4,
      [](double t) {
        return std::vector<double>{std::sin(0.1 * t), 0.0, 0.0, std::cos(0.1 * t)};
      },
      true);
  EXPECT_EQ(path_keys(even, 1e-7).at.size(), 2u);
  const double one[] = {0.0, 0.6, 0.0, 0.8}, same[] = {0.0, -0.6, 0.0, -0.8};
  EXPECT_EQ(apart(even, one, same), 0.0);
  const double quarter[] = {0.0, std::sin(std::atan(1.0)), 0.0, std::cos(std::atan(1.0))},
               none[] = {0.0, 0.0, 0.0, 1.0};
  EXPECT_NEAR(apart(even, quarter, none), 2.0 * std::atan(1.0), 1e-12);
}

} // namespace
} // namespace stasis
