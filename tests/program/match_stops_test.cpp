// stasis match --stops, as its users meet it: the trace of a sequence becomes a sequence, which plays the same.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

using Json = nlohmann::json;

constexpr const char* channels = R"(
[channel.place]
rest = [0, 0, 0]
unit = "m"
motion = { kind = "glide", half_life = 0.2 }

[channel.fov]
rest = 50
unit = "deg"
space = "zoom"
motion = { kind = "glide", half_life = 0.2 }
)";

constexpr const char* led = R"(
[sequence.a]
stops = [
  { place = [2, 6, -60], fov = 70, cut = true, hold = 0.8 },
  { after = 2.5, place = [-4, 3, -35] },
  { after = 1.5, place = [1, 2.4, -14], fov = 40, hold = 0.6 },
  { place = [3, 1.2, -6], cut = true, hold = 0.7 },
  { after = 0.9, fov = 30, curve = "in-out sine", hold = 1 },
]

[take.t]
length = 8.4
cues = [{ at = 0.5, start = "a" }]
)";

TEST(MatchStops, ASequenceComesBackFromItsTrace) {
  const TempDir folder;
  folder.write("f.toml", std::string(channels) + led);
  ASSERT_EQ(run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none"}).status, 0);
  const Ended ended = run_program(
      folder, {"match", "out/t.trace.csv", "--value", "place,fov", "--stops", "--figure", "none", "--json"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const Json found = Json::parse(ended.out);
  EXPECT_TRUE(found["holds"].get<bool>());
  EXPECT_EQ(found["columns"][3]["space"], "zoom");
  const Json& stops = found["stops"];
  ASSERT_EQ(stops.size(), 6u) << "the view before it, then five stops";
  EXPECT_NEAR(stops[0]["hold"].get<double>(), 0.5, 0.02);
  EXPECT_NEAR(stops[1]["hold"].get<double>(), 0.8, 0.02);
  EXPECT_NEAR(stops[2]["after"].get<double>(), 2.5, 0.01);
  EXPECT_NEAR(stops[2]["values"]["place.z"].get<double>(), -35.0, 0.01);
  EXPECT_FALSE(stops[2]["values"].contains("fov")) << "it flies on to the next stop that names it";
  EXPECT_NEAR(stops[3]["values"]["fov"].get<double>(), 40.0, 0.01);
  EXPECT_EQ(stops[4]["way"], "cut");
  EXPECT_EQ(stops[5]["curve"], "in-out sine");
  EXPECT_NEAR(stops[5]["after"].get<double>(), 0.9, 0.001);
}

TEST(MatchStops, WhatIsWrittenPlaysAsItWasRecorded) {
  const TempDir folder;
  folder.write("f.toml", std::string(channels) + led);
  folder.write("g.toml", std::string(channels) + "\n[take.t]\nlength = 8.4\ncues = [{ at = 0, start = \"caught\" }]\n");
  ASSERT_EQ(run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none"}).status, 0);
  const Ended written = run_program(folder, {"match", "out/t.trace.csv", "--value", "place,fov", "--stops", "--figure",
                                             "none", "--write", "g.toml:sequence.caught"});
  // What g.toml says is begun by its own take only once it is there: the check of the text comes after the edit.
  ASSERT_EQ(written.status, 0) << written.err;
  ASSERT_EQ(run_program(folder, {"run", "g.toml", "-o", "again", "--figure", "none"}).status, 0);
  const auto first = read_csv(folder.read("out/t.trace.csv")), second = read_csv(folder.read("again/t.trace.csv"));
  for (const char* column : {"place.value.x", "place.value.z", "fov.value"}) {
    std::size_t far = 0;
    for (std::size_t k = 0; k < first.at(column).size(); ++k)
      far += std::fabs(first.at(column)[k] - second.at(column)[k]) > 1e-3 ? 1u : 0u;
    EXPECT_LE(far, 3u) << column << ": at most the rows of the three cuts";
  }
}

TEST(MatchStops, OneCallSaysWhatIsWrongWithIt) {
  const TempDir folder;
  folder.write("r.csv", "time,x\n0,0\n0.1,0\n0.2,0\n0.3,1\n0.4,2\n0.5,3\n0.6,3\n0.7,3\n0.8,3\n");
  const std::vector<std::pair<std::vector<std::string>, std::string>> calls{
      {{"--stops"}, "--value"},
      {{"--stops", "--value", "y"}, "no column \"y\""},
      {{"--stops", "--value", "x,x"}, "named twice"},
      {{"--stops", "--value", "x", "--start", "1"}, "--start"},
      {{"--stops", "--value", "x", "--kinds", "glide"}, "--kinds"},
      {{"--stops", "--value", "x", "--within", "0"}, "--within"},
      {{"--stops", "--value", "x", "--within", "1,2,3"}, "--within"},
      {{"--value", "x", "--within", "1"}, "--within belongs to --stops"},
      {{"--stops", "--value", "x", "--space", "round"}, "none of linear, ratio, turn and zoom"},
      {{"--stops", "--value", "x", "--space", "z=zoom"}, "\"z\""},
      {{"--stops", "--value", "x", "--space", "ratio"}, "holds values"},
      {{"--stops", "--value", "x", "--write", "f.toml:motion.a"}, "FEEL:sequence.NAME"}};
  for (const auto& [words, said] : calls) {
    std::vector<std::string> call{"match", "r.csv", "--figure", "none"};
    call.insert(call.end(), words.begin(), words.end());
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 2) << said;
    EXPECT_NE(ended.err.find(said), std::string::npos) << ended.err;
    EXPECT_EQ(ended.out, "") << said;
  }
}

TEST(MatchStops, AWholeTurnIsUnwound) {
  const TempDir folder;
  std::string rows = "time,yaw\n";
  for (int k = 0; k <= 120; ++k) {
    const double share = std::clamp((k - 20) / 80.0, 0.0, 1.0);
    const double yaw = 300.0 + 150.0 * share * share * (3.0 - 2.0 * share);
    rows += std::to_string(k / 60.0) + "," + std::to_string(yaw >= 360.0 ? yaw - 360.0 : yaw) + "\n";
  }
  folder.write("r.csv", rows);
  const Ended ended = run_program(folder, {"match", "r.csv", "--value", "yaw", "--unit", "deg", "--space", "turn",
                                           "--stops", "--figure", "none", "--json"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const Json found = Json::parse(ended.out);
  ASSERT_EQ(found["stops"].size(), 2u);
  EXPECT_NEAR(found["stops"][1]["values"]["yaw"].get<double>(), 450.0, 0.01);
}

} // namespace
} // namespace stasis::test
