// stasis step and stasis hands, as their users meet them.
#include <cmath>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* weir = R"(feel = 1
title = "Weir <script>alert(1)</script>"
[channel.fov]
unit = "deg"
rest = 62
range = [30, 95]
motion = { kind = "spring", frequency = 2, damping_ratio = 0.6 }
[channel.focus]
rest = [0, 0, 0]
range = [-50, 50]
motion = { kind = "glide", half_life = 0.1 }
follow = "otter"
[track.otter]
kind = "circle"
centre = [0, 0, 0]
diameter = 2
speed = 1
[pose.listen]
fov = 38
[control.listen]
kind = "hold"
pose = "listen"
[take.t]
length = 2
clock = { fps = 60 }
cues = [{ at = 0.5, press = "listen" }, { at = 1.25, release = "listen" }]
)";

std::vector<nlohmann::json> answers(const std::string& out) {
  std::vector<nlohmann::json> lines;
  for (std::size_t at = 0; at < out.size();) {
    const std::size_t end = std::min(out.find('\n', at), out.size());
    lines.push_back(nlohmann::json::parse(out.substr(at, end - at)));
    at = end + 1;
  }
  return lines;
}

TEST(Step, AnswersWithTheRowsOfTheTake) {
  const TempDir folder;
  folder.write("weir.toml", weir);
  ASSERT_EQ(run_program(folder, {"run", "weir.toml", "-o", "out", "--figure", "none"}).status, 0);
  const auto trace = read_csv(folder.read("out/t.trace.csv"));
  std::string lines;
  for (int frame = 0; frame <= 120; ++frame)
    lines += frame == 30   ? "{\"inputs\": [{\"press\": \"listen\"}]}\n"
             : frame == 75 ? "{\"inputs\": [{\"release\": \"listen\"}]}\n"
                           : "\n";
  const Ended ended = run_program(folder, {"step", "weir.toml", "--fps", "60"}, lines);
  ASSERT_EQ(ended.status, 0) << ended.err;
  const auto rows = answers(ended.out);
  ASSERT_EQ(rows.size(), 121u);
  for (std::size_t row = 0; row < rows.size(); ++row) {
    EXPECT_EQ(rows[row]["time"].get<double>(), trace.at("time")[row]);
    EXPECT_EQ(rows[row]["channels"]["fov"]["value"].get<double>(), trace.at("fov.value")[row]);
    EXPECT_EQ(rows[row]["channels"]["focus"]["value"][2].get<double>(), trace.at("focus.value.z")[row]);
  }
}

TEST(Step, TellsWhatALineHasWrongAndGoesOn) {
  const TempDir folder;
  folder.write("weir.toml", weir);
  const std::pair<std::string, std::string> wrong[] = {
      {"nonsense", "not JSON"},
      {"[1]", "an object"},
      {R"({"td": 1})", "\"td\""},
      {R"({"dt": -1})", "\"dt\""},
      {R"({"inputs": [{"press": "lisen"}]})", "Did you mean listen?"},
      {R"({"inputs": [{"click": "listen"}]})", "moved by \"press\""},
      {R"({"inputs": [{"press": "listen", "count": 2}]})", "does not go with"},
      {R"({"inputs": [{"goal": {"fov": 200}}]})", "outside the range"},
      {R"({"inputs": [{"place": {"otter": [1]}}]})", "3 components"},
      {R"({"inputs": [{"set": {"channel.fov.rest": 200}}]})", "range"},
      {R"({"inputs": [{"jump": 1}]})", "known: press"},
  };
  std::string lines = "{}\n";
  for (const auto& [line, unused] : wrong) lines += line + "\n";
  const Ended ended = run_program(folder, {"step", "weir.toml"}, lines + "{}\n");
  EXPECT_EQ(ended.status, 0);
  const auto rows = answers(ended.out);
  ASSERT_EQ(rows.size(), std::size(wrong) + 2);
  for (std::size_t i = 0; i < std::size(wrong); ++i) {
    ASSERT_TRUE(rows[i + 1].contains("error")) << wrong[i].first << rows[i + 1];
    EXPECT_NE(rows[i + 1]["error"].get<std::string>().find(wrong[i].second), std::string::npos) << rows[i + 1];
  }
  EXPECT_EQ(rows.back()["frame"], 1); // no frame has passed
}

TEST(Step, SlowsTheGame) {
  const TempDir folder;
  folder.write("weir.toml", weir);
  const Ended ended = run_program(folder, {"step", "weir.toml"},
                                  "{}\n{\"dt\": 0.5, \"inputs\": [{\"game_speed\": 0.25}]}\n{\"dt\": 0.5}\n"
                                  "{\"dt\": 0.5, \"inputs\": [{\"game_speed\": 200}]}\n");
  const auto rows = answers(ended.out);
  ASSERT_EQ(rows.size(), 4u);
  EXPECT_NEAR(rows[2]["time"].get<double>(), 1.0, 1e-12);
  EXPECT_NEAR(rows[2]["game_time"].get<double>(), 0.25, 1e-12);
  EXPECT_FALSE(rows[0].contains("game_time"));
  // The otter goes round by game time.
  EXPECT_NEAR(rows[2]["channels"]["focus"]["goal"][0].get<double>(), std::cos(0.25), 1e-9);
  EXPECT_NE(rows[3]["error"].get<std::string>().find("from 0 to 100"), std::string::npos);
  const Ended even =
      run_program(folder, {"step", "weir.toml", "--fps", "60"}, "{\"inputs\": [{\"game_speed\": 0.5}]}\n");
  EXPECT_NE(answers(even.out)[0]["error"].get<std::string>().find("leave --fps out"), std::string::npos);
}

TEST(Step, LeadsASubjectAndChangesAValue) {
  const TempDir folder;
  folder.write("weir.toml", weir);
  std::string lines = R"({"inputs": [{"place": {"otter": [5, 0, 1]}}]})"
                      "\n";
  lines += R"({"dt": 0.1, "inputs": [{"set": {"channel.focus.motion.half_life": 0.05}}]})"
           "\n";
  lines += R"({"dt": 0.1, "inputs": [{"place": {"otter": [6, 0, 1]}}]})"
           "\n";
  const auto rows = answers(run_program(folder, {"step", "weir.toml"}, lines).out);
  ASSERT_EQ(rows.size(), 3u);
  EXPECT_EQ(rows[0]["channels"]["focus"]["goal"][0], 5.0);
  EXPECT_EQ(rows[2]["channels"]["focus"]["goal"][0], 6.0);
  EXPECT_EQ(folder.read("weir.toml"), weir); // the file is as it was
}

TEST(Step, ValuesOfALineAreSetAllOrNone) {
  const TempDir folder;
  folder.write("weir.toml", weir);
  const std::string lines = "{}\n"
                            "{\"inputs\": [{\"set\": {\"channel.fov.rest\": 50}}, {\"set\": {\"nothing.here\": 1}}]}\n"
                            "{\"dt\": 1}\n"
                            "{\"inputs\": [{\"set\": {\"channel.fov.rest\": 50, \"channel.fov.range\": [40, 70]}}]}\n";
  const auto rows = answers(run_program(folder, {"step", "weir.toml"}, lines).out);
  ASSERT_EQ(rows.size(), 4u);
  EXPECT_TRUE(rows[1].contains("error"));
  EXPECT_EQ(rows[2]["channels"]["fov"]["goal"], 62.0);
  EXPECT_EQ(rows[3]["channels"]["fov"]["goal"], 50.0);
}

TEST(Step, EndsWithWhoeverAsks) {
  const TempDir folder;
  folder.write("weir.toml", weir);
  // Lines without end, and a reader of one.
  EXPECT_EQ(run_in_shell(folder, "yes '' | timeout 10 \"$0\" step weir.toml | head -1 | grep -c frame").out, "1\n");
  const Ended ended = run_in_shell(folder, "head -c 2000000 /dev/zero | tr '\\0' x | \"$0\" step weir.toml");
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("longer than"), std::string::npos) << ended.err;
}

TEST(Step, RefusesWhatCannotBe) {
  const TempDir folder;
  folder.write("weir.toml", weir);
  folder.write("broken.toml", "feel = 1\n[channel.a]\nrset = 1\n");
  EXPECT_EQ(run_program(folder, {"step", "gone.toml"}).status, 3);
  EXPECT_EQ(run_program(folder, {"step", "-"}, weir).status, 2);
  EXPECT_EQ(run_program(folder, {"step", "weir.toml", "--take", "nope"}).status, 2);
  EXPECT_EQ(run_program(folder, {"step", "weir.toml", "--variant", "nope"}).status, 2);
  EXPECT_EQ(run_program(folder, {"step", "weir.toml", "--fps", "0"}).status, 2);
  const Ended ended = run_program(folder, {"step", "broken.toml"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("broken.toml:3:1"), std::string::npos) << ended.err;
}

TEST(Hands, WritesOnePageWithTheFeelAsDataOnly) {
  const TempDir folder;
  folder.write("weir.toml", weir);
  const Ended ended = run_program(folder, {"hands", "weir.toml", "-o", "pages/hands.html"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const std::string page = folder.read("pages/hands.html");
  EXPECT_LT(page.size(), 3'000'000u);
  EXPECT_EQ(page.find("<script>alert"), std::string::npos);
  EXPECT_NE(page.find("Content-Security-Policy"), std::string::npos);
  EXPECT_EQ(page.find("{{{"), std::string::npos) << "a part of the page was not filled in";
  // The same feel gives the same bytes, and a page of ours may be written over.
  EXPECT_EQ(run_program(folder, {"hands", "weir.toml", "-o", "pages/hands.html"}).status, 0);
  EXPECT_EQ(folder.read("pages/hands.html"), page);
  folder.write("note.html", "mine");
  EXPECT_NE(run_program(folder, {"hands", "weir.toml", "-o", "note.html"}).status, 0);
  EXPECT_EQ(folder.read("note.html"), "mine");
  EXPECT_EQ(run_program(folder, {"hands", "gone.toml"}).status, 3);
  EXPECT_EQ(run_program(folder, {"hands", "weir.toml", "-o", "-", "--json"}).status, 2);
}

} // namespace
} // namespace stasis::test
