#include <cmath>

#include <gtest/gtest.h>

#include "core/curve/curve.hpp"

namespace stasis {
namespace {

std::vector<EaseShape> all_shapes() {
  std::vector<EaseShape> shapes;
  for (const ShapeWord& word : shape_words())
    for (const Direction direction : {Direction::in, Direction::out, Direction::in_out})
      for (const double factor : {1.0, 1.5}) shapes.push_back({word.kind, direction, word.fallback * factor});
  return shapes;
}

TEST(EaseShape, BeginsAndEndsExactly) {
  for (const EaseShape& shape : all_shapes()) {
    EXPECT_EQ(evaluate(shape, 0.0).value, 0.0) << word_of(shape.kind).word;
    EXPECT_EQ(evaluate(shape, 1.0).value, 1.0) << word_of(shape.kind).word;
  }
}

TEST(EaseShape, OutIsInTurnedRoundAndInOutIsBothAtHalfSize) {
  for (const EaseShape& shape : all_shapes()) {
    const EaseShape in{shape.kind, Direction::in, shape.amount}, out{shape.kind, Direction::out, shape.amount},
        both{shape.kind, Direction::in_out, shape.amount};
    for (int i = 1; i < 100; ++i) {
      const double t = i / 100.0;
      EXPECT_NEAR(evaluate(out, t).value, 1.0 - evaluate(in, 1.0 - t).value, 1e-14);
      EXPECT_NEAR(evaluate(both, 0.5 * t).value, 0.5 * evaluate(in, t).value, 1e-14);
      EXPECT_NEAR(evaluate(both, 0.5 + 0.5 * t).value, 0.5 + 0.5 * evaluate(out, t).value, 1e-14);
    }
  }
}

TEST(EaseShape, DerivativesAreThoseOfTheCurve) {
  for (const EaseShape& shape : all_shapes()) {
    const std::vector<double> breaks = corners(Curve(shape));
    for (int i = 3; i < 98; ++i) {
      const double t = i / 100.0 + 0.0013, h = 1e-5;
      bool near_break = false;
      for (const double at : breaks) near_break = near_break || std::fabs(at - t) < 0.01;
      if (near_break) continue;
      const CurvePoint a = evaluate(shape, t - h), b = evaluate(shape, t), c = evaluate(shape, t + h);
      const double scale = 1 + std::fabs(b.slope) + std::fabs(b.bend) + std::fabs(b.twist);
      EXPECT_NEAR((c.value - a.value) / (2 * h), b.slope, 1e-7 * scale) << word_of(shape.kind).word << t;
      EXPECT_NEAR((c.slope - a.slope) / (2 * h), b.bend, 1e-6 * scale) << word_of(shape.kind).word << t;
      EXPECT_NEAR((c.bend - a.bend) / (2 * h), b.twist, 1e-5 * scale * scale) << word_of(shape.kind).word << t;
    }
  }
}

TEST(EaseShape, KnownValues) {
  EXPECT_DOUBLE_EQ(evaluate(*parse_curve("in power 3"), 0.5).value, 0.125);
  EXPECT_DOUBLE_EQ(evaluate(*parse_curve("out power 4"), 0.5).value, 1 - 0.0625);
  EXPECT_DOUBLE_EQ(evaluate(*parse_curve("in sine"), 0.5).value, 1 - std::sqrt(0.5));
  EXPECT_DOUBLE_EQ(evaluate(*parse_curve("out circle"), 0.5).value, std::sqrt(0.75));
  EXPECT_NEAR(evaluate(*parse_curve("in back 1.7"), 0.5).value, 0.25 * (2.7 * 0.5 - 1.7), 1e-15);
  EXPECT_NEAR(evaluate(*parse_curve("out bounce"), 4.0 / 11.0).value, 1.0, 1e-14);
  EXPECT_NEAR(evaluate(*parse_curve("out bounce"), 6.0 / 11.0).value, 0.75, 1e-14);
}

TEST(EaseShape, MonotoneShapesNeverTurnBack) {
  for (const char* text : {"in sine", "out power 3", "in-out exp", "in circle", "in-out power 0.5", "out exp 3"}) {
    const Curve curve = *parse_curve(text);
    double before = 0.0;
    for (int i = 1; i <= 1000; ++i) {
      const double now = evaluate(curve, i / 1000.0).value;
      EXPECT_GE(now, before) << text << " at " << i;
      before = now;
    }
  }
}

TEST(EaseShape, RefusesNumbersWhereThereAreNone) {
  for (const char* text :
       {"in sine 2", "out power 0", "out power 3 4", "in", "out quad", "sideways sine", "in power x"})
    EXPECT_FALSE(parse_curve(text)) << text;
}

TEST(PointsCurve, GoesThroughItsPointsAndIsMonotoneWhereTheyAre) {
  const PointsCurve curve = through_points({{0, 0}, {0.1, 0.05}, {0.4, 0.9}, {0.5, 0.9}, {1, 1}});
  for (const CurveKnot& knot : curve.knots) EXPECT_EQ(evaluate(curve, knot.time).value, knot.value);
  double before = 0.0;
  for (int i = 1; i <= 2000; ++i) {
    const CurvePoint now = evaluate(curve, i / 2000.0);
    EXPECT_GE(now.value, before - 1e-15);
    EXPECT_LE(now.value, 1.0);
    before = now.value;
  }
  const double h = 1e-6;
  for (const double t : {0.05, 0.23, 0.7})
    EXPECT_NEAR((evaluate(curve, t + h).value - evaluate(curve, t - h).value) / (2 * h), evaluate(curve, t).slope,
                1e-7);
}

TEST(PointsCurve, SlopesMeetAtThePoints) {
  const PointsCurve curve = through_points({{0, 0}, {0.3, 0.7}, {0.6, 0.4}, {1, 1}});
  for (const double t : {0.3, 0.6}) EXPECT_NEAR(evaluate(curve, t - 1e-9).slope, evaluate(curve, t + 1e-9).slope, 1e-6);
  EXPECT_EQ(curve.knots[1].slope, 0.0) << "level where the points turn";
}

} // namespace
} // namespace stasis
