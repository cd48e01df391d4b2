// A healthy feel with one accident planted in it: `check` names the accident by its code, and no other warning is.
#include <set>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* behind_the_heron = R"(title = "Behind the heron"
[picture]
size = [1280, 720]
lens = { channel = "fov", axis = "vertical" }
focus = "look"
distance = "back"
side = "side"
yaw = "pan"
pitch = "tilt"
[track.heron]
kind = "eight"
centre = [0, 0, 0]
width = 10
height = 6
lap = 20
unit = "m"
radius = 0.3
[channel.look]
unit = "m"
rest = [0, 0.5, 0]
follow = { track = "heron", offset = [0, 0.5, 0] }
motion = "near"
[channel.back]
unit = "m"
rest = 4
range = [1.5, 8]
space = "ratio"
motion = "firm"
[channel.side]
unit = "m"
rest = 0.5
range = [-1, 1]
motion = "firm"
[channel.pan]
unit = "deg"
rest = 0
space = "turn"
motion = "firm"
[channel.tilt]
unit = "deg"
rest = -10
range = [-60, 40]
motion = "firm"
[channel.fov]
unit = "deg"
rest = 60
range = [30, 90]
space = "zoom"
motion = "firm"
[motion.firm]
kind = "spring"
frequency = 2
damping_ratio = 1
[motion.near]
kind = "glide"
half_life = 0.05
[pose.aim]
fov = 40
side = 0.3
[pose.run]
fov = 75
back = 5
[control.aim]
kind = "hold"
pose = "aim"
[control.run]
kind = "hold"
pose = "run"
[control.wheel]
kind = "clicks"
channel = "back"
step = 1.1
[control.shoulder]
kind = "cycle"
mirror = "side"
[control.turn]
kind = "pointer"
channel = "pan"
gain = 0.1
[group.hands]
controls = ["aim", "run"]
policy = "latest"
[shake.hit]
on = { pan = 0.5, tilt = 0.5 }
wave = { kind = "noise", frequency = 7 }
decay = { kind = "half_life", half_life = 0.2 }
stack = "largest"
[take.play]
length = 9
clock = { fps = 60 }
cues = [{ at = 0.5, press = "aim" }, { at = 2, release = "aim" }, { at = 3, press = "run" }, { at = 4.5, release = "run" }, { at = 5, click = "wheel", count = 2 }, { at = 6, hit = "hit" }, { at = 6.5, press = "shoulder" }, { at = 7, pointer = "turn", counts = 100 }]
)";

constexpr const char* over_the_pool = R"(title = "Over the pool"
[picture]
size = [1280, 720]
height = { channel = "tall" }
position = "middle"
[track.fish]
kind = "eight"
centre = [0, 0]
width = 10
height = 6
lap = 20
unit = "m"
radius = 0.3
[channel.middle]
unit = "m"
rest = [0, 0]
follow = "fish"
motion = { kind = "glide", half_life = 0.1 }
[channel.tall]
unit = "m"
rest = 10
range = [4, 20]
motion = { kind = "glide", half_life = 0.1 }
[pose.wide]
tall = 14
[control.wide]
kind = "hold"
pose = "wide"
[take.play]
length = 8
clock = { fps = 60 }
cues = [{ at = 1, press = "wide" }, { at = 4, release = "wide" }]
)";

struct Change {
  std::string right, wrong;
};

struct Plant {
  const char* name;
  const char* code;
  const char* feel;
  std::vector<Change> changes;
};
void PrintTo(const Plant& plant, std::ostream* out) { *out << plant.name; }

const Plant plants[] = {
    {"fraction",
     "per_frame",
     behind_the_heron,
     {{"kind = \"spring\"\nfrequency = 2\ndamping_ratio = 1",
       "kind = \"per_frame\"\nrule = \"fraction\"\nfraction = 0.1\nat_fps = 60"}}},
    {"product",
     "per_frame",
     behind_the_heron,
     {{"kind = \"spring\"\nfrequency = 2\ndamping_ratio = 1",
       "kind = \"per_frame\"\nrule = \"product\"\nrate = 6\nat_fps = 60"}}},
    {"mirror_current",
     "side_not_stored",
     behind_the_heron,
     {{"mirror = \"side\"", "mirror = \"side\"\nside = \"opposite_of_now\""}}},
    {"steps_every_frame", "step_every_frame", behind_the_heron, {{"step = 1.1", "step = 1.1\nevery_frame = true"}}},
    {"double_repeat",
     "double_by_repeat",
     behind_the_heron,
     {{"step = 1.1", "step = 1.1\ndouble_within = 0.3\nrepeat_every = 0.1\nrepeats_double = true"}}},
    {"counts_dt", "counts_times_time", behind_the_heron, {{"gain = 0.1", "gain = 6\ntimes_frame_time = true"}}},
    {"opposed",
     "opposed_without_group",
     behind_the_heron,
     {{"[group.hands]\ncontrols = [\"aim\", \"run\"]\npolicy = \"latest\"\n", ""}}},
    {"threshold",
     "switch_without_gap",
     behind_the_heron,
     {{"[shake.hit]", "[pose.close]\nfov = 70\n[switch.closing]\non = \"back\"\npose = \"close\"\nenter_below = "
                      "3\nleave_above = 3\n[shake.hit]"}}},
    {"shake_latest", "shake_latest", behind_the_heron, {{"stack = \"largest\"", "stack = \"latest\""}}},
    {"shake_frame",
     "shake_per_frame",
     behind_the_heron,
     {{"wave = { kind = \"noise\", frequency = 7 }", "wave = { kind = \"every_frame\" }"}}},
    {"shake_decay_frame",
     "shake_per_frame",
     behind_the_heron,
     {{"decay = { kind = \"half_life\", half_life = 0.2 }",
       "decay = { kind = \"per_frame\", factor = 0.95, until = 0.02, at_fps = 60 }"}}},
    {"shake_grows",
     "shake_grows",
     behind_the_heron,
     {{"decay = { kind = \"half_life\", half_life = 0.2 }",
       "decay = { kind = \"per_frame\", amount = 0.02, at_fps = 60, runs_below_zero = true }"}}},
    {"shake_cut", "shake_cut", behind_the_heron, {{"half_life = 0.2 }", "half_life = 0.2, stop_after = 0.3 }"}}},
    {"shake_folds", "shake_folds", behind_the_heron, {{"frequency = 7", "frequency = 45"}}},
    {"unused_pose", "unused_pose", behind_the_heron, {{"[control.aim]", "[pose.idle]\nfov = 66\n[control.aim]"}}},
    {"unused_motion",
     "unused_motion",
     behind_the_heron,
     {{"[pose.aim]", "[motion.slow]\nkind = \"glide\"\nhalf_life = 0.4\n[pose.aim]"}}},
    {"outside", "goal_outside_range", behind_the_heron, {{"fov = 40", "fov = 20"}}},
    {"held",
     "held_at_limit",
     behind_the_heron,
     {{"damping_ratio = 1", "damping_ratio = 0.4"}, {"range = [30, 90]", "range = [39, 90]"}}},
    {"unsettled", "unsettled", behind_the_heron, {{"length = 9", "length = 7.2"}}},
    {"unlikely", "unlikely_time", behind_the_heron, {{"half_life = 0.05", "half_life = 50"}}},
    {"undamped", "never_settles", behind_the_heron, {{"damping_ratio = 1", "damping_ratio = 0"}}},
    {"raw_lead",
     "raw_lead",
     over_the_pool,
     {{"follow = \"fish\"\nmotion = { kind = \"glide\", half_life = 0.1 }",
       "follow = { track = \"fish\", lead = { by = \"velocity\", seconds = 0.4 } }\nmotion = { kind = \"cut\" }"}}},
    {"out",
     "out_of_picture",
     over_the_pool,
     {{"half_life = 0.1 }\n[channel.tall]", "half_life = 2 }\n[channel.tall]"},
      {"range = [4, 20]", "range = [4, 20]"},
      {"rest = 10", "rest = 5"}}},
    {"inside",
     "inside_subject",
     behind_the_heron,
     {{"range = [1.5, 8]", "range = [0.2, 8]"},
      {"back = 5", "back = 0.25\nside = 0"},
      {"rest = [0, 0.5, 0]\nfollow = { track = \"heron\", offset = [0, 0.5, 0] }",
       "rest = [0, 0, 0]\nfollow = \"heron\""},
      {"pose = \"run\"\n", "pose = \"run\"\n"}}},
    {"camera_first",
     "camera_first",
     over_the_pool,
     {{"fps = 60 }", "fps = 60, tick = 50, between = \"blend\", order = \"camera_first\" }"}}},
    {"tick", "tick_judder", over_the_pool, {{"fps = 60 }", "fps = 60, tick = 50 }"}}},
    {"through",
     "through_obstacle",
     behind_the_heron,
     {{"[channel.look]", "[obstacle.post]\nkind = \"box\"\ncentre = [4.5, 1, 5]\nsize = [1, 4, 0.4]\n[channel.look]"},
      {"range = [1.5, 8]\nspace = \"ratio\"", "range = [0.3, 8]\nspace = \"ratio\"\nobstacles = { thickness = 0.2, "
                                              "stand_off = 0.2, never_through = false }"}}},
    {"comfort",
     "uncomfortable_motion",
     behind_the_heron,
     {{"pitch = \"tilt\"", "pitch = \"tilt\"\ntop_turn_speed = 60"}, {"counts = 100", "counts = 900"}}},
    {"silentmix",
     "short_of_goal",
     behind_the_heron,
     {{"kind = \"spring\"\nfrequency = 2\ndamping_ratio = 1", "kind = \"ease\"\nduration = 0.4\ncurve = \"short\""},
      {"[pose.aim]", "[curve.short]\npoints = [[0, 0], [0.5, 0.4], [1, 0.9]]\n[pose.aim]"}}},
    {"grid",
     "cell_of_grid",
     over_the_pool,
     {{"position = \"middle\"", "position = \"middle\"\ncoarse = [320, 180]"},
      {"follow = \"fish\"", "follow = \"fish\"\nsnap = 0.05"}}},
    {"scale",
     "scale_not_whole",
     over_the_pool,
     {{"position = \"middle\"", "position = \"middle\"\ncoarse = [500, 281]"}}},
    {"press_stick",
     "press_without_effect",
     behind_the_heron,
     {{"kind = \"pointer\"\nchannel = \"pan\"\ngain = 0.1", "kind = \"stick\"\nchannel = \"pan\"\ngain = 60"},
      {"pointer = \"turn\", counts = 100", "press = \"turn\""}}},
    {"roll",
     "uncomfortable_roll",
     behind_the_heron,
     {{"pitch = \"tilt\"", "pitch = \"tilt\"\nroll = \"roll\"\nmost_roll = 1"},
      {"[motion.firm]",
       "[channel.roll]\nunit = \"deg\"\nrest = 0\nrange = [-10, 10]\nmotion = \"firm\"\n[motion.firm]"},
      {"on = { pan = 0.5, tilt = 0.5 }", "on = { roll = 4 }"}}},
    {"unsnap",
     "snap_at_stop",
     behind_the_heron,
     {{"[shake.hit]", "[sequence.tour]\nstops = [{ at = 0, back = 4 }, { after = 1, back = 6, curve = \"linear\" }, { "
                      "after = 1, back = 3, curve = \"linear\" }]\n[shake.hit]"},
      {"{ at = 7, pointer", "{ at = 6.6, start = \"tour\" }, { at = 7, pointer"},
      {"length = 9", "length = 14"}}},
};

/// The codes of what `check` warns of in a feel.
std::set<std::string> warned_of(const std::string& feel) {
  const TempDir folder;
  folder.write("feel.toml", feel);
  const Ended ended = run_program(folder, {"check", "feel.toml", "--json"});
  EXPECT_EQ(ended.err, "");
  if (!ended.err.empty()) return {};
  std::set<std::string> codes;
  const nlohmann::json found = nlohmann::json::parse(ended.out);
  for (const auto& one : found["warnings"]) codes.insert(one["code"].get<std::string>());
  return codes;
}

TEST(PlantedAccident, HealthyFeelsAreNotWarnedOfAndStandStress) {
  for (const char* const feel : {behind_the_heron, over_the_pool}) {
    EXPECT_EQ(warned_of(feel), std::set<std::string>{});
    const TempDir folder;
    folder.write("feel.toml", feel);
    const Ended ended = run_program(folder, {"stress", "feel.toml", "--plays", "200", "--figure", "none"});
    EXPECT_EQ(ended.status, 0) << ended.out;
  }
}

class PlantedAccidents : public testing::TestWithParam<Plant> {};

TEST_P(PlantedAccidents, IsNamedAndNothingElseIs) {
  std::string feel = GetParam().feel;
  for (const Change& change : GetParam().changes) {
    const std::size_t at = feel.find(change.right);
    ASSERT_NE(at, std::string::npos) << change.right;
    feel.replace(at, change.right.size(), change.wrong);
  }
  EXPECT_EQ(warned_of(feel), std::set<std::string>{GetParam().code});
}
INSTANTIATE_TEST_SUITE_P(Plants, PlantedAccidents, testing::ValuesIn(plants),
                         [](const auto& plant) { return std::string(plant.param.name); });

} // namespace
} // namespace stasis::test
