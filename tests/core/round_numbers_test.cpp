// Round numbers, which people type: arrivals that fall on frames, on each other, and inside one long frame.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/measure/channel_measures.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;
using test::Rows;

Feel round_feel(const std::string& motion, const std::string& cues, double fps = 60, double length = 2,
                const std::string& more = "") {
  return feel_from(fmt::format(
      "[channel.a]\nrest = 0\nmotion = {{ {} }}\n{}\n[pose.p]\na = 1\n[control.c]\nkind = \"hold\"\npose = \"p\"\n"
      "[take.t]\nlength = {}\nclock = {{ fps = {} }}\ncues = [{}]\n",
      motion, more, length, fps, cues));
}
Move first_move(const Feel& feel) { return play_measures(feel).moves.at(0); }

// Rule F12.
TEST(RoundNumbers, AnArrivedMoveRestsAtMultiplesOfItsDuration) {
  for (const char* curve : {"linear", "ease-in", "in power 3", "in sine"})
    for (const char* handover : {"restart", "carry"}) {
      const std::string motion = fmt::format("rising = {{ kind = \"ease\", duration = 0.2, curve = \"{}\", handover = "
                                             "\"{}\" }}, falling = {{ kind = \"spring\", frequency = 1, "
                                             "damping_ratio = 1 }}",
                                             curve, handover);
      const Rows rows = play_rows(round_feel(motion, "{ at = 0, press = \"c\" }, { at = 0.4, release = \"c\" }", 20));
      for (const double value : rows.smooth) EXPECT_LE(value, 1.0) << curve;
      EXPECT_EQ(rows.velocity[8], 0.0) << curve; // the release finds it at rest
    }
}

TEST(RoundNumbers, WhatFollowsAnArrivedMoveOnlyComesNearer) {
  for (const double fps : {30.0, 60.0}) {
    const Rows rows = play_rows(
        round_feel("kind = \"stages\", stages = [{ kind = \"ease\", duration = 0.1, curve = \"in power 3\" }, { kind = "
                   "\"glide\", rate = 10 }]",
                   "{ at = 0, press = \"c\" }", fps));
    for (std::size_t k = 1; k < rows.smooth.size(); ++k) EXPECT_GE(rows.smooth[k], rows.smooth[k - 1]) << k;
    // Once the curve has arrived the gap is a plain decay.
    const auto gap_at = [&](double t) { return 1 - rows.smooth[static_cast<std::size_t>(std::lround(t * fps))]; };
    EXPECT_NEAR(gap_at(0.5), gap_at(0.2) * std::exp(-3), 1e-12);
  }
}

// Rule M6.
TEST(RoundNumbers, SeveralArrivalsInOneFrameAreEachPlacedInIt) {
  // Presses at 0.1, 0.2 and 0.3 s, seen a quarter of a second later, while one frame lasts from 0.31 to 0.61 s.
  const std::string motion =
      "kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.25 }, { kind = \"glide\", rate = 5 }]";
  std::string text = "[channel.a]\nrest = 0\nmotion = { " + motion
                     + " }\n[pose.p]\na = 1\n[control.c]\nkind = \"toggle\"\npose = \"p\"\n[take.t]\nlength = 1\nclock "
                       "= { fps = 100, stalls = "
                       "[[0.31, 0.3]] }\ncues = [";
  for (const double at : {0.1, 0.2, 0.3})
    text += fmt::format("{{ at = {0}, press = \"c\" }}, {{ at = {0}, release = \"c\" }}, ", at);
  const Rows rows = play_rows(feel_from(text + "]\n"));
  const double first = 1 - std::exp(-0.5), second = first * std::exp(-0.5);
  for (std::size_t k = 0; k < rows.time.size(); ++k)
    if (rows.time[k] > 0.6) {
      EXPECT_NEAR(rows.smooth[k], 1 - (1 - second) * std::exp(-5 * (rows.time[k] - 0.55)), 1e-12) << rows.time[k];
    }
}

TEST(RoundNumbers, LinksBehindAnUprightCurveAreTheSameAtAnyRate) {
  for (const char* curve : {"out circle", "cubic-bezier(0, 1, 0.3, 1)", "cubic-bezier(1, 0, 0, 1)"}) {
    const auto at_half = [&](double fps) {
      const Feel feel = round_feel(
          fmt::format("kind = \"stages\", stages = [{{ kind = \"ease\", duration = 0.4, curve = \"{}\" }}, {{ kind = "
                      "\"spring\", frequency = 2, damping_ratio = 0.4 }}]",
                      curve),
          "{ at = 0, press = \"c\" }", fps, 1);
      return play_rows(feel).smooth[static_cast<std::size_t>(fps / 2)];
    };
    for (const double fps : {12.0, 60.0, 500.0}) EXPECT_NEAR(at_half(fps), at_half(2000), 1e-9) << curve << fps;
  }
}

TEST(RoundNumbers, APaceWithoutAccelerationHasItsSpeedAtOnce) {
  const Feel feel =
      round_feel("kind = \"pace\", speed = 2", "{ at = 0.1, press = \"c\" }, { at = 0.3, release = \"c\" }", 100, 1);
  const Rows rows = play_rows(feel);
  EXPECT_EQ(rows.velocity[10], 2.0);
  EXPECT_EQ(rows.velocity[30], -2.0);
  const TakeMeasures measures = play_measures(feel);
  EXPECT_NEAR(*measures.moves[0].jolt, 2.0, 1e-12);
  EXPECT_NEAR(*measures.moves[1].jolt, 4.0, 1e-12);
  EXPECT_EQ(*measures.moves[0].peak_acceleration, 0.0);
}

// Rule M7.
TEST(RoundNumbers, APressForTheValueThatIsThereStillBringsItsMotion) {
  const Feel feel = feel_from("[channel.a]\nrest = 0\nmotion = { kind = \"glide\", rate = 1 }\n[pose.p]\na = "
                              "1\n[pose.q]\na = 1\nentering = { a = { "
                              "kind = \"glide\", rate = 20 } }\n[control.p]\nkind = \"hold\"\npose = "
                              "\"p\"\n[control.q]\nkind = \"hold\"\npose = "
                              "\"q\"\n[take.t]\nlength = 2\nclock = { fps = 100 }\ncues = [{ at = 0, press = \"p\" }, "
                              "{ at = 1, press = \"q\" }]\n");
  const Rows rows = play_rows(feel);
  EXPECT_NEAR(1 - rows.smooth[150], std::exp(-1) * std::exp(-20 * 0.5), 1e-12);
}

// Rule M5.
TEST(RoundNumbers, AMoveThereAndBackIsNotMadeAgainByTheRelease) {
  const Rows rows = play_rows(round_feel("kind = \"ease\", duration = 0.2, there_and_back = true",
                                         "{ at = 0.1, press = \"c\" }, { at = 1, release = \"c\" }"));
  for (std::size_t k = 0; k < rows.time.size(); ++k)
    if (rows.time[k] > 0.51) {
      EXPECT_EQ(rows.smooth[k], 0.0) << rows.time[k];
    }
}

TEST(RoundNumbers, ASwingBeyondTheRangeThatBeginsAndEndsOnItIsHeld) {
  // The wave ends beyond its goal, which is the range's end: what arrives there stands, and what sets off again kicks
  // once.
  for (const double duration : {0.1, 0.15486698841676416, 0.3})
    for (const double fps : {1.0, 15.0, 60.0, 1000.0}) {
      const auto jolt_within = [&](const std::string& range) {
        return *first_move(round_feel(fmt::format("kind = \"ease\", duration = {}, curve = \"out elastic\", repeat = 2",
                                                  duration),
                                      "{ at = 0, press = \"c\" }", fps, 2, range))
                    .jolt;
      };
      const double sets_off = jolt_within("range = [0, 1]");
      EXPECT_NEAR(sets_off * duration, 10 * std::log(2) / (1 - std::exp2(-10)), 1e-9) << duration << " " << fps;
      EXPECT_GT(jolt_within("range = [0, 5]"), sets_off) << duration << " " << fps;
    }
}

// Rule F7.
TEST(RoundNumbers, KicksComeFromTheRule) {
  for (const double wait : {0.1, 0.2, 0.3})
    for (const double fps : {20.0, 50.0, 60.0, 1000.0}) {
      const Move move =
          first_move(round_feel(fmt::format("kind = \"stages\", stages = [{{ kind = \"delay\", delay = {} "
                                            "}}, {{ kind = \"ease\", duration = 0.3, curve = \"linear\" }}]",
                                            wait),
                                "{ at = 0.5, press = \"c\" }", fps));
      EXPECT_NEAR(*move.jolt, 1 / 0.3, 1e-9) << wait << " " << fps;
      EXPECT_NEAR(*move.start_kick, (wait + 0.3 * 0.98) / 0.3, 1e-6);
    }
  EXPECT_EQ(
      *first_move(round_feel("kind = \"pace\", speed = 2, acceleration = 5", "{ at = 0.5, press = \"c\" }")).start_kick,
      0.0);
}

TEST(RoundNumbers, SettlingIsThereForAnyLengthAndDelay) {
  for (const double length : {2.1, 2.16, 2.17, 2.18, 2.25})
    for (const double wait : {0.0, 0.05, 0.1, 0.2, 0.3})
      for (const double duration : {0.1, 0.15, 0.2, 0.35}) {
        const std::string ease = fmt::format("kind = \"ease\", duration = {}, there_and_back = true", duration);
        const Feel feel = round_feel(
            wait == 0.0
                ? ease
                : fmt::format("kind = \"stages\", stages = [{{ kind = \"delay\", delay = {} }}, {{ {} }}]", wait, ease),
            "{ at = 0.5, press = \"c\" }", 60, length);
        for (const Move& move : play_measures(feel).moves)
          EXPECT_TRUE(move.settling_time) << length << wait << duration;
      }
  for (const double fps : {17.0, 60.0})
    EXPECT_NEAR(*first_move(round_feel("kind = \"ease\", duration = 0.3, curve = \"steps(4)\"",
                                       "{ at = 0, press = \"c\" }", fps))
                     .settling_time,
                0.3, 1e-12);
}

TEST(RoundNumbers, PeaksAreFoundInsideOneLongFrame) {
  const std::string back = "kind = \"stages\", stages = [{ kind = \"ease\", duration = 0.3, curve = \"out back 1.7\" "
                           "}, { kind = \"glide\", rate = 30 }]";
  const double expected = *first_move(round_feel(back, "{ at = 1, press = \"c\" }", 2000, 4)).overshoot;
  for (const double fps : {3.0, 10.0, 60.0})
    EXPECT_NEAR(*first_move(round_feel(back, "{ at = 1, press = \"c\" }", fps, 4)).overshoot, expected, 1e-8);
  // A spring from rest is pushed hardest at once, w^2 times the way.
  for (const double fps : {20.0, 60.0})
    EXPECT_NEAR(*first_move(round_feel("kind = \"spring\", frequency = 2, damping_ratio = 0.3",
                                       "{ at = 0.5, press = \"c\" }", fps))
                     .peak_acceleration,
                std::pow(4 * std::acos(-1.0), 2), 1e-9);
  const TakeMeasures unbounded =
      play_measures(round_feel("kind = \"ease\", duration = 0.3, curve = \"ease-in\"", "{ at = 0.5, press = \"c\" }"));
  EXPECT_FALSE(unbounded.moves[0].peak_acceleration);
  EXPECT_NE(unbounded.notes[0].find("without bound"), std::string::npos);
}

TEST(RoundNumbers, WhatTheRangeHoldsIsToldToTheInstant) {
  // Undamped about 1: beyond 1.5 while cos < -1/2, a third of each turn.
  const std::string spring = "kind = \"spring\", frequency = 1, damping_ratio = 0.001";
  for (const double fps : {20.0, 60.0, 500.0}) {
    const Feel feel = round_feel(spring, "{ at = 0, press = \"c\" }", fps, 1, "range = [-9, 1.5]");
    const auto measure = [&](const char* name) { return *channel_measure(feel, play_measures(feel), 0, name); };
    EXPECT_NEAR(measure("time_at_limit"), 1.0 / 3, 2e-3);
    EXPECT_NEAR(measure("peak_time"), 1.0 / 3, 2e-3);
    const Feel fine = round_feel(spring, "{ at = 0, press = \"c\" }", 3000, 1, "range = [-9, 1.5]");
    EXPECT_NEAR(measure("time_at_limit"), *channel_measure(fine, play_measures(fine), 0, "time_at_limit"), 1e-9);
  }
}

} // namespace
} // namespace stasis
