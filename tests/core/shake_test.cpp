// Shakes: waves, envelopes, stacking; what they add and what they leave alone.
#include <cmath>
#include <map>
#include <numbers>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/check/warning.hpp"
#include "core/measure/shake_measures.hpp"
#include "core/measure/spectrum.hpp"
#include "core/shake/envelope.hpp"
#include "core/shake/noise.hpp"
#include "core/shake/wave.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_rows;
using test::Rows;

WaveStream stream(const Wave& wave, std::uint64_t seed, std::size_t place = 0) {
  return WaveStream(wave, wave_stream(seed, "s", "c", place), place);
}

std::vector<double> samples(WaveStream wave, double rate, int count) {
  std::vector<double> out;
  for (int k = 0; k < count; ++k) out.push_back(wave.at({k / rate, k, 0.0}));
  return out;
}

double correlation(const std::vector<double>& a, const std::vector<double>& b) {
  double ab = 0, aa = 0, bb = 0;
  for (std::size_t k = 0; k < a.size(); ++k) {
    ab += a[k] * b[k];
    aa += a[k] * a[k];
    bb += b[k] * b[k];
  }
  return ab / std::sqrt(aa * bb);
}

TEST(Wave, StaysWithinItsBound) {
  for (const Wave& wave : {Wave(NoiseWave{10, 1}), Wave(NoiseWave{10, 4}), Wave(SinesWave{10}), Wave(JitterWave{10})}) {
    WaveStream one = stream(wave, 1);
    double most = 0.0;
    for (int k = 0; k < 2'500'000; ++k) most = std::max(most, std::fabs(one.at({k * 0.0137, k, 0.0})));
    EXPECT_LE(most, 1.0) << kind_of(wave);
    EXPECT_GT(most, 0.7) << kind_of(wave);
  }
}

/// The worst that two lattices half a cell apart can do together.
TEST(Noise, ItsBoundIsThatOfTwoLattices) {
  double most = 0.0;
  for (int k = 0; k <= 100'000; ++k) {
    const auto largest = [](double u) {
      const double fade = u * u * u * (u * (u * 6.0 - 15.0) + 10.0);
      return u * (1.0 - fade) + (1.0 - u) * fade;
    };
    const double u = k / 200'000.0;
    most = std::max(most, largest(u) + largest(u + 0.5));
  }
  EXPECT_LE(most, noise_bound + 1e-4);
  EXPECT_NEAR(most, noise_bound, 1e-4);
}

TEST(Wave, HasItsFrequencyAsCentroid) {
  for (const Wave& wave : {Wave(NoiseWave{9, 1}), Wave(NoiseWave{9, 3}), Wave(SinesWave{9})})
    for (const std::uint64_t seed : {1u, 2u, 3u}) {
      const PowerSpectrum spectrum = power_spectrum(samples(stream(wave, seed), 400, 24'000), 400); // 60 s
      EXPECT_NEAR(spectrum.centroid(), 9.0, 0.9) << kind_of(wave);
      EXPECT_NEAR(std::sqrt(spectrum.total()), spectrum_of(wave)->rms, 0.1 * spectrum_of(wave)->rms) << kind_of(wave);
      EXPECT_GT(spectrum.share_between(0, spectrum_of(wave)->most_power_below), 0.92);
    }
}

TEST(Wave, KnowsHowMuchLiesAboveAFrequency) {
  for (const Wave& wave : {Wave(NoiseWave{9, 1}), Wave(NoiseWave{9, 3}), Wave(SinesWave{9})}) {
    const PowerSpectrum spectrum = power_spectrum(samples(stream(wave, 5), 800, 200'000), 800);
    for (const double f : {4.0, 6.8, 9.0, 20.0})
      EXPECT_NEAR(*power_above(wave, f), spectrum.share_between(f, 400), 0.03) << kind_of(wave) << f;
  }
}

/// Mean size of a wave where it turns round, over several streams.
double mean_turn(const Wave& wave) {
  constexpr double rate = 400.0;
  double sum = 0.0;
  int turns = 0;
  for (const std::uint64_t seed : {1u, 2u, 3u, 4u, 5u, 6u}) {
    const std::vector<double> all = samples(stream(wave, seed), rate, 400'000);
    for (std::size_t k = 2; k < all.size(); ++k)
      if ((all[k - 1] - all[k - 2]) * (all[k] - all[k - 1]) < 0.0) {
        sum += std::fabs(all[k - 1]);
        ++turns;
      }
  }
  return sum / turns;
}

TEST(Wave, KnowsItsTypicalPeak) {
  for (const Wave& wave : {Wave(NoiseWave{2, 1}), Wave(NoiseWave{2, 2}), Wave(NoiseWave{2, 4}), Wave(SinesWave{2})})
    EXPECT_NEAR(mean_turn(wave), size_of(wave).typical_peak, 0.01 * size_of(wave).typical_peak) << kind_of(wave);
  double sum = 0.0, squares = 0.0;
  const std::vector<double> held = samples(stream(JitterWave{100}, 3), 100, 200'000);
  for (const double one : held) {
    sum += std::fabs(one);
    squares += one * one;
  }
  const double count = static_cast<double>(held.size());
  EXPECT_NEAR(sum / count, size_of(JitterWave{}).typical_peak, 0.005);
  EXPECT_NEAR(std::sqrt(squares / count), size_of(JitterWave{}).rms, 0.005);
}

TEST(Shake, ItsAmountsMayBeItsRmsOrItsTypicalPeak) {
  const auto limit = [](const std::string& amounts) {
    return test::feel_from("[channel.a]\nrest = 0\n[shake.s]\nalways = true\non = { a = 0.3 }\n" + amounts
                           + "wave = { kind = \"noise\", frequency = 6 }\n[take.t]\nlength = 60\n");
  };
  EXPECT_EQ(limit("").shakes[0].targets[0].amplitude, 0.3);
  EXPECT_NEAR(test::play_measures(limit("amounts = \"rms\"\n")).shakes[0].parts[0].rms.value_or(0.0), 0.3, 0.015);
  EXPECT_NEAR(limit("amounts = \"typical_peak\"\n").shakes[0].targets[0].amplitude, 0.3 / 0.36, 1e-3);
}

TEST(Stride, BeginsWhereItsPhaseSays) {
  const auto rows = test::play_rows(test::feel_from(
      "[channel.a]\nrest = 0\n[track.otter]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [2, 0]\n[shake.s]\nalways = "
      "true\non = { a = 0.3 }\nwave = { kind = \"stride\", track = \"otter\", length = 4, phase = 0.25 "
      "}\n[take.t]\nlength = 4\n"));
  for (std::size_t k = 0; k < rows.time.size(); ++k)
    EXPECT_NEAR(rows.value[k], 0.3 * std::cos(std::numbers::pi * rows.time[k]), 1e-9) << rows.time[k];
}

/// Each goes by a reader of its own, wherever it is kept.
TEST(Stride, SeveralAreMeasuredAsEachAlone) {
  const auto measured = [](int from, int count) {
    std::string text = "[channel.a]\nrest = 0\n[track.otter]\nkind = \"eight\"\ncentre = [0, 0]\nwidth = 9\nheight = "
                       "5\nlap = 14\n[take.t]\nlength = 6\n";
    for (int k = from; k < from + count; ++k)
      text += fmt::format("[shake.s{0}]\nalways = true\non = {{ a = 0.{1} }}\nwave = {{ kind = \"stride\", track = "
                          "\"otter\", length = 0.{1}, phase = 0.{0} }}\n",
                          k, k + 4);
    return test::play_measures(test::feel_from(text)).shakes;
  };
  const auto all = measured(0, 5);
  ASSERT_EQ(all.size(), 5u);
  for (int k = 0; k < 5; ++k) {
    const ShakeSummary& together = all[static_cast<std::size_t>(k)];
    const ShakeSummary alone = measured(k, 1).at(0);
    EXPECT_NEAR(together.parts[0].peak, 0.1 * (k + 4), 1e-3) << k;
    EXPECT_EQ(together.parts[0].peak, alone.parts[0].peak) << k;
    EXPECT_EQ(together.parts[0].rms, alone.parts[0].rms) << k;
  }
}

TEST(Decay, ByAnAmountPerFrameEndsOrRunsBelowZero) {
  Decay decay;
  decay.kind = Decay::Kind::per_frame;
  decay.amount = 0.25;
  for (const auto& [frames, left] : {std::pair(0.0, 1.0), {1.0, 0.75}, {3.0, 0.25}, {4.0, 0.0}, {6.0, 0.0}})
    EXPECT_EQ(envelope_at(decay, frames / 60.0, frames), left) << frames;
  EXPECT_NEAR(end_of(decay, 60.0), 4.0 / 60.0, 1e-12);
  EXPECT_NEAR(end_of(decay, 30.0), 4.0 / 30.0, 1e-12); // twice as long at half the rate
  EXPECT_NEAR(*half_life_of(decay, 60.0), 2.0 / 60.0, 1e-12);
  decay.runs_below_zero = true;
  EXPECT_EQ(envelope_at(decay, 6.0 / 60.0, 6.0), 0.5);
  EXPECT_EQ(envelope_at(decay, 12.0 / 60.0, 12.0), 2.0);
  EXPECT_TRUE(std::isinf(end_of(decay, 60.0)));
}

// Rule S1.
TEST(Wave, ComponentsAndSeedsGoTheirOwnWays) {
  constexpr int count = 50'000; // 2500 periods
  for (const Wave& wave : {Wave(NoiseWave{10, 1}), Wave(SinesWave{10})}) {
    std::vector<std::vector<double>> all;
    for (std::size_t place = 0; place < 6; ++place) all.push_back(samples(stream(wave, 7, place), 200, count));
    all.push_back(samples(WaveStream(wave, wave_stream(8, "s", "c", 0), 6), 200, count));
    for (std::size_t a = 0; a < all.size(); ++a)
      for (std::size_t b = a + 1; b < all.size(); ++b) EXPECT_LT(std::fabs(correlation(all[a], all[b])), 0.1) << a << b;
  }
  EXPECT_NE(wave_stream(1, "a", "bc", 0), wave_stream(1, "ab", "c", 0));
  EXPECT_NE(samples(stream(NoiseWave{10, 1}, 1), 60, 60), samples(stream(NoiseWave{10, 1}, 2), 60, 60));
}

// Rule S4.
TEST(Ring, IsTheKickedSpringItself) {
  for (const double z : {0.02, 0.1, 0.5, 0.9}) {
    const RingWave ring{4, z};
    const double w = 2 * std::numbers::pi * 4, root = std::sqrt(1 - z * z);
    const double v0 = w * std::exp(z * std::acos(z) / root);
    double most = 0.0;
    for (int k = 0; k < 20'000; ++k) {
      const double t = k * 1e-4;
      EXPECT_NEAR(ring_at(ring, t), v0 / (w * root) * std::exp(-z * w * t) * std::sin(w * root * t), 1e-12);
      EXPECT_LE(std::fabs(ring_at(ring, t)), ring_bound(ring, t) * (1 + 1e-12));
      most = std::max(most, ring_at(ring, t));
    }
    EXPECT_NEAR(most, 1.0, 1e-5);
    EXPECT_EQ(ring_bound(ring, 0.0), 1.0); // a full hit
    const double late = 3.0 * ring_half_life(ring);
    EXPECT_NEAR(ring_bound(ring, late + ring_half_life(ring)) / ring_bound(ring, late), 0.5, 1e-12);
  }
}

Decay decay_of(Decay::Kind kind) {
  Decay decay;
  decay.kind = kind;
  decay.half_life = 0.3;
  decay.duration = 1.5;
  decay.exponent = 3;
  decay.attack = 0.1;
  decay.hold = 0.2;
  if (kind == Decay::Kind::eased) decay.curve = Curve(EaseShape{});
  return decay;
}

TEST(Envelope, IsHalfAfterItsHalfLifeAndNothingAtItsEnd) {
  using Kind = Decay::Kind;
  for (const Kind kind : {Kind::half_life, Kind::linear, Kind::power}) {
    const Decay decay = decay_of(kind);
    EXPECT_EQ(envelope_at(decay, -0.01, 0), 0.0);
    EXPECT_NEAR(envelope_at(decay, 0.05, 3), 0.5, 1e-15); // half of the attack
    EXPECT_EQ(envelope_at(decay, 0.25, 15), 1.0);
    EXPECT_NEAR(envelope_at(decay, 0.3 + *half_life_of(decay, decay.at_fps), 0), 0.5, 1e-12) << name_of(kind);
    EXPECT_EQ(envelope_at(decay, end_of(decay, decay.at_fps) + 1e-9, 0), 0.0);
    double last = 1.0;
    for (double t = 0.3; t < end_of(decay, decay.at_fps) + 1; t += 0.001) {
      const double now = envelope_at(decay, t, 0);
      EXPECT_GE(now, 0.0);
      EXPECT_LE(now, last);
      last = now;
    }
    EXPECT_NEAR(envelope_at(decay, time_above(decay, 0.1, decay.at_fps), 0), 0.1, 1e-6);
  }
}

TEST(Envelope, ACutLeavesWhatItLeaves) {
  Decay decay = decay_of(Decay::Kind::half_life);
  decay.stop_after = 0.6;
  EXPECT_NEAR(*left_at_cut(decay, decay.at_fps), 0.5, 1e-12);
  EXPECT_EQ(envelope_at(decay, 0.6, 0), 0.0);
  EXPECT_EQ(end_of(decay, decay.at_fps), 0.6);
  decay.stop_after = 20;
  EXPECT_FALSE(left_at_cut(decay, decay.at_fps));
}

std::string shaken(const std::string& shake, const std::string& cues, double fps = 60, double length = 4) {
  return fmt::format(
      "[channel.a]\nunit = \"m\"\nrest = 0\nmotion = {{ kind = \"spring\", frequency = 2, damping_ratio = "
      "0.4 }}\n[channel.b]\nrest = [0, 0]\n[pose.p]\na = 1\n[control.p]\nkind = \"hold\"\npose = "
      "\"p\"\n[shake.s]\n{}\n[take.t]\nlength = {}\nclock = {{ fps = {} }}\ncues = [{}]\n",
      shake, length, fps, cues);
}
const std::string noise =
    "on = { a = 0.5, b = [0.2, 0.3] }\nwave = { kind = \"noise\", frequency = 8 }\ndecay = { kind = \"half_life\", "
    "half_life = 0.25 }\nseed = 9\n";

/// By name of a column: what blocks hold, row by row.
struct ShakeRows final : BlockSink {
  void begin(const Scene&) override {}
  void consume(const Block& block) override {
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row)
      amplitude.push_back(block.shakes[0].is_felt ? block.shakes[0].amplitude[row] : 0.0);
  }
  void end() override {}
  std::vector<double> amplitude;
};
std::vector<double> amplitudes(const Feel& feel) {
  ShakeRows rows;
  BlockSink* const sinks[] = {&rows};
  play(test::scene_of(feel), sinks);
  return rows.amplitude;
}

// Rule S1.
TEST(Shake, IsTheSameAtSharedInstantsOfAllRates) {
  const std::string cues = "{ at = 0.5, hit = \"s\" }, { at = 1.5, hit = \"s\", strength = 0.4 }";
  const Feel slow = feel_from(shaken(noise, cues, 30)), fast = feel_from(shaken(noise, cues, 144)),
             middle = feel_from(shaken(noise, cues, 60));
  for (const std::size_t component : {std::size_t{0}, std::size_t{1}}) {
    const Rows a = play_rows(slow, 1, component), b = play_rows(middle, 1, component),
               c = play_rows(fast, 1, component);
    for (std::size_t k = 0; k < a.value.size(); ++k) EXPECT_EQ(a.value[k], b.value[2 * k]);
    for (std::size_t k = 0; k < a.value.size(); k += 5) EXPECT_NEAR(a.value[k], c.value[k / 5 * 24], 1e-13);
  }
}

// Rule S3.
TEST(Shake, NeverReachesTheSmoothedPath) {
  const std::string cues = "{ at = 0.2, press = \"p\" }, { at = 0.5, hit = \"s\" }";
  const Rows with = play_rows(feel_from(shaken(noise, cues))),
             without = play_rows(feel_from(shaken(noise + "muted = true\n", cues)));
  EXPECT_EQ(with.smooth, without.smooth);
  EXPECT_EQ(with.goal, without.goal);
  EXPECT_NE(with.value, without.value);
  EXPECT_EQ(without.value, without.smooth);
}

TEST(Shake, ItsAmplitudeHalvesAndEnds) {
  const auto amplitude = amplitudes(feel_from(shaken(noise, "{ at = 0.5, hit = \"s\", strength = 0.8 }")));
  EXPECT_EQ(amplitude[29], 0.0);
  EXPECT_EQ(amplitude[30], 0.8);
  EXPECT_NEAR(amplitude[45], 0.4, 1e-9);
  EXPECT_NEAR(amplitude[60], 0.2, 1e-9);
  EXPECT_EQ(amplitude.back(), 0.0); // under 0.1 % it has ended
}

// Rule S2.
TEST(Shake, ASmallHitDoesNotWipeOutABigOne) {
  const std::string big = "{ at = 0.5, hit = \"s\" }", both = big + ", { at = 0.6, hit = \"s\", strength = 0.3 }";
  const auto alone = amplitudes(feel_from(shaken(noise, big)));
  for (const char* stack : {"largest", "sum", "root_sum", "latest"}) {
    const Feel feel = feel_from(shaken(noise + "stack = \"" + stack + "\"\ncap = 1.1\n", both));
    const auto together = amplitudes(feel);
    const std::string name = stack;
    for (std::size_t k = 36; k < 60; ++k) {
      const double first = std::exp2(-static_cast<double>(k - 30) / 60 / 0.25),
                   second = 0.3 * std::exp2(-static_cast<double>(k - 36) / 60 / 0.25);
      const double expected = name == "largest"  ? std::max(first, second)
                              : name == "sum"    ? std::min(1.1, first + second)
                              : name == "latest" ? second
                                                 : std::min(1.1, std::hypot(first, second));
      EXPECT_NEAR(together[k], expected, 1e-12) << name << k;
    }
    if (name == "largest") {
      const Rows one = play_rows(feel_from(shaken(noise, big)), 1, 0), two = play_rows(feel, 1, 0);
      for (std::size_t k = 0; k < 60; ++k) EXPECT_EQ(one.value[k], two.value[k]);
    }
    std::vector<std::string> codes;
    for (const Warning& warning : warnings_of_feel(feel)) codes.push_back(warning.code);
    EXPECT_EQ(std::count(codes.begin(), codes.end(), "shake_latest"), name == "latest" ? 1 : 0);
  }
  const auto capped = amplitudes(
      feel_from(shaken(noise + "stack = \"sum\"\ncap = 1.1\n", "{ at = 0.5, hit = \"s\", every = 0.01, times = 20 }")));
  for (const double amplitude : capped) EXPECT_LE(amplitude, 1.1);
}

TEST(Shake, ARingKicksInItsDirection) {
  const std::string ring = "on = { b = [0.3, 0.4] }\nwave = { kind = \"ring\", frequency = 3, damping_ratio = 0.15 }\n";
  const Feel feel = feel_from(shaken(ring, "{ at = 0.5, hit = \"s\", direction = [0, -2], strength = 0.5 }", 60, 1.5));
  const Rows x = play_rows(feel, 1, 0), y = play_rows(feel, 1, 1);
  for (std::size_t k = 0; k < x.value.size(); ++k) {
    EXPECT_EQ(x.value[k], 0.0);
    EXPECT_NEAR(y.value[k], -0.25 * ring_at({3, 0.15}, x.time[k] - 0.5), 1e-12);
  }
}

TEST(Shake, MeanSquareIsWhatTheEnvelopeSays) {
  double square = 0.0;
  constexpr int seeds = 200;
  for (int seed = 0; seed < seeds; ++seed) {
    const Rows rows =
        play_rows(feel_from(shaken(noise + "", "{ at = 0, hit = \"s\" }", 240, 1)
                                .replace(shaken(noise, "{ at = 0, hit = \"s\" }", 240, 1).find("seed = 9"), 8,
                                         fmt::format("seed = {}", seed))),
                  1, 0);
    for (const double value : rows.value) square += value * value / seeds;
  }
  double expected = 0.0;
  for (int k = 0; k <= 240; ++k) expected += std::pow(0.2 * noise_rms * std::exp2(-k / 240.0 / 0.25), 2);
  EXPECT_NEAR(square / expected, 1.0, 0.05);
}

// Rule S5.
TEST(Shake, IsAlwaysThereAtTheLevelOfAChannel) {
  const std::string unrest =
      "on = { b = [0.2, 0] }\nwave = { kind = \"sines\", frequency = 2 }\nalways = true\nlevel = \"a\"\n";
  const auto amplitude = amplitudes(feel_from(shaken(unrest, "{ at = 1, press = \"p\" }")));
  EXPECT_EQ(amplitude[30], 0.0);
  EXPECT_NEAR(amplitude.back(), 1.0, 1e-3);
}

// Rule S5.
TEST(Shake, FallsOffWithTheDistanceToTheEye) {
  const auto felt = [](double z) {
    const std::string text =
        "[picture]\nposition = \"eye\"\n[channel.eye]\nrest = [0, 0, 0]\n[channel.v]\nrest = 0\n[shake.s]\non = { v = "
        "1 }\nwave "
        "= { kind = \"jitter\", rate = 10 }\ndecay = { kind = \"linear\", duration = 1 }\nfalloff = { near "
        "= 2, far = 6 }\n[take.t]\nlength = 1\ncues = [{ at = 0, hit = \"s\", place = [0, 0, "
        + std::to_string(z) + "] }]\n";
    return amplitudes(feel_from(text))[0];
  };
  EXPECT_EQ(felt(1), 1.0);
  EXPECT_NEAR(felt(-4), 0.5, 1e-12);
  EXPECT_EQ(felt(7), 0.0);
}

/// A stride swings with the way, not with time: standing still it stands.
// Rule S7.
TEST(Shake, AStrideFollowsTheWay) {
  const std::string text = "[track.walk]\nkind = \"stop_and_go\"\nfrom = [0, 0]\nvelocity = [1.5, 2]\ngo = 1\nstop = "
                           "1\n[channel.v]\nrest = 0\n[shake.s]\non = { v = 1 }\nwave = { kind = "
                           "\"stride\", track = \"walk\", length = 0.5 }\nalways = true\n[take.t]\nlength = 2\n";
  const Rows rows = play_rows(feel_from(text));
  const double phase = std::asin(rows.value[0]);
  const double other = std::numbers::pi - phase; // of the two phases that begin there, one fits
  for (std::size_t k = 0; k < 60; ++k) {
    const double turned = 2 * std::numbers::pi * 2.5 * rows.time[k] / 0.5;
    const double off = std::min(std::fabs(rows.value[k] - std::sin(phase + turned)),
                                std::fabs(rows.value[k] - std::sin(other + turned)));
    EXPECT_NEAR(off, 0.0, 1e-9);
  }
  for (std::size_t k = 61; k < 119; ++k) EXPECT_NEAR(rows.value[k], rows.value[60], 1e-9);
}

// Rule S6.
TEST(Shake, ViewAxesTurnWithTheCamera) {
  const std::string text = "[picture]\nyaw = \"yaw\"\n[channel.yaw]\nunit = \"deg\"\nrest = 90\n[channel.p]\nrest = "
                           "[0, 0, 0]\n[shake.s]\non = { "
                           "p = [1, 0, 0] }\nframe = \"view\"\nwave = { kind = \"sines\", frequency = 3 }\nalways = "
                           "true\n[take.t]\nlength = 1\n";
  const Rows x = play_rows(feel_from(text), 1, 0), z = play_rows(feel_from(text), 1, 2);
  double most = 0.0;
  for (std::size_t k = 0; k < x.value.size(); ++k) {
    EXPECT_NEAR(x.value[k], 0.0, 1e-15); // looking along -x, right is -z
    most = std::max(most, std::fabs(z.value[k]));
  }
  EXPECT_GT(most, 0.2);
}

TEST(Shake, AccidentsPerFrameDependOnTheRate) {
  const std::string frames = "on = { b = [1, 0] }\nwave = { kind = \"every_frame\" }\ndecay = { kind = \"per_frame\", "
                             "factor = 0.9, at_fps = 60 }\n";
  const auto sixty = amplitudes(feel_from(shaken(frames, "{ at = 0, hit = \"s\" }", 60))),
             thirty = amplitudes(feel_from(shaken(frames, "{ at = 0, hit = \"s\" }", 30)));
  for (std::size_t k = 0; k < 50; ++k) {
    EXPECT_NEAR(sixty[k], std::pow(0.9, static_cast<double>(k)), 1e-12);
    EXPECT_EQ(sixty[k], thirty[k]); // frame by frame, so twice as long in time
  }
  int told = 0;
  for (const Warning& warning : warnings_of_feel(feel_from(shaken(frames, ""))))
    told += warning.code == "shake_per_frame" ? 1 : 0;
  EXPECT_EQ(told, 2);
}

// Rule S3.
TEST(ShakeWarnings, SeeCutsFoldingMarginsAndRanges) {
  const std::string text =
      "[picture]\nsize = [1280, 800]\nheight = { channel = \"h\" }\nposition = \"p\"\nmargin = 8\n[channel.h]\nrest = "
      "8\n[channel.p]\nrest = [0, 0]\nrange = [-0.02, 0.02]\n"
      "[shake.s]\non = { p = 0.3 }\nwave = { kind = \"noise\", frequency = 25 }\ndecay = { kind = \"half_life\", "
      "half_life = 0.4, stop_after = 0.5 }\n[take.t]\nlength = 2\ncues = [{ at = 0.1, hit = \"s\" }]\n";
  const Feel feel = feel_from(text);
  std::map<std::string, int> codes;
  for (const Warning& warning : warnings_of_feel(feel)) ++codes[warning.code];
  const TakeMeasures measures = test::play_measures(feel);
  for (const Warning& warning : warnings_of_take(feel, feel.takes[0], measures)) ++codes[warning.code];
  for (const char* code : {"shake_cut", "shake_folds", "shake_beyond_margin", "shake_out_of_range"})
    EXPECT_GE(codes[code], 1) << code;
  EXPECT_NEAR(*measures.shakes[0].left_at_cut, 100 * std::exp2(-0.5 / 0.4), 1e-9);
  EXPECT_EQ(*measures.shakes[0].quiet_after, 0.5);
}

TEST(Spectrum, OfASineIsThatSine) {
  std::vector<double> sine;
  for (int k = 0; k < 4096; ++k) sine.push_back(3 * std::sin(2 * std::numbers::pi * 16 * k / 256.0));
  const PowerSpectrum spectrum = power_spectrum(sine, 256);
  EXPECT_NEAR(spectrum.total(), 4.5, 1e-12);
  EXPECT_NEAR(spectrum.centroid(), 16.0, 1e-9);
  EXPECT_NEAR(spectrum.bandwidth(), 0.0, 1e-5);
  EXPECT_NEAR(spectrum.rate_rms(), 3 * 2 * std::numbers::pi * 16 / std::sqrt(2.0), 1e-9);
  EXPECT_NEAR(spectrum.share_between(10, 20), 1.0, 1e-12);
}

} // namespace
} // namespace stasis
