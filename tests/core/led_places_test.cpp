// A subject that is led while it is played reads as a recording of the same rows.
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "core/scene/track.hpp"

namespace stasis {
namespace {

constexpr std::size_t components = 3;

Track recorded(const std::vector<double>& time, const std::array<std::vector<double>, 3>& place) {
  auto path = std::make_shared<RecordedPath>();
  path->time = NumberColumn(time);
  for (std::size_t i = 0; i < components; ++i) path->place[i] = NumberColumn(place[i]);
  add_travel(*path, components);
  Track track;
  track.components = components;
  track.path = std::shared_ptr<const RecordedPath>(std::move(path));
  return track;
}

TEST(LedPlaces, AreARecordingOfTheSameRows) {
  std::mt19937_64 random(9);
  std::uniform_real_distribution<double> step(-1.0, 1.0), dt(0.005, 0.05);
  std::vector<double> time{-1.0 / 60.0, 0.0};
  std::array<std::vector<double>, 3> place{std::vector<double>{1, 1}, {2, 2}, {3, 3}};
  LedPlaces led;
  led.lead(time[0], {1, 2, 3}, components);
  led.lead(time[1], {1, 2, 3}, components);
  for (int frame = 1; frame < 300; ++frame) {
    time.push_back(time.back() + dt(random));
    const bool stands = frame % 7 == 0;
    for (auto& column : place) column.push_back(column.back() + (stands ? 0.0 : step(random)));
    led.lead(time.back(), {place[0].back(), place[1].back(), place[2].back()}, components);
    const Track track = recorded(time, place);
    TrackReader reader(track);
    // Of the last two frames, as a camera reads them that sees the subject of its own frame or of the one before.
    const std::size_t rows = time.size(), first = rows >= 3 ? rows - 3 : 0;
    for (int share = 0; share <= 8; ++share) {
      const double at = time[first] + (time.back() - time[first]) * share / 8.0;
      reader.enter(at);
      const TrackPoint expected = reader.at(at), now = led.at(at);
      for (std::size_t i = 0; i < components; ++i) {
        EXPECT_NEAR(now.place[i], expected.place[i], 1e-12) << frame << " " << share;
        EXPECT_NEAR(now.velocity[i], expected.velocity[i], 1e-9) << frame << " " << share;
      }
      // Whole turns apart from where each began to count.
      EXPECT_NEAR(std::remainder(now.travel - expected.travel, 360.0), 0.0, 1e-9) << frame << " " << share;
    }
  }
}

TEST(LedPlaces, StandBeforeTheFirstAndAfterTheLast) {
  LedPlaces led;
  EXPECT_TRUE(led.is_empty());
  led.lead(0.0, {1, 0, 0}, components);
  led.lead(1.0, {3, 0, 0}, components);
  EXPECT_EQ(led.at(-5.0).place[0], 1.0);
  EXPECT_EQ(led.at(0.5).place[0], 2.0);
  EXPECT_EQ(led.at(9.0).place[0], 3.0);
  EXPECT_EQ(led.latest()[0], 3.0);
  EXPECT_DOUBLE_EQ(led.at(1.0).velocity[0], 2.0);
}

} // namespace
} // namespace stasis
