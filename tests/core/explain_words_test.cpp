// The sentences of `explain`: every part of a feel that changes what a channel does is said, with its numbers.
#include <gtest/gtest.h>

#include "core/check/wants.hpp"
#include "core/check/warning.hpp"
#include "core/explain/explain.hpp"
#include "core/explain/explain_controls.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;

/// Every one of the words stands in the text.
void expect_said(const std::string& text, std::initializer_list<const char*> words) {
  for (const char* const one : words) EXPECT_NE(text.find(one), std::string::npos) << one << "\n in: " << text;
}

const std::string swimmer =
    "[track.otter]\nkind = \"eight\"\ncentre = [0, 0, 0]\nwidth = 4\nheight = 2\nlap = 6\nunit = \"m\"\n";
const std::string heron =
    "[track.heron]\nkind = \"circle\"\ncentre = [0, 1, 0]\ndiameter = 3\nspeed = 1\nunit = \"m\"\n";

std::string followed(const std::string& follow, const std::string& more = "") {
  const Feel feel =
      feel_from(swimmer + heron + "[channel.focus]\nunit = \"m\"\nrest = [0, 0, 0]\nfollow = " + follow + "\n" + more);
  return account_of(feel, 0).follow;
}

TEST(ExplainWords, SayWhatIsFollowedAndWhereTo) {
  expect_said(followed("\"otter\""), {"otter", "a figure of eight"});
  expect_said(followed("{ track = \"otter\", second = \"heron\", weight = 0.25 }"),
              {"25 % of the way to heron", "a circle"});
  expect_said(followed("{ track = \"otter\", second = \"heron\", weight = \"pull\" }", "[channel.pull]\nrest = 0.5\n"),
              {"by the channel pull of the way to heron"});
  expect_said(followed("{ track = \"otter\", offset = [0, 1.5, 2], offset_in = \"heading\" }"),
              {"(0, 1.5, 2) m", "turned with the way it travels"});
  expect_said(followed("{ track = \"otter\", offset = [0, 1.5, 2], offset_in = \"subject\" }"),
              {"turned with the way it looks"});
  expect_said(followed("{ track = \"otter\", offset = [0, 1.5, 2] }"), {"in fixed axes"});
  expect_said(followed("{ track = \"otter\", damping_in = \"heading\" }"), {"motions work on axes turned with"});
}

TEST(ExplainWords, SayHowFarAheadItLooks) {
  expect_said(followed("{ track = \"otter\", lead = { by = \"velocity\", seconds = 0.4 } }"),
              {"where it will be in 0.4 s", "the goal jumps when the subject turns"});
  expect_said(followed("{ track = \"otter\", lead = { by = \"forward_speed\", seconds = 0.3, longest = 2 } }"),
              {"0.3", "2 m at most"});
  expect_said(followed("{ track = \"otter\", lead = { by = \"throttle\", distance = 1.2, motion = \"soft\" } }",
                       "[motion.soft]\nkind = \"glide\"\nrate = 2\n"),
              {"1.2 m ahead of its nose at full throttle", "the lead itself moves by soft"});
  expect_said(
      followed("{ track = \"otter\", lead = { by = \"throttle\", distance = 1.2, stick = \"push\" } }",
               "[channel.a]\nrest = 0\nrange = [-1, 1]\n[control.push]\nkind = \"stick\"\nchannel = \"a\"\ngain "
               "= 1\n"),
      {"the stick push"});
}

TEST(ExplainWords, SayWhatTheDeadZoneLetsBe) {
  expect_said(followed("{ track = \"otter\", dead_zone = { size = [1, 2, 0.5], shape = \"ellipse\" } }"),
              {"an ellipse", "1 x 2 x 0.5 m"});
  expect_said(followed("{ track = \"otter\", dead_zone = { size = 1, times = 3 } }"), {"a box", "3 times as large"});
  expect_said(
      followed("{ track = \"otter\", dead_zone = { size = 1, times = \"room\" } }", "[channel.room]\nrest = 1\n"),
      {"times the value of room"});
  const std::string eye = "[picture]\nfocus = \"focus\"\ndistance = \"far\"\nlens = { channel = \"lens\" }\n"
                          "[channel.far]\nrest = 5\n[channel.lens]\nunit = \"deg\"\nrest = 50\n";
  expect_said(followed("{ track = \"otter\", dead_zone = { size = [0.2, 0.3], in = \"picture\" } }", eye),
              {"20", "30"});
  expect_said(followed("{ track = \"otter\", dead_zone = { size = [0.1, 0.15], in = \"margin\" } }", eye),
              {"10", "15"});
}

TEST(ExplainWords, SayWhatAGridIs) {
  const Feel feel = feel_from("[picture]\nsize = [1280, 800]\nheight = { channel = \"h\" }\nposition = \"a\"\ncoarse = "
                              "[320, 200]\n[channel.h]\nunit = \"m\"\nrest = 10\n[channel.a]\nunit = \"m\"\nrest = [0, "
                              "0]\nsnap = 0.05\n");
  expect_said(account_of(feel, 1).snap, {"0.05 m", "a cell is 4 px", "enlarged 4 times across and 4 times down"});
}

std::string motion_said(const std::string& motion, const std::string& channel = "unit = \"m\"\n") {
  const Feel feel = feel_from("[channel.a]\n" + channel + "rest = 1\nmotion = " + motion + "\n");
  std::string all;
  for (const MotionAccount& one : account_of(feel, 0).motions) {
    all += one.sentence;
    for (const EquivalentForm& form : one.forms) all += " " + form.name + " " + form.sense;
  }
  return all;
}

TEST(ExplainWords, SayWhatEachMotionDoes) {
  expect_said(
      motion_said(
          R"({ kind = "stages", stages = [{ kind = "delay", delay = 0.2 }, { kind = "ease", duration = 1 }, { kind = "glide", half_life = 0.1 }] })"),
      {"stages in a row, each following the one before: a wait of 0.2 s; then an eased move of 1 s",
       "half-life 0.1 s"});
  expect_said(motion_said(R"({ kind = "delay", delay = 0.3 })"), {"a wait of 0.3 s"});
  expect_said(motion_said(R"({ kind = "per_frame", rule = "product", rate = 5, at_fps = 60 })"),
              {"5 times the frame's time", "half_life"});
  expect_said(motion_said(R"({ kind = "per_frame", rule = "fraction", fraction = 0.2, at_fps = 60 })"),
              {"20 % of the gap", "exact"});
  expect_said(motion_said(R"({ kind = "per_frame", rule = "amount", amount = 0.1, at_fps = 60 })"),
              {"goes 0.1 towards its goal", "speed"});
  expect_said(
      motion_said(R"({ kind = "per_frame", rule = "amount", amount = 0.1, at_fps = 60 })", "space = \"ratio\"\n"),
      {"in doublings"});
  expect_said(motion_said(R"({ kind = "per_frame", rule = "spring_step", stiffness = 80, damping = 9, at_fps = 60 })"),
              {"semi-implicit", "swings and dies away alike", "a step differs by at most"});
}

std::string shake_said(const std::string& keys, const std::string& more = "") {
  const Feel feel =
      feel_from(swimmer + "[channel.a]\nunit = \"m\"\nrest = 0\n[shake.s]\non = { a = 1 }\n" + keys + "\n" + more);
  return shake_in_words(feel, feel.shakes[0]);
}

TEST(ExplainWords, SayHowAShakeRattlesAndEnds) {
  const std::string halving = "\ndecay = { kind = \"half_life\", half_life = 0.2, stop_after = 0.5 }";
  expect_said(shake_said("wave = { kind = \"sines\", frequency = 3 }" + halving + "\nstack = \"sum\""),
              {"sways at 3 Hz", "cut off", "several hits add up"});
  expect_said(shake_said("wave = { kind = \"ring\", frequency = 4, damping_ratio = 0.2 }"),
              {"kicked spring of 4 Hz", "damping ratio 0.2"});
  expect_said(shake_said("wave = { kind = \"jitter\", rate = 12 }" + halving + "\nstack = \"root_sum\""),
              {"12 times a second", "root of the sum"});
  expect_said(shake_said("wave = { kind = \"stride\", track = \"otter\", length = 0.7 }\nalways = true\nlevel = 0.4"),
              {"every 0.7 that otter goes", "at strength 0.4"});
  expect_said(shake_said("wave = { kind = \"every_frame\" }\ndecay = { kind = \"per_frame\", factor = 0.9, at_fps = 60 "
                         "}\nstack = \"latest\""),
              {"each frame: harsh", "takes twice as long at half as many", "wipes out those before it"});
  expect_said(
      shake_said("wave = { kind = \"noise\", frequency = 5 }\nalways = true\nlevel = \"b\"", "[channel.b]\nrest = 1\n"),
      {"as strong as the channel b"});
  expect_said(shake_said("wave = { kind = \"noise\", frequency = 5 }\nfalloff = { near = 2, far = 9 }" + halving,
                         "[picture]\nposition = \"p\"\n[channel.p]\nrest = [0, 0, 0]\n"),
              {"at full strength up to 2", "not at all from 9 on"});
}

TEST(ExplainWords, SayWhatHoldsADistanceIn) {
  const auto room = [](const std::string& rule, const std::string& range = "") {
    const Feel feel =
        feel_from("[picture]\nfocus = \"f\"\ndistance = \"d\"\n[channel.f]\nrest = [0, 0, "
                  "0]\n[obstacle.pier]\nkind = \"sphere\"\ncentre = [0, 0, 2]\ndiameter = "
                  "1\n[obstacle.weir]\nkind = \"plane\"\nat = [0, 0, 9]\n[channel.d]\nunit = \"m\"\nrest = 3\n"
                  + range + "obstacles = { " + rule + " }\n");
    return account_of(feel, 1).room;
  };
  expect_said(room("thickness = 0.4, stand_off = 0.2", "range = [0.5, 6]\n"),
              {"pier or weir", "a ball 0.4 m across", "0.2 m off the surface", "nearer than 0.5 m"});
  expect_said(room("only = [\"pier\"], never_through = true"),
              {"held in by pier", "on the surface itself", "the value itself is held"});
}

TEST(ExplainWords, SayHowAChannelGoesRoundAndHowLongItTakes) {
  const Feel feel = feel_from("[channel.yaw]\nunit = \"deg\"\nspace = \"turn\"\nrest = 0\nmotion_times = 2\nmotion = { "
                              "kind = \"glide\", rate = 2 }\n[channel.p]\nrest = [0, 0]\nrange = [[0, -1], [1, 1]]\n");
  expect_said(account_of(feel, 0).heading, {"by the short way", "2 times as long as they say"});
  expect_said(account_of(feel, 0).at_range, {"counts on over whole turns"});
  expect_said(account_of(feel, 1).heading, {"range of p.y"});
}

/// Wants of every kind, held and not.
TEST(WantWords, SayTheirBoundsAndWhetherTheyHold) {
  const Feel feel = feel_from(test::step_feel("kind = \"glide\", half_life = 0.1", 60, 3)
                              + "[[want]]\ntake = \"t\"\nmeasure = \"a.settling_time\"\nat_least = 0.5\n"
                                "[[want]]\ntake = \"t\"\nmeasure = \"a.settling_time\"\nnear = 0.56\nwithin = 0.01\n"
                                "[[want]]\ntake = \"t\"\nmeasure = \"a.settling_time\"\nat_least = 0.6\n");
  const TakeMeasures measures = play_measures(feel);
  std::vector<WantVerdict> verdicts;
  for (const Want& want : feel.wants) verdicts.push_back(judge(want, feel, measures));
  ASSERT_EQ(verdicts.size(), 3u);
  EXPECT_TRUE(verdicts[0].holds);
  EXPECT_TRUE(verdicts[1].holds);
  EXPECT_FALSE(verdicts[2].holds);
  expect_said(verdicts[0].bound, {"at least 0.5 s"});
  expect_said(verdicts[1].bound, {"0.56 s within 0.01"});
}

/// A want may be of a shake: of the whole, or of what it does to one component.
TEST(WantWords, AreOfShakesToo) {
  const auto want = [](const std::string& measure, const std::string& bound) {
    return "[[want]]\ntake = \"t\"\nmeasure = \"" + measure + "\"\n" + bound + "\n";
  };
  const std::string feel_text = R"([channel.side]
unit = "m"
rest = [0, 0]
[shake.bump]
on = { "side.x" = 0.2 }
wave = { kind = "noise", frequency = 4 }
decay = { kind = "half_life", half_life = 0.2 }
[take.t]
length = 4
cues = [{ at = 0.5, hit = "bump" }, { at = 1, hit = "bump", strength = 0.5 }]
)";
  const Feel feel =
      feel_from(feel_text + want("bump.hits", "near = 2\nwithin = 0")
                + want("bump.half_life", "near = 0.2\nwithin = 1e-9") + want("bump.side.x.peak", "at_most = 0.2")
                + want("bump.side.x.main_frequency", "at_least = 30") + want("bump.left_at_cut", "at_most = 5"));
  const TakeMeasures measures = play_measures(feel);
  std::vector<WantVerdict> verdicts;
  for (const Want& one : feel.wants) verdicts.push_back(judge(one, feel, measures));
  ASSERT_EQ(verdicts.size(), 5u);
  for (std::size_t k = 0; k < 3; ++k) EXPECT_TRUE(verdicts[k].holds) << k;
  EXPECT_FALSE(verdicts[3].holds);
  EXPECT_FALSE(verdicts[4].holds); // it is never cut: what did not happen holds to nothing
  EXPECT_FALSE(verdicts[4].value);
  EXPECT_EQ(verdicts[2].measure, "bump.side.x.peak");
  expect_said(verdicts[2].bound, {"at most 0.2 m"});
  expect_said(verdicts[3].bound, {"at least 30 Hz"});
  const Problems problems = test::problems_of(feel_text + want("bump.quiet", "at_most = 1"));
  ASSERT_EQ(problems.size(), 1u);
  EXPECT_EQ(problems[0].code, "feel.unknown_measure");
  expect_said(problems[0].message + problems[0].hint, {"a shake has no measure", "Did you mean bump.quiet_after?"});
}

/// A spring that is stepped too coarsely is warned of, with what it overshoots by at its own rate and at half of it.
TEST(FrameWarnings, SayHowASteppedSpringOvershoots) {
  const Feel feel =
      feel_from("[channel.a]\nrest = 0\nmotion = { kind = \"per_frame\", rule = \"spring_step\", stiffness "
                "= 300, damping = 9, at_fps = 60 }\n");
  const auto warnings = warnings_of_feel(feel);
  ASSERT_FALSE(warnings.empty());
  std::string all;
  for (const Warning& warning : warnings) all += warning.code + ": " + warning.message + "\n";
  expect_said(all, {"60", "30", "%"});
}

} // namespace
} // namespace stasis
