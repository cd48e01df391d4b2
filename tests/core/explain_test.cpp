// What `explain` says is what `run` measures.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/explain/explain.hpp"
#include "core/units.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

double form(const MotionAccount& account, const std::string& name) {
  for (const EquivalentForm& one : account.forms)
    if (one.name == name) return one.value;
  ADD_FAILURE() << "no form " << name;
  return 0;
}

test::Rows rows_of(const std::string& motion) {
  return test::play_rows(test::feel_from(test::step_feel(motion, 60, 2.0)));
}

void expect_same_path(const std::string& a, const std::string& b) {
  const auto one = rows_of(a), other = rows_of(b);
  for (std::size_t row = 0; row < one.smooth.size(); ++row) EXPECT_NEAR(one.smooth[row], other.smooth[row], 1e-12) << b;
}

TEST(Explain, FormsOfASpringAreTheSameSpring) {
  for (const double ratio : {0.2, 0.6266, 1.0}) {
    const MotionAccount account = account_of("s", Spring{angular_frequency(2.3), ratio, false});
    const std::string given = fmt::format("kind = \"spring\", frequency = 2.3, damping_ratio = {}", ratio);
    expect_same_path(given, fmt::format("kind = \"spring\", stiffness = {}, damping = {}", form(account, "stiffness"),
                                        form(account, "damping")));
    const auto again = rows_of(given),
               designed = rows_of(fmt::format("kind = \"spring\", settling_time = {}, overshoot = {}",
                                              form(account, "settling_time"), form(account, "overshoot")));
    for (std::size_t row = 0; row < again.smooth.size(); ++row)
      EXPECT_NEAR(again.smooth[row], designed.smooth[row], 1e-9);
  }
}

TEST(Explain, ExactFormsOfAGlideAreTheSameGlide) {
  const MotionAccount account = account_of("g", Glide{rate_of_half_life(0.15)});
  const std::string given = "kind = \"glide\", half_life = 0.15";
  for (const char* name : {"rate", "time_constant", "half_life"})
    expect_same_path(given, fmt::format("kind = \"glide\", {} = {}", name, form(account, name)));
  expect_same_path(given, fmt::format("kind = \"glide\", settling_time = {}", form(account, "time_to_98")));
  expect_same_path(given, fmt::format("kind = \"glide\", per_frame = {}, at_fps = 60", form(account, "fraction")));
  for (const EquivalentForm& one : account.forms)
    EXPECT_EQ(one.sense.starts_with("exact"),
              one.name.find("spring") == std::string::npos && one.name != "ease_duration")
        << one.name;
}

TEST(Explain, SaysWhyAStepWasNotPlayed) {
  const Chain slow{0.0, Ease{3000.0, *parse_curve("out elastic")}, {Spring{angular_frequency(200.0), 0.01, false}}};
  const StepAccount step = account_of("m", slow).step;
  EXPECT_NE(step.why_not_played.find("swings too often"), std::string::npos);
  EXPECT_FALSE(step.to_50 || step.settling_time || step.overshoot);
  const Chain quick{0.0, Ease{3.0, *parse_curve("out elastic")}, {Spring{angular_frequency(200.0), 0.01, false}}};
  EXPECT_TRUE(account_of("m", quick).step.why_not_played.empty());
}

// Also where an eased move leads what swings many times in it.
TEST(Explain, AStepIsWhatRunMeasures) {
  const std::pair<const char*, Motion> motions[] = {
      {"kind = \"spring\", frequency = 1.5, damping_ratio = 0.4", Spring{angular_frequency(1.5), 0.4, false}},
      {"kind = \"glide\", half_life = 0.2", Glide{rate_of_half_life(0.2)}},
      {"kind = \"ease\", duration = 0.5, curve = \"out back\"", Ease{0.5, *parse_curve("out back")}},
      {"kind = \"pace\", speed = 2, acceleration = 8", Pace{2.0, 8.0}},
      {"kind = \"stages\", stages = [ { kind = \"ease\", duration = 1, curve = \"out elastic\" }, "
       "{ kind = \"spring\", frequency = 30, damping_ratio = 0.1 } ]",
       Chain{0.0, Ease{1.0, *parse_curve("out elastic")}, {Spring{angular_frequency(30.0), 0.1, false}}}},
  };
  for (const auto& [text, motion] : motions) {
    const Move move = test::play_measures(test::feel_from(test::step_feel(text, 60, 8.0))).moves[0];
    const StepAccount step = account_of("m", motion).step;
    EXPECT_NEAR(*step.to_50, *move.delay_time, 1e-9) << text;
    EXPECT_NEAR(*step.to_90, *move.rise_from_time + *move.rise_time, 1e-9) << text;
    EXPECT_NEAR(*step.settling_time, *move.settling_time, 1e-8) << text;
    EXPECT_NEAR(*step.overshoot, *move.overshoot, 1e-7) << text;
    EXPECT_LE(*step.to_98, *step.settling_time * (1 + 1e-9)) << text;
  }
}

TEST(Explain, NamesWhereEachMotionHolds) {
  const Feel feel = test::feel_from(R"(
[picture]
lens = { channel = "fov" }
[channel.fov]
unit = "deg"
rest = 60
range = [20, 100]
space = "zoom"
motion = { rising = { kind = "glide", half_life = 0.1 }, falling = { kind = "cut" } }
[channel.focus]
rest = [0, 0]
motion = { x = { kind = "cut" }, y = { kind = "glide", half_life = 0.2 } }
[channel.d]
unit = "m"
rest = 4
space = "ratio"
motion = { kind = "pace", speed = 1.5, acceleration = 6 }
[pose.aim]
fov = 30
d = { times = 0.5 }
entering = { fov = { kind = "ease", duration = 0.3 } }
)");
  const ChannelAccount fov = account_of(feel, 0), focus = account_of(feel, 1), d = account_of(feel, 2);
  ASSERT_EQ(fov.motions.size(), 3u);
  EXPECT_EQ(fov.motions[0].when, "rising");
  EXPECT_EQ(fov.motions[1].when, "falling");
  EXPECT_EQ(fov.motions[2].when, "entering aim");
  EXPECT_NEAR(*fov.poses[0].picture_scale, std::tan(radians(30)) / std::tan(radians(15)), 1e-14);
  ASSERT_EQ(focus.motions.size(), 2u);
  EXPECT_EQ(focus.motions[1].when, "y");
  EXPECT_NE(d.motions[0].sentence.find("1.5 doublings a second"), std::string::npos) << d.motions[0].sentence;
  EXPECT_NE(d.poses[0].sentence.find("0.5 times"), std::string::npos);
  EXPECT_NE(fov.at_range.find("moved to its end"), std::string::npos);
  EXPECT_TRUE(focus.at_range.empty());
}

} // namespace
} // namespace stasis
