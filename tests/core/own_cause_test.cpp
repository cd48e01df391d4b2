// What moved a channel is what is told of it, and every move has a cause.
#include <cmath>

#include <gtest/gtest.h>

#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;

TEST(OwnCauses, AreThoseThatConcernTheChannel) {
  const Feel feel = feel_from(
      "[channel.a]\nrest = 1\nmotion = { kind = \"glide\", half_life = 0.1 }\n[channel.b]\nrest = 1\nrange = [0, "
      "9]\nmotion = { kind = "
      "\"glide\", half_life = 0.1 }\n[channel.c]\nrest = 2\nformula = \"2 * a\"\nmotion = { kind = \"glide\", "
      "half_life = 0.1 }\n"
      "[channel.helper]\nrest = 0\nmotion = { kind = \"cut\" }\n[channel.d]\nrest = 0\nformula = \"3 * "
      "helper\"\nmotion = { kind "
      "= "
      "\"spring\", frequency = 2, damping_ratio = 1 }\n[pose.p]\na = 2\n[pose.h]\nhelper = 1\n[control.one]\nkind = "
      "\"hold\"\n"
      "pose = \"p\"\n[control.two]\nkind = \"hold\"\npose = \"h\"\n[control.wheel]\nkind = \"clicks\"\nchannel = "
      "\"b\"\nstep = 1\n"
      "[take.t]\nlength = 3\ncues = [{ at = 0.5, press = \"one\" }, { at = 0.5, press = \"two\" }, { at = 0.5, click = "
      "\"wheel\", count = 1 }]\n");
  std::map<std::string, std::string> causes;
  const TakeMeasures measures = play_measures(feel);
  for (const Move& move : measures.moves) causes[feel.channels[move.channel].name] = move.cause;
  EXPECT_EQ(causes["a"], "press one");
  EXPECT_EQ(causes["b"], "click wheel +1");
  EXPECT_EQ(causes["helper"], "press two");
  EXPECT_EQ(causes["d"], "press two"); // what is behind a helper that jumps is a move like any other
}

TEST(OwnCauses, BehindAHelperThatJumpsAMoveSettlesAsItsMotionDoes) {
  const auto settling = [](const std::string& how, double fps) {
    const Feel feel = feel_from(
        "[channel.helper]\nrest = 0\nmotion = { kind = \"cut\" }\n[channel.d]\nrest = 0\nmotion = { kind = \"spring\", "
        "frequency = 2, damping_ratio = 1 }\n"
        + how + "[control.c]\nkind = \"hold\"\npose = \"h\"\n[take.t]\nlength = 3\nclock = { fps = "
        + std::to_string(fps) + " }\ncues = [{ at = 0.5, press = \"c\" }, { at = 2, press = \"c\" }]\n");
    const TakeMeasures measures = play_measures(feel);
    for (const Move& move : measures.moves)
      if (feel.channels[move.channel].name == "d") return move.settling_time;
    return std::optional<double>();
  };
  for (const double fps : {24.0, 60.0, 1000.0}) {
    const auto led = settling("formula = \"3 * helper\"\n[pose.h]\nhelper = 1\n", fps);
    const auto direct = settling("[pose.h]\nd = 3\n", fps);
    ASSERT_TRUE(led && direct) << fps;
    EXPECT_GE(*led, *direct) << fps; // a formula sees the jump within a frame
    EXPECT_LE(*led, *direct + 1 / fps) << fps;
  }
}

/// A switch concerns the channels that its pose names, and no others.
TEST(OwnCauses, OfASwitchAreItsPosesChannels) {
  // At 1.1 s the button comes down, and the switch sees its value below 2.
  const Feel feel = feel_from(
      "[channel.d]\nrest = 3\nformula = \"3 - time\"\n[channel.a]\nrest = 0\nmotion = { kind = \"glide\", half_life = "
      "0.1 }\n[channel.b]\nrest = 0\nmotion = { kind = \"glide\", half_life = 0.1 }\n[pose.near]\na = "
      "1\n[pose.pressed]\nb = 1\n[control.c]\nkind = \"hold\"\npose = \"pressed\"\n[switch.inner]\non = "
      "\"d\"\npose = \"near\"\nenter_below = 2\nleave_above = 4\n[take.t]\nlength = 3\nclock = { fps = 10 }\ncues = [{ "
      "at = 1.1, press = \"c\" }]\n");
  std::map<std::string, std::string> causes;
  double at_a = 0.0, at_b = 1.0;
  for (const Move& move : play_measures(feel).moves) {
    causes[feel.channels[move.channel].name] += move.cause;
    (feel.channels[move.channel].name == "a" ? at_a : at_b) = move.start;
  }
  EXPECT_EQ(at_a, at_b); // so that one could be taken for the other
  EXPECT_NE(causes["a"].find("inner"), std::string::npos) << causes["a"];
  EXPECT_EQ(causes["b"], "press c");
}

TEST(OwnCauses, NoMoveIsWithoutOne) {
  int moves = 0;
  for (std::uint64_t seed = 1; seed <= 300; ++seed) {
    test::FeelMaker maker(seed, {.switches = seed % 3 == 0, .sticks = seed % 2 == 0});
    const std::string text = maker.make().text;
    if (!test::problems_of(text).empty()) continue;
    const Feel feel = feel_from(text);
    const TakeMeasures measures = play_measures(feel);
    for (const Move& move : measures.moves) {
      EXPECT_FALSE(move.cause.empty()) << "seed " << seed << ": " << feel.channels[move.channel].name;
      ++moves;
    }
  }
  EXPECT_GT(moves, 500);
}

TEST(OwnCauses, BehindAValueThatASequenceCutsEveryCutIsAMove) {
  // Frames in a row, or each by itself where a stick is worked: the same moves.
  for (const bool with_stick : {false, true})
    for (const double fps : {50.0, 60.0, 144.0}) {
      const Feel feel = feel_from(
          "[channel.helper]\nrest = 0.5\nmotion = { kind = \"glide\", half_life = 0.01 }\n[channel.d]\nrest = 0\n"
          "formula = \"2 * helper\"\nmotion = { kind = \"glide\", half_life = 0.02 }\n[channel.other]\nrest = 0\n"
          "motion = { kind = \"glide\", half_life = 0.02 }\n[control.stick]\nkind = \"stick\"\nchannel = \"other\"\n"
          "[sequence.s]\nstops = [{ at = 0, helper = 1 }, { after = 0.5, helper = -1, curve = \"in-out sine\" }, "
          "{ after = 0.503, helper = 0.3, cut = true, hold = 0.5 }, { after = 0.61, helper = 2, cut = true, hold = 1 "
          "}]\n"
          "[take.t]\nlength = 3\nclock = { fps = "
          + std::to_string(fps) + " }\ncues = [{ at = 0.2, start = \"s\" }"
          + (with_stick ? ", { at = 0.1, stick = \"stick\", value = 0.5 }" : "") + "]\n");
      std::vector<std::pair<double, double>> moves;
      for (const Move& move : play_measures(feel).moves) {
        if (feel.channels[move.channel].name != "d" || move.start < 1.0) continue;
        ASSERT_TRUE(move.settling_time) << move.start;
        EXPECT_NEAR(*move.settling_time, 0.02 * std::log2(50.0), 1.0 / fps); // seen within a frame
        moves.emplace_back(move.start, move.to[0]);
      }
      ASSERT_EQ(moves.size(), 2u) << fps << with_stick;
      const double first = 0.2 + 0.5 + 0.503, second = first + 0.5 + 0.61;
      EXPECT_NEAR(moves[0].first, first, 1.0 / fps);
      EXPECT_NEAR(moves[0].second, 0.6, 1e-9);
      EXPECT_NEAR(moves[1].first, second, 1.0 / fps);
      EXPECT_NEAR(moves[1].second, 4.0, 1e-9);
    }
}

} // namespace
} // namespace stasis
