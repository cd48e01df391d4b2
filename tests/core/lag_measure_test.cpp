// Lag inside frames, against closed forms, on any clock.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/measure/channel_measures.hpp"
#include "core/units.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;

/// A glide of time constant 1/rate behind a subject that sets off at 3 m/s; follows from rest at the subject.
Feel chase(double fps, const std::string& path, const std::string& clock = "", double length = 2) {
  return feel_from(
      fmt::format("[track.t]\n{}\n[channel.a]\nunit = \"m\"\nrest = [0, 0, 0]\nmotion = {{ kind = \"glide\", rate "
                  "= 4 }}\nfollow = \"t\"\n[take.x]\nlength = {}\nclock = {{ fps = {} {} }}\n",
                  path, length, fps, clock));
}
double measured(const Feel& feel, std::string_view name) {
  return channel_measure(feel, test::play_measures(feel), 0, name).value_or(std::nan(""));
}

const std::string straight_line = "kind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [3, 0, 0]";

TEST(Lag, OfAGlideIsItsClosedFormAtAnyRate) {
  // The gap is v/k (1 - e^(-k t)); its mean over T is v/k (1 - (1 - e^(-k T)) / (k T)).
  for (const double fps : {12.0, 60.0, 1000.0}) {
    const Feel feel = chase(fps, straight_line);
    const double most = 0.75 * (1 - std::exp(-8.0)), mean = 0.75 * (1 - (1 - std::exp(-8.0)) / 8.0);
    EXPECT_NEAR(measured(feel, "lag_distance"), most, 1e-9) << fps;
    EXPECT_NEAR(measured(feel, "lag_distance_mean"), mean, 1e-9) << fps;
    EXPECT_NEAR(measured(feel, "lag_time"), most / 3, 1e-9) << fps;
    EXPECT_NEAR(measured(feel, "lag_time_mean"), mean / 3, 1e-9) << fps;
    EXPECT_NEAR(measured(feel, "top_speed"), 3 * (1 - std::exp(-8.0)), 1e-9) << fps;
  }
}

TEST(Lag, BehindStopAndGoIsMeasuredWhereItIsWorstBetweenFrames) {
  // It goes for 0.37 s, stops for 0.3 s: the gap is largest where the subject stops, inside a frame.
  const std::string path = "kind = \"stop_and_go\"\nfrom = [0, 0, 0]\nvelocity = [3, 0, 0]\ngo = 0.37\nstop = 0.3";
  const double most = 0.75 * (1 - std::exp(-4 * 0.37));
  for (const double fps : {10.0, 60.0, 240.0})
    EXPECT_NEAR(measured(chase(fps, path, "", 0.6), "lag_distance"), most, 1e-9) << fps;
}

TEST(Lag, UnderAHeldTickCountsAllFrames) {
  // However a goal is held, a glide trails it by its time constant on average.
  for (const auto& [fps, tick] : {std::pair{144.0, 60.0}, {60.0, 20.0}, {120.0, 50.0}, {60.0, 50.0}}) {
    const Feel feel = chase(fps, straight_line, fmt::format(", tick = {}", tick), 20);
    EXPECT_NEAR(measured(feel, "lag_time_mean"), 0.25, 0.006) << fps << " " << tick;
    EXPECT_GE(measured(feel, "lag_time"), measured(feel, "lag_time_mean"));
    EXPECT_LE(measured(feel, "lag_time"), 0.25 + 1.0 / tick + 1e-9);
  }
}

/// A value behind a formula that is 2 more from 3 s on.
Feel behind_formula(const std::string& formula, const std::string& motion, double fps = 1000) {
  return feel_from(fmt::format("[channel.a]\nrest = 0\nmotion = {{ {} }}\nformula = \"{}\"\n[channel.step]\nrest = "
                               "0\nmotion = {{ kind = \"cut\" }}\n[pose.p]\nstep = 2\n[control.c]\nkind = \"hold\"\n"
                               "pose = \"p\"\n[take.x]\nlength = 8\nclock = {{ fps = {} }}\ncues = [{{ at = 3, "
                               "press = \"c\" }}]\n",
                               motion, formula, fps));
}

TEST(Lag, OfAFormulaThatRunsIsTheMotionsOwn) {
  // Behind a goal at one speed a spring lags by 2 z / w seconds.
  const Feel feel = behind_formula("0.2 * time", "kind = \"spring\", frequency = 1, damping_ratio = 1");
  EXPECT_NEAR(measured(feel, "lag_time_steady"), 2 / angular_frequency(1.0), 1e-6);
  EXPECT_NEAR(measured(feel, "lag_distance"), 0.4 / angular_frequency(1.0), 1e-6);
  EXPECT_TRUE(std::isnan(measured(feel, "catch_up_time")));
  EXPECT_TRUE(std::isnan(measured(feel, "wish_distance")));
  EXPECT_EQ(measured(behind_formula("0.2 * time", "kind = \"cut\""), "lag_distance"), 0.0);
}

TEST(Lag, AFormulaThatJumpsIsCaughtUpWithThoughItRunsOn) {
  // Behind a goal at speed s a glide of rate k closes a gap g to s/k + (g - s/k) e^(-k t).
  constexpr double rate = 4.0, speed = 0.1, lag = speed / rate, jump = 2.0, first = 0.3;
  const std::string glide = "kind = \"glide\", rate = 4";
  const double within = 0.02 * jump, within_lag = 0.02 * (jump + lag), left = jump * std::exp(-rate * first);
  const std::pair<const char*, double> cases[] = {
      {"step", std::log(jump / within) / rate},                          // it stands
      {"step + 0.1 * time", std::log(jump / (within_lag - lag)) / rate}, // it runs all the time
      {"step + 0.1 * max(0, time - 3.3)",                                // it stands, and runs on before that
       first + std::log((left - lag) / (within - lag)) / rate}};
  for (const auto& [formula, closed] : cases)
    for (const double fps : {30.0, 1000.0}) {
      const Feel feel = behind_formula(formula, glide, fps);
      EXPECT_NEAR(measured(feel, "catch_up_time"), closed, 2.0 / fps) << formula;
      // While it is caught up with, the jump is no lag.
      EXPECT_LE(measured(feel, "lag_distance"), within_lag + 1e-9) << formula;
    }
}

/// What an axis does that does not follow is a move, and no lag.
TEST(Lag, IsOfTheAxesThatFollow) {
  const auto feel = [](const std::string& cues) {
    return feel_from(
        "[track.t]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [3, 0]\n[channel.a]\nunit = \"m\"\nrest = [0, "
        "0]\nmotion = { kind = \"glide\", rate = 4 }\nfollow = { track = \"t\", keep = [\"y\"] }\n[pose.p]\na = "
        "{ y = 5 }\n[control.c]\nkind = \"hold\"\npose = \"p\"\n[take.x]\nlength = 4\nclock = { fps = 60 }\n"
        + cues);
  };
  const double alone = measured(feel(""), "lag_distance");
  EXPECT_NEAR(alone, 0.75, 1e-6);
  EXPECT_NEAR(measured(feel("cues = [{ at = 1, press = \"c\" }]\n"), "lag_distance"), alone, 1e-9);
}

TEST(Lag, TheWorstIsNoLessThanTheMean) {
  // With a lead it runs ahead where the subject is fast, and trails where it is slow.
  for (const double seconds : {0.0, 0.25, 0.6}) {
    const Feel feel = feel_from(fmt::format("[track.t]\nkind = \"eight\"\ncentre = [0, 0, 0]\nwidth = 6\nheight = "
                                            "3\nlap = 4\n[channel.a]\nunit = \"m\"\nrest = "
                                            "[0, 0, 0]\nmotion = {{ kind = \"glide\", rate = 4 }}\nfollow = {{ track = "
                                            "\"t\", lead = {{ by = \"velocity\", seconds = {} }} }}\n[take.x]\n"
                                            "length = 8\n",
                                            seconds));
    EXPECT_GE(measured(feel, "lag_time"), measured(feel, "lag_time_mean")) << seconds;
  }
}

} // namespace
} // namespace stasis
