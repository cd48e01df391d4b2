// Where the camera is and what it sees, from the channels of [picture].
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "core/take/follower.hpp"
#include "core/units.hpp"
#include "core/view/camera.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

const std::string orbit = "[picture]\nsize = [1600, 900]\nfocus = \"f\"\ndistance = \"d\"\nyaw = \"y\"\npitch = "
                          "\"p\"\nside = \"s\"\nlens = { channel = \"l\" }\n"
                          "[channel.f]\nrest = [1, 2, 3]\n[channel.d]\nrest = 5\n[channel.y]\nunit = \"deg\"\nrest = "
                          "0\n[channel.p]\nunit = \"deg\"\nrest = 0\n"
                          "[channel.s]\nrest = 0\n[channel.l]\nunit = \"deg\"\nrest = 60\n";
const std::string flat = "[picture]\nsize = [1600, 900]\nheight = { channel = \"h\" }\nposition = "
                         "\"c\"\n[channel.h]\nrest = 9\n[channel.c]\nrest = [4, 1]\n";

CameraView view_with(const std::string& text, const std::string& name, double value, std::size_t part = 0) {
  const Feel feel = test::feel_from(text);
  return camera_view(feel, [&](ComponentRef c) {
    const Channel& channel = feel.channels[c.channel];
    return channel.name == name && c.component == part ? value : channel.rest[c.component];
  });
}

// Rule A1.
TEST(Camera, StandsBehindWhatItLooksAt) {
  const CameraView straight = view_with(orbit, "y", 0);
  EXPECT_NEAR((*straight.eye)[0], 1.0, 1e-12);
  EXPECT_NEAR((*straight.eye)[2], 8.0, 1e-12); // looking along -z
  const CameraView left = view_with(orbit, "y", 90);
  EXPECT_NEAR((*left.eye)[0], 6.0, 1e-12); // looking along -x
  EXPECT_NEAR((*left.eye)[2], 3.0, 1e-12);
  const CameraView up = view_with(orbit, "p", 30);
  EXPECT_NEAR((*up.eye)[1], 2.0 - 5 * 0.5, 1e-12); // it looks up from below
  const CameraView aside = view_with(orbit, "s", 0.5);
  EXPECT_NEAR((*aside.eye)[0], 1.5, 1e-12);
}

TEST(Camera, SeesItsFocusInTheMiddleAndEdgesAtOne) {
  for (const double yaw : {0.0, 70.0, -160.0})
    for (const double part : {0.0, 1.0, -1.0}) {
      const CameraView view = view_with(orbit, "y", yaw);
      const auto half = *view.half_at(*view.focus);
      EXPECT_NEAR(half[1], 5 * std::tan(radians(30.0)), 1e-12);
      EXPECT_NEAR(half[0] / half[1], 16.0 / 9, 1e-12);
      const auto seen =
          *view.seen(plus(plus(*view.focus, view.axes.right, part * half[0]), view.axes.up, -part * half[1]));
      EXPECT_NEAR(seen[0], part, 1e-12);
      EXPECT_NEAR(seen[1], -part, 1e-12);
    }
  EXPECT_FALSE(view_with(orbit, "y", 0).seen({1, 2, 20})); // behind the eye
}

TEST(Camera, OfAFlatViewSeesAsManyUnitsAsItsHeight) {
  const CameraView view = view_with(flat, "h", 4.5);
  EXPECT_TRUE(view.is_flat);
  EXPECT_EQ(*view.half_height, 2.25);
  EXPECT_EQ(*view.half_width, 4.0);
  const auto seen = *view.seen({8, 1 - 2.25, 0});
  EXPECT_NEAR(seen[0], 1.0, 1e-12);
  EXPECT_NEAR(seen[1], -1.0, 1e-12);
  const Feel feel = test::feel_from(flat);
  EXPECT_NEAR(*pixels_per_unit(feel, view), 200.0, 1e-12);
}

// Rule G12.
TEST(DeadZoneSize, IsAShareOfThePictureOrWhatItsEdgesLeave) {
  const CameraView wide = view_with(flat, "h", 9), space = view_with(orbit, "d", 10);
  DeadZone zone;
  double factor = 3;
  const auto half_size = [&](const CameraView& view) {
    return zone_half_size(zone, view, [&](ComponentRef) { return factor; });
  };
  zone.measure = DeadZone::Measure::picture;
  zone.size = {0.25, 0.5, 0};
  EXPECT_NEAR(half_size(wide)[0], 0.125 * 16, 1e-12);
  EXPECT_NEAR(half_size(wide)[1], 0.25 * 9, 1e-12);
  EXPECT_NEAR(half_size(space)[1], 0.5 * 10 * std::tan(radians(30.0)), 1e-12);
  zone.measure = DeadZone::Measure::margin;
  zone.size = {0.1, 0.2, 0};
  EXPECT_NEAR(half_size(wide)[0], 8 - 1.6, 1e-12);
  EXPECT_NEAR(half_size(wide)[1], 4.5 - 1.8, 1e-12);
  zone.times = 2;
  EXPECT_NEAR(half_size(wide)[1], 2 * (4.5 - 1.8), 1e-12);
  zone.times_channel = ComponentRef{0, 0};
  EXPECT_NEAR(half_size(wide)[1], 3 * (4.5 - 1.8), 1e-12);
  factor = -1; // smaller than nothing is nothing
  EXPECT_EQ(half_size(wide)[1], 0);
}

TEST(DeadZoneSize, SaysHowFarOutsideAPlaceLies) {
  DeadZone box, round;
  round.is_ellipse = true;
  EXPECT_EQ(outside_zone(box, {2, 1, 0}, {1.5, -1, 0}), 0.0);
  EXPECT_NEAR(outside_zone(box, {2, 1, 0}, {5, 5, 0}), 5.0, 1e-12);
  EXPECT_NEAR(outside_zone(round, {2, 2, 0}, {3, 4, 0}), 3.0, 1e-12);
  EXPECT_EQ(outside_zone(round, {2, 1, 0}, {1, 0.5, 0}), 0.0);
}

/// Through the player: a subject that stays within the margin moves nothing.
TEST(DeadZoneSize, WithAMarginLetsTheSubjectBe) {
  const auto rows = [](double reach) {
    return test::play_rows(test::feel_from(flat
                                           + "follow = { track = \"t\", dead_zone = { size = 0.25, in = \"margin\" } "
                                             "}\n[track.t]\nkind = \"eight\"\ncentre = [0, 0]\nwidth = "
                                           + std::to_string(2 * reach)
                                           + "\nheight = 0.1\nlap = 3\n[take.x]\nlength = 3\n"),
                           1, 0);
  };
  for (const double goal : rows(3.9).goal) EXPECT_EQ(goal, 0.0); // half of half the width of 16
  double most = 0.0;
  for (const double goal : rows(5).goal) most = std::max(most, goal);
  EXPECT_NEAR(most, 1.0, 1e-3);
}

/// A picture that is placed, every one of its roles a channel.
const char* const placed = R"(
[picture]
position = "eye"
focus = "focus"
distance = "far"
side = "aside"
yaw = "yaw"
pitch = "tilt"
roll = "lean"
[channel.focus]
rest = [0, 0, 0]
[channel.far]
rest = 4
[channel.aside]
rest = 0
[channel.yaw]
unit = "deg"
rest = 0
[channel.tilt]
unit = "rad"
rest = 0
[channel.lean]
unit = "deg"
rest = 0
[channel.eye]
rest = [0, 0, 0]
placed = true
)";

struct Seat {
  Components focus{};
  double distance, aside, yaw, pitch, roll; ///< deg, except for the pitch: rad
  ReadComponent read(const Components& eye) const {
    return [*this, eye](ComponentRef c) {
      const double values[] = {focus[c.component], distance, aside, yaw, pitch, roll, eye[c.component]};
      return values[c.channel];
    };
  }
};

Seat random_seat(unsigned seed) {
  std::mt19937 random(seed);
  const auto between = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  return {{between(-9, 9), between(-9, 9), between(-9, 9)},
          between(0.1, 20),
          between(-3, 3),
          between(-400, 400),
          between(-1.5, 1.5),
          between(-180, 180)};
}

// Rule O7.
TEST(EyeSeat, LiesStraightBehindWhatIsLookedAt) {
  const Feel feel = test::feel_from(placed);
  for (unsigned seed = 1; seed <= 200; ++seed) {
    const Seat seat = random_seat(seed);
    const ReadComponent read = seat.read({});
    const EyeSeat at = eye_seat(feel, read);
    const Components eye = seated_eye(feel, read);
    EXPECT_NEAR(length_of(plus(eye, at.pivot, -1)), seat.distance, 1e-12 * seat.distance);
    EXPECT_NEAR(length_of(plus(at.pivot, seat.focus, -1)), std::fabs(seat.aside), 1e-12);
    EXPECT_EQ(at.pivot[1], seat.focus[1]); // aside is level
    // The way back is up by the sine of a downward pitch.
    EXPECT_NEAR(eye[1] - at.pivot[1], -seat.distance * std::sin(seat.pitch), 1e-12 * seat.distance);
    EXPECT_NEAR(dot(at.axes.back, plus(eye, at.pivot, -1)), seat.distance, 1e-12 * seat.distance);
  }
}

TEST(EyeSeat, AnEyeInItsSeatLooksAsYawPitchAndRollHaveIt) {
  const Feel feel = test::feel_from(placed);
  for (unsigned seed = 1; seed <= 200; ++seed) {
    const Seat seat = random_seat(seed);
    const Components eye = seated_eye(feel, seat.read({}));
    const CameraView view = camera_view(feel, seat.read(eye));
    const Axes expected = axes_of_view(radians(seat.yaw), seat.pitch, radians(seat.roll));
    for (std::size_t axis = 0; axis < 3; ++axis)
      for (std::size_t i = 0; i < 3; ++i) EXPECT_NEAR(view.axes[axis][i], expected[axis][i], 1e-10) << seed;
    EXPECT_EQ(*view.eye, eye); // the side offset is in the seat, and not put on twice
  }
}

// Rule O7.
TEST(EyeSeat, AnEyeOnItsWayLooksBackAtThePivot) {
  const Feel feel = test::feel_from(placed);
  for (unsigned seed = 1; seed <= 200; ++seed) {
    const Seat seat = random_seat(seed);
    const Components eye = random_seat(seed + 1000).focus;
    const CameraView view = camera_view(feel, seat.read(eye));
    const Components way = plus(eye, eye_seat(feel, seat.read(eye)).pivot, -1);
    EXPECT_NEAR(dot(view.axes.back, way), length_of(way), 1e-12 * length_of(way));
    EXPECT_NEAR(dot(view.axes.right, view.axes.up), 0, 1e-14);
    EXPECT_NEAR(dot(view.axes.right, view.axes.back), 0, 1e-14);
  }
}

} // namespace
} // namespace stasis
