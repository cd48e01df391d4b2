// Curves against an implementation of the CSS Easing Functions standard written the plain way, step by step as the
// standard words it, and by bisection where it leaves the way open.
#include <cmath>
#include <limits>
#include <optional>

#include <gtest/gtest.h>

#include "core/curve/curve.hpp"

namespace stasis {
namespace {

double bezier(double x1, double y1, double x2, double y2, double time) {
  using Wide = long double; // bisection needs the spare digits where the tangent is vertical
  const auto at = [](Wide a, Wide b, Wide p) {
    return 3 * a * p * (1 - p) * (1 - p) + 3 * b * p * p * (1 - p) + p * p * p;
  };
  Wide low = 0, high = 1;
  for (int i = 0; i < 120; ++i) {
    const Wide middle = (low + high) / 2;
    (at(Wide(x1), Wide(x2), middle) < Wide(time) ? low : high) = middle;
  }
  return static_cast<double>(at(Wide(y1), Wide(y2), (low + high) / 2));
}

struct Stop {
  double input, output;
};

/// "Calculate linear easing output progress."
double linear(const std::vector<Stop>& points, double time) {
  std::size_t a = 0;
  for (std::size_t i = 0; i < points.size(); ++i)
    if (points[i].input <= time) a = i;
  if (a + 1 == points.size()) --a;
  const Stop &from = points[a], &to = points[a + 1];
  if (from.input == to.input) return to.output;
  return from.output + (to.output - from.output) * (time - from.input) / (to.input - from.input);
}

double steps(int count, bool at_start, bool at_end, double time) {
  double step = std::floor(time * count) + (at_start ? 1 : 0);
  const int jumps = count - 1 + (at_start ? 1 : 0) + (at_end ? 1 : 0);
  if (step > jumps) step = jumps;
  return step / jumps;
}

struct Case {
  const char* text;
  double (*reference)(double);
};

constexpr Case shape_cases[] = {
    {"linear", [](double t) { return t; }},
    {"ease", [](double t) { return bezier(0.25, 0.1, 0.25, 1, t); }},
    {"EASE", [](double t) { return bezier(0.25, 0.1, 0.25, 1, t); }},
    {"ease-in", [](double t) { return bezier(0.42, 0, 1, 1, t); }},
    {"Ease-Out", [](double t) { return bezier(0, 0, 0.58, 1, t); }},
    {"\tease-in-out\n", [](double t) { return bezier(0.42, 0, 0.58, 1, t); }},
    {"step-start", [](double t) { return steps(1, true, false, t); }},
    {"step-end", [](double t) { return steps(1, false, true, t); }},
    {"cubic-bezier(0.25,0.1,0.25,1)", [](double t) { return bezier(0.25, 0.1, 0.25, 1, t); }},
    {"cubic-bezier( .17 , .67 , .83 , .67 )", [](double t) { return bezier(0.17, 0.67, 0.83, 0.67, t); }},
    {"CUBIC-BEZIER(0,1,1,0)", [](double t) { return bezier(0, 1, 1, 0, t); }},
    {"cubic-bezier(0,0,0,0)", [](double t) { return bezier(0, 0, 0, 0, t); }},
    {"cubic-bezier(1,1,1,1)", [](double t) { return bezier(1, 1, 1, 1, t); }},
    {"cubic-bezier(0.5,1.7,0.5,-0.7)", [](double t) { return bezier(0.5, 1.7, 0.5, -0.7, t); }},
    {"cubic-bezier(0.2,-2,0.8,3)", [](double t) { return bezier(0.2, -2, 0.8, 3, t); }},
    {"cubic-bezier(0.6,0.04,0.98,0.335)", [](double t) { return bezier(0.6, 0.04, 0.98, 0.335, t); }},
    {"cubic-bezier(0,0.5,0.5,1)", [](double t) { return bezier(0, 0.5, 0.5, 1, t); }},
    {"cubic-bezier(1e-1, 0, +.9, 1e0)", [](double t) { return bezier(0.1, 0, 0.9, 1, t); }},
    {"cubic-bezier(1,0,1,0)", [](double t) { return bezier(1, 0, 1, 0, t); }},
    {"cubic-bezier(0,1,0,1)", [](double t) { return bezier(0, 1, 0, 1, t); }},
    {"cubic-bezier(/* from */ 0.3, 0, 0.1, 1)", [](double t) { return bezier(0.3, 0, 0.1, 1, t); }},
    {"linear(0, 1)", [](double t) { return t; }},
    {"linear(1, 0)", [](double t) { return 1 - t; }},
    {"linear(0, 0.5, 1)", [](double t) { return t; }},
    {"linear(0, 0.8 30%, 1)",
     [](double t) {
       return linear({{0, 0}, {0.3, 0.8}, {1, 1}}, t);
     }},
    {"linear(0, 30% 0.8, 1)",
     [](double t) {
       return linear({{0, 0}, {0.3, 0.8}, {1, 1}}, t);
     }},
    {"linear(0 0%, 0.3 20% 40%, 1 100%)",
     [](double t) {
       return linear({{0, 0}, {0.2, 0.3}, {0.4, 0.3}, {1, 1}}, t);
     }},
    {"linear(0, 0.5 50%, 0.2 50%, 1)",
     [](double t) {
       return linear({{0, 0}, {0.5, 0.5}, {0.5, 0.2}, {1, 1}}, t);
     }},
    {"linear(0.2, 0.4 20%, 0.5 10%, 1)",
     [](double t) {
       return linear({{0, 0.2}, {0.2, 0.4}, {0.2, 0.5}, {1, 1}}, t);
     }},
    {"linear(0 20%, 1 80%)",
     [](double t) {
       return linear({{0.2, 0}, {0.8, 1}}, t);
     }},
    {"linear(0 -50%, 1 150%)",
     [](double t) {
       return linear({{-0.5, 0}, {1.5, 1}}, t);
     }},
    {"linear(0, 1.5, -0.5, 1)",
     [](double t) {
       return linear({{0, 0}, {1 / 3.0, 1.5}, {2 / 3.0, -0.5}, {1, 1}}, t);
     }},
    {"linear(25% 0.5, 0.6, 0.7, 1 90%)",
     [](double t) {
       return linear({{0.25, 0.5}, {0.25 + 0.65 / 3, 0.6}, {0.25 + 1.3 / 3, 0.7}, {0.9, 1}}, t);
     }},
    {"linear(0, 0.1, 0.2 60%, 0.3, 0.4, 0.9, 1)",
     [](double t) {
       return linear({{0, 0}, {0.3, 0.1}, {0.6, 0.2}, {0.7, 0.3}, {0.8, 0.4}, {0.9, 0.9}, {1, 1}}, t);
     }},
    {"linear(0 50%, 1 50%)",
     [](double t) {
       return linear({{0.5, 0}, {0.5, 1}}, t);
     }},
    {"linear(0, 1 50% 150%, 2)",
     [](double t) {
       return linear({{0, 0}, {0.5, 1}, {1.5, 1}, {1.5, 2}}, t);
     }},
    {"steps(1)", [](double t) { return steps(1, false, true, t); }},
    {"steps(4)", [](double t) { return steps(4, false, true, t); }},
    {"steps(5, start)", [](double t) { return steps(5, true, false, t); }},
    {"steps(3, end)", [](double t) { return steps(3, false, true, t); }},
    {"steps(4, jump-start)", [](double t) { return steps(4, true, false, t); }},
    {"steps(4,jump-end)", [](double t) { return steps(4, false, true, t); }},
    {"Steps( 4 , Jump-Both )", [](double t) { return steps(4, true, true, t); }},
    {"steps(4, jump-none)", [](double t) { return steps(4, false, false, t); }},
    {"steps(2, jump-none)", [](double t) { return steps(2, false, false, t); }},
    {"steps(+7, jump-both)", [](double t) { return steps(7, true, true, t); }},
};

TEST(CssEasing, AgreesWithThePlainReading) {
  for (const Case& one : shape_cases) {
    const auto curve = parse_curve(one.text);
    ASSERT_TRUE(curve) << one.text << ": " << curve.error();
    for (int i = 0; i <= 200; ++i) {
      const double t = i / 200.0;
      EXPECT_NEAR(evaluate(*curve, t).value, one.reference(t), 1e-6) << one.text << " at " << t;
    }
  }
}

TEST(CssEasing, RefusesWhatTheStandardRefuses) {
  for (const char* text : {"cubic-bezier(2,0,0,1)",
                           "cubic-bezier(0,0,1)",
                           "cubic-bezier(0 0 1 1)",
                           "cubic-bezier (0,0,1,1)",
                           "cubic-bezier(0., 0, 1, 1)",
                           "cubic-bezier(0,0,1,inf)",
                           "cubic-bezier(0,0,1,1) x",
                           "cubic-bezier(0,0,1,1",
                           "cubic-bezier(0,0,1,1,)",
                           "steps(0)",
                           "steps(-1)",
                           "steps(1, jump-none)",
                           "steps(4.0)",
                           "steps(2, middle)",
                           "steps()",
                           "steps(1,end,end)",
                           "linear()",
                           "linear(0.5)",
                           "linear(0,,1)",
                           "linear(0,1,)",
                           "linear(0 10% 20% 30%, 1)",
                           "linear(10% 0 20%, 1)",
                           "linear(0 1, 1)",
                           "linear(10%, 1)",
                           "ease x",
                           "linear /*",
                           "",
                           "eased"})
    EXPECT_FALSE(parse_curve(text)) << text;
}

TEST(CssEasing, StepsStandOnTheLowerStepJustBeforeAJump) {
  const Curve curve = *parse_curve("steps(4)");
  EXPECT_EQ(evaluate(curve, 0.25, Side::before).value, 0.0);
  EXPECT_EQ(evaluate(curve, 0.25).value, 0.25);
  EXPECT_EQ(evaluate(curve, 1.0, Side::before).value, 0.75);
  EXPECT_EQ(corners(curve), (std::vector<double>{0.25, 0.5, 0.75}));
}

} // namespace
} // namespace stasis
