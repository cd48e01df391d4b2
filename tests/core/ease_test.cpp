#include <gtest/gtest.h>

#include "core/motion/ease.hpp"
#include "core/motion/mover.hpp"

namespace stasis {
namespace {

TEST(Ease, FollowsItsCurveAndArrivesExactly) {
  const Ease ease{0.4, *parse_curve("ease-in-out")};
  for (int i = 0; i < 40; ++i) {
    const double elapsed = 0.01 * i;
    const Instant now = evaluate(ease, 2.0, elapsed, 5.0, 0.0);
    const CurvePoint point = evaluate(ease.curve, elapsed / 0.4);
    EXPECT_DOUBLE_EQ(now.value, 2.0 + 3.0 * point.value);
    EXPECT_DOUBLE_EQ(now.velocity, 3.0 * point.slope / 0.4);
  }
  EXPECT_EQ(evaluate(ease, 2.0, 0.4, 5.0, 0.0).value, 5.0);
  EXPECT_EQ(evaluate(ease, 2.0, 0.4, 5.0, 0.0).velocity, 0.0);
}

TEST(Ease, ReaimsAtAMovingGoalWithoutRestarting) {
  const Ease ease{1.0, StraightLine{}};
  // Goal 1 + 2 t, half-way: value 0.5 of the way from 0 to 2, rate (g - x0)/D + s u.
  const Instant half = evaluate(ease, 0.0, 0.5, 2.0, 2.0);
  EXPECT_DOUBLE_EQ(half.value, 1.0);
  EXPECT_DOUBLE_EQ(half.velocity, 2.0 + 1.0);
  const Instant after = evaluate(ease, 0.0, 1.5, 4.0, 2.0);
  EXPECT_EQ(after.value, 4.0);
  EXPECT_EQ(after.velocity, 2.0);
}

TEST(Ease, SpeedOfArrivalIsSeenJustBeforeTheEnd) {
  const Ease ease{0.5, StraightLine{}};
  EXPECT_DOUBLE_EQ(evaluate_before(ease, 0.0, 0.5, 1.0, 0.0).velocity, 2.0);
  EXPECT_EQ(evaluate(ease, 0.0, 0.5, 1.0, 0.0).velocity, 0.0);
}

TEST(Mover, BreakInsideIsWhereTheEasedMoveEnds) {
  const Motion motion = Ease{0.4, StraightLine{}};
  FramePiece piece{&motion, 0.9, 0, 0.0, 0.39, true, {1, 1}, 0.02, 1.0, 0};
  ASSERT_TRUE(break_inside(piece).has_value());
  EXPECT_NEAR(*break_inside(piece), 0.01, 1e-15);
  piece.run_elapsed = 0.2;
  EXPECT_FALSE(break_inside(piece).has_value());
  piece.running = false;
  EXPECT_FALSE(break_inside(piece).has_value());
}

} // namespace
} // namespace stasis
