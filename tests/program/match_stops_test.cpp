// stasis match --stops, as its users meet it: the trace of a sequence becomes a sequence, which plays the same.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/random.hpp"
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

// Values that are all above zero pass for ones that go by factors, by the count of their cubics; and legs that follow
// each other at once halt for an instant only.
TEST(MatchStops, EasedLegsComeBackWhateverTheyPassFor) {
  struct Case {
    const char* stops;
    double length;
    std::vector<const char*> curves; // of the stops after the view before
  };
  const std::vector<Case> cases{
      {R"({ place = [5.2, -6, 8.9], fov = 63, cut = true, hold = 0.6 },
          { after = 0.9, place = [4.4, 1.3, 5.5], curve = "ease" },
          { after = 2, place = [4.2, 8.4, 4.3], hold = 0.7, curve = "in-out sine" })",
       4.5,
       {"", "ease", "in-out sine"}},
      {R"({ place = [-5.2, -9.3, -1.4], fov = 88, cut = true, hold = 0.7 },
          { after = 0.7, place = [0.3, -5, 4], curve = "in-out sine" },
          { after = 1, place = [7.7, -2.6, -3.4], curve = "ease" })",
       2.7,
       {"", "in-out sine", "ease"}},
      {R"({ place = [6.1, -6.6, 8.1], fov = 69, cut = true, hold = 0.4 },
          { after = 2.3, fov = 71, hold = 0.6, curve = "ease-out" },
          { after = 0.8, place = [-7.8, -4.2, 2.6], curve = "in-out power 2" },
          { after = 0.6, place = [-5.3, 1.9, 1.9], curve = "ease" })",
       5.0,
       {"", "ease-out", "in-out power 2", "ease"}},
      {R"feel({ place = [-3.8, -4.4, 2.9], fov = 38, cut = true, hold = 0.8 },
          { after = 2, place = [-5.6, 0.9, -5.7], fov = 80, hold = 0.7, curve = "out back 2.3" },
          { after = 1.4, place = [-7.3, 7.4, 7.5], hold = 0.7, curve = "cubic-bezier(0.15, 0.8, 0.4, 1)" },
          { after = 1.1, fov = 50, hold = 0.5, curve = "in-out power 2.6" })feel",
       7.5,
       {"", "out back 2.3", "cubic-bezier(0.15, 0.8, 0.4, 1)", "in-out power 2.6"}},
  };
  for (const Case& one : cases) {
    const TempDir folder;
    folder.write("f.toml", std::string(channels)
                               + fmt::format("[sequence.a]\nstops = [{}]\n[take.t]\nlength = {}\n"
                                             "cues = [{{ at = 0.3, start = \"a\" }}]\n",
                                             one.stops, one.length));
    ASSERT_EQ(run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none"}).status, 0);
    const Ended ended = run_program(
        folder, {"match", "out/t.trace.csv", "--value", "place,fov", "--stops", "--figure", "none", "--json"});
    ASSERT_EQ(ended.status, 0) << ended.err;
    const Json found = Json::parse(ended.out);
    std::vector<std::string> curves;
    for (std::size_t s = 1; s < found["stops"].size(); ++s)
      curves.push_back(found["stops"][s].value("curve", std::string()));
    EXPECT_EQ(curves, std::vector<std::string>(one.curves.begin(), one.curves.end())) << one.stops;
    EXPECT_EQ(found["columns"][0]["space"], "linear") << one.stops;
  }
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
      {{"--stops", "--value", "x", "--space", "round"}, "Known: linear, ratio, turn and zoom"},
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

std::string feel_led_through(double fps, const std::string& stops, double length) {
  return fmt::format("[channel.a]\nrest = 62\nmotion = {{ kind = \"glide\", half_life = 0.1 }}\n[sequence.s]\n"
                     "stops = [{}]\n[take.t]\nlength = {}\nclock = {{ fps = {} }}\n"
                     "cues = [{{ at = 0.5, start = \"s\" }}]\n",
                     stops, length, fps);
}

Json stops_back(const TempDir& folder, const std::string& feel, std::vector<std::string> more = {}) {
  folder.write("f.toml", feel);
  folder.write("t.csv", run_program(folder, {"run", "f.toml", "-o", "-"}).out);
  std::vector<std::string> call{"match", "t.csv", "--value", "a", "--stops", "--figure", "none", "--json"};
  call.insert(call.end(), more.begin(), more.end());
  const Ended ended = run_program(folder, call);
  EXPECT_EQ(ended.status, 0) << ended.err;
  return Json::parse(ended.out);
}

TEST(MatchStops, DurationsThatPeopleTypeComeBackAtAnyFrameRate) {
  const TempDir folder;
  for (const double fps : {24.0, 30.0, 60.0, 1000.0})
    for (const double duration : {0.2, 0.5, 1.0})
      for (const bool is_eased : {false, true}) {
        const Json found = stops_back(
            folder, feel_led_through(
                        fps,
                        fmt::format("{{ a = 60, cut = true, hold = 0.5 }}, {{ after = {0}, a = 38, {1}hold = 0.5 }}, "
                                    "{{ after = {0}, a = 45, hold = 0.6 }}",
                                    duration, is_eased ? "curve = \"in-out sine\", " : ""),
                        2.1 + 2.0 * duration));
        const Json& stops = found["stops"];
        ASSERT_EQ(stops.size(), 4u) << fps << " " << duration << is_eased;
        // Of four rows a hop with other ends is as near as the curve.
        const bool can_tell = fps * duration > 6.0;
        EXPECT_NEAR(stops[2]["after"].get<double>(), duration, (can_tell ? 1e-3 : 0.05) * duration) << fps;
        if (can_tell) {
          EXPECT_EQ(stops[2]["curve"], is_eased ? "in-out sine" : "") << fps << " " << duration;
        }
        EXPECT_NEAR(stops[2]["values"]["a"].get<double>(), 38.0, 1e-3);
        EXPECT_NEAR(stops[3]["after"].get<double>(), duration, 1e-3 * duration);
      }
}

TEST(MatchStops, TooFewRowsAreSaidToBe) {
  const TempDir folder;
  const std::string stops = "{ a = 60, cut = true, hold = 0.5 }, { after = 0.1, a = 38, hold = 0.5 }, "
                            "{ after = 0.8, a = 45, hold = 0.6 }";
  const Json few = stops_back(folder, feel_led_through(24, stops, 3.0)),
             many = stops_back(folder, feel_led_through(240, stops, 3.0));
  EXPECT_NE(few["notes"].dump().find("too few rows lie on the way to stop 3"), std::string::npos) << few["notes"];
  EXPECT_EQ(many["notes"].dump().find("too few rows"), std::string::npos) << many["notes"];
}

TEST(MatchStops, WhatFollowsASequenceDoesNotBlurIt) {
  const TempDir folder;
  // The view is given back by a spring, which no few stops pass exactly.
  std::string feel = feel_led_through(60,
                                      "{ a = 60, cut = true, hold = 0.5 }, { after = 0.7, a = 38 }, "
                                      "{ after = 1.1, a = 45, hold = 0.6 }",
                                      5.0);
  const std::string glide = "kind = \"glide\", half_life = 0.1";
  const std::string spring = "kind = \"spring\", frequency = 1.5, damping_ratio = 0.4";
  const Json back = stops_back(folder, feel)["stops"];
  EXPECT_TRUE(back.back()["curve"].get<std::string>().starts_with("out exp"))
      << "a glide is one, cut where the rows end";
  feel.replace(feel.find(glide), glide.size(), spring);
  const Json found = stops_back(folder, feel);
  const Json& stops = found["stops"];
  ASSERT_GE(stops.size(), 5u);
  EXPECT_NEAR(stops[2]["after"].get<double>(), 0.7, 1e-4);
  EXPECT_NEAR(stops[3]["after"].get<double>(), 1.1, 1e-4);
  EXPECT_NEAR(stops[3]["values"]["a"].get<double>(), 45.0, 1e-3);
  EXPECT_NEAR(stops[3]["hold"].get<double>(), 0.6, 0.02);
  EXPECT_LT(stops.size(), 12u) << "few stops for the way back, as near as they can";
  EXPECT_NE(found["notes"].dump().find("--within"), std::string::npos);
  EXPECT_GT(found["columns"][0]["within"].get<double>(), 1e-4) << "what was allowed there is said";
}

TEST(MatchStops, AllowancesAreByColumnOrByChannel) {
  const TempDir folder;
  folder.write("f.toml", std::string(channels) + led);
  ASSERT_EQ(run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none"}).status, 0);
  const auto within = [&](const std::string& words) {
    const Ended ended = run_program(folder, {"match", "out/t.trace.csv", "--value", "place,fov", "--stops", "--within",
                                             words, "--figure", "none", "--json"});
    EXPECT_EQ(ended.status, 0) << ended.err;
    std::vector<double> all;
    const Json found = Json::parse(ended.out);
    for (const Json& column : found["columns"]) {
      all.push_back(column["within"].get<double>());
      EXPECT_LE(column["off"].get<double>(), 1.001 * all.back()) << words;
    }
    return all;
  };
  EXPECT_EQ(within("0.25"), (std::vector<double>{0.25, 0.25, 0.25, 0.25}));
  EXPECT_EQ(within("0.5,0.1"), (std::vector<double>{0.5, 0.5, 0.5, 0.1}));
  EXPECT_EQ(within("0.5,0.4,0.3,0.2"), (std::vector<double>{0.5, 0.4, 0.3, 0.2}));
}

TEST(MatchStops, WhatIsPrintedIsWhatIsWritten) {
  const TempDir folder;
  folder.write("f.toml", std::string(channels) + led);
  folder.write("g.toml", std::string("# mine\n") + channels);
  ASSERT_EQ(run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none"}).status, 0);
  const Ended ended = run_program(folder, {"match", "out/t.trace.csv", "--value", "place,fov", "--stops", "--write",
                                           "g.toml:sequence.way", "-o", "drawn"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const auto begin = ended.out.find("[sequence.way]"), end = ended.out.find("]\nbegun by");
  ASSERT_NE(begin, std::string::npos);
  ASSERT_NE(end, std::string::npos);
  const std::string feel = folder.read("g.toml");
  EXPECT_TRUE(feel.starts_with("# mine"));
  EXPECT_NE(feel.find(ended.out.substr(begin, end + 1 - begin)), std::string::npos) << feel;
  EXPECT_EQ(run_program(folder, {"check", "g.toml"}).status, 0);
  for (const char* const kind : {"svg", "png"})
    EXPECT_FALSE(folder.read(std::string("drawn/stops.t.trace.") + kind).empty());
  // A second time the name is taken: nothing changes.
  const Ended again = run_program(folder, {"match", "out/t.trace.csv", "--value", "place,fov", "--stops", "--figure",
                                           "none", "--write", "g.toml:sequence.way"});
  EXPECT_EQ(again.status, 2);
  EXPECT_EQ(folder.read("g.toml"), feel);
  // So is a name that no sequence can have.
  const Ended named = run_program(folder, {"match", "out/t.trace.csv", "--value", "place,fov", "--stops", "--figure",
                                           "none", "--write", "g.toml:sequence.my way"});
  EXPECT_EQ(named.status, 2);
  EXPECT_NE(named.err.find("cannot be a name"), std::string::npos) << named.err;
  EXPECT_EQ(folder.read("g.toml"), feel);
}

TEST(MatchStops, AStandingOrAShortRecordingIsNoTrouble) {
  const TempDir folder;
  folder.write("still.csv", "t,x\n0,1\n1,1\n2,1\n3,1\n4,1\n5,1\n6,1\n7,1\n8,1\n");
  const Ended still =
      run_program(folder, {"match", "still.csv", "--value", "x", "--stops", "--figure", "none", "--json"});
  ASSERT_EQ(still.status, 0) << still.err;
  const Json stops = Json::parse(still.out)["stops"];
  ASSERT_EQ(stops.size(), 1u);
  EXPECT_EQ(stops[0]["hold"], 8.0);
  folder.write("short.csv", "t,x\n0,1\n1,2\n2,1\n");
  const Ended small = run_program(folder, {"match", "short.csv", "--value", "x", "--stops", "--figure", "none"});
  EXPECT_EQ(small.status, 2);
  EXPECT_NE(small.err.find("8 rows"), std::string::npos) << small.err;
}

TEST(MatchStops, RepeatedAndFarRowsOfANoisyCaptureAreLeftOut) {
  const TempDir folder;
  Random random(9);
  std::string rows = "t,x\n";
  double last = 0.0;
  for (int k = 0; k < 180; ++k) {
    const double share = std::clamp((k - 30) / 90.0, 0.0, 1.0);
    double x = 50.0 * share * share * (3.0 - 2.0 * share) + 0.05 * random.normal();
    if (k == 60 || k == 80) x = last; // a dropped frame
    if (k == 100) x += 9.0;           // something passed the tracker
    rows += fmt::format("{:.4f},{:.3f}\n", k / 60.0, x);
    last = x;
  }
  folder.write("r.csv", rows);
  const Ended ended = run_program(folder, {"match", "r.csv", "--value", "x", "--stops", "--figure", "none", "--json"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const Json found = Json::parse(ended.out);
  EXPECT_NE(found["notes"].dump().find("3 rows left out"), std::string::npos) << found["notes"];
  ASSERT_EQ(found["stops"].size(), 2u) << found["stops"];
  EXPECT_NEAR(found["stops"][1]["after"].get<double>(), 1.5, 0.05);
}

} // namespace
} // namespace stasis::test
