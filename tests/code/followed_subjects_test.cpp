// Subjects that a program is told about, and what goes after them, against takes that know them at the same frames.
#include <random>
#include <string>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "code/check_program.hpp"
#include "code/lower_feel.hpp"
#include "code/played_program.hpp"
#include "code/read_program.hpp"
#include "support/feels.hpp"

namespace stasis::code {
namespace {

/// Feels in which views follow two subjects in every way that is written: leads, blends, dead zones, offsets, poses
/// that look elsewhere, angles that turn back.
class FollowFeel {
public:
  explicit FollowFeel(std::uint64_t seed) : random_(seed), is_flat_(once_in(3)) {}

  std::string text() {
    std::string text = is_flat_
                           ? "[picture]\nposition = \"focus\"\nheight = { channel = \"high\" }\n"
                           : "[picture]\nfocus = \"focus\"\ndistance = \"far\"\nyaw = \"yaw\"\npitch = \"pitch\"\nlens "
                             "= { channel = \"lens\" }\n"
                                 + maybe("roll = \"roll\"\n") + maybe("side = \"side\"\n");
    text += track("fish") + track("stone");
    if (is_flat_)
      text += channel("high", "rest = 9\nrange = [1, 90]\nformula = \"9 + 0.5 * fish.speed\"\nmotion = " + motion());
    text += channel("far", "rest = 5\nrange = [1, 20]\nformula = \"5 + 0.3 * fish.speed + 0.2 * stone.x\"\nmotion = "
                               + motion());
    text += channel("side", "rest = 0.7") + "[channel.lens]\nunit = \"deg\"\nrest = 50\nspace = \"zoom\"\n"
            + "[channel.roll]\nunit = \"deg\"\nrest = 5\n[channel.pitch]\nunit = \"deg\"\nrest = -12\n"
            + "[channel.w]\nrest = 0.3\nrange = [0, 1]\nformula = \"0.5 + 0.4 * sin(time)\"\n";
    return text + yaw() + focus() + take();
  }

private:
  bool once_in(unsigned n) { return random_() % n == 0; }
  double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(random_); }
  std::string maybe(const std::string& text) { return once_in(2) ? text : std::string(); }
  template<std::size_t N> std::string one_of(const char* const (&all)[N]) { return all[random_() % N]; }
  std::string channel(const char* name, const std::string& says) {
    return fmt::format("[channel.{}]\nunit = \"m\"\n{}\n", name, says);
  }
  std::string place(double size) {
    const double x = between(-size, size), y = between(-size, size), z = between(-size, size);
    return is_flat_ ? fmt::format("[{:.2f}, {:.2f}]", x, z) : fmt::format("[{:.2f}, {:.2f}, {:.2f}]", x, 0.2 * y, z);
  }

  std::string motion() {
    const char* const all[] = {"{ kind = \"glide\", half_life = 0.2 }", "{ kind = \"cut\" }",
                               "{ kind = \"spring\", frequency = 1.7, damping_ratio = 0.5 }",
                               "{ kind = \"spring\", frequency = 3, damping_ratio = 1.4 }",
                               "{ kind = \"stages\", stages = [{ kind = \"glide\", half_life = 0.1 }, { kind = "
                               "\"spring\", frequency = 2, damping_ratio = 0.8 }] }"};
    return one_of(all);
  }
  std::string track(const std::string& name) {
    const std::string head = fmt::format("[track.{}]\nkind = ", name);
    switch (random_() % 5) {
    case 0:
      return head
             + fmt::format("\"eight\"\ncentre = {}\nwidth = 6\nheight = 3\nlap = {:.1f}\n", place(2), between(3, 8));
    case 1:
      return head + fmt::format("\"circle\"\ncentre = {}\ndiameter = 6\nspeed = {:.1f}\n", place(2), between(-3, 3));
    case 2: return head + fmt::format("\"line\"\nfrom = {}\nvelocity = {}\n", place(2), place(2));
    case 3:
      return head
             + fmt::format("\"steps\"\nplaces = [{}, {}, {}]\nevery = {:.2f}\n", place(3), place(3), place(3),
                           between(0.4, 1.2));
    default:
      return head
             + fmt::format("\"stop_and_go\"\nfrom = {}\nvelocity = {}\ngo = 0.7\nstop = 0.4\n", place(2), place(2));
    }
  }
  std::string yaw() {
    const std::string head = "[channel.yaw]\nunit = \"deg\"\nrest = 10\nspace = \"turn\"\nmotion = " + motion() + "\n";
    if (once_in(3)) return head + "formula = \"fish.heading\"\n";
    const char* const ways[] = {"velocity", "facing", "travel"};
    return head
           + fmt::format("realign = {{ track = \"fish\", wait = {:.2f}, least_speed = 0.5, to = \"{}\" }}\n",
                         between(0.2, 0.8), one_of(ways))
           + (once_in(2) ? "[control.turn]\nkind = \"stick\"\nchannel = \"yaw\"\ngain = 60\n"
                         : "[control.turn]\nkind = \"pointer\"\nchannel = \"yaw\"\ngain = 0.3\n");
  }
  std::string focus() {
    std::string text = fmt::format("[channel.focus]\nunit = \"m\"\nrest = {}\nmotion = {}\n[channel.focus.follow]\n"
                                   "track = \"fish\"\n",
                                   is_flat_ ? "[0, 0]" : "[0, 0, 0]", motion());
    text += maybe(once_in(2) ? "second = \"stone\"\nweight = 0.4\n" : "second = \"stone\"\nweight = \"w\"\n");
    const char* const leads[] = {"by = \"velocity\", seconds = 0.35", "by = \"forward_speed\", seconds = 0.3",
                                 "by = \"throttle\", distance = 0.8"};
    if (!once_in(4))
      text += fmt::format("lead = {{ {}{}{} }}\n", one_of(leads), maybe(", longest = 0.5"),
                          maybe(", motion = " + motion()));
    const std::string zones[] = {fmt::format("size = [0.6, 0.3{}]", is_flat_ ? "" : ", 0.4"),
                                 "size = [0.2, 0.1], in = \"picture\"", "size = [0.4, 0.45], in = \"margin\""};
    if (!once_in(4))
      text += fmt::format("dead_zone = {{ {}{}{} }}\n", zones[random_() % 3], maybe(", shape = \"ellipse\""),
                          maybe(", times = \"w\""));
    const char* const frames[] = {"world", "heading", "subject", "view"};
    if (once_in(2)) text += fmt::format("offset = {}\noffset_in = \"{}\"\n", place(0.6), one_of(frames));
    if (once_in(2) && text.find("stages", 0) > text.find("[channel.focus.follow]"))
      text += fmt::format("damping_in = \"{}\"\n", one_of(frames));
    return text + (once_in(5) ? "start = \"rest\"\n" : "");
  }
  std::string take() {
    const char* const clocks[] = {"fps = 60", "fps = 90, jitter = 0.3, seed = 5", "fps = 48, stalls = [[0.6, 0.15]]"};
    std::string cues = "{ at = 1.1, press = \"look\" }, { at = 1.9, release = \"look\" }";
    std::string text = "[pose.look]\nfocus = { track = \"stone\" }\n[control.look]\nkind = \"hold\"\npose = \"look\"\n";
    return text + fmt::format("[take.t]\nlength = 2.5\nclock = {{ {} }}\ncues = [{}]\n", one_of(clocks), cues);
  }

  std::mt19937_64 random_;
  bool is_flat_;
};

TEST(FollowedSubjects, AreFollowedAsInTheTake) {
  for (std::uint64_t seed = 1; seed <= 90; ++seed) {
    const std::string text = FollowFeel(seed).text();
    const Feel feel = test::feel_from(text);
    const Lowered lowered = lower(feel);
    ASSERT_TRUE(lowered.faults.empty()) << seed;
    EXPECT_TRUE(lowered.given.empty()) << text; // all of it is in the program
    const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
    EXPECT_GT(check.columns, 8u);
    EXPECT_LE(worst_of(check, lowered), 1e-12) << text;
  }
}

/// Times that people type, at rates that people use: jumps of a subject and ends of waits fall on frames.
TEST(FollowedSubjects, AreFollowedAtTypedTimes) {
  for (const int fps : {24, 30, 60})
    for (const double typed : {0.1, 0.2, 0.5}) {
      const Feel feel = test::feel_from(fmt::format(R"(
[track.leaper]
kind = "steps"
places = [[0, 0, 0], [1, 0, 0], [1, 0, 1], [0, 0, 1]]
every = {0}
[track.walker]
kind = "stop_and_go"
from = [0, 0, 0]
velocity = [1, 0, 0.5]
go = {0}
stop = 0.2
[channel.near]
unit = "m"
rest = [0, 0, 0]
motion = {{ kind = "spring", frequency = 2, damping_ratio = 0.7 }}
follow = {{ track = "leaper", lead = {{ by = "velocity", seconds = {0} }}, dead_zone = {{ size = 0.2 }} }}
[channel.late]
unit = "m"
rest = [0, 0, 0]
motion = {{ kind = "delay", delay = {0} }}
follow = {{ track = "walker", lead = {{ by = "velocity", seconds = 0.2 }} }}
[channel.yaw]
unit = "deg"
rest = 0
space = "turn"
motion = {{ kind = "glide", half_life = 0.1 }}
realign = {{ track = "walker", wait = {0}, least_speed = 0.1, to = "travel" }}
[control.turn]
kind = "stick"
channel = "yaw"
gain = 90
[take.t]
length = 2
clock = {{ fps = {1} }}
cues = [{{ at = {0}, stick = "turn", value = 1 }}, {{ at = {2}, stick = "turn", value = 0 }}]
)",
                                                    typed, fps, 2.0 * typed));
      const Lowered lowered = lower(feel);
      ASSERT_TRUE(lowered.given.empty());
      const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
      EXPECT_EQ(check.columns, 7u);
      EXPECT_LE(worst_of(check, lowered), 1e-12) << fps << " " << typed;
    }
}

/// What is drawn between the ticks of a camera is its program's part: the check goes from tick to tick.
TEST(FollowedSubjects, ACameraOnATickIsCheckedTickByTick) {
  for (const int tick : {24, 30, 60})
    for (const double typed : {0.1, 0.2, 0.5, 0.31}) { // on ticks, and beside them
      const Feel feel = test::feel_from(fmt::format(R"(
[track.fish]
kind = "circle"
centre = [0, 0, 0]
diameter = 6
speed = 2
[channel.look]
unit = "m"
rest = [0, 0, 0]
motion = {{ kind = "spring", frequency = 2, damping_ratio = 0.7 }}
follow = {{ track = "fish" }}
[channel.fov]
unit = "deg"
rest = 60
motion = {{ kind = "ease", duration = {0}, curve = "in-out sine" }}
[pose.near]
fov = 40
[control.near]
kind = "hold"
pose = "near"
[take.t]
length = 2
clock = {{ fps = 144, jitter = 0.4, seed = 3, tick = {1}, order = "on_tick" }}
cues = [{{ at = {0}, press = "near" }}, {{ at = {2}, release = "near" }}]
)",
                                                    typed, tick, 2.0 * typed));
      const Lowered lowered = lower(feel);
      const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
      EXPECT_EQ(check.columns, 4u);
      EXPECT_NEAR(static_cast<double>(check.rows), 2.0 * tick, 2.0);
      EXPECT_LE(worst_of(check, lowered), 1e-12) << tick << " " << typed;
    }
}

const char* const one_follower =
    "[track.fish]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [2, 0, 0]\n[channel.look]\n"
    "unit = \"m\"\nrest = [0, 0, 0]\nmotion = { kind = \"glide\", half_life = 0.2 }\n";

TEST(FollowedSubjects, ASubjectOfWhichNothingIsToldStands) {
  PlayedProgram played(read_program(
      lower(test::feel_from(std::string(one_follower) + "follow = { track = \"fish\", offset = [1, 2, 3] }\n")).text));
  Cell state = played.make("State"), dt;
  played.call("begin", {&state});
  dt.number = 0.1;
  for (int k = 0; k < 5; ++k) played.call("advance", {&state, &dt});
  EXPECT_EQ(played.call("value_of_look_x", {&state}), 1.0);
  EXPECT_EQ(played.call("value_of_look_z", {&state}), 3.0);
}

TEST(FollowedSubjects, WhatIsToldBeforeTheFirstFrameIsWhereAllBegins) {
  PlayedProgram played(read_program(
      lower(test::feel_from(std::string(one_follower)
                            + "follow = { track = \"fish\", offset = [0, 0, 1], offset_in = \"heading\" }\n"))
          .text));
  Cell state = played.make("State"), track, x, y, z, heading;
  played.call("begin", {&state});
  x.number = 4.0;
  y.number = 5.0;
  z.number = 6.0;
  heading.number = 90.0; // it goes left, so that behind it is to the right
  played.call("track_at", {&state, &track, &x, &y, &z, &heading});
  EXPECT_NEAR(played.call("value_of_look_x", {&state}), 5.0, 1e-12);
  EXPECT_NEAR(played.call("value_of_look_y", {&state}), 5.0, 1e-12);
  EXPECT_NEAR(played.call("value_of_look_z", {&state}), 6.0, 1e-12);
}

TEST(FollowedSubjects, WhatThePlayDoesNotKnowIsLeftToItsCalls) {
  // A subject in the picture, and one that may be lost.
  for (const bool is_lost : {false, true}) {
    Feel feel = test::feel_from(std::string(one_follower) + "follow = { track = \"fish\" }\n");
    if (is_lost)
      feel.tracks[0].lost = LostRule::base;
    else
      feel.tracks[0].in = TrackPlace::about_subject;
    const Lowered lowered = lower(feel);
    ASSERT_EQ(lowered.given.size(), 1u) << is_lost;
    EXPECT_NE(lowered.left[0].find("Say by `follow`"), std::string::npos);
  }
}

TEST(TiedSides, GoWithTheOtherSideAndMotionsTakeTheirTimes) {
  const Feel feel = test::feel_from(R"(
[picture]
height = { channel = "high" }
width = { channel = "wide" }
[channel.high]
unit = "m"
rest = 9
range = [1, 40]
space = "ratio"
motion = { kind = "spring", frequency = 2, damping_ratio = 0.6 }
motion_times = 1.7
[channel.wide]
unit = "m"
rest = 14.4
space = "ratio"
[channel.roll]
unit = "deg"
rest = 0
formula = "wide * 0.5"
motion_times = 0.4
motion = { kind = "glide", half_life = 0.3 }
[shake.s]
on = { high = 0.5 }
wave = { kind = "noise", frequency = 8 }
decay = { kind = "half_life", half_life = 0.3 }
[pose.p]
high = 5
[control.k]
kind = "hold"
pose = "p"
[take.t]
length = 3
cues = [{ at = 0.3, hit = "s" }, { at = 0.5, press = "k" }, { at = 1.5, release = "k" }]
)");
  const Lowered lowered = lower(feel);
  ASSERT_TRUE(lowered.faults.empty());
  EXPECT_TRUE(lowered.left.empty());
  const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
  EXPECT_EQ(check.columns, 3u);
  EXPECT_LE(worst_of(check, lowered), 1e-12);
}

} // namespace
} // namespace stasis::code
