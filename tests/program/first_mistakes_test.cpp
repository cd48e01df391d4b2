// One slip in a feel that is right otherwise, of the kind that everyone makes in the first hour: one paragraph answers
// it, and says what to write.
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* right_feel = R"(title = "First"
[channel.fov]
unit = "deg"
rest = 60
range = [30, 95]
space = "zoom"
motion = "soft"
[motion.soft]
kind = "spring"
frequency = 2
damping_ratio = 0.7
[pose.aim]
fov = 40
[control.aim]
kind = "hold"
pose = "aim"
[take.one]
length = 3
clock = { fps = 60 }
cues = [{ at = 0.5, press = "aim" }, { at = 2, release = "aim" }]
)";

struct Slip {
  const char* name;
  const char* right;
  const char* wrong; ///< what is written instead
  const char* fix;   ///< what must stand in the answer
};
void PrintTo(const Slip& slip, std::ostream* out) { *out << slip.name; }

constexpr Slip slips[] = {
    {"name_without_quotes", "motion = \"soft\"", "motion = soft", "motion = \"soft\""},
    {"time_with_its_unit", "length = 3", "length = 3000ms", "length = \"3000ms\""},
    {"angle_with_its_unit", "rest = 60", "rest = 60deg", "rest = \"60deg\""},
    {"no_closing_quote", "title = \"First\"", "title = \"First", "A text ends on the line where it begins"},
    {"colon_for_equals", "rest = 60", "rest: 60", "rest = 60"},
    {"nothing_for_equals", "rest = 60", "rest 60", "rest = 60"},
    {"semicolon", "rest = 60", "rest = 60;", "ends without a semicolon"},
    {"comment_of_another_language", "rest = 60", "// at rest\nrest = 60", "A comment begins with #"},
    {"list_without_commas", "range = [30, 95]", "range = [30 95]", "separated by commas: [30, 95]"},
    {"table_over_two_lines", "{ at = 0.5, press", "{ at = 0.5,\n press", "is on one line"},
    {"table_without_commas", "{ at = 0.5, press", "{ at = 0.5 press", "separated by commas: { at = 0.5"},
    {"comma_behind_the_last", "press = \"aim\" }", "press = \"aim\", }", "none after the last"},
    {"key_given_twice", "unit = \"deg\"", "unit = \"deg\"\nunit = \"m\"", "Line 3 gives it already"},
    {"table_given_twice", "[pose.aim]", "[channel.fov]\nunit = \"m\"\n[pose.aim]", "Line 2 gives it already"},
    {"motion_within_the_channel", "[motion.soft]", "[channel.fov.motion.soft]", "Line 7 gives it already"},
    {"no_unit", "unit = \"deg\"\n", "", "unit = \"deg\""},
    {"unit_spelled_out", "unit = \"deg\"", "unit = \"degrees\"", "unit = \"deg\""},
    {"rest_by_a_general_word", "rest = 60", "default = 60", "rest = 60"},
    {"bounds_apart", "range = [30, 95]", "min = 30", "range = [30, 95]"},
    {"bounds_turned_round", "range = [30, 95]", "range = [95, 30]", "95 is not below the highest 30"},
    {"rest_outside", "rest = 60", "rest = 100", "must be inside"},
    {"capital_letter", "rest = 60", "Rest = 60", "Did you mean rest?"},
    {"channel_in_capitals", "fov = 40", "FOV = 40", "Did you mean fov?"},
    {"plural", "[motion.soft]", "[motions.soft]", "Did you mean motion?"},
    {"time_of_a_channel", "rest = 60", "rest = 60\ntime = \"clock\"", "runs_on = \"clock\""},
    {"flag_for_a_word", "kind = \"spring\"", "kind = true", "expected cut, glide, spring"},
    {"plural_of_the_channels", "[channel.fov]", "[channels.fov]", "Did you mean channel?"},
    {"kind_called_type", "kind = \"spring\"", "type = \"spring\"", "kind = \"spring\""},
    {"kind_left_out", "kind = \"spring\"\n", "", "With these keys it is kind = \"spring\""},
    {"kind_of_a_control_left_out", "kind = \"hold\"\n", "", "kind = \"hold\" or \"toggle\""},
    {"motion_in_place_without_kind", "motion = \"soft\"", "motion = { half_life = 0.1 }", "kind = \"glide\""},
    {"word_of_programmers", "kind = \"spring\"\nfrequency = 2\ndamping_ratio = 0.7", "kind = \"lerp\"\nspeed = 5",
     "kind = \"glide\", with half_life"},
    {"such_a_word_with_more", "kind = \"spring\"", "kind = \"smooth approach\"", "kind = \"glide\", with half_life"},
    {"easing", "kind = \"spring\"\nfrequency = 2\ndamping_ratio = 0.7",
     "kind = \"ease\"\nduration = 0.3\neasing = \"linear\"", "curve = \"ease-in-out\""},
    {"wrong_partner", "damping_ratio = 0.7", "damping = 9", "frequency goes with damping_ratio"},
    {"number_in_quotes", "damping_ratio = 0.7", "damping_ratio = \"0.7\"", "0.7"},
    {"per_cent", "damping_ratio = 0.7", "damping_ratio = \"70%\"", "A share is a plain number: 0.7"},
    {"below_nothing", "frequency = 2", "frequency = -2", "at least 0.0001"},
    {"take_with_a_duration", "length = 3", "duration = 3", "length = 3"},
    {"frame_rate_of_the_take", "clock = { fps = 60 }", "fps = 60", "clock = { fps = 60 }"},
    {"cue_by_time", "at = 0.5", "time = 0.5", "at = 0.5"},
    {"one_cue_without_brackets", "cues = [{ at = 0.5, press = \"aim\" }, { at = 2, release = \"aim\" }]",
     "cues = { at = 0.5, press = \"aim\" }", "cues = [{"},
    {"cue_after_the_end", "at = 2", "at = 5", "Make the take longer or the cue earlier"},
    {"cue_for_nobody", "press = \"aim\"", "press = \"zoom\"", "Known: aim"},
    {"toggle_by_a_flag", "pose = \"aim\"", "pose = \"aim\"\ntoggle = true", "kind = \"toggle\""},
    {"one_want_as_a_table", "[take.one]", "[want]\nmeasure = \"fov.settling_time\"\nat_most = 1\n[take.one]",
     "[[want]]"},
};

class FirstMistakes : public testing::TestWithParam<Slip> {};

TEST_P(FirstMistakes, OneParagraphSaysWhatToWrite) {
  const Slip& slip = GetParam();
  std::string text = right_feel;
  const std::size_t at = text.find(slip.right);
  ASSERT_NE(at, std::string::npos);
  text.replace(at, std::string_view(slip.right).size(), slip.wrong);
  const TempDir folder;
  folder.write("my.toml", text);
  const Ended ended = run_program(folder, {"run", "my.toml", "--figure", "none"});
  EXPECT_NE(ended.status, 0) << ended.out;
  EXPECT_NE(ended.err.find(slip.fix), std::string::npos) << ended.err;
  EXPECT_EQ(ended.err.find("stasis: error:"), ended.err.rfind("stasis: error:")) << "more than one paragraph\n"
                                                                                 << ended.err;
}
INSTANTIATE_TEST_SUITE_P(Slips, FirstMistakes, testing::ValuesIn(slips),
                         [](const auto& slip) { return std::string(slip.param.name); });

TEST(FirstMistakesTest, WithoutASlipTheFeelRuns) {
  const TempDir folder;
  folder.write("my.toml", right_feel);
  const Ended ended = run_program(folder, {"run", "my.toml", "--figure", "none"});
  EXPECT_EQ(ended.status, 0) << ended.err;
}

} // namespace
} // namespace stasis::test
