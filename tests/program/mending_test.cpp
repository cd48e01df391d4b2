// Likely mistakes: the paragraph that says what is wrong also says what to write.
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

struct Mistake {
  const char* name;
  const char* text;
  const char* fix; ///< what must stand in the message
};
void PrintTo(const Mistake& mistake, std::ostream* out) { *out << mistake.name; }

constexpr Mistake mistakes[] = {
    {"step_below_zero", "[control.w]\nkind = \"clicks\"\nchannel = \"d\"\nstep = -20\n", "step = 20, invert = true"},
    {"time_without_quotes", "[motion.m]\nkind = \"glide\"\nhalf_life = 300ms\n", "half_life = \"300ms\""},
    {"name_without_quotes", "[channel.e]\nunit = \"m\"\nrest = 1\nmotion = lazy\n", "motion = \"lazy\""},
    {"name_without_quotes_within", "[channel.e]\nunit = \"m\"\nrest = 1\nmotion = { kind = spring, frequency = 2 }\n",
     "kind = \"spring\""},
    {"frequency_with_damping", "[motion.m]\nkind = \"spring\"\nfrequency = 2\ndamping = 9\n",
     "frequency goes with damping_ratio, damping goes with stiffness"},
    {"range_by_component", "[channel.e]\nunit = \"m\"\nrest = [0, 0, 0]\nrange = [[-1, 1], [0, 2], [-3, 3]]\n",
     "range = [[-1, 0, -3], [1, 2, 3]]"},
    {"range_by_name", "[channel.e]\nunit = \"m\"\nrest = [0, 0]\nrange = { x = [-1, 1], y = [0, 2] }\n",
     "range = [[-1, 0], [1, 2]]"},
    {"lerp", "[motion.m]\nkind = \"lerp\"\nfactor = 0.1\n", "kind = \"glide\", with half_life"},
    {"smooth", "[motion.m]\nkind = \"smooth\"\n", "kind = \"glide\", with half_life"},
    {"linear_interpolation", "[motion.m]\nkind = \"Linear interpolation\"\n", "rule = \"fraction\""},
    {"tween", "[motion.m]\nkind = \"tween\"\nduration = 1\n", "kind = \"ease\", with duration and curve"},
    {"motion_called_lerp", "[channel.e]\nunit = \"m\"\nrest = 1\nmotion = \"lerp\"\n", "motion = { kind = .. }"},
    {"curve_called_smooth", "[motion.m]\nkind = \"ease\"\nduration = 1\ncurve = \"smooth\"\n", "\"ease-in-out\""},
    {"press_and_release",
     "[pose.p]\nd = 5\n[control.p]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2\ncues = [{ at = 0.5, press = "
     "\"p\", release = \"p\" }]\n",
     "{ at = 0.5, press = \"NAME\" }, { at = 1.5, release = \"NAME\" }"},
    {"click_on_a_toggle",
     "[pose.p]\nd = 5\n[control.p]\nkind = \"toggle\"\npose = \"p\"\n[take.t]\nlength = 2\ncues = [{ at = 0.5, click = "
     "\"p\" }]\n",
     "{ at = .., press = \"p\" }"},
    {"gain_as_a_table", "[control.s]\nkind = \"stick\"\nchannel = \"d\"\ngain = { channel = \"d\", times = 2 }\n",
     "gain = \"distance\""},
    {"bands_that_leave_nothing",
     "[control.s]\nkind = \"stick\"\nchannel = \"d\"\ndead_band = 0.6\nouter_dead_band = 0.4\n",
     "together they must be less than 1"},
    {"until_with_amount",
     "[shake.s]\non = { d = 1 }\nwave = { kind = \"sines\", frequency = 4 }\ndecay = { kind = \"per_frame\", amount = "
     "0.1, until = 0.01, at_fps = 60 }\n",
     "until goes with factor only"},
    {"pixels_beyond_the_picture",
     "[picture]\nsize = [200, 100]\nposition = \"p\"\nheight = { channel = \"h\" }\n[channel.h]\nrest = "
     "10\n[track.t]\nkind "
     "= \"line\"\nfrom = [0, 0]\nvelocity = [1, 0]\n[channel.p]\nrest = [0, 0]\nfollow = { track = \"t\", dead_zone = "
     "{ size "
     "= \"150 px\", in = \"picture\" } }\n",
     "a share of the picture's height, or from 0 to 100 px of it, such as \"10 px\", found the text \"150 px\""},
    {"bare_kind_of_a_motion", "[channel.e]\nrest = 1\nmotion = \"spring\"\n",
     "motion = { kind = \"spring\", frequency = ..., damping_ratio = ... }."},
    {"bare_kind_of_a_wave", "[shake.s]\non = { d = 1 }\nwave = \"ring\"\n",
     "Write { kind = \"ring\", frequency = ..., damping_ratio = ... }."},
    {"bare_kind_of_a_decay",
     "[shake.s]\non = { d = 1 }\nwave = { kind = \"noise\", frequency = 4 }\ndecay = \"half_life\"\n",
     "Write { kind = \"half_life\", half_life = ... }."},
    {"rms_of_a_ring",
     "[shake.s]\non = { d = 1 }\namounts = \"rms\"\nwave = { kind = \"ring\", frequency = 4, damping_ratio = 0.2 }\n",
     "leave amounts out"},
};

class Mended : public ::testing::TestWithParam<Mistake> {};

TEST_P(Mended, ByWhatItsParagraphSays) {
  const TempDir folder;
  folder.write("feel.toml", std::string("[channel.d]\nunit = \"m\"\nrest = 4\nrange = [1, 9]\n") + GetParam().text);
  const Ended ended = run_program(folder, {"check", "feel.toml"});
  EXPECT_EQ(ended.status, 2) << ended.out;
  EXPECT_NE(ended.err.find(GetParam().fix), std::string::npos) << ended.err;
}

INSTANTIATE_TEST_SUITE_P(Mistakes, Mended, ::testing::ValuesIn(mistakes),
                         [](const auto& param) { return std::string(param.param.name); });

} // namespace
} // namespace stasis::test
