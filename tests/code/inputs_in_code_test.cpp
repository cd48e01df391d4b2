// What hands do and where subjects go, in source code: everything at once, against the takes of the heart.
#include <cmath>
#include <cstdlib>
#include <iterator>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "code/check_program.hpp"
#include "code/lower_feel.hpp"
#include "code/played_program.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"
#include "support/random_inputs.hpp"
#include "support/random_views.hpp"

namespace stasis::code {
namespace {

/// How far the source code of a feel is from its take at most, from a row on; not a number where there is nothing to
/// compare.
double apart(const std::string& text, std::size_t from_row = 0) {
  const Feel feel = test::feel_from(text);
  const Lowered lowered = lower(feel);
  if (!lowered.faults.empty()) return std::nan("");
  const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
  EXPECT_EQ(check.no_number, "") << text;
  return check.columns == 0 ? std::nan("") : worst_of(check, lowered, from_row);
}

/// Random motions, poses and controls on one of four clocks, with or without tracks, per-frame rules, switches, sticks
/// and sequences.
std::string feel_of_moves(std::uint64_t seed) {
  const char* const clocks[] = {"fps = 60", "fps = 24, jitter = 0.3", "fps = 90, stalls = [[0.6, 0.2]]", "fps = 12"};
  return test::FeelMaker(seed, {.tracks = seed % 4 != 1,
                                .rules_of_frames = seed % 3 == 0,
                                .switches = seed % 2 == 0,
                                .sticks = seed % 2 == 1,
                                .sequences = seed % 5 == 0})
             .make()
             .text
         + fmt::format("clock = {{ {} }}\n", clocks[seed % std::size(clocks)]);
}

/// So many random feels of a kind, whatever of them can be compared; as many as STASIS_RANDOM_FEELS says, if it does.
void expect_same(std::string (*feel_of)(std::uint64_t), int usual_count) {
  const char* const asked = std::getenv("STASIS_RANDOM_FEELS");
  const int count = asked != nullptr ? std::atoi(asked) : usual_count;
  int played = 0;
  for (std::uint64_t seed = 1; played < count; ++seed) {
    ASSERT_LT(seed, 4u * static_cast<unsigned>(count));
    const std::string text = feel_of(seed);
    if (!test::problems_of(text).empty()) continue;
    const double worst = apart(text);
    if (std::isnan(worst)) continue;
    EXPECT_LE(worst, 1e-12) << seed << "\n" << text;
    ++played;
  }
}

TEST(InputsInCode, OfRandomFeelsDoWhatTheyDoInTheHeart) { expect_same(test::feel_of_inputs, 60); }

TEST(MovesInCode, OfRandomFeelsGoWhereTheyGoInTheHeart) { expect_same(feel_of_moves, 60); }

TEST(ViewsInCode, OfRandomFeelsGoWhereTheyGoInTheHeart) { expect_same(test::feel_of_views, 60); }

// What outruns a goal that sets off from where it is; corners of a way that is kept, of what also goes by frames; a
// formula of the goal of what a sequence takes; one that is skipped while it leads a value beyond its range; a turn
// that one leads round; two paces behind a delay; a per-frame rule before one.
TEST(InputsInCode, OfFeelsThatWereFoundGoWhereTheyGoInTheHeart) {
  for (const std::uint64_t seed : {1101u, 1319u, 1579u, 1654u, 1671u})
    EXPECT_LE(apart(test::feel_of_views(seed)), 1e-12) << seed;
  for (const std::uint64_t seed : {2018u, 2359u, 2549u, 3213u})
    EXPECT_LE(apart(test::feel_of_inputs(seed)), 1e-12) << seed;
  for (const std::uint64_t seed : {11u, 255u, 259u, 280u, 333u, 950u, 1340u})
    EXPECT_LE(apart(feel_of_moves(seed)), 1e-12) << seed;
}

const char* const one_hold = R"(
[channel.a]
rest = 0
range = [-5, 5]
motion = { kind = "spring", frequency = 2, damping_ratio = 0.5 }
[channel.b]
rest = 0
range = [-9, 9]
motion = { kind = "stages", stages = [ { kind = "delay", delay = 0.2 }, { kind = "glide", half_life = 0.1 } ] }
[pose.p]
a = 1
[control.k]
kind = "hold"
pose = "p"
)";

TEST(InputsInCode, AStickThatTakesAControlsEffectAwayDoesSoWhileItIsDeflected) {
  EXPECT_LE(apart(one_hold
                  + std::string("unless = \"tilt\"\n[control.tilt]\nkind = \"stick\"\nchannel = \"b\"\n"
                                "[take.t]\nlength = 2\ncues = [ { at = 0.1, stick = \"tilt\", value = 0.5, for "
                                "= 0.5 }, { at = 0.3, press = \"k\" } ]\n")),
            1e-12);
}

/// Stages at times that people type: what leads ends on a frame, or misses it by a rounding; a press is over as it
/// ends; steps are equally long, or one of them is not.
TEST(MovesInCode, StagesAtTimesThatPeopleTypeGoWhereTheyGoInTheHeart) {
  const char* const leads[] = {"", "{{ kind = \"ease\", duration = {0}, curve = \"in-out sine\" }}, ",
                               "{{ kind = \"ease\", duration = {0}, curve = \"linear\" }}, ",
                               "{{ kind = \"pace\", speed = 10, acceleration = 400 }}, "};
  const char* const links[] = {
      "{ kind = \"glide\", half_life = 0.05 }, { kind = \"spring\", frequency = 2, damping_ratio = 0.4 }",
      "{ kind = \"spring\", frequency = 3, damping_ratio = 1.5, resist = \"gap\" }, { kind = \"glide\", half_life = "
      "0.1 }",
      "{ kind = \"glide\", half_life = 0.1 }, { kind = \"glide\", half_life = 0.1 }"};
  const char* const clocks[] = {"fps = 24", "fps = 30", "fps = 60, stalls = [[0.9, 0.2]]"};
  for (const char* lead : leads)
    for (const char* link : links)
      for (const char* clock : clocks)
        for (const double time : {0.1, 0.5}) {
          const std::string text =
              fmt::format("feel = 1\n[channel.b]\nrest = 0\nmotion = {{ kind = \"stages\", stages = [{}{}] }}\n"
                          "[pose.p]\nb = 1\n[control.k]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2.5\n"
                          "clock = {{ {} }}\ncues = [{{ at = 0.1, press = \"k\", for = {} }}]\n",
                          fmt::format(fmt::runtime(lead), time), link, clock, time);
          EXPECT_LE(apart(text), 1e-12) << text;
        }
}

// More than can wait: the last one is not lost.
TEST(InputsInCode, ManyJumpsThatWaitEndWhereTheLastOneGoes) {
  const std::string text =
      one_hold
      + std::string("[pose.q]\nb = 4\n[control.j]\nkind = \"hold\"\npose = \"q\"\n[take.t]\nlength = 4\n"
                    "clock = { fps = 240 }\ncues = [ { at = 0.1, press = \"j\", for = 0.005, every = "
                    "0.01, times = 12 }, { at = 0.22, press = \"j\" } ]\n");
  EXPECT_GT(apart(text), 1e-3);
  EXPECT_LE(apart(text, 240 * 3), 1e-9);
}

TEST(InputsInCode, WhatIsUnlockedNeedNotHaveBeenLocked) {
  EXPECT_LE(apart(one_hold
                  + std::string("[take.t]\nlength = 1\ncues = [ { at = 0.1, unlock = \"k\" }, { at = 0.2, press "
                                "= \"k\" } ]\n")),
            1e-12);
}

TEST(InputsInCode, AValueThatASequenceLeadsIsShakenOnceAndHeldToItsRange) {
  const std::string led = one_hold
                          + std::string("[sequence.s]\nstops = [ { at = 0.3, a = 4.9 }, { at = 0.5, a = -2, b = "
                                        "1 }, { at = 0.6, a = -4.9 }, { at = 1.1, a = 2 } ]\n");
  const std::string shake =
      "[shake.knock]\non = { a = 0.3 }\nwave = { kind = \"noise\", frequency = 4 }\ndecay = { kind = "
      "\"linear\", duration = 1 }\n";
  EXPECT_LE(apart(led + shake
                  + "[take.t]\nlength = 2\ncues = [ { at = 0.1, start = \"s\" }, { at = 0.3, hit = \"knock\" } ]\n"),
            1e-12);
}

TEST(InputsInCode, ATakeThatBecomesNoNumberHasNoCheck) {
  const Feel feel = test::feel_from(
      "[channel.a]\nrest = 0\nmotion = { kind = \"per_frame\", at_fps = 60, rule = \"spring_step\", stiffness = "
      "90000, damping = 1, method = \"explicit\" }\n[channel.b]\nrest = 2\n[pose.p]\na = 1\n[control.k]\nkind = "
      "\"hold\"\npose = \"p\"\n[take.t]\nlength = 20\ncues = [{ at = 0.1, press = \"k\" }]\n");
  const Check check = check_of(lower(feel), {&feel, &feel.takes[0], clock_of(feel.takes[0])});
  EXPECT_EQ(check.no_number.substr(0, 5), "a at ");
  EXPECT_TRUE(check.program.functions.empty());
}

/// Behind a delay the way of a goal is kept, also where nothing but a sequence makes it run.
TEST(InputsInCode, ADelayBehindASequenceStandsUntilItBegins) {
  EXPECT_LE(apart(std::string("[channel.b]\nrest = 2.5\nmotion = { kind = \"stages\", stages = [ { kind = \"delay\", "
                              "delay = 0.2 }, { kind = \"glide\", half_life = 0.1 } ] }\n[sequence.s]\nstops = [ { at "
                              "= 0.3, b = 4 } ]\n[take.t]\nlength = 1.5\ncues = [ { at = 0.4, start = \"s\" } ]\n")),
            1e-12);
}

// Rule K15.
/// How soon a hand clicks again is a matter of the clock, however slow the game.
TEST(InputsInCode, WheelsGoByTheClockInSlowMotion) {
  for (const char* const keys : {"double_within = 0.2", "repeat_every = 0.11",
                                 "repeat_every = 0.11\nrepeats_double = "
                                 "true\ndouble_within = 0.2"})
    EXPECT_LE(
        apart(fmt::format("{}[control.wheel]\nkind = \"clicks\"\nchannel = \"b\"\nstep = 1\n{}\n[take.t]\nlength = "
                          "3\ncues = [ {{ at = 0.1, game_speed = 0.25, over = 0.2 }}, {{ at = 0.5, click = "
                          "\"wheel\" }}, {{ at = 0.75, click = \"wheel\" }}, {{ at = 1.05, press = \"wheel\", "
                          "for = 1.2 }} ]\n",
                          one_hold, keys)),
        1e-12)
        << keys;
}

} // namespace
} // namespace stasis::code
