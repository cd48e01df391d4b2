#include <gtest/gtest.h>

#include "core/clock.hpp"

namespace stasis {
namespace {

// Rule F8.
TEST(Clock, HoldsEveryFrameUpToTheEndAndNoMore) {
  for (const double fps : {0.5, 15.0, 24.0, 29.97, 59.94, 60.0, 144.0, 1000.0})
    for (const double length : {0.0, 0.1, 1.0 / 3, 1.0, 7.999999999, 8.0, 100.0}) {
      const Clock clock = steady_clock(fps, length);
      EXPECT_LE(clock.time(clock.frames - 1), length + instant_slack);
      EXPECT_GT(clock.time(clock.frames), length + instant_slack);
    }
  EXPECT_EQ(steady_clock(60, 8).frames, 481);
  EXPECT_EQ(steady_clock(60, 0).frames, 1);
}

// Rule C2.
TEST(Clock, CuesAreDueAtTheFirstFrameNotBeforeThem) {
  const Clock clock = steady_clock(60, 100);
  EXPECT_EQ(due_frame(clock, 0.0), 0);
  EXPECT_EQ(due_frame(clock, 0.5), 30);
  EXPECT_EQ(due_frame(clock, 0.5 + 5e-10), 30);
  EXPECT_EQ(due_frame(clock, 0.5 + 2e-9), 31);
  EXPECT_EQ(due_frame(clock, 0.501), 31);
  for (int k = 0; k < 6000; ++k) EXPECT_EQ(due_frame(clock, k / 60.0), k);
}

TEST(Clock, TimeDoesNotDrift) {
  const Clock clock = steady_clock(60, 3600);
  EXPECT_EQ(clock.time(216000), 3600.0);
  EXPECT_EQ(clock.elapsed(100, 124), 0.4);
}

} // namespace
} // namespace stasis
