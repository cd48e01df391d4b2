// Rays of some thickness against obstacles, checked by a ball that is marched along them.
#include <algorithm>
#include <cmath>
#include <limits>
#include <random>

#include <gtest/gtest.h>

#include "core/scene/obstacle.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

class Random {
public:
  explicit Random(unsigned seed) : generator_(seed) {}
  double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(generator_); }
  Components place(double reach) { return {between(-reach, reach), between(-reach, reach), between(-reach, reach)}; }
  Components way() {
    const Components any = place(1);
    return scaled(any, 1 / std::max(1e-9, length_of(any)));
  }
  Axes axes() { return axes_of_view(between(-3, 3), between(-1.5, 1.5), between(-3, 3)); }

private:
  std::mt19937 generator_;
};

double segment_distance(double x, double y, const std::array<double, 2>& a, const std::array<double, 2>& b) {
  const double ux = b[0] - a[0], uy = b[1] - a[1];
  const double share = std::clamp(((x - a[0]) * ux + (y - a[1]) * uy) / (ux * ux + uy * uy), 0.0, 1.0);
  return std::hypot(x - a[0] - share * ux, y - a[1] - share * uy);
}

/// How far a place is from an obstacle; 0 inside.
double distance_to(const Components& place, const PlaneShape& plane) {
  return std::max(0.0, dot(plus(place, plane.at, -1), plane.normal));
}
double distance_to(const Components& place, const SphereShape& sphere) {
  return std::max(0.0, length_of(plus(place, sphere.centre, -1)) - sphere.radius);
}
double distance_to(const Components& place, const BoxShape& box) {
  Components nearest = box.centre;
  for (std::size_t i = 0; i < 3; ++i)
    nearest =
        plus(nearest, box.axes[i], std::clamp(dot(plus(place, box.centre, -1), box.axes[i]), box.low[i], box.high[i]));
  return length_of(plus(place, nearest, -1));
}
double distance_to(const Components& place, const WallShape& wall) {
  double nearest = unbounded;
  for (std::size_t k = 0; k + 1 < wall.points.size(); ++k)
    nearest = std::min(nearest, segment_distance(place[0], place[2], wall.points[k], wall.points[k + 1]));
  return nearest;
}

/// Steps that can miss nothing: each as long as the ball has room. \returns nothing beyond 60.
template<class Shape> std::optional<double> marched(const Ray& ray, const Shape& shape) {
  double at = 0.0;
  for (int k = 0; k < 100'000 && at < 60.0; ++k) {
    const double room = distance_to(plus(ray.from, ray.way, at), shape) - ray.radius;
    if (room <= 1e-9) return at;
    at += room;
  }
  return std::nullopt;
}

/// Where a ray only just passes or only just touches, the two may disagree.
template<class Shape> bool grazes(Ray ray, const Shape& shape) {
  const auto with = [&](double radius) {
    ray.radius = std::max(0.0, radius);
    return marched(ray, shape).has_value();
  };
  return with(ray.radius - 1e-6) != with(ray.radius + 1e-6);
}

template<class Shape> void agrees(Random& random, const Shape& shape, int& met) {
  const Ray ray{random.place(6), random.way(), random.between(0, 1) < 0.3 ? 0.0 : random.between(0, 1.2)};
  const auto hit = hit_of(ray, ObstacleShape(shape));
  const auto check = marched(ray, shape);
  if (grazes(ray, shape)) return;
  if (!check) {
    EXPECT_TRUE(!hit || hit->distance > 50.0);
    return;
  }
  ASSERT_TRUE(hit);
  ++met;
  // Along a surface a ball's touch is ill-conditioned: what counts is how far it then is from it.
  if (std::fabs(hit->distance - *check) > 1e-6) {
    EXPECT_LT(std::fabs(distance_to(plus(ray.from, ray.way, hit->distance), shape) - ray.radius), 1e-9);
    EXPECT_LE(hit->cosine, 1e-2);
  }
  if (hit->distance == 0.0 || ray.radius == 0.0) return;
  // The cosine is how fast the room shrinks there.
  const double step = 1e-7, before = distance_to(plus(ray.from, ray.way, hit->distance - step), shape);
  EXPECT_NEAR(hit->cosine, (before - ray.radius) / step, 1e-4 / std::min(1.0, ray.radius));
}

// Rule O4.
TEST(Obstacle, RaysAgreeWithAMarch) {
  Random random(11);
  int met = 0;
  for (int n = 0; n < 4000; ++n) {
    agrees(random, PlaneShape{random.place(4), random.way()}, met);
    agrees(random, SphereShape{random.place(4), random.between(0.1, 3)}, met);
    BoxShape box;
    box.centre = random.place(4);
    if (n % 2 == 0) box.axes = random.axes();
    for (std::size_t i = 0; i < 3; ++i) {
      box.high[i] = random.between(0.05, 2.5);
      box.low[i] = -box.high[i];
    }
    agrees(random, box, met);
    std::vector<std::array<double, 2>> points;
    for (int k = 0; k < 2 + n % 4; ++k) points.push_back({random.between(-5, 5), random.between(-5, 5)});
    agrees(random, wall_along(points, -unbounded, unbounded), met);
  }
  EXPECT_GT(met, 4000);
}

TEST(Obstacle, WallsEndAtTheirTopAndTheirBottom) {
  const WallShape wall = wall_along({{-2, 3}, {2, 3}}, -1, 0.5);
  const Ray level{{0, 0, 0}, {0, 0, 1}, 0.0};
  EXPECT_NEAR(hit_of(level, wall)->distance, 3, 1e-12);
  EXPECT_NEAR(hit_of({{0, 0.7, 0}, {0, 0, 1}, 0.25}, wall)->distance, 3 - 0.15, 1e-12); // a corner of 0.15, 0.2, 0.25
  EXPECT_FALSE(hit_of({{0, 0.7, 0}, {0, 0, 1}, 0.1}, wall));
  EXPECT_FALSE(hit_of({{0, -1.2, 0}, {0, 0, 1}, 0.1}, wall));
}

TEST(Obstacle, NoRaySlipsThroughACorner) {
  const WallShape wall = wall_along({{-0.3, 2.1}, {0.7, 1.9}, {1.1, 3.3}}, -unbounded, unbounded);
  const double length = std::hypot(0.7, 1.9);
  EXPECT_NEAR(hit_of({{0, 0, 0}, {0.7 / length, 0, 1.9 / length}, 0.0}, wall)->distance, length, 1e-9);
}

// Rule O4.
TEST(Obstacle, TouchesAtOnceWhereItStartsInside) {
  const SphereShape sphere{{0, 0, 0}, 1};
  BoxShape box;
  box.low = {-1, -1, -1};
  box.high = {1, 1, 1};
  const PlaneShape plane{{0, 0, 0}, {0, 1, 0}};
  for (const double radius : {0.0, 0.3}) {
    const Ray inside{{0.1, -0.2, 0.3}, {0, 0, 1}, radius};
    for (const ObstacleShape& shape : {ObstacleShape(sphere), ObstacleShape(box), ObstacleShape(plane)}) {
      EXPECT_EQ(hit_of(inside, shape)->distance, 0);
      EXPECT_EQ(limit_of(*hit_of(inside, shape), 0.2), 0);
    }
  }
  // The ball touches though its middle is outside, whichever way it goes.
  EXPECT_EQ(hit_of({{0, 0.2, 0}, {0, 1, 0}, 0.3}, plane)->distance, 0);
  EXPECT_EQ(hit_of({{0, 1.2, 0}, {0, 1, 0}, 0.3}, box)->distance, 0);
  EXPECT_EQ(hit_of({{0, 1.2, 0}, {0, 1, 0}, 0.3}, sphere)->distance, 0);
}

TEST(Obstacle, GrazingRaysTouchOrPass) {
  const SphereShape sphere{{0, 0, 0}, 1};
  EXPECT_FALSE(hit_of({{-5, 1.2500001, 0}, {1, 0, 0}, 0.25}, sphere));
  const auto touch = hit_of({{-5, 1.2499999, 0}, {1, 0, 0}, 0.25}, sphere);
  ASSERT_TRUE(touch);
  EXPECT_LT(touch->cosine, 1e-3);
  // The stand-off is never taken for more than ten times itself, and never leads behind the start.
  EXPECT_DOUBLE_EQ(limit_of(*touch, 0.2), touch->distance - 2.0);
  EXPECT_EQ(limit_of(*touch, 2.0), 0);
  // Along a plane without ever coming nearer.
  EXPECT_FALSE(hit_of({{0, 1, 0}, {1, 0, 0}, 0.5}, PlaneShape{{0, 0, 0}, {0, 1, 0}}));
}

TEST(Obstacle, StandOffCountsAlongTheNormal) {
  const PlaneShape wall{{0, 0, 4}, {0, 0, -1}};
  for (const double slant : {0.0, 0.3, 0.9, 1.2}) {
    const Ray ray{{0, 0, 0}, {std::sin(slant), 0, std::cos(slant)}, 0.1};
    const double limit = limit_of(*hit_of(ray, wall), 0.5);
    EXPECT_NEAR(4 - 0.1 - limit * std::cos(slant), 0.5, 1e-12) << slant;
  }
}

} // namespace
} // namespace stasis
