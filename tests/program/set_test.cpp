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

} // namespace
} // namespace stasis::test
