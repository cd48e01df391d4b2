// stasis match --shake, as its users meet it: a trace of a known shake gives its numbers back.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

using Json = nlohmann::json;

/// A lamp that stands, hit at 0.5 s, 60 frames a second.
std::string knocked(const std::string& shake) {
  return fmt::format(R"(feel = 1
[channel.tilt]
unit = "deg"
rest = 10
range = [-90, 90]
motion = {{ kind = "glide", half_life = 0.1 }}
[shake.knock]
on = {{ tilt = 3 }}
{}
seed = 4
[take.t]
length = 3
clock = {{ fps = 60 }}
cues = [{{ at = 0.5, hit = "knock" }}]
)",
                     shake);
}

constexpr const char* rings = R"(wave = { kind = "ring", frequency = 4.5, damping_ratio = 0.08 })";
constexpr const char* rattles = R"(wave = { kind = "noise", frequency = 7 }
decay = { kind = "half_life", half_life = 0.3 })";

Ended match_knock(const TempDir& folder, const std::string& shake, std::vector<std::string> more) {
  folder.write("f.toml", knocked(shake));
  folder.write("t.csv", run_program(folder, {"run", "f.toml", "-o", "-"}).out);
  std::vector<std::string> words{"match", "t.csv", "--value", "tilt", "--shake"};
  words.insert(words.end(), more.begin(), more.end());
  return run_program(folder, words);
}

TEST(MatchShakeCommand, ARingsTraceGivesItsNumbersBack) {
  const TempDir folder;
  const Ended ended = match_knock(folder, rings, {"--figure", "none", "--json"});
  EXPECT_EQ(ended.status, 0) << ended.err;
  const Json found = Json::parse(ended.out), best = found["ranking"][0];
  EXPECT_EQ(best["kind"], "ring");
  EXPECT_NEAR(best["parameters"]["frequency"]["value"].get<double>(), 4.5, 1e-5);
  EXPECT_NEAR(best["parameters"]["damping_ratio"]["value"].get<double>(), 0.08, 1e-5);
  EXPECT_NEAR(best["parameters"]["amplitude"]["value"].get<double>(), 3.0, 1e-4);
  EXPECT_NEAR(best["start"]["value"].get<double>(), 0.5, 1e-4);
  EXPECT_EQ(found["motion"],
            R"({ on = { tilt = 3 }, wave = { kind = "ring", frequency = 4.5, damping_ratio = 0.08 } })");
}

TEST(MatchShakeCommand, WhatIsWrittenIsAShakeThatComesBackAlike) {
  const TempDir folder;
  const Ended ended = match_knock(folder, rattles, {"--figure", "none", "--json", "--write", "f.toml:shake.caught"});
  EXPECT_EQ(ended.status, 0) << ended.err;
  const Json found = Json::parse(ended.out);
  EXPECT_TRUE(found["ranking"][0]["kind"] == "noise" || found["indistinct"].size() == 2) << ended.out;
  const Json numbers = found["ranking"][0]["parameters"];
  for (const auto& [name, truth] : {std::pair{"half_life", 0.3}, {"frequency", 7.0}, {"amplitude", 3.0}}) {
    EXPECT_LE(numbers[name]["low"].get<double>(), truth) << name;
    EXPECT_GE(numbers[name]["high"].get<double>(), truth) << name;
  }
  const std::string feel = folder.read("f.toml");
  EXPECT_NE(feel.find("\n[shake.caught]  # matched from t.csv\non = { tilt = "), std::string::npos) << feel;
  EXPECT_EQ(run_program(folder, {"check", "f.toml"}).status, 0);
  // A second time the name is taken, and the file stays as it is.
  EXPECT_EQ(run_program(folder, {"match", "t.csv", "--value", "tilt", "--shake", "--figure", "none", "--write",
                                 "f.toml:shake.caught"})
                .status,
            2);
  EXPECT_EQ(folder.read("f.toml"), feel);
}

TEST(MatchShakeCommand, TheAnswerCanBePastedAndItsFigureShowsTheLimits) {
  const TempDir folder;
  const Ended ended = match_knock(folder, rattles, {"--unit", "deg", "--figure", "svg", "-o", "out"});
  EXPECT_EQ(ended.status, 0) << ended.err;
  const auto at = ended.out.find("  [shake.caught]\n");
  ASSERT_NE(at, std::string::npos) << ended.out;
  std::string table = ended.out.substr(at);
  table.resize(table.find("  wrote "));
  folder.write("g.toml", knocked(rattles) + table);
  EXPECT_EQ(run_program(folder, {"check", "g.toml"}).status, 0) << table;
  const std::string figure = folder.read("out/match.t.svg");
  for (const char* words : {"how far it goes at most", "without its dying away", "tilt shakes: "})
    EXPECT_NE(figure.find(words), std::string::npos) << words;
  EXPECT_EQ(figure.find("nan"), std::string::npos);
}

TEST(MatchShakeCommand, AMoveIsNoShakeAndOtherOptionsAreRefused) {
  const TempDir folder;
  folder.write("f.toml", held_feel(R"({ kind = "spring", frequency = 1.7, damping_ratio = 0.6 })", 3, 60, {0.5}));
  folder.write("t.csv", run_program(folder, {"run", "f.toml", "-o", "-"}).out);
  const Ended moved = run_program(
      folder, {"match", "t.csv", "--value", "a", "--shake", "--figure", "none", "--write", "f.toml:shake.s"});
  EXPECT_EQ(moved.status, 1);
  EXPECT_NE(moved.out.find("is it a move?"), std::string::npos) << moved.out;
  EXPECT_EQ(moved.out.find("[shake.caught]"), std::string::npos) << moved.out;
  EXPECT_NE(moved.err.find("nothing was written"), std::string::npos) << moved.err;
  for (const std::vector<std::string>& more : {std::vector<std::string>{"--goal", "3"},
                                               {"--space", "ratio"},
                                               {"--kinds", "spring"},
                                               {"--stops"},
                                               {"--write", "f.toml:motion.s"}}) {
    std::vector<std::string> words{"match", "t.csv", "--value", "a", "--shake", "--figure", "none"};
    words.insert(words.end(), more.begin(), more.end());
    EXPECT_EQ(run_program(folder, words).status, 2) << more.front();
  }
  folder.write("still.csv", "time,v\n0,1\n0.1,1\n0.2,1\n0.3,1\n0.4,1\n");
  EXPECT_EQ(run_program(folder, {"match", "still.csv", "--shake", "--figure", "none"}).status, 1);
}

} // namespace
} // namespace stasis::test
