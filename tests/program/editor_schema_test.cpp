// The JSON Schema of feels, as an editor uses it: what it underlines while somebody types.
#include <fstream>
#include <sstream>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/feels.hpp"
#include "support/program.hpp"
#include "support/random_feels.hpp"

namespace stasis::test {
namespace {

/// Tells of each feel in a folder on a line of its own whether the schema refuses it, and why.
constexpr const char* judge = R"(
import glob, json, jsonschema, sys, tomllib
check = jsonschema.Draft202012Validator(json.load(open("feel.schema.json")))
for path in sorted(glob.glob(sys.argv[1] + "/*.toml")):
    name = path.split("/")[-1][:-5]
    try: feel = tomllib.load(open(path, "rb"))
    except tomllib.TOMLDecodeError as error: print("refused", name, error); continue
    errors = list(check.iter_errors(feel))
    print("refused" if errors else "accepted", name, errors[0].message[:200] if errors else "")
)";

struct Verdict {
  std::vector<std::string> refused, accepted; ///< lines
};

class EditorSchema : public ::testing::Test {
protected:
  EditorSchema() { folder_.write("feel.schema.json", run_program(folder_, {"schema"}).out); }

  Verdict of(const std::string& feels) const {
    const Ended ended = run_in_shell(folder_, fmt::format("python3 -c '{}' {}", judge, feels));
    EXPECT_EQ(ended.status, 0) << ended.err;
    Verdict out;
    std::istringstream lines(ended.out);
    for (std::string line; std::getline(lines, line);)
      (line.starts_with("refused ") ? out.refused : out.accepted).push_back(line);
    return out;
  }

  const TempDir folder_;
  const std::string source_ = STASIS_SOURCE;
};

TEST_F(EditorSchema, RefusesHalfOfWhatIsWrongInTheGallery) {
  // Names that do not exist, formulas and numbers that are held against each other no schema can tell.
  const Verdict verdict = of(source_ + "/tests/data/bad");
  EXPECT_GE(verdict.refused.size(), verdict.accepted.size());
  EXPECT_GT(verdict.refused.size(), 30u);
}

TEST_F(EditorSchema, RefusesNothingThatIsRight) {
  for (const char* const feels : {"/demo", "/demo/recipes"}) {
    const Verdict verdict = of(source_ + feels);
    EXPECT_GT(verdict.accepted.size(), 4u);
    EXPECT_TRUE(verdict.refused.empty()) << verdict.refused.front();
  }
  const TempDir random;
  for (std::uint64_t seed = 1; seed <= 120; ++seed) {
    FeelMaker maker(seed, {.rules_of_frames = seed % 4 == 0, .switches = seed % 3 == 0, .sticks = seed % 2 == 0});
    const std::string text = maker.make().text;
    if (problems_of(text).empty()) random.write(fmt::format("f{}.toml", seed), text);
  }
  const Verdict verdict = of(random.path().string());
  EXPECT_GT(verdict.accepted.size(), 80u);
  EXPECT_TRUE(verdict.refused.empty()) << verdict.refused.front();
}

struct Asked {
  const char *wrong, *right;
};

TEST_F(EditorSchema, KnowsWhatKeysAskOfEachOther) {
  const std::string channel = "[channel.a]\nrest = 1\n";
  const std::string track = "[track.o]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [1, 0]\n";
  const Asked all[] = {
      {"clock = { fps = 60, between = \"blend\" }", "clock = { fps = 60, tick = 50, between = \"blend\" }"},
      {"clock = { fps = 60, order = \"on_tick\" }", "clock = { fps = 60, order = \"camera_first\" }"},
      {"clock = { recorded = \"../frames.csv\" }", "clock = { recorded = \"frames..csv\" }"},
      {"clock = { recorded = \"/frames.csv\" }", "clock = { recorded = \"a/frames.csv\" }"},
  };
  const TempDir wrong, right;
  int n = 0;
  const auto add = [&](const std::string& before, const std::string& bad, const std::string& good) {
    wrong.write(fmt::format("f{}.toml", n), before + bad + "\n");
    right.write(fmt::format("f{}.toml", n), before + good + "\n");
    ++n;
  };
  for (const Asked& one : all) add(channel + "[take.t]\nlength = 1\n", one.wrong, one.right);
  add(channel, "snap = 0.5\nspace = \"ratio\"", "snap = 0.5\nspace = \"linear\"");
  add(channel, "snap = 0.5\nspace = \"zoom\"", "snap = 0.5");
  add(channel, "motion = { rising = \"m\" }", "motion = { rising = \"m\", falling = \"m\" }");
  add(track + channel + "space = \"turn\"\n", "realign = { to = \"facing\" }",
      "realign = { to = \"facing\", track = \"o\" }");
  add(track + channel + "space = \"turn\"\n", "realign = {}", "realign = { to = \"heading\" }");
  add(track + channel, "realign = { to = \"heading\" }", "space = \"turn\"\nrealign = { to = \"heading\" }");
  add("[motion.m]\nkind = \"per_frame\"\nrule = \"product\"\nat_fps = 60\n", "fraction = 0.1", "rate = 3");
  add("[motion.m]\nkind = \"stages\"\n", "stages = [{ kind = \"glide\", rate = 3 }, { kind = \"pace\", speed = 1 }]",
      "stages = [{ kind = \"delay\", delay = 1 }, { kind = \"pace\", speed = 1 }, { kind = \"glide\", rate = 3 }]");
  add(channel, "[[want]]\nmeasure = \"a.setling_time\"\nat_most = 1",
      "[[want]]\nmeasure = \"a.settling_time\"\nat_most = 1");
  add(channel, "[[want]]\nmeasure = \"settling_time\"\nat_most = 1", "[[want]]\nmeasure = \"hit.a.peak\"\nat_most = 1");
  add("", "[obstacle.o]\nkind = \"wall\"\npoints = [[0, 0]]",
      "[obstacle.o]\nkind = \"wall\"\npoints = [[0, 0], [1, 1]]");
  const Verdict of_wrong = of(wrong.path().string()), of_right = of(right.path().string());
  EXPECT_TRUE(of_wrong.accepted.empty()) << of_wrong.accepted.front();
  EXPECT_TRUE(of_right.refused.empty()) << of_right.refused.front();
  EXPECT_EQ(of_right.accepted.size(), static_cast<std::size_t>(n));
}

} // namespace
} // namespace stasis::test
