// Shakes made by known waves: which one it was is found, with its numbers.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "core/match/match_shake.hpp"
#include "core/random.hpp"
#include "core/shake/envelope.hpp"

namespace stasis {
namespace {

struct MadeShake {
  double hit = 0.6, half_life = 0.35, amplitude = 4.0, noise = 0.04, length = 3.0;
};

/// 60 rows a second of which a few are missing, about 20.
RecordedShake recorded(const Wave& wave, const MadeShake& made, std::uint64_t seed) {
  Random random(seed);
  WaveStream stream(wave, random.next(), 0);
  RecordedShake out;
  for (int k = 0; k < static_cast<int>(60.0 * made.length); ++k) {
    if (random.share() < 0.05) continue;
    const double time = k / 60.0, since = time - made.hit;
    double value = 0.0;
    if (const auto* ring = std::get_if<RingWave>(&wave))
      value = since > 0.0 ? ring_at(*ring, since) : 0.0;
    else if (since >= 0.0)
      value = std::exp2(-since / made.half_life) * stream.at({time, 0, 0.0});
    out.times.push_back(time);
    out.values.push_back(20.0 + made.amplitude * value + made.noise * random.normal());
  }
  return out;
}

const Estimate* number(const MatchedShake& shake, std::string_view name) {
  const auto found =
      std::find_if(shake.numbers.begin(), shake.numbers.end(), [&](const Estimate& one) { return one.name == name; });
  return found == shake.numbers.end() ? nullptr : &*found;
}

/// How many of the stated intervals hold the true number.
struct Held {
  int held = 0, all = 0;
  void look(const MatchedShake& shake, std::string_view name, double truth) {
    const Estimate* const one = number(shake, name);
    ASSERT_NE(one, nullptr) << name;
    ++all;
    held += one->low <= truth && truth <= one->high ? 1 : 0;
  }
};

TEST(MatchShake, ARandomWaveIsNamedAndItsIntervalsHoldTheTruth) {
  const MadeShake made;
  for (const Wave& wave : {Wave(NoiseWave{7.0, 1}), Wave(SinesWave{5.0})}) {
    Held half_life, frequency, amplitude;
    int named = 0;
    constexpr int shakes = 24;
    for (std::uint64_t seed = 1; seed <= shakes; ++seed) {
      const auto match = match_shake(recorded(wave, made, seed));
      ASSERT_TRUE(match) << seed;
      const auto found = std::find_if(match->ranking.begin(), match->ranking.end(),
                                      [&](const MatchedShake& one) { return kind_of(one.wave) == kind_of(wave); });
      ASSERT_NE(found, match->ranking.end());
      named += found->is_indistinct ? 1 : 0;
      half_life.look(*found, "half_life", made.half_life);
      frequency.look(*found, "frequency", std::holds_alternative<NoiseWave>(wave) ? 7.0 : 5.0);
      amplitude.look(*found, "amplitude", made.amplitude);
    }
    EXPECT_GE(named, shakes - 1);
    // Of 24 at 95 %, more than four are outside in one series of a hundred.
    for (const Held& one : {half_life, frequency, amplitude}) EXPECT_GE(one.held, one.all - 4) << kind_of(wave);
  }
}

TEST(MatchShake, ARingIsFoundToItsPath) {
  MadeShake made;
  for (const double ratio : {0.03, 0.1, 0.25})
    for (std::uint64_t seed = 1; seed <= 8; ++seed) {
      const auto match = match_shake(recorded(RingWave{6.0, ratio}, made, seed));
      ASSERT_TRUE(match);
      const MatchedShake& best = match->ranking.front();
      ASSERT_TRUE(std::holds_alternative<RingWave>(best.wave)) << ratio << " " << seed;
      EXPECT_NEAR(number(best, "frequency")->value, 6.0, 0.06);
      EXPECT_NEAR(std::log(number(best, "damping_ratio")->value / ratio), 0.0, 0.1) << ratio << " " << seed;
      EXPECT_NEAR(number(best, "amplitude")->value, made.amplitude, 0.1 * made.amplitude);
      EXPECT_NEAR(best.hit_at.value, made.hit, 0.005);
    }
  made.noise = 0.0;
  const auto exact = match_shake(recorded(RingWave{6.0, 0.1}, made, 3));
  EXPECT_NEAR(number(exact->ranking.front(), "damping_ratio")->value, 0.1, 1e-6);
  EXPECT_NEAR(number(exact->ranking.front(), "frequency")->value, 6.0, 1e-6);
}

TEST(MatchShake, ARingsIntervalsHoldTheTruthAsOftenAsTheySay) {
  const MadeShake made;
  const RingWave ring{5.0, 0.12};
  Held held;
  constexpr int shakes = 60;
  for (std::uint64_t seed = 1; seed <= shakes; ++seed) {
    const auto match = match_shake(recorded(ring, made, seed));
    ASSERT_TRUE(match);
    const MatchedShake& best = match->ranking.front();
    held.look(best, "amplitude", made.amplitude);
    held.look(best, "frequency", ring.frequency);
    held.look(best, "damping_ratio", ring.damping_ratio);
    held.look(best, "half_life", ring_half_life(ring));
  }
  // Of 240 at 95 %, correlated: between 91 and 99 %.
  EXPECT_GE(held.held, 0.91 * held.all);
  EXPECT_LE(held.held, 0.99 * held.all);
}

TEST(MatchShake, WhatShakesAllTheTimeDoesNotDieAway) {
  MadeShake made;
  made.half_life = 1e9;
  made.hit = 0.0;
  made.length = 8.0;
  const auto match = match_shake(recorded(NoiseWave{3.0, 1}, made, 5));
  ASSERT_TRUE(match);
  const MatchedShake& best = match->ranking.front();
  EXPECT_FALSE(best.fades);
  EXPECT_EQ(number(best, "half_life"), nullptr);
  EXPECT_EQ(match->trouble, ShakeTrouble::none);
  EXPECT_EQ(best.lines("tilt").back(), "always = true");
}

TEST(MatchShake, SeveralHitsOrAMoveAreSaid) {
  const MadeShake made;
  RecordedShake twice = recorded(NoiseWave{8.0, 1}, {.half_life = 0.12}, 1);
  MadeShake later;
  later.hit = 1.8;
  const RecordedShake second = recorded(NoiseWave{8.0, 1}, {.hit = 1.8, .half_life = 0.12}, 1);
  for (std::size_t k = 0; k < twice.times.size(); ++k)
    if (twice.times[k] >= later.hit) twice.values[k] = second.values[k];
  const auto match = match_shake(twice);
  ASSERT_TRUE(match);
  EXPECT_EQ(match->trouble, ShakeTrouble::several_hits);

  RecordedShake move;
  for (int k = 0; k < 150; ++k) {
    move.times.push_back(k / 60.0);
    move.values.push_back(k < 30 ? 0.0 : 10.0 * (1.0 - std::exp(-0.1 * (k - 30))));
  }
  const auto moved = match_shake(move);
  EXPECT_TRUE(!moved || moved->trouble != ShakeTrouble::none);
}

TEST(MatchShake, WhatStandsDoesNotShake) {
  RecordedShake still;
  Random random(4);
  for (int k = 0; k < 200; ++k) {
    still.times.push_back(k / 60.0);
    still.values.push_back(5.0);
  }
  EXPECT_FALSE(match_shake(still));
  for (double& value : still.values) value += 0.1 * random.normal();
  const auto noise = match_shake(still);
  EXPECT_TRUE(!noise || noise->ranking.front().fades == false || noise->trouble != ShakeTrouble::none);
  EXPECT_FALSE(match_shake({{0.0, 0.1, 0.2}, {1.0, 2.0, 1.0}, {}, {}}));
}

} // namespace
} // namespace stasis
