// Obstacles that hold a distance in: how far it goes through, how it comes out, clicks that show nothing, and an eye
// that is placed. Rules: docs/design.md, section 3, 13.
#include <algorithm>
#include <cmath>
#include <numbers>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/check/warning.hpp"
#include "core/explain/explain.hpp"
#include "core/take/obstacle_ray.hpp"
#include "core/take/trace_columns.hpp"
#include "core/text.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;
using test::problems_of;
using test::Rows;

/// Somebody walks backwards at `speed` towards a cliff at z = 0, from 8 m before it, the view behind them.
std::string walk(double speed, const std::string& motion, const std::string& rule, double length = 2,
                 const std::string& more = "") {
  return fmt::format(R"(
[picture]
focus = "focus"
distance = "radius"
[track.walker]
kind = "line"
from = [0, 1, -8]
velocity = [0, 0, {}]
[channel.focus]
unit = "m"
rest = [0, 1, -8]
follow = "walker"
[obstacle.cliff]
kind = "plane"
normal = [0, 0, -1]
at = [0, 0, 0]
[channel.radius]
unit = "m"
rest = 5
range = [0.2, 6]
motion = {}
obstacles = {{ {} }}
{}
[take.t]
length = {}
)",
                     speed, motion, rule, more, length);
}

/// The text with every place of one piece of it put another way.
std::string with(std::string text, std::string_view piece, std::string_view other) {
  for (std::size_t at = text.find(piece); at != std::string::npos; at = text.find(piece, at + other.size()))
    text.replace(at, piece.size(), other);
  return text;
}

RoomSummary room_of(const Feel& feel, std::size_t channel = 1) {
  return static_cast<const RoomSummary&>(play_measures(feel).channels[channel].follow);
}

TEST(Room, AGlideGoesThroughAsFarAsItTrails) {
  for (const double stand_off : {0.0, 0.1, 0.3}) {
    constexpr double speed = 3, half_life = 0.2, k = std::numbers::ln2 / half_life, thickness = 0.2;
    const Feel feel = feel_from(walk(speed, fmt::format("{{ kind = \"glide\", half_life = {} }}", half_life),
                                     fmt::format("thickness = {}, stand_off = {}", thickness, stand_off)));
    const RoomSummary room = room_of(feel);
    // From when the goal begins to fall, the lag is v/k (1 - e^-kt); the stand-off is what it may have.
    const double begins = (8 - 0.5 * thickness - stand_off - 5) / speed;
    const double expected = speed / k * (1 - std::exp(-k * (2 - begins))) - stand_off;
    EXPECT_NEAR(*room.penetration, expected, 1e-9) << stand_off;
    EXPECT_NEAR(room.worst_penetration_at, 2, 1e-9);
    const double through = -std::log(1 - stand_off * k / speed) / k + begins;
    EXPECT_NEAR(*room.penetration_frames, std::floor(2 * 60 + 1e-6) - std::ceil(through * 60 - 1e-6) + 1, 1.01);
    EXPECT_NEAR(*room.held_time, 2 - begins, 1.0 / 60);
  }
}

TEST(Room, TheAdvisedHalfLifeStaysOutInEverySpace) {
  for (const std::string space : {"linear", "ratio"})
    for (const double stand_off : {0.05, 0.2}) {
      const auto with = [&](double half_life) {
        return feel_from(walk(3, fmt::format("{{ kind = \"glide\", half_life = {} }}", shortest(half_life)),
                              fmt::format("stand_off = {}", stand_off), 2.2, "space = \"" + space + "\"\n"));
      };
      const RoomSummary before = room_of(with(0.5));
      EXPECT_GT(*before.penetration, 0.2);
      ASSERT_TRUE(before.advised_half_life);
      EXPECT_LE(*before.advised_half_life, stand_off * std::numbers::ln2 / 3);
      if (space == "linear") {
        EXPECT_NEAR(*before.advised_half_life, stand_off * std::numbers::ln2 / 3, 1e-8);
      }
      const RoomSummary after = room_of(with(*before.advised_half_life));
      EXPECT_EQ(*after.penetration, 0);
      EXPECT_EQ(*after.penetration_frames, 0);
      // It is no more cautious than it must be.
      EXPECT_GT(*room_of(with(*before.advised_half_life * 1.6)).penetration, 0);
    }
}

TEST(Room, WithoutAStandOffThereIsNoAdvice) {
  const RoomSummary room = room_of(feel_from(walk(3, R"({ kind = "glide", half_life = 0.1 })", "")));
  EXPECT_FALSE(room.advised_half_life);
  EXPECT_NE(room.why_no_advice->find("without a stand-off there is no room in which to lag"), std::string::npos);
}

/// A recorded clear distance that drops at 1 s and comes back at 2 s.
std::string drop(const std::string& motion, const std::string& rule, const std::string& more = "") {
  return fmt::format(R"(
[track.clear]
kind = "steps"
places = [[9], [2], [9]]
every = 1
[obstacle.level]
kind = "recorded"
track = "clear"
[channel.radius]
unit = "m"
rest = 5
range = [0.5, 8]
motion = {}
obstacles = {{ {} }}
{}
[take.t]
length = 6
)",
                     motion, rule, more);
}

TEST(Room, AfterALeapNoHalfLifeIsFastEnough) {
  const Feel feel = feel_from(drop(R"({ kind = "glide", half_life = 0.05 })", "stand_off = 0.25"));
  const Rows rows = play_rows(feel);
  EXPECT_EQ(rows.goal[59], 5);
  EXPECT_EQ(rows.goal[60], 1.75); // as a jump: acts from its frame on, the old value still there
  EXPECT_EQ(rows.smooth[60], 5);
  const RoomSummary room = room_of(feel, 0);
  EXPECT_EQ(*room.penetration, 3);
  EXPECT_FALSE(room.advised_half_life);
  EXPECT_NE(room.why_no_advice->find("1 s"), std::string::npos);
  EXPECT_NE(room.why_no_advice->find("suddenly"), std::string::npos);
}

// Rule O1.
TEST(Room, FastInAndSlowOutAreOrdinaryMotions) {
  const Feel feel = feel_from(
      drop(R"({ rising = { kind = "glide", half_life = 0.4 }, falling = { kind = "glide", half_life = 0.02 } })",
           "stand_off = 0.25"));
  const TakeMeasures measures = play_measures(feel);
  ASSERT_EQ(measures.moves.size(), 2u);
  EXPECT_EQ(measures.moves[0].cause, "meet level");
  EXPECT_EQ(measures.moves[1].cause, "clear level");
  const double doublings = std::log2(50); // to 2 %
  EXPECT_NEAR(*measures.moves[0].settling_time, 0.02 * doublings, 1e-9);
  EXPECT_NEAR(*measures.moves[1].settling_time, 0.4 * doublings, 1e-9);
  const FollowSummary& room = measures.channels[0].follow;
  EXPECT_NEAR(*room.let_out_time, 0.4 * doublings, 1e-3);
  EXPECT_NEAR(*room.let_out_speed, std::numbers::ln2 / 0.4 * 3.25, 1e-9);
  EXPECT_NEAR(*room.held_time, 1, 1e-9);
}

// Rule O2.
TEST(Room, NeverThroughHoldsTheValueItselfWithEveryMotion) {
  for (const std::string motion :
       {R"({ kind = "glide", half_life = 0.3 })", R"({ kind = "spring", frequency = 1, damping_ratio = 0.4 })",
        R"({ kind = "ease", duration = 0.8, curve = "in-out sine" })",
        R"({ kind = "pace", speed = 4, acceleration = 9 })",
        R"({ kind = "per_frame", rule = "fraction", fraction = 0.1, at_fps = 60 })", R"("cut")"}) {
    const std::string written = motion == R"("cut")" ? R"({ kind = "cut" })" : motion;
    for (const bool leaps : {true, false}) {
      const std::string rule = "stand_off = 0.2, never_through = true";
      const Feel feel = feel_from(leaps ? drop(written, rule) : walk(3, written, rule));
      const std::size_t radius = leaps ? 0 : 1;
      EXPECT_EQ(*room_of(feel, radius).penetration, 0) << motion;
      const Rows rows = play_rows(feel, radius);
      for (std::size_t k = 0; k < rows.smooth.size(); ++k) {
        EXPECT_GE(rows.smooth[k], feel.channels[radius].range[0].low);
        if (leaps && k >= 60 && k < 120) {
          EXPECT_LE(rows.smooth[k], 2 + 1e-12) << motion << k;
        }
      }
      if (leaps) {
        EXPECT_EQ(rows.smooth[60], 2) << motion; // at once, and its outward speed is lost
        EXPECT_NEAR(rows.smooth.back(), 5, 0.05) << motion;
      }
    }
  }
}

// Rule O3.
TEST(Room, TheRangeWinsOverAnObstacle) {
  const Feel feel = feel_from(walk(3, R"({ kind = "glide", half_life = 0.01 })", "stand_off = 0.2", 3));
  const Rows rows = play_rows(feel, 1);
  for (const double value : rows.smooth) EXPECT_GE(value, 0.2);
  const RoomSummary room = room_of(feel);
  EXPECT_NEAR(*room.time_below_range, 3 - (8 - 0.4) / 3, 2.0 / 60);
  EXPECT_NE(room.why_no_advice->find("range"), std::string::npos);
  const auto tells = [](const Feel& told) {
    const auto notes = play_measures(told).notes;
    return std::any_of(notes.begin(), notes.end(), [](const std::string& note) {
      return note.find("less room than its range allows") != std::string::npos;
    });
  };
  EXPECT_TRUE(tells(feel));
  EXPECT_FALSE(tells(feel_from(walk(3, R"({ kind = "glide", half_life = 0.01 })", "stand_off = 0.2", 1))));
}

/// Somebody walks across, from the left, past what stands behind them; the view looks along it.
std::string walk_past(double speed, double height, const std::string& obstacle, const std::string& motion,
                      const std::string& rule, double length) {
  return fmt::format(R"(
[picture]
focus = "focus"
distance = "radius"
[track.walker]
kind = "line"
from = [-2, {1}, 0]
velocity = [{0}, 0, 0]
[channel.focus]
rest = [0, {1}, 0]
follow = "walker"
{2}
[channel.radius]
rest = 5
range = [0.2, 6]
motion = {3}
obstacles = {{ {4} }}
[take.t]
length = {5}
)",
                     speed, height, obstacle, motion, rule, length);
}

// Rule O6.
TEST(Room, AWallThatComesBetweenInOneLeapIsAJump) {
  // A pier at the side; the walker passes it, and the ray meets its edge.
  const Feel feel = feel_from(walk_past(1.3, 1, "[obstacle.pier]\nkind = \"box\"\ncentre = [0, 1, 3]\nsize = [1, 4, 2]",
                                        R"({ kind = "glide", half_life = 0.1 })", "stand_off = 0.1", 4));
  const TakeMeasures measures = play_measures(feel);
  ASSERT_EQ(measures.moves.size(), 2u);
  EXPECT_EQ(measures.moves[0].cause, "meet pier");
  EXPECT_EQ(measures.moves[1].cause, "clear pier");
  // The first frames at or after the edges at x = -0.5 and 0.5.
  EXPECT_NEAR(measures.moves[0].start, std::ceil(1.5 / 1.3 * 60) / 60, 1e-12);
  EXPECT_NEAR(measures.moves[1].start, std::ceil(2.5 / 1.3 * 60) / 60, 1e-12);
  EXPECT_EQ(measures.moves[0].to[0], 1.9);
  EXPECT_FALSE(measures.channels[1].follow.advised_half_life);
  EXPECT_EQ(*measures.channels[1].follow.penetration, 3);
}

TEST(Room, ARoundObstacleIsMetInALeapThatIsTold) {
  const auto at = [](double share) { return share < 0.37 ? 5.0 : 2.0 - std::sqrt(share - 0.37); };
  EXPECT_TRUE(leaps_between(at, at(0), at(1)));
  EXPECT_FALSE(leaps_between([](double share) { return 2 - std::sqrt(share); }, 2, 1));
  EXPECT_FALSE(leaps_between([](double share) { return std::max(1.0, 2 - 40 * share); }, 2, 1));
}

/// Just before a ray slides off a rounded edge, the stand-off counts ten times. What no frame has seen does not pull
/// the view in.
TEST(Room, WhatLiesBetweenTwoFramesBeforeALeapIsNotFollowed) {
  const Feel feel = feel_from(walk_past(
      1.7, 0, "[obstacle.ball]\nkind = \"sphere\"\ncentre = [0, 0, 4]\ndiameter = 2",
      R"({ rising = { kind = "spring", frequency = 0.8, damping_ratio = 1 }, falling = { kind = "glide", half_life = 0.03 } })",
      "thickness = 0.3, stand_off = 0.2", 5));
  const Rows rows = play_rows(feel, 1);
  const double last_held = *std::min_element(rows.goal.begin(), rows.goal.end());
  bool cleared = false;
  for (std::size_t k = 1; k < rows.goal.size(); ++k) {
    cleared = cleared || (rows.goal[k] == 5 && rows.goal[k - 1] < 5);
    if (cleared) {
      EXPECT_GE(rows.smooth[k], last_held - 0.05) << rows.time[k];
    }
  }
  EXPECT_TRUE(cleared);
}

// Rule O5.
TEST(Room, CornersOfACapAreWhereTheLimitPassesWishAndRange) {
  const auto corners = corners_of_cap({5, 5}, {6, 0}, {1, 8});
  ASSERT_EQ(corners.size(), 2u);
  EXPECT_NEAR(corners[0], 1.0 / 6, 1e-15);
  EXPECT_NEAR(corners[1], 5.0 / 6, 1e-15);
  EXPECT_TRUE(corners_of_cap({5, 5}, {unbounded, 3}, {1, 8}).empty());
}

TEST(Room, TheWayIsTheSameAtAnyFrameRate) {
  // The cap begins in the middle of a frame: the corner splits it.
  const auto end = [](double fps) {
    Feel feel = feel_from(walk(3, R"({ kind = "glide", half_life = 0.3 })", "stand_off = 0.1"));
    feel.takes[0].fps = fps;
    return play_rows(feel, 1).smooth.back();
  };
  for (const double fps : {7.0, 30.0, 144.0}) EXPECT_NEAR(end(fps), end(60), 1e-12) << fps;
}

/// The cap ends in the middle of a frame: a glide follows the limit until then.
TEST(Room, AWayOutIsTheSameAtAnyFrameRate) {
  std::string text = walk(-3, R"({ kind = "glide", half_life = 0.3 })", "stand_off = 0.1", 1.9);
  text = with(text, "0, 1, -8", "0, 1, -2");
  const double k = std::numbers::ln2 / 0.3, speed = 3, start = 1.9, goal = 5, clear = (goal - start) / speed;
  const double lag = speed / k * (1 - std::exp(-k * clear));
  const double expected = goal - lag * std::exp(-k * (1.9 - clear));
  for (const double fps : {7.0, 24.0, 60.0, 144.0}) {
    Feel feel = feel_from(text);
    feel.takes[0].fps = fps;
    const Rows rows = play_rows(feel, 1);
    const double after = rows.time.back() - 1.9; // the last frame may lie before the end
    EXPECT_NEAR(rows.smooth.back(), goal - (goal - expected) * std::exp(-k * after), 1e-12) << fps;
  }
}

/// Along a wall the room differs by roundings: no goal jumps, and no move begins again.
TEST(Room, RoundingsOfTheRoomAreNoJumps) {
  std::string text = walk(0, R"({ kind = "ease", duration = 0.5, handover = "restart" })", "stand_off = 0.1", 2,
                          "[channel.yaw]\nunit = \"deg\"\nrest = 3\n[pose.side]\nyaw = 41\n[control.side]\nkind = "
                          "\"hold\"\npose = \"side\"\n");
  text = with(text, "distance = \"radius\"", "distance = \"radius\"\nyaw = \"yaw\"");
  text = with(text, "0, 1, -8", "0.1, 1, -3");
  text = with(text, "velocity = [0, 0, 0]", "velocity = [1.3, 0, 0.39]");
  text = with(text, "normal = [0, 0, -1]", "normal = [0.3, 0, -1]");
  text = with(text, "rest = 5\nrange = [0.2, 6]", "rest = 9\nrange = [0.2, 20]"); // held in all the time
  const Feel feel = feel_from(text + "cues = [{ at = 0.5, press = \"side\" }]\n");
  const TakeMeasures measures = play_measures(feel);
  ASSERT_EQ(measures.moves.size(), 2u); // of the yaw, and of the distance as it is let out
  EXPECT_EQ(measures.moves[1].cause, "meet cliff");
  ASSERT_TRUE(measures.moves[1].settling_time);
  EXPECT_NEAR(*measures.moves[1].settling_time, 0.5, 0.1);
  EXPECT_FALSE(measures.moves[1].retargeted);
}

std::string wheel(const std::string& clicks_from) {
  return drop(R"({ kind = "glide", half_life = 0.01 })", "stand_off = 0.25",
              fmt::format(R"(
[control.wheel]
kind = "clicks"
channel = "radius"
step = 0.5
clicks_from = "{}"
)",
                          clicks_from))
         + R"(cues = [
  { at = 1.2, click = "wheel", count = -1 }, { at = 1.4, click = "wheel", count = -2 },
  { at = 1.6, click = "wheel", count = 1 },
]
)";
}

TEST(Room, ClicksShowNothingWhileAWallHoldsTheView) {
  // Home is 5, the view is held at 1.75: clicks to 4.5, 3.5 and 4 are not seen.
  const Feel feel = feel_from(wheel("goal"));
  EXPECT_EQ(*room_of(feel, 0).unseen_clicks, 4);
  EXPECT_EQ(play_rows(feel).goal.back(), 4);
  const auto warnings = warnings_of_take(feel, feel.takes[0], play_measures(feel));
  EXPECT_TRUE(
      std::any_of(warnings.begin(), warnings.end(), [](const Warning& w) { return w.code == "unseen_clicks"; }));
}

// Rule K7.
TEST(Room, ClicksFromTheViewAreSeenAtOnce) {
  // From 1.75 the first click leads to 1.5, two more to 0.5, and one back to 1.
  const Feel feel = feel_from(wheel("view"));
  EXPECT_EQ(*room_of(feel, 0).unseen_clicks, 0);
  const Rows rows = play_rows(feel);
  EXPECT_EQ(rows.goal[72], 1.5);
  EXPECT_EQ(rows.goal[84], 0.5);
  EXPECT_EQ(rows.goal.back(), 1);
}

TEST(Room, OnlySomeObstaclesMayCountAndStand) {
  const auto held = [](const std::string& rule, const std::string& take) {
    return *room_of(feel_from(walk(3, R"({ kind = "cut" })", rule, 2, R"(
[obstacle.fence]
kind = "wall"
points = [[-9, -1], [9, -1]]
)") + take))
                .held_time;
  };
  const double both = held("", ""), cliff = held("only = [\"cliff\"]", "");
  EXPECT_NEAR(both - cliff, 1.0 / 3, 1.0 / 59);
  EXPECT_EQ(held("", "obstacles = [\"cliff\"]\n"), cliff);
  EXPECT_EQ(held("", "obstacles = []\n"), 0);
}

TEST(Room, AnEyeThatIsPlacedCutsTheCorner) {
  const Feel feel = feel_from(R"(
[picture]
position = "eye"
focus = "focus"
distance = "radius"
yaw = "yaw"
pitch = "tilt"
side = "aside"
[channel.focus]
rest = [1, 2, 3]
[channel.radius]
rest = 4
[channel.aside]
rest = 0.5
[channel.yaw]
unit = "deg"
rest = 20
[channel.tilt]
unit = "deg"
rest = -30
[channel.eye]
rest = [0, 0, 0]
placed = true
motion = { kind = "glide", half_life = 0.2 }
[take.t]
length = 4
cues = [{ at = 1, goal = { yaw = 200 } }]
)");
  // It starts where it is put, and looks as yaw and pitch have it.
  const auto rest_of = [&](ComponentRef read) { return feel.channels[read.channel].rest[read.component]; };
  const Components eye = seated_eye(feel, rest_of);
  for (std::size_t i = 0; i < 3; ++i) EXPECT_NEAR(play_rows(feel, 5, i).smooth[0], eye[i], 1e-12);
  const EyeSeat seat = eye_seat(feel, rest_of);
  const CameraView view =
      camera_view(feel, [&](ComponentRef read) { return read.channel == 5 ? eye[read.component] : rest_of(read); });
  for (std::size_t i = 0; i < 3; ++i) EXPECT_NEAR(view.axes.back[i], seat.axes.back[i], 1e-12);
  // Half-way through a turn of 180 degrees it passes over the pivot: all of its level distance is cut.
  const TakeMeasures measures = play_measures(feel);
  const double level = 4 * std::cos(std::numbers::pi / 6), height = 4 * 0.5;
  EXPECT_NEAR(*measures.channels[5].follow.corner_cut, 4 - height, 0.08);
  EXPECT_GT(level, *measures.channels[5].follow.corner_cut);
  EXPECT_NE(account_of(feel, 5).room.find("cuts the corner"), std::string::npos);
}

/// The distance stays clear of the pier, but the eye's own way round it does not.
TEST(Room, AnEyeOfItsOwnMayGoThroughWhatTheDistanceIsClearOf) {
  const auto feel = [](const std::string& motion) {
    return feel_from(R"(
[picture]
position = "eye"
focus = "focus"
distance = "radius"
yaw = "yaw"
[channel.focus]
rest = [0, 0, 0]
[channel.radius]
rest = 4
range = [0.1, 9]
obstacles = { stand_off = 0.1 }
[obstacle.pier]
kind = "box"
centre = [0, 0, 2]
size = [0.5, 4, 0.5]
[channel.yaw]
unit = "deg"
rest = -60
[channel.eye]
rest = [0, 0, 0]
placed = true
motion = )" + motion + R"(
[take.t]
length = 4
cues = [{ at = 1, goal = { yaw = 60 } }]
)");
  };
  const TakeMeasures slow = play_measures(feel(R"({ kind = "glide", half_life = 0.3 })"));
  EXPECT_EQ(*slow.channels[1].follow.penetration, 0); // the turn is a cut: no frame lies between
  const FollowSummary& eye = slow.channels[3].follow;
  // The chord from one side to the other passes 2 m behind the focus, through the pier from its front on.
  EXPECT_NEAR(*eye.penetration, 2 - 1.75, 0.02);
  EXPECT_EQ(*eye.worst_obstacle, 0u);
  EXPECT_GT(*eye.penetration_frames, 1);
  EXPECT_EQ(*play_measures(feel(R"({ kind = "cut" })")).channels[3].follow.penetration, 0);
}

TEST(Room, SaysWhatItCannotHoldIn) {
  const auto code = [](const std::string& text) {
    const Problems problems = problems_of(text);
    return problems.empty() ? std::string() : problems.front().code;
  };
  EXPECT_EQ(code("[channel.a]\nrest = 1\nobstacles = {}\n"), "feel.obstacles");
  const std::string floor = "[obstacle.floor]\nkind = \"plane\"\nat = [0, 0, 0]\n";
  EXPECT_EQ(code(floor + "[channel.a]\nrest = 1\nobstacles = {}\n"), "feel.picture");
  EXPECT_EQ(code(walk(1, "{ kind = \"cut\" }", "only = [\"clif\"]")), "feel.unknown_obstacle");
  EXPECT_EQ(code("[obstacle.o]\nkind = \"plane\"\nat = [0, 0, 0]\nnormal = [0, 0, 0]\n"), "feel.out_of_bounds");
  EXPECT_EQ(code("[obstacle.o]\nkind = \"wall\"\npoints = [[0, 0], [0, 0]]\n"), "feel.points");
  EXPECT_EQ(code("[obstacle.o]\nkind = \"tree\"\n"), "feel.choice");
  EXPECT_EQ(code("[obstacle.o]\nkind = \"box\"\ncentre = [0, 0]\nsize = 1\n"), "feel.component_count");
  EXPECT_EQ(code("[channel.a]\nrest = [0, 0, 0]\nplaced = true\n"), "feel.picture");
}

TEST(Room, TheTraceSaysWhereTheRoomEnds) {
  const Feel feel = feel_from(walk(3, R"({ kind = "cut" })", "stand_off = 0.25, thickness = 0.5"));
  const auto header = trace_header(test::scene_of(feel));
  for (const char* name : {"radius.wish", "radius.limit", "radius.hit", "eye.x"})
    EXPECT_NE(std::find(header.begin(), header.end(), name), header.end()) << name;
}

} // namespace
} // namespace stasis
