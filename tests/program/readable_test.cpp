// Output that can be read: bursts in one line, reasons counted, comparisons that say only what was measured.
#include <algorithm>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* busy_feel = R"([channel.distance]
unit = "m"
space = "ratio"
rest = 4
range = [1, 8]
motion = { kind = "glide", half_life = 0.05 }
[channel.yaw]
unit = "deg"
rest = 0
range = [-1000, 1000]
motion = { kind = "glide", half_life = 0.05 }
[channel.lift]
unit = "m"
rest = 0
motion = { kind = "spring", frequency = 2, damping_ratio = 1 }
[pose.up]
lift = 1
[control.wheel]
kind = "clicks"
channel = "distance"
step = 1.5
[control.look]
kind = "pointer"
channel = "yaw"
gain = 0.2
[switch.near]
on = "distance"
enter_above = 5
leave_below = 4.5
pose = "up"
[take.t]
length = 60
cues = [
)";

std::string busy_text() {
  std::string cues;
  for (int k = 0; k < 100; ++k)
    cues += fmt::format("{{ at = {}, click = \"wheel\", count = 1 }}, {{ at = {}, click = \"wheel\", count = -1 }},\n",
                        1 + 0.5 * k, 1.25 + 0.5 * k);
  return busy_feel + cues + "{ at = 1, pointer = \"look\", counts = 5, every = 0.05, times = 300 }]\n";
}

TEST(Readable, ABusyTakeFitsOnAScreen) {
  TempDir folder;
  folder.write("busy.toml", busy_text());
  const Ended ended = run_program(folder, {"run", "busy.toml", "-o", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_LE(std::count(ended.out.begin(), ended.out.end(), '\n'), 40) << ended.out;
  EXPECT_NE(ended.out.find("wheel, 200 moves"), std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("look, 300 moves"), std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("near, "), std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("another goal came before it had settled, "), std::string::npos) << ended.out;
  // The measures file has every move.
  const Ended json = run_program(folder, {"run", "busy.toml", "-o", "none", "--json"});
  EXPECT_GT(nlohmann::json::parse(json.out)["moves"].size(), 550U);
}

TEST(Readable, OnlyNarrowsTableAndSentences) {
  TempDir folder;
  folder.write("busy.toml", busy_text()
                                + "[variant.slow]\n\"channel.yaw.motion.half_life\" = 0.3\n"
                                  "\"channel.lift.motion.frequency\" = 1\n");
  const Ended run = run_program(folder, {"run", "busy.toml", "-o", "none", "--only", "lift"});
  EXPECT_EQ(run.out.find("look, "), std::string::npos) << run.out;
  const Ended compared =
      run_program(folder, {"compare", "busy.toml", "--variant", "slow", "--only", "lift", "--figure", "none"});
  ASSERT_EQ(compared.status, 0) << compared.err;
  EXPECT_EQ(compared.out.find("yaw"), std::string::npos) << compared.out;
  EXPECT_NE(compared.out.find("lift"), std::string::npos);
  const Ended demo = run_program(folder, {"demo", "demo", "--figure", "none"});
  const Ended one = run_program(folder, {"compare", "demo/otter.toml", "--variant", "heavy", "--only", "fov", "--take",
                                         "approach", "--figure", "none"});
  ASSERT_EQ(one.status, 0) << one.err << demo.err;
  EXPECT_EQ(one.out.find("camera"), std::string::npos) << one.out;
}

constexpr const char* handovers = R"([channel.fov]
unit = "deg"
rest = 60
motion = { kind = "ease", duration = 0.4, curve = "in-out sine", handover = "restart" }
[pose.p]
fov = 30
[control.c]
kind = "hold"
pose = "p"
[take.t]
length = 2
cues = [{ at = 0.2, press = "c" }, { at = 0.35, release = "c" }]
[variant.carry]
"channel.fov.motion.handover" = "carry"
)";

TEST(Readable, TheHandoverThatCarriesTheSpeedIsTheBetterOne) {
  TempDir folder;
  folder.write("hand.toml", handovers);
  const Ended ended = run_program(folder, {"compare", "hand.toml", "--variant", "carry", "--json", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const auto measures = nlohmann::json::parse(ended.out)["channels"]["fov"]["measures"];
  for (const char* measure : {"start_kick", "top_speed_jump", "jolt"}) {
    EXPECT_EQ(measures[measure]["best"], "carry") << measure;
    EXPECT_NEAR(measures[measure]["values"][1].get<double>(), 0.0, 1e-6) << measure;
    EXPECT_GT(measures[measure]["values"][0].get<double>(), 1.0) << measure;
  }
}

TEST(Readable, WhatWasNotMeasuredIsNotCompared) {
  TempDir folder;
  std::string text = handovers;
  text.replace(text.find("{ at = 0.35, release = \"c\" }"), 28, "");
  folder.write("one.toml", text + "[variant.idle]\n\"take.t.cues\" = []\n");
  const Ended ended = run_program(folder, {"compare", "one.toml", "--variant", "idle", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_EQ(ended.out.find("overshoots"), std::string::npos) << ended.out;
  EXPECT_EQ(ended.out.find("does not settle"), std::string::npos) << ended.out;
}

TEST(Readable, WhatOnlyRunsIsComparedToo) {
  // Behind a goal at 2 m/s a glide lags by 2 / rate metres, and the view at rest is not told.
  TempDir folder;
  folder.write("one.toml",
               "[channel.a]\nunit = \"m\"\nrest = 0\nformula = \"2 * time\"\nmotion = { kind = \"glide\", rate = "
               "10 }\n[channel.still]\nrest = 1\n[take.t]\nlength = 4\n[variant.slow]\n\"channel.a.motion\" = "
               "{ kind = \"glide\", rate = 5 }\n");
  const Ended ended = run_program(folder, {"compare", "one.toml", "--variant", "slow", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  for (const char* row : {"a        lag_distance, m", "a        lag_time_steady, s", "a        travelled, m"})
    EXPECT_NE(ended.out.find(row), std::string::npos) << row << "\n" << ended.out;
  EXPECT_NE(ended.out.find("lags by at most 0.400 m instead of 0.200 m"), std::string::npos) << ended.out;
  EXPECT_EQ(ended.out.find("still"), std::string::npos) << ended.out;
}

TEST(Readable, ChangesThatNobodySeesAreLeftOut) {
  TempDir folder;
  folder.write("same.toml",
               std::string(handovers) + "[variant.hair]\n\"channel.fov.motion.duration\" = 0.4000000001\n");
  const Ended ended = run_program(folder, {"compare", "same.toml", "--variant", "hair", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_EQ(ended.out.find("%)"), std::string::npos) << ended.out;
  EXPECT_EQ(ended.out.find("e+"), std::string::npos) << ended.out;
}

} // namespace
} // namespace stasis::test
