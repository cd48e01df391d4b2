// What every motion is asked: the answers of one kind agree with each other, whatever the kind.
#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

#include "core/motion/frame_piece.hpp"
#include "core/motion/response.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

/// One of each that goes by time, and stages of several.
std::vector<Motion> motions_by_time() {
  const Ease ease{0.4, *parse_curve("ease-in-out")};
  return {Cut{},
          Glide{5.0},
          Spring{9.0, 0.4},
          Spring{9.0, 1.6, true},
          ease,
          Pace{4.0, 30.0},
          pace_at_once(4.0),
          Chain{0.0, std::nullopt, {Glide{5.0}, Spring{9.0, 0.4}}},
          Chain{0.0, Head{ease}, {Glide{7.0}}},
          Chain{0.0, Head{Pace{4.0, 30.0}}, {Spring{12.0, 0.8}}},
          Chain{0.0, Head{ease}, {}}};
}

/// A state that has gone some way from 1 towards 3, its run `elapsed` s old, if it has one.
MoverState under_way(const Motion& motion, StepMemory& memory, double elapsed) {
  MoverState state = state_at_rest(1.0);
  begin_move(motion, state, {0, 0.0, 3.0, false, 1.0});
  advance(motion, state, memory, {0.0, elapsed}, {3.0, 3.0}, elapsed);
  return state;
}

FramePiece piece_of(const Motion& motion, MoverState from, double dt) {
  FramePiece piece;
  piece.dt = dt;
  piece.motion = &motion;
  piece.state = std::move(from);
  return piece;
}

TEST(Asked, TheInsideOfAPieceLeadsToItsEnd) {
  constexpr double elapsed = 0.11, h = 0.035;
  for (const Motion& motion : motions_by_time())
    for (const double end : {3.0, 3.2}) { // a goal that stands, and one that runs
      StepMemory memory;
      FramePiece piece = piece_of(motion, under_way(motion, memory, elapsed), h);
      piece.run_elapsed = elapsed;
      piece.goal = {3.0, end};
      MoverState after = piece.state;
      const double rate = advance(motion, after, memory, {elapsed, elapsed + h}, piece.goal, h);
      piece.end_value = after.value;
      piece.end_velocity = after.velocity;
      if (std::holds_alternative<Chain>(motion)) piece.end_stages = StageRow{after.input, after.links};
      const double before = 1e-7;
      const Instant last = inside(piece, h, Side::before), near_end = inside(piece, h - before);
      EXPECT_NEAR(last.value, after.value, 1e-12) << kind_of(motion) << " " << end;
      EXPECT_NEAR(last.velocity, rate, 1e-11) << kind_of(motion) << " " << end;
      EXPECT_NEAR(near_end.value, after.value - before * rate, 1e-11) << kind_of(motion) << " " << end;
      EXPECT_NEAR(inside(piece, 0.0).velocity, rate_at_start(motion, piece.state, elapsed, 3.0, piece.slope()), 1e-12)
          << kind_of(motion) << " " << end;
      if (std::holds_alternative<Cut>(motion)) continue; // it is at its goal as soon as that acts
      EXPECT_EQ(inside(piece, 0.0).value, piece.state.value) << kind_of(motion) << " " << end;
    }
}

TEST(Asked, RatesInsideAreRatesOfWhatIsInside) {
  constexpr double elapsed = 0.11, h = 0.035, step = 1e-4;
  for (const Motion& motion : motions_by_time()) {
    StepMemory memory;
    FramePiece piece = piece_of(motion, under_way(motion, memory, elapsed), h);
    piece.run_elapsed = elapsed;
    piece.goal = {3.0, 3.0};
    const auto at = [&](double u) { return inside(piece, u); };
    const double u = 0.4 * h;
    EXPECT_NEAR((at(u + step).value - at(u - step).value) / (2 * step), at(u).velocity, 1e-5) << kind_of(motion);
    EXPECT_NEAR((at(u + step).velocity - at(u - step).velocity) / (2 * step), at(u).acceleration, 1e-3)
        << kind_of(motion);
    EXPECT_NEAR((at(u + step).acceleration - at(u - step).acceleration) / (2 * step), at(u).jerk, 0.2)
        << kind_of(motion);
  }
}

TEST(Asked, LooksIntoAPieceAreTheSameInAnyOrder) {
  std::vector<Motion> motions = motions_by_time();
  for (const char* curve : {"linear(0, 0.3, 0.1, 0.9, 0.7, 1)", "steps(20)", "in-out bounce"})
    motions.push_back(Chain{0.0, Head{Ease{0.4, *parse_curve(curve)}}, {Spring{12.0, 0.8}, Glide{9.0}}});
  constexpr double elapsed = 0.05, h = 0.3;
  for (const Motion& motion : motions) {
    StepMemory memory;
    FramePiece looked_at = piece_of(motion, under_way(motion, memory, elapsed), h);
    looked_at.run_elapsed = elapsed;
    looked_at.goal = {3.0, 3.0};
    const FramePiece untouched = looked_at;
    for (int k = 0; k < 120; ++k) {
      const double u = h * ((37 * k) % 101) / 100.0; // back and forth
      for (const Side side : {Side::at, Side::before}) {
        const FramePiece once = untouched;
        const Instant again = inside(looked_at, u, side), first = inside(once, u, side);
        EXPECT_EQ(again.value, first.value) << kind_of(motion) << " " << u;
        EXPECT_EQ(again.velocity, first.velocity) << kind_of(motion) << " " << u;
        EXPECT_EQ(again.jerk, first.jerk) << kind_of(motion) << " " << u;
      }
    }
  }
}

TEST(Asked, TheOutlookBoundsWhatFollows) {
  for (const Motion& motion : motions_by_time()) {
    StepMemory memory;
    FramePiece piece = piece_of(motion, under_way(motion, memory, 0.2), 0.02);
    piece.run_elapsed = 0.2;
    piece.goal = {3.0, 3.0};
    MoverState state = piece.state;
    advance(motion, state, memory, {0.2, 0.22}, piece.goal, piece.dt);
    piece.end_value = state.value;
    piece.end_velocity = state.velocity;
    if (std::holds_alternative<Chain>(motion)) piece.end_stages = StageRow{state.input, state.links};
    const Outlook outlook = outlook_at_end(piece);
    const double side = state.value < 3.0 ? 1.0 : -1.0;
    for (int k = 0; k < 200; ++k) {
      advance(motion, state, memory, {0.22 + 0.01 * k, 0.23 + 0.01 * k}, {3.0, 3.0}, 0.01);
      EXPECT_LE(std::fabs(state.value - 3.0), outlook.stray + 1e-12) << kind_of(motion) << " " << k;
      EXPECT_LE(side * (state.value - 3.0), outlook.beyond + 1e-12) << kind_of(motion) << " " << k;
    }
    EXPECT_LT(std::fabs(state.value - 3.0), 0.05) << kind_of(motion); // it has come, as its outlook could know
  }
}

TEST(Asked, ASlowSwayComesAsLateAsASteadyDrift) {
  for (const Motion& motion :
       {Motion(Cut{}), Motion(Glide{5.0}), Motion(Spring{9.0, 0.4}), Motion(Spring{9.0, 1.6, true}),
        Motion(Chain{0.07, std::nullopt, {Glide{5.0}, Spring{9.0, 0.4}}})}) {
    const auto sway = sway_of(motion, 1e-4);
    ASSERT_TRUE(sway) << kind_of(motion);
    EXPECT_NEAR(sway->passes, 1.0, 1e-6) << kind_of(motion);
    EXPECT_NEAR(sway->late, *steady_lag(motion), 1e-6) << kind_of(motion);
  }
  for (const Motion& motion : {Motion(Pace{4.0, 30.0}), Motion(PerFrame{FractionRule{0.1}, 60.0}), Motion(Led{})}) {
    EXPECT_FALSE(sway_of(motion, 1.0)) << kind_of(motion);
    EXPECT_FALSE(steady_lag(motion)) << kind_of(motion);
  }
}

TEST(Asked, WhatIsSlowedTakesSoManyTimesAsLong) {
  for (const Motion& motion : {Motion(Glide{5.0}), Motion(Spring{9.0, 0.4}), Motion(Spring{9.0, 1.6, true})}) {
    MoverState quick = state_at_rest(0.0), slow = quick;
    StepMemory memory, other;
    advance(motion, quick, memory, {}, {1.0, 1.0}, 0.1);
    advance(slowed(motion, 3.0), slow, other, {}, {1.0, 1.0}, 0.3);
    EXPECT_NEAR(slow.value, quick.value, 1e-14) << kind_of(motion);
    EXPECT_NEAR(3.0 * slow.velocity, quick.velocity, 1e-13) << kind_of(motion);
  }
  EXPECT_EQ(std::get<Ease>(slowed(Ease{0.4, StraightLine{}}, 3.0)).duration, 0.4);
}

TEST(Asked, AStepHasComeToRestAfterItsTime) {
  for (const Motion& motion : motions_by_time()) {
    const double length = facts_of(motion).step_time;
    EXPECT_GT(length, 0.0) << kind_of(motion);
    MoverState state = state_at_rest(0.0);
    StepMemory memory;
    begin_move(motion, state, {0, 0.0, 1.0, false, 0.0});
    advance(motion, state, memory, {0.0, length}, {1.0, 1.0}, length);
    EXPECT_NEAR(state.value, 1.0, 1e-4) << kind_of(motion);
  }
}

TEST(Asked, SaysInDoublingsWhatWasGivenInThem) {
  const Pace two{2.0 * std::numbers::ln2, 8.0 * std::numbers::ln2};
  EXPECT_EQ(sentence_of(two, true).find("a pace of at most 2 doublings a second, gaining or losing at most 8"), 0U);
  EXPECT_EQ(sentence_of(two).find("doublings"), std::string::npos);
  const std::string stages = sentence_of(Chain{0.0, Head{two}, {Glide{5.0}}}, true);
  EXPECT_NE(stages.find("a pace of at most 2 doublings a second"), std::string::npos) << stages;
  EXPECT_NE(sentence_of(PerFrame{AmountRule{0.5 * std::numbers::ln2}, 60.0}, true).find("goes 0.5 towards its goal"),
            std::string::npos);
}

TEST(Asked, KindsAreNamedAsAFeelNamesThem) {
  EXPECT_EQ(kind_of(Chain{0.2, std::nullopt, {}}), "delay");
  EXPECT_EQ(kind_of(Chain{0.2, std::nullopt, {Glide{1.0}}}), "stages");
  EXPECT_EQ(kind_of(PerFrame{}), "per_frame");
}

TEST(Asked, TraitsTellWhoseSpeedJumpsWithItsGoal) {
  std::vector<Motion> motions = motions_by_time();
  motions.push_back(Ease{.duration = 0.4, .curve = *parse_curve("ease-in-out"), .handover = Handover::carry});
  for (const Motion& motion : motions) {
    StepMemory memory;
    MoverState state = under_way(motion, memory, 0.11);
    const double before = state.velocity;
    begin_move(motion, state, {0, 0.0, 5.0, false, 3.0});
    const double jump = std::fabs(rate_at_start(motion, state, 0.0, 5.0, 0.0) - before);
    // Where it stood just as it would after the jump, nothing is seen of it: a cut, and a pace that goes on as fast.
    if (std::holds_alternative<Cut>(motion) || std::holds_alternative<Pace>(motion)) continue;
    EXPECT_EQ(traits_of(motion).keeps_speed, jump < 1e-9) << kind_of(motion) << " " << jump;
  }
}

TEST(Asked, OnlyWhatJumpsIsThereAtOnce) {
  std::vector<Motion> motions = motions_by_time();
  motions.push_back(Chain{0.0, std::nullopt, {}});
  for (const Motion& motion : motions) {
    StepMemory memory;
    MoverState state = state_at_rest(0.0);
    begin_move(motion, state, {0, 0.0, 1.0, false, 0.0});
    advance(motion, state, memory, {0.0, 1e-6}, {1.0, 1.0}, 1e-6);
    EXPECT_EQ(traits_of(motion).jumps, state.value == 1.0) << kind_of(motion);
  }
}

} // namespace
} // namespace stasis
