// Where subjects are and how they go, against what a reader of tracks says frame by frame.
#include <cmath>

#include <gtest/gtest.h>

#include "core/scene/track_rates.hpp"
#include "core/unbounded.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

const Tick no_tick{.rate = 0.0};

Track path_track(TrackPath path, std::size_t components = 3) {
  Track track;
  track.name = "t";
  track.components = components;
  track.path = std::move(path);
  track.from = 0.3;
  return track;
}

Track recorded_track(LostRule lost = LostRule::hold) {
  auto path = std::make_shared<RecordedPath>();
  path->time = std::vector<double>{0.0, 0.5, 1.25, 1.5, 2.0};
  path->place[0] = std::vector<double>{0.0, 1.0, -2.0, 40.0, 41.0};
  add_cuts(*path, 10.0);
  add_travel(*path, 1);
  Track track = path_track(std::shared_ptr<const RecordedPath>(std::move(path)), 1);
  track.lost = lost;
  return track;
}

std::vector<Track> every_path() {
  return {path_track(LinePath{{1, 2, 3}, {0.5, 0, -2}}),
          path_track(CirclePath{{1, 0, 2}, 2.0, 3.0}),
          path_track(EightPath{{0, 1, 0}, 4.0, 2.0, 6.0}),
          path_track(StopAndGoPath{{0, 0, 0}, {1, 0, -1}, 0.37, 0.4}),
          path_track(StepsPath{{{0, 0, 0}, {3, 0, 0}, {1, 0, 2}}, 0.5}),
          recorded_track()};
}

// Rule G4.
TEST(TrackRates, PlacesAreThoseOfTheReader) {
  for (const Tick& tick : {no_tick, Tick{.rate = 50.0}, Tick{.rate = 30.0, .blends = true}})
    for (const Track& track : every_path())
      for (double time = 0.0; time < 4.0; time += 1.0 / 150.0) {
        // With ticks the two agree at them: in between the one goes straight and the other stands.
        const double at = tick.rate > 0.0 ? std::floor(time * tick.rate) / tick.rate : time;
        TrackReader reader(track, tick);
        reader.enter(at);
        const Components there = reader.at(at).place, here = place_rates(track, tick, at).place;
        for (std::size_t i = 0; i < most_components; ++i) ASSERT_NEAR(here[i], there[i], 1e-12) << at << " " << i;
      }
}

TEST(TrackRates, RatesAreThoseOfThePlaces) {
  constexpr double h = 1e-4;
  for (const Tick& tick : {no_tick, Tick{.rate = 50.0}})
    for (const Track& track : every_path())
      for (double time = 0.3137; time < 4.0; time += 0.0731) {
        if (next_place_break(track, tick, time - 2 * h) < time + 2 * h) continue;
        const PlaceRates now = place_rates(track, tick, time), before = place_rates(track, tick, time - h),
                         after = place_rates(track, tick, time + h);
        for (std::size_t i = 0; i < most_components; ++i) {
          EXPECT_NEAR(now.velocity[i], (after.place[i] - before.place[i]) / (2 * h), 1e-6);
          EXPECT_NEAR(now.acceleration[i], (after.velocity[i] - before.velocity[i]) / (2 * h), 1e-5);
          EXPECT_NEAR(now.jerk[i], (after.acceleration[i] - before.acceleration[i]) / (2 * h), 1e-4);
        }
      }
}

TEST(TrackRates, BreaksAreWhereASpeedOrAPlaceJumps) {
  const auto breaks = [](const Track& track) {
    std::vector<double> all;
    for (double next = next_place_break(track, no_tick, -1.0); next < 2.5;
         next = next_place_break(track, no_tick, next))
      all.push_back(next);
    return all;
  };
  const auto expect = [](const std::vector<double>& found, const std::vector<double>& wanted) {
    ASSERT_EQ(found.size(), wanted.size());
    for (std::size_t k = 0; k < found.size(); ++k) EXPECT_NEAR(found[k], wanted[k], 1e-12);
  };
  expect(breaks(recorded_track()), {0.3, 0.8, 1.55, 1.8, 2.3});
  expect(breaks(every_path()[4]), {0.8, 1.3});
  expect(breaks(every_path()[3]), {0.3, 0.67, 1.07, 1.44, 1.84, 2.21});
  EXPECT_TRUE(breaks(every_path()[1]).empty());
}

TEST(TrackRates, WhatSwingsTooQuicklyToBeSeenIsLookedAtNoCloser) {
  EXPECT_NEAR(smooth_place_stretch(path_track(CirclePath{{}, 2.0, 3.0}), no_tick), 2.0 * 3.14159265 * 2.0 / 3.0 / 16.0,
              1e-6);
  EXPECT_EQ(smooth_place_stretch(path_track(CirclePath{{}, 2.0, 1e9}), no_tick), 1e-4);
  EXPECT_EQ(smooth_place_stretch(path_track(EightPath{{}, 4.0, 2.0, 1e-6}), no_tick), 1e-4);
  EXPECT_EQ(smooth_place_stretch(path_track(LinePath{}), no_tick), unbounded);
}

// Rule G6.
TEST(TrackRates, AJumpHasTwoSides) {
  const Track track = recorded_track();
  EXPECT_DOUBLE_EQ(place_rates(track, no_tick, 1.8, true).place[0], -2.0);
  EXPECT_DOUBLE_EQ(place_rates(track, no_tick, 1.8).place[0], 40.0);
  EXPECT_EQ(place_rates(track, no_tick, 1.7).velocity[0], 0.0); // it stands until then
  EXPECT_TRUE(jumps_between(track, 1.5, 1.8));
  EXPECT_FALSE(jumps_between(track, 0.5, 1.5));
  EXPECT_DOUBLE_EQ(place_rates(track, no_tick, 0.8, true).velocity[0], 2.0);
  EXPECT_DOUBLE_EQ(place_rates(track, no_tick, 0.8).velocity[0], -4.0);
}

// Rule G5.
TEST(TrackRates, ASubjectThatIsLostIsToldSo) {
  const Track track = recorded_track(LostRule::base);
  EXPECT_TRUE(place_rates(track, no_tick, 0.1).lost);
  EXPECT_FALSE(place_rates(track, no_tick, 0.3).lost);
  EXPECT_FALSE(place_rates(track, no_tick, 2.3).lost); // the last row itself is seen
  EXPECT_TRUE(place_rates(track, no_tick, 2.4).lost);
  EXPECT_FALSE(place_rates(recorded_track(), no_tick, 2.4).lost);
}

} // namespace
} // namespace stasis
