// Rules of a frame (docs/design.md, section 3) that only a special case shows.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/feel/goal_source.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/motion/per_frame.hpp"
#include "core/take/session.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_rows;
using test::Rows;

constexpr double rule_fps = 200.0;

std::string take(double length, const std::string& cues) {
  return fmt::format("[take.t]\nlength = {}\nclock = {{ fps = {} }}\ncues = [{}]\n", length, rule_fps, cues);
}
std::size_t row_at(double time) { return static_cast<std::size_t>(std::lround(time * rule_fps)); }

// Rule M11.
TEST(Rule, APaceOfSeveralComponentsKeepsItsLimitsAlongTheWholeWay) {
  const Feel feel = feel_from("[channel.a]\nunit = \"m\"\nrest = [0, 0]\nmotion = { kind = \"pace\", speed = 2, "
                              "acceleration = 4 }\n[pose.p]\na = [3, "
                              "4]\n[pose.q]\na = [-2, 5]\n[control.p]\nkind = \"hold\"\npose = "
                              "\"p\"\n[control.q]\nkind = \"hold\"\npose = \"q\"\n"
                              + take(4, "{ at = 0, press = \"p\" }, { at = 0.8, press = \"q\" }"));
  const Rows x = play_rows(feel, 0, 0), y = play_rows(feel, 0, 1);
  double fastest = 0.0;
  for (std::size_t k = 1; k < x.velocity.size(); ++k) {
    const double speed = std::hypot(x.velocity[k], y.velocity[k]);
    fastest = std::max(fastest, k <= row_at(0.8) ? speed : 0.0);
    EXPECT_LE(rule_fps * std::hypot(x.velocity[k] - x.velocity[k - 1], y.velocity[k] - y.velocity[k - 1]), 4.0 + 1e-9);
  }
  EXPECT_NEAR(fastest, 2.0, 1e-9);
  // Straight to the first goal 5 m away: it is fast for as long as one component by itself would be.
  EXPECT_NEAR(std::hypot(x.smooth[row_at(0.8)], y.smooth[row_at(0.8)]), 2.0 * 0.8 - 0.5, 1e-9);
}

// Rule F4.
TEST(Rule, AMovingGoalIsFollowedExactlyOnFramesOfAnyLength) {
  const Feel feel =
      feel_from("[track.swimmer]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [3, 0, 0]\n[channel.a]\nunit = "
                "\"m\"\nrest = [0, 0, 0]\n"
                "motion = { kind = \"glide\", rate = 4 }\nfollow = \"swimmer\"\n[take.t]\nlength = 2\n");
  Session session(feel, feel.takes[0]);
  session.advance(0);
  double time = 0.0;
  // Lengths come back after others: no step of another length may be taken for them.
  for (const double dt : {0.1, 0.1, 0.02, 0.1, 0.3, 0.02, 0.02, 0.1, 0.3}) {
    session.advance(dt);
    time += dt;
    EXPECT_NEAR(session.smooth({0, 0}), 3.0 * time - 0.75 * (1.0 - std::exp(-4.0 * time)), 1e-12);
  }
}

// Rule M5.
TEST(Rule, TheWayHomeOfAThereAndBackMoveIsMadeOnce) {
  const Feel feel = feel_from("[channel.a]\nunit = \"m\"\nrest = 0\nmotion = { kind = \"ease\", duration = 0.4, curve "
                              "= \"linear\", there_and_back = true }\n[pose.p]\na = "
                              "1\n[control.p]\nkind = \"hold\"\npose = \"p\"\n"
                              + take(3, "{ at = 0, press = \"p\" }, { at = 0.2, release = \"p\" }"));
  const Rows rows = play_rows(feel);
  EXPECT_NEAR(rows.smooth[row_at(0.2)], 0.5, 1e-12);
  EXPECT_NEAR(rows.smooth[row_at(0.4)], 0.25, 1e-12);
  for (std::size_t k = row_at(0.6); k < rows.smooth.size(); ++k) EXPECT_EQ(rows.smooth[k], 0.0) << k;
}

/// From 0 to 1 and home again by a motion that finishes first. \returns when the way home begins.
double way_home_begins(const std::string& motion, double released) {
  const Feel feel =
      feel_from("[channel.a]\nunit = \"m\"\nrest = 0\nmotion = " + motion
                + "\n[pose.p]\na = 1\n[control.p]\nkind = \"hold\"\npose = \"p\"\n"
                + take(4, fmt::format("{{ at = 0, press = \"p\" }}, {{ at = {}, release = \"p\" }}", released)));
  const Rows rows = play_rows(feel);
  const auto top = std::find(rows.smooth.begin(), rows.smooth.end(), 1.0);
  const auto down = std::find_if(top, rows.smooth.end(), [](double value) { return value < 1.0; });
  return (static_cast<double>(down - rows.smooth.begin()) - 1.0) / rule_fps;
}

// Rule M8.
TEST(Rule, WhatFinishesFirstWaitsForTheLongerOfMoveAndDelay) {
  const auto behind = [](double delay, double duration) {
    return fmt::format("{{ kind = \"stages\", stages = [{{ kind = \"delay\", delay = {} }}, {{ kind = \"ease\", "
                       "duration = {}, curve = \"linear\", handover = "
                       "\"finish_first\" }}] }}",
                       delay, duration);
  };
  EXPECT_NEAR(way_home_begins(behind(0.1, 0.5), 0.3), 0.6, 1e-9); // until the move is done
  EXPECT_NEAR(way_home_begins(behind(0.5, 0.2), 0.6), 1.1, 1e-9); // until the delay is over
  // A delay of the move's own comes when the move before is done.
  EXPECT_NEAR(
      way_home_begins(
          "{ kind = \"ease\", duration = 0.5, curve = \"linear\", delay = 0.1, handover = \"finish_first\" }", 0.3),
      0.7, 1e-9);
}

// Rule O2.
TEST(Rule, WhatNeverGoesThroughLosesItsOutwardSpeed) {
  const Feel feel = feel_from("[picture]\nfocus = \"focus\"\ndistance = \"radius\"\n[channel.focus]\nunit = "
                              "\"m\"\nrest = [0, 1, -4]\n[obstacle.wall]\nkind = \"plane\"\nnormal = [0, "
                              "0, -1]\nat = [0, 0, 0]\n[channel.radius]\nunit = \"m\"\nrest = 1\nrange = [0.2, "
                              "9]\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 0.2 }\n"
                              "obstacles = { thickness = 0.2, stand_off = 0.3, never_through = true "
                              "}\n[pose.far]\nradius = 8\n[control.far]\nkind = \"hold\"\npose = \"far\"\n"
                              + take(2, "{ at = 0.1, press = \"far\" }"));
  const Rows rows = play_rows(feel, 1);
  const double hit = 4.0 - 0.1;
  int held = 0;
  for (std::size_t k = 0; k < rows.smooth.size(); ++k) {
    EXPECT_LE(rows.smooth[k], hit + 1e-12);
    if (std::fabs(rows.smooth[k] - hit) > 1e-12) continue;
    ++held;
    EXPECT_LE(rows.velocity[k], 1e-12) << k;
  }
  EXPECT_GE(held, 1);
  // It springs back as from rest, not as from the speed with which it came.
  const double goal = hit - 0.3;
  EXPECT_GT(*std::min_element(rows.smooth.begin() + static_cast<std::ptrdiff_t>(row_at(0.5)), rows.smooth.end()),
            goal - 0.3);
}

std::string clicking(const std::string& keys) {
  return "[channel.a]\nunit = \"m\"\nrest = 0\nrange = [-3, 3]\n[control.w]\nkind = \"clicks\"\nchannel = \"a\"\nstep "
         "= 1\n"
         + keys;
}

// Rule C7.
TEST(Rule, ADoublePressIsTwiceTheSameWay) {
  const std::string keys = "double_within = 0.25\n";
  const auto ends_at = [&](const std::string& cues) {
    return play_rows(feel_from(clicking(keys) + take(1, cues))).goal.back();
  };
  EXPECT_EQ(ends_at("{ at = 0.1, click = \"w\" }, { at = 0.2, click = \"w\" }"), 3.0);
  EXPECT_EQ(ends_at("{ at = 0.1, click = \"w\" }, { at = 0.2, click = \"w\", count = -1 }"), 0.0);
  EXPECT_EQ(ends_at("{ at = 0.1, click = \"w\" }, { at = 0.4, click = \"w\" }"), 2.0);
}

// Rule K5.
TEST(Rule, NoBaseWindsUpPastTheRange) {
  const auto ends_at = [&](const std::string& cues) {
    return play_rows(feel_from(clicking("") + take(1, cues))).goal.back();
  };
  EXPECT_EQ(ends_at("{ at = 0.1, click = \"w\", count = 50 }, { at = 0.2, click = \"w\", count = -1 }"), 2.0);
  const Feel stick = feel_from(
      "[channel.a]\nunit = \"m\"\nrest = 0\nrange = [-3, 3]\n[control.s]\nkind = \"stick\"\nchannel = \"a\"\ngain = 6\n"
      + take(3, "{ at = 0, stick = \"s\", value = 1 }, { at = 2, stick = \"s\", value = -1 }"));
  const Rows rows = play_rows(stick);
  EXPECT_EQ(rows.goal[row_at(1.9)], 3.0);
  EXPECT_NEAR(rows.goal[row_at(2.25)], 3.0 - 1.5, 1e-9);
}

// Rule C10.
TEST(Rule, ALockStopsWhatAPointerHasStillToCome) {
  const std::string head = "[channel.a]\nunit = \"m\"\nrest = 0\n[control.m]\nkind = \"pointer\"\nchannel = "
                           "\"a\"\ngain = 1\ntop_speed = 2\n";
  const Rows free = play_rows(feel_from(head + take(2, "{ at = 0, pointer = \"m\", counts = 3 }")));
  EXPECT_NEAR(free.goal.back(), 3.0, 1e-12);
  const Rows locked =
      play_rows(feel_from(head + take(2, "{ at = 0, pointer = \"m\", counts = 3 }, { at = 0.5, lock = \"m\" }")));
  EXPECT_NEAR(locked.goal.back(), 1.0, 1e-12);
}

// Rule G7.
TEST(Rule, TheDeadZoneIsCentredAnewWhenAnotherTrackIsFollowed) {
  const Feel feel = feel_from(
      "[track.one]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [1, 0, 0]\n[track.other]\nkind = \"line\"\nfrom = "
      "[20, 0, 0]\nvelocity = [0, 0, 0]\n"
      "[channel.a]\nunit = \"m\"\nrest = [0, 0, 0]\nfollow = { track = \"one\", dead_zone = { size = [4, 4, 4] } }\n"
      + take(4, "{ at = 3, follow = { a = \"other\" } }"));
  const Rows x = play_rows(feel, 0, 0);
  EXPECT_NEAR(x.goal[row_at(1.5)], 0.0, 1e-12);      // within the zone, half of it on either side
  EXPECT_NEAR(x.goal[row_at(2.9)], 2.9 - 2.0, 1e-9); // dragged by its edge
  EXPECT_NEAR(x.goal[row_at(3.5)], 20.0, 1e-12);     // in the middle of the new one
}

// Rule G8.
TEST(Rule, ASubjectThatStandsStillFacesTheWayItCame) {
  const Feel feel = feel_from("[track.swimmer]\nkind = \"stop_and_go\"\nfrom = [0, 0, 0]\nvelocity = [2, 0, 0]\ngo = "
                              "0.5\nstop = 0.5\n[channel.a]\nunit = \"deg\"\nspace = \"turn\"\nrest = 0\n"
                              "formula = \"swimmer.heading\"\n"
                              + take(2, ""));
  const Rows rows = play_rows(feel);
  for (std::size_t k = 0; k < rows.goal.size(); ++k) EXPECT_NEAR(rows.goal[k], rows.goal[0], 1e-9) << k;
  EXPECT_NEAR(std::fabs(rows.goal[0]), 90.0, 1e-9); // along +x, to the right of -z
}

// Rule S4.
TEST(Rule, RingsThatAddUpStayBelowTheirCap) {
  const auto peak = [](const std::string& cap) {
    const Feel feel =
        feel_from("[channel.a]\nunit = \"m\"\nrest = 0\n[shake.r]\non = { a = 0.1 }\nwave = { kind = \"ring\", "
                  "frequency = 4, damping_ratio = 0.1 }\n"
                  + cap + take(2, "{ at = 0.1, hit = \"r\" }, { at = 0.1, hit = \"r\" }, { at = 0.1, hit = \"r\" }"));
    double most = 0.0;
    for (const double value : play_rows(feel).value) most = std::max(most, std::fabs(value));
    return most;
  };
  const double free = peak(""), capped = peak("cap = 1.5\n");
  EXPECT_NEAR(capped, 0.5 * free, 1e-3 * free); // three hits held to one and a half
}

// Rule M12.
TEST(Rule, AProductOfJustTwoSwingsForEverAndDoesNotGrow) {
  EXPECT_EQ(behaviour_at(ProductRule{120.0, false}, 1.0 / 60.0), FrameBehaviour::overshoots);
  EXPECT_EQ(behaviour_at(ProductRule{120.0 + 1e-9, false}, 1.0 / 60.0), FrameBehaviour::diverges);
  EXPECT_EQ(behaviour_at(ProductRule{59.0, false}, 1.0 / 60.0), FrameBehaviour::monotone);
}

TEST(Measures, AnAbsoluteSettleBandIsMeantInTheUnitOnEitherSide) {
  const auto settled = [](const std::string& motion) {
    const Feel feel = feel_from(
        "[channel.a]\nspace = \"zoom\"\nunit = \"deg\"\nrest = 80\nrange = [5, 150]\nsettle_band = \"3 deg\"\nmotion = "
        + motion + "\n[pose.p]\na = 30\n[control.p]\nkind = \"hold\"\npose = \"p\"\n"
        + take(4, "{ at = 0, press = \"p\" }"));
    return test::play_measures(feel).moves.front().settled_value[0];
  };
  EXPECT_NEAR(settled("{ kind = \"glide\", half_life = 0.1 }"), 33.0, 1e-6);
  EXPECT_NEAR(settled("{ kind = \"spring\", frequency = 2, damping_ratio = 0.5 }"), 27.0, 1e-6); // it comes from beyond
}

TEST(Measures, TimeOutsideADeadZoneIsThatOfTheSubject) {
  const auto outside = [](const std::string& motion) {
    const Feel feel =
        feel_from("[track.swimmer]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [1, 0, 0]\n[channel.a]\nunit = "
                  "\"m\"\nrest = [0, 0, 0]\nmotion = "
                  + motion + "\nfollow = { track = \"swimmer\", dead_zone = { size = [4, 4, 4] } }\n" + take(4, ""));
    return *channel_measure(feel, test::play_measures(feel), 0, "time_outside_zone");
  };
  // From the moment at which its edge begins to drag, 2 m on, a glide is always behind.
  EXPECT_NEAR(outside("{ kind = \"glide\", rate = 1 }"), 2.0, 0.01);
  EXPECT_NEAR(outside("{ kind = \"cut\" }"), 0.0, 0.01);
}

// Rule F5.
TEST(Rates, ADeadZoneBendsTheGoalInsideAFrame) {
  const auto curved = [](const std::string& more) {
    const Feel feel =
        feel_from("[track.swimmer]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [1, 0, 0]\n[channel.a]\nunit "
                  "= \"m\"\nrest = [0, 0, 0]\nfollow = { track = \"swimmer\""
                  + more + " }\n" + take(1, ""));
    return has_curved_goals(feel, feel.takes[0]);
  };
  EXPECT_FALSE(curved(""));
  EXPECT_TRUE(curved(", dead_zone = { size = [1, 1, 1] }"));
}

/// A channel `a` of the pose p (1) and the pose q (-1), each held by a control of its name.
std::string two_holds(const std::string& motion, const std::string& of_q = "") {
  return "[channel.a]\nunit = \"m\"\nrest = 0\nmotion = " + motion + "\n[pose.p]\na = 1\n[pose.q]\na = -1\n" + of_q
         + "[control.p]\nkind = \"hold\"\npose = \"p\"\n[control.q]\nkind = \"hold\"\npose = \"q\"\n";
}

// Rule F11.
TEST(Rule, ATurnMayRunPastItsRangeOnTheShortWay) {
  const Feel feel =
      feel_from("[channel.a]\nunit = \"deg\"\nspace = \"turn\"\nrest = 170\nrange = [-180, 180]\nmotion = { "
                "kind = \"glide\", rate = 20 }\n[pose.p]\na = -170\n[control.p]\nkind = \"hold\"\npose = "
                "\"p\"\n"
                + take(2, "{ at = 0, press = \"p\" }"));
  const Rows rows = play_rows(feel);
  EXPECT_NEAR(rows.smooth.back(), 190.0, 1e-9);
  for (const double value : rows.smooth) EXPECT_GE(value, 170.0);
}

// Rule C3.
TEST(Rule, ACuePastTheEndIsRefused) {
  const auto problems = test::problems_of(two_holds("{ kind = \"cut\" }") + take(1, "{ at = 1.5, press = \"p\" }"));
  ASSERT_FALSE(problems.empty());
  EXPECT_EQ(problems[0].code, "feel.cue_past_end");
  EXPECT_TRUE(test::problems_of(two_holds("{ kind = \"cut\" }") + take(1, "{ at = 1, press = \"p\" }")).empty());
}

// Rule C5.
TEST(Rule, WithinOneFrameAHoldIsLostAndATogglesPressCounts) {
  const std::string both = "{ at = 0.501, press = \"p\" }, { at = 0.503, release = \"p\" }";
  const auto ends_at = [&](const std::string& kind) {
    return play_rows(feel_from("[channel.a]\nrest = 0\n[pose.p]\na = 1\n[control.p]\nkind = \"" + kind + "\"\n"
                               + (kind == "cycle" ? "poses = [\"p\", \"home\"]\n" : "pose = \"p\"\n") + take(1, both)))
        .goal.back();
  };
  EXPECT_EQ(ends_at("hold"), 0.0);
  EXPECT_EQ(ends_at("toggle"), 1.0);
  EXPECT_EQ(ends_at("cycle"), 1.0);
  EXPECT_EQ(
      play_rows(feel_from(clicking("") + take(1, "{ at = 0.501, press = \"w\" }, { at = 0.503, release = \"w\" }")))
          .goal.back(),
      1.0);
}

// Rule C8.
TEST(Rule, ARepeatDueWithAReleaseStillCounts) {
  const auto ends_at = [](double released) {
    return play_rows(feel_from(clicking("repeat_every = 0.25\n")
                               + take(2, fmt::format("{{ at = 0.5, press = \"w\" }}, {{ at = {}, release = \"w\" }}",
                                                     released))))
        .goal.back();
  };
  EXPECT_EQ(ends_at(0.745), 1.0);
  EXPECT_EQ(ends_at(0.75), 2.0);
}

// Rule C9.
TEST(Rule, AGoalCueLeavesWhatFollowsAlone) {
  const std::string head = "[track.swimmer]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [1, 0]\n[channel.a]\nunit = "
                           "\"m\"\nrest = [0, 0]\n[channel.a.follow]\ntrack = \"swimmer\"\nkeep = [\"y\"]\n";
  const Feel feel = feel_from(head + take(1, "{ at = 0.5, goal = { \"a.x\" = 7, \"a.y\" = 7 } }"));
  EXPECT_NEAR(play_rows(feel, 0, 0).goal.back(), 1.0, 1e-12);
  EXPECT_EQ(play_rows(feel, 0, 1).goal.back(), 7.0);
}

// Rule C9.
TEST(Rule, WhatFollowsOnlyInAPoseHasItsOwnHomeBackAfterwards) {
  const std::string head =
      "[track.swimmer]\nkind = \"line\"\nfrom = 0\nvelocity = 1\n[channel.a]\nunit = \"m\"\nrest = "
      "2\n[pose.p]\na = { track = \"swimmer\" }\n[control.c]\nkind = \"hold\"\npose = \"p\"\n";
  const auto goals = [&](double cue_at) {
    return play_rows(
               feel_from(head
                         + take(3, fmt::format("{{ at = {}, goal = {{ a = 7 }} }}, {{ at = 1, press = \"c\" }}, {{ at "
                                               "= 2, release = \"c\" }}",
                                               cue_at))))
        .goal;
  };
  const auto before = goals(0.5);
  EXPECT_EQ(before[row_at(0.75)], 7.0);
  EXPECT_NEAR(before[row_at(1.5)], 1.5, 1e-12);
  EXPECT_EQ(before.back(), 7.0);
  const auto meanwhile = goals(1.5);
  EXPECT_NEAR(meanwhile[row_at(1.75)], 1.75, 1e-12);
  EXPECT_EQ(meanwhile.back(), 2.0);
}

// Rule K6.
TEST(Rule, ClicksUnderAPoseMoveTheHomeUnseen) {
  const Feel feel = feel_from(clicking("") + "[pose.p]\na = -2\n[control.p]\nkind = \"hold\"\npose = \"p\"\n"
                              + take(1, "{ at = 0.1, press = \"p\" }, { at = 0.3, click = \"w\", count = 2 }, { at = "
                                        "0.6, release = \"p\" }"));
  const Rows rows = play_rows(feel);
  EXPECT_EQ(rows.goal[row_at(0.5)], -2.0);
  EXPECT_EQ(rows.goal[row_at(0.6)], 2.0);
}

// Rule M4.
TEST(Rule, AJumpOnItsWayThroughADelayIsDroppedByAnotherMotion) {
  const Feel feel = feel_from(two_holds("{ kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.3 }, { kind = "
                                        "\"glide\", rate = 9 }] }",
                                        "[pose.q.entering]\na = { kind = \"glide\", rate = 5 }\n")
                              + take(2, "{ at = 0, press = \"p\" }, { at = 0.2, press = \"q\" }"));
  const Rows rows = play_rows(feel);
  for (const double value : rows.smooth) EXPECT_LE(value, 0.0);
  EXPECT_NEAR(rows.smooth[row_at(0.6)], std::expm1(-5.0 * 0.4), 1e-12); // from the press, without a wait
}

// Rule M9.
TEST(Rule, ACarriedMoveDoesNotWaitAgain) {
  const Feel feel = feel_from(two_holds("{ kind = \"ease\", duration = 0.5, delay = 0.3, curve = \"in-out sine\", "
                                        "handover = \"carry\" }")
                              + take(3, "{ at = 0, press = \"p\" }, { at = 0.5, release = \"p\" }"));
  const Rows rows = play_rows(feel);
  EXPECT_EQ(rows.smooth[row_at(0.3)], 0.0);
  EXPECT_GT(rows.smooth[row_at(0.5)], 0.2);
  EXPECT_NE(rows.smooth[row_at(0.98)], 0.0);
  EXPECT_EQ(rows.smooth[row_at(1.0)], 0.0); // its duration after the release
}

} // namespace
} // namespace stasis
