// What a new goal does to an eased move under way.
#include <cmath>

#include <gtest/gtest.h>

#include "core/curve/curve.hpp"
#include "core/explain/explain.hpp"
#include "core/motion/ease.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

std::string reversing_feel(const std::string& handover, const std::string& cues,
                           const std::string& curve = "in-out sine") {
  return "[channel.a]\nrest = 0\nmotion = { kind = \"ease\", duration = 0.4, curve = \"" + curve + "\", handover = \""
         + handover
         + "\" }\n[pose.p]\na = 1\n[control.c]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2\nclock = { fps = "
           "1000 }\ncues = [ "
         + cues + " ]\n";
}
const char* const halfway = "{ at = 0.1, press = \"c\" }, { at = 0.3, release = \"c\" }";

std::size_t first_at(const test::Rows& rows, double value, double after) {
  for (std::size_t k = 0; k < rows.time.size(); ++k)
    if (rows.time[k] > after && std::fabs(rows.smooth[k] - value) < 1e-12) return k;
  return 0;
}

TEST(Handover, RestartTakesTheFullTimeAndItsSpeedJumps) {
  const Feel feel = test::feel_from(reversing_feel("restart", halfway));
  const auto rows = test::play_rows(feel);
  EXPECT_NEAR(rows.time[first_at(rows, 0.0, 0.31)], 0.7, 1.1e-3);
  EXPECT_EQ(rows.velocity[300], 0.0);
  const auto measures = test::play_measures(feel);
  EXPECT_GT(*measures.moves[1].jolt, 3.0);
}

TEST(Handover, ProRataTakesTheShareThatIsLeft) {
  // Half of the time of an even curve is half of the way.
  const auto rows = test::play_rows(test::feel_from(reversing_feel("pro_rata", halfway)));
  EXPECT_NEAR(rows.smooth[300], 0.5, 1e-12);
  EXPECT_NEAR(rows.time[first_at(rows, 0.0, 0.31)], 0.5, 1.1e-3);
  // A second reversal halfway back: at 0.25, three quarters of the way to 1 are left.
  const auto again = test::play_rows(
      test::feel_from(reversing_feel("pro_rata", std::string(halfway) + ", { at = 0.4, press = \"c\" }")));
  EXPECT_NEAR(again.smooth[400], 0.25, 1e-12);
  EXPECT_NEAR(again.time[first_at(again, 1.0, 0.41)], 0.7, 1.1e-3);
}

// Rule M9.
TEST(Handover, CarryKeepsValueAndSpeed) {
  for (const char* curve : {"in-out sine", "linear", "out power 3", "cubic-bezier(0.3, 0.1, 0.2, 1)", "out circle"}) {
    const Feel feel = test::feel_from(reversing_feel("carry", halfway, curve));
    const auto measures = test::play_measures(feel);
    ASSERT_EQ(measures.moves.size(), 2u);
    // A straight line ends at its speed, half of the way in 0.4 s, and stops dead.
    EXPECT_NEAR(*measures.moves[1].jolt, std::string_view(curve) == "linear" ? 1.25 : 0.0, 1e-9) << curve;
    const auto rows = test::play_rows(feel);
    EXPECT_NEAR(rows.smooth.back(), 0.0, 1e-12) << curve;
    for (std::size_t k = 302; k < 350; ++k)
      EXPECT_LT(std::fabs(rows.velocity[k] - rows.velocity[k - 1]), 0.6) << curve << " " << k;
  }
}

// Rule M8.
TEST(Handover, FinishFirstTakesUpTheLastRequest) {
  const auto rows = test::play_rows(test::feel_from(reversing_feel("finish_first", halfway)));
  EXPECT_NEAR(rows.smooth[500], 1.0, 1e-12); // finished at 0.5 s
  EXPECT_NEAR(rows.time[first_at(rows, 0.0, 0.51)], 0.9, 1.1e-3);
  EXPECT_EQ(rows.goal[301], 0.0);
  // Asked back in time: nothing is left to do afterwards.
  const auto back = test::play_rows(
      test::feel_from(reversing_feel("finish_first", std::string(halfway) + ", { at = 0.35, press = \"c\" }")));
  for (std::size_t k = 501; k < back.smooth.size(); ++k) EXPECT_EQ(back.smooth[k], 1.0);
}

// Rule M8.
TEST(Handover, FinishFirstIsExactBetweenFrames) {
  std::string text = reversing_feel("finish_first", halfway);
  const auto fine = test::play_rows(test::feel_from(text));
  text.replace(text.find("fps = 1000"), 10, "fps = 10");
  const auto coarse = test::play_rows(test::feel_from(text)); // the first move ends at 0.5 s, on a frame
  for (std::size_t k = 0; k < coarse.time.size(); ++k) EXPECT_NEAR(coarse.smooth[k], fine.smooth[100 * k], 1e-12) << k;
  text.replace(text.find("fps = 10"), 8, "fps = 8");
  const auto odd = test::play_rows(test::feel_from(text)); // pressed at 0.125, done at 0.525: inside a frame
  // Rows at 0.625 and 0.75 are 0.1 s and 0.225 s into the way back, which began at 0.525 s.
  const auto way_back = [](double t) { return 0.5 + 0.5 * std::cos(std::acos(-1.0) * t / 0.4); };
  EXPECT_NEAR(odd.smooth[5], way_back(0.1), 1e-12);
  EXPECT_NEAR(odd.smooth[6], way_back(0.225), 1e-12);
}

/// The move of a carry, over many speeds: value and speed go on, nothing overshoots, nothing turns back.
TEST(Handover, CarriedMovesFromAnySpeed) {
  const Ease ease{0.5, *parse_curve("in-out sine"), Handover::carry};
  for (double v = -8.0; v <= 40.0; v += 0.25) {
    const EaseRun run = begin_ease(ease, {0.0, 1.0, 0.0, v, -0.2, 1.5, false});
    const Instant start = evaluate(ease, run, 0.0, 1.0, 0.0);
    EXPECT_NEAR(start.value, 0.0, 1e-15) << v;
    EXPECT_NEAR(start.velocity, v, 1e-12 * std::max(1.0, std::fabs(v))) << v;
    const double total = total_time(ease, run);
    double last = 0.0;
    for (int i = 1; i <= 400; ++i) {
      const Instant now = evaluate(ease, run, total * i / 400.0, 1.0, 0.0);
      EXPECT_GE(now.value, -0.2 - 1e-12) << v;
      EXPECT_TRUE(run.overruns || now.value <= 1.0 + 1e-12) << v;
      EXPECT_TRUE(v < 0.0 || run.overruns || now.value >= last - 1e-12) << v;
      last = now.value;
    }
    EXPECT_NEAR(last, 1.0, 1e-12) << v;
    EXPECT_EQ(run.overruns, v > 24.0) << v; // 3 / (0.5 / 4)
  }
}

/// Velocity, acceleration and jerk are the derivatives of the value, between breaks.
TEST(Handover, RatesOfACarriedMoveAreItsDerivatives) {
  const Ease ease{0.5, *parse_curve("in-out sine"), Handover::carry};
  for (const double v : {-3.0, 0.5, 4.0, 9.0}) {
    const EaseRun run = begin_ease(ease, {0.0, 1.0, 0.0, v, -0.1, 1.5, false});
    const double total = total_time(ease, run), h = 1e-5;
    for (double t = 0.01; t < total - 0.01; t += 0.0173) {
      const double edge = next_break(ease, run, t - 2.0 * h);
      if (edge < t + 2.0 * h) continue;
      const Instant a = evaluate(ease, run, t - h, 1.0, 0.0), b = evaluate(ease, run, t + h, 1.0, 0.0);
      const Instant now = evaluate(ease, run, t, 1.0, 0.0);
      EXPECT_NEAR((b.value - a.value) / (2.0 * h), now.velocity, 1e-5);
      EXPECT_NEAR((b.velocity - a.velocity) / (2.0 * h), now.acceleration, 1e-3);
      EXPECT_NEAR((b.acceleration - a.acceleration) / (2.0 * h), now.jerk, 1.0);
    }
  }
}

TEST(Handover, IsSaidInWords) {
  const auto words_of = [](Handover handover) {
    return account_of("swing", Ease{0.4, *parse_curve("in-out sine"), handover}).sentence;
  };
  EXPECT_NE(words_of(Handover::restart).find("the full time again"), std::string::npos);
  EXPECT_NE(words_of(Handover::pro_rata).find("a share of the time"), std::string::npos);
  EXPECT_NE(
      words_of(Handover::carry).find("value and speed go on; if the value comes in fast, it brakes for at least 0.1"),
      std::string::npos)
      << words_of(Handover::carry);
  EXPECT_NE(words_of(Handover::finish_first).find("waits until the move is done"), std::string::npos);
}

TEST(Handover, WithRepeatsIsRefused) {
  std::string text = reversing_feel("carry", halfway);
  text.replace(text.find("duration = 0.4"), 14, "duration = 0.4, repeat = 2");
  EXPECT_FALSE(test::problems_of(text).empty());
  text = reversing_feel("restart", halfway);
  text.replace(text.find("duration = 0.4"), 14, "duration = 0.4, brake_at_least = 0.1");
  EXPECT_FALSE(test::problems_of(text).empty());
}

} // namespace
} // namespace stasis
