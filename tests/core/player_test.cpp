// The rules of docs/design.md, section 3, row by row.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "core/units.hpp"
#include "support/exact.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_rows;
using test::step_feel;

// Rule F6.
TEST(Player, AJumpShowsTheNewGoalAndTheOldValue) {
  const auto rows = play_rows(feel_from(step_feel("kind = \"glide\", half_life = 0.1", 60, 1, 0.5)));
  EXPECT_EQ(rows.goal[29], 0.0);
  EXPECT_EQ(rows.goal[30], 1.0);
  EXPECT_EQ(rows.smooth[30], 0.0);
  EXPECT_NEAR(rows.velocity[30], std::log(2.0) / 0.1, 1e-12); // the rate just after the goal acts
  EXPECT_EQ(rows.velocity[29], 0.0);
  EXPECT_GT(rows.smooth[31], 0.0);
}

// Rule F6.
TEST(Player, ACutShowsInTheNextRow) {
  const auto rows = play_rows(feel_from(step_feel("kind = \"cut\"", 60, 1, 0.5)));
  EXPECT_EQ(rows.smooth[30], 0.0);
  EXPECT_EQ(rows.goal[30], 1.0);
  EXPECT_EQ(rows.smooth[31], 1.0);
}

// Rule C2.
TEST(Player, ACueBetweenFramesActsAtTheNextOne) {
  const auto rows = play_rows(feel_from(step_feel("kind = \"cut\"", 60, 1, 0.505)));
  EXPECT_EQ(rows.goal[30], 0.0);
  EXPECT_EQ(rows.goal[31], 1.0);
}

// Rule F4.
TEST(Player, PathsAreTheSameAtEveryRate) {
  for (const char* motion :
       {"kind = \"spring\", frequency = 1.7, damping_ratio = 0.4", "kind = \"glide\", half_life = 0.2",
        "kind = \"ease\", duration = 0.7, curve = \"ease\""}) {
    const auto slow = play_rows(feel_from(step_feel(motion, 24, 3, 0.5)));
    const auto fast = play_rows(feel_from(step_feel(motion, 240, 3, 0.5)));
    for (std::size_t k = 0; k < slow.time.size(); ++k)
      EXPECT_NEAR(slow.smooth[k], fast.smooth[10 * k], 1e-13) << motion;
  }
}

/// Press, and release half-way: what each motion does from there on.
TEST(Player, ASpringReversedHalfWayCarriesItsSpeed) {
  const double w = angular_frequency(1.5), z = 0.6;
  const auto rows = play_rows(feel_from(step_feel("kind = \"spring\", frequency = 1.5, damping_ratio = 0.6", 60, 2, 0.5,
                                                  "{ at = 0.7, release = \"c\" }")));
  const auto turn = test::exact_spring(w, z, false, 0, 0, 1, 0, 0.2);
  for (std::size_t k = 42; k < rows.time.size(); ++k) {
    const auto exact =
        test::exact_spring(w, z, false, turn.value, turn.velocity, 0, 0, test::Real(static_cast<int>(k) - 42) / 60);
    EXPECT_NEAR(rows.smooth[k], static_cast<double>(exact.value), 1e-13);
    EXPECT_NEAR(rows.velocity[k], static_cast<double>(exact.velocity), 1e-12);
    EXPECT_EQ(rows.goal[k], 0.0);
  }
}

TEST(Player, AGlideReversedHalfWayTurnsAtOnce) {
  const double rate = std::log(2.0) / 0.15;
  const auto rows = play_rows(
      feel_from(step_feel("kind = \"glide\", half_life = 0.15", 60, 2, 0.5, "{ at = 0.7, release = \"c\" }")));
  const double turn = -std::expm1(-rate * 0.2);
  EXPECT_NEAR(rows.smooth[42], turn, 1e-14);
  EXPECT_NEAR(rows.velocity[42], -rate * turn, 1e-13);
  for (std::size_t k = 42; k < rows.time.size(); ++k)
    EXPECT_NEAR(rows.smooth[k], turn * std::exp(-rate * (static_cast<double>(k) - 42) / 60), 1e-14);
}

TEST(Player, AnEasedMoveReversedHalfWayTakesItsFullDurationAgain) {
  const auto rows = play_rows(feel_from(step_feel("kind = \"ease\", duration = 0.4, curve = \"ease-in-out\"", 60, 2,
                                                  0.5, "{ at = 0.7, release = \"c\" }")));
  const Curve curve = *parse_curve("ease-in-out");
  EXPECT_DOUBLE_EQ(rows.smooth[42], evaluate(curve, 0.5).value);
  EXPECT_EQ(rows.velocity[42], 0.0); // the speed jumps: this curve starts from standing
  for (std::size_t k = 42; k <= 66; ++k) {
    const double share = (static_cast<double>(k) - 42) / 60 / 0.4;
    EXPECT_NEAR(rows.smooth[k], rows.smooth[42] * (1 - evaluate(curve, share).value), 1e-15);
  }
  EXPECT_GT(rows.smooth[65], 0.0);
  for (std::size_t k = 66; k < rows.time.size(); ++k) EXPECT_EQ(rows.smooth[k], 0.0);
}

// Rule F12.
TEST(Player, AnEaseReversedOnTheFrameOfArrivalStartsFromItsGoal) {
  const auto rows =
      play_rows(feel_from(step_feel("kind = \"ease\", duration = 0.4", 60, 2, 0.5, "{ at = 0.9, release = \"c\" }")));
  EXPECT_EQ(rows.smooth[54], 1.0);
  EXPECT_EQ(rows.goal[54], 0.0);
  EXPECT_EQ(rows.smooth[78], 0.0);
}

// Rule C1.
TEST(Player, GoalsAreReadOnceAfterAllDueCues) {
  const auto feel = feel_from(step_feel("kind = \"cut\"", 60, 1, 0.5, "{ at = 0.5, release = \"c\" }"));
  const auto rows = play_rows(feel);
  for (const double value : rows.smooth) EXPECT_EQ(value, 0.0);
  const auto measures = test::play_measures(feel);
  EXPECT_TRUE(measures.moves.empty());
  ASSERT_FALSE(measures.notes.empty());
  EXPECT_EQ(measures.notes[0], "c was pressed at 0.5 s and let go at 0.5 s, within one frame: lost at 60 fps");
}

// Rule C4.
TEST(Player, SecondPressesAndEarlyReleasesAreIgnoredWithANote) {
  const auto measures =
      test::play_measures(feel_from(step_feel("kind = \"cut\"", 60, 2, 0.5,
                                              "{ at = 0.1, release = \"c\" }, { at = 0.8, press = \"c\" }, { at = 1.0, "
                                              "cancel = \"c\" }, { at = 1.2, release = \"c\" }")));
  ASSERT_EQ(measures.moves.size(), 2u);
  EXPECT_EQ(measures.moves[0].cause, "press c");
  EXPECT_EQ(measures.moves[1].cause, "cancel c");
  ASSERT_GE(measures.notes.size(), 3u);
  EXPECT_EQ(measures.notes[0], "release c at 0.1 s ignored: it is already up");
  EXPECT_EQ(measures.notes[1], "press c at 0.8 s ignored: it is already down");
  EXPECT_EQ(measures.notes[2], "release c at 1.2 s ignored: it is already up");
}

// Rule C6.
TEST(Player, CancelLeadsHomeAsReleaseDoes) {
  const char* motion = "kind = \"spring\", frequency = 1, damping_ratio = 0.5";
  const auto released = play_rows(feel_from(step_feel(motion, 60, 3, 0.5, "{ at = 0.9, release = \"c\" }")));
  const auto cancelled = play_rows(feel_from(step_feel(motion, 60, 3, 0.5, "{ at = 0.9, cancel = \"c\" }")));
  EXPECT_EQ(released.smooth, cancelled.smooth);
}

constexpr const char* held_poses = R"(feel = 1
[channel.a]
rest = 0
[channel.b]
rest = 5
[pose.low]
a = 1
[pose.high]
a = 2
b = 7
[control.one]
kind = "hold"
pose = "low"
[control.two]
kind = "hold"
pose = "high"
[take.t]
length = 1
clock = { fps = 10 }
cues = [ { at = 0.1, press = "one" }, { at = 0.3, press = "two" }, { at = 0.5, release = "two" }, { at = 0.7, press = "two" }, { at = 0.8, release = "one" } ]
)";

// Rule K3.
TEST(Player, ThePosePressedLastIsInForceByChannelAndFallsBackToTheOneStillHeld) {
  const Feel feel = feel_from(held_poses);
  EXPECT_EQ(play_rows(feel, 0).goal, (std::vector<double>{0, 1, 1, 2, 2, 1, 1, 2, 2, 2, 2}));
  EXPECT_EQ(play_rows(feel, 1).goal, (std::vector<double>{5, 5, 5, 7, 7, 5, 5, 7, 7, 7, 7}));
}

// Rule F10.
TEST(Player, RangeClampsGoalAndOutputWhileTheMotionRunsOnUnderneath) {
  const std::string text = R"(feel = 1
[channel.a]
rest = 0
range = [-1, 1]
motion = { kind = "spring", frequency = 1, damping_ratio = 0.2 }
[channel.free]
rest = 0
motion = { kind = "spring", frequency = 1, damping_ratio = 0.2 }
[pose.p]
a = 3
free = 1
[control.c]
kind = "hold"
pose = "p"
[take.t]
length = 4
cues = [{ at = 0, press = "c" }]
)";
  const Feel feel = feel_from(text);
  const auto rows = play_rows(feel, 0), free = play_rows(feel, 1);
  double held = 0;
  for (std::size_t k = 0; k < rows.time.size(); ++k) {
    EXPECT_EQ(rows.goal[k], 1.0);
    EXPECT_EQ(rows.smooth[k], std::min(free.smooth[k], 1.0));
    if (free.smooth[k] > 1.0) {
      EXPECT_EQ(rows.velocity[k], 0.0);
      held += 1.0 / 60;
    }
  }
  EXPECT_GT(held, 0.5);
  const auto measures = test::play_measures(feel);
  EXPECT_NEAR(measures.channels[0].time_at_limit.value_or(-1), held, 0.02);
  EXPECT_EQ(measures.moves[0].overshoot, 0.0);
  EXPECT_TRUE(has_wish_column(feel, 0));
  EXPECT_FALSE(has_wish_column(feel, 1));
}

TEST(Player, AValueThatIsItsGoalIsReportedAsTheGoalWasWritten) {
  const Feel feel = feel_from(R"(feel = 1
[channel.fov]
unit = "deg"
rest = 62
space = "zoom"
motion = { kind = "ease", duration = 0.3 }
[pose.p]
fov = 30
[control.c]
kind = "hold"
pose = "p"
[take.t]
length = 2
cues = [{ at = 0.5, press = "c" }]
)");
  const auto rows = play_rows(feel);
  for (std::size_t k = 0; k <= 30; ++k) EXPECT_EQ(rows.smooth[k], 62.0);
  for (std::size_t k = 48; k < rows.smooth.size(); ++k) EXPECT_EQ(rows.smooth[k], 30.0);
}

// Rule F13.
TEST(Player, BlocksDoNotChangeTheResult) {
  // A take longer than a block, with a cue of another channel cutting it up, against one without.
  const auto text = [](const char* more) {
    return fmt::format(R"(feel = 1
[channel.a]
rest = 0
motion = {{ kind = "ease", duration = 3 }}
[channel.b]
rest = 0
[pose.p]
a = 1
[pose.q]
b = 1
[control.c]
kind = "hold"
pose = "p"
[control.d]
kind = "hold"
pose = "q"
[take.t]
length = 10
clock = {{ fps = 240 }}
cues = [{{ at = 0.5, press = "c" }}, {}]
)",
                       more);
  };
  const auto plain = play_rows(feel_from(text("")));
  const auto cut = play_rows(
      feel_from(text("{ at = 1.1, press = \"d\" }, { at = 1.9, release = \"d\" }, { at = 3.5, press = \"d\" }")));
  EXPECT_EQ(plain.smooth, cut.smooth);
  EXPECT_EQ(plain.velocity, cut.velocity);
}

// Rule F8.
TEST(Player, ATakeOfOneFrameHasOneRow) {
  const auto rows = play_rows(feel_from(step_feel("kind = \"glide\", half_life = 1", 60, 0, 0)));
  ASSERT_EQ(rows.time.size(), 1u);
  EXPECT_EQ(rows.goal[0], 1.0);
  EXPECT_EQ(rows.smooth[0], 0.0);
}

} // namespace
} // namespace stasis
