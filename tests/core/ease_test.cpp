#include <cmath>
#include <memory>

#include <gtest/gtest.h>

#include "core/motion/ease.hpp"
#include "core/motion/frame_piece.hpp"

namespace stasis {
namespace {

constexpr EaseRun from_two_to_five{2.0, 5.0, false};
constexpr EaseRun unit_run{0.0, 1.0, false};

TEST(Ease, FollowsItsCurveAndArrivesExactly) {
  const Ease ease{0.4, *parse_curve("ease-in-out")};
  for (int i = 0; i < 40; ++i) {
    const double elapsed = 0.01 * i;
    const Instant now = evaluate(ease, from_two_to_five, elapsed, 5.0, 0.0);
    const CurvePoint point = evaluate(ease.curve, elapsed / 0.4);
    EXPECT_DOUBLE_EQ(now.value, 2.0 + 3.0 * point.value);
    EXPECT_DOUBLE_EQ(now.velocity, 3.0 * point.slope / 0.4);
  }
  EXPECT_EQ(evaluate(ease, from_two_to_five, 0.4, 5.0, 0.0).value, 5.0);
  EXPECT_EQ(evaluate(ease, from_two_to_five, 0.4, 5.0, 0.0).velocity, 0.0);
}

TEST(Ease, ReaimsAtAMovingGoalWithoutRestarting) {
  const Ease ease{1.0, StraightLine{}};
  // Goal 1 + 2 t, half-way: value 0.5 of the way from 0 to 2, rate (g - x0)/D + s u.
  const Instant half = evaluate(ease, {0.0, 1.0, false}, 0.5, 2.0, 2.0);
  EXPECT_DOUBLE_EQ(half.value, 1.0);
  EXPECT_DOUBLE_EQ(half.velocity, 2.0 + 1.0);
  const Instant after = evaluate(ease, {0.0, 1.0, false}, 1.5, 4.0, 2.0);
  EXPECT_EQ(after.value, 4.0);
  EXPECT_EQ(after.velocity, 2.0);
}

TEST(Ease, SpeedOfArrivalIsSeenJustBeforeTheEnd) {
  const Ease ease{0.5, StraightLine{}};
  EXPECT_DOUBLE_EQ(evaluate(ease, unit_run, 0.5, 1.0, 0.0, Side::before).velocity, 2.0);
  EXPECT_EQ(evaluate(ease, unit_run, 0.5, 1.0, 0.0).velocity, 0.0);
}

TEST(Ease, WaitsForItsDelay) {
  const Ease ease{0.5, StraightLine{}, Handover::restart, 0.2};
  EXPECT_EQ(evaluate(ease, unit_run, 0.1, 1.0, 0.0).value, 0.0);
  EXPECT_EQ(evaluate(ease, unit_run, 0.2, 1.0, 0.0, Side::before).velocity, 0.0);
  EXPECT_DOUBLE_EQ(evaluate(ease, unit_run, 0.2, 1.0, 0.0).velocity, 2.0);
  EXPECT_NEAR(evaluate(ease, unit_run, 0.45, 1.0, 0.0).value, 0.5, 1e-15);
  EXPECT_EQ(evaluate(ease, unit_run, 0.7, 1.0, 0.0).value, 1.0);
  EXPECT_DOUBLE_EQ(next_break(ease, unit_run, 0.0), 0.2);
}

TEST(Ease, RepeatsFromItsStart) {
  const Ease ease{0.5, StraightLine{}, Handover::restart, 0.0, 3};
  for (int leg = 0; leg < 3; ++leg) {
    EXPECT_NEAR(evaluate(ease, unit_run, 0.5 * leg + 0.2, 1.0, 0.0).value, 0.4, 1e-15);
    EXPECT_EQ(evaluate(ease, unit_run, 0.5 * (leg + 1), 1.0, 0.0, Side::before).value, 1.0);
  }
  EXPECT_EQ(evaluate(ease, unit_run, 0.5, 1.0, 0.0).value, 0.0);
  EXPECT_EQ(evaluate(ease, unit_run, 1.5, 1.0, 0.0).value, 1.0);
  EXPECT_EQ(total_time(ease, unit_run), 1.5);
  EXPECT_EQ(total_time(ease, {0.0, 1.0, true}), 0.5) << "the way home is made once";
}

TEST(Ease, GoesThereAndBackByTheSameCurve) {
  const Ease ease{0.4, *parse_curve("ease-in"), Handover::restart, 0.1, 2, true};
  const EaseRun run{2.0, 5.0, false};
  for (int i = 1; i < 40; ++i) {
    const double u = i / 40.0, share = evaluate(ease.curve, u).value;
    EXPECT_NEAR(evaluate(ease, run, 0.1 + 0.4 * u, 5.0, 0.0).value, 2.0 + 3.0 * share, 1e-14);
    EXPECT_NEAR(evaluate(ease, run, 0.5 + 0.4 * u, 5.0, 0.0).value, 5.0 - 3.0 * share, 1e-14);
    EXPECT_NEAR(evaluate(ease, run, 1.3 + 0.4 * u, 5.0, 0.0).value, 5.0 - 3.0 * share, 1e-14);
  }
  EXPECT_EQ(evaluate(ease, run, 9.0, 5.0, 0.0).value, 2.0) << "at the end it is where it began";
  EXPECT_DOUBLE_EQ(next_turn(ease, run, 0.0), 0.5);
  EXPECT_DOUBLE_EQ(next_turn(ease, run, 0.5), 0.9);
  EXPECT_TRUE(std::isinf(next_turn(ease, run, 1.31)));
  EXPECT_EQ(heading(ease, run, 0.3), 5.0);
  EXPECT_EQ(heading(ease, run, 0.7), 2.0);
  EXPECT_EQ(heading(ease, run, 3.0), 2.0);
}

TEST(Ease, ACurveThatDoesNotEndAtOneStaysWhereItEnds) {
  const Ease ease{0.5, *parse_curve("linear(0, 0.8)")};
  EXPECT_DOUBLE_EQ(evaluate(ease, unit_run, 2.0, 1.0, 0.0).value, 0.8);
}

TEST(FramePiece, BreaksWhereTheEasedMoveEnds) {
  const Motion motion = Ease{0.4, StraightLine{}};
  FramePiece piece;
  piece.motion = &motion;
  piece.state = state_at_rest(0.9);
  begin_move(motion, piece.state, {0, 0.0, 1.0});
  piece.run_elapsed = 0.39;
  piece.goal = {1, 1};
  piece.dt = 0.02;
  ASSERT_TRUE(next_break(piece, 0.0).has_value());
  EXPECT_NEAR(*next_break(piece, 0.0), 0.01, 1e-15);
  EXPECT_FALSE(next_break(piece, 0.015).has_value());
  piece.run_elapsed = 0.2;
  EXPECT_FALSE(next_break(piece, 0.0).has_value());
  piece.state.run.reset();
  EXPECT_FALSE(next_break(piece, 0.0).has_value());
}

} // namespace
} // namespace stasis
