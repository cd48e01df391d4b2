// What a feel may not say of tracks, what follows them, obstacles, shakes, clocks and the picture: each fault is named,
// with what was found and what is allowed.
#include <gtest/gtest.h>

#include "support/feels.hpp"

namespace stasis {
namespace {

using test::problems_of;

struct SceneFault {
  const char* name;
  std::string text;
  const char* code;
  const char* path;
  const char* words; ///< of the message or the hint
};
void PrintTo(const SceneFault& fault, std::ostream* out) { *out << fault.name; }

class ReadSceneFault : public testing::TestWithParam<SceneFault> {};

TEST_P(ReadSceneFault, IsNamedWithItsPlaceAndWhatToDo) {
  const SceneFault& fault = GetParam();
  const Problems problems = problems_of(fault.text);
  ASSERT_FALSE(problems.empty());
  const Problem& problem = problems.front();
  EXPECT_EQ(problem.code, fault.code);
  EXPECT_EQ(problem.path, fault.path);
  const std::string said = problem.message + " " + problem.hint;
  EXPECT_NE(said.find(fault.words), std::string::npos) << said;
  EXPECT_GT(problem.where.line, 0);
}

const std::string otter_track =
    "[track.otter]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [0, 0, -1]\nunit = \"m\"\n";
const std::string clear_track = "[track.clear]\nkind = \"line\"\nfrom = 4\nvelocity = 0\n";
const std::string two_angles = "[channel.yaw]\nunit = \"deg\"\nrest = 0\n[channel.fov]\nunit = \"deg\"\nrest = 60\n";

std::string focus_feel(const std::string& follow, const std::string& more = "") {
  return otter_track + "[channel.focus]\nunit = \"m\"\nrest = [0, 0, 0]\nfollow = " + follow + "\n" + more;
}
std::string picture_feel(const std::string& keys) {
  return two_angles + "[channel.place]\nrest = [0, 0, 0]\n[channel.far]\nrest = 4\n[picture]\n" + keys + "\n";
}
std::string take_feel(const std::string& keys) { return "[channel.a]\nrest = 0\n[take.t]\nlength = 2\n" + keys + "\n"; }
std::string shake_feel(const std::string& keys, const std::string& more = "") {
  return "[channel.a]\nrest = 0\n[shake.hit]\non = { a = 1 }\n" + keys + "\n" + more;
}
std::string obstacle_feel(const std::string& keys) {
  return clear_track + "[channel.a]\nrest = 1\n[obstacle.o]\n" + keys + "\n";
}
const std::string smooth_noise = "wave = { kind = \"noise\", frequency = 4 }\n";
const std::string by_halves = "decay = { kind = \"half_life\", half_life = 0.2 }\n";

INSTANTIATE_TEST_SUITE_P(
    Follow, ReadSceneFault,
    testing::Values(
        SceneFault{"another_space",
                   otter_track + "[channel.d]\nunit = \"m\"\nrest = [1, 1, 1]\nspace = \"ratio\"\nfollow = \"otter\"\n",
                   "feel.follow", "channel.d.follow.track", "space linear"},
        SceneFault{"no_such_part", otter_track + "[channel.d]\nunit = \"m\"\nrest = 1\nfollow = \"otter.w\"\n",
                   "feel.component_count", "channel.d.follow.track", "no component \"w\""},
        SceneFault{"another_unit", otter_track + "[channel.d]\nunit = \"deg\"\nrest = 1\nfollow = \"otter.x\"\n",
                   "feel.unit", "channel.d.follow.track", "is in m, but d is in deg"},
        SceneFault{"second_of_another_size", focus_feel("{ track = \"otter\", second = \"clear\" }", clear_track),
                   "feel.component_count", "channel.focus.follow.second", "1 components"},
        SceneFault{"weight_alone", focus_feel("{ track = \"otter\", weight = 0.5 }"), "feel.missing_key",
                   "channel.focus.follow.weight", "second track"},
        SceneFault{"offset_of_two", focus_feel("{ track = \"otter\", offset = [1, 2] }"), "feel.component_count",
                   "channel.focus.follow.offset", "the offset has 2"},
        SceneFault{"all_kept", focus_feel("{ track = \"otter\", keep = [\"x\", \"y\", \"z\"] }"), "feel.follow",
                   "channel.focus.follow.keep", "nothing follows"},
        SceneFault{
            "lead_that_eases",
            focus_feel("{ track = \"otter\", lead = { by = \"velocity\", seconds = 1, motion = { kind = \"ease\", "
                       "duration = 1 } } }"),
            "feel.motion", "channel.focus.follow.lead.motion", "cut, glide or spring"},
        SceneFault{"zone_of_two", focus_feel("{ track = \"otter\", dead_zone = { size = [1, 2] } }"),
                   "feel.component_count", "channel.focus.follow.dead_zone.size", "one number or 3"},
        SceneFault{"zone_in_no_picture",
                   focus_feel("{ track = \"otter\", dead_zone = { size = 0.2, in = \"picture\" } }"), "feel.follow",
                   "channel.focus.follow.dead_zone.in", "how large the picture is"},
        SceneFault{"zone_larger_than_the_picture",
                   focus_feel("{ track = \"otter\", dead_zone = { size = 0.7, in = \"margin\" } }"),
                   "feel.out_of_bounds", "channel.focus.follow.dead_zone.size", "at most 0.5"},
        SceneFault{"zone_by_no_channel", focus_feel("{ track = \"otter\", dead_zone = { size = 1, times = \"big\" } }"),
                   "feel.unit", "channel.focus.follow.dead_zone.times", "big"},
        SceneFault{"damping_of_one",
                   otter_track
                       + "[channel.d]\nunit = \"m\"\nrest = 1\nfollow = { track = \"otter.x\", damping_in = "
                         "\"heading\" }\n",
                   "feel.component_count", "channel.d.follow.damping_in", "no axes to turn"},
        SceneFault{"damping_by_an_ease",
                   focus_feel("{ track = \"otter\", damping_in = \"heading\" }",
                              "motion = { kind = \"ease\", duration = 1 }\n"),
                   "feel.follow", "channel.focus.follow.damping_in", "cuts, glides and springs"},
        SceneFault{"formula_too", focus_feel("\"otter\"", "formula = { x = \"1\" }\n"), "feel.two_owners",
                   "channel.focus.follow", "formula already"}),
    [](const auto& each) { return std::string(each.param.name); });

INSTANTIATE_TEST_SUITE_P(
    Track, ReadSceneFault,
    testing::Values(
        SceneFault{"velocity_of_two", "[track.t]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [1, 2]\n",
                   "feel.component_count", "track.t.velocity", "has 3 components, this has 2"},
        SceneFault{"round_on_a_line", "[track.t]\nkind = \"circle\"\ncentre = 1\ndiameter = 2\nspeed = 1\n",
                   "feel.component_count", "track.t.centre", "two or three"},
        SceneFault{"places_no_list", "[track.t]\nkind = \"steps\"\nplaces = 3\nevery = 1\n", "feel.not_a_list",
                   "track.t.places", "[[0, 0], [3, 1]]"},
        SceneFault{"places_of_two_sizes", "[track.t]\nkind = \"steps\"\nplaces = [[0, 0], [1]]\nevery = 1\n",
                   "feel.component_count", "track.t.places[1]", "has 2 numbers, this has 1"},
        SceneFault{"two_bodies",
                   "[track.t]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [1, 0, 0]\nradius = 1\nbox = 2\n",
                   "feel.too_many_keys", "track.t.box", "give one"},
        SceneFault{"kind_unknown", "[track.t]\nkind = \"lime\"\n", "feel.choice", "track.t.kind", "Did you mean line?"},
        SceneFault{"file_that_is_no_text", "[track.t]\nkind = \"recorded\"\nfile = 3\n", "feel.not_a_text",
                   "track.t.file", "CSV file"}),
    [](const auto& each) { return std::string(each.param.name); });

INSTANTIATE_TEST_SUITE_P(
    Obstacle, ReadSceneFault,
    testing::Values(
        SceneFault{"no_kind", obstacle_feel("centre = [0, 0, 0]"), "feel.missing_key", "obstacle.o.kind", "missing"},
        SceneFault{"kind_unknown", obstacle_feel("kind = \"boxx\""), "feel.choice", "obstacle.o.kind",
                   "Did you mean box?"},
        SceneFault{"place_of_two", obstacle_feel("kind = \"sphere\"\ncentre = [0, 0]\ndiameter = 1"),
                   "feel.component_count", "obstacle.o.centre", "three numbers, found 2"},
        SceneFault{"no_size", obstacle_feel("kind = \"sphere\"\ncentre = [0, 0, 0]\ndiameter = 0"),
                   "feel.out_of_bounds", "obstacle.o.diameter", "greater than 0"},
        SceneFault{"turn_of_two", obstacle_feel("kind = \"box\"\ncentre = [0, 0, 0]\nsize = 1\nturn = [1, 2]"),
                   "feel.component_count", "obstacle.o.turn", "[yaw, pitch, roll]"},
        SceneFault{"point_twice", obstacle_feel("kind = \"wall\"\npoints = [[0, 0], [1, 1], [1, 1]]"), "feel.points",
                   "obstacle.o.points[2]", "the same as the one before"},
        SceneFault{"upside_down", obstacle_feel("kind = \"wall\"\npoints = [[0, 0], [1, 1]]\ntop = 1\nbottom = 1"),
                   "feel.out_of_bounds", "obstacle.o.top", "above the lower"},
        SceneFault{"track_unknown", obstacle_feel("kind = \"recorded\"\ntrack = \"claer\""), "feel.unknown_track",
                   "obstacle.o.track", "Did you mean clear?"},
        SceneFault{"track_of_three", otter_track + obstacle_feel("kind = \"recorded\"\ntrack = \"otter\""),
                   "feel.component_count", "obstacle.o.track", "one number"},
        SceneFault{"name_taken",
                   obstacle_feel("kind = \"recorded\"\ntrack = \"clear\"")
                       + "[obstacle.a]\nkind = "
                         "\"recorded\"\ntrack = "
                         "\"clear\"\n",
                   "feel.name_taken", "obstacle.a", "already a channel named a"},
        SceneFault{"holds_a_place",
                   clear_track
                       + "[obstacle.o]\nkind = \"recorded\"\ntrack = \"clear\"\n[channel.p]\nrest = [0, 0]\nobstacles "
                         "= {}\n",
                   "feel.obstacles", "channel.p.obstacles", "not a distance"},
        SceneFault{"holds_a_turn",
                   clear_track
                       + "[obstacle.o]\nkind = \"recorded\"\ntrack = \"clear\"\n[channel.p]\nunit = \"deg\"\nspace = "
                         "\"turn\"\nrest = 0\nobstacles = {}\n",
                   "feel.obstacles", "channel.p.obstacles", "go round"},
        SceneFault{"a_ratio_without_range",
                   clear_track
                       + "[obstacle.o]\nkind = \"recorded\"\ntrack = \"clear\"\n[channel.p]\nspace = \"ratio\"\nrest = "
                         "1\nobstacles = {}\n",
                   "feel.no_range", "channel.p.obstacles", "Give the channel a range"},
        SceneFault{"take_names_none",
                   obstacle_feel("kind = \"recorded\"\ntrack = \"clear\"")
                       + "[take.t]\nlength = "
                         "1\nobstacles = [\"p\"]\n",
                   "feel.unknown_obstacle", "take.t.obstacles", "Known: o."}),
    [](const auto& each) { return std::string(each.param.name); });

INSTANTIATE_TEST_SUITE_P(
    Picture, ReadSceneFault,
    testing::Values(
        SceneFault{"distance_of_three", picture_feel("distance = \"place\""), "feel.component_count",
                   "picture.distance", "one number"},
        SceneFault{"focus_of_one", picture_feel("focus = \"far\""), "feel.component_count", "picture.focus",
                   "three components"},
        SceneFault{"position_of_one", picture_feel("position = \"far\""), "feel.component_count", "picture.position",
                   "two or three"},
        SceneFault{"yaw_no_angle", picture_feel("yaw = \"far\""), "feel.unit", "picture.yaw", "is an angle"},
        SceneFault{"coarse_of_one", picture_feel("coarse = 3"), "feel.component_count", "picture.coarse",
                   "two whole numbers"},
        SceneFault{"size_of_halves", picture_feel("size = [100.5, 20]"), "feel.component_count", "picture.size",
                   "two whole numbers"},
        SceneFault{"height_of_three", picture_feel("height = { channel = \"place\" }"), "feel.component_count",
                   "picture.height.channel", "one number"},
        SceneFault{"placed_without_distance",
                   "[picture]\nposition = \"eye\"\nfocus = \"f\"\n[channel.f]\nrest = [0, 0, 0]\n[channel.eye]\nrest = "
                   "[0, 0, 0]\nplaced = true\n",
                   "feel.picture", "channel.eye.placed", "distance"}),
    [](const auto& each) { return std::string(each.param.name); });

INSTANTIATE_TEST_SUITE_P(
    Shake, ReadSceneFault,
    testing::Values(
        SceneFault{"strengths_no_table", shake_feel(smooth_noise + by_halves + "strengths = 3"), "feel.not_a_table",
                   "shake.hit.strengths", "{ ripple = 0.3 }"},
        SceneFault{"ring_that_is_always_there",
                   shake_feel("wave = { kind = \"ring\", frequency = 4, damping_ratio = 0.1 }\nalways = true"),
                   "feel.follow", "shake.hit.always", "starts with a hit"},
        SceneFault{"far_before_near", shake_feel(smooth_noise + by_halves + "falloff = { near = 3, far = 2 }"),
                   "feel.out_of_bounds", "shake.hit.falloff.far", "more than near"},
        SceneFault{"falloff_without_an_eye", shake_feel(smooth_noise + by_halves + "falloff = { near = 3, far = 5 }"),
                   "feel.follow", "shake.hit.falloff", "where the eye is"},
        SceneFault{"direction_of_two",
                   shake_feel("wave = { kind = \"ring\", frequency = 4, damping_ratio = 0.1 }",
                              "[take.t]\nlength = 1\ncues = [{ at = 0, hit = \"hit\", direction = [1, 2] }]\n"),
                   "feel.component_count", "take.t.cues[0].direction", "shakes 1 components"},
        SceneFault{"direction_of_noise",
                   shake_feel(smooth_noise + by_halves,
                              "[take.t]\nlength = 1\ncues = [{ at = 0, hit = \"hit\", direction = [1] }]\n"),
                   "feel.too_many_keys", "take.t.cues[0].direction", "only a ring"},
        SceneFault{"place_without_falloff",
                   shake_feel(smooth_noise + by_halves,
                              "[take.t]\nlength = 1\ncues = [{ at = 0, hit = \"hit\", place = [1, 2, 3] "
                              "}]\n"),
                   "feel.too_many_keys", "take.t.cues[0].place", "feels the same everywhere"}),
    [](const auto& each) { return std::string(each.param.name); });

INSTANTIATE_TEST_SUITE_P(
    Take, ReadSceneFault,
    testing::Values(
        SceneFault{"tracks_no_table", take_feel("tracks = 3"), "feel.not_a_table", "take.t.tracks",
                   "{ otter = \"drill\" }"},
        SceneFault{"tracks_of_two_sizes", otter_track + clear_track + take_feel("tracks = { otter = \"clear\" }"),
                   "feel.component_count", "take.t.tracks.otter", "otter has 3 components, clear has 1"},
        SceneFault{"stalls_no_list", take_feel("clock = { stalls = 3 }"), "feel.not_a_list", "take.t.clock.stalls",
                   "[[1.5, 0.2]]"},
        SceneFault{"stall_of_one", take_feel("clock = { stalls = [[1]] }"), "feel.component_count",
                   "take.t.clock.stalls[0]", "a pair"},
        SceneFault{"cues_no_list", take_feel("cues = 3"), "feel.cues", "take.t.cues", "list of cues"},
        SceneFault{"goal_of_two", take_feel("cues = [{ at = 0, goal = { a = [1, 2] } }]"), "feel.component_count",
                   "take.t.cues[0].goal.a", "has 1 component, the goal has 2"},
        SceneFault{"random_until_too_late",
                   take_feel("random = { presses = 3, of = [\"c\"], from = 1, to = 5 }")
                       + "[control.c]\nkind = \"hold\"\npose "
                         "= \"p\"\n[pose.p]\na = 1\n",
                   "feel.out_of_bounds", "take.t.random.to", "not past the take's end"},
        SceneFault{
            "follow_of_no_track",
            focus_feel("\"otter\"", "[take.t]\nlength = 1\ncues = [{ at = 0, follow = { focus = \"heron\" } }]\n"),
            "feel.unknown_track", "take.t.cues[0].follow.focus", "heron"},
        SceneFault{"follow_of_another_size",
                   clear_track
                       + focus_feel("\"otter\"",
                                    "[take.t]\nlength = 1\ncues = [{ at = 0, follow = { focus = \"clear\" } "
                                    "}]\n"),
                   "feel.component_count", "take.t.cues[0].follow.focus", "not as many components"}),
    [](const auto& each) { return std::string(each.param.name); });

INSTANTIATE_TEST_SUITE_P(
    Formula, ReadSceneFault,
    testing::Values(SceneFault{"whole_channel",
                               focus_feel("\"otter\"", "[channel.b]\nrest = 0\nformula = \"focus + 1\"\n"),
                               "feel.formula", "channel.b.formula", "focus.x"},
                    SceneFault{"whole_track", otter_track + "[channel.b]\nrest = 0\nformula = \"otter.colour\"\n",
                               "feel.formula", "channel.b.formula", "speed, heading, throttle"},
                    SceneFault{"no_such_component", "[channel.b]\nrest = [0, 0]\nformula = { z = \"1\" }\n",
                               "feel.unknown_key", "channel.b.formula.z", "no component \"z\""},
                    SceneFault{"want_on_nothing",
                               "[channel.b]\nrest = 0\n[take.t]\nlength = 1\n[[want]]\ntake = \"t\"\nmeasure = "
                               "\"c.overshoot\"\nat_most = 1\n",
                               "feel.unknown_channel", "want[0].measure", "\"c\""},
                    SceneFault{"silence_without_reason",
                               "[channel.b]\nrest = 0\n[[silence]]\nwarning = \"start_kick\"\nreason = \" \"\n",
                               "feel.reason", "silence[0].reason", "needs a reason"},
                    SceneFault{"setting_without_a_range", "[channel.b]\nrest = 0\n[setting.s]\nvalue = 1\nrange = 3\n",
                               "feel.range", "setting.s.range", "list of two"},
                    SceneFault{"points_no_pairs", "[channel.b]\nrest = 0\n[curve.c]\npoints = [[0, 0], 3]\n",
                               "feel.points", "curve.c.points[1]", "a pair [time, value]"},
                    SceneFault{"points_back_in_time",
                               "[channel.b]\nrest = 0\n[curve.c]\npoints = [[0, 0], [1, 1], [0.5, 1]]\n", "feel.points",
                               "curve.c.points[2]", "must ascend"},
                    SceneFault{"points_of_one", "[channel.b]\nrest = 0\n[curve.c]\npoints = [[0, 0]]\n", "feel.points",
                               "curve.c.points", "found a list of 1"}),
    [](const auto& each) { return std::string(each.param.name); });

} // namespace
} // namespace stasis
