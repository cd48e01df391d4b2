// What gives channels their goals, said once: who is led, what bends between frames, what need never rest.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/feel/goal_source.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

const std::string one_second_take = "[take.t]\nlength = 1\n";
const std::string straight_track = "[track.swimmer]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [1, 0]\n";

struct Facts {
  std::size_t sources;
  bool led, may_run, curved, never_rests;
  bool operator==(const Facts&) const = default;
};
std::ostream& operator<<(std::ostream& out, const Facts& f) {
  return out << f.sources << " led " << f.led << " runs " << f.may_run << " curved " << f.curved << " never rests "
             << f.never_rests;
}
/// Of the last channel of a feel.
Facts facts_of_last(const std::string& text) {
  const Feel feel = test::feel_from(text + one_second_take);
  const std::size_t c = feel.channels.size() - 1;
  return {goal_sources(feel, c).size(), is_led(feel, c), may_run(feel, c), has_curved_goals(feel, feel.takes[0]),
          channels_that_never_rest(feel)[c]};
}

TEST(GoalSource, WhatOnlyPosesMoveHasNone) {
  EXPECT_EQ(facts_of_last("[channel.a]\nrest = 0\n"), (Facts{0, false, false, false, false}));
}

TEST(GoalSource, AHandMovesItAndLeavesItAlone) {
  const std::string a = "[channel.a]\nrest = 0\n";
  EXPECT_EQ(facts_of_last(a + "[control.s]\nkind = \"stick\"\nchannel = \"a\"\n"),
            (Facts{1, false, true, true, false}));
  EXPECT_EQ(facts_of_last(a + "[control.p]\nkind = \"pointer\"\nchannel = \"a\"\ngain = 1\n"),
            (Facts{1, false, true, true, false}));
  EXPECT_EQ(facts_of_last("[channel.a]\nrest = 0\nrange = [0, 9]\n[control.w]\nkind = \"clicks\"\nchannel = "
                          "\"a\"\nstep = 1\n"),
            (Facts{0, false, false, false, false}));
}

TEST(GoalSource, AStraightTrackIsNotCurvedAndALeadBendsIt) {
  const std::string a = straight_track + "[channel.a]\nrest = [0, 0]\n";
  EXPECT_EQ(facts_of_last(a + "follow = \"swimmer\"\n"), (Facts{1, true, true, false, true}));
  EXPECT_EQ(facts_of_last(a + "follow = { track = \"swimmer\", dead_zone = { size = 1 } }\n"),
            (Facts{1, true, true, true, true}));
}

TEST(GoalSource, AFormulaRestsWhereWhatItReadsRests) {
  const std::string reads_a = "[channel.b]\nrest = 0\nformula = \"2 * a\"\n";
  EXPECT_EQ(facts_of_last("[channel.a]\nrest = 0\n" + reads_a), (Facts{1, true, true, true, false}));
  EXPECT_EQ(facts_of_last("[channel.a]\nrest = 0\nformula = \"time\"\n" + reads_a), (Facts{1, true, true, true, true}));
}

/// A goal that sets off, or is cut, just before something else happens, and goes on, is what it is without that.
TEST(GoalSource, WhatHappensElsewhereMakesNoMove) {
  const auto moves_of = [](const std::string& formula, double press) {
    const Feel feel = test::feel_from(fmt::format(
        "[channel.c]\nrest = 0\n[channel.b]\nrest = 0\n[channel.a]\nrest = 0\nformula = \"{}\"\nmotion = {{ kind = "
        "\"glide\", half_life = 0.1 }}\n[pose.p]\nb = 1\n[control.k]\nkind = \"hold\"\npose = "
        "\"p\"\n[sequence.s]\nstops = "
        "[{{ at = 0.5, cut = true, c = 1 }}, {{ at = 1.5, c = 2 }}]\n[take.t]\nlength = 3\ncues = [{{ at = 0, start = "
        "\"s\" "
        "}}, {{ at = {}, press = \"k\" }}]\n",
        formula, press));
    std::vector<double> starts;
    for (const Move& move : test::play_measures(feel).moves)
      if (move.channel == 2) starts.push_back(move.start);
    return starts;
  };
  for (const char* formula : {"max(0, time - 0.5)", "2 * c"})
    for (const int frame : {29, 30, 31, 32, 35})
      EXPECT_EQ(moves_of(formula, frame / 60.0), moves_of(formula, 2.9)) << formula << " " << frame;
}

} // namespace
} // namespace stasis
