// Motions as easing functions: within the tolerance of the motion itself, exact where the standard has them.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/curve/curve.hpp"
#include "core/export/css_easing.hpp"
#include "core/take/step_play.hpp"

namespace stasis {
namespace {

double value_of(const std::string& easing, double share) {
  const auto curve = parse_curve(easing);
  EXPECT_TRUE(curve) << easing;
  return curve ? evaluate(*curve, share).value : 0.0;
}

TEST(CssEasing, ASpringStaysWithinTheTolerance) {
  for (const double ratio : {0.05, 0.3, 0.7, 1.0, 2.5})
    for (const double tolerance : {0.02, 0.002, 0.0002}) {
      const Spring spring{2.0 * 3.14159265358979 * 1.7, ratio};
      const CssEasing css = css_easing(spring, tolerance);
      ASSERT_EQ(css.fault, "") << ratio;
      EXPECT_TRUE(css.easing.ends_with(", 1)")) << css.easing;
      std::vector<double> times;
      for (int k = 0; k <= 3001; ++k) times.push_back(css.duration * k / 3001.0);
      const auto values = step_values(spring, times);
      for (std::size_t k = 0; k < times.size(); ++k)
        EXPECT_NEAR(value_of(css.easing, times[k] / css.duration), values[k], tolerance) << ratio << " " << times[k];
      // From there on it is as near for good: the closed envelope of a glide, ever nearer for the others.
      const auto later = step_values(spring, {0.0, css.duration, css.duration * 1.1, css.duration * 1.5});
      for (std::size_t k = 1; k < later.size(); ++k) EXPECT_NEAR(later[k], 1.0, tolerance);
    }
}

TEST(CssEasing, AGlideIsCutWhereItsGapIsTheTolerance) {
  const double half_life = 0.2, tolerance = 1.0 / 1024.0; // ten half-lives
  const CssEasing css = css_easing(Glide{std::log(2.0) / half_life}, tolerance);
  EXPECT_TRUE(css.is_cut);
  EXPECT_NEAR(css.duration, 2.0, 2e-3);
  EXPECT_GE(css.duration, 2.0);
  for (int k = 0; k <= 1000; ++k) {
    const double time = css.duration * k / 1000.0;
    EXPECT_NEAR(value_of(css.easing, k / 1000.0), 1.0 - std::exp2(-time / half_life), tolerance);
  }
}

TEST(CssEasing, WhatTheStandardHasIsExact) {
  const auto exact = [](const char* curve) {
    const CssEasing css = css_easing(Ease{0.4, *parse_curve(curve)}, 0.01);
    EXPECT_TRUE(css.is_exact) << curve;
    EXPECT_EQ(css.duration, 0.4);
    for (int k = 0; k <= 200; ++k)
      EXPECT_NEAR(value_of(css.easing, k / 200.0), evaluate(*parse_curve(curve), k / 200.0).value, 1e-9)
          << curve << " " << css.easing;
    return css.easing;
  };
  EXPECT_EQ(exact("linear"), "linear");
  EXPECT_EQ(exact("cubic-bezier(0.3, -0.5, 0.1, 1.25)"), "cubic-bezier(0.3, -0.5, 0.1, 1.25)");
  EXPECT_EQ(exact("steps(4, jump-none)"), "steps(4, jump-none)");
  exact("linear(0, -0.25 20%, 1.5 70% 80%, 1)");
  for (const char* shape : {"in power 2", "out power 2", "in power 3", "out power 3", "in back 1.7", "out back 1.7"})
    exact(shape);
}

TEST(CssEasing, OtherShapesStayWithinTheTolerance) {
  for (const char* shape : {"in-out sine", "out bounce", "in elastic", "out elastic", "in-out back 2", "out power 5",
                            "in circle", "out circle", "in exp", "in-out power 2"})
    for (const double tolerance : {0.03, 0.001}) {
      const Curve curve = *parse_curve(shape);
      const CssEasing css = css_easing(Ease{0.4, curve}, tolerance);
      ASSERT_EQ(css.fault, "") << shape;
      EXPECT_FALSE(css.is_exact);
      for (int k = 0; k <= 4001; ++k)
        EXPECT_NEAR(value_of(css.easing, k / 4001.0), evaluate(curve, k / 4001.0).value, tolerance)
            << shape << " " << k << css.easing;
    }
}

TEST(CssEasing, WaitsAreKeptApartOrBuiltIn) {
  const CssEasing eased = css_easing(Ease{.duration = 0.4, .curve = StraightLine{}, .delay = 0.25}, 0.01);
  EXPECT_EQ(eased.delay, 0.25);
  EXPECT_EQ(eased.duration, 0.4);
}

TEST(CssEasing, WhatHasNoneSaysWhy) {
  EXPECT_NE(css_easing(Cut{}, 0.01).fault, "");
  EXPECT_NE(css_easing(Pace{}, 0.01).fault.find("farther"), std::string::npos);
}

} // namespace
} // namespace stasis
