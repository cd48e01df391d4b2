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
                                  {"motion.led=rate", "refers to a setting"},
                                  {"motion.none=rate", "no motion there"},
                                  {"motoin.soft=rate", "Did you mean motion.soft?"},
                                  {"motion.soft=bounce", "is not a form. Known: half_life, "},
                                  {"motion.soft=half_lif", "is not a form. Did you mean half_life?"},
                                  {"motion.soft", "PATH=VALUE"}}) {
    const Ended ended = run_program(folder, {"set", "f.toml", "--form", form});
    EXPECT_EQ(ended.status, 2) << form;
    EXPECT_NE(ended.err.find(why), std::string::npos) << ended.err;
    EXPECT_EQ(folder.read("f.toml"), raft);
  }
}

// What a variant says of the motion comes along: its own numbers under the new names, each line where it stood.
TEST(Form, VariantsKeepTheirOwnMotion) {
  const TempDir folder;
  const std::string variants = R"([variant.stiff]
"motion.soft.frequency" = 4 # quick
[variant.loose]
motion.soft.damping_ratio = 0.3
[variant.both]
motion.soft.frequency = 2.5
motion.soft.damping_ratio = 0.2
[variant.whole]
motion.soft = { kind = "glide", half_life = 0.1 }
[variant.other]
"channel.b.motion.half_life" = 0.5
)";
  folder.write("f.toml", raft + variants);
  const std::vector<std::string> names{"base", "stiff", "loose", "both", "whole", "other"};
  const auto traces = [&] {
    std::vector<std::string> all;
    for (const std::string& name : names)
      all.push_back(name == "base" ? trace(folder)
                                   : run_program(folder, {"run", "f.toml", "--variant", name, "-o", "-"}).out);
    return all;
  };
  const auto before = traces();
  for (const char* form : {"motion.soft=stiffness", "channel.b.motion=rate", "motion.soft=settling_time",
                           "channel.b.motion=time_constant", "motion.soft=frequency", "channel.b.motion=half_life"}) {
    const Ended ended = run_program(folder, {"set", "f.toml", "--form", form});
    ASSERT_EQ(ended.status, 0) << form << ended.err;
    const auto after = traces();
    for (std::size_t i = 0; i < names.size(); ++i) {
      SCOPED_TRACE(form + names[i]);
      expect_same_path(after[i], before[i]);
    }
  }
  EXPECT_NE(folder.read("f.toml").find(" = 4 # quick\n"), std::string::npos) << folder.read("f.toml");
  EXPECT_NE(folder.read("f.toml").find("motion.soft = { kind = \"glide\", half_life = 0.1 }"), std::string::npos);
  // Another kind: each variant settles as soon as it did.
  const Ended ended = run_program(folder, {"set", "f.toml", "--form", "channel.b.motion=frequency"});
  EXPECT_NE(ended.out.find("variant.other: channel.b.motion: frequency"), std::string::npos) << ended.out << ended.err;
  EXPECT_EQ(run_program(folder, {"check", "f.toml"}).status, 0);
}

TEST(Form, AVariantThatCannotComeAlongIsNamed) {
  const TempDir folder;
  const std::string led = raft + std::string("[variant.hand]\nmotion.soft.frequency = { setting = \"pull\" }\n");
  folder.write("f.toml", led);
  EXPECT_NE(run_program(folder, {"set", "f.toml", "--form", "motion.soft=stiffness"})
                .err.find("in the variant hand its frequency refers to a setting"),
            std::string::npos);
  EXPECT_EQ(folder.read("f.toml"), led);
  folder.write("shared.toml", "[motion.soft]\nkind = \"glide\"\nhalf_life = 0.2\n");
  const std::string apart = "include = [\"shared.toml\"]\n[channel.a]\nrest = 0\nmotion = \"soft\"\n"
                            "[variant.slow]\nmotion.soft.half_life = 1\n[take.t]\nlength = 1\n";
  folder.write("g.toml", apart);
  EXPECT_NE(run_program(folder, {"set", "g.toml", "--form", "motion.soft=rate"})
                .err.find("the motion stands in shared.toml, and the variant slow of g.toml says its half_life"),
            std::string::npos);
  EXPECT_EQ(folder.read("g.toml"), apart);
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
