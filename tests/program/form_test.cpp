// stasis set --form: a motion by other keys, or as another kind, in its place.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* raft = R"([channel.a]
rest = 0
motion = "soft"     # how
[channel.b]
rest = 0
motion = { kind = "glide", half_life = 0.2 } # in place
[motion.soft]
kind = "spring"
frequency = 1.5     # Hz
damping_ratio = 0.6 # soft
[motion.led]
kind = "glide"
half_life = { setting = "pull" }
[motion.eased]
kind = "ease"
duration = 1
[setting.pull]
value = 0.2
range = [0.1, 0.3]
[pose.on]
a = 1
b = 1
[control.c]
kind = "hold"
pose = "on"
[take.t]
length = 3
cues = [{ at = 1, press = "c" }]
)";

std::string trace(const TempDir& folder) { return run_program(folder, {"run", "f.toml", "-o", "-"}).out; }

void expect_same_path(const std::string& a, const std::string& b) {
  const auto one = read_csv(a), other = read_csv(b);
  for (const char* column : {"a.value", "b.value"})
    for (std::size_t row = 0; row < one.at(column).size(); ++row)
      EXPECT_NEAR(one.at(column)[row], other.at(column)[row], 1e-12) << column << row;
}

TEST(Form, TheSameMotionByOtherKeysAndBack) {
  const TempDir folder;
  folder.write("f.toml", raft);
  const std::string before = trace(folder);
  for (const char* form : {"motion.soft=stiffness", "motion.soft=settling_time", "channel.b.motion=time_constant",
                           "channel.b.motion=rate", "channel.b.motion=settling_time", "motion.soft=frequency"}) {
    const Ended ended = run_program(folder, {"set", "f.toml", "--form", form});
    ASSERT_EQ(ended.status, 0) << form << ended.err;
    EXPECT_NE(ended.out.find("the same motion"), std::string::npos) << ended.out;
    expect_same_path(trace(folder), before);
  }
  // Comments stay on the lines of what they are about.
  for (const char* kept : {"# how", "# in place", "# Hz", "# soft", "[motion.led]"})
    EXPECT_NE(folder.read("f.toml").find(kept), std::string::npos) << kept;
}

TEST(Form, AnotherKindSettlesInTheSameTime) {
  const TempDir folder;
  folder.write("f.toml", raft);
  const auto settles = [&](const char* channel) {
    const auto json = nlohmann::json::parse(run_program(folder, {"explain", "f.toml", "--json"}).out);
    return json["channels"][channel]["motions"][0]["step"]["settling_time"].get<double>();
  };
  const double a = settles("a"), b = settles("b");
  EXPECT_EQ(run_program(folder, {"set", "f.toml", "--form", "motion.soft=half_life"}).status, 0);
  EXPECT_EQ(run_program(folder, {"set", "f.toml", "--form", "channel.b.motion=frequency"}).status, 0);
  EXPECT_NEAR(settles("a"), a, 1e-6 * a);
  EXPECT_NEAR(settles("b"), b, 1e-6 * b);
  EXPECT_NE(folder.read("f.toml").find("damping_ratio = 1"), std::string::npos) << folder.read("f.toml");
}

TEST(Form, WhatHasNoneIsRefusedAndTheFileStays) {
  const TempDir folder;
  folder.write("f.toml", raft);
  for (const auto& [form, why] : {std::pair{"motion.eased=rate", "only a glide and a spring"},
                                  {"motion.led=rate", "read off a setting"},
                                  {"motion.none=rate", "no motion there"},
                                  {"motoin.soft=rate", "Did you mean motion.soft?"},
                                  {"motion.soft=bounce", "is no form"},
                                  {"motion.soft", "PATH=VALUE"}}) {
    const Ended ended = run_program(folder, {"set", "f.toml", "--form", form});
    EXPECT_EQ(ended.status, 2) << form;
    EXPECT_NE(ended.err.find(why), std::string::npos) << ended.err;
    EXPECT_EQ(folder.read("f.toml"), raft);
  }
}

TEST(RulesOnly, AreCheckedAndSetByThemselvesAndMoveNothing) {
  const TempDir folder;
  folder.write("rules.toml", "# shared\n[motion.soft]\nkind = \"glide\"\nhalf_life = 0.2 # s\n[setting.pull]\nvalue = "
                             "1\nrange = [0, 2]\n");
  const Ended checked = run_program(folder, {"check", "rules.toml", "--strict"});
  EXPECT_EQ(checked.status, 0) << checked.out << checked.err;
  EXPECT_NE(checked.out.find("0 warnings"), std::string::npos) << checked.out;
  EXPECT_NE(run_program(folder, {"explain", "rules.toml"}).out.find("by soft, a glide of half-life 0.2 s"),
            std::string::npos);
  EXPECT_EQ(run_program(folder, {"set", "rules.toml", "motion.soft.half_life=0.3"}).status, 0);
  EXPECT_EQ(run_program(folder, {"set", "rules.toml", "--form", "motion.soft=frequency"}).status, 0);
  EXPECT_NE(folder.read("rules.toml").find("kind = \"spring\""), std::string::npos);
  // What is wrong in it is said there.
  EXPECT_EQ(run_program(folder, {"set", "rules.toml", "motion.soft.frequency=-1"}).status, 2);
  for (const char* command : {"run", "rates", "report", "stress"})
    EXPECT_EQ(run_program(folder, {command, "rules.toml"}).status, 2) << command;
  // A feel takes it in, with what the file says of its own history.
  folder.write("rules.toml", "history = 3\n" + folder.read("rules.toml"));
  folder.write("f.toml",
               "include = [\"rules.toml\"]\n[channel.a]\nrest = 0\nmotion = \"soft\"\n[take.t]\nlength = 1\n");
  EXPECT_EQ(run_program(folder, {"check", "f.toml"}).status, 0);
  // A feel that forgot its channels is still told.
  folder.write("g.toml", "[motion.soft]\nkind = \"glide\"\nhalf_life = 0.2\n[take.t]\nlength = 1\n");
  EXPECT_EQ(run_program(folder, {"check", "g.toml"}).status, 2);
}

} // namespace
} // namespace stasis::test
