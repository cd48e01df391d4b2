// What a channel's way through a take was like, against closed forms and against its rows.
#include <cmath>
#include <numbers>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/measure/channel_measures.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;
using test::Rows;

Feel pressed_feel(const std::string& motion, const std::string& cues, const std::string& more = "", double fps = 60) {
  return feel_from(fmt::format("[channel.a]\nrest = 0\nmotion = {{ {} }}\n{}\n[pose.p]\na = 1\n[control.c]\nkind = "
                               "\"hold\"\npose = \"p\"\n[take.t]\nlength = 4\nclock = {{ fps = {} }}\ncues = [{}]\n",
                               motion, more, fps, cues));
}
PathSummary path_of(const Feel& feel, std::size_t channel = 0) { return play_measures(feel).channels[channel].path; }

TEST(PathMeasures, ASpringFromRestIsItsClosedForm) {
  const double z = 0.2, w = 2 * std::numbers::pi * 2, q = std::sqrt(1 - z * z);
  for (const double fps : {5.0, 60.0, 1000.0}) {
    const PathSummary path = path_of(
        pressed_feel("kind = \"spring\", frequency = 2, damping_ratio = 0.2", "{ at = 0, press = \"c\" }", "", fps));
    const double overshoot = std::exp(-std::numbers::pi * z / q);
    EXPECT_NEAR(path.highest[0].value, 1 + overshoot, 1e-12);
    EXPECT_NEAR(path.highest[0].at, std::numbers::pi / (w * q), 1e-9);
    EXPECT_EQ(path.lowest[0].value, 0.0);
    const double fastest = std::acos(z) / (w * q); // where the speed of a step's answer is largest
    EXPECT_NEAR(path.top_speed.value, w / q * std::exp(-z * w * fastest) * std::sin(q * w * fastest), 1e-9);
    EXPECT_NEAR(path.top_speed.at, fastest, 1e-7);
    EXPECT_NEAR(path.top_acceleration->value, w * w, 1e-9);
    EXPECT_NEAR(path.top_acceleration_jump->value, w * w, 1e-9);
    EXPECT_EQ(path.top_acceleration_jump->at, 0.0);
    double sharpest = 0.0;
    for (double t = 0; t < 1; t += 1e-5)
      sharpest =
          std::max(sharpest, std::fabs(std::exp(-z * w * t) * w * w * w
                                       * (2 * z * std::cos(q * w * t) + (1 - 2 * z * z) / q * std::sin(q * w * t))));
    EXPECT_NEAR(path.top_jerk->value, sharpest, (fps == 5.0 ? 1e-3 : 1e-6) * sharpest);
    EXPECT_EQ(path.top_speed_jump->value, 0.0);
    // Swings of e^-(k pi z / q) about the goal: there and back, each twice, up to the first to the goal.
    double way = 1.0, swings = 0.0;
    for (int k = 1; k < 40; ++k) way += 2 * std::pow(overshoot, k);
    for (int k = 1; std::pow(overshoot, k) * (1 + overshoot) > 1e-3 * (1 + overshoot); ++k) swings += 1.0;
    EXPECT_NEAR(path.travelled, way, 8 * std::exp(-z * w * 4)); // the take ends before the last ones
    EXPECT_EQ(path.reversals[0], swings);
    EXPECT_GT(path.moving_time, 0.5);
    EXPECT_LT(path.moving_time, 4.0);
  }
}

TEST(PathMeasures, JumpsOfSpeedAreToldWhereTheyAre) {
  // A linear ease of a second, turned round half-way by one of half a second.
  const Feel feel = pressed_feel("rising = { kind = \"ease\", duration = 1, curve = \"linear\" }, falling = { kind = "
                                 "\"ease\", duration = 0.5, curve = \"linear\" }",
                                 "{ at = 0.5, press = \"c\" }, { at = 1, release = \"c\" }");
  const PathSummary path = path_of(feel);
  EXPECT_NEAR(path.top_speed.value, 1.0, 1e-12);
  EXPECT_NEAR(path.top_speed_jump->value, 2.0, 1e-9);
  EXPECT_NEAR(path.top_speed_jump->at, 1.0, 1e-9);
  EXPECT_NEAR(path.travelled, 1.0, 1e-9);
  EXPECT_NEAR(path.moving_time, 1.0, 1e-9);
  EXPECT_EQ(path.reversals[0], 1.0);
}

TEST(PathMeasures, TheRangeStopsTheSpeed) {
  const Feel feel = pressed_feel("kind = \"spring\", frequency = 1, damping_ratio = 0", "{ at = 0, press = \"c\" }",
                                 "range = [0, 1]");
  const PathSummary path = path_of(feel);
  const double w = 2 * std::numbers::pi;
  EXPECT_NEAR(path.top_speed_jump->value, w, 1e-9); // 1 - cos wt meets its goal at its fastest
  EXPECT_NEAR(path.top_speed_jump->at, 0.25, 1e-9);
  EXPECT_NEAR(path.travelled, 8.0, 1e-9); // up and down four times
  EXPECT_NEAR(path.moving_time, 2.0, 0.02);
}

TEST(PathMeasures, JumpsOfTheValueHaveNoSpeed) {
  const PathSummary path =
      path_of(pressed_feel("kind = \"cut\"", "{ at = 0.5, press = \"c\" }, { at = 1, release = \"c\" }"));
  EXPECT_EQ(path.top_speed.value, 0.0);
  EXPECT_EQ(path.top_speed_jump->value, 0.0);
  EXPECT_EQ(path.travelled, 2.0);
  EXPECT_EQ(path.reversals[0], 1.0);
  EXPECT_EQ(path.highest[0].at, 0.5);
}

TEST(PathMeasures, WhatGoesFrameByFrameHasNoAcceleration) {
  const PathSummary path = path_of(pressed_feel(
      "kind = \"per_frame\", rule = \"fraction\", fraction = 0.2, at_fps = 60", "{ at = 0.5, press = \"c\" }"));
  EXPECT_NEAR(path.top_speed.value, 0.2 * 60, 1e-9);
  EXPECT_FALSE(path.top_acceleration || path.top_jerk || path.top_speed_jump || path.top_acceleration_jump);
}

TEST(PathMeasures, WhatOnlyWaitsDoesNotMove) {
  // A delayed ease before a spring, never held until it sets off: the chain's own rounding is all that there is.
  for (const double fps : {12.0, 15.0, 24.0, 30.0, 60.0, 90.0, 144.0, 250.0, 333.0, 1000.0}) {
    const PathSummary path = path_of(feel_from(fmt::format(R"([channel.a]
rest = 4.8
range = [0.5, 8]
[pose.p]
a = 7.99
[pose.p.entering]
a = {{ kind = "stages", stages = [{{ kind = "delay", delay = 0.1 }}, {{ kind = "ease", duration = 0.6881019019193388, curve = "out sine", delay = 0.25354121442879146, handover = "carry" }}, {{ kind = "spring", frequency = 2.3850573936211488, damping_ratio = 1.8799257475937137, resist = "gap" }}] }}
[pose.p.leaving]
a = {{ kind = "delay", delay = 0.44157950872207874 }}
[control.c]
kind = "hold"
pose = "p"
[take.t]
length = 3.566
clock = {{ fps = {} }}
cues = [{{ at = 0.346, press = "c" }}, {{ at = 0.646, cancel = "c" }}, {{ at = 0.846, press = "c" }}, {{ at = 0.971, cancel = "c" }}]
)",
                                                           fps)));
    EXPECT_EQ(path.moving_time, 0.0) << fps;
    EXPECT_EQ(path.top_speed.value, 0.0) << fps;
  }
}

// A swing out of the range and back between two frames at which the range holds it is a way all the same.
TEST(PathMeasures, ASwingBetweenTwoFramesThatTheRangeHoldsCounts) {
  std::optional<PathSummary> finest;
  for (const double fps : {1000.0, 60.0, 12.0, 8.0, 4.0}) {
    const PathSummary path = path_of(pressed_feel("kind = \"spring\", frequency = 4.96, damping_ratio = 0.34",
                                                  "{ at = 0.5, press = \"c\" }", "range = [-9, 1]", fps));
    if (!finest) finest = path;
    EXPECT_GE(path.reversals[0], 3.0);
    EXPECT_EQ(path.reversals[0], finest->reversals[0]) << fps;
    EXPECT_NEAR(path.travelled, finest->travelled, 1e-7) << fps; // what fades is counted roughly
    EXPECT_NEAR(path.moving_time, finest->moving_time, 1e-6) << fps;
  }
}

// Where the end of the range is 0, what rounding leaves of the value there is no jump of it.
TEST(PathMeasures, TheSpeedIsLostAtAnEndOfTheRangeThatIsNothing) {
  const double w = 2 * std::numbers::pi, z = 0.2, q = std::sqrt(1 - z * z);
  const double there = (std::numbers::pi - std::acos(z)) / (w * q); // where a step's answer first meets its goal
  const double arrives = w / q * std::exp(-z * w * there) * std::sin(q * w * there);
  for (const double fps : {2.0, 24.0, 30.0, 60.0, 1000.0}) {
    const PathSummary path = path_of(pressed_feel("kind = \"spring\", frequency = 1, damping_ratio = 0.2",
                                                  "{ at = 0.5, press = \"c\" }", "range = [-9, 1]", fps));
    EXPECT_NEAR(path.top_speed_jump->value, arrives, 1e-9) << fps;
    const PathSummary down = path_of(feel_from(fmt::format(
        "[channel.a]\nrest = 1\nrange = [0, 9]\nmotion = {{ kind = \"spring\", frequency = 1, damping_ratio = 0.2 }}\n"
        "[pose.p]\na = 0\n[control.c]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 4\nclock = {{ fps = {} }}\n"
        "cues = [{{ at = 0.5, press = \"c\" }}]\n",
        fps)));
    EXPECT_NEAR(down.top_speed_jump->value, arrives, 1e-9) << fps;
    EXPECT_NEAR(down.top_speed_jump->at, 0.5 + there, 1e-9) << fps;
  }
}

// What waits has a speed of rounding inside its frames too.
TEST(PathMeasures, AMoveThatWaitsInAFrameMovesFromItsStartOn) {
  for (const double fps : {1000.0, 10.0, 4.0}) {
    const PathSummary path = path_of(pressed_feel(
        "kind = \"stages\", stages = [{ kind = \"ease\", duration = 2, curve = \"in sine\", delay = 0.1955 }, { kind = "
        "\"glide\", half_life = 0.19 }, { kind = \"spring\", frequency = 3.6, damping_ratio = 1, resist = \"gap\" }]",
        "{ at = 0.5, press = \"c\" }", "", fps));
    EXPECT_LT(path.moving_time, 4.0 - 0.6955 + 1e-6) << fps;
    EXPECT_GT(path.moving_time, 2.0) << fps;
  }
}

TEST(PathMeasures, OfEqualPeaksTheFirstIsTold) {
  // Each of two repetitions goes equally far beyond; where frames fall must not decide which.
  for (const double fps : {24.0, 30.0, 60.0, 1000.0}) {
    const PathSummary path =
        path_of(pressed_feel("kind = \"ease\", duration = 0.2, curve = \"out elastic\", repeat = 2",
                             "{ at = 0.5, press = \"c\" }", "", fps));
    EXPECT_NEAR(path.highest[0].at, 0.5 + 0.2 * 0.134704425, 1e-7) << fps;
  }
}

TEST(PathMeasures, ABentWayIsAsLongAsItIs) {
  // Two components of an eased move by a sine's quarters: a quarter of a circle.
  const Feel feel = feel_from(
      "[channel.a]\nrest = [0, 0]\nmotion = { x = { kind = \"ease\", duration = 1, curve = \"out sine\" }, y = { kind "
      "= \"ease\", duration = 1, curve = \"in sine\" } }\n[pose.p]\na = [1, 1]\n[control.c]\nkind = "
      "\"hold\"\npose = \"p\"\n[take.t]\nlength = 2\nclock = { fps = 24 }\ncues = [{ at = 0.3, press = \"c\" }]\n");
  EXPECT_NEAR(path_of(feel).travelled, std::numbers::pi / 2, 1e-7);
  EXPECT_NEAR(path_of(feel).top_speed.value, std::numbers::pi / 2, 1e-9);
}

// The independent look: whatever moves it, the rows of a fast clock show no more, and hardly less.
TEST(PathMeasures, AgreeWithTheRowsOfAnyFeel) {
  int moved = 0;
  for (std::uint64_t seed = 1; seed <= 150; ++seed) {
    test::FeelMaker maker(seed, {.switches = seed % 3 == 0, .sticks = seed % 2 == 0});
    const std::string text = maker.make().text + "clock = { fps = 500 }\n";
    if (!test::problems_of(text).empty()) continue;
    const Feel feel = feel_from(text);
    const TakeMeasures measures = play_measures(feel);
    for (std::size_t c = 0; c < feel.channels.size(); ++c) {
      if (feel.channels[c].components > 1) continue;
      const Rows rows = play_rows(feel, c);
      const PathSummary& path = measures.channels[c].path;
      const auto [low, high] = std::minmax_element(rows.smooth.begin(), rows.smooth.end());
      const std::string what = fmt::format("seed {} {}", seed, feel.channels[c].name);
      double speed = 0.0, way = 0.0;
      for (const double v : rows.velocity)
        if (std::isfinite(v)) speed = std::max(speed, std::fabs(v));
      for (std::size_t k = 1; k < rows.smooth.size(); ++k) way += std::fabs(rows.smooth[k] - rows.smooth[k - 1]);
      const double step = path.top_speed.value / 500, noise = 1e-9 * std::max(1.0, std::fabs(*high));
      EXPECT_LE(*high, path.highest[0].value + noise) << what;
      EXPECT_GE(*high, path.highest[0].value - step - noise) << what;
      EXPECT_GE(*low, path.lowest[0].value - noise) << what;
      EXPECT_LE(*low, path.lowest[0].value + step + noise) << what;
      EXPECT_LE(speed, path.top_speed.value * (1 + 1e-9) + noise) << what;
      if (path.top_acceleration && !path.unbounded_speed) {
        EXPECT_GE(speed, path.top_speed.value - path.top_acceleration->value / 500 - path.top_speed_jump->value - noise)
            << what;
      }
      EXPECT_LE(way, path.travelled + noise * 100) << what;
      moved += path.top_speed.value > 0.0 ? 1 : 0;
    }
  }
  EXPECT_GT(moved, 100);
}

} // namespace
} // namespace stasis
