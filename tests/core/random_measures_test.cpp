// Whatever a feel does, its measures are numbers or none: over random feels of all kinds.
#include <cmath>

#include <gtest/gtest.h>

#include "core/measure/channel_measures.hpp"
#include "core/measure/measure_registry.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

TEST(RandomMeasures, AreNumbersOrNone) {
  int measured = 0;
  for (std::uint64_t seed = 1; seed <= 600; ++seed) {
    test::FeelMaker maker(seed, {.rules_of_frames = seed % 4 == 0, .switches = seed % 3 == 0, .sticks = seed % 2 == 0});
    const std::string text = maker.make().text + "clock = { fps = 24, jitter = 0.2 }\n";
    if (!test::problems_of(text).empty()) continue; // a stick has met a motion that it cannot move
    const Feel feel = test::feel_from(text);
    const TakeMeasures measures = test::play_measures(feel);
    for (const Move& move : measures.moves)
      for (const MoveMeasure& one : move_measures())
        ASSERT_TRUE(std::isfinite((move.*one.value).value_or(0.0))) << one.name << ", seed " << seed;
    for (std::size_t c = 0; c < feel.channels.size(); ++c)
      for (const std::string& name : channel_measure_names(feel.channels[c]))
        ASSERT_TRUE(std::isfinite(channel_measure(feel, measures, c, name).value_or(0.0))) << name << ", seed " << seed;
    ++measured;
  }
  EXPECT_GT(measured, 400);
}

} // namespace
} // namespace stasis
