// What `run` says of a take, read by a person.
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

TEST(RunText, WhatOnlyRoundingKeepsFromZeroIsZero) {
  const TempDir folder;
  // Straight ahead along x, though the cosine of a right angle is no exact 0.
  folder.write("a.toml", R"(feel = 1
[picture]
focus = "focus"
distance = "distance"
yaw = "yaw"
pitch = "pitch"
[track.t]
kind = "line"
from = [0, 0, 0]
velocity = [5, 0, 0]
[channel.focus]
rest = [0, 0, 0]
motion = { kind = "cut" }
follow = { track = "t", offset = [0, 1, 2], offset_in = "view" }
[channel.distance]
rest = 4
[channel.yaw]
unit = "deg"
rest = 90
[channel.pitch]
unit = "deg"
rest = 0
[take.x]
length = 2
)");
  const std::string said = run_in_shell(folder, "\"$0\" run a.toml --figure none").out;
  EXPECT_NE(said.find("z 0 to 0"), std::string::npos) << said;
  EXPECT_EQ(said.find("e-1"), std::string::npos) << said;
}

} // namespace
} // namespace stasis::test
