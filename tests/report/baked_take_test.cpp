// A baked take: every frame of a short one, the extremes of a long one.
#include <algorithm>

#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "report/baked_take.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

Feel feel_of_length(double length) {
  return test::feel_from(
      "[channel.a]\nrest = [0, 5]\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 0.1 }\n"
      "[pose.p]\na = [1, 9]\n[control.p]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = "
      + std::to_string(length) + "\ncues = [ { at = 0.3, press = \"p\" }, { at = 7, release = \"p\" } ]\n");
}

struct Baked {
  report::BakeSink whole{1'000'000}, thin;
  Feel feel;

  Baked(double length, std::size_t most) : thin(most), feel(feel_of_length(length)) {
    BlockSink* const sinks[] = {&whole, &thin};
    play({&feel, &feel.takes[0], steady_clock(60, length)}, sinks);
  }
};

TEST(BakedTake, KeepsEveryFrameOfAShortTake) {
  const Baked baked(10, 6000);
  EXPECT_TRUE(baked.thin.whole());
  ASSERT_EQ(baked.thin.frames().size(), 601u);
  EXPECT_EQ(baked.thin.value(0, 1), baked.whole.value(0, 1));
  EXPECT_EQ(baked.thin.goal(0, 0).front(), 0.0);
  EXPECT_EQ(baked.thin.goal(0, 0)[18], 1.0);
}

TEST(BakedTake, ThinsALongOneToItsExtremes) {
  const Baked baked(600, 500);
  const auto& frames = baked.thin.frames();
  EXPECT_FALSE(baked.thin.whole());
  EXPECT_LE(frames.size(), 500u);
  EXPECT_GT(frames.size(), 100u);
  EXPECT_EQ(frames.front(), 0);
  EXPECT_EQ(frames.back(), 36000);
  EXPECT_TRUE(std::is_sorted(frames.begin(), frames.end()));
  for (std::size_t i = 0; i < 2; ++i) {
    const auto& all = baked.whole.value(0, i);
    const auto& kept = baked.thin.value(0, i);
    EXPECT_EQ(*std::max_element(all.begin(), all.end()), *std::max_element(kept.begin(), kept.end()));
    EXPECT_EQ(*std::min_element(all.begin(), all.end()), *std::min_element(kept.begin(), kept.end()));
    for (std::size_t k = 0; k < frames.size(); ++k) EXPECT_EQ(kept[k], all[static_cast<std::size_t>(frames[k])]);
  }
}

} // namespace
} // namespace stasis
