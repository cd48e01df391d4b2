// stasis rates, per-frame rules and clocks as a user meets them.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

using Json = nlohmann::json;

const std::string old_feel = R"(title = "Old"
[channel.a]   # one
unit = "m"
rest = 0
motion = "pull"

[channel.b]
rest = 0
motion = { kind = "per_frame", rule = "amount", amount = 0.02, at_fps = 60 } # in place

[motion.pull] # of old
kind = "per_frame"      # as it was
rule = "fraction"       # of the gap
fraction = 0.07         # feels right
at_fps = 60

[pose.up]
a = 1
b = 1
[control.c]
kind = "hold"
pose = "up"
[take.t]
length = 2
cues = [{ at = 0.5, press = "c" }]
)";

TEST(RatesCommand, NamesTheWorstItsCauseAndTheReplacement) {
  const TempDir folder;
  folder.write("old.toml", old_feel);
  const Ended ended = run_program(folder, {"rates", "old.toml", "--at", "15,30,60,144", "--figure", "svg"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("Worst by its own rule: b"), std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("which does the same on each frame"), std::string::npos);
  EXPECT_NE(ended.out.find("half-life 0.159 s"), std::string::npos);
  for (const char* const rate : {"15 fps", "30 fps", "60 fps", "144 fps", "60 fps, jitter", "60 fps, stalls"})
    EXPECT_NE(ended.out.find(rate), std::string::npos) << rate;
  EXPECT_EQ(folder.files(),
            (std::vector<std::string>{"old.toml", "stasis-out/rates.t.json", "stasis-out/rates.t.svg"}));
  EXPECT_EQ(run_program(folder, {"rates", "old.toml", "--figure", "svg", "-o", "again"}).status, 0);
  EXPECT_EQ(folder.read("again/rates.t.svg"), folder.read("stasis-out/rates.t.svg"));
  EXPECT_EQ(folder.read("again/rates.t.json"), folder.read("stasis-out/rates.t.json"));
}

TEST(RatesCommand, ItsJsonHoldsTheSpreadOfDirectArithmetic) {
  const TempDir folder;
  folder.write("old.toml", old_feel);
  const Ended ended = run_program(folder, {"rates", "old.toml", "--at", "20", "--json", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const Json json = Json::parse(ended.out);
  double x = 0, widest = 0;
  for (int k = 1; k <= 30; ++k) {
    x += 0.07 * (1 - x);
    widest = std::max(widest, std::fabs(x + std::expm1(60 * std::log1p(-0.07) * k / 20)));
  }
  const Json& channel = json["rates"][0]["channels"]["a"];
  EXPECT_NEAR(channel["spread"]["size"].get<double>(), widest, 1e-12);
  EXPECT_NEAR(channel["spread"]["share"].get<double>(), 100 * widest, 1e-10);
  EXPECT_NEAR(channel["input_wait"]["size"].get<double>(), 0.0, 1e-13);
  EXPECT_EQ(json["replacements"].size(), 2u);
  EXPECT_EQ(json["worst"]["channel"], "b");
}

TEST(RatesCommand, WriteReplacesTheRulesAndKeepsTheComments) {
  const TempDir folder;
  folder.write("old.toml", old_feel);
  const Ended ended = run_program(folder, {"rates", "old.toml", "--write"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const std::string text = folder.read("old.toml");
  for (const char* const kept :
       {"[channel.a]   # one", "# in place", "[motion.pull] # of old", "# as it was", "# of the gap", "# feels right"})
    EXPECT_NE(text.find(kept), std::string::npos) << kept << "\n" << text;
  EXPECT_EQ(text.find("per_frame"), std::string::npos);
  EXPECT_EQ(text.find("at_fps"), std::string::npos);
  EXPECT_NE(text.find("motion = { kind = \"pace\", speed = 1.2 } # in place"), std::string::npos) << text;
  const Ended after = run_program(folder, {"rates", "old.toml", "--figure", "none"});
  EXPECT_NE(after.out.find("Every motion is exact at every rate"), std::string::npos) << after.out;
  const Ended again = run_program(folder, {"rates", "old.toml", "--write"});
  EXPECT_NE(again.out.find("nothing to replace"), std::string::npos);
  EXPECT_EQ(folder.read("old.toml"), text);
}

TEST(RatesCommand, WriteNeedsNoTakeAndWritesWhereTheRuleStands) {
  const TempDir folder;
  const std::string motion = "[motion.f]\nkind = \"per_frame\"\nrule = \"fraction\"\nfraction = 0.1\nat_fps = 60\n";
  const std::string channel = "[channel.a]\nrest = 0\nmotion = \"f\"\n";
  folder.write("m.toml", motion);
  folder.write("f.toml", "include = [\"m.toml\"]\n" + channel);
  const std::string feel = folder.read("f.toml");
  const Ended included = run_program(folder, {"rates", "f.toml", "--write"});
  EXPECT_EQ(included.status, 0) << included.err;
  EXPECT_NE(included.out.find("wrote m.toml"), std::string::npos) << included.out;
  EXPECT_EQ(folder.read("m.toml"), "[motion.f]\nkind = \"glide\"\nhalf_life = 0.10964689131600971\n");
  EXPECT_EQ(folder.read("f.toml"), feel);
  folder.write("own.toml", channel + motion);
  EXPECT_EQ(run_program(folder, {"rates", "own.toml", "--write"}).status, 0);
  EXPECT_NE(folder.read("own.toml").find("kind = \"glide\"\nhalf_life = "), std::string::npos);
  folder.write("wrong.toml", "[channel.a]\nrets = 0\n");
  EXPECT_EQ(run_program(folder, {"rates", "wrong.toml", "--write"}).status, 2);
}

constexpr const char* varied_rules = R"([channel.a]
rest = 0
motion = "f"
[channel.b]
rest = 0
motion = { kind = "per_frame", rule = "fraction", fraction = 0.1, at_fps = 60 }
[motion.f]
kind = "per_frame"
rule = "fraction"
fraction = 0.1
at_fps = 60
[motion.s]
kind = "per_frame"
rule = "spring_step"
stiffness = 60
damping = 9
method = "semi_implicit"
at_fps = 60
[pose.p]
a = 1
b = 1
[control.k]
kind = "hold"
pose = "p"
[take.t]
length = 2
cues = [{ at = 0.2, press = "k" }]
[variant.v]
"motion.f.fraction" = 0.2   # quicker
"motion.f.at_fps" = 30
"motion.s.stiffness" = 80
[variant.w]
motion.f.at_fps = 30  # at half
channel.b.motion.fraction = 0.3
)";

/// The way is the same as the rule's on its own clock.
TEST(RatesCommand, WhatAVariantSaysOfARuleIsRewrittenWithIt) {
  const TempDir folder;
  folder.write("f.toml", varied_rules);
  folder.write("before.toml", varied_rules);
  const Ended ended = run_program(folder, {"rates", "f.toml", "--write"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("motion.s stays: the variant v changes one of its numbers"), std::string::npos) << ended.out;
  const std::string text = folder.read("f.toml");
  EXPECT_NE(
      text.find("[variant.v]\n\"motion.f.half_life\" = 0.10354279065017966   # quicker\n\"motion.s.stiffness\" = 80\n"),
      std::string::npos)
      << text;
  EXPECT_NE(text.find("# at half\nchannel.b.motion.half_life = "), std::string::npos) << text;
  for (const auto& [variant, fps] : {std::pair("v", "30"), {"w", "60"}})
    for (const char* const column : {"a.value", "b.value"}) {
      if (std::string(variant) + column == "wa.value") continue; // of 30 frames a second there
      if (std::string(variant) + column == "vb.value") continue; // of 60
      std::vector<std::vector<double>> ways;
      for (const char* const file : {"before.toml", "f.toml"}) {
        EXPECT_EQ(run_program(folder, {"run", file, "--variant", variant, "--fps", fps, "-o", "o", "--figure", "none"})
                      .status,
                  0);
        ways.push_back(read_csv(folder.read(std::string("o/t.") + variant + ".trace.csv")).at(column));
      }
      for (std::size_t k = 0; k < ways[0].size(); ++k) EXPECT_NEAR(ways[0][k], ways[1][k], 1e-12) << variant << column;
    }
}

TEST(RatesCommand, WriteLeavesWhatHasNoEquivalent) {
  const TempDir folder;
  std::string text = old_feel;
  text.replace(text.find("fraction = 0.07"), 15, "fraction = 1.5 ");
  folder.write("old.toml", text);
  const Ended ended = run_program(folder, {"rates", "old.toml", "--write"});
  EXPECT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("motion.pull stays: at 60 fps it swings past its goal"), std::string::npos) << ended.out;
  EXPECT_NE(folder.read("old.toml").find("fraction = 1.5"), std::string::npos);
}

TEST(RatesCommand, RefusesWhatItShould) {
  const TempDir folder;
  folder.write("old.toml", old_feel);
  for (const std::vector<std::string>& bad :
       std::vector<std::vector<std::string>>{{"rates", "old.toml", "--at", "fast"},
                                             {"rates", "old.toml", "--at", "0"},
                                             {"rates", "old.toml", "--at", ""},
                                             {"rates", "old.toml", "--only", "c"},
                                             {"rates", "-", "--write"},
                                             {"rates"}}) {
    const Ended ended = run_program(folder, bad);
    EXPECT_EQ(ended.status, 2) << bad.back();
    EXPECT_NE(ended.err.find("stasis: error:"), std::string::npos) << bad.back();
  }
  folder.write("file", "not a folder");
  EXPECT_EQ(run_program(folder, {"rates", "old.toml", "-o", "file/deeper"}).status, 3);
  EXPECT_EQ(folder.files(), (std::vector<std::string>{"file", "old.toml"}));
}

TEST(RatesCommand, TellsEveryOrderOfATick) {
  const TempDir folder;
  folder.write("t.toml", R"([track.t]
kind = "line"
from = [0, 0]
velocity = [3, 0]
[channel.a]
unit = "m"
rest = [0, 0]
follow = "t"
[take.x]
length = 2
clock = { fps = 60, tick = 50 }
)");
  const Ended ended = run_program(folder, {"rates", "t.toml", "--json", "--figure", "svg"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const Json study = Json::parse(ended.out)["ticks"][0];
  ASSERT_EQ(study["cases"].size(), 6u);
  EXPECT_NEAR(study["cases"][0]["judder_picture"].get<double>(), 3.0 / 50 * std::sqrt(2.0 / 6), 1e-9);
  EXPECT_EQ(study["cases"][study["best"].get<std::size_t>()]["between"], "blend");
  EXPECT_NE(folder.read("stasis-out/rates.x.ticks.svg").find("camera first, held"), std::string::npos);
}

TEST(Clocks, RecordedFramesAndGameTimeReachTheTrace) {
  const TempDir folder;
  folder.write("frames.csv", "dt,note\n0,1\n16,1\n17,2\n120,3\n16,4\n900,5\n");
  folder.write("f.toml",
               "[channel.a]\nrest = 0\n[take.t]\nlength = 1\nclock = { recorded = \"frames.csv\", time_unit = "
               "\"ms\", longest_frame = \"50 ms\" }\n");
  const Ended ended = run_program(folder, {"run", "f.toml", "-o", "-"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("frame,time,dt,a.goal,a.smooth,a.value,a.velocity,game_time\n"), std::string::npos);
  EXPECT_NE(ended.out.find("\n3,0.153,0.12,0,0,0,0,0.083\n"), std::string::npos) << ended.out;
  const Ended steady = run_program(folder, {"run", "f.toml", "-o", "-", "--fps", "40"});
  EXPECT_EQ(steady.status, 0) << steady.err;
  EXPECT_NE(steady.out.find("\n40,1,"), std::string::npos) << steady.out;
  folder.write("frames.csv", "time\n0\n20\n15\n1200\n");
  const Ended back = run_program(folder, {"run", "f.toml", "-o", "-"});
  EXPECT_EQ(back.status, 2);
  EXPECT_NE(back.err.find("frames.csv:4:1"), std::string::npos) << back.err;
  folder.write("frames.csv", "moment\n0\n20\n");
  EXPECT_NE(run_program(folder, {"run", "f.toml", "-o", "-"}).err.find("neither a column time nor a column dt"),
            std::string::npos);
}

} // namespace
} // namespace stasis::test
