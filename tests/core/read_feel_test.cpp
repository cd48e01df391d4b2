#include <algorithm>
#include <map>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/feel/key_table.hpp"
#include "core/feel/read_feel.hpp"
#include "core/units.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::problems_of;

constexpr const char* whole_feel = R"(feel = 1
title = "T"
[picture]
size = [640, 480]
lens = { channel = "fov", axis = "horizontal" }
[channel.fov]
unit = "deg"
rest = 62
range = [30, 95]
space = "zoom"
motion = "soft"
[channel.focus]
unit = "m"
rest = [0, "35 cm", 0]
range = [[-1, -2, -3], 4]
motion = { x = "soft", z = { kind = "glide", half_life = 1 } }
[motion.soft]
kind = "spring"
frequency = 1.6
damping_ratio = 0.9
[pose.near]
fov = "0.5 rad"
focus = [1, 1, 1]
[control.near]
kind = "hold"
pose = "near"
[take.t]
length = "2000 ms"
clock = { fps = 50 }
cues = [ { at = 1.5, release = "near" }, { at = 0.5, press = "near" } ]
)";

TEST(ReadFeel, ReadsAWholeFeel) {
  const Feel feel = feel_from(whole_feel);
  EXPECT_EQ(feel.title, "T");
  EXPECT_EQ(feel.picture.width, 640);
  EXPECT_EQ(feel.picture.lens_channel, 0u);
  EXPECT_EQ(feel.picture.lens_axis, Picture::LensAxis::horizontal);
  ASSERT_EQ(feel.channels.size(), 2u);
  EXPECT_EQ(feel.channels[0].name, "fov");
  EXPECT_EQ(feel.channels[0].space.space, Space::zoom);
  EXPECT_EQ(feel.channels[1].components, 3u);
  EXPECT_EQ(feel.channels[1].rest[1], 0.35);
  EXPECT_EQ(feel.channels[1].range[2].low, -3.0);
  EXPECT_EQ(feel.channels[1].range[2].high, 4.0);
  EXPECT_EQ(kind_of(feel.motions[feel.channels[1].motion[1].rising].motion), "cut");
  EXPECT_EQ(kind_of(feel.motions[feel.channels[1].motion[2].rising].motion), "glide");
  EXPECT_DOUBLE_EQ(feel.poses[0].goals[0].value[0].amount, degrees(0.5));
  EXPECT_EQ(feel.takes[0].length, 2.0);
  EXPECT_EQ(feel.takes[0].fps, 50.0);
  EXPECT_EQ(feel.takes[0].cues[0].at, 0.5); // sorted by time
}

struct Fault {
  const char* name;
  const char* what; ///< replaced in the whole feel
  const char* with;
  const char* code;
  const char* path;
  const char* message; ///< part of message and hint
};

void PrintTo(const Fault& fault, std::ostream* out) { *out << fault.name; }

class ReadFeelFault : public testing::TestWithParam<Fault> {};

TEST_P(ReadFeelFault, IsNamedWithItsPlaceAndWhatToDo) {
  const Fault& fault = GetParam();
  std::string text = whole_feel;
  const auto at = text.find(fault.what);
  ASSERT_NE(at, std::string::npos);
  text.replace(at, std::string(fault.what).size(), fault.with);
  const Problems problems = problems_of(text);
  ASSERT_FALSE(problems.empty());
  const Problem& problem = problems.front();
  EXPECT_EQ(problem.code, fault.code);
  EXPECT_EQ(problem.path, fault.path);
  EXPECT_NE((problem.message + " " + problem.hint).find(fault.message), std::string::npos)
      << problem.message << " " << problem.hint;
  EXPECT_GT(problem.where.line, 0);
  EXPECT_EQ(problems.size(), 1u) << "one fault, one problem";
}

INSTANTIATE_TEST_SUITE_P(
    All, ReadFeelFault,
    testing::Values(
        Fault{"misspelt", "frequency", "freqency", "feel.unknown_key", "motion.soft.freqency",
              "Did you mean frequency?"},
        Fault{"unknown_key", "rest = 62", "rest = 62\nrestt = 3", "feel.unknown_key", "channel.fov.restt",
              "Did you mean rest?"},
        Fault{"key_of_another_kind", "frequency = 1.6", "frequency = 1.6\nhalf_life = 3", "feel.unknown_key",
              "motion.soft.half_life", "belongs to [motion.NAME] kind = \"glide\""},
        Fault{"unit_kind", "rest = 62", "rest = \"62 ms\"", "feel.unit", "channel.fov.rest",
              "expected an angle in deg, rad or turn, found \"62 ms\", which is a time"},
        Fault{"unit_unknown", "length = \"2000 ms\"", "length = \"2 parsecs\"", "feel.unit", "take.t.length",
              "expected a time in s, ms or min"},
        Fault{"pose_without_channel", "fov = \"0.5 rad\"", "fow = 30", "feel.unknown_channel", "pose.near.fow",
              "Did you mean fov?"},
        Fault{"rest_outside", "range = [30, 95]", "range = [70, 95]", "feel.rest_outside_range", "channel.fov.rest",
              "62 lies outside the range 70 to 95"},
        Fault{"range_upside_down", "range = [30, 95]", "range = [95, 30]", "feel.range", "channel.fov.range",
              "not below"},
        Fault{"range_not_a_pair", "range = [30, 95]", "range = 30", "feel.range", "channel.fov.range", "list of two"},
        Fault{"not_a_number", "rest = 62", "rest = nan", "feel.not_finite", "channel.fov.rest", "found nan"},
        Fault{"infinite", "rest = 62", "rest = inf", "feel.not_finite", "channel.fov.rest", "found inf"},
        Fault{"negative_frequency", "frequency = 1.6", "frequency = -1.6", "feel.out_of_bounds",
              "motion.soft.frequency", "at least 0.0001 and at most 100000 Hz, found -1.6"},
        Fault{"no_frames", "fps = 50", "fps = 0", "feel.out_of_bounds", "take.t.clock.fps", "found 0"},
        Fault{"text_for_number", "damping_ratio = 0.9", "damping_ratio = \"stiff\"", "feel.unit",
              "motion.soft.damping_ratio", "without quotes"},
        Fault{"number_for_text", "title = \"T\"", "title = 5", "feel.not_a_text", "title",
              "expected a text in quotes, found 5"},
        Fault{"flag_for_number", "damping_ratio = 0.9", "damping_ratio = true", "feel.not_a_number",
              "motion.soft.damping_ratio", "found true"},
        Fault{"date_for_number", "damping_ratio = 0.9", "damping_ratio = 2026-01-01", "feel.not_a_number",
              "motion.soft.damping_ratio", "found a date"},
        Fault{"choice", "space = \"zoom\"", "space = \"zom\"", "feel.choice", "channel.fov.space",
              "Did you mean zoom?"},
        Fault{"kind", "kind = \"spring\"", "kind = \"sprint\"", "feel.choice", "motion.soft.kind",
              "Did you mean spring?"},
        Fault{"kind_missing", "kind = \"spring\"", "", "feel.missing_key", "motion.soft.kind", "missing"},
        Fault{"two_words_for_one", "half_life = 1", "half_life = 1, rate = 2", "feel.too_many_keys",
              "channel.focus.motion.z.rate", "half_life and rate do not go together"},
        Fault{"half_of_a_pair", "half_life = 1", "per_frame = 0.1", "feel.missing_key", "channel.focus.motion.z.at_fps",
              "missing"},
        Fault{"motion_unknown", "motion = \"soft\"", "motion = \"sofd\"", "feel.unknown_motion", "channel.fov.motion",
              "Did you mean soft?"},
        Fault{"motion_component", "x = \"soft\"", "w = \"soft\"", "feel.unknown_key", "channel.focus.motion.w",
              "x, y and z"},
        Fault{"pose_unknown", "pose = \"near\"", "pose = \"nears\"", "feel.unknown_pose", "control.near.pose",
              "Did you mean near?"},
        Fault{"control_unknown", "press = \"near\"", "press = \"zoom_out\"", "feel.unknown_control",
              "take.t.cues[1].press", "Known: near"},
        Fault{"lens_unknown", "channel = \"fov\"", "channel = \"lens\"", "feel.unknown_channel", "picture.lens.channel",
              "Known: fov and focus"},
        Fault{"lens_not_an_angle", "channel = \"fov\"", "channel = \"focus\"", "feel.unit", "picture.lens.channel",
              "the lens is an angle"},
        Fault{"cue_past_end", "at = 1.5", "at = 2.5", "feel.cue_past_end", "take.t.cues[0].at",
              "after the take's end at 2 s"},
        Fault{"cue_of_two_minds", "release = \"near\"", "release = \"near\", press = \"near\"", "feel.too_many_keys",
              "take.t.cues[0].press", "do not go together"},
        Fault{"components", "focus = [1, 1, 1]", "focus = [1, 1]", "feel.component_count", "pose.near.focus",
              "has 3 components, the goal has 2"},
        Fault{"too_many_components", "focus = [1, 1, 1]", "focus = [1, 1, 1, 1]", "feel.component_count",
              "pose.near.focus", "found a list of 4"},
        Fault{"outside_zoom", "fov = \"0.5 rad\"", "fov = 180", "feel.outside_space", "pose.near.fov",
              "between 0 and 180"},
        Fault{"zoom_without_angle",
              "unit = \"deg\"\nrest = 62\nrange = [30, 95]\nspace = \"zoom\"\nmotion = \"soft\"\n[channel.focus]\nunit "
              "= \"m\"",
              "unit = \"deg\"\nrest = 62\n[channel.focus]\nunit = \"m\"\nspace = \"zoom\"", "feel.space_unit",
              "channel.focus.space", "is for angles"},
        Fault{"bad_name", "[take.t]", "[take.T]", "feel.name", "take.T", "small letter"},
        Fault{"curve", "kind = \"glide\", half_life = 1", "kind = \"ease\", duration = 1, curve = \"in-out\"",
              "feel.curve", "channel.focus.motion.z.curve", "is not a curve"},
        Fault{"version", "feel = 1", "feel = 2", "feel.out_of_bounds", "feel", "a whole number, 1, found 2"},
        Fault{"picture_size", "size = [640, 480]", "size = [640]", "feel.component_count", "picture.size",
              "two whole numbers"},
        Fault{"channel_not_a_table", "[picture]", "[pose]\nfar = 3\n[picture]", "feel.not_a_table", "pose.far",
              "expected a table"}),
    [](const auto& fault) { return std::string(fault.param.name); });

TEST(ReadFeel, NamesAreUniqueAcrossKindsButAControlMayShareItsPoses) {
  const Problems problems = problems_of("[channel.fov]\nrest = 1\n[motion.fov]\nkind = \"cut\"\n");
  ASSERT_EQ(problems.size(), 1u);
  EXPECT_EQ(problems[0].code, "feel.name_taken");
  EXPECT_EQ(problems[0].where.line, 3);
}

TEST(ReadFeel, ReportsEveryFaultInTheOrderOfTheText) {
  const Problems problems =
      problems_of("colour = 1\n[channel.a]\nrest = \"x\"\nspase = 1\n[pose.p]\nb = 1\n[take.t]\nlength = -1\n");
  ASSERT_EQ(problems.size(), 5u);
  int line = 0;
  for (const Problem& problem : problems) {
    EXPECT_GE(problem.where.line, line);
    line = problem.where.line;
  }
}

/// A feel in which things of every kind are named by others.
constexpr const char* feel_of_names = R"([picture]
lens = { channel = "fov" }
distance = "away"
focus = "focus"
yaw = "turn"
[channel.fov]
unit = "deg"
rest = 60
motion = "soft"
[channel.away]
unit = "m"
rest = 4
obstacles = { only = ["wall"] }
[channel.focus]
unit = "m"
rest = [0, 0, 0]
follow = { track = "otter", lead = { by = "throttle", stick = "lean", distance = 1 } }
[channel.turn]
unit = "deg"
space = "turn"
rest = 0
realign = { to = "travel", track = "otter" }
[motion.soft]
kind = "glide"
half_life = 0.2
[track.otter]
kind = "line"
from = [0, 0, 0]
velocity = [1, 0, 0]
[track.clear]
kind = "steps"
every = 0.5
places = [[4], [2]]
[obstacle.wall]
kind = "recorded"
track = "clear"
[pose.near]
fov = 40
focus = { track = "otter" }
[control.near]
kind = "hold"
pose = "near"
unless = "round"
[control.round]
kind = "cycle"
poses = ["home", "near"]
[control.lean]
kind = "stick"
channel = "turn"
gain = 90
[control.begin]
kind = "sequence"
sequence = "tour"
[group.all]
policy = "latest"
controls = ["near", "round"]
[switch.close]
on = "away"
enter_below = 2
leave_above = 3
pose = "near"
keep = ["fov"]
[shake.hit]
wave = { kind = "stride", length = 1, track = "otter" }
decay = { kind = "half_life", half_life = 0.1 }
on = { fov = 1 }
[sequence.tour]
along = "focus"
skipped_by = ["near"]
stops = [{ at = 0, focus = [0, 0, 0] }, { at = 1, focus = [1, 0, 0] }]
[take.t]
length = 2
cues = [{ at = 0.1, press = "near" }, { at = 0.2, hit = "hit" }, { at = 0.3, start = "tour" }, { at = 0.5, follow = { focus = "otter" } }]
[[want]]
measure = "fov.settling_time"
at_most = 1
take = "t"
)";

TEST(ReadFeel, ThingsWhoseTablesAreMisspeltMayBeNamedByOthers) {
  const std::string whole = feel_of_names;
  for (const std::string family :
       {"channel", "motion", "track", "obstacle", "pose", "control", "group", "switch", "shake", "sequence", "take"}) {
    std::string text = whole;
    const std::string begins = "\n[" + family + ".", spoilt = "\n[" + family + family.back() + ".";
    for (std::size_t at = text.find(begins); at != std::string::npos; at = text.find(begins, at + 1))
      text.replace(at, begins.size(), spoilt);
    ASSERT_NE(text, whole);
    const Problems problems = problems_of(text);
    EXPECT_TRUE(std::any_of(problems.begin(), problems.end(), [&](const Problem& one) {
      return one.code == "feel.unknown_key" && one.path == family + family.back();
    })) << family;
    EXPECT_EQ(problems.size(), 1u) << family << ": that alone is said";
  }
}

TEST(ReadFeel, AnEmptyTextHasNoChannel) {
  ASSERT_EQ(problems_of("").size(), 1u);
  EXPECT_EQ(problems_of("")[0].code, "feel.no_channel");
}

TEST(ReadFeel, SizesHaveLimits) {
  std::string many;
  for (std::size_t i = 0; i <= most_channels; ++i) many += fmt::format("[channel.c{}]\nrest = 0\n", i);
  EXPECT_EQ(problems_of(many).front().code, "feel.too_many");
  EXPECT_EQ(problems_of("[channel.a]\nrest = 0\n[take.t]\nlength = 86400\nclock = { fps = 100000 }").front().code,
            "feel.too_many");
}

TEST(ReadFeel, ValidNames) {
  for (const char* name : {"a", "fov", "a_1", "log_hit2"}) EXPECT_TRUE(is_valid_name(name)) << name;
  for (const char* name : {"", "A", "1a", "_a", "a-b", "a.b", "</script>", "\xC3\xA9"})
    EXPECT_FALSE(is_valid_name(name)) << name;
  EXPECT_FALSE(is_valid_name(std::string(65, 'a')));
}

TEST(KeyTable, IsInOrder) {
  for (const SectionSpec& section : all_sections())
    for (const KeySpec& spec : section.keys) {
      EXPECT_FALSE(spec.meaning.empty()) << section.id << '.' << spec.key;
      EXPECT_TRUE(spec.meaning.ends_with('.')) << section.id << '.' << spec.key;
      // A section that ends in a point is a family, told apart by `kind`.
      if ((spec.kind == ValueKind::table || spec.kind == ValueKind::list) && !spec.section.ends_with('.')) {
        EXPECT_NE(find_section(spec.section), nullptr) << spec.key;
      }
      if (spec.kind == ValueKind::choice) {
        EXPECT_FALSE(spec.choices.empty()) << spec.key;
      }
      EXPECT_FALSE(spec.required && !spec.fallback.empty()) << spec.key;
    }
}

/// A feel with one section of a kind and nothing that it asks for.
std::string feel_with_kind(const std::string& id) {
  const auto dot = id.rfind('.');
  const std::string family = id.substr(0, dot), kind = id.substr(dot + 1);
  const std::string section = family == "shake.wave" ? "[shake.s]\nwave = "
                              : family == "shake.decay"
                                  ? "[shake.s]\nwave = { kind = \"noise\", frequency = 5 }\ndecay = "
                                  : fmt::format("[{}]\none = ", family);
  return fmt::format("feel = 1\n{}{{ kind = \"{}\" }}\n", section, kind);
}

TEST(Kinds, OfTheKeyTableAreAllRead) {
  std::map<std::string, int> kinds; // by family
  for (const SectionSpec& section : all_sections()) {
    const std::string id(section.id), family = id.substr(0, id.rfind('.'));
    if (section.heading.find("kind = ") == std::string_view::npos) continue;
    ++kinds[family];
    problems_of(feel_with_kind(id)); // a kind that nothing reads would end the program
  }
  EXPECT_EQ(kinds.size(), 6u);
  for (const auto& [family, count] : kinds) EXPECT_GE(count, 4) << family;
  for (const AskedKeys& rule : find_section("motion.per_frame")->asks)
    problems_of(
        fmt::format("feel = 1\n[motion]\none = {{ kind = \"per_frame\", rule = \"{}\", {} = 0.5, at_fps = 60 }}\n",
                    rule.value, keys_in(rule.needs)[0]));
}

// A general word is answered by the kind that it means, whatever is spelt most like it.
TEST(Kinds, OfGeneralWordsAreNamed) {
  const struct {
    const char *section, *word, *kind;
  } meant[] = {{"obstacle.box", "ball", "sphere"},    {"obstacle.box", "Floor", "plane"},
               {"track.line", "way points", "steps"}, {"track.line", "csv", "recorded"},
               {"control.hold", "mouse", "pointer"},  {"control.hold", "on-off", "toggle"},
               {"shake.wave.noise", "sine", "sines"}, {"motion.cut", "lerp", "glide"}};
  for (const auto& one : meant) {
    std::string text = feel_with_kind(one.section);
    const auto kind = text.rfind("kind = ");
    text = text.substr(0, kind) + fmt::format("kind = \"{}\" }}\n", one.word);
    const Problems problems = problems_of(text);
    const std::string named = fmt::format("kind = \"{}\"", one.kind);
    EXPECT_TRUE(std::any_of(problems.begin(), problems.end(), [&](const Problem& problem) {
      return problem.hint.find(named) != std::string::npos;
    })) << text;
  }
}

} // namespace
} // namespace stasis
