// Which motion acts: by direction, on entering and leaving a pose; spaces that go by factors and round and
// round.
#include <cmath>
#include <numbers>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/units.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;

constexpr const char* two_motions = R"(
[channel.a]
rest = 0
range = [-10, 10]
motion = {}
[motion.slow]
kind = "glide"
half_life = 0.2
[motion.quick]
kind = "glide"
half_life = 0.02
[motion.swing]
kind = "spring"
frequency = 2
damping_ratio = 0.3
[pose.up]
a = 1
{}
[control.up]
kind = "hold"
pose = "up"
[take.t]
length = 3
cues = [ {{ at = 0.5, press = "up" }}, {{ at = 1.5, release = "up" }} ]
)";

std::string with(const std::string& motion, const std::string& pose = "") {
  return fmt::format(fmt::runtime(two_motions), motion, pose);
}

// Rule M2.
TEST(MotionChoice, RisingAndFallingEachHaveTheirOwn) {
  const auto measures = play_measures(feel_from(with("{ rising = \"slow\", falling = \"quick\" }")));
  ASSERT_EQ(measures.moves.size(), 2u);
  EXPECT_NEAR(*measures.moves[0].delay_time, 0.2, 1e-12);
  EXPECT_NEAR(*measures.moves[1].delay_time, 0.02, 1e-12);
}

// Rule M2.
TEST(MotionChoice, AnOvershootDoesNotChangeTheDirection) {
  const Feel swinging = feel_from(with("{ rising = \"swing\", falling = \"quick\" }")),
             alone = feel_from(with("\"swing\""));
  const auto a = play_rows(swinging), b = play_rows(alone);
  for (std::size_t row = 0; row < 90; ++row)
    EXPECT_EQ(a.smooth[row], b.smooth[row]) << row; // up to the release at 1.5 s
  EXPECT_GT(*play_measures(swinging).moves[0].overshoot, 30.0);
}

// Rule M1.
TEST(MotionChoice, EnteringBelongsToThePoseLeavingToTheWayHome) {
  const auto measures = play_measures(feel_from(with("\"swing\"", "entering = \"slow\"\nleaving = { a = \"quick\" }")));
  EXPECT_NEAR(*measures.moves[0].delay_time, 0.2, 1e-12);
  EXPECT_NEAR(*measures.moves[1].delay_time, 0.02, 1e-12);
  const auto entering = play_measures(feel_from(with("\"quick\"", "entering = \"slow\"")));
  EXPECT_NEAR(*entering.moves[1].delay_time, 0.02, 1e-12);
}

// Rule M4.
TEST(MotionChoice, AnotherMotionTakesValueAndSpeedOver) {
  const auto rows = play_rows(feel_from(R"(
[channel.a]
rest = 0
motion = { kind = "ease", duration = 1, curve = "linear" }
[pose.far]
a = 10
[pose.near]
a = 4
entering = { kind = "spring", frequency = 1, damping_ratio = 1 }
[control.far]
kind = "hold"
pose = "far"
[control.near]
kind = "hold"
pose = "near"
[take.t]
length = 2
clock = { fps = 100 }
cues = [ { at = 0, press = "far" }, { at = 0.3, press = "near" } ]
)"));
  EXPECT_NEAR(rows.smooth[30], 3.0, 1e-14);
  EXPECT_NEAR(rows.velocity[30], 10.0, 1e-12) << "the spring starts with the speed that the eased move had";
  const double w = angular_frequency(1.0), t = 0.25; // critically damped: (A + B t) e^-wt about the goal
  EXPECT_NEAR(rows.smooth[55], 4.0 + (-1.0 + (10.0 - w) * t) * std::exp(-w * t), 1e-12);
}

TEST(MotionChoice, NeedsBothDirectionsAndOneComponent) {
  EXPECT_EQ(test::problems_of(with("{ rising = \"slow\" }"))[0].code, "feel.missing_key");
  EXPECT_EQ(test::problems_of(with("{ rising = \"slow\", faling = \"quick\" }"))[0].code, "feel.missing_key");
  EXPECT_EQ(test::problems_of(
                "[channel.v]\nrest = [0, 0]\nmotion = { rising = { kind = \"cut\" }, falling = { kind = \"cut\" } }")[0]
                .code,
            "feel.motion");
  EXPECT_TRUE(
      test::problems_of(
          "[channel.v]\nrest = [0, 0]\nmotion = { x = { rising = { kind = \"cut\" }, falling = { kind = \"cut\" } } }")
          .empty());
}

TEST(PoseGoal, MayBeAFactorASumOrOneComponent) {
  const Feel feel = feel_from(R"(
[channel.d]
rest = 4
[channel.focus]
rest = [1, 2, 3]
[pose.p]
d = { times = 1.5 }
"focus.y" = 9
[pose.q]
d = { add = -1 }
focus = { add = [1, 0, -1] }
[pose.r]
focus = { x = 5, z = { times = 2 } }
)");
  const auto value = [&](std::size_t pose, std::size_t goal, std::size_t i) {
    const PoseGoal& g = feel.poses[pose].goals[goal];
    return g.value[i].of(feel.channels[g.channel].rest[i]);
  };
  EXPECT_EQ(value(0, 0, 0), 6.0);
  EXPECT_EQ(feel.poses[0].goals[1].value[0].rule, GoalRule::none);
  EXPECT_EQ(value(0, 1, 1), 9.0);
  EXPECT_EQ(value(1, 0, 0), 3.0);
  EXPECT_EQ(value(1, 1, 2), 2.0);
  EXPECT_EQ(value(2, 0, 0), 5.0);
  EXPECT_EQ(value(2, 0, 2), 6.0);
  EXPECT_EQ(test::problems_of("[channel.d]\nrest = 4\n[pose.p]\n\"d.y\" = 1")[0].code, "feel.unknown_key");
  EXPECT_EQ(test::problems_of("[channel.d]\nrest = [4, 4]\n[pose.p]\n\"d.z\" = 1")[0].code, "feel.unknown_key");
}

std::string turning(double rest, double goal, const std::string& motion, const std::string& unit = "deg") {
  return fmt::format("[channel.yaw]\nunit = \"{}\"\nspace = \"turn\"\nrest = {}\nmotion = {{ {} }}\n[pose.p]\nyaw = "
                     "{}\n[control.p]\nkind = \"hold\"\n"
                     "pose = \"p\"\n[take.t]\nlength = 2\ncues = [ {{ at = 0, press = \"p\" }} ]\n",
                     unit, rest, motion, goal);
}

TEST(TurnSpace, TakesTheShortWay) {
  const struct {
    double rest, goal, end;
  } cases[] = {{350, 10, 370},    {10, 350, -10}, {0, 180, 180},     {180, 0, 360},
               {-170, 170, -190}, {0, 720, 0},    {5, 184.5, 184.5}, {350.1, 170.1, 530.1}};
  for (const auto& one : cases) {
    const auto rows = play_rows(feel_from(turning(one.rest, one.goal, "kind = \"ease\", duration = 0.5")));
    EXPECT_NEAR(rows.smooth.back(), one.end, 1e-9) << one.rest << " to " << one.goal;
    EXPECT_NEAR(rows.goal.back(), one.end, 1e-9);
    for (const double value : rows.smooth) EXPECT_LE(std::fabs(value - one.rest), 180 + 1e-9);
  }
  EXPECT_NEAR(play_rows(feel_from(turning(6.0, 0.5, "kind = \"cut\"", "rad"))).smooth.back(),
              0.5 + 2 * std::numbers::pi, 1e-12);
}

TEST(TurnSpace, ManyTurnsAreCountedOnWithoutAJump) {
  std::string feel = "[channel.yaw]\nunit = \"deg\"\nspace = \"turn\"\nrest = 0\nmotion = { kind = \"spring\", "
                     "frequency = 1, damping_ratio = 1 }\n";
  std::string cues;
  for (int i = 1; i <= 3; ++i)
    feel +=
        fmt::format("[pose.p{0}]\nyaw = {1}\n[control.p{0}]\nkind = \"hold\"\npose = \"p{0}\"\n", i, (120 * i) % 360);
  for (int k = 0; k < 12; ++k)
    cues += fmt::format("{{ at = {}, press = \"p{}\" }}, {{ at = {}, release = \"p{}\" }},", 0.4 * k, k % 3 + 1,
                        0.4 * k + 0.4, k % 3 + 1);
  feel += "[take.t]\nlength = 6\ncues = [" + cues + "]\n";
  const auto rows = play_rows(feel_from(feel));
  for (std::size_t row = 1; row < rows.smooth.size(); ++row)
    EXPECT_LT(std::fabs(rows.smooth[row] - rows.smooth[row - 1]), 12.0) << row;
  EXPECT_GT(rows.smooth.back(), 1080.0) << "three turns and more";
}

TEST(RatioSpace, LooksTheSameNearAndFar) {
  const auto far_off = [](double rest) {
    return play_rows(feel_from(fmt::format(
        "[channel.d]\nunit = \"m\"\nspace = \"ratio\"\nrest = {}\nmotion = {{ kind = \"spring\", frequency = 2, "
        "damping_ratio = 0.4 }}\n"
        "[pose.p]\nd = {{ times = 2.5 }}\n[control.p]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2\n"
        "cues = [ {{ at = 0.1, press = \"p\" }} ]\n",
        rest)));
  };
  const auto near = far_off(0.7), far = far_off(1234.5);
  for (std::size_t row = 0; row < near.smooth.size(); ++row) {
    EXPECT_NEAR(near.smooth[row] / 0.7, far.smooth[row] / 1234.5, 1e-12);
    EXPECT_NEAR(near.velocity[row] / 0.7, far.velocity[row] / 1234.5, 1e-10);
  }
  EXPECT_EQ(test::problems_of("[channel.d]\nspace = \"ratio\"\nrest = 0")[0].code, "feel.outside_space");
}

TEST(ZoomSpace, AGlideClosesPictureScaleByOneFactorPerTime) {
  const auto rows = play_rows(feel_from(R"(
[channel.fov]
unit = "deg"
rest = 62
space = "zoom"
motion = { kind = "glide", half_life = 0.1 }
[pose.aim]
fov = 38
[control.aim]
kind = "hold"
pose = "aim"
[take.t]
length = 1
cues = [ { at = 0, press = "aim" } ]
)"));
  const auto left = [&](std::size_t row) {
    return std::log(std::tan(radians(rows.smooth[row]) / 2) / std::tan(radians(38) / 2));
  };
  for (std::size_t row = 1; row < 40; ++row) EXPECT_NEAR(left(row) / left(row - 1), std::exp2(-1 / 6.0), 1e-12) << row;
}

// Rule M5.
TEST(ThereAndBack, TheGoalReturnsAtTheTurnAndTheWayHomeIsOneWay) {
  const auto feel = feel_from(test::step_feel("kind = \"ease\", duration = 0.4, there_and_back = true", 60, 3.0, 0.5,
                                              "{ at = 2, release = \"c\" }"));
  const auto rows = play_rows(feel);
  EXPECT_EQ(rows.goal[53], 1.0);
  EXPECT_EQ(rows.goal[54], 0.0) << "0.9 s";
  EXPECT_NEAR(rows.smooth[54], 1.0, 1e-12);
  EXPECT_EQ(rows.smooth[78], 0.0);
  EXPECT_EQ(rows.smooth.back(), 0.0);
  const auto measures = play_measures(feel);
  ASSERT_EQ(measures.moves.size(), 2u);
  EXPECT_EQ(measures.moves[1].cause, "turn");
  EXPECT_NEAR(*measures.moves[0].delay_time, 0.2, 1e-9);
  EXPECT_NEAR(*measures.moves[1].delay_time, 0.2, 1e-9);
  EXPECT_TRUE(measures.moves[0].settling_time.has_value());
}

// Steps jump to their end at the very turn: each way is measured from end to end, at any rate.
TEST(ThereAndBack, StepsAreMeasuredFromEndToEnd) {
  for (const double fps : {24.0, 30.0, 60.0, 1000.0})
    for (const double duration : {0.1, 0.25, 0.5}) {
      const auto measures = play_measures(feel_from(test::step_feel(
          fmt::format("kind = \"ease\", duration = {}, curve = \"steps(4)\", there_and_back = true, repeat = 2",
                      duration),
          fps, 4, 0.5)));
      ASSERT_EQ(measures.moves.size(), 4u) << fps << ' ' << duration;
      for (std::size_t k = 0; k < 4; ++k) {
        const Move& move = measures.moves[k];
        EXPECT_NEAR(move.from[0], k % 2 == 0 ? 0.0 : 1.0, 1e-12) << fps << ' ' << duration << ' ' << k;
        EXPECT_NEAR(move.to[0], k % 2 == 0 ? 1.0 : 0.0, 1e-12) << fps << ' ' << duration << ' ' << k;
        ASSERT_TRUE(move.delay_time && move.rise_time && move.settling_time) << fps << ' ' << duration << ' ' << k;
        EXPECT_NEAR(*move.delay_time, 0.5 * duration, 1e-9);
        EXPECT_NEAR(*move.rise_time, 0.75 * duration, 1e-9) << "from the first step to the last";
        EXPECT_NEAR(*move.settling_time, duration, 1e-9);
        EXPECT_NEAR(move.settled_value[0], move.to[0], 1e-12) << "where it came by the last step";
      }
    }
}

TEST(ThereAndBack, ATurnAndAReleaseAtOneInstantAreToldInOneOrder) {
  for (const double fps : {10.0, 20.0, 24.0, 30.0, 50.0, 60.0, 1000.0})
    for (const double duration : {0.1, 0.2, 0.5}) {
      const auto measures = play_measures(feel_from(fmt::format(
          "[channel.a]\nrest = 0\nmotion = {{ kind = \"ease\", duration = {0}, curve = \"linear\", there_and_back = "
          "true, "
          "repeat = 2 }}\n[pose.p]\na = 1\n[control.k]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 3\n"
          "clock = {{ fps = {1} }}\ncues = [{{ at = 0.5, press = \"k\", for = {0} }}]\n",
          duration, fps)));
      if (std::fabs(std::round(duration * fps) - duration * fps) > 1e-9) continue; // the release waits for its frame
      if (std::fabs(std::round(0.5 * fps) - 0.5 * fps) > 1e-9) continue;
      std::vector<std::string> causes;
      for (const Move& move : measures.moves) causes.push_back(move.cause);
      EXPECT_EQ(causes, (std::vector<std::string>{"press k", "turn", "release k"})) << fps << ' ' << duration;
    }
}

// Rule M5. A channel of which another motion waits, and whose home a stick could move, keeps the way of its goal.
TEST(ThereAndBack, TheWayBackIsTheSameWhereAnotherMotionOfTheChannelWaits) {
  for (const char* curve : {"linear", "steps(4)", "ease-in-out"}) {
    const std::string motion =
        fmt::format("kind = \"ease\", duration = 0.15, curve = \"{}\", there_and_back = true, repeat = 2", curve);
    const std::string alone = test::step_feel(motion, 48, 1.5, 0.1);
    const std::string waiting = R"([pose.later]
a = 0.5
entering = { a = { kind = "stages", stages = [{ kind = "delay", delay = 0.3 }, { kind = "glide", half_life = 0.1 }] } }
[control.later]
kind = "hold"
pose = "later"
[control.tilt]
kind = "stick"
channel = "a"
gain = 1
)";
    const auto take = alone.find("[take.");
    const std::string both = alone.substr(0, take) + waiting + alone.substr(take);
    EXPECT_EQ(play_rows(feel_from(alone)).smooth, play_rows(feel_from(both)).smooth) << curve;
    EXPECT_EQ(play_rows(feel_from(alone)).goal, play_rows(feel_from(both)).goal) << curve;
  }
}

TEST(Channels, AMoveOfOneNeverTouchesAnother) {
  std::mt19937_64 random(11);
  const char* const motions[] = {
      "kind = \"spring\", frequency = 3, damping_ratio = 0.4",
      "kind = \"glide\", half_life = 0.1",
      "kind = \"ease\", duration = 0.3",
      "kind = \"pace\", speed = 4, acceleration = 20",
      "kind = \"delay\", delay = 0.05",
      "kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.07 }, { kind = \"glide\", half_life = 0.1 }]"};
  for (int i = 0; i < 60; ++i) {
    const auto pick = [&] { return motions[random() % std::size(motions)]; };
    const std::string a = fmt::format("[channel.a]\nrest = 0\nmotion = {{ {} }}\n", pick());
    const std::string b = fmt::format("[channel.b]\nrest = 5\nmotion = {{ {} }}\n", pick());
    const std::string rest = fmt::format(
        "[pose.p]\na = 1\n[control.p]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 1\nclock = {{ fps = {} }}\n"
        "cues = [ {{ at = 0.11, press = \"p\" }}, {{ at = 0.45, release = \"p\" }} ]\n",
        30 + static_cast<int>(random() % 120));
    const auto together = play_rows(feel_from(a + b + rest), 0), alone = play_rows(feel_from(a + rest), 0);
    EXPECT_EQ(together.smooth, alone.smooth);
    EXPECT_EQ(together.velocity, alone.velocity);
    for (const double value : play_rows(feel_from(a + b + rest), 1).smooth) EXPECT_EQ(value, 5.0);
  }
}

} // namespace
} // namespace stasis
