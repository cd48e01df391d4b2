// Values that obstacles hold in, that sequences have, and that go by the clock: in source code they are told of that by
// calls, frame by frame. Against takes that know it all.
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

/// Feels in which a walker goes below a beam, or up to a cliff, with a distance that these hold in: by any motions,
/// asked for by poses, clicks and sticks; now and then a sequence leads the view for a while.
class WalkFeel {
public:
  explicit WalkFeel(std::uint64_t seed) : random_(seed), has_beam_(once_in(2)), is_led_(once_in(2)) {}

  std::string text() {
    std::string text = R"([picture]
focus = "focus"
distance = "radius"
yaw = "yaw"
pitch = "tilt"
[channel.tilt]
unit = "deg"
rest = -20
[channel.yaw]
unit = "deg"
space = "turn"
rest = 0
motion = { kind = "spring", frequency = 1.4, damping_ratio = 1 }
[channel.focus]
unit = "m"
rest = [0, 0.3, 6]
follow = { track = "walker", offset = [0, 0.3, 0] }
motion = { kind = "glide", half_life = "50 ms" }
)";
    // A leap as a beam comes between is no matter of one frame where the value may go through it.
    text += has_beam_
                ? "[track.walker]\nkind = \"line\"\nfrom = [0, 0, 6]\nvelocity = [0, 0, -1.8]\n"
                  "[obstacle.beam]\nkind = \"box\"\ncentre = [0, 1.5, 0]\nsize = [13, 0.3, 1.6]\n"
                : fmt::format("[track.walker]\nkind = \"circle\"\ncentre = [0, 0, {}]\ndiameter = {}\nspeed = {}\n"
                              "[obstacle.cliff]\nkind = \"plane\"\nnormal = [0, 0, -1]\nat = [0, 0, 9]\n",
                              number(3, 6), number(1, 5), number(1, 6));
    text +=
        fmt::format("[channel.radius]\nunit = \"m\"\nrest = {}\nrange = [{}, 6]\n{}motion = {{ rising = {}, falling "
                    "= {} }}\nobstacles = {{ thickness = 0.3, stand_off = {}, never_through = {} }}\n",
                    number(2, 5), number(0.3, 1), once_in(2) ? "space = \"ratio\"\n" : "", motion(), motion(),
                    number(0, 0.4), !has_beam_ && once_in(2));
    text += "[pose.far]\nradius = { times = 1.4 }\nyaw = 30\n"
            + (once_in(2) ? "leaving = { radius = " + motion() + " }\n" : std::string());
    text += fmt::format("[control.far]\nkind = \"hold\"\npose = \"far\"\n[control.look]\nkind = \"stick\"\nchannel = "
                        "\"yaw\"\ngain = 120\n[control.wheel]\nkind = \"clicks\"\nchannel = \"radius\"\nstep = "
                        "0.5\nclicks_from = \"{}\"\n",
                        once_in(2) ? "view" : "goal");
    return text + (is_led_ ? sequence() : "") + take();
  }

private:
  bool once_in(unsigned n) { return random_() % n == 0; }
  std::string number(double low, double high) {
    return fmt::format("{:.3f}", std::uniform_real_distribution<double>(low, high)(random_));
  }
  std::string link() {
    return once_in(2)
               ? "{ kind = \"glide\", half_life = " + number(0.02, 0.4) + " }"
               : "{ kind = \"spring\", frequency = " + number(0.5, 4) + ", damping_ratio = " + number(0.3, 1.5) + " }";
  }
  std::string motion() {
    const char* const handovers[] = {"restart", "carry", "pro_rata"};
    switch (random_() % 6) {
    case 0: return "{ kind = \"cut\" }";
    case 1: return "{ kind = \"pace\", speed = " + number(1, 8) + ", acceleration = " + number(4, 40) + " }";
    case 2:
      return fmt::format("{{ kind = \"ease\", duration = {}, curve = \"ease-in-out\", handover = \"{}\" }}",
                         number(0.1, 1.2), handovers[random_() % 3]);
    case 3: return "{ kind = \"stages\", stages = [" + link() + ", " + link() + "] }";
    case 4: return "{ kind = \"per_frame\", rule = \"fraction\", fraction = " + number(0.02, 0.3) + ", at_fps = 60 }";
    default: return link();
    }
  }
  std::string sequence() {
    return fmt::format("[sequence.tour]\nstops = [{{ {}, radius = 2.5, yaw = 10, focus = [0, 1, 3] }}, {{ after = {}, "
                       "radius = 3.5, yaw = 60{} }}, {{ after = {}, radius = 1.5, yaw = -40, hold = 0.2 }}]\n{}{}",
                       once_in(2) ? "at = 0, cut = true" : "after = 0.4", number(0.2, 1),
                       once_in(2) ? ", curve = \"ease-in-out\"" : "", number(0.2, 1),
                       once_in(3) ? "on_end = \"stay\"\n" : "",
                       once_in(2) ? "leaving = { radius = " + motion() + " }\n" : "");
  }
  std::string take() {
    const char* const clocks[] = {"fps = 60", "fps = 24", "fps = 60, jitter = 0.3, seed = 5",
                                  "fps = 30, stalls = [[2.2, 0.3]]"};
    std::string cues =
        "{ at = 0.31, stick = \"look\", value = " + number(-1, 1)
        + " }, { at = 0.9, stick = \"look\", value = 0 }, { at = 1.1, press = \"far\" }, { at = " + number(1.2, 2)
        + ", release = \"far\" }, { at = " + number(0, 5) + ", click = \"wheel\", count = -1 }";
    if (is_led_) cues += ", { at = " + number(0.2, 2) + ", start = \"tour\" }";
    if (is_led_ && once_in(2)) cues += ", { at = " + number(2.1, 3) + ", skip = \"tour\" }";
    return fmt::format("[take.t]\nlength = 5\nclock = {{ {} }}\ncues = [{}]\n", clocks[random_() % 4], cues);
  }

  std::mt19937_64 random_;
  bool has_beam_, is_led_;
};

double difference(const Feel& feel) {
  const Lowered lowered = lower(feel);
  EXPECT_TRUE(lowered.faults.empty());
  const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
  EXPECT_GT(check.columns, 0u);
  return worst_of(check, lowered);
}

TEST(WalledAndLedValues, MoveAsInTheTake) {
  for (std::uint64_t seed = 1; seed <= 60; ++seed) {
    const std::string text = WalkFeel(seed).text();
    EXPECT_LE(difference(test::feel_from(text)), 1e-12) << text;
  }
}

TEST(WalledAndLedValues, AreSaidWithTheCallsThatTakeThePlaceOfWhatIsLeftOut) {
  const Feel feel = test::feel_from(
      "[picture]\nfocus = \"focus\"\ndistance = \"radius\"\n[channel.focus]\nunit = \"m\"\nrest = [0, 0, "
      "0]\n[obstacle.cliff]\nkind = \"plane\"\nnormal = [0, 0, -1]\nat = [0, 0, 9]\n[channel.radius]\nunit = "
      "\"m\"\nrest "
      "= 3\nrange = [1, 6]\nobstacles = { stand_off = 0.1 }\n[sequence.tour]\nstops = [{ at = 1, radius = 5 "
      "}]\n[take.t]\n"
      "length = 1\n");
  const Lowered lowered = lower(feel);
  ASSERT_EQ(lowered.left.size(), 2u);
  EXPECT_NE(lowered.left[0].find("`limit`"), std::string::npos) << lowered.left[0];
  EXPECT_NE(lowered.left[1].find("`lead`"), std::string::npos) << lowered.left[1];
  const Program program = read_program(lowered.text);
  for (const char* call : {"limit", "limit_at", "lead", "give_back"})
    EXPECT_NE(program.function(call), nullptr) << call;
}

// A sequence that begins and is skipped at one frame has led nowhere; but what waited is asked for again.
TEST(WalledAndLedValues, ASequenceForgetsWhatWaits) {
  const Feel feel = test::feel_from(
      "[channel.radius]\nrest = 3\nmotion = { kind = \"delay\", delay = 0.3 }\n[pose.far]\nradius = 5\n[control.far]\n"
      "kind = \"hold\"\npose = \"far\"\n[sequence.tour]\nstops = [{ at = 1, radius = 4 }]\n[take.t]\nlength = 1\n");
  const Lowered lowered = lower(feel);
  ASSERT_TRUE(lowered.faults.empty());
  const auto shown_at = [&](int frame, bool is_led) {
    PlayedProgram played(read_program(lowered.text));
    Cell state = played.make("State"), control, value, at, speed, sequence, dt;
    at.number = 3.0;
    dt.number = 1.0 / 60.0;
    played.call("begin", {&state});
    played.call("press", {&state, &control});
    for (int k = 0; k < frame; ++k) {
      if (k == 6 && is_led) {
        played.call("lead", {&state, &value, &at, &speed});
        played.call("give_back", {&state, &value, &sequence});
      }
      played.call("advance", {&state, &dt});
    }
    return played.call("value_of_radius", {&state});
  };
  EXPECT_EQ(shown_at(17, false), 3.0);
  EXPECT_EQ(shown_at(20, false), 5.0);
  EXPECT_EQ(shown_at(23, true), 3.0) << "0.3 s after it was given back it has not come yet";
  EXPECT_EQ(shown_at(26, true), 5.0);
}

/// What a hand may do and a take may say: locks, another subject, a hit somewhere, slow motion.
TEST(CuesInCode, OfEveryKindDoWhatTheyDoInTheTake) {
  const std::string feel = R"([picture]
focus = "focus"
distance = "far"
yaw = "yaw"
[track.otter]
kind = "line"
from = [0, 0, 0]
velocity = [1, 0, 0]
[track.heron]
kind = "line"
from = [0, 2, 4]
velocity = [0, 0.5, 0]
[channel.focus]
unit = "m"
rest = [0, 0, 0]
follow = { track = "otter", dead_zone = { size = 0.3 } }
motion = { kind = "glide", half_life = 0.1 }
[channel.far]
unit = "m"
rest = 4
range = [1, 9]
motion = { kind = "spring", frequency = 2, damping_ratio = 0.6 }
runs_on = "clock"
[channel.yaw]
unit = "deg"
rest = 0
space = "turn"
motion = { kind = "stages", stages = [{ kind = "delay", delay = 0.1 }, { kind = "glide", half_life = 0.1 }] }
[pose.near]
far = 2
[control.near]
kind = "hold"
pose = "near"
[control.look]
kind = "stick"
channel = "yaw"
gain = 90
spin_up = 0.2
runs_on = "clock"
[shake.thud]
on = { far = 0.4, yaw = 2 }
wave = { kind = "noise", frequency = 7 }
decay = { kind = "half_life", half_life = 0.2 }
falloff = { near = 1, far = 12 }
runs_on = "clock"
[shake.kick]
on = { focus = [0.3, 0.1, 0.2] }
wave = { kind = "ring", frequency = 3, damping_ratio = 0.2 }
[take.t]
length = 4
cues = [
  { at = 0.3, hit = "kick" }, { at = 0.45, hit = "kick", direction = [0, 1, -2], strength = 0.7 },
  { at = 2.05, hit = "kick", direction = [1, 0, 0] },
  { at = 0.2, press = "near" }, { at = 0.5, stick = "look", value = 0.7 }, { at = 0.9, lock = "near" },
  { at = 1.0, press = "near" }, { at = 1.1, unlock = "near" }, { at = 1.2, hit = "thud", place = [3, 0, 0] },
  { at = 1.3, game_speed = 0.3, over = 0.2 }, { at = 1.6, follow = { focus = "heron" } }, { at = 1.9, press = "near" },
  { at = 2.1, lock = "look" }, { at = 2.2, stick = "look", value = -1 }, { at = 2.3, game_speed = 0 },
  { at = 2.4, game_speed = 1 }, { at = 2.6, unlock = "look" }, { at = 2.7, stick = "look", value = -0.4 },
  { at = 2.9, follow = { focus = "otter" } },
]
)";
  for (const int fps : {24, 60, 144}) {
    Feel read = test::feel_from(feel);
    read.takes[0].fps = fps;
    EXPECT_LE(difference(read), 1e-12) << fps;
    const Program program = read_program(lower(read).text);
    for (const char* call : {"lock_control", "unlock_control", "follow_track", "clock_goes", "hit_along"})
      EXPECT_NE(program.function(call), nullptr) << call;
  }
}

/// How quick a value is may be what another one says; which side is the other one may be seen in three ways.
TEST(ValuesInCode, AreSlowedByOthersAndMirroredByEveryRule) {
  for (const char* side : {"stored", "what_is_there", "opposite_of_now"}) {
    const Feel feel = test::feel_from(fmt::format(R"([channel.pace]
rest = 1
range = [0.2, 4]
motion = {{ kind = "glide", half_life = 0.4 }}
[channel.a]
rest = 0
motion = {{ rising = {{ kind = "spring", frequency = 2, damping_ratio = 0.5 }}, falling = {{ kind = "glide", half_life = 0.1 }} }}
motion_times = "pace"
[channel.b]
rest = 0.6
range = [-2, 2]
motion = {{ kind = "spring", frequency = 1.5, damping_ratio = 0.8 }}
[pose.out]
a = 3
pace = 3
[control.out]
kind = "hold"
pose = "out"
[control.side]
kind = "cycle"
mirror = "b"
side = "{}"
centre = 0.1
[take.t]
length = 3
cues = [
  {{ at = 0.3, press = "out" }}, {{ at = 0.5, press = "side" }}, {{ at = 0.7, press = "side" }},
  {{ at = 1.4, release = "out" }}, {{ at = 1.9, press = "side" }},
]
)",
                                                  side));
    const Lowered lowered = lower(feel);
    EXPECT_TRUE(lowered.left.empty());
    EXPECT_TRUE(lowered.unlike.empty());
    EXPECT_LE(difference(feel), 1e-12) << side;
  }
}

} // namespace
} // namespace stasis::code
