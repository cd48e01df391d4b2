// stasis set, as its users meet it.
#include <sys/stat.h>
#include <unistd.h>

#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* set_feel = R"(# A lamp
[channel.a]
rest = 0      # at rest
motion = "soft"
[motion.soft]
kind = "glide"
half_life = 0.1   # s
[variant.slow]
"motion.soft.half_life" = 1
)";

TEST(Set, ShowsEachLineBeforeAndAfterAndWrites) {
  const TempDir folder;
  folder.write("f.toml", set_feel);
  const Ended ended = run_program(folder, {"set", "f.toml", "motion.soft.half_life=0.2", "channel.a.unit=m"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_EQ(
      ended.out,
      "f.toml:7\n  - half_life = 0.1   # s\n  + half_life = 0.2   # s\nf.toml:5\n  + unit = \"m\"\n  wrote f.toml\n");
  EXPECT_EQ(folder.read("f.toml"), "# A lamp\n[channel.a]\nrest = 0      # at rest\nmotion = \"soft\"\nunit = "
                                   "\"m\"\n[motion.soft]\nkind = \"glide\"\n"
                                   "half_life = 0.2   # s\n[variant.slow]\n\"motion.soft.half_life\" = 1\n");
}

TEST(Set, ADryRunWritesNothing) {
  const TempDir folder;
  folder.write("f.toml", set_feel);
  const Ended ended = run_program(folder, {"set", "f.toml", "motion.soft.half_life=0.2", "--dry-run"});
  EXPECT_EQ(ended.status, 0);
  EXPECT_NE(ended.out.find("+ half_life = 0.2"), std::string::npos);
  EXPECT_EQ(folder.read("f.toml"), set_feel);
}

TEST(Set, RefusesWhatValidationRefusesAndLeavesTheFile) {
  const TempDir folder;
  folder.write("f.toml", set_feel);
  for (const char* change :
       {"motion.soft.half_life=-1", "motion.soft.half_lif=1", "motion.sofd.half_life=1", "motion.soft.half_life=1 m",
        "channel.a.rest=nan", "variant.slow.\"motion.soft.half_life\"=-2", "motion.soft.half_life", "=3",
        "motion.soft.kind=spring"}) {
    const Ended ended = run_program(folder, {"set", "f.toml", change});
    EXPECT_EQ(ended.status, 2) << change;
    EXPECT_TRUE(ended.err.starts_with("stasis: error: ")) << ended.err;
    EXPECT_EQ(ended.out, "");
    EXPECT_EQ(folder.read("f.toml"), set_feel) << change;
  }
  EXPECT_EQ(run_program(folder, {"set", "gone.toml", "a=1"}).status, 3);
  EXPECT_EQ(run_program(folder, {"set", "-", "a=1"}).status, 2);
  EXPECT_EQ(folder.files(), (std::vector<std::string>{"f.toml"}));
}

TEST(Set, KeepsPermissionsAndLinks) {
  const TempDir folder;
  folder.write("real.toml", set_feel);
  ASSERT_EQ(::chmod((folder / "real.toml").c_str(), 0640), 0);
  ASSERT_EQ(::symlink("real.toml", (folder / "link.toml").c_str()), 0);
  ASSERT_EQ(run_program(folder, {"set", "link.toml", "motion.soft.half_life=0.3"}).status, 0);
  struct stat status {};
  ASSERT_EQ(::lstat((folder / "link.toml").c_str(), &status), 0);
  EXPECT_TRUE(S_ISLNK(status.st_mode));
  ASSERT_EQ(::stat((folder / "real.toml").c_str(), &status), 0);
  EXPECT_EQ(status.st_mode & 0777, 0640u);
  EXPECT_NE(folder.read("real.toml").find("half_life = 0.3   # s"), std::string::npos);
}

constexpr const char* shared_rules = R"(# shared
[motion.soft]   # the one
kind = "spring"
frequency = 1.5 # Hz
damping_ratio = 0.7
[motion.old]
kind = "per_frame"
rule = "fraction"
fraction = 0.1  # a tenth
at_fps = 60
)";
constexpr const char* including_feel = R"(include = ["shared.toml"]
[channel.a]
rest = 0
motion = "soft"
[channel.b]
rest = 0
motion = "old"
[pose.p]
a = 1
b = 1
[control.p]
kind = "hold"
pose = "p"
[take.t]
length = 2
cues = [{ at = 0.2, press = "p" }]
)";

class Including : public ::testing::Test {
protected:
  Including() {
    folder.write("f.toml", including_feel);
    folder.write("shared.toml", shared_rules);
  }
  /// The shared file with one text in place of another.
  static std::string shared_with(const std::string& what, const std::string& with) {
    std::string text = shared_rules;
    return text.replace(text.find(what), what.size(), with);
  }
  const TempDir folder;
};

TEST_F(Including, WhatStandsInAnIncludedFileIsWrittenThere) {
  const Ended ended = run_program(folder, {"set", "f.toml", "motion.soft.frequency=2", "channel.a.rest=0.5"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("wrote shared.toml\n"), std::string::npos);
  EXPECT_NE(ended.out.find("wrote f.toml\n"), std::string::npos);
  EXPECT_EQ(folder.read("shared.toml"), shared_with("1.5", "2"));
  EXPECT_NE(folder.read("f.toml").find("rest = 0.5\n"), std::string::npos);
}

TEST_F(Including, NothingIsWrittenWhereOneOfTheFilesRefuses) {
  const Ended ended = run_program(folder, {"set", "f.toml", "channel.a.rest=0.5", "motion.soft.frequency=-2"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("shared.toml:4:"), std::string::npos) << ended.err;
  EXPECT_EQ(folder.read("f.toml"), including_feel);
  EXPECT_EQ(folder.read("shared.toml"), shared_rules);
}

TEST_F(Including, AFormIsChangedWhereTheMotionStands) {
  ASSERT_EQ(run_program(folder, {"set", "f.toml", "--form", "motion.soft=stiffness"}).status, 0);
  EXPECT_NE(folder.read("shared.toml").find("stiffness = "), std::string::npos);
  EXPECT_EQ(folder.read("f.toml"), including_feel);
}

TEST_F(Including, RulesOfFramesAreReplacedWhereTheyStand) {
  const Ended ended = run_program(folder, {"rates", "f.toml", "--write"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("wrote shared.toml\n"), std::string::npos) << ended.out;
  EXPECT_NE(folder.read("shared.toml").find("kind = \"glide\"\nhalf_life = 0.10964689131600971  # a tenth\n"),
            std::string::npos)
      << folder.read("shared.toml");
  EXPECT_EQ(folder.read("f.toml"), including_feel);
}

TEST_F(Including, WhatIsSolvedForIsWrittenWhereItStands) {
  const Ended ended = run_program(folder, {"solve", "f.toml", "--free", "motion.soft.frequency=0.5:5", "--want",
                                           "a.settling_time at_most 0.3", "--write", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_EQ(folder.read("f.toml"), including_feel);
  EXPECT_NE(folder.read("shared.toml"), shared_rules);
  EXPECT_NE(folder.read("shared.toml").find(" # Hz\n"), std::string::npos);
}

} // namespace
} // namespace stasis::test
