// Channels whose goal is another's doing: the width beside a height, and a track that only a pose gives.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/explain/explain.hpp"
#include "core/measure/channel_measures.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;
using test::Rows;

Feel pair(const std::string& motion, const std::string& space = "ratio") {
  return feel_from(fmt::format("[picture]\nsize = [1280, 720]\nheight = {{ channel = \"h\" }}\nwidth = {{ channel = "
                               "\"w\" }}\nposition = \"p\"\n[channel.p]\nunit "
                               "= \"m\"\nrest = [0, 0]\n[channel.h]\nunit = \"m\"\nrest = 9\nspace = \"{}\"\nmotion = "
                               "{{ {} }}\n[channel.w]\nunit = \"m\"\nrest "
                               "= 16\n[pose.out]\nh = 18\n[control.out]\nkind = \"hold\"\npose = "
                               "\"out\"\n[take.t]\nlength = 3\ncues = [{{ at = 0.5, press = "
                               "\"out\" }}, {{ at = 1.75, release = \"out\" }}]\n",
                               space, motion));
}

TEST(TiedWidth, MovesAndIsMeasuredAsTheHeightIs) {
  for (const char* space : {"ratio", "linear"})
    for (const char* motion :
         {"kind = \"cut\"", "kind = \"ease\", duration = 0.41, curve = \"linear\"",
          "kind = \"pace\", speed = 5, acceleration = 9", "kind = \"spring\", frequency = 1.5, damping_ratio = 0.4"}) {
      const Feel feel = pair(motion, space);
      const Rows height = play_rows(feel, 1), width = play_rows(feel, 2);
      for (std::size_t k = 0; k < height.value.size(); ++k) {
        EXPECT_NEAR(width.value[k], height.value[k] * 16 / 9, 1e-12);
        EXPECT_NEAR(width.velocity[k], height.velocity[k] * 16 / 9, 1e-10) << motion;
      }
      const TakeMeasures measures = play_measures(feel);
      for (const char* name : {"settling_time", "overshoot", "rise_time", "start_kick"})
        EXPECT_EQ(channel_measure(feel, measures, 1, name), channel_measure(feel, measures, 2, name)) << name;
      const auto fast = channel_measure(feel, measures, 1, "peak_speed"),
                 wide = channel_measure(feel, measures, 2, "peak_speed");
      ASSERT_EQ(fast.has_value(), wide.has_value());
      if (fast) {
        EXPECT_NEAR(*wide, *fast * 16 / 9, 1e-9 * *wide);
      }
    }
}

const std::string looking = "[track.fish]\nkind = \"line\"\nfrom = [1, 0, 2]\nvelocity = [1, 0, "
                            "0]\n[channel.eye]\nrest = [0, 1, 0]\nrange = [-50, 50]\nmotion = { kind = "
                            "\"glide\", rate = 8 }\n[pose.look]\neye = { track = \"fish\" }\n[control.look]\nkind = "
                            "\"hold\"\npose = \"look\"\n[control.home]\n"
                            "kind = \"clicks\"\nchannel = \"eye.y\"\nstep = 0.5\n[take.t]\nlength = 4\ncues = [{ at = "
                            "0.25, click = \"home\" }, { at = 0.5, press "
                            "= \"look\" }, { at = 2, release = \"look\" }]\n";

// Rule G11.
TEST(PoseTrack, IsFollowedWhileThePoseIsInForce) {
  const Feel feel = feel_from(looking);
  const Rows x = play_rows(feel, 0, 0), y = play_rows(feel, 0, 1);
  for (std::size_t k = 0; k < x.time.size(); ++k) {
    const double t = x.time[k];
    if (t < 0.5) {
      EXPECT_EQ(x.smooth[k], 0.0);
    }
    // A glide of rate k behind 1 + t: the gap to (t - 1/k) dies away.
    const double behind = 1 + t - 1 / 8.0;
    if (t >= 0.5 && t <= 2) {
      EXPECT_NEAR(x.smooth[k], behind - (1.5 - 0.125) * std::exp(-8 * (t - 0.5)), 1e-9);
    }
  }
  // Home again, where a click had put it.
  EXPECT_NEAR(x.smooth.back(), 0.0, 1e-6);
  EXPECT_NEAR(y.smooth.back(), 1.5, 1e-6);
  EXPECT_NEAR(*channel_measure(feel, play_measures(feel), 0, "lag_distance_steady"), 1 / 8.0, 1e-4);
  EXPECT_NE(follow_in_words(feel, feel.channels[0]).find("while the pose look acts"), std::string::npos);
}

TEST(PoseTrack, NeedsAChannelOfAsManyComponents) {
  std::string text = looking;
  text.replace(text.find("rest = [0, 1, 0]"), 16, "rest = [0, 1]");
  const Problems problems = test::problems_of(text);
  ASSERT_EQ(problems.size(), 1u);
  EXPECT_EQ(problems[0].code, "feel.component_count");
}

} // namespace
} // namespace stasis
