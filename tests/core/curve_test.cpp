#include <cmath>
#include <random>

#include <boost/multiprecision/cpp_bin_float.hpp>
#include <gtest/gtest.h>

#include "core/curve/curve.hpp"

namespace stasis {
namespace {

using Real = boost::multiprecision::cpp_bin_float_50;

/// The Bezier curve by bisection in 50 digits.
double exact_bezier(const CubicBezier& c, double time) {
  const auto polynomial = [](Real p1, Real p2, Real p) {
    return 3 * p1 * p * (1 - p) * (1 - p) + 3 * p2 * p * p * (1 - p) + p * p * p;
  };
  Real low = 0, high = 1;
  for (int i = 0; i < 120; ++i) {
    const Real middle = (low + high) / 2;
    (polynomial(c.x1, c.x2, middle) < Real(time) ? low : high) = middle;
  }
  return static_cast<double>(polynomial(c.y1, c.y2, (low + high) / 2));
}

TEST(CubicBezier, AgreesWithBisectionInFiftyDigits) {
  const CubicBezier curves[] = {{0.25, 0.1, 0.25, 1}, {0.42, 0, 1, 1}, {0, 0, 0.58, 1},   {0.42, 0, 0.58, 1},
                                {0, 1, 1, 0},         {1, 0, 0, 1},    {0.2, -2, 0.8, 3}, {0.17, 0.67, 0.83, 0.67},
                                {0.5, 1.7, 0.5, -0.7}};
  for (const CubicBezier& curve : curves)
    for (int i = 0; i <= 200; ++i) {
      const double time = i / 200.0;
      // Where the tangent is vertical a rounding of the time itself is worth more than a rounding of the value.
      const double bound =
          std::isfinite(evaluate(curve, time).slope) ? 2e-15 * (1 + std::fabs(evaluate(curve, time).slope)) : 1e-5;
      EXPECT_NEAR(evaluate(curve, time).value, exact_bezier(curve, time), bound) << time;
    }
}

TEST(CubicBezier, DerivativesAreThoseOfTheCurve) {
  std::mt19937_64 random(9);
  std::uniform_real_distribution<double> unit(0.05, 0.95);
  for (int i = 0; i < 300; ++i) {
    const CubicBezier curve{unit(random), 2 * unit(random) - 0.5, unit(random), unit(random)};
    const double time = unit(random), h = 1e-5;
    const CurvePoint before = evaluate(curve, time - h), at = evaluate(curve, time), after = evaluate(curve, time + h);
    const double scale = 1 + std::fabs(at.slope) + std::fabs(at.bend) + std::fabs(at.twist);
    EXPECT_NEAR((after.value - before.value) / (2 * h), at.slope, 1e-6 * scale);
    EXPECT_NEAR((after.slope - before.slope) / (2 * h), at.bend, 1e-5 * scale * scale);
    EXPECT_NEAR((after.bend - before.bend) / (2 * h), at.twist, 1e-4 * scale * scale);
  }
}

TEST(CubicBezier, SlopesAtTheEndsAreThoseOfTheTangents) {
  EXPECT_DOUBLE_EQ(evaluate(CubicBezier{0.25, 0.1, 0.25, 1}, 0).slope, 0.4);
  EXPECT_DOUBLE_EQ(evaluate(CubicBezier{0.25, 0.1, 0.25, 1}, 1).slope, 0.0);
  EXPECT_TRUE(std::isinf(evaluate(CubicBezier{0, 0.5, 0.5, 1}, 0).slope));
  EXPECT_DOUBLE_EQ(evaluate(CubicBezier{0, 0, 0.5, 1}, 0).slope, 2.0);
  EXPECT_DOUBLE_EQ(evaluate(CubicBezier{0, 0, 1, 1}, 0).slope, 1.0);
}

TEST(Curve, EndsAreExactAndTimeIsClamped) {
  for (const char* name : {"linear", "ease", "ease-in", "ease-out", "ease-in-out", "cubic-bezier(0.3, -1, 0.1, 2)"}) {
    const Curve curve = *parse_curve(name);
    EXPECT_EQ(evaluate(curve, 0).value, 0.0) << name;
    EXPECT_EQ(evaluate(curve, 1).value, 1.0) << name;
    EXPECT_EQ(evaluate(curve, -3).value, 0.0) << name;
    EXPECT_EQ(evaluate(curve, 7).value, 1.0) << name;
  }
}

TEST(Curve, KeywordsAreTheStandardsCurves) {
  const auto same = [](const char* a, const char* b) {
    for (int i = 0; i <= 50; ++i)
      EXPECT_EQ(evaluate(*parse_curve(a), i / 50.0).value, evaluate(*parse_curve(b), i / 50.0).value) << a;
  };
  same("ease", "cubic-bezier(0.25, 0.1, 0.25, 1)");
  same("EASE-IN", "cubic-bezier( .42,0 , 1,1 )");
  same(" ease-out ", "Cubic-Bezier(0,0,0.58,1)");
  same("ease-in-out", "cubic-bezier(0.42, 0, 0.58, 1)");
}

TEST(Curve, RefusesWhatIsNoCurve) {
  const auto why = [](const char* text) {
    const auto curve = parse_curve(text);
    return curve ? std::string("accepted") : curve.error();
  };
  EXPECT_EQ(why("cubic-bezier(2,0,0,1)"),
            "the first and third number of cubic-bezier() are shares of the time and must lie in 0..1, found 2 and 0; "
            "nearest: cubic-bezier(1, 0, 0, 1)");
  EXPECT_EQ(why("cubic-bezier(0,0,0)"), "cubic-bezier() takes 4 numbers, found 3");
  EXPECT_EQ(why("cubic-bezier(0,0,0,1,)"), "cubic-bezier() takes 4 numbers, found 5");
  EXPECT_EQ(why("cubic-bezier(0,0,0,nan)"), "\"nan\" is not a number");
  EXPECT_EQ(why("cubic-bezier(0,0,0,1) x"), "\"x\" follows the closing bracket");
  EXPECT_EQ(why("cubic-bezier(0,0,0,1"), "the closing bracket is missing");
  EXPECT_NE(why("ease-inout").find("nearest: ease-in-out"), std::string::npos);
  EXPECT_EQ(why(""), "it is empty");
}

} // namespace
} // namespace stasis
