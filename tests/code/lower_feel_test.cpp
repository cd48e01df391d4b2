// Feels as programs: what is in them, what is said of what is not.
#include <cmath>
#include <limits>
#include <random>

#include <gtest/gtest.h>

#include "code/lower_feel.hpp"
#include "code/read_program.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis::code {
namespace {

const char* const one_channel = R"(
[channel.fov]
unit = "deg"
rest = 62
range = [30, 95]
motion = { kind = "spring", frequency = 2, damping_ratio = 0.7 }
)";

TEST(Literal, ReadsBackAsTheSameNumberAndIsNoWholeOne) {
  std::mt19937_64 random(7);
  std::uniform_real_distribution<double> size(-300.0, 300.0);
  for (int k = 0; k < 2000; ++k) {
    const double value = std::pow(10.0, size(random)) * (k % 2 == 0 ? 1.0 : -1.0);
    const std::string text = literal(value);
    EXPECT_EQ(std::stod(text), value) << text;
    EXPECT_NE(text.find('.'), std::string::npos) << text;
  }
  EXPECT_EQ(literal(3.0), "3.0");
  EXPECT_EQ(literal(std::numeric_limits<double>::infinity()), "UNBOUNDED");
}

TEST(LowerFeel, ValuesOfOneNameWithAnothersPartAreKeptApart) {
  const Feel feel = test::feel_from(R"(
[channel.focus]
unit = "m"
rest = [0, 1]
[channel.focus_x]
unit = "m"
rest = 3
)");
  EXPECT_EQ(component_identifier(feel, {0, 0}), "focus_x_part");
  EXPECT_EQ(component_identifier(feel, {1, 0}), "focus_x");
  EXPECT_TRUE(lower(feel).faults.empty());
}

TEST(LowerFeel, NamesThatBecomeOneAreAFault) {
  const Feel feel = test::feel_from(R"(
[channel.a]
rest = 0
[channel.a_in_b]
rest = 0
[pose.b_in_c]
a = 1
[pose.c]
a_in_b = 1
[control.one]
kind = "hold"
pose = "c"
[control.two]
kind = "hold"
pose = "b_in_c"
)");
  const Lowered lowered = lower(feel);
  ASSERT_EQ(lowered.faults.size(), 1u);
  EXPECT_NE(lowered.faults[0].find("A_IN_B_IN_C"), std::string::npos);
}

TEST(LowerFeel, WhatOthersGiveIsSaidWithTheCallThatTakesItsPlace) {
  Feel feel = test::feel_from(std::string(one_channel) + R"(
[track.otter]
kind = "line"
from = [0, 0]
velocity = [1, 0]
[channel.look]
unit = "m"
rest = [0, 0]
follow = { track = "otter" }
)");
  feel.tracks[0].lost = LostRule::base; // as a recorded one may be
  const Lowered lowered = lower(feel);
  ASSERT_EQ(lowered.given.size(), 1u);
  ASSERT_EQ(lowered.left.size(), 1u);
  EXPECT_NE(lowered.left[0].find("look"), std::string::npos);
  EXPECT_NE(lowered.left[0].find("`follow`"), std::string::npos);
  EXPECT_NE(read_program(lowered.text).function("follow"), nullptr);
}

TEST(LowerFeel, APlainFeelNeedsNothingFromOthersAndHasNothingThatItDoesNotUse) {
  const Program program = read_program(lower(test::feel_from(one_channel)).text);
  for (const char* absent :
       {"follow", "glide", "begin_ease", "decide_in_group", "go_by_line", "noise", "climb", "press"})
    EXPECT_EQ(program.function(absent), nullptr) << absent;
  for (const char* there : {"begin", "advance", "value_of_fov", "spring"})
    EXPECT_NE(program.function(there), nullptr) << there;
}

TEST(LowerFeel, RandomFeelsAreProgramsThatCanBeRead) {
  int read = 0;
  for (std::uint64_t seed = 1; seed <= 300; ++seed) {
    const test::RandomFeel made = test::FeelMaker(seed, {.rules_of_frames = seed % 4 == 0,
                                                         .switches = seed % 3 == 0,
                                                         .sticks = seed % 2 == 0,
                                                         .sequences = seed % 5 == 0})
                                      .make();
    if (!test::problems_of(made.text).empty()) continue;
    const Lowered lowered = lower(test::feel_from(made.text));
    if (!lowered.faults.empty()) continue;
    EXPECT_NO_THROW(read_program(lowered.text)) << seed;
    ++read;
  }
  EXPECT_GT(read, 100);
}

} // namespace
} // namespace stasis::code
