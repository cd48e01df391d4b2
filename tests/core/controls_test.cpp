// What inputs do, by kind of control and by policy of a group.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "core/take/ladder.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

const std::string channels = R"(
[channel.a]
rest = 0
range = [-10, 10]
[channel.d]
unit = "m"
rest = 4
range = [1.2, 9]
space = "ratio"
[channel.side]
rest = 0.55
range = [-0.8, 0.8]
motion = { kind = "ease", duration = 0.4, curve = "linear" }
[pose.left]
a = -1
[pose.right]
a = 2
[pose.far]
a = { add = 5 }
side = 0.7
)";

std::string with_cues(const std::string& controls, const std::string& cues, double length = 10) {
  return channels + controls + "[take.t]\nlength = " + std::to_string(length) + "\nclock = { fps = 100 }\ncues = [ "
         + cues + " ]\n";
}

/// The goal of `a` (or another channel) at a time.
double goal_at(const std::string& text, double time, std::size_t channel = 0) {
  const auto rows = test::play_rows(test::feel_from(text), channel);
  return rows.goal[static_cast<std::size_t>(std::lround(time * 100.0))];
}

// Rule K1.
TEST(Hold, MayStay) {
  const std::string feel =
      with_cues("[control.l]\nkind = \"hold\"\npose = \"left\"\non_release = \"stay\"\n[control.f]\nkind = "
                "\"hold\"\npose = \"far\"\non_release = \"stay\"\n",
                "{ at = 1, press = \"l\", for = 1 }, { at = 3, press = \"f\", for = 1 }, { at = 5, press "
                "= \"f\" }, { at = 6, cancel = \"f\" }");
  EXPECT_EQ(goal_at(feel, 0.5), 0.0);
  EXPECT_EQ(goal_at(feel, 2.5), -1.0);
  EXPECT_EQ(goal_at(feel, 3.5), 4.0); // added to the new home
  EXPECT_EQ(goal_at(feel, 4.5), 4.0);
  EXPECT_EQ(goal_at(feel, 6.5), 9.0); // a cancel acts as a release
}

TEST(Hold, IsDownUntilItsLastButtonIsUp) {
  const std::string feel =
      with_cues("[control.l]\nkind = \"hold\"\npose = \"left\"\nbuttons = [\"one\", \"two\"]\n",
                "{ at = 1, press = \"one\" }, { at = 2, press = \"two\" }, { at = 3, release = \"one\" }, "
                "{ at = 4, release = \"two\" }, { at = 5, press = \"one\" }, { at = 6, press = \"two\" }, "
                "{ at = 7, cancel = \"l\" }");
  for (const auto& [time, goal] : {std::pair{1.5, -1.0}, {2.5, -1.0}, {3.5, -1.0}, {4.5, 0.0}, {6.5, -1.0}, {7.5, 0.0}})
    EXPECT_EQ(goal_at(feel, time), goal) << time;
}

// Rule K2.
TEST(Toggle, ChangesAtEachPress) {
  const std::string feel = with_cues("[control.l]\nkind = \"toggle\"\npose = \"left\"\n",
                                     "{ at = 1, press = \"l\", for = 0.1, every = 1, times = 3 }");
  for (const auto& [time, goal] : {std::pair{0.5, 0.0}, {1.5, -1.0}, {2.5, 0.0}, {3.5, -1.0}})
    EXPECT_EQ(goal_at(feel, time), goal);
}

// Rule K2.
TEST(Cycle, TakesTheNextPoseAtEachPress) {
  const std::string feel = with_cues("[control.c]\nkind = \"cycle\"\nposes = [\"left\", \"right\", \"home\"]\n",
                                     "{ at = 1, press = \"c\", for = 0.1, every = 1, times = 5 }");
  for (const auto& [time, goal] : {std::pair{0.5, 0.0}, {1.5, -1.0}, {2.5, 2.0}, {3.5, 0.0}, {4.5, -1.0}, {5.5, 2.0}})
    EXPECT_EQ(goal_at(feel, time), goal) << time;
}

// Rule K2: a pose that the cycle has left is out of force, also where the next one names other channels.
TEST(Cycle, LeavesThePoseThatItLeaves) {
  const Feel feel = test::feel_from(
      "[channel.a]\nrest = 0\n[channel.b]\nrest = 0\n[pose.p]\na = 1\n[pose.q]\nb = 1\n[control.c]\nkind = \"cycle\"\n"
      "poses = [\"p\", \"q\"]\n[take.t]\nlength = 3\nclock = { fps = 10 }\ncues = [{ at = 0.5, press = \"c\", for = "
      "0.1 }, "
      "{ at = 1.5, press = \"c\", for = 0.1 }]\n");
  EXPECT_EQ(test::play_rows(feel, 0).goal[10], 1.0);
  EXPECT_EQ(test::play_rows(feel, 0).goal[20], 0.0);
  EXPECT_EQ(test::play_rows(feel, 1).goal[20], 1.0);
}

std::string mashed(const std::string& side) {
  return with_cues("[control.c]\nkind = \"cycle\"\nmirror = \"side\"\nside = \"" + side + "\"\n",
                   "{ at = 1, press = \"c\", for = 0.01, every = 0.1, times = 4 }");
}

// Rule K8.
TEST(Mirror, AStoredSideAlwaysLandsOnOneOfTwo) {
  EXPECT_EQ(goal_at(mashed("stored"), 1.05, 2), -0.55);
  EXPECT_EQ(goal_at(mashed("stored"), 1.15, 2), 0.55);
  EXPECT_EQ(goal_at(mashed("stored"), 5.0, 2), 0.55);
}

TEST(Mirror, TheAccidentsDriftAndLosePresses) {
  EXPECT_LT(std::fabs(goal_at(mashed("what_is_there"), 5.0, 2)), 0.2);
  // The second press comes before the crossing, so it asks for the same side again.
  EXPECT_EQ(goal_at(mashed("opposite_of_now"), 1.15, 2), -0.55);
}

// Rule K8.
TEST(Mirror, PosesAreMirroredUnlessTheySayOtherwise) {
  const std::string press = "{ at = 1, press = \"c\" }, { at = 2, press = \"f\" }";
  const std::string controls =
      "[control.c]\nkind = \"cycle\"\nmirror = \"side\"\n[control.f]\nkind = \"hold\"\npose = \"far\"\n";
  EXPECT_EQ(goal_at(with_cues(controls, press), 3, 2), -0.7);
  std::string own = with_cues(controls, press);
  own.replace(own.find("side = 0.7"), 10, "side = 0.7\nmirrors = false");
  EXPECT_EQ(goal_at(own, 3, 2), 0.7);
}

// Rule K4.
TEST(Clicks, FourteenOutAndFourteenInComeBackToTheBit) {
  const std::string wheel = "[control.w]\nkind = \"clicks\"\nchannel = \"d\"\nstep = 1.05\n";
  const auto there =
      with_cues(wheel, "{ at = 1, click = \"w\", every = 0.1, times = 14 }, { at = 3, click = \"w\", count = -1, "
                       "every = 0.1, times = 14 }");
  EXPECT_GT(goal_at(there, 2.9, 1), 7.0);
  EXPECT_EQ(goal_at(there, 5.0, 1), 4.0);
}

// Rule K5.
TEST(Clicks, NeverWindUpPastAnEnd) {
  const std::string wheel = "[control.w]\nkind = \"clicks\"\nchannel = \"d\"\nstep = 1.12\n";
  const std::string feel =
      with_cues(wheel, "{ at = 1, click = \"w\", count = 100 }, { at = 2, click = \"w\", count = -1 }");
  EXPECT_EQ(goal_at(feel, 1.5, 1), 9.0);
  EXPECT_NEAR(goal_at(feel, 2.5, 1), 4.0 * std::pow(1.12, 7), 1e-12); // the rung below the end
}

// Rule C7.
TEST(Clicks, TwoInQuickSuccessionRunToTheEnd) {
  const std::string wheel =
      "[control.w]\nkind = \"clicks\"\nchannel = \"d\"\nstep = 1.12\ndouble_within = 0.25\ninvert = true\n";
  EXPECT_EQ(goal_at(with_cues(wheel, "{ at = 1, click = \"w\" }, { at = 1.25, click = \"w\" }"), 2, 1), 1.2);
  EXPECT_GT(goal_at(with_cues(wheel, "{ at = 1, click = \"w\" }, { at = 1.26, click = \"w\" }"), 2, 1), 3.0);
  EXPECT_GT(goal_at(with_cues(wheel, "{ at = 1, click = \"w\" }, { at = 1.2, click = \"w\", count = -1 }"), 2, 1), 3.9);
}

// Rule C8.
TEST(Clicks, ARepeatOfAHeldKeyIsNoSecondPress) {
  const std::string wheel =
      "[control.w]\nkind = \"clicks\"\nchannel = \"a\"\nstep = 1\nrepeat_every = 0.1\ndouble_within = 0.25\n";
  // Pressed at 1 s, repeated at 1.1 and 1.2 s.
  EXPECT_EQ(goal_at(with_cues(wheel, "{ at = 1, press = \"w\", for = 0.25 }"), 3), 3.0);
  // A press soon after a repeat is the first of its own.
  EXPECT_EQ(
      goal_at(with_cues(wheel, "{ at = 1, press = \"w\", for = 0.25 }, { at = 1.3, press = \"w\", for = 0.05 }"), 3),
      4.0);
}

TEST(Clicks, RepeatWhileHeldByTimeOrByFrame) {
  const std::string by_time = "[control.w]\nkind = \"clicks\"\nchannel = \"a\"\nstep = 1\nrepeat_every = 0.25\n";
  const std::string hold = "{ at = 1, press = \"w\", for = 0.6 }";
  EXPECT_EQ(goal_at(with_cues(by_time, hold), 3), 3.0); // at 1, 1.25 and 1.5 s
  const std::string by_frame = "[control.w]\nkind = \"clicks\"\nchannel = \"a\"\nstep = 1\nevery_frame = true\n";
  EXPECT_EQ(goal_at(with_cues(by_frame, "{ at = 1, press = \"w\", for = 0.05 }"), 3), 5.0); // five frames at 100 fps
}

// Rule K4.
TEST(Clicks, MayBeginAnywhereAndGoToTheNextRung) {
  const std::string wheel = "[control.w]\nkind = \"clicks\"\nchannel = \"a\"\nstep = 2\nstart = 3\n";
  EXPECT_EQ(goal_at(with_cues(wheel, ""), 0), 3.0);
  EXPECT_EQ(goal_at(with_cues(wheel, "{ at = 1, click = \"w\" }"), 2), 4.0);
  EXPECT_EQ(goal_at(with_cues(wheel, "{ at = 1, click = \"w\", count = -1 }"), 2), 2.0);
}

/// A click up and one down lead to where it began, on any ladder, from any rung; the ends are rungs.
// Rule K4.
TEST(Ladder, IsTheSameWayUpAndDown) {
  Channel channel;
  channel.rest = {4.0, 0.0, 0.0};
  channel.range[0] = {1.2, 9.0};
  for (const StepKind by : {StepKind::amount, StepKind::factor})
    for (double step = 1.01; step < 3.0; step *= 1.07) {
      const Clicks clicks{{0, 0}, by, step};
      const Ladder ladder(channel, clicks);
      EXPECT_EQ(ladder.value(ladder.highest()), 9.0);
      EXPECT_EQ(ladder.value(ladder.lowest()), 1.2);
      for (int rung = ladder.lowest(); rung < ladder.highest(); ++rung) {
        EXPECT_LT(ladder.value(rung), ladder.value(rung + 1)) << step;
        EXPECT_EQ(ladder.after(ladder.value(rung), 1), rung + 1) << step << " " << rung;
        EXPECT_EQ(ladder.after(ladder.value(rung + 1), -1), rung) << step << " " << rung;
      }
    }
  // Exact multiples: nine steps of 0.1 from 0 to 0.9 are nine rungs, not ten.
  channel.rest[0] = 0.0;
  channel.range[0] = {0.0, 0.9};
  EXPECT_EQ(Ladder(channel, {{0, 0}, StepKind::amount, 0.1}).highest(), 9);
}

TEST(Ladder, StepsOfPictureScaleAreEqualOnThePicture) {
  const Feel feel =
      test::feel_from("[channel.fov]\nunit = \"deg\"\nrest = 62\nrange = [30, 95]\nspace = \"zoom\"\n[control.w]\nkind "
                      "= \"clicks\"\nchannel = \"fov\"\nstep = 1.1\n");
  const Ladder ladder(feel.channels[0], std::get<Clicks>(feel.controls[0].rule));
  const auto size = [](double degrees) { return std::tan(degrees * std::acos(-1.0) / 360.0); };
  for (int rung = ladder.lowest() + 1; rung < ladder.highest() - 1; ++rung)
    EXPECT_NEAR(size(ladder.value(rung + 1)) / size(ladder.value(rung)), 1.1, 1e-12);
}

// Rule K13.
TEST(Pointer, MovesByCountsNotByTime) {
  const std::string right = "[control.p]\nkind = \"pointer\"\nchannel = \"a\"\ngain = 0.5\n";
  const std::string cues = "{ at = 1, pointer = \"p\", counts = 3, every = 0.1, times = 2 }";
  EXPECT_EQ(goal_at(with_cues(right, cues), 2), 3.0);
  EXPECT_NEAR(goal_at(with_cues(right + "times_frame_time = true\n", cues), 2), 0.03, 1e-15);
}

// Rule C10.
TEST(Lock, LetsGoOfWhatIsHeldAndIgnoresWhatComes) {
  const std::string feel =
      with_cues("[control.l]\nkind = \"hold\"\npose = \"left\"\n",
                "{ at = 1, press = \"l\" }, { at = 2, lock = \"l\" }, { at = 2.5, release = \"l\" }, { at = "
                "3, press = \"l\" }, { at = 4, unlock = \"l\" }, { at = 5, press = \"l\" }");
  for (const auto& [time, goal] : {std::pair{1.5, -1.0}, {2.2, 0.0}, {3.5, 0.0}, {4.5, 0.0}, {5.5, -1.0}})
    EXPECT_EQ(goal_at(feel, time), goal) << time;
}

// Rule K10.
TEST(Unless, TakesTheEffectAwayWhileTheOtherIsOn) {
  const std::string feel =
      with_cues("[control.l]\nkind = \"hold\"\npose = \"left\"\nunless = \"f\"\n[control.f]\nkind = "
                "\"toggle\"\npose = \"far\"\n",
                "{ at = 1, press = \"l\" }, { at = 2, press = \"f\", for = 0.1, every = 2, times = 2 }");
  for (const auto& [time, goal] : {std::pair{1.5, -1.0}, {2.5, 5.0}, {4.5, -1.0}})
    EXPECT_EQ(goal_at(feel, time), goal) << time;
}

// Rule C9.
TEST(GoalCue, IsTheCauseOfTheMoveThatItBegins) {
  const TakeMeasures measures = test::play_measures(test::feel_from(with_cues("", "{ at = 1, goal = { a = 7 } }")));
  ASSERT_FALSE(measures.moves.empty());
  EXPECT_EQ(measures.moves[0].cause, "goal");
}

TEST(GoalCue, SetsAHomeDirectly) {
  EXPECT_EQ(goal_at(with_cues("", "{ at = 1, goal = { a = 7 } }"), 2), 7.0);
  EXPECT_EQ(goal_at(with_cues("", "{ at = 1, goal = { a = 70 } }"), 2), 10.0);
}

struct Order {
  const char* name;
  const char* cues; ///< l and r, pressed and let go
  // Goals at 1.5 (one down), 2.5 (both), 3.5 (one left), by policy: latest, first, neither, sum, ranked (l first).
  double both[5];
  double left_over; ///< at 3.5
};

/// Every order of pressing and letting go of two opposed holds: l asks for -1, r for 2.
// Rule K9.
TEST(Group, DecidesEveryOrderByItsPolicy) {
  const char* const policies[] = {"latest", "first", "neither", "sum", "ranked"};
  const Order orders[] = {
      {"l r -l -r",
       "{ at = 1, press = \"l\" }, { at = 2, press = \"r\" }, { at = 3, END = \"l\" }, { at = 4, END = \"r\" }",
       {2, -1, 0, 1, -1},
       2},
      {"l r -r -l",
       "{ at = 1, press = \"l\" }, { at = 2, press = \"r\" }, { at = 3, END = \"r\" }, { at = 4, END = \"l\" }",
       {2, -1, 0, 1, -1},
       -1},
      {"r l -l -r",
       "{ at = 1, press = \"r\" }, { at = 2, press = \"l\" }, { at = 3, END = \"l\" }, { at = 4, END = \"r\" }",
       {-1, 2, 0, 1, -1},
       2},
      {"r l -r -l",
       "{ at = 1, press = \"r\" }, { at = 2, press = \"l\" }, { at = 3, END = \"r\" }, { at = 4, END = \"l\" }",
       {-1, 2, 0, 1, -1},
       -1},
      {"l -l r -r",
       "{ at = 1, press = \"l\" }, { at = 2, END = \"l\" }, { at = 3, press = \"r\" }, { at = 4, END = \"r\" }",
       {0, 0, 0, 0, 0},
       2},
      {"r -r l -l",
       "{ at = 1, press = \"r\" }, { at = 2, END = \"r\" }, { at = 3, press = \"l\" }, { at = 4, END = \"l\" }",
       {0, 0, 0, 0, 0},
       -1},
  };
  for (const char* end : {"release", "cancel"})
    for (const Order& order : orders)
      for (std::size_t p = 0; p < 5; ++p) {
        std::string cues = order.cues;
        for (std::size_t at; (at = cues.find("END")) != std::string::npos;) cues.replace(at, 3, end);
        const std::string feel =
            with_cues("[control.l]\nkind = \"hold\"\npose = \"left\"\n[control.r]\nkind = \"hold\"\npose = "
                      "\"right\"\n[group.g]\ncontrols = [\"l\", \"r\"]\npolicy = \""
                          + std::string(policies[p]) + "\"\n",
                      cues);
        EXPECT_EQ(goal_at(feel, 1.5), order.cues[cues.find('"') + 1] == 'l' ? -1.0 : 2.0) << order.name;
        EXPECT_EQ(goal_at(feel, 2.5), order.both[p]) << order.name << " " << policies[p] << " " << end;
        EXPECT_EQ(goal_at(feel, 3.5), order.left_over) << order.name << " " << policies[p];
        EXPECT_EQ(goal_at(feel, 4.5), 0.0) << order.name << " " << policies[p];
      }
}

// Rule K9.
TEST(Group, AddsUpInTheChannelsSpace) {
  const std::string feel =
      "[channel.d]\nrest = 4\nrange = [0.1, 100]\nspace = \"ratio\"\n[pose.p]\nd = 8\n[pose.q]\nd = 2\n[control.p]\n"
      "kind = \"hold\"\npose = \"p\"\n[control.q]\nkind = \"hold\"\npose = \"q\"\n[group.g]\ncontrols = [\"p\", "
      "\"q\"]\npolicy = \"sum\"\n[take.t]\nlength = 3\ncues = [ { at = 1, press = \"p\" }, { at = 2, press = \"q\" } "
      "]\n";
  const auto rows = test::play_rows(test::feel_from(feel));
  EXPECT_NEAR(rows.goal.back(), 4.0, 1e-15 * 4.0); // doubled and halved
}

TEST(RandomPresses, AreTheSameForASeedAndNeverOverlap) {
  const std::string controls =
      "[control.l]\nkind = \"hold\"\npose = \"left\"\n[control.r]\nkind = \"hold\"\npose = \"right\"\n";
  const auto cues_of = [&](int seed) {
    return test::feel_from(with_cues(controls, "") + "random = { presses = 50, of = [\"l\", \"r\"], to = 9, seed = "
                           + std::to_string(seed) + " }\n")
        .takes[0]
        .cues;
  };
  const auto first = cues_of(1), again = cues_of(1), other = cues_of(2);
  ASSERT_EQ(first.size(), 100u);
  int differing = 0;
  for (std::size_t i = 0; i < first.size(); ++i) {
    EXPECT_EQ(first[i].at, again[i].at);
    EXPECT_LE(first[i].at, 9.0);
    EXPECT_EQ(first[i].action, i % 2 == 0 ? CueAction::press : CueAction::release);
    differing += first[i].at != other[i].at ? 1 : 0;
  }
  EXPECT_GT(differing, 90);
}

// Rule K11.
TEST(Controls, FaultsAreExplained) {
  const auto code_of = [](const std::string& controls, const std::string& cues = "") {
    const Problems problems = test::problems_of(with_cues(controls, cues));
    return problems.empty() ? std::string("none") : problems[0].code;
  };
  EXPECT_EQ(code_of("[control.x]\nkind = \"cycle\"\n"), "feel.missing_key");
  EXPECT_EQ(code_of("[control.x]\nkind = \"cycle\"\nposes = []\n"), "feel.too_few");
  EXPECT_EQ(code_of("[control.x]\nkind = \"clicks\"\nchannel = \"d\"\nstep = 1\n"), "feel.out_of_bounds");
  EXPECT_EQ(code_of("[control.x]\nkind = \"clicks\"\nchannel = \"d.x\"\nstep = 1.1\n"), "feel.component_count");
  EXPECT_EQ(code_of("[control.x]\nkind = \"clicks\"\nchannel = \"a\"\nstep = 1.1\nby = \"factor\"\n"), "feel.space");
  EXPECT_EQ(code_of("[control.x]\nkind = \"clicks\"\nchannel = \"d\"\nstep = 1.1\nstart = 20\n"), "feel.out_of_bounds");
  EXPECT_EQ(code_of("[control.x]\nkind = \"hold\"\npose = \"left\"\nunless = \"x\"\n"), "feel.self");
  EXPECT_EQ(code_of("[control.x]\nkind = \"cycle\"\nmirror = \"side\"\n[control.y]\nkind = \"pointer\"\nchannel = "
                    "\"side\"\ngain = 1\n"),
            "feel.two_owners");
  EXPECT_EQ(code_of("[control.x]\nkind = \"hold\"\npose = \"left\"\n", "{ at = 1, click = \"x\" }"), "feel.cue");
  EXPECT_EQ(code_of("[control.x]\nkind = \"hold\"\npose = \"left\"\n", "{ at = 1, press = \"x\", count = 2 }"),
            "feel.too_many_keys");
  EXPECT_EQ(code_of("[control.x]\nkind = \"hold\"\npose = \"left\"\n", "{ at = 9, press = \"x\", for = 2 }"),
            "feel.cue_past_end");
  EXPECT_EQ(code_of("[control.x]\nkind = \"hold\"\npose = \"left\"\n[group.g]\ncontrols = [\"x\"]\npolicy = "
                    "\"latest\"\n[group.h]\ncontrols = [\"x\"]\npolicy = \"first\"\n"),
            "feel.two_owners");
}

} // namespace
} // namespace stasis
