// Channels that follow: lag, lead, dead zone, weight, lost and changed subjects. Rules: docs/design.md, section 3, 14.
#include <cmath>
#include <numbers>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/check/warning.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/judder.hpp"
#include "core/units.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;
using test::Rows;

/// A channel `a` of two components after a track, `t`.
std::string following(const std::string& track, const std::string& motion, const std::string& follow = "follow = \"t\"",
                      double length = 10, double fps = 60) {
  return fmt::format("[track.t]\n{}\n[channel.a]\nunit = \"m\"\nrest = [0, 0]\nmotion = {{ {} }}\n{}\n[take.x]\nlength "
                     "= {}\nclock = {{ fps = {} }}\n",
                     track, motion, follow, length, fps);
}
const std::string line = "kind = \"line\"\nfrom = [0, 1]\nvelocity = [3, 0]";

double steady_lag(const std::string& motion) {
  const Feel feel = feel_from(following(line, motion));
  return *channel_measure(feel, play_measures(feel), 0, "lag_distance_steady");
}

TEST(Follow, SteadyLagIsThatOfTheMotion) {
  EXPECT_NEAR(steady_lag("kind = \"glide\", rate = 4"), 3.0 / 4, 1e-9);
  const double w = 2 * std::numbers::pi * 1.5;
  EXPECT_NEAR(steady_lag("kind = \"spring\", frequency = 1.5, damping_ratio = 0.8"), 2 * 0.8 * 3 / w, 1e-9);
  EXPECT_NEAR(steady_lag("kind = \"spring\", frequency = 1.5, damping_ratio = 0.8, resist = \"gap\""), 0.0, 1e-9);
  EXPECT_NEAR(
      steady_lag("kind = \"stages\", stages = [{ kind = \"glide\", rate = 4 }, { kind = \"glide\", rate = 8 }]"),
      3.0 / 4 + 3.0 / 8, 1e-9);
  EXPECT_EQ(steady_lag("kind = \"cut\""), 0.0);
}

/// Rows that lie between frames are corners of the goal: the path does not depend on the frame rate.
// Rule G4.
TEST(Follow, IsTheSameAtEveryRateWhateverTheRowsAre) {
  for (const char* motion : {"kind = \"glide\", rate = 7", "kind = \"spring\", frequency = 2, damping_ratio = 0.4",
                             "kind = \"stages\", stages = [{ kind = \"glide\", rate = 4 }, { kind = \"spring\", "
                             "frequency = 3, damping_ratio = 1 }]"}) {
    const std::string track = "kind = \"stop_and_go\"\nfrom = [0, 0]\nvelocity = [3, -1]\ngo = 0.37\nstop = 0.21";
    const Rows slow = play_rows(feel_from(following(track, motion, "follow = \"t\"", 3, 12)));
    const Rows fast = play_rows(feel_from(following(track, motion, "follow = \"t\"", 3, 240)));
    for (std::size_t k = 0; k < slow.time.size(); ++k)
      EXPECT_NEAR(slow.smooth[k], fast.smooth[20 * k], 1e-12) << motion;
  }
}

// Rule F9.
TEST(Follow, StartsOnItsGoalUnlessToldOtherwise) {
  const std::string glide = "kind = \"glide\", rate = 4";
  EXPECT_EQ(play_rows(feel_from(following(line, glide)), 0, 1).smooth[0], 1.0);
  const Rows rest = play_rows(feel_from(following(line, glide, "follow = { track = \"t\", start = \"rest\" }")), 0, 1);
  EXPECT_EQ(rest.smooth[0], 0.0);
  EXPECT_EQ(rest.goal[0], 1.0);
}

// Rule G3.
TEST(DeadZone, MovesOnlyByWhatExceedsIt) {
  const std::string eight = "kind = \"eight\"\ncentre = [0, 0]\nwidth = 4\nheight = 2\nlap = 5";
  const Rows inside = play_rows(
      feel_from(following(eight, "kind = \"cut\"", "follow = { track = \"t\", dead_zone = { size = [4.5, 2.5] } }")));
  for (const double value : inside.smooth) EXPECT_EQ(value, 0.0);
  const Feel feel =
      feel_from(following(line, "kind = \"cut\"", "follow = { track = \"t\", dead_zone = { size = 2 } }"));
  const Rows rows = play_rows(feel);
  for (std::size_t k = 0; k < rows.time.size(); ++k) {
    const double subject = 3.0 * rows.time[k];
    EXPECT_NEAR(rows.smooth[k], subject <= 1.0 ? 0.0 : subject - 1.0, 4e-15 * std::max(1.0, subject));
  }
}

TEST(DeadZone, AnEllipsePushesAlongTheLineToItsMiddle) {
  const std::string slanted = "kind = \"line\"\nfrom = [0, 0]\nvelocity = [3, 4]";
  const Feel feel = feel_from(following(
      slanted, "kind = \"cut\"", "follow = { track = \"t\", dead_zone = { size = [2, 2], shape = \"ellipse\" } }"));
  const Rows x = play_rows(feel, 0, 0), y = play_rows(feel, 0, 1);
  for (std::size_t k = 30; k < x.time.size(); ++k)
    EXPECT_NEAR(std::hypot(3 * x.time[k] - x.smooth[k], 4 * y.time[k] - y.smooth[k]), 1.0, 1e-12);
}

/// A subject that goes north while its nose points east, then west: half its way is sideways.
std::string slipping(const std::string& lead) {
  return "[track.t]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [0, 0, -2]\n"
         "[track.side]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [2, 0, 0]\n"
         "[channel.a]\nrest = [0, 0, 0]\nfollow = { track = \"t\", lead = { "
         + lead + " } }\n[take.x]\nlength = 1\n";
}

// Rule G3.
TEST(Lead, IsCutToItsLength) {
  for (const double longest : {0.1, 0.3, 1.0 / 3, 0.7}) {
    const Feel feel = feel_from(following(
        "kind = \"line\"\nfrom = [0, 0]\nvelocity = [3, 1.7]", "kind = \"cut\"",
        fmt::format("follow = {{ track = \"t\", lead = {{ by = \"velocity\", seconds = 2, longest = {} }} }}", longest),
        1));
    const double length = std::hypot(play_rows(feel, 0, 0).smooth[0], play_rows(feel, 0, 1).smooth[0]);
    EXPECT_NEAR(length, longest, std::nextafter(longest, 1.0) - longest);
  }
  const Feel free = feel_from(slipping("by = \"velocity\", seconds = 0.5"));
  EXPECT_EQ(play_rows(free, 0, 2).smooth[0], -1.0);
}

// Rule G9.
TEST(Lead, ByItsOwnMotionIsThereFromTheStart) {
  const Feel feel = feel_from(following(line, "kind = \"cut\"",
                                        "follow = { track = \"t\", lead = { by = \"velocity\", seconds = 0.5, motion = "
                                        "{ kind = \"glide\", rate = 3 } } }"));
  const Rows rows = play_rows(feel);
  for (std::size_t k = 0; k < rows.time.size(); ++k) EXPECT_NEAR(rows.smooth[k], 3 * rows.time[k] + 1.5, 1e-12);
}

TEST(Lead, ByAStickNeedsNoColumn) {
  const std::string text =
      following(line, "kind = \"cut\"",
                "follow = { track = \"t\", lead = { by = \"throttle\", distance = 2, stick = \"s\" } "
                "}\n[channel.b]\nrest = 0\n[control.s]\nkind = \"stick\"\nchannel = \"b\"",
                1);
  const Feel feel = feel_from(text + "cues = [{ at = 0.5, stick = \"s\", value = 0.5 }]\n");
  const Rows rows = play_rows(feel);
  EXPECT_EQ(rows.goal[29], 3 * rows.time[29]);
  EXPECT_EQ(rows.goal[30], 3 * rows.time[30] + 1.0); // it goes to the right
}

TEST(Follow, AWeightGoesPartOfTheWay) {
  const std::string two = "kind = \"line\"\nfrom = [1, 1]\nvelocity = [0, 0]\n[track.u]\nkind = \"line\"\nfrom = [11, "
                          "-9]\nvelocity = [0, 0]";
  const Feel feel =
      feel_from(following(two, "kind = \"cut\"", "follow = { track = \"t\", second = \"u\", weight = 0.3 }", 1));
  EXPECT_NEAR(play_rows(feel, 0, 0).goal[3], 1 + 0.3 * 10, 1e-15);
  EXPECT_NEAR(play_rows(feel, 0, 1).goal[3], 1 - 0.3 * 10, 1e-15);
}

// Rule G3.
TEST(Follow, KeepsAxesAndTurnsOffsets) {
  const Feel kept = feel_from(following(line, "kind = \"cut\"", "follow = { track = \"t\", keep = [\"x\"] }", 1));
  EXPECT_EQ(play_rows(kept, 0, 0).smooth.back(), 0.0);
  EXPECT_EQ(play_rows(kept, 0, 1).smooth.back(), 1.0);
  const std::string up = "kind = \"line\"\nfrom = [0, 0]\nvelocity = [0, 2]";
  const Feel turned = feel_from(
      following(up, "kind = \"cut\"", "follow = { track = \"t\", offset = [1, 0], offset_in = \"heading\" }", 1));
  EXPECT_NEAR(play_rows(turned, 0, 0).smooth[0], 0.0, 1e-15); // ahead, where it goes
  EXPECT_NEAR(play_rows(turned, 0, 1).smooth[0], 1.0, 1e-15);
}

// Rule G10.
TEST(Follow, IsFramedFromTheSeatOfAPlacedEye) {
  const Feel feel = feel_from(R"(
[picture]
position = "eye"
focus = "focus"
distance = "distance"
yaw = "yaw"
pitch = "pitch"
lens = { channel = "fov" }
[track.t]
kind = "line"
from = [0, 0, 0]
velocity = [5, 0, 0]
[channel.focus]
rest = [0, 0, 0]
motion = { kind = "cut" }
follow = { track = "t", offset = [0, 1, 2], offset_in = "view" }
[channel.distance]
rest = 4
[channel.yaw]
unit = "deg"
rest = 90
[channel.pitch]
unit = "deg"
rest = 0
[channel.fov]
unit = "deg"
rest = 50
[channel.eye]
rest = [0, 0, 0]
placed = true
motion = { kind = "glide", half_life = 0.5 }
[take.x]
length = 2
)");
  // The eye lags far behind, so that it looks another way than yaw turns it: back is along x.
  const Rows x = play_rows(feel, 0, 0), y = play_rows(feel, 0, 1), z = play_rows(feel, 0, 2);
  for (std::size_t row = 0; row < x.goal.size(); ++row) {
    EXPECT_NEAR(x.goal[row], 5.0 * x.time[row] + 2.0, 1e-12) << row;
    EXPECT_NEAR(y.goal[row], 1.0, 1e-12) << row;
    EXPECT_NEAR(z.goal[row], 0.0, 1e-12) << row;
  }
}

// Rule G10.
TEST(Follow, MotionsWorkInTurnedAxes) {
  const double c = std::cos(0.5), s = std::sin(0.5);
  const std::string slanted = fmt::format("kind = \"line\"\nfrom = [0, 0]\nvelocity = [{}, {}]", 3 * c, 3 * s);
  const std::string text =
      "[track.t]\n" + slanted
      + "\n[channel.a]\nrest = [0, 0]\nmotion = { x = { kind = \"glide\", rate = 4 }, y = { kind = "
        "\"glide\", rate = 40 } }\nfollow = { track = \"t\", damping_in = \"heading\" }\n[take.x]\n"
        "length = 10\n";
  const Feel feel = feel_from(text);
  const Rows x = play_rows(feel, 0, 0), y = play_rows(feel, 0, 1);
  const double gap_x = x.goal.back() - x.smooth.back(), gap_y = y.goal.back() - y.smooth.back();
  EXPECT_NEAR(gap_x * c + gap_y * s, 3.0 / 4, 1e-9); // along the way by the first motion
  EXPECT_NEAR(gap_y * c - gap_x * s, 0.0, 1e-9);     // and nothing across it
}

// Rule G11.
TEST(Follow, APoseAndACueChangeTheTrack) {
  const std::string text =
      following("kind = \"line\"\nfrom = [0, 0]\nvelocity = [1, 0]\n[track.u]\nkind = \"line\"\nfrom = [5, "
                "5]\nvelocity = [0, 0]\n[pose.p]\na = { track = \"u\" }\n[pose.fixed]\na = [7, 8]\n[control.p]\nkind = "
                "\"hold\"\npose = \"p\"\n[control.fixed]\nkind = \"hold\"\npose = \"fixed\"",
                "kind = \"cut\"", "follow = \"t\"", 4, 10)
      + "cues = [{ at = 1, press = \"p\", for = 0.5 }, { at = 2, press = \"fixed\", for = 0.5 }, { at = 3, follow = { "
        "a "
        "= \"u\" } }]\n";
  const Rows rows = play_rows(feel_from(text));
  EXPECT_EQ(rows.goal[9], 0.9);
  EXPECT_EQ(rows.goal[10], 5.0);
  EXPECT_EQ(rows.goal[15], 1.5);
  EXPECT_EQ(rows.goal[20], 7.0);
  EXPECT_EQ(rows.goal[25], 2.5);
  EXPECT_EQ(rows.goal[30], 5.0);
  EXPECT_EQ(rows.goal[40], 5.0);
}

TEST(Follow, TakesMayPlayAnotherTrack) {
  const std::string text = following(line + "\n[track.u]\nkind = \"steps\"\nplaces = [[1, 0], [2, 0]]\nevery = 0.5",
                                     "kind = \"cut\"", "follow = \"t\"", 1, 10)
                           + "tracks = { t = \"u\" }\n";
  const Rows rows = play_rows(feel_from(text));
  EXPECT_EQ(rows.goal[4], 1.0);
  EXPECT_EQ(rows.smooth[5], 1.0); // a jump: the new goal and the old value
  EXPECT_EQ(rows.goal[5], 2.0);
  EXPECT_EQ(rows.smooth[6], 2.0);
}

TEST(Follow, ASwitchRidesOnAnotherTrack) {
  const std::string text =
      "[track.t]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [1, 0]\n[track.u]\nkind = \"line\"\nfrom = [9, "
      "9]\nvelocity "
      "= [0, 0]\n[channel.a]\nrest = [0, 0]\nfollow = \"t\"\n[channel.d]\nrest = 0\nformula = \"t.x\"\n[pose.p]\na = { "
      "track = \"u\" }\n[switch.near]\non = \"d\"\npose = \"p\"\nenter_above = 0.5\nleave_below = "
      "0.4\n[take.x]\nlength "
      "= 1\n";
  const Rows rows = play_rows(feel_from(text));
  EXPECT_NEAR(rows.goal[29], 29.0 / 60, 1e-15);
  EXPECT_EQ(rows.goal[32], 9.0);
}

TEST(Follow, FormulasReadTracks) {
  const std::string text =
      "[track.t]\nkind = \"line\"\nfrom = [0, 2, 0]\nvelocity = [3, 0, -4]\n[channel.speed]\nrest = "
      "0\nformula = \"t.speed + 100 * t.height\"\n[take.x]\nlength = 1\n";
  EXPECT_EQ(play_rows(feel_from(text)).goal[10], 205.0);
}

TEST(Follow, AViewHeightKeepsItsAspect) {
  const std::string text = "[picture]\nsize = [1600, 900]\nheight = { channel = \"h\" }\nwidth = { channel = \"w\" }\n"
                           "[channel.h]\nrest = 9\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 0.5 }\n"
                           "[channel.w]\nrest = 16\n[pose.p]\nh = 4.5\n[control.p]\nkind = \"hold\"\npose = \"p\"\n"
                           "[take.x]\nlength = 1\ncues = [{ at = 0.2, press = \"p\" }]\n";
  const Feel feel = feel_from(text);
  const Rows height = play_rows(feel, 0), width = play_rows(feel, 1);
  EXPECT_LT(height.smooth.back(), 6.0);
  for (std::size_t k = 0; k < height.time.size(); ++k) EXPECT_NEAR(width.smooth[k], height.smooth[k] * 16 / 9, 1e-14);
  EXPECT_FALSE(test::problems_of(text + "[pose.q]\nw = 3\n[control.q]\nkind = \"hold\"\npose = \"q\"\n").empty());
}

// Rule F15.
TEST(Snap, LeavesAtMostHalfACellAndLosesNothing) {
  const Feel feel =
      feel_from("[track.t]\nkind = \"eight\"\ncentre = [0, 0]\nwidth = 7\nheight = 3\nlap = 4\n[channel.a]\n"
                "rest = [0, 0]\nmotion = { kind = \"glide\", rate = 5 }\nfollow = \"t\"\nsnap = 0.3\n[take.x]\n"
                "length = 4\n");
  const Rows rows = play_rows(feel);
  for (std::size_t k = 0; k < rows.time.size(); ++k) {
    const double left = rows.smooth[k] - rows.value[k];
    EXPECT_LE(std::fabs(left), 0.15 * (1 + 1e-12));
    EXPECT_NEAR(rows.value[k] / 0.3, std::round(rows.value[k] / 0.3), 1e-12);
    const double sum = rows.value[k] + left;
    EXPECT_LE(std::fabs(sum - rows.smooth[k]), std::nextafter(std::fabs(sum), INFINITY) - std::fabs(sum));
  }
}

TEST(Snap, ShiftsThePictureByPixels) {
  const Feel feel =
      feel_from("[picture]\nsize = [1280, 800]\nheight = { channel = \"h\" }\n[channel.h]\nrest = 8\n[track.t]\n"
                "kind = \"line\"\nfrom = [0, 0]\nvelocity = [1, 0.3]\n[channel.a]\nrest = [0, 0]\nfollow = "
                "\"t\"\nsnap = 0.2\n[take.x]\nlength = 1\n");
  struct Watch final : BlockSink {
    void begin(const Scene&) override {}
    void consume(const Block& block) override {
      const ComponentBlock& x = block.channels[1].component[0];
      for (std::size_t row = 0; row < x.shifts.size(); ++row) EXPECT_EQ(x.shifts[row], -x.remainders[row] * 100.0);
      seen += x.shifts.size();
    }
    void end() override {}
    std::size_t seen = 0;
  } watch;
  BlockSink* const sinks[] = {&watch};
  play(test::scene_of(feel), sinks);
  EXPECT_EQ(watch.seen, 61u);
}

TEST(Judder, IsZeroForSteadyTravelOnAnyClock) {
  JudderMeter steady, uneven;
  double time = 0.0;
  for (int k = 0; k < 200; ++k) {
    time += k % 3 == 0 ? 0.03 : 0.011;
    steady.add({5 * time, -2 * time, 1}, time, 100, false);
    uneven.add({k % 2 == 0 ? 1.0 : 0.0, 0, 0}, k, 10, false);
  }
  EXPECT_NEAR(*steady.in_units(), 0.0, 1e-13);
  EXPECT_NEAR(*uneven.in_units(), 2.0, 1e-12); // each frame is off by 1
  EXPECT_NEAR(*uneven.in_pixels(), 20.0, 1e-11);
}

TEST(FollowMeasures, SeeTheSubjectInThePicture) {
  const std::string text =
      "[picture]\nsize = [200, 100]\nheight = { channel = \"h\" }\nposition = \"a\"\n[channel.h]\nrest = "
      "10\n"
      + following("kind = \"line\"\nfrom = [0, 0]\nvelocity = [6, 0]", "kind = \"glide\", rate = 1");
  const Feel feel = feel_from(text);
  const TakeMeasures measures = play_measures(feel);
  const auto measure = [&](const char* name) { return channel_measure(feel, measures, 1, name); };
  EXPECT_NEAR(*measure("framing_error"), 60.0, 0.01); // 6 of the 10 units of half the width
  EXPECT_EQ(*measure("time_outside_picture"), 0.0);
  EXPECT_NEAR(*measure("lag_time_steady"), 1.0, 1e-3);
  EXPECT_LT(*measure("judder_subject_pixels"), 1e-2);
  EXPECT_FALSE(measure("nearest"));
}

TEST(FollowMeasures, TellHowLongAJumpToAnotherSubjectTakesToCatchUpWith) {
  // A spring that resists the gap closes it as it would stand: (1 + wt) e^-wt is 2 % at wt = 5.8339.
  const std::string spring = "kind = \"spring\", frequency = 1, damping_ratio = 1, resist = \"gap\"";
  const std::string text = "[track.u]\nkind = \"line\"\nfrom = [0, 9]\nvelocity = [3, 0]\n" + following(line, spring);
  const auto catch_up = [&](const std::string& cues) {
    const Feel feel = feel_from(text + cues);
    return channel_measure(feel, play_measures(feel), 0, "catch_up_time");
  };
  EXPECT_NEAR(*catch_up("cues = [{ at = 2, follow = { a = \"u\" } }]\n"), 5.8339 / angular_frequency(1.0), 1e-5);
  EXPECT_FALSE(catch_up(""));
  // One that the take's end cuts short has none, nor one that another jump interrupts.
  EXPECT_FALSE(catch_up("cues = [{ at = 9.5, follow = { a = \"u\" } }]\n"));
  EXPECT_NEAR(*catch_up("cues = [{ at = 2, follow = { a = \"u\" } }, { at = 2.1, follow = { a = \"t\" } "
                        "}, { at = 2.2, follow = { a = \"u\" } }]\n"),
              5.8339 / angular_frequency(1.0), 0.2);
}

TEST(DeadZone, TakesPixelsOfThePictureAsShares) {
  const auto zone = [](const std::string& size) {
    const Feel feel =
        feel_from("[picture]\nsize = [200, 100]\nheight = { channel = \"h\" }\nposition = \"a\"\n"
                  "[channel.h]\nrest = 10\n"
                  + following(line, "kind = \"cut\"",
                              "follow = { track = \"t\", dead_zone = { size = " + size + ", in = \"picture\" } }"));
    return feel.channels[1].follow->zone->size;
  };
  EXPECT_EQ(zone("[\"50 px\", 0.3]"), (Components{0.25, 0.3, 0.0}));
  EXPECT_EQ(zone("\"40 px\""), (Components{0.2, 0.4, 0.0}));
  EXPECT_EQ(zone("0.5"), (Components{0.5, 0.5, 0.0}));
}

TEST(FollowMeasures, CountFramesInsideTheSubject) {
  const std::string text =
      "[picture]\nfocus = \"a\"\ndistance = \"d\"\nlens = { channel = \"v\" }\n[channel.d]\nunit = \"m\"\nrest = 2\n"
      "[channel.v]\nunit = \"deg\"\nrest = 60\n[track.t]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [0, 0, "
      "4]\nradius "
      "= 0.5\n[channel.a]\nunit = \"m\"\nrest = [0, 0, 0]\nmotion = { kind = \"glide\", rate = 1 }\nfollow = \"t\"\n"
      "[take.x]\nlength = 2\nclock = { fps = 100 }\n";
  const Feel feel = feel_from(text);
  const TakeMeasures measures = play_measures(feel);
  // The eye is 2 m behind the focus, which the subject leaves behind at 4 (1 - e^-t) m: it runs through the eye.
  double inside = 0.0;
  for (int k = 0; k <= 200; ++k) inside += std::fabs(4 * (1 - std::exp(-k / 100.0)) - 2.0) < 0.5 ? 1.0 : 0.0;
  EXPECT_EQ(*channel_measure(feel, measures, 2, "inside_frames"), inside);
  EXPECT_NEAR(*channel_measure(feel, measures, 2, "inside_time"), std::log(2.5 / 1.5), 1e-4);
  EXPECT_NEAR(*channel_measure(feel, measures, 2, "nearest"), -0.5, 1e-6);
}

TEST(FollowMeasures, AJumpIsAMoveAndNotALag) {
  const std::string steps = "kind = \"steps\"\nplaces = [[0, 0], [100, 0]]\nevery = 1";
  const Feel feel = feel_from(following(steps, "kind = \"glide\", rate = 8", "follow = \"t\"", 3));
  const TakeMeasures measures = play_measures(feel);
  EXPECT_LE(*channel_measure(feel, measures, 0, "lag_distance"), 2.0);
  ASSERT_EQ(measures.moves.size(), 1u);
  EXPECT_NEAR(*measures.moves[0].settling_time, std::log(50.0) / 8, 1e-9);
}

std::vector<std::string> codes_of(const std::string& text) {
  const Feel feel = feel_from(text);
  std::vector<std::string> codes;
  for (const Warning& one : warnings_of_feel(feel)) codes.push_back(one.code);
  for (const Warning& one : warnings_of_take(feel, feel.takes[0], play_measures(feel))) codes.push_back(one.code);
  return codes;
}
bool warns(const std::string& text, const std::string& code) {
  const auto codes = codes_of(text);
  return std::find(codes.begin(), codes.end(), code) != codes.end();
}

TEST(FollowWarnings, SeeAccidents) {
  const std::string cut = "kind = \"cut\"";
  const auto lead = [&](const std::string& more) {
    return following(line, cut, "follow = { track = \"t\", lead = { by = \"velocity\", seconds = 1" + more + " } }");
  };
  EXPECT_TRUE(warns(lead(""), "raw_lead"));
  EXPECT_FALSE(warns(lead(", longest = 2"), "raw_lead"));
  const std::string flat_picture =
      "[picture]\nsize = [200, 100]\nheight = { channel = \"h\" }\nposition = \"a\"\ncoarse = [70, "
      "50]\n[channel.h]\nrest = 5\n";
  EXPECT_TRUE(warns(flat_picture + following(line, cut, "snap = 0.2\nfollow = \"t\""), "cell_of_grid"));
  EXPECT_TRUE(warns(flat_picture + following(line, cut), "scale_not_whole"));
  EXPECT_FALSE(warns(flat_picture + following(line, cut, "snap = 0.1\nfollow = \"t\""), "cell_of_grid"));
  EXPECT_TRUE(warns(flat_picture + following(line, "kind = \"glide\", rate = 0.4"), "out_of_picture"));
  EXPECT_FALSE(warns(flat_picture + following(line, "kind = \"glide\", rate = 4"), "out_of_picture"));
  EXPECT_TRUE(warns(flat_picture
                        + following(line
                                        + "\n[track.p]\nkind = \"line\"\nfrom = [0.5, 0]\nvelocity = [0, 0]\nin = "
                                          "\"about_camera\"",
                                    cut, "follow = { track = \"t\", second = \"p\", weight = 0.5 }"),
                    "goal_feeds_back"));
}

/// What lies in the picture about the camera lies about where its channel is as the take begins.
TEST(Follow, APointerAboutTheCameraBeginsWhereTheChannelRests) {
  for (const double rest : {0.0, 20.0}) {
    const Feel feel = feel_from(fmt::format(
        "[picture]\nsize = [200, 100]\nheight = {{ channel = \"h\" }}\nposition = \"a\"\n[channel.h]\nrest = "
        "5\n[track.p]\nkind = \"line\"\nfrom = [0.5, -0.5]\nvelocity = [0, 0]\nin = \"about_camera\"\n"
        "[channel.a]\nunit = \"m\"\nrest = [{}, 3]\nmotion = {{ kind = \"glide\", half_life = 0.5 }}\nfollow = "
        "\"p\"\n[take.x]\nlength = 1\n",
        rest));
    // Half of the half width, which is 5; half of the half height, which is 2.5.
    EXPECT_NEAR(play_rows(feel, 1, 0).smooth[0], rest + 2.5, 1e-12) << rest;
    EXPECT_NEAR(play_rows(feel, 1, 1).smooth[0], 3.0 - 1.25, 1e-12) << rest;
  }
}

/// A pointer in the picture about the subject: weight 1 at the right edge leads half the picture's width away.
// Rule G13.
TEST(Follow, APointerLiesInThePicture) {
  const std::string text =
      "[picture]\nsize = [200, 100]\nheight = { channel = \"h\" }\nposition = \"a\"\n[channel.h]\nrest = "
      "5\n"
      + following(line
                      + "\n[track.p]\nkind = \"line\"\nfrom = [1, -0.5]\nvelocity = [0, 0]\nin = "
                        "\"about_subject\"",
                  "kind = \"cut\"", "follow = { track = \"t\", second = \"p\", weight = 1 }", 1);
  const Feel feel = feel_from(text);
  EXPECT_NEAR(play_rows(feel, 1, 0).goal[0], 5.0, 1e-15);
  EXPECT_NEAR(play_rows(feel, 1, 1).goal[0], 1.0 - 0.5 * 2.5, 1e-15);
}

/// In space a picture is as high as it is far away: half of it is the distance times the tangent of half the angle.
TEST(Follow, APointerLiesInThePictureHoweverFarAwayThatIs) {
  for (const double distance : {0.5, 3.0, 8.0}) {
    const Feel feel = feel_from(fmt::format(
        "[picture]\nsize = [200, 100]\nlens = {{ channel = \"lens\", axis = \"vertical\" }}\nfocus = "
        "\"look\"\ndistance = "
        "\"far\"\n[channel.lens]\nunit = \"deg\"\nrest = 50\n[channel.far]\nunit = \"m\"\nrest = {}\n[track.t]\nkind = "
        "\"line\"\nfrom = [0, 1, 0]\nvelocity = [0, 0, 0]\n[track.p]\nkind = \"line\"\nfrom = [0.5, -0.25, "
        "0]\nvelocity = "
        "[0, 0, 0]\nin = \"about_subject\"\n[channel.look]\nunit = \"m\"\nrest = [0, 1, 0]\nfollow = {{ track = \"t\", "
        "second = \"p\", weight = 1 }}\n[take.now]\nlength = 1\n",
        distance));
    const double half_high = distance * std::tan(25.0 * std::numbers::pi / 180.0);
    EXPECT_NEAR(play_rows(feel, 2, 0).goal[0], 0.5 * 2.0 * half_high, 1e-12) << distance;
    EXPECT_NEAR(play_rows(feel, 2, 1).goal[0], 1.0 - 0.25 * half_high, 1e-12) << distance;
  }
}

} // namespace
} // namespace stasis
