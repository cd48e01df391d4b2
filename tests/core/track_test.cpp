// Tracks: where a subject is at any time, by rows and by simple paths.
#include <cmath>
#include <memory>
#include <random>

#include <gtest/gtest.h>

#include "core/scene/track.hpp"
#include "core/view/camera.hpp"

namespace stasis {
namespace {

Track recorded(std::vector<double> time, std::vector<double> x, std::vector<double> y = {}) {
  auto path = std::make_shared<RecordedPath>();
  path->time = std::move(time);
  path->place = {std::move(x), std::move(y), {}};
  const std::size_t components = path->place[1].empty() ? 1 : 2;
  add_travel(*path, components);
  Track track;
  track.components = components;
  track.path = std::shared_ptr<const RecordedPath>(std::move(path));
  return track;
}

Track with_cuts(Track track, double beyond) {
  auto path = std::make_shared<RecordedPath>(*std::get<std::shared_ptr<const RecordedPath>>(track.path));
  add_cuts(*path, beyond);
  track.path = std::shared_ptr<const RecordedPath>(std::move(path));
  return track;
}

// Rule G4.
TEST(Track, IsStraightBetweenRowsAndStandsOutsideThem) {
  const Track track = recorded({1, 2, 4}, {10, 20, 0});
  TrackReader reader(track);
  reader.enter(0.0);
  EXPECT_EQ(reader.at(0.0).place[0], 10.0);
  EXPECT_EQ(reader.at(1.5).place[0], 15.0);
  EXPECT_EQ(reader.at(2.0).place[0], 20.0);
  EXPECT_EQ(reader.at(3.0).place[0], 10.0);
  EXPECT_EQ(reader.at(9.0).place[0], 0.0);
  EXPECT_EQ(reader.at(9.0).velocity[0], 0.0);
  EXPECT_EQ(reader.at(2.0).velocity[0], 10.0); // by the last two rows
  EXPECT_EQ(reader.at(1.5).place[0], 15.0);    // an earlier time than the last reading
}

// Rule F3.
TEST(Track, AJumpEndsAStretch) {
  const Track track = with_cuts(recorded({0, 1, 2, 3}, {0, 1, 50, 51}), 10.0);
  TrackReader reader(track);
  reader.enter(0.0);
  EXPECT_EQ(reader.stretch_end(), 2.0);
  EXPECT_EQ(reader.at(1.9).place[0], 1.0); // it stands until it jumps
  EXPECT_EQ(reader.at(1.9).velocity[0], 1.0);
  reader.enter(2.0);
  EXPECT_EQ(reader.at(2.0).place[0], 50.0);
  EXPECT_EQ(reader.at(2.0).velocity[0], 1.0); // not the speed of the jump
  EXPECT_TRUE(std::isinf(reader.stretch_end()));
}

TEST(Track, LooksTheWayItWentLastWhileItStandsOrCreeps) {
  // Along +x, still except for a tremble, then along -x.
  const Track track = recorded({0, 1, 2, 3, 4, 5}, {0, 5, 5, 5.0000001, 5, 0}, {0, 0, 0, 0.0000001, 0, 0});
  TrackReader reader(track);
  reader.enter(0.0);
  const double forth = reader.at(0.5).travel;
  for (const double time : {1.0, 1.5, 2.5, 3.5, 4.0}) EXPECT_NEAR(reader.at(time).travel, forth, 1e-9) << time;
  EXPECT_NEAR(std::fabs(reader.at(5.0).travel - forth), 180.0, 1e-9);
}

// Rule G5.
TEST(Track, IsLostWhereItsRuleSaysSo) {
  Track track = recorded({1, 2}, {0, 1});
  track.lost = LostRule::base;
  TrackReader reader(track);
  reader.enter(0.0);
  EXPECT_TRUE(reader.at(0.5).lost);
  EXPECT_EQ(reader.stretch_end(), 1.0);
  reader.enter(1.0);
  EXPECT_FALSE(reader.at(1.0).lost);
  EXPECT_GT(reader.stretch_end(), 2.0); // the last row itself is seen
  reader.enter(2.1);
  EXPECT_TRUE(reader.at(2.1).lost);
}

TEST(Track, CornersAreItsRowsBetweenTwoTimes) {
  const Track track = recorded({0, 0.5, 1, 1.5, 2}, {0, 1, 0, 1, 0});
  TrackReader reader(track);
  reader.enter(0.0);
  std::vector<double> corners;
  reader.add_corners(0.5, 1.6, corners);
  EXPECT_EQ(corners, (std::vector<double>{1.0, 1.5}));
}

TEST(Track, CornersComeAsLateAsTheTrackBegins) {
  Track track = recorded({0, 0.5, 1, 1.5, 2}, {0, 1, 0, 1, 0});
  track.from = 10.0;
  TrackReader reader(track);
  reader.enter(10.0);
  std::vector<double> corners;
  reader.add_corners(10.5, 11.6, corners);
  EXPECT_EQ(corners, (std::vector<double>{11.0, 11.5}));
}

/// Reading at random times agrees with a plain search.
TEST(Track, IsTheSameInAnyOrderOfReading) {
  std::mt19937 random(3);
  std::uniform_real_distribution<double> share(0.0, 1.0);
  std::vector<double> time{0.0}, x{0.0};
  for (int k = 1; k < 300; ++k) {
    time.push_back(time.back() + 0.01 + share(random));
    x.push_back(share(random));
  }
  const Track track = recorded(time, x);
  TrackReader reader(track);
  reader.enter(0.0);
  for (int k = 0; k < 3000; ++k) {
    const double t = share(random) * time.back();
    std::size_t row = 0;
    while (row + 2 < time.size() && time[row + 1] <= t) ++row;
    const double plain = x[row] + (x[row + 1] - x[row]) * (t - time[row]) / (time[row + 1] - time[row]);
    ASSERT_NEAR(reader.at(t).place[0], plain, 1e-13);
  }
}

/// Speeds of the closed paths are the derivatives of their places.
// Rule G8.
TEST(Track, VelocitiesAreDerivatives) {
  for (const std::size_t components : {std::size_t{2}, std::size_t{3}})
    for (const TrackPath& path : {TrackPath(CirclePath{{1, 2, 3}, 4, 3}), TrackPath(EightPath{{0, 1, 0}, 8, 4, 9}),
                                  TrackPath(LinePath{{1, 1, 1}, {2, -1, 0}})}) {
      Track track;
      track.components = components;
      track.path = path;
      TrackReader reader(track);
      for (const double t : {0.0, 0.7, 3.1, 12.0}) {
        constexpr double h = 1e-5;
        const TrackPoint before = reader.at(t - h), after = reader.at(t + h), now = reader.at(t);
        for (std::size_t i = 0; i < most_components; ++i)
          EXPECT_NEAR((after.place[i] - before.place[i]) / (2 * h), now.velocity[i], 1e-6);
        const Components forward = direction_of(now.travel, components);
        const double level = components == 3 ? std::hypot(now.velocity[0], now.velocity[2]) : length_of(now.velocity);
        for (const std::size_t i : {std::size_t{0}, components - 1})
          EXPECT_NEAR(forward[i] * level, now.velocity[i], 1e-9);
      }
    }
}

TEST(Track, StopAndGoStandsByTurns) {
  Track track;
  track.components = 2;
  track.path = StopAndGoPath{{0, 0, 0}, {2, 0, 0}, 1.0, 0.5};
  TrackReader reader(track);
  EXPECT_EQ(reader.at(0.5).place[0], 1.0);
  EXPECT_EQ(reader.at(1.2).place[0], 2.0);
  EXPECT_EQ(reader.at(1.2).velocity[0], 0.0);
  EXPECT_EQ(reader.at(0.5).throttle, 1.0);
  EXPECT_EQ(reader.at(1.2).throttle, 0.0);
  EXPECT_EQ(reader.at(2.0).place[0], 3.0);
  std::vector<double> corners;
  reader.add_corners(0.9, 1.6, corners);
  EXPECT_EQ(corners, (std::vector<double>{1.0, 1.5}));
}

// Rule A1.
TEST(Heading, LooksAlongMinusZAndTurnsLeft) {
  EXPECT_EQ(heading_of({0, 0, -1}, 3), 0.0);
  EXPECT_NEAR(heading_of({-1, 0, 0}, 3), 90.0, 1e-12);
  EXPECT_EQ(heading_of({1, 0, 0}, 2), 0.0);
  EXPECT_NEAR(heading_of({0, 1, 0}, 2), 90.0, 1e-12);
  for (const double heading : {-170.0, -30.0, 0.0, 45.0, 179.0})
    for (const std::size_t components : {std::size_t{2}, std::size_t{3}})
      EXPECT_NEAR(heading_of(direction_of(heading, components), components), heading, 1e-12);
}

// Rule A1.
TEST(Axes, AreAtRightAnglesAndTurnBack) {
  for (const double yaw : {-2.0, 0.3, 1.5})
    for (const double pitch : {-1.2, 0.0, 0.8})
      for (const double roll : {-0.5, 0.0, 2.0}) {
        const Axes axes = axes_of_view(yaw, pitch, roll);
        for (std::size_t i = 0; i < 3; ++i)
          for (std::size_t j = 0; j < 3; ++j) EXPECT_NEAR(dot(axes[i], axes[j]), i == j ? 1.0 : 0.0, 1e-15);
        const Components vector{1.5, -2.0, 0.25}, back = axes.sum(axes.parts(vector));
        for (std::size_t i = 0; i < 3; ++i) EXPECT_NEAR(back[i], vector[i], 1e-15);
      }
  const Axes left = axes_of_view(1.5707963267948966, 0.0, 0.0); // looks along -x
  EXPECT_NEAR(left.back[0], 1.0, 1e-15);
  EXPECT_NEAR(left.right[2], -1.0, 1e-15);
}

TEST(RecordedPath, AnglesLoseTheirLeaps) {
  const NumberColumn angles(std::vector<double>{170, -170, -150, 175, 185 - 720});
  const NumberColumn whole = changed(angles, UnwrapDegrees());
  const std::vector<double> expected{170, 190, 210, 175, 185};
  ASSERT_EQ(whole.size(), expected.size());
  for (std::size_t row = 0; row < expected.size(); ++row) EXPECT_EQ(whole[row], expected[row]);
}

} // namespace
} // namespace stasis
