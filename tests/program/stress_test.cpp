// stasis stress as a user meets it.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

std::string stress_feel(const std::string& side) {
  return "title = \"Shoulder\"\n[channel.side]\nunit = \"m\"\nrest = 0.55\nrange = [-0.8, 0.8]\nmotion = { kind = "
         "\"ease\", duration = "
         "0.3, curve = \"in-out sine\" }\n[control.shoulder]\nkind = \"cycle\"\nmirror = \"side\"\nside = \""
         + side + "\"\n";
}

TEST(StressCommand, FindsShrinksDrawsAndEndsWithOne) {
  const TempDir folder;
  folder.write("f.toml", stress_feel("what_is_there"));
  const Ended ended = run_program(folder, {"stress", "f.toml", "--plays", "500", "--figure", "svg"});
  EXPECT_EQ(ended.status, 1) << ended.err;
  EXPECT_NE(ended.out.find("side drifts"), std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("the shortest take that shows it, 2 actions"), std::string::npos) << ended.out;
  EXPECT_EQ(folder.files(), (std::vector<std::string>{"f.toml", "stasis-out/stress.found_1.svg"}));
  // The take that was printed can be pasted into the feel.
  const auto from = ended.out.find("[take.found_1]");
  const std::string take = ended.out.substr(from, ended.out.find("\n\n", from) - from);
  folder.write("pasted.toml", stress_feel("what_is_there") + take + "\n");
  EXPECT_EQ(run_program(folder, {"run", "pasted.toml", "--figure", "none"}).status, 0);
}

// Rule F14.
TEST(StressCommand, IsTheSameOnAnyNumberOfThreads) {
  const TempDir folder;
  folder.write("f.toml", stress_feel("opposite_of_now"));
  const auto on = [&](const char* threads) {
    return run_program(folder,
                       {"stress", "f.toml", "--plays", "700", "--threads", threads, "--json", "--figure", "none"})
        .out;
  };
  const std::string one = on("1");
  EXPECT_NE(one.find("\"trouble\":\"lost_press\",\"about\":\"shoulder\""), std::string::npos) << one;
  EXPECT_EQ(on("2"), one);
  EXPECT_EQ(on("5"), one);
}

TEST(StressCommand, SaysWhenNothingIsFoundAndRefusesWhatItShould) {
  const TempDir folder;
  folder.write("f.toml", stress_feel("stored"));
  const Ended fine = run_program(folder, {"stress", "f.toml", "--plays", "300"});
  EXPECT_EQ(fine.status, 0);
  EXPECT_NE(fine.out.find("nothing found"), std::string::npos);
  EXPECT_EQ(folder.files(), std::vector<std::string>{"f.toml"});
  EXPECT_EQ(run_program(folder, {"stress", "f.toml", "--plays", "many"}).status, 2);
  EXPECT_EQ(run_program(folder, {"stress", "f.toml", "--threads", "0"}).status, 2);
  folder.write("bad.toml", stress_feel("what_is_there"));
  folder.write("file", "not a folder");
  EXPECT_EQ(run_program(folder, {"stress", "bad.toml", "--plays", "100", "-o", "file/deeper"}).status, 3);
  EXPECT_EQ(folder.read("file"), "not a folder");
  const Ended variants = run_program(folder, {"stress", "f.toml", "--set", "control.shoulder.side=what_is_there",
                                              "--plays", "100", "--figure", "none"});
  EXPECT_EQ(variants.status, 1) << variants.err;
  folder.write("none.toml", "[channel.a]\nrest = 0\n");
  EXPECT_EQ(run_program(folder, {"stress", "none.toml"}).status, 2);
}

TEST(StressProgram, FindsNothingInTheDemo) {
  // A view that turns back, is placed, or is held in by a bridge goes on though nobody touches it.
  for (const char* feel : {"first", "starter", "otter", "swim", "orbit", "bridge", "weir"}) {
    const TempDir folder;
    const std::string demo = std::string(STASIS_SOURCE) + "/demo/" + feel + ".toml";
    const Ended ended = run_program(folder, {"stress", demo, "--plays", "150", "--figure", "none"});
    EXPECT_EQ(ended.status, 0) << feel << ended.out << ended.err;
  }
}

TEST(StressProgram, FindsWhichRulesOfFramesAStallCarriesBeyondTheirGoals) {
  // Per-frame rules, kept as they were: a product that is not held at 1, and a spring stepped once a frame.
  const TempDir folder;
  const Ended ended = run_program(folder, {"stress", std::string(STASIS_SOURCE) + "/demo/frames.toml", "--plays", "150",
                                           "--figure", "none", "--json"});
  EXPECT_EQ(ended.status, 1) << ended.err;
  std::size_t found = 0;
  for (std::size_t at = 0; (at = ended.out.find("\"trouble\":", at)) != std::string::npos; ++at) ++found;
  EXPECT_EQ(found, 2u) << ended.out;
  for (const char* about : {"lean", "lantern"})
    EXPECT_NE(ended.out.find(fmt::format("\"trouble\":\"overshoot\",\"about\":\"{}\"", about)), std::string::npos)
        << ended.out;
}

TEST(StressProgram, GivesEveryFindingANameOfItsOwn) {
  const TempDir folder;
  folder.write("bad.toml", stress_feel("what_is_there")
                               + "[take.found_1]\nlength = 1\n[variant.slow]\n\"channel.side.rest\" = 0.5\n");
  const Ended ended =
      run_program(folder, {"stress", "bad.toml", "--variant", "all", "--plays", "100", "--figure", "none"});
  EXPECT_EQ(ended.status, 1) << ended.err;
  for (const char* name : {"[take.found_2]", "[take.found_3]"})
    EXPECT_NE(ended.out.find(name), std::string::npos) << ended.out;
  EXPECT_EQ(ended.out.find("[take.found_1]"), std::string::npos) << ended.out;
}

} // namespace
} // namespace stasis::test
