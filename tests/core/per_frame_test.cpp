// Per-frame rules: replayed as written, their behaviour by frame rate, their equivalents.
#include <cmath>
#include <complex>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/check/warning.hpp"
#include "core/explain/explain.hpp"
#include "core/motion/equivalent.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;
using test::Rows;
using test::step_feel;

constexpr double machine_rates[] = {15, 24, 30, 60, 120, 144, 240};

struct RuleCase {
  std::string keys;
  std::function<void(double& x, double& v, double dt)> update; ///< towards 1, as a program has it
};

std::vector<RuleCase> rule_cases() {
  return {{"rule = \"fraction\", fraction = 0.07", [](double& x, double&, double) { x += 0.07 * (1 - x); }},
          {"rule = \"fraction\", fraction = 1.3", [](double& x, double&, double) { x += 1.3 * (1 - x); }},
          {"rule = \"product\", rate = 18", [](double& x, double&, double dt) { x += 18 * dt * (1 - x); }},
          {"rule = \"product\", rate = 18, clamp = true",
           [](double& x, double&, double dt) { x += std::min(1.0, 18 * dt) * (1 - x); }},
          {"rule = \"amount\", amount = 0.04", [](double& x, double&, double) { x = std::min(1.0, x + 0.04); }},
          {"rule = \"spring_step\", stiffness = 120, damping = 12",
           [](double& x, double& v, double dt) {
             v += (120 * (1 - x) - 12 * v) * dt;
             x += v * dt;
           }},
          {"rule = \"spring_step\", stiffness = 90, damping = 9, method = \"explicit\"",
           [](double& x, double& v, double dt) {
             const double pull = 90 * (1 - x) - 9 * v;
             x += v * dt;
             v += pull * dt;
           }}};
}

std::string frame_motion(const std::string& keys) { return "kind = \"per_frame\", at_fps = 60, " + keys; }

// Rule M12.
TEST(PerFrame, IsDirectArithmeticAtEveryRate) {
  for (const RuleCase& one : rule_cases())
    for (const double fps : machine_rates) {
      const Rows rows = play_rows(feel_from(step_feel(frame_motion(one.keys), fps, 0.5)));
      double x = 0, v = 0;
      for (std::size_t k = 0; k < rows.time.size(); ++k) {
        EXPECT_NEAR(rows.smooth[k], x, 1e-12 * std::max(1.0, std::fabs(x)))
            << one.keys << " at " << fps << ", row " << k;
        one.update(x, v, 1 / fps);
      }
      if (fps == 15) {
        EXPECT_EQ(rows.time.size(), 8u); // 7 updates within half a second
      }
    }
}

/// The goal of the new frame, as a program reads it; on a disturbed clock each frame has its own dt.
// Rule M13.
TEST(PerFrame, FollowsAGoalThatMovesWithTheNewFramesGoal) {
  for (const char* clock : {"fps = 30", "fps = 30, jitter = 0.7", "fps = 30, stalls = [[0.5, 0.3]]"}) {
    const Rows rows = play_rows(feel_from(fmt::format(
        "[track.t]\nkind = \"line\"\nfrom = 0\nvelocity = 3\n[channel.a]\nrest = 0\nfollow = \"t\"\nmotion = {{ kind = "
        "\"per_frame\", rule = \"product\", rate = 5, at_fps = 60 }}\n[take.x]\nlength = 2\nclock = {{ {} }}\n",
        clock)));
    double x = 0;
    for (std::size_t k = 1; k < rows.time.size(); ++k) {
      const double dt = rows.time[k] - rows.time[k - 1];
      x += 5 * dt * (3 * rows.time[k] - x);
      ASSERT_NEAR(rows.smooth[k], x, 1e-12) << clock << " row " << k;
      EXPECT_NEAR(rows.velocity[k - 1], (rows.smooth[k] - rows.smooth[k - 1]) / dt, 1e-9);
    }
  }
}

TEST(PerFrame, AnAmountOfSeveralComponentsGoesStraight) {
  const Feel feel = feel_from(
      "[channel.a]\nrest = [0, 0]\nmotion = { kind = \"per_frame\", rule = \"amount\", amount = 0.5, at_fps = 60 }\n"
      "[pose.up]\na = [3, 4]\n[control.c]\nkind = \"hold\"\npose = \"up\"\n[take.t]\nlength = 1\nclock = { fps = 20 }\n"
      "cues = [{ at = 0, press = \"c\" }]\n");
  const Rows x = play_rows(feel, 0, 0), z = play_rows(feel, 0, 1);
  for (std::size_t k = 0; k <= 10; ++k) {
    EXPECT_NEAR(x.smooth[k], 0.3 * static_cast<double>(k), 1e-14);
    EXPECT_NEAR(z.smooth[k], 0.4 * static_cast<double>(k), 1e-14);
  }
  EXPECT_EQ(x.smooth[11], 3.0);
  EXPECT_EQ(z.smooth[11], 4.0);
}

TEST(PerFrame, InDoublingsInTheLogarithmicSpaces) {
  const Rows rows = play_rows(feel_from(
      "[channel.a]\nrest = 1\nspace = \"ratio\"\nmotion = { kind = \"per_frame\", rule = \"amount\", amount = 0.25, "
      "at_fps = 60 }\n[pose.up]\na = 8\n[control.c]\nkind = \"hold\"\npose = \"up\"\n[take.t]\nlength = 1\n"
      "cues = [{ at = 0, press = \"c\" }]\n"));
  EXPECT_NEAR(rows.smooth[4], 2.0, 1e-14);
  EXPECT_EQ(rows.smooth[12], 8.0);
}

TEST(PerFrame, SaysWhereItBehaves) {
  EXPECT_EQ(behaviour_in_words(ProductRule{18, false}),
            "monotone at 18 fps and above, overshooting below it, diverging below 9 fps");
  EXPECT_EQ(behaviour_in_words(ProductRule{18, true}), "monotone at every frame rate");
  EXPECT_EQ(behaviour_in_words(FractionRule{0.3}), "monotone at every frame rate");
  EXPECT_EQ(behaviour_in_words(FractionRule{1.5}), "overshooting at every frame rate");
  EXPECT_EQ(behaviour_in_words(FractionRule{2.5}), "diverging at every frame rate");
}

/// What the words say is what a long simulation does.
FrameBehaviour simulated(const FrameRule& rule, double dt) {
  SpringState state{0, 0};
  double most = 0;
  bool turned = false;
  for (int k = 0; k < 4000; ++k) {
    state = update(rule, state, 1, dt);
    most = std::max(most, std::fabs(state.value - 1));
    turned = turned || state.value > 1 + 1e-9;
    if (most > 1e3) return FrameBehaviour::diverges;
  }
  return turned ? FrameBehaviour::overshoots : FrameBehaviour::monotone;
}

TEST(PerFrame, TheSpansAgreeWithSimulation) {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> share(0, 1);
  for (int n = 0; n < 60; ++n) {
    const double stiffness = std::exp(2 + 5 * share(random)), ratio = 0.1 + 2 * share(random);
    const SpringStepRule spring{stiffness, 2 * ratio * std::sqrt(stiffness), n % 2 == 0};
    const auto spans = behaviours_of(spring);
    EXPECT_EQ(spans.front().high_fps, std::numeric_limits<double>::infinity());
    EXPECT_EQ(spans.back().low_fps, 0.0);
    for (std::size_t s = 0; s < spans.size(); ++s) {
      if (s > 0) {
        EXPECT_EQ(spans[s].high_fps, spans[s - 1].low_fps);
      }
      const double high = std::min(spans[s].high_fps, 4 * spans[s].low_fps + 100), low = spans[s].low_fps;
      // Not on a border itself, where it takes ever longer to show.
      const double fps = low + (high - low) * (0.3 + 0.4 * share(random));
      const FrameBehaviour seen = simulated(spring, 1 / fps), said = spans[s].behaviour;
      EXPECT_EQ(seen == FrameBehaviour::diverges, said == FrameBehaviour::diverges)
          << stiffness << " " << ratio << " " << n << " at " << fps;
      if (said == FrameBehaviour::monotone) {
        EXPECT_EQ(seen, said) << stiffness << " " << ratio << " " << n << " at " << fps;
      }
    }
  }
}

TEST(Equivalent, IsTheSameAtTheTunedRate) {
  for (const char* keys : {"rule = \"fraction\", fraction = 0.07", "rule = \"fraction\", fraction = 0.93",
                           "rule = \"product\", rate = 18", "rule = \"product\", rate = 70, clamp = true",
                           "rule = \"amount\", amount = 0.03", "rule = \"amount\", amount = 0.0001"}) {
    const Feel feel = feel_from(step_feel(frame_motion(keys), 60, 4, 0.5, "{ at = 0.9, release = \"c\" }"));
    const auto& rule = std::get<PerFrame>(feel.motions[feel.channels[0].motion[0].rising].motion);
    const auto equivalent = equivalent_of(rule);
    ASSERT_TRUE(equivalent) << keys;
    EXPECT_TRUE(equivalent->is_exact);
    const Rows as_written = play_rows(feel);
    const Rows exact = play_rows(feel_from(step_feel(equivalent->text, 60, 4, 0.5, "{ at = 0.9, release = \"c\" }")));
    for (std::size_t k = 0; k < exact.time.size(); ++k)
      ASSERT_NEAR(as_written.smooth[k], exact.smooth[k], 1e-9) << keys << " row " << k;
    EXPECT_LT(residual_of(rule, equivalent->motion).of_step, 1e-9) << keys;
  }
}

TEST(Equivalent, OfAnEulerSpringHasItsPoles) {
  for (const bool speed_first : {true, false})
    for (const double damping : {4.0, 12.0, 26.0}) {
      const SpringStepRule spring{120, damping, speed_first};
      const auto equivalent = equivalent_of({spring, 60});
      ASSERT_TRUE(equivalent);
      EXPECT_FALSE(equivalent->is_exact);
      const Spring exact = std::get<Spring>(equivalent->motion);
      const StepPoles poles = poles_of(spring, 1.0 / 60);
      const std::complex<double> z = exact.damping_ratio, root = std::sqrt(z * z - 1.0);
      const auto a = std::exp(-exact.angular_frequency / 60 * (z + root)),
                 b = std::exp(-exact.angular_frequency / 60 * (z - root));
      EXPECT_NEAR((a + b).real(), poles.trace, 1e-12);
      EXPECT_NEAR((a * b).real(), poles.determinant, 1e-12);
      // Another first frame: the residual that is stated is what a designer would find by playing both.
      const Rows written = play_rows(feel_from(
          step_feel(frame_motion(fmt::format("rule = \"spring_step\", stiffness = 120, damping = {}, method = \"{}\"",
                                             damping, speed_first ? "semi_implicit" : "explicit")),
                    60, 10)));
      const Rows replaced = play_rows(feel_from(step_feel(equivalent->text, 60, 10)));
      double widest = 0;
      for (std::size_t k = 0; k < written.time.size(); ++k)
        widest = std::max(widest, std::fabs(written.smooth[k] - replaced.smooth[k]));
      EXPECT_NEAR(residual_of({spring, 60}, equivalent->motion).of_step, widest, 1e-9);
      EXPECT_GT(widest, 1e-4);
    }
}

TEST(Equivalent, IsRefusedWithItsReason) {
  EXPECT_NE(why_no_equivalent({FractionRule{1.5}, 60}).find("swings past its goal"), std::string::npos);
  EXPECT_NE(why_no_equivalent({ProductRule{130, false}, 60}).find("runs away"), std::string::npos);
  EXPECT_EQ(why_no_equivalent({ProductRule{130, true}, 60}), "");
  EXPECT_EQ(equivalent_of({FractionRule{1.0}, 60})->text, "kind = \"cut\"");
  EXPECT_TRUE(std::holds_alternative<Glide>(continuous_form({ProductRule{130, false}, 60})));
}

/// A goal that moves: steady lags in closed form, (1 - f) / f frames for the rule and 1 / k for the glide.
TEST(Equivalent, StatesWhatAMovingGoalDoes) {
  const double f = 0.07, k = -60 * std::log1p(-f);
  const auto equivalent = equivalent_of({FractionRule{f}, 60});
  EXPECT_NEAR(residual_of({FractionRule{f}, 60}, equivalent->motion).of_ramp, std::fabs((1 - f) / f / 60 - 1 / k),
              1e-9);
}

/// The lag that is stated is the gap on the frames of a long ramp.
TEST(PerFrame, TrailsASteadyGoalByWhatIsSaid) {
  for (const FrameRule& rule : {FrameRule(FractionRule{0.07}), FrameRule(FractionRule{1.3}),
                                FrameRule(ProductRule{18, false}), FrameRule(ProductRule{90, true}),
                                FrameRule(SpringStepRule{120, 12, true}), FrameRule(SpringStepRule{120, 12, false})}) {
    SpringState state{0, 0};
    for (int k = 1; k <= 6000; ++k) state = update(rule, state, 3.0 * k / 60, 1.0 / 60);
    EXPECT_NEAR(*steady_lag(PerFrame{rule, 60}) * 3, 300 - state.value, 1e-9) << name_of(rule);
  }
  EXPECT_FALSE(steady_lag(PerFrame{AmountRule{1}, 60}));
  EXPECT_FALSE(steady_lag(PerFrame{FractionRule{2.5}, 60}));
}

TEST(PerFrame, IsMeasuredFrameByFrame) {
  const TakeMeasures slow = play_measures(feel_from(step_feel(frame_motion("rule = \"product\", rate = 18"), 12, 3)));
  EXPECT_NEAR(*slow.moves[0].overshoot, 50.0, 1e-9); // the first frame goes 1.5 times the way
  ASSERT_TRUE(slow.moves[0].settling_time);
  EXPECT_FALSE(slow.moves[0].peak_acceleration);
  EXPECT_NEAR(*slow.moves[0].peak_speed, 18.0, 1e-9);
  // 0.5^n of the gap is left after n frames: within 2 % between the fifth and the sixth.
  EXPECT_GT(*slow.moves[0].settling_time, 5.0 / 12);
  EXPECT_LT(*slow.moves[0].settling_time, 6.0 / 12);
  const TakeMeasures wild =
      play_measures(feel_from(step_feel(frame_motion("rule = \"fraction\", fraction = 1.99"), 60, 1)));
  EXPECT_FALSE(wild.moves[0].settling_time);
}

// Rule M12.
TEST(PerFrame, IsWarnedOfWithItsEquivalent) {
  const Feel feel = feel_from(step_feel(frame_motion("rule = \"product\", rate = 40"), 60, 1));
  const auto warnings = warnings_of_feel(feel);
  const auto of = [&](const char* code) {
    for (const Warning& warning : warnings)
      if (warning.code == code) return warning.message;
    return std::string();
  };
  EXPECT_NE(of("per_frame").find("{ kind = \"glide\", half_life = "), std::string::npos);
  EXPECT_NE(of("per_frame_unstable").find("diverging below 20 fps"), std::string::npos);
  const MotionAccount account = account_of("m", feel.motions[feel.channels[0].motion[0].rising].motion);
  EXPECT_NE(account.sentence.find("40 times the frame's time"), std::string::npos);
  EXPECT_FALSE(account.forms.empty());
}

} // namespace
} // namespace stasis
