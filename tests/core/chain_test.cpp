// Stages against a matrix exponential in 50 digits, and against the convolution integral.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/motion/mover.hpp"
#include "core/random.hpp"
#include "core/units.hpp"
#include "support/exact.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;
using test::Real;
using test::step_feel;

/// A step's answer of glide(k) then spring(w, z), `t` after it.
double glide_then_spring(double k, double w, double z, double t) {
  if (t <= 0) return 0;
  test::Matrix<4> a{};
  a[0] = {-Real(k), 0, 0, Real(k)};
  a[1] = {0, 0, 1, 0};
  a[2] = {Real(w) * w, -Real(w) * w, -2 * Real(z) * w, 0};
  return static_cast<double>(test::exponential(a, Real(t))[1][3]);
}

// Rule M10.
TEST(Chain, OfGlideAndSpringIsOneLinearSystem) {
  const double k = rate_of_half_life(0.1);
  for (const double frequency : {0.5, 2.0, 9.0})
    for (const double ratio : {0.2, 1.0, 3.0})
      for (const double fps : {24.0, 144.0}) {
        const auto rows = play_rows(
            feel_from(step_feel(fmt::format("kind = \"stages\", stages = [{{ kind = \"glide\", half_life = 0.1 }}, {{ "
                                            "kind = \"spring\", frequency = {}, damping_ratio = {} }}]",
                                            frequency, ratio),
                                fps, 2.0)));
        for (std::size_t row = 0; row < rows.time.size(); row += 5)
          EXPECT_NEAR(rows.smooth[row], glide_then_spring(k, angular_frequency(frequency), ratio, rows.time[row]),
                      1e-12)
              << frequency << ' ' << ratio << ' ' << fps << ' ' << row;
      }
}

// Rule M6.
TEST(Chain, ADelayMayStandAnywhereAndLieBetweenFrames) {
  const double k = rate_of_half_life(0.1), w = angular_frequency(2.0);
  const char* const glide = "{ kind = \"glide\", half_life = 0.1 }";
  const char* const spring = "{ kind = \"spring\", frequency = 2, damping_ratio = 0.4 }";
  const char* const delay = "{ kind = \"delay\", delay = 0.123 }";
  for (const auto& stages :
       {fmt::format("{}, {}, {}", delay, glide, spring), fmt::format("{}, {}, {}", glide, delay, spring),
        fmt::format("{}, {}, {}", glide, spring, delay)}) {
    const auto feel = feel_from(step_feel(fmt::format("kind = \"stages\", stages = [{}]", stages), 60, 3.0, 0.5));
    const auto rows = play_rows(feel);
    for (std::size_t row = 0; row < rows.time.size(); ++row)
      EXPECT_NEAR(rows.smooth[row], glide_then_spring(k, w, 0.4, rows.time[row] - 0.5 - 0.123), 1e-13) << row;
    const auto finer =
        play_measures(feel_from(step_feel(fmt::format("kind = \"stages\", stages = [{}]", stages), 1000, 3.0, 0.5)));
    const Move a = play_measures(feel).moves[0], b = finer.moves[0];
    EXPECT_NEAR(*a.settling_time, *b.settling_time, 1e-11);
    EXPECT_NEAR(*a.delay_time, *b.delay_time, 1e-11);
    EXPECT_NEAR(*a.overshoot, *b.overshoot, 1e-9);
  }
}

TEST(Chain, ADelayAloneShowsTheGoalLater) {
  const auto rows = play_rows(feel_from(step_feel("kind = \"delay\", delay = 0.1", 60, 1.0, 0.5)));
  for (std::size_t row = 0; row < rows.time.size(); ++row)
    EXPECT_EQ(rows.smooth[row], row > 36 ? 1.0 : 0.0)
        << row; // the jump of frame 30 acts from frame 36 on, and shows in 37
}

TEST(Chain, OfAnEasedMoveAndAGlideIsTheConvolution) {
  const double k = rate_of_half_life(0.15), duration = 0.4;
  const Curve curve = *parse_curve("ease-in-out");
  const auto rows = play_rows(feel_from(step_feel("kind = \"stages\", stages = [{ kind = \"ease\", duration = 0.4, "
                                                  "curve = \"ease-in-out\" }, { kind = \"glide\", half_life = 0.15 }]",
                                                  60, 1.5)));
  for (const std::size_t row : {6u, 12u, 24u, 30u, 60u}) {
    const double t = rows.time[row];
    // Simpson's rule on k e^(-k (t - s)) c(s), in two parts about the end of the move.
    const auto part = [&](double from, double to) {
      constexpr int steps = 20'000;
      double sum = 0;
      for (int i = 0; i <= steps; ++i) {
        const double s = from + (to - from) * i / steps;
        const double weight = i == 0 || i == steps ? 1 : i % 2 == 1 ? 4 : 2;
        sum += weight * k * std::exp(-k * (t - s)) * (s >= duration ? 1.0 : evaluate(curve, s / duration).value);
      }
      return sum * (to - from) / steps / 3;
    };
    const double exact = t <= duration ? part(0, t) : part(0, duration) + part(duration, t);
    EXPECT_NEAR(rows.smooth[row], exact, 1e-9) << t;
  }
}

TEST(Chain, OfAPaceAndASpringIsExactAtAnyFrameRate) {
  const char* const motion = "kind = \"stages\", stages = [{ kind = \"pace\", speed = 3, acceleration = 20 }, { kind = "
                             "\"spring\", frequency = 3, damping_ratio = 0.5 }]";
  const auto coarse = play_rows(feel_from(step_feel(motion, 50, 2.0))),
             fine = play_rows(feel_from(step_feel(motion, 1000, 2.0)));
  for (std::size_t row = 0; row < coarse.time.size(); ++row)
    EXPECT_NEAR(coarse.smooth[row], fine.smooth[20 * row], 1e-13);
}

TEST(Chain, CornersOfACurveAreNotMissedByARounding) {
  const char* const motion =
      "kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.12548742911456334 }, { kind = \"ease\", duration = "
      "0.4297457651670846, curve = \"linear(0, 0.3 20%, 1)\" }, { kind = \"spring\", frequency = 5.25, damping_ratio = "
      "0.1 }]";
  const auto coarse = play_rows(feel_from(step_feel(motion, 50, 2.0, 0.1))),
             fine = play_rows(feel_from(step_feel(motion, 1000, 2.0, 0.1)));
  for (std::size_t row = 0; row < coarse.time.size(); ++row)
    EXPECT_NEAR(coarse.smooth[row], fine.smooth[20 * row], 1e-12);
}

TEST(Chain, RefusesWhatCannotStandThere) {
  const auto code_of = [](const std::string& stages) {
    const auto problems = test::problems_of(step_feel("kind = \"stages\", stages = [" + stages + "]", 60, 1));
    return problems.empty() ? std::string() : problems[0].code + ": " + problems[0].message;
  };
  const std::string glide = "{ kind = \"glide\", half_life = 0.1 }";
  EXPECT_NE(code_of(glide + ", { kind = \"ease\", duration = 1 }").find("can only come first"), std::string::npos);
  EXPECT_NE(code_of(glide + ", { kind = \"pace\", speed = 1, acceleration = 1 }").find("can only come first"),
            std::string::npos);
  EXPECT_NE(code_of("{ kind = \"stages\", stages = [" + glide + "] }").find("cannot hold other stages"),
            std::string::npos);
  EXPECT_NE(code_of("\"nowhere\"").find("feel.unknown_motion"), std::string::npos);
  EXPECT_NE(code_of("").find("empty"), std::string::npos);
  EXPECT_EQ(code_of(glide), "");
}

// Whatever the links are, many rows at once are the steps one by one, to the bit.
TEST(Chain, RowsAtOnceAreTheStepsOneByOne) {
  const Link glide = Glide{4.1}, slow = Glide{0.7}, spring = Spring{11.0, 0.3}, stiff = Spring{31.0, 1.7, false};
  const std::vector<std::vector<Link>> rows_of_links{{glide},
                                                     {spring},
                                                     {glide, slow},
                                                     {glide, spring},
                                                     {spring, glide},
                                                     {spring, stiff},
                                                     {stiff, stiff},
                                                     {glide, spring, slow},
                                                     {spring, stiff, glide, slow}};
  for (const std::vector<Link>& links : rows_of_links)
    for (const double goal : {0.0, 1.0, -37.5}) {
      const LinkStep step(links, 1.0 / 60.0, InputParts::none);
      LinkStates at_once{}, one_by_one{};
      for (std::size_t i = 0; i < links.size(); ++i)
        at_once[i] = one_by_one[i] = {0.3 * static_cast<double>(i) - 2.0, 1.5 - static_cast<double>(i)};
      constexpr std::size_t count = 240;
      std::vector<double> value(count), rate(count);
      step.advance_rows(links, at_once, goal, value, rate);
      for (std::size_t row = 0; row < count; ++row) {
        const Instant now = output_of(links, one_by_one, {goal, 0.0, 0.0, 0.0});
        ASSERT_EQ(value[row], now.value) << links.size() << " " << row;
        ASSERT_EQ(rate[row], now.velocity) << links.size() << " " << row;
        if (row + 1 == count) break;
        // Once by the way for any input, once by that for a goal that stands.
        row % 2 == 0 ? step.advance(one_by_one, goal, {}) : step.advance_standing(one_by_one, goal);
      }
      for (std::size_t i = 0; i < links.size(); ++i) {
        EXPECT_EQ(at_once[i].value, one_by_one[i].value);
        if (std::holds_alternative<Spring>(links[i])) {
          EXPECT_EQ(at_once[i].velocity, one_by_one[i].velocity);
        }
      }
      EXPECT_NEAR(value.back(), goal, 0.2 * std::fabs(goal - value.front())) << "it goes to its goal";
    }
}

TEST(Chain, OneStepOfItsOwnIsAStepThatIsKept) {
  Random random(11);
  for (int trial = 0; trial < 400; ++trial) {
    std::vector<Link> links;
    for (int n = 1 + static_cast<int>(random.share() * most_links); n > 0; --n) {
      const double rate = std::exp(random.share() * 6.0 - 1.0);
      if (random.share() < 0.5)
        links.push_back(Glide{rate});
      else
        links.push_back(Spring{rate, 2.5 * random.share(), random.share() < 0.3});
    }
    const double h = std::exp(random.share() * 7.0 - 8.0), goal = random.share();
    LinkStates kept{};
    for (SpringState& state : kept) state = {2.0 * random.share() - 1.0, 10.0 * random.share() - 5.0};
    LinkStates once = kept;
    LinkInput input;
    // A goal that stands, runs straight, or is a curve of any degree.
    for (std::size_t j = 0; j < static_cast<std::size_t>(trial) % (input.part.size() + 1); ++j)
      input.part[j] = random.share() - 0.5;
    LinkStep(links, h, InputParts::curved).advance(kept, goal, input);
    advance_once(links, h, once, goal, input);
    for (std::size_t i = 0; i < links.size(); ++i) {
      EXPECT_NEAR(once[i].value, kept[i].value, 2e-13) << trial << ' ' << i << ' ' << h;
      const auto* const spring = std::get_if<Spring>(&links[i]);
      if (spring == nullptr) continue; // a glide's speed follows from the rest
      EXPECT_NEAR(once[i].velocity, kept[i].velocity, 1e-12 * (1.0 + spring->angular_frequency))
          << trial << ' ' << i << ' ' << h;
    }
  }
}

/// Of a curve that sets off upright, behind a delay that ends inside a frame, the quickest instant was looked for
/// without an end.
TEST(Chain, AnUprightCurveThatSetsOffInsideAFrameIsMeasuredLikeAnyOther) {
  const Feel feel = test::feel_from(
      "[channel.a]\nrest = [1.7, 1.7]\nmotion = { kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.1 }, { "
      "kind = "
      "\"ease\", duration = 0.75, curve = \"cubic-bezier(0, 1, 0.3, 1)\", handover = \"pro_rata\" }, { kind = "
      "\"glide\", "
      "half_life = 0.02066837937181812 }] }\n[pose.p]\na = [1.7, 7.75]\n[pose.q]\na = [0.82, 5.45]\n[pose.r]\na = "
      "[0.88, 8]\n"
      "[control.p]\nkind = \"hold\"\npose = \"p\"\n[control.r]\nkind = \"hold\"\npose = \"r\"\n[take.t]\nlength = 3\n"
      "clock = { fps = 60 }\ncues = [{ at = 0.25, press = \"p\" }, { at = 0.603, press = \"r\" }, { at = 0.853, "
      "release = "
      "\"r\" }, { at = 0.983, release = \"p\" }, { at = 2.045, press = \"p\" }]\n");
  const TakeMeasures measures = test::play_measures(feel);
  ASSERT_EQ(measures.moves.size(), 5U);
  ASSERT_TRUE(measures.moves[0].peak_speed && measures.moves[4].peak_speed);
  EXPECT_NEAR(*measures.moves[4].peak_speed, *measures.moves[0].peak_speed, 1e-6);
  EXPECT_NEAR(*measures.moves[4].rise_time, *measures.moves[0].rise_time, 1e-6);
}

} // namespace
} // namespace stasis
