// Flights through stops: splines by what defines them, ways by sums of small steps.
#include <algorithm>
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "core/curve/flight.hpp"
#include "core/curve/turn_path.hpp"
#include "core/motion/led_time.hpp"
#include "core/scene/quaternion.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

class RandomPath {
public:
  explicit RandomPath(std::uint64_t seed) : random_(seed) {
    const std::size_t count = 2 + random_() % 7;
    double at = between(-1.0, 1.0);
    for (std::size_t k = 0; k < count; ++k) {
      knots.push_back(at);
      values.push_back(random_() % 6 == 0 && k > 0 ? values.back() : between(-5.0, 5.0));
      at += between(0.1, 2.0);
    }
  }
  double between(double low, double high) {
    return low + (high - low) * static_cast<double>(random_() % 1'000'000) / 1e6;
  }
  std::vector<double> knots, values;

private:
  std::mt19937_64 random_;
};

/// Value, slope and bend go on at every inner knot.
void expect_continuous(const KnotPath& path, const std::vector<double>& knots, const std::vector<double>& values) {
  for (std::size_t k = 0; k < knots.size(); ++k) {
    if (k > 0 && k + 1 < knots.size()) {
      const CurvePoint before = path.at(knots[k], Side::before), after = path.at(knots[k], Side::at);
      EXPECT_NEAR(before.value, values[k], 1e-12);
      EXPECT_NEAR(before.slope, after.slope, 1e-9 * std::max(1.0, std::fabs(after.slope)));
      EXPECT_NEAR(before.bend, after.bend, 1e-9 * std::max(1.0, std::fabs(after.bend)));
    }
    EXPECT_NEAR(path.at(knots[k]).value, values[k], 1e-12);
  }
}

// A cubic spline is the one curve of cubics whose bends go on, with these slopes at its ends.
TEST(KnotPath, IsTheSplineThatItsConditionsDefine) {
  for (std::uint64_t seed = 1; seed <= 300; ++seed) {
    RandomPath made(seed);
    const double start = made.between(-3, 3), end = made.between(-3, 3);
    const KnotPath path =
        KnotPath::smooth(made.knots, made.values, {PathEnd::Kind::slope, start}, {PathEnd::Kind::slope, end});
    expect_continuous(path, made.knots, made.values);
    EXPECT_NEAR(path.at(made.knots.front(), Side::at).slope, start, 1e-10);
    EXPECT_NEAR(path.at(made.knots.back(), Side::before).slope, end, 1e-9);
    for (std::size_t k = 0; k + 1 < made.knots.size(); ++k) {
      const double h = made.knots[k + 1] - made.knots[k];
      EXPECT_NEAR(path.at(made.knots[k] + 0.1 * h).twist, path.at(made.knots[k] + 0.9 * h).twist,
                  1e-9 * std::max(1.0, std::fabs(path.at(made.knots[k] + 0.5 * h).twist)));
    }
  }
}

TEST(KnotPath, IsStraightAtAFreeEndAndClosesWithoutASeam) {
  for (std::uint64_t seed = 400; seed <= 600; ++seed) {
    RandomPath made(seed);
    const PathEnd free{PathEnd::Kind::free, 0.0}, closed{PathEnd::Kind::closed, 0.0};
    const KnotPath open = KnotPath::smooth(made.knots, made.values, free, free);
    EXPECT_NEAR(open.at(made.knots.front(), Side::at).bend, 0.0, 1e-9);
    EXPECT_NEAR(open.at(made.knots.back(), Side::before).bend, 0.0, 1e-8);
    if (made.knots.size() < 4) continue;
    made.values.back() = made.values.front();
    const KnotPath ring = KnotPath::smooth(made.knots, made.values, closed, closed);
    expect_continuous(ring, made.knots, made.values);
    const CurvePoint end = ring.at(made.knots.back(), Side::before), begin = ring.at(made.knots.front(), Side::at);
    EXPECT_NEAR(end.slope, begin.slope, 1e-9 * std::max(1.0, std::fabs(begin.slope)));
    EXPECT_NEAR(end.bend, begin.bend, 1e-8 * std::max(1.0, std::fabs(begin.bend)));
  }
}

TEST(KnotPath, BetweenNeighboursNeverSwingsOut) {
  for (std::uint64_t seed = 1; seed <= 2000; ++seed) {
    RandomPath made(seed);
    const PathEnd level{};
    const KnotPath path = KnotPath::between_neighbours(made.knots, made.values, level, level);
    expect_continuous(path, made.knots, made.values);
    for (std::size_t k = 0; k + 1 < made.knots.size(); ++k) {
      const auto [low, high] = std::minmax(made.values[k], made.values[k + 1]);
      double last = made.values[k];
      for (int s = 1; s <= 60; ++s) {
        const double value = path.at(made.knots[k] + (made.knots[k + 1] - made.knots[k]) * s / 60.0).value;
        ASSERT_GE(value, low - 1e-12) << "seed " << seed;
        ASSERT_LE(value, high + 1e-12) << "seed " << seed;
        ASSERT_GE((value - last) * (made.values[k + 1] - made.values[k]), -1e-12) << "seed " << seed;
        last = value;
      }
    }
  }
}

FlightPlan plan_of(std::uint64_t seed, bool steady) {
  RandomPath x(seed), y(seed + 10'000), z(seed + 20'000);
  FlightPlan plan;
  const std::size_t count = std::min({x.values.size(), y.values.size(), z.values.size()}) + 1;
  for (std::size_t k = 0; k < count; ++k) plan.times.push_back(k == 0 ? 0.0 : plan.times.back() + x.between(0.3, 2.0));
  for (int axis = 0; axis < 3; ++axis) {
    FlightPlan::Axis one;
    for (std::size_t k = 0; k < count; ++k) {
      one.stops.push_back(k);
      one.values.push_back(x.between(-5, 5));
    }
    plan.axes.push_back(one);
    plan.along.push_back(plan.along.size());
  }
  plan.steady = steady;
  plan.speed_up = plan.slow_down = 0.3;
  return plan;
}

double speed_at(const Flight& flight, double t) {
  double square = 0.0;
  for (std::size_t axis = 0; axis < 3; ++axis) square += std::pow(flight.at(axis, t).slope, 2);
  return std::sqrt(square);
}

TEST(Flight, AtOneSpeedHasOneSpeed) {
  for (std::uint64_t seed = 1; seed <= 60; ++seed) {
    const FlightPlan plan = plan_of(seed, true);
    const Flight flight(plan);
    ASSERT_TRUE(flight.is_steady());
    const double speed = flight.way_between(0, plan.times.size() - 1) / (flight.total() - 0.3);
    for (double t = 0.3; t <= flight.total() - 0.3; t += 0.01)
      ASSERT_NEAR(speed_at(flight, t), speed, 1e-9 * speed) << "seed " << seed << " at " << t;
    EXPECT_EQ(speed_at(flight, 0.0), 0.0);
    EXPECT_NEAR(speed_at(flight, flight.total()), 0.0, 1e-12);
    // What it says of its rates is what its values do.
    for (double t = 0.05; t < flight.total(); t += 0.0973) {
      constexpr double h = 1e-4;
      const CurvePoint now = flight.at(0, t);
      EXPECT_NEAR(now.slope, (flight.at(0, t + h).value - flight.at(0, t - h).value) / (2 * h),
                  1e-4 * std::max(1.0, std::fabs(now.slope) + std::fabs(now.twist)));
      EXPECT_NEAR(now.bend, (flight.at(0, t + h).slope - flight.at(0, t - h).slope) / (2 * h),
                  1e-3 * std::max(1.0, std::fabs(now.bend) + std::fabs(now.twist)));
      // Of the third derivative no continuity is promised: well inside a leg.
      const double twist = (flight.at(0, t + h).bend - flight.at(0, t - h).bend) / (2 * h);
      const double near = (flight.at(0, t + 2 * h).bend - flight.at(0, t).bend) / (2 * h);
      if (std::fabs(near - twist) < 1e-2 * (1.0 + std::fabs(twist))) {
        EXPECT_NEAR(now.twist, twist, 2e-2 * (1.0 + std::fabs(twist))) << "seed " << seed << " at " << t;
      }
    }
  }
}

// Independent of the tables of the flight: the way as a sum of chords of the bare curve, twice refined.
TEST(Flight, KnowsItsWay) {
  for (std::uint64_t seed = 1; seed <= 8; ++seed) {
    const FlightPlan plan = plan_of(seed, false);
    const Flight flight(plan);
    const auto chords = [&](int count) {
      double sum = 0.0;
      for (int k = 0; k < count; ++k) {
        double square = 0.0;
        for (std::size_t axis = 0; axis < 3; ++axis)
          square += std::pow(flight.at(axis, flight.total() * (k + 1) / count).value
                                 - flight.at(axis, flight.total() * k / count).value,
                             2);
        sum += std::sqrt(square);
      }
      return sum;
    };
    const double coarse = chords(40'000), fine = chords(80'000);
    EXPECT_NEAR(flight.way_between(0, plan.times.size() - 1), fine + (fine - coarse) / 3.0, 1e-7 * fine);
  }
}

TEST(Flight, GivesUpOneSpeedWhereTheWayTurnsRound) {
  FlightPlan plan;
  plan.times = {0.0, 1.0, 2.0};
  plan.axes = {{{0, 1, 2}, {0.0, 1.0, 0.0}, {}, {}}};
  plan.along = {0};
  plan.steady = true;
  plan.between_neighbours = true;
  const Flight flight(plan);
  EXPECT_FALSE(flight.is_steady());
  EXPECT_NEAR(flight.at(0, 1.0).value, 1.0, 1e-15);
}

/// The turn of a camera as the rest of the program has it.
Quaternion camera_turn(const TurnPath& path, double t) {
  return quaternion_of(axes_of_view(path.at(0, t).value, path.at(1, t).value, path.at(2, t).value));
}

double angle_between(const Quaternion& a, const Quaternion& b) {
  const double half = std::fabs(a.x * b.x + a.y * b.y + a.z * b.z + a.w * b.w);
  return 2.0 * std::acos(std::min(1.0, half));
}

// Against angles, axes and quaternions of the scene, which know nothing of paths.
TEST(TurnPath, GoesThroughItsStopsWithoutAJumpOfItsVelocity) {
  for (std::uint64_t seed = 1; seed <= 100; ++seed) {
    RandomPath made(seed);
    std::vector<double> times{0.0};
    std::vector<TurnAngles> angles;
    for (std::size_t k = 0; k < made.knots.size(); ++k) {
      if (k > 0) times.push_back(times.back() + made.knots[k] - made.knots[k - 1]);
      angles.push_back({made.between(-3, 3), made.between(-1.2, 1.2), made.between(-0.5, 0.5)});
    }
    const TurnPath path(TurnPath::Kind::smooth, times, angles, {});
    for (std::size_t k = 0; k < times.size(); ++k) {
      const Quaternion stop = quaternion_of(axes_of_view(angles[k][0], angles[k][1], angles[k][2]));
      EXPECT_NEAR(angle_between(camera_turn(path, times[k]), stop), 0.0, 1e-7) << seed;
      if (k == 0 || k + 1 == times.size()) continue;
      for (std::size_t angle = 0; angle < 3; ++angle) {
        const CurvePoint before = path.at(angle, times[k], Side::before), after = path.at(angle, times[k], Side::at);
        EXPECT_NEAR(before.value, after.value, 1e-12);
        EXPECT_NEAR(before.slope, after.slope, 1e-9 * std::max(1.0, std::fabs(after.slope))) << seed;
        constexpr double h = 1e-6;
        EXPECT_NEAR(after.slope, (path.at(angle, times[k] + h).value - after.value) / h,
                    1e-3 * std::max(1.0, after.slope * after.slope))
            << seed;
      }
    }
    EXPECT_NEAR(path.at(0, times.back(), Side::before).slope, 0.0, 1e-8);
    // The angles go on without a leap.
    for (double t = 0.001; t < times.back(); t += 0.001)
      ASSERT_LT(std::fabs(path.at(2, t).value - path.at(2, t - 0.001).value), 1.0) << seed;
  }
}

TEST(TurnPath, EvenTurnsHaveOneAngularSpeedFromStopToStop) {
  const TurnPath path(TurnPath::Kind::even, {0.0, 1.0, 3.0}, {{0.0, 0.0, 0.0}, {1.0, 0.4, 0.0}, {-0.5, 0.9, 0.2}}, {});
  for (const double from : {0.0, 1.0}) {
    const double speed = path.speed_at(from + 0.1);
    for (double t = from + 0.05; t < from + (from == 0.0 ? 1.0 : 2.0); t += 0.05)
      EXPECT_NEAR(path.speed_at(t), speed, 1e-6 * speed) << t;
  }
  EXPECT_NEAR(path.speed_at(0.5), angle_between(camera_turn(path, 0.0), camera_turn(path, 1.0)), 1e-6);
}

TEST(TurnPath, BeginsWithTheRatesThatAreThere) {
  const TurnPath path(TurnPath::Kind::smooth, {0.0, 2.0}, {{0.3, 0.2, 0.1}, {1.0, -0.4, 0.0}}, {0.7, -0.2, 0.4});
  EXPECT_NEAR(path.at(0, 0.0).slope, 0.7, 1e-9);
  EXPECT_NEAR(path.at(1, 0.0).slope, -0.2, 1e-9);
  EXPECT_NEAR(path.at(2, 0.0).slope, 0.4, 1e-9);
}

TEST(LedTime, GoesThereAndBackAndAgain) {
  const LedTime time{2.0, 0.0, 1.0, 4.0, 3, false, true}; // 2 s there from 0 to 4, then 1.5 s each way
  EXPECT_DOUBLE_EQ(time.total(), 5.0);
  EXPECT_DOUBLE_EQ(place_at(time, 1.0, false).at, 2.0);
  EXPECT_DOUBLE_EQ(place_at(time, 2.0, true).at, 4.0);
  EXPECT_DOUBLE_EQ(place_at(time, 2.0, true).rate, 2.0);
  EXPECT_DOUBLE_EQ(place_at(time, 2.0, false).rate, -2.0);
  EXPECT_DOUBLE_EQ(place_at(time, 2.5, false).at, 3.0);
  EXPECT_DOUBLE_EQ(place_at(time, 3.5, false).at, 1.0);
  EXPECT_DOUBLE_EQ(place_at(time, 4.0, false).at, 2.0);
  EXPECT_TRUE(place_at(time, 5.0, false).is_over);
  EXPECT_FALSE(place_at(time, 5.0, true).is_over);
  EXPECT_DOUBLE_EQ(place_at(time, 9.0, false).at, 4.0);
  const LedTime for_ever{1.0, 0.0, 1.0, 2.0, 0, false, false};
  EXPECT_EQ(for_ever.total(), unbounded);
  EXPECT_DOUBLE_EQ(place_at(for_ever, 7.25, false).at, 1.25);
  const LedTime back{1.0, 0.0, 1.0, 3.0, 1, true, false};
  EXPECT_DOUBLE_EQ(back.total(), 2.0);
  EXPECT_DOUBLE_EQ(place_at(back, 0.5, false).at, 2.5);
}

} // namespace
} // namespace stasis
