// Motions after goals that move by themselves, and the sticks that move them.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/take/stick.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

std::string ramp_feel(const std::string& motion, double fps, const std::string& formula = "3 * time") {
  return "[channel.a]\nrest = 0\nformula = \"" + formula + "\"\nmotion = " + motion
         + "\n[take.t]\nlength = 2\nclock = { fps = " + std::to_string(fps) + " }\n";
}

// Rule F3.
TEST(MovingGoal, AGlideTrailsARampByItsTimeConstant) {
  for (const double fps : {30.0, 60.0, 144.0}) {
    const auto rows = test::play_rows(test::feel_from(ramp_feel("{ kind = \"glide\", time_constant = 0.2 }", fps)));
    for (std::size_t k = 0; k < rows.time.size(); ++k) {
      const double t = rows.time[k], lag = 3.0 * 0.2;
      EXPECT_NEAR(rows.smooth[k], 3.0 * t - lag * (1.0 - std::exp(-t / 0.2)), 1e-13) << fps;
      EXPECT_NEAR(rows.velocity[k], 3.0 * (1.0 - std::exp(-t / 0.2)), 1e-12) << fps;
    }
  }
}

TEST(MovingGoal, ASpringAtRatioOneTrailsByItsFormula) {
  for (const double fps : {30.0, 60.0, 144.0}) {
    const auto rows =
        test::play_rows(test::feel_from(ramp_feel("{ kind = \"spring\", frequency = 1.5, damping_ratio = 1 }", fps)));
    const double w = 2.0 * std::acos(-1.0) * 1.5;
    for (std::size_t k = 0; k < rows.time.size(); ++k) {
      const double t = rows.time[k];
      // x'' = w^2 (3t - x) - 2 w x', from rest at 0.
      const double exact = 3.0 * t - 6.0 / w + std::exp(-w * t) * (6.0 / w + 3.0 * t);
      EXPECT_NEAR(rows.smooth[k], exact, 1e-12) << fps;
    }
  }
}

TEST(MovingGoal, StagesTrailByTheSumOfTheirTimes) {
  const auto rows =
      test::play_rows(test::feel_from(ramp_feel("{ kind = \"stages\", stages = [{ kind = \"glide\", time_constant = "
                                                "0.1 }, { kind = \"glide\", time_constant = 0.05 }] }",
                                                60)));
  const auto exact = [](double t) { // two first-order lags in a row after a ramp
    const double a = 0.1, b = 0.05;
    return 3.0 * (t - (a + b) + (a * a * std::exp(-t / a) - b * b * std::exp(-t / b)) / (a - b));
  };
  for (std::size_t k = 0; k < rows.time.size(); ++k) EXPECT_NEAR(rows.smooth[k], exact(rows.time[k]), 1e-12);
}

TEST(MovingGoal, APaceCatchesWhatItCanAndChasesWhatItCannot) {
  const auto caught =
      test::play_rows(test::feel_from(ramp_feel("{ kind = \"pace\", speed = 10, acceleration = 40 }", 60)));
  EXPECT_NEAR(caught.smooth.back(), 6.0, 1e-9);
  EXPECT_NEAR(caught.velocity.back(), 3.0, 1e-9);
  const auto chased =
      test::play_rows(test::feel_from(ramp_feel("{ kind = \"pace\", speed = 2, acceleration = 40 }", 60)));
  EXPECT_NEAR(chased.velocity.back(), 2.0, 1e-12);
  for (std::size_t k = 1; k < chased.velocity.size(); ++k) {
    EXPECT_LE(std::fabs(chased.velocity[k]), 2.0 + 1e-12);
    EXPECT_LE(std::fabs(chased.velocity[k] - chased.velocity[k - 1]), 40.0 / 60.0 + 1e-9);
  }
}

/// A goal that falls faster than the pace, and comes from above at 0.5 s.
std::string falling_feel(const std::string& pace, double fps) {
  return fmt::format("[channel.a]\nrest = 0\nformula = \"-2 * time\"\nmotion = {{ kind = \"pace\", {} }}\n"
                     "[pose.p]\na = {{ add = 3 }}\n[control.c]\nkind = \"hold\"\npose = \"p\"\n"
                     "[take.t]\nlength = 3\nclock = {{ fps = {} }}\ncues = [{{ at = 0.5, press = \"c\" }}]\n",
                     pace, fps);
}

TEST(MovingGoal, APaceMeetsWhatComesTowardsIt) {
  for (const double fps : {24.0, 60.0, 240.0, 14.0}) {
    const auto rows = test::play_rows(test::feel_from(falling_feel("speed = 1", fps)));
    for (std::size_t k = 0; k < rows.time.size(); ++k) {
      const double t = rows.time[k], since = t - 0.5, meets = 2.5 / 3.0; // -0.5 + u = 2 - 2 u
      const double expected = since <= 0.0 ? -t : since <= meets ? -0.5 + since : -0.5 + meets - (since - meets);
      ASSERT_NEAR(rows.smooth[k], expected, 1e-12) << fps << ", " << t;
    }
  }
  // With an acceleration: towards the goal until they meet, then the other way; stepped in very small steps.
  for (const double fps : {24.0, 60.0, 240.0}) {
    const auto rows = test::play_rows(test::feel_from(falling_feel("speed = 1, acceleration = 3", fps)));
    double value = 0.0, speed = 0.0, t = 0.0;
    constexpr double dt = 1e-6;
    for (std::size_t k = 0; k < rows.time.size(); ++k) {
      for (; t < rows.time[k] - 0.5 * dt; t += dt) {
        const double goal = -2.0 * t + (t >= 0.5 - 0.5 * dt ? 3.0 : 0.0), wanted = goal > value ? 1.0 : -1.0;
        const double next = wanted > speed ? std::min(wanted, speed + 3.0 * dt) : std::max(wanted, speed - 3.0 * dt);
        value += 0.5 * (speed + next) * dt;
        speed = next;
      }
      ASSERT_NEAR(rows.smooth[k], value, 1e-5) << fps << ", " << rows.time[k];
    }
  }
}

TEST(MovingGoal, AnEaseReAimsWithoutANewStart) {
  // A hold jumps the goal by 1 while it rises by 3 a second: the move takes its 0.5 s, then it is on the goal.
  const std::string text = ramp_feel("{ kind = \"ease\", duration = 0.5, curve = \"in-out sine\" }", 60)
                           + "cues = [ { at = 0.5, press = \"c\" } ]\n[pose.p]\na = { add = 1 }\n[control.c]\nkind = "
                             "\"hold\"\npose = \"p\"\n";
  const auto rows = test::play_rows(test::feel_from(text));
  EXPECT_NEAR(rows.smooth[20], 1.0, 1e-12);
  EXPECT_NEAR(rows.smooth[30], 1.5, 1e-12);
  EXPECT_NEAR(rows.smooth[45], 1.5 + (3.25 - 1.5) * 0.5, 1e-12); // half of the way to where the goal now is
  EXPECT_NEAR(rows.smooth[60], 4.0, 1e-12);
  EXPECT_NEAR(rows.smooth[90], 5.5, 1e-12);
}

/// Rising and falling glides behind a goal that turns: the frame is split where the goal passes the value, so that
/// frame rates agree.
// Rule M3.
TEST(MovingGoal, RisingAndFallingAgreeAtEveryRate) {
  const auto at = [](double fps) {
    return test::play_rows(
        test::feel_from("[channel.a]\nrest = 0\nformula = \"4 * min(time, 2 - time)\"\nmotion = { rising = { kind = "
                        "\"glide\", time_constant = 0.3 }, "
                        "falling = { kind = \"glide\", time_constant = 0.1 } }\n[take.t]\nlength = 2\nclock = { fps = "
                        + std::to_string(fps) + " }\n"));
  };
  const auto coarse = at(30), fine = at(960);
  for (std::size_t k = 0; k < coarse.time.size(); ++k) EXPECT_NEAR(coarse.smooth[k], fine.smooth[32 * k], 1e-10) << k;
}

// Rule M3. What lies on its goal at a frame rises as the goal does, until it outruns it: then it falls, by a cut.
TEST(MovingGoal, WhatOutrunsAGoalThatSlowsDownFallsBackOnIt) {
  const auto rows = test::play_rows(test::feel_from(
      "[channel.a]\nrest = 0\nformula = \"1 - exp(-3 * time)\"\nmotion = { rising = { kind = \"spring\", frequency = "
      "1.4, "
      "damping_ratio = 0.3 }, falling = { kind = \"cut\" } }\n[take.t]\nlength = 3\nclock = { fps = 24 }\n"));
  std::size_t on_it = 0;
  for (std::size_t k = 0; k < rows.smooth.size(); ++k) {
    EXPECT_LE(rows.smooth[k], rows.goal[k] + 1e-14) << k;
    if (k > 0 && rows.smooth[k] == rows.goal[k]) ++on_it;
  }
  EXPECT_GT(on_it, 10u);
}

TEST(MovingGoal, ATurnGoesOnOverWholeTurns) {
  const auto rows = test::play_rows(
      test::feel_from("[channel.a]\nunit = \"deg\"\nrest = 0\nspace = \"turn\"\nformula = \"400 * time\"\nmotion = "
                      "{ kind = \"glide\", half_life = 0.05 }\n[take.t]\nlength = 2\n"));
  EXPECT_NEAR(rows.goal.back(), 800.0, 1e-9);
  for (std::size_t k = 1; k < rows.smooth.size(); ++k) EXPECT_GE(rows.smooth[k], rows.smooth[k - 1]);
}

TEST(Stick, ItsSpeedRunsUpAndDown) {
  const StickSpeed rule{10.0, 0.5, 0.25};
  const StickState up = stick_after(rule, {0.0, 0.0}, 10.0, 0.5, -100, 100);
  EXPECT_NEAR(up.base, 2.5, 1e-12);
  EXPECT_NEAR(up.speed, 10.0, 1e-12);
  const StickState down = stick_after(rule, up, 0.0, 1.0, -100, 100);
  EXPECT_NEAR(down.base, 2.5 + 1.25, 1e-12);
  EXPECT_EQ(down.speed, 0.0);
  const StickState turned = stick_after(rule, up, -10.0, 0.75, -100, 100);
  EXPECT_NEAR(turned.base, 2.5 + 1.25 - 2.5, 1e-12);
  EXPECT_NEAR(turned.speed, -10.0, 1e-12);
}

/// In one go or in pieces, within the range or at its end.
// Rule K12.
TEST(Stick, PiecesAddUpAndEndsDoNotWind) {
  const StickSpeed rule{3.0, 0.4, 0.3};
  for (double target = -3.0; target <= 3.0; target += 0.5) {
    StickState pieces{0.2, 1.3};
    const StickState whole = stick_after(rule, pieces, target, 1.7, -1, 1);
    for (int k = 0; k < 17; ++k) pieces = stick_after(rule, pieces, target, 0.1, -1, 1);
    EXPECT_NEAR(pieces.base, whole.base, 1e-12) << target;
    EXPECT_LE(std::fabs(whole.base), 1.0);
  }
  const StickState pushed = stick_after(rule, {0.0, 0.0}, 3.0, 60.0, -1, 1);
  EXPECT_EQ(pushed.base, 1.0);
  EXPECT_LT(stick_after(rule, pushed, -3.0, 0.1, -1, 1).base, 1.0); // back at once
}

TEST(Stick, DeadBandStartsEvenly) {
  EXPECT_EQ(response_to(0.1, {.dead_band = 0.1}), 0.0);
  EXPECT_NEAR(response_to(0.55, {.dead_band = 0.1}), 0.5, 1e-12);
  EXPECT_EQ(response_to(-1.0, {.dead_band = 0.1}), -1.0);
}

TEST(Stick, RespondsByAPowerBetweenItsDeadBands) {
  const StickResponse response{.dead_band = 0.1, .outer_dead_band = 0.1, .exponent = 2.0};
  EXPECT_EQ(response_to(0.1, response), 0.0);
  EXPECT_NEAR(response_to(0.5, response), 0.25, 1e-12);
  EXPECT_NEAR(response_to(-0.5, response), -0.25, 1e-12);
  EXPECT_EQ(response_to(0.9, response), 1.0); // where the outer band begins, though 0.8 / 0.8 is not 1 in binary
  EXPECT_EQ(response_to(0.95, response), 1.0);
  EXPECT_EQ(response_to(1.0, response), 1.0);
}

/// A pan whose speed is the distance: 4, and 8 while the toggle is on, each press of which counts.
TEST(Stick, ItsSpeedMayBeAChannel) {
  for (const double fps : {24.0, 60.0, 240.0}) {
    const Feel feel = test::feel_from(
        "[channel.distance]\nrest = 4\nmotion = { kind = \"cut\" }\n[channel.pan]\nrest = 0\nrange = [-100, "
        "100]\nmotion = { kind = \"cut\" }\n[pose.far]\ndistance = 8\n[control.far]\nkind = \"toggle\"\npose = "
        "\"far\"\n[control.s]\nkind = \"stick\"\nchannel = \"pan\"\ngain = \"distance\"\n[take.t]\nlength = 4\nclock = "
        "{ fps = "
        + std::to_string(fps)
        + " }\ncues = [{ at = 0.5, stick = \"s\", value = 0.5 }, { at = 1, press = \"far\" }, { at = 2, press = "
          "\"far\" }, { at = 3, stick = \"s\", value = 0 }]\n");
    const auto rows = test::play_rows(feel, 1);
    // The channel's value of a frame acts from the next one on: a frame late each time, in and out alike.
    EXPECT_NEAR(rows.value.back(), 0.5 * (4 * 0.5 + 8 * 1 + 4 * 1), 1e-9) << fps;
    EXPECT_EQ(test::play_measures(feel).moves.size(), 2U); // out and back: both presses counted
  }
}

std::string stick_feel(const std::string& more, double fps) {
  return "[channel.d]\nrest = 4\nrange = [1, 16]\nspace = \"ratio\"\nmotion = { kind = \"glide\", half_life = 0.1 "
         "}\n[control.s]\nkind = "
         "\"stick\"\nchannel = \"d\"\n"
         + more + "[take.t]\nlength = 4\nclock = { fps = " + std::to_string(fps)
         + " }\ncues = [ { at = 0.5, stick = \"s\", value = 1, for = 1 }, { at = 2.5, stick = \"s\", value = -0.5, for "
           "= 1 } ]\n";
}

// Rule K12.
TEST(Stick, MovesByDoublingsInARatioAtAnyRate) {
  for (const double fps : {30.0, 60.0, 120.0}) {
    const auto rows = test::play_rows(test::feel_from(stick_feel("gain = 1\n", fps)));
    const auto at = [&](double t) { return rows.goal[static_cast<std::size_t>(std::lround(t * fps))]; };
    EXPECT_NEAR(at(1.0), 4.0 * std::sqrt(2.0), 1e-9);
    EXPECT_NEAR(at(2.0), 8.0, 1e-9);
    EXPECT_NEAR(at(4.0), 8.0 / std::sqrt(2.0), 1e-9);
  }
}

// Rule K13.
TEST(Pointer, FollowsItsCountsNoFasterThanItsTopSpeed) {
  for (const double fps : {30.0, 60.0}) {
    const auto rows = test::play_rows(test::feel_from(
        "[channel.a]\nrest = 0\nrange = [0, 10]\n[control.p]\nkind = \"pointer\"\nchannel = \"a\"\ngain = "
        "0.1\ntop_speed = "
        "4\n[take.t]\nlength = 6\nclock = { fps = "
        + std::to_string(fps)
        + " }\ncues = [ { at = 0.5, pointer = \"p\", counts = 60 }, { at = 1, pointer = \"p\", counts = 1000 } ]\n"));
    const auto at = [&](double t) { return rows.goal[static_cast<std::size_t>(std::lround(t * fps))]; };
    EXPECT_NEAR(at(1.0), 2.0, 1e-12);
    EXPECT_NEAR(at(2.0), 6.0, 1e-12);
    EXPECT_EQ(at(3.5), 10.0); // the rest of the counts is lost at the end of the range
    EXPECT_EQ(at(6.0), 10.0);
  }
}

TEST(Stick, AnAbsoluteOneIsAPlace) {
  const auto rows = test::play_rows(test::feel_from(stick_feel("position = \"absolute\"\n", 60)));
  EXPECT_EQ(rows.goal[60], 16.0);
  EXPECT_EQ(rows.goal[120], 4.0);
  EXPECT_NEAR(rows.goal[180], 2.0, 1e-12); // half-way down to 1 in factors
}

} // namespace
} // namespace stasis
