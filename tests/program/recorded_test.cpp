// Input recorded elsewhere, replayed.
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* recorded_feel = R"(
[channel.a]
rest = 0
range = [-10, 10]
[channel.b]
rest = 0
range = [-10, 10]
[channel.c]
rest = 0
range = [-10, 10]
[pose.p]
a = 1
[control.p]
kind = "hold"
pose = "p"
[control.wheel]
kind = "clicks"
channel = "b"
step = 1
[control.look]
kind = "stick"
channel = "c"
gain = 2
[take.t]
length = 2
clock = { fps = 10 }
recorded = "input.csv"
)";

Ended run_recorded(const TempDir& folder, const std::string& csv) {
  folder.write("f.toml", recorded_feel);
  folder.write("input.csv", csv);
  return run_program(folder, {"run", "f.toml", "--figure", "none"});
}

TEST(Recorded, BecomesPressesClicksAndDeflections) {
  const TempDir folder;
  const Ended ended = run_recorded(folder, "time,p,wheel,look\n0,0,0,0\n0.5,1,2,0\n1,1,0,0.5\n1.5,0,-1,0\n5,1,1,1\n");
  ASSERT_EQ(ended.status, 0) << ended.err;
  auto trace = read_csv(folder.read("stasis-out/t.trace.csv"));
  EXPECT_EQ(trace["a.goal"][4], 0.0);
  EXPECT_EQ(trace["a.goal"][5], 1.0);
  EXPECT_EQ(trace["a.goal"][14], 1.0);
  EXPECT_EQ(trace["a.goal"][15], 0.0);
  EXPECT_EQ(trace["b.goal"][5], 2.0);
  EXPECT_EQ(trace["b.goal"][20], 1.0);
  EXPECT_NEAR(trace["c.goal"][15], 0.5, 1e-12); // 0.5 of 2 a second for half a second
  EXPECT_NEAR(trace["c.goal"][20], 0.5, 1e-12);
}

TEST(Recorded, FaultsNameTheLine) {
  const TempDir folder;
  const auto error = [&](const std::string& csv) {
    const Ended ended = run_recorded(folder, csv);
    EXPECT_EQ(ended.status, 2);
    return ended.err;
  };
  EXPECT_NE(error("time,p\n0,0\n1,1\n0.5,0\n").find("input.csv:4"), std::string::npos);
  EXPECT_NE(error("time,q\n0,0\n").find("Known: p, wheel and look"), std::string::npos);
  EXPECT_NE(error("t,p\n0,0\n").find("no control named \"t\""), std::string::npos);
  EXPECT_NE(error("p\n0\n").find("no column time"), std::string::npos);
  EXPECT_NE(error("time,p\n0,x\n").find("input.csv:2"), std::string::npos);
  folder.write("f.toml",
               std::string(recorded_feel).replace(std::string(recorded_feel).find("input.csv"), 9, "../out.csv"));
  EXPECT_EQ(run_program(folder, {"run", "f.toml", "--figure", "none"}).status, 2);
}

} // namespace
} // namespace stasis::test
