// The camera as a whole, and how far it coasts, against closed forms.
#include <cmath>
#include <numbers>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/check/wants.hpp"
#include "core/check/warning.hpp"
#include "core/measure/camera_measures.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;

/// A camera that looks at the origin from 5 m away, turned by eased moves.
std::string orbit_text(const std::string& more, double fps = 10'000) {
  return fmt::format(
      "[picture]\nfocus = \"focus\"\ndistance = \"distance\"\nyaw = \"yaw\"\nroll = "
      "\"roll\"\n{}\n[channel.focus]\nunit = "
      "\"m\"\nrest = [0, 0, 0]\n[channel.distance]\nunit = \"m\"\nrest = 5\n[channel.yaw]\nunit = \"deg\"\nrest = 0\n"
      "motion = {{ kind = \"ease\", duration = 1, curve = \"in-out sine\" }}\n[channel.roll]\nunit = \"deg\"\nrest = "
      "0\n"
      "motion = {{ kind = \"ease\", duration = 1, curve = \"in-out sine\" }}\n[pose.p]\nyaw = 90\nroll = "
      "12\n[control.c]\n"
      "kind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2\nclock = {{ fps = {} }}\ncues = [{{ at = 0.5, press = \"c\" "
      "}}]\n",
      more, fps);
}

TEST(CameraMeasures, TurnsAreAddedUp) {
  const CameraSummary camera = play_measures(feel_from(orbit_text(""))).camera;
  // Yaw turns about the vertical, roll about the line of sight, which lies level: at right angles.
  const double half_pi = std::numbers::pi / 2, turned = std::hypot(90.0, 12.0);
  EXPECT_NEAR(camera.top_turn_speed->value, half_pi * turned, 1e-6 * half_pi * turned);
  EXPECT_NEAR(camera.top_turn_speed->at, 1.0, 2e-4);
  EXPECT_NEAR(camera.top_eye_speed->value, half_pi * half_pi * 5, 1e-5);
  EXPECT_NEAR(camera.most_roll->value, 12.0, 1e-9);
  // Half a wave of pi radians a second; the turning axes of the two add a little beside it.
  EXPECT_GT(camera.top_turn_acceleration->value, std::numbers::pi * half_pi * turned * 0.999);
  EXPECT_LT(camera.top_turn_acceleration->value, std::numbers::pi * half_pi * turned * 1.02);
}

TEST(CameraMeasures, CutsHaveNoSpeed) {
  std::string text = orbit_text("", 60);
  text.replace(text.find("kind = \"ease\", duration = 1, curve = \"in-out sine\""), 50, "kind = \"cut\"");
  const CameraSummary camera = play_measures(feel_from(text)).camera;
  EXPECT_NEAR(camera.top_turn_speed->value, std::numbers::pi / 2 * 12, 0.1); // the roll is eased as before
  EXPECT_EQ(camera.top_eye_speed->value, 0.0);
}

TEST(CameraMeasures, ACutOfASequenceHasNoSpeedAndWhatComesBehindItHas) {
  for (const double start : {0.1, 0.11}) { // the cut on a frame, and between two
    std::string text = orbit_text("", 60);
    text.replace(text.find("at = 0.5, press = \"c\""), 21, fmt::format("at = {}, start = \"look\"", start));
    const Feel feel =
        feel_from(text
                  + "[sequence.look]\nstops = [{ yaw = 20, after = 0.5, curve = \"linear\" }, "
                    "{ yaw = 100, cut = true }, { yaw = 140, after = 0.25, curve = \"linear\", hold = 2 }]\n");
    const CameraSummary camera = play_measures(feel).camera;
    ASSERT_TRUE(camera.top_turn_speed);
    EXPECT_NEAR(camera.top_turn_speed->value, 160.0, 1e-6) << start; // 80 degrees within a frame would be 4800
    EXPECT_GT(camera.top_turn_speed->at, start + 0.5);
  }
}

TEST(CameraMeasures, LimitsOfComfortAreOfAllTogether) {
  const Feel feel = feel_from(orbit_text("most_roll = 10\ntop_turn_speed = 140\ntop_eye_speed = 20", 60));
  const auto warnings = warnings_of_take(feel, feel.takes[0], play_measures(feel));
  int rolls = 0, turns = 0;
  for (const Warning& warning : warnings) {
    rolls += warning.code == "uncomfortable_roll" ? 1 : 0;
    turns += warning.code == "uncomfortable_motion" ? 1 : 0;
  }
  EXPECT_EQ(rolls, 1);
  EXPECT_EQ(turns, 1); // 142 degrees a second; the eye goes at 12 m/s
}

TEST(CameraMeasures, ALedViewThatTurnsTooFastIsWarnedOfWhereNoLimitIsSaid) {
  // "in-out sine" turns at most pi / 2 times as fast as evenly: 180 degrees within 0.785 s reach 360 deg/s.
  const auto warned = [](const std::string& stop, const std::string& picture) {
    std::string text = orbit_text(picture, 1000);
    text.replace(text.find("press = \"c\""), 11, "start = \"look\"");
    const Feel feel = feel_from(text + "[sequence.look]\nstops = [{ yaw = 180, " + stop + " }]\n");
    std::string message;
    for (const Warning& warning : warnings_of_take(feel, feel.takes[0], play_measures(feel)))
      if (warning.code == "uncomfortable_motion") message += warning.message + "\n";
    return message;
  };
  const std::string eased = "curve = \"in-out sine\"";
  EXPECT_EQ(warned("after = 0.79, " + eased, ""), "");
  EXPECT_EQ(warned("after = 0.5, " + eased, ""),
            "the view turns at up to 565 deg/s on the way to stop 1 of look; people can follow up to 360. If you "
            "mean it, set [picture] top_turn_speed\n");
  EXPECT_EQ(warned("after = 0.5, " + eased, "top_turn_speed = 600"), "");
  EXPECT_EQ(warned("cut = true", ""), "");
}

TEST(CameraMeasures, CanBeWanted) {
  const std::string want = "[[want]]\nmeasure = \"camera.top_eye_speed\"\nat_most = 12\n";
  const Feel feel = feel_from(orbit_text("") + want);
  const WantVerdict verdict = judge(feel.wants[0], feel, play_measures(feel));
  EXPECT_EQ(verdict.measure, "camera.top_eye_speed");
  EXPECT_EQ(verdict.unit, "m/s");
  EXPECT_FALSE(verdict.holds);
  const std::string flat = "[channel.a]\nrest = 0\n[take.t]\nlength = 1\n" + want;
  const Problems problems = test::problems_of(flat);
  ASSERT_EQ(problems.size(), 1U);
  EXPECT_NE(problems[0].message.find("places no eye in space"), std::string::npos);
}

/// A stick held for a second, then let go, under a glide of rate 5.
std::string pushed_text(const std::string& control, const std::string& cues) {
  return "[channel.yaw]\nunit = \"deg\"\nrest = 0\nmotion = { kind = \"glide\", rate = 5 }\n[control.look]\n" + control
         + "channel = \"yaw\"\n[take.t]\nlength = 5\nclock = { fps = 1000 }\ncues = [" + cues + "]\n";
}

TEST(CoastMeasures, AGlideCoastsByItsLag) {
  const CoastSummary coast =
      play_measures(feel_from(pushed_text(
                        "kind = \"stick\"\ngain = 60\n",
                        "{ at = 0.5, stick = \"look\", value = 1 }, { at = 2.5, stick = \"look\", value = 0 }")))
          .channels[0]
          .coast;
  const double left = 60.0 / 5 * (1 - std::exp(-10)); // what it lags by after two seconds
  EXPECT_NEAR(*coast.distance, left, 1e-9);
  EXPECT_NEAR(*coast.time, std::log(50) / 5, 1e-6);
}

TEST(CoastMeasures, OfAPointerEachCountSetsOff) {
  const auto coast_of = [](const std::string& cues) {
    return play_measures(feel_from(pushed_text("kind = \"pointer\"\ngain = 0.5\n", cues))).channels[0].coast;
  };
  EXPECT_NEAR(*coast_of("{ at = 0.5, pointer = \"look\", counts = 20 }").distance, 10.0, 1e-9);
  // The second comes while the first is on its way: only what is left then is a coast.
  const CoastSummary both =
      coast_of("{ at = 0.5, pointer = \"look\", counts = 20 }, { at = 0.6, pointer = \"look\", counts = 20 }");
  EXPECT_NEAR(*both.distance, 10 * std::exp(-0.5) + 10, 1e-9);
  EXPECT_FALSE(coast_of("{ at = 4.9, pointer = \"look\", counts = 20 }").time.has_value()); // cut off by the take's end
}

} // namespace
} // namespace stasis
