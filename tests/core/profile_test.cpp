// Profiles, headings that are turned back to, and the eye's place and turn. Rules: docs/design.md, section 3.
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/curve/profile_curve.hpp"
#include "core/explain/explain.hpp"
#include "core/scene/quaternion.hpp"
#include "core/take/trace_columns.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;
using test::Rows;

std::vector<ProfileKnot> random_knots(std::mt19937& random, bool monotone) {
  std::uniform_real_distribution<double> share(0, 1);
  std::vector<ProfileKnot> knots;
  double at = -10, value = 3;
  const std::size_t count = 2 + random() % 7;
  for (std::size_t i = 0; i < count; ++i) {
    knots.push_back({at, value});
    at += 0.01 + 4 * share(random);
    value += monotone ? std::exp(8 * share(random) - 4) * (random() % 5 == 0 ? 0 : 1) : 6 * share(random) - 3;
  }
  return knots;
}

// Rule G2.
TEST(Profile, PassesThroughItsKnotsAndStaysBetweenNeighbours) {
  std::mt19937 random(3);
  for (int n = 0; n < 200; ++n) {
    const auto knots = random_knots(random, n % 2 == 0);
    for (const double roundness : {0.0, 0.4, 1.0}) {
      const ProfileCurve curve(knots, roundness);
      for (std::size_t i = 0; i < knots.size(); ++i) EXPECT_EQ(curve.value_at(knots[i].at), knots[i].value);
      for (std::size_t i = 0; i + 1 < knots.size(); ++i) {
        const auto [low, high] = std::minmax(knots[i].value, knots[i + 1].value);
        double last = knots[i].value;
        const double way = knots[i + 1].value >= knots[i].value ? 1 : -1;
        for (int k = 1; k < 50; ++k) {
          const double value = curve.value_at(knots[i].at + (knots[i + 1].at - knots[i].at) * k / 50);
          EXPECT_GE(value, low);
          EXPECT_LE(value, high);
          EXPECT_GE(way * (value - last), -1e-13 * std::max(1.0, high)); // no wiggle between knots
          last = value;
        }
      }
    }
  }
}

TEST(Profile, IsStraightAtRoundnessZeroAndSmoothAtOne) {
  const std::vector<ProfileKnot> knots{{0, 0}, {1, 1}, {3, 2}, {4, 5}};
  const ProfileCurve straight(knots, 0), round(knots, 1);
  for (int k = 0; k <= 100; ++k) {
    const double t = k / 100.0;
    EXPECT_NEAR(straight.value_at(1 + 2 * t), 1 + t, 1e-15);
    EXPECT_NEAR(straight.value_at(3 + t), 2 + 3 * t, 1e-15);
  }
  for (const double knot : {1.0, 3.0}) { // no corner
    const double h = 1e-6;
    const double before = (round.value_at(knot) - round.value_at(knot - h)) / h,
                 after = (round.value_at(knot + h) - round.value_at(knot)) / h;
    EXPECT_NEAR(before, after, 1e-4);
  }
  EXPECT_EQ(round.value_at(-5), 0.0);
  EXPECT_EQ(round.value_at(9), 5.0);
  EXPECT_EQ(ProfileCurve({{2, 7}}, 1).value_at(100), 7.0);
}

/// A parabola is read back exactly where its knots are even: the tangents are those of the parabola.
TEST(Profile, FollowsAParabolaWithinMonotoneRuns) {
  std::vector<ProfileKnot> knots;
  for (int i = 0; i <= 6; ++i) knots.push_back({1.0 + i, (1.0 + i) * (1.0 + i)});
  const ProfileCurve curve(knots, 1);
  for (double x = 2; x <= 6; x += 0.01) EXPECT_NEAR(curve.value_at(x), x * x, 1e-12);
}

const std::string orbit = R"(
[channel.tilt]
unit = "deg"
rest = 0
range = [-60, 60]
[channel.height]
unit = "m"
rest = 1
motion = { kind = "glide", half_life = 0.1 }
[channel.fov]
unit = "deg"
rest = 60
[channel.place]
unit = "m"
rest = [1, 2, 3]
[profile.orbit]
driver = "tilt"
knots = [ { at = -60, height = "20 cm", fov = 70 }, { at = 0, height = 1, fov = 60, "place.y" = 2 }, { at = 60, height = 4, "place.y" = 5 } ]
[control.tip]
kind = "stick"
channel = "tilt"
gain = 30
[take.t]
length = 3
cues = [{ at = 0, stick = "tip", value = 1 }]
)";

// Rule F1.
TEST(Profile, DrivesChannelsAndComponentsOffTheDriversValueOfTheFrame) {
  const Feel feel = feel_from(orbit);
  const Rows tilt = play_rows(feel, 0), fov = play_rows(feel, 2), place = play_rows(feel, 3, 1);
  const ProfileCurve height({{-60, 0.2}, {0, 1}, {60, 4}}, 1), lens({{-60, 70}, {0, 60}}, 1), up({{0, 2}, {60, 5}}, 1);
  const Rows high = play_rows(feel, 1);
  for (std::size_t k = 0; k < tilt.time.size(); ++k) {
    EXPECT_NEAR(tilt.smooth[k], std::min(60.0, 30 * tilt.time[k]), 1e-12);
    EXPECT_NEAR(high.goal[k], height.value_at(tilt.smooth[k]), 1e-12);
    EXPECT_NEAR(fov.smooth[k], lens.value_at(tilt.smooth[k]), 1e-12);
    EXPECT_NEAR(place.smooth[k], up.value_at(tilt.smooth[k]), 1e-12);
  }
  EXPECT_EQ(play_rows(feel, 3, 0).smooth.back(), 1.0);
  const std::string words = profile_in_words(feel, 1);
  EXPECT_NE(
      words.find("height goes by tilt, through 3 knots of orbit: 0.2 m at \u221260 deg, 1 m at 0 deg, 4 m at 60 deg"),
      std::string::npos)
      << words;
}

/// A yaw behind a subject that goes at a heading; what touches it in between.
std::string behind(double heading, const std::string& realign, const std::string& cues, double length = 8) {
  const double angle = heading * std::acos(-1.0) / 180;
  return fmt::format(
      "[track.t]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [{}, 0, {}]\n[channel.yaw]\nunit = "
      "\"deg\"\nspace = \"turn\"\nrest = 20\nmotion = {{ kind = \"glide\", half_life = 0.1 }}\nrealign = {{ {} "
      "}}\n[control.look]\nkind = \"stick\"\nchannel = \"yaw\"\ngain = 90\n[control.mouse]\nkind = "
      "\"pointer\"\nchannel = \"yaw\"\ngain = 0.1\n[take.x]\nlength = {}\ncues = [{}]\n",
      -2 * std::sin(angle), -2 * std::cos(angle), realign, length, cues);
}

// Rule G14.
TEST(Realign, TurnsBehindTheSubjectAtTheFirstFrameAfterTheWait) {
  for (const double heading : {0.0, 75.0, -120.0, 179.0}) {
    const Rows rows = play_rows(feel_from(behind(heading, "track = \"t\", wait = 1.5", "")));
    EXPECT_EQ(rows.goal[89], 20.0);
    EXPECT_EQ(rows.smooth[90], 20.0);
    const double way = std::remainder(heading - 20, 360);
    EXPECT_NEAR(rows.goal[90], 20 + way, 1e-9);
    EXPECT_NE(rows.smooth[91], 20.0);
    EXPECT_NEAR(std::remainder(rows.smooth.back() - heading, 360), 0.0, 0.1);
  }
}

// Rule G14.
TEST(Realign, ATouchInterruptsAndTheWaitBeginsAnew) {
  const Rows rows = play_rows(feel_from(behind(90, "track = \"t\", wait = 1",
                                               "{ at = 3, stick = \"look\", value = 1 }, "
                                               "{ at = 3.5, stick = \"look\", value = 0 }")));
  EXPECT_NEAR(rows.goal[179], 90.0, 1e-9);
  EXPECT_NEAR(rows.goal[210], 135.0, 1e-9);                                            // half a second at 90 deg/s
  for (std::size_t k = 210; k < 270; ++k) EXPECT_NEAR(rows.goal[k], 135.0, 1e-9) << k; // not while it waits
  EXPECT_NEAR(rows.goal[270], 90.0, 1e-9);
  const Rows moused =
      play_rows(feel_from(behind(90, "track = \"t\", wait = 1", "{ at = 3, pointer = \"mouse\", counts = 50 }")));
  EXPECT_NEAR(moused.goal[180], 95.0, 1e-9);
  EXPECT_NEAR(moused.goal[239], 95.0, 1e-9);
  EXPECT_NEAR(moused.goal[240], 90.0, 1e-9);
}

TEST(Realign, GoesTheShortWayRound) {
  std::string text = behind(-179, "track = \"t\", wait = 1", "");
  text.replace(text.find("rest = 20"), 9, "rest = 179");
  const Rows rows = play_rows(feel_from(text));
  EXPECT_NEAR(rows.goal[60], 181.0, 1e-9);
  for (const double value : rows.smooth) {
    EXPECT_GE(value, 179.0);
    EXPECT_LE(value, 181.0 + 1e-9);
  }
}

TEST(Realign, IsHeldBelowTheLeastSpeedAndMayLookTheSubjectInTheFace) {
  const Rows slow = play_rows(feel_from(behind(90, "track = \"t\", wait = 1, least_speed = 2.5", "")));
  for (const double goal : slow.goal) EXPECT_EQ(goal, 20.0);
  const Rows face = play_rows(feel_from(behind(90, "track = \"t\", wait = 1, least_speed = 1.5, heading = 180", "")));
  EXPECT_NEAR(face.goal[60], -90.0, 1e-9);
  const Rows fixed = play_rows(feel_from(behind(90, "to = \"heading\", heading = 45, wait = 0.5", "")));
  EXPECT_NEAR(fixed.goal[30], 45.0, 1e-12);
  EXPECT_EQ(fixed.goal[29], 20.0);
  const TakeMeasures measures = play_measures(feel_from(behind(90, "track = \"t\", wait = 1", "")));
  ASSERT_FALSE(measures.moves.empty());
  EXPECT_EQ(measures.moves[0].cause, "realign yaw");
}

/// A subject that turns in a circle: once behind it, the view keeps behind it, lagging as its motion lags.
TEST(Realign, FollowsAHeadingThatTurns) {
  const std::string text =
      "[track.t]\nkind = \"circle\"\ncentre = [0, 0, 0]\ndiameter = 10\nspeed = 2\n[channel.yaw]\nunit = "
      "\"deg\"\nspace = "
      "\"turn\"\nrest = 0\nmotion = { kind = \"glide\", rate = 8 }\nrealign = { track = \"t\", wait = 0 "
      "}\n[take.x]\nlength = "
      "12\n";
  const Rows rows = play_rows(feel_from(text));
  const double turning = 2.0 / 5 * 180 / std::acos(-1.0); // deg/s
  for (std::size_t k = 300; k < rows.time.size(); ++k)
    EXPECT_NEAR(std::fabs(rows.goal[k] - rows.smooth[k]), turning / 8, 1e-3) << k;
  EXPECT_GT(std::fabs(rows.smooth.back()), 200.0); // it has counted on past half a turn
}

TEST(Quaternion, IsTheRotationOfTheAxes) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> angle(-3.14159, 3.14159);
  for (int n = 0; n < 500; ++n) {
    const Axes axes = axes_of_view(angle(random), 0.5 * angle(random), angle(random));
    const Quaternion q = quaternion_of(axes);
    EXPECT_NEAR(q.x * q.x + q.y * q.y + q.z * q.z + q.w * q.w, 1.0, 1e-14);
    EXPECT_GE(q.w, 0.0);
    const double x = q.x, y = q.y, z = q.z, w = q.w;
    const Components right{1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)};
    const Components up{2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)};
    const Components back{2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)};
    for (std::size_t i = 0; i < 3; ++i) {
      EXPECT_NEAR(right[i], axes.right[i], 1e-12);
      EXPECT_NEAR(up[i], axes.up[i], 1e-12);
      EXPECT_NEAR(back[i], axes.back[i], 1e-12);
    }
    const Quaternion other = beside({-q.x, -q.y, -q.z, -q.w}, q);
    EXPECT_EQ(other.w, q.w);
  }
}

/// A pose over a channel that a profile drives, or that turns back, holds it until it is let go.
// Rule G2.
TEST(Profile, APoseGoesOnTop) {
  std::string text = orbit;
  text += "[pose.peek]\nheight = 9\n[control.peek]\nkind = \"hold\"\npose = \"peek\"\n";
  text.replace(text.find("value = 1 }"), 11,
               "value = 1 }, { at = 1, press = \"peek\" }, { at = 2, release = \"peek\" }");
  const Rows high = play_rows(feel_from(text), 1);
  EXPECT_EQ(high.goal[60], 9.0);
  EXPECT_EQ(high.goal[119], 9.0);
  EXPECT_LT(high.goal[121], 4.1);
}

TEST(Realign, APoseGoesOnTopAndTheHeadingIsThereAfterwards) {
  std::string text =
      behind(90, "track = \"t\", wait = 1", "{ at = 3, press = \"glance\" }, { at = 4, release = \"glance\" }");
  text += "[pose.glance]\nyaw = 0\n[control.glance]\nkind = \"hold\"\npose = \"glance\"\n";
  const Rows rows = play_rows(feel_from(text));
  EXPECT_NEAR(rows.goal[179], 90.0, 1e-9);
  EXPECT_NEAR(rows.goal[180], 0.0, 1e-9);
  EXPECT_NEAR(rows.goal[239], 0.0, 1e-9);
  EXPECT_NEAR(rows.goal[240], 90.0, 1e-9);
}

/// The same wait on any clock: the first frame at or after it.
TEST(Realign, WaitsTheSameAtEveryRate) {
  for (const double fps : {15.0, 24.0, 50.0, 144.0}) {
    std::string text = behind(90, "track = \"t\", wait = 1.03", "");
    text.replace(text.find("length = 8"), 10, fmt::format("length = 3\nclock = {{ fps = {} }}", fps));
    const Rows rows = play_rows(feel_from(text));
    for (std::size_t k = 0; k < rows.time.size(); ++k)
      EXPECT_NEAR(rows.goal[k], rows.time[k] < 1.03 - 1e-9 ? 20.0 : 90.0, 1e-9) << fps << " " << rows.time[k];
  }
}

TEST(Realign, IsToldInWords) {
  const Feel feel = feel_from(behind(90, "track = \"t\", wait = 1.5, least_speed = 0.4, heading = 180", ""));
  const std::string words = realign_in_words(feel, feel.channels[0]);
  EXPECT_NE(words.find("turns back to the way that t travels, and 180 deg beside it"), std::string::npos) << words;
  EXPECT_NE(words.find("for 1.5 s"), std::string::npos);
  EXPECT_NE(words.find("slower than 0.4 a second"), std::string::npos);
  const Feel fixed = feel_from(behind(90, "to = \"heading\", heading = 45", ""));
  EXPECT_NE(realign_in_words(fixed, fixed.channels[0]).find("the heading 45 deg"), std::string::npos);
  EXPECT_EQ(realign_in_words(feel_from(orbit), feel_from(orbit).channels[0]), "");
}

std::string kept(const std::string& motion, const std::string& picture) {
  return "[picture]\nsize = [1600, 900]\nlens = { channel = \"fov\"" + picture
         + " }\ndistance = \"d\"\n[channel.fov]\nunit = \"deg\"\nrest = 60\nspace = \"zoom\"\nmotion = { kind = "
           "\"glide\", "
           "half_life = 0.2 }\n[channel.d]\nunit = \"m\"\nrest = 1\nkeeps_width = 2.4\nmotion = { "
         + motion
         + " }\n[pose.in]\nfov = 25\n[control.c]\nkind = \"hold\"\npose = \"in\"\n[take.t]\nlength = 3\ncues = [{ at = "
           "0.5, press "
           "= \"c\" }]\n";
}

TEST(KeptWidth, TiesTheDistanceToTheLens) {
  const double degree = std::acos(-1.0) / 180;
  for (const char* axis : {"", ", axis = \"horizontal\""}) {
    const Feel feel = feel_from(kept("kind = \"cut\"", axis));
    const double aspect = axis[0] == '\0' ? 16.0 / 9 : 1.0;
    const Rows lens = play_rows(feel, 0), distance = play_rows(feel, 1);
    for (std::size_t k = 0; k < lens.time.size(); ++k)
      EXPECT_NEAR(2 * distance.smooth[k] * aspect * std::tan(0.5 * lens.smooth[k] * degree), 2.4, 1e-12) << axis;
    const auto follow = play_measures(feel).channels[1].follow;
    EXPECT_NEAR(*follow.size_error, 0.0, 1e-11);
    EXPECT_GT(play_measures(feel).channels[1].path.top_speed.value, 1.0);
  }
}

TEST(KeptWidth, SaysHowFarAMotionThatLagsIsOff) {
  const Feel feel = feel_from(kept("kind = \"glide\", half_life = 0.1", ""));
  const Rows lens = play_rows(feel, 0), distance = play_rows(feel, 1);
  double worst = 0;
  for (std::size_t k = 0; k < lens.time.size(); ++k)
    worst = std::max(
        worst, std::fabs(2 * distance.smooth[k] * 16 / 9 * std::tan(lens.smooth[k] * std::acos(-1.0) / 360) / 2.4 - 1));
  EXPECT_NEAR(*play_measures(feel).channels[1].follow.size_error, 100 * worst, 1e-9);
  EXPECT_GT(worst, 0.02);
  EXPECT_NE(kept_width_in_words(feel.channels[1]).find("keeps 2.4 m across the picture"), std::string::npos);
  EXPECT_EQ(kept_width_in_words(feel.channels[0]), "");
}

/// Collects the eye's columns.
class EyeSink final : public BlockSink {
public:
  void begin(const Scene&) override {}
  void end() override {}
  void consume(const Block& block) override {
    for (std::size_t i = 0; i < 7; ++i) columns[i].insert(columns[i].end(), block.eye[i].begin(), block.eye[i].end());
  }
  std::array<std::vector<double>, 7> columns;
};

/// Tilting to both poles and turning past half a turn: the eye looks at its focus, and its turn never leaps.
TEST(Eye, LooksAtItsFocusWithoutALeap) {
  const Feel feel = feel_from(R"x(
[picture]
focus = "focus"
distance = "distance"
yaw = "yaw"
pitch = "tilt"
[channel.focus]
unit = "m"
rest = [1, 2, 3]
[channel.distance]
unit = "m"
rest = 4
[channel.yaw]
unit = "deg"
space = "turn"
rest = 0
formula = "100 * time"
[channel.tilt]
unit = "deg"
rest = 0
formula = "90 * sin(2 * time)"
[take.t]
length = 6
)x");
  EXPECT_TRUE(has_eye_columns(feel));
  EyeSink eye;
  BlockSink* const sinks[] = {&eye};
  const Scene scene = test::scene_of(feel);
  play(scene, sinks);
  const auto header = trace_header(scene);
  EXPECT_NE(std::find(header.begin(), header.end(), "eye.qw"), header.end());
  ASSERT_EQ(eye.columns[0].size(), 361u);
  const Rows yaw = play_rows(feel, 2), tilt = play_rows(feel, 3);
  for (std::size_t k = 0; k < eye.columns[0].size(); ++k) {
    const auto& c = eye.columns;
    const double x = c[3][k], y = c[4][k], z = c[5][k], w = c[6][k];
    const Components back{2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)};
    const Components focus{1, 2, 3};
    for (std::size_t i = 0; i < 3; ++i) EXPECT_NEAR(c[i][k], focus[i] + 4 * back[i], 1e-11);
    const double pitch = tilt.smooth[k] * std::acos(-1.0) / 180;
    EXPECT_NEAR(-back[1], std::sin(pitch), 1e-12); // looks up by the tilt
    if (k == 0) continue;
    EXPECT_GT(x * c[3][k - 1] + y * c[4][k - 1] + z * c[5][k - 1] + w * c[6][k - 1], 0.99) << k;
  }
  const Feel flat = feel_from("[channel.a]\nrest = 0\n[take.t]\nlength = 1\n");
  EXPECT_FALSE(has_eye_columns(flat));
}

/// A channel that is sent from 0 to 1 while another makes its motion take this many times as long.
std::string slowed_step(const std::string& motion, const std::string& times, const std::string& more = "") {
  return fmt::format(R"(
[channel.tilt]
rest = 0
[channel.pace]
rest = 1
[profile.p]
driver = "tilt"
roundness = 0
knots = [{{ at = 0, pace = 3 }}, {{ at = 1, pace = 1 }}]
[channel.a]
rest = 0
motion = {}
motion_times = {}
{}
[take.t]
length = 3
cues = [{{ at = 0.5, goal = {{ a = 1 }} }}]
)",
                     motion, times, more);
}

TEST(MotionTimes, AreThoseOfAMotionThatTakesSoLong) {
  const auto rows = [](const std::string& motion, const std::string& times) {
    return play_rows(feel_from(slowed_step(motion, times)), 2);
  };
  const Rows plain = rows(R"({ kind = "spring", frequency = 0.5, damping_ratio = 0.4 })", "1");
  for (const std::string times : {"3", R"("pace")"}) {
    const Rows slow = rows(R"({ kind = "spring", frequency = 1.5, damping_ratio = 0.4 })", times);
    for (std::size_t k = 0; k < plain.smooth.size(); ++k) {
      EXPECT_NEAR(slow.smooth[k], plain.smooth[k], 1e-12);
      EXPECT_NEAR(slow.velocity[k], plain.velocity[k], 1e-11);
    }
    const Feel feel = feel_from(slowed_step(R"({ kind = "spring", frequency = 1.5, damping_ratio = 0.4 })", times));
    const Feel other = feel_from(slowed_step(R"({ kind = "spring", frequency = 0.5, damping_ratio = 0.4 })", "1"));
    EXPECT_NEAR(*play_measures(feel).moves[0].overshoot, *play_measures(other).moves[0].overshoot, 1e-9);
    EXPECT_NEAR(*play_measures(feel).moves[0].peak_speed, *play_measures(other).moves[0].peak_speed, 1e-9);
  }
  EXPECT_NE(account_of(feel_from(slowed_step(R"({ kind = "glide", rate = 2 })", R"("pace")")), 2).heading.find("pace"),
            std::string::npos);
}

// Rule M14.
TEST(MotionTimes, ChangeWithTheDriverWhileSpeedGoesOn) {
  // A glide of 1/s: at 3 times as long up to 1.5 s, as it is from there on.
  Feel feel = feel_from(slowed_step(R"({ kind = "glide", rate = 1.2 })", R"("pace")"));
  feel.takes[0].cues.push_back({.at = 1.5, .action = CueAction::goal, .goals = {{{0, 0}, 1.0}}});
  const Rows rows = play_rows(feel, 2);
  const double slow = 1 - std::exp(-0.4 * 1.0);
  EXPECT_NEAR(rows.smooth[90], slow, 1e-12);
  // tilt shows at the frame after its cut, pace one after that.
  const auto left = [&](std::size_t k) { return 1 - rows.smooth[k]; };
  EXPECT_NEAR(std::log(left(100) / left(160)), 1.2, 1e-9);
  Feel springy = feel_from(slowed_step(R"({ kind = "spring", frequency = 1, damping_ratio = 0.3 })", R"("pace")"));
  springy.takes[0].cues.push_back({.at = 1.0, .action = CueAction::goal, .goals = {{{0, 0}, 1.0}}});
  const Rows swing = play_rows(springy, 2);
  for (std::size_t k = 1; k < swing.smooth.size(); ++k)
    EXPECT_LT(std::fabs(swing.velocity[k] - swing.velocity[k - 1]), 1);
}

TEST(MotionTimes, AreForGlidesAndSprings) {
  const Problems problems = test::problems_of(slowed_step(R"({ kind = "ease", duration = 1 })", "2"));
  ASSERT_FALSE(problems.empty());
  EXPECT_EQ(problems.front().code, "feel.motion_times");
}

} // namespace
} // namespace stasis
