// The list of a feel's numbers: which there are, in which unit and scale, and that each may be written back.
#include <cmath>
#include <filesystem>
#include <fstream>
#include <iterator>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/feel/compose.hpp"
#include "core/feel/feel_numbers.hpp"
#include "core/text.hpp"
#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

std::vector<FeelNumber> numbers_of(const std::string& text) {
  const auto document = io::read_toml(text, 0);
  return document ? feel_numbers(*document) : std::vector<FeelNumber>();
}

const FeelNumber* named(const std::vector<FeelNumber>& numbers, std::string_view path) {
  for (const FeelNumber& number : numbers)
    if (number.path == path) return &number;
  return nullptr;
}

constexpr const char* lamp = R"(feel = 1
history = 3
[picture]
size = [800, 600]
[channel.fov]
unit = "deg"
rest = 60
range = [20, 100]
motion = { rising = "soft", falling = { kind = "glide", half_life = "110 ms" } }
[channel.focus]
unit = "m"
rest = [0, 1, 2]
range = [[-5, 0, -5], [5, 3, 5]]
motion = { x = { kind = "glide", half_life = { setting = "trail" } }, y = "soft", z = { kind = "stages", stages = [{ kind = "delay", delay = 0.1 }, "soft"] } }
[motion.soft]
kind = "spring"
frequency = 2
damping_ratio = 0.7
[setting.trail]
value = 0.2
range = [0.1, 0.4]
unit = "s"
[pose.near]
fov = 40
focus = [1, 2, 3]
[pose.wide]
fov = { times = 1.2 }
[shake.rattle]
on = { fov = 2 }
wave = { kind = "noise", frequency = 8 }
decay = { kind = "half_life", half_life = 0.2 }
seed = 4
[take.t]
length = 2
)";

TEST(FeelNumbers, AreThoseOfTheFeelAndNotOfItsTakes) {
  const auto numbers = numbers_of(lamp);
  for (const char* const path :
       {"channel.fov.rest", "channel.fov.range[0]", "channel.fov.motion.falling.half_life", "channel.focus.rest[2]",
        "channel.focus.motion.z.stages[0].delay", "motion.soft.frequency", "setting.trail.value", "pose.near.fov",
        "pose.near.focus[1]", "pose.wide.fov.times", "shake.rattle.on.fov", "shake.rattle.wave.frequency",
        "shake.rattle.decay.half_life"})
    EXPECT_NE(named(numbers, path), nullptr) << path;
  for (const char* const path : {"history", "feel", "picture.size[0]", "take.t.length", "shake.rattle.seed",
                                 "channel.focus.motion.x.half_life", "channel.focus.motion.x.half_life.setting"})
    EXPECT_EQ(named(numbers, path), nullptr) << path;
}

TEST(FeelNumbers, HaveTheUnitTheBoundsAndTheScaleOfTheirKey) {
  const auto numbers = numbers_of(lamp);
  const FeelNumber& half_life = *named(numbers, "channel.fov.motion.falling.half_life");
  EXPECT_EQ(half_life.value, 110.0);
  EXPECT_EQ(half_life.unit, "ms");
  EXPECT_TRUE(half_life.has_unit);
  EXPECT_TRUE(half_life.by_factor);
  EXPECT_DOUBLE_EQ(half_life.from, 110.0 / 8.0);
  EXPECT_DOUBLE_EQ(half_life.to, 110.0 * 8.0);
  const FeelNumber& frequency = *named(numbers, "motion.soft.frequency");
  EXPECT_EQ(frequency.unit, "Hz");
  EXPECT_FALSE(frequency.has_unit);
  const FeelNumber& ratio = *named(numbers, "motion.soft.damping_ratio");
  EXPECT_EQ(ratio.unit, "");
  EXPECT_FALSE(ratio.by_factor);
  const FeelNumber& trail = *named(numbers, "setting.trail.value");
  EXPECT_EQ(trail.bounds.low, 0.1);
  EXPECT_EQ(trail.bounds.high, 0.4);
  // Goals and resting values make sense within the range of their channel, component by component.
  for (const auto& [path, low, high] : {std::tuple("channel.fov.rest", 20.0, 100.0),
                                        {"pose.near.fov", 20.0, 100.0},
                                        {"channel.focus.rest[1]", 0.0, 3.0},
                                        {"pose.near.focus[1]", 0.0, 3.0}}) {
    EXPECT_EQ(named(numbers, path)->from, low) << path;
    EXPECT_EQ(named(numbers, path)->to, high) << path;
  }
  EXPECT_EQ(named(numbers, "pose.near.fov")->unit, "deg");
}

/// Every number of a text that is written where it stands, as it stands, leaves the same feel.
void expect_each_may_be_written(const std::string& text, const std::string& name) {
  for (const FeelNumber& number : numbers_of(text)) {
    EXPECT_LE(number.from, number.to) << name << " " << number.path;
    EXPECT_GE(number.value, number.bounds.low) << name << " " << number.path;
    EXPECT_LE(number.value, number.bounds.high) << name << " " << number.path;
    const std::string value = shortest(number.value) + (number.has_unit ? " " + number.unit : "");
    const auto edit = io::edit_value(text, number.path, value);
    ASSERT_TRUE(edit) << name << " " << number.path << ": " << edit.error().front().message;
    const auto again = numbers_of(edit->text);
    const FeelNumber* const same = named(again, number.path);
    ASSERT_NE(same, nullptr) << name << " " << number.path;
    EXPECT_EQ(same->value, number.value) << name << " " << number.path;
    EXPECT_EQ(again.size(), numbers_of(text).size()) << name << " " << number.path;
  }
}

TEST(FeelNumbers, EachMayBeWrittenBackWhereItStands) {
  expect_each_may_be_written(lamp, "lamp");
  for (const auto& folder : {"/demo", "/demo/recipes"})
    for (const auto& file : std::filesystem::directory_iterator(std::string(STASIS_SOURCE) + folder)) {
      if (file.path().extension() != ".toml") continue;
      std::ifstream stream(file.path());
      expect_each_may_be_written({std::istreambuf_iterator<char>(stream), {}}, file.path().filename().string());
    }
  for (std::uint64_t seed = 1; seed <= 40; ++seed)
    expect_each_may_be_written(test::FeelMaker(seed).make().text, fmt::format("seed {}", seed));
}

} // namespace
} // namespace stasis
