// Poses that go on by thresholds.
#include <algorithm>

#include <gtest/gtest.h>

#include "core/check/warning.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

/// A distance that runs in and out once, trembling by 0.04 all the way.
std::string switching(const std::string& thresholds) {
  return "[channel.d]\nrest = 1.8\nformula = \"1 + 0.4 * abs(2 - time) + 0.04 * sin(60 * time)\"\n[channel.fov]\nrest "
         "= "
         "60\n[pose.inside]\nfov = 80\n"
         "[switch.inner]\non = \"d\"\npose = \"inside\"\n"
         + thresholds + "[take.t]\nlength = 4\nclock = { fps = 120 }\n";
}

/// Frames at which the goal of `fov` changes.
std::vector<double> changes_in(const std::string& text) {
  const auto rows = test::play_rows(test::feel_from(text), 1);
  std::vector<double> changes;
  for (std::size_t k = 1; k < rows.goal.size(); ++k)
    if (rows.goal[k] != rows.goal[k - 1]) changes.push_back(rows.time[k]);
  return changes;
}

// Rule K14.
TEST(Switch, WithAGapWiderThanTheTrembleSwitchesOnceEachWay) {
  const auto changes = changes_in(switching("enter_below = 1.4\nleave_above = 1.55\n"));
  ASSERT_EQ(changes.size(), 2u);
  EXPECT_NEAR(changes[0], 1.0, 0.11);
  EXPECT_NEAR(changes[1], 3.375, 0.11);
}

/// Half a second back and forth is quick wherever frames fall: 0.6 to 1.1 s is a little more in binary.
TEST(Switch, AReturnWithinHalfASecondIsQuickAtEveryRate) {
  for (const char* const fps : {"10", "30", "1000"}) {
    const auto measures = test::play_measures(test::feel_from(
        std::string("[channel.d]\nrest = 2\nmotion = { kind = \"cut\" }\n[channel.fov]\nrest = 60\n[pose.near]\nd = "
                    "1\n[pose.wide]\nfov = 80\n[control.c]\nkind = \"hold\"\npose = \"near\"\n[switch.s]\non = "
                    "\"d\"\npose = \"wide\"\nenter_below = 1.5\nleave_above = 1.6\n[take.t]\nlength = 3\nclock = { fps "
                    "= ")
        + fps + " }\ncues = [{ at = 0.6, press = \"c\" }, { at = 1.1, release = \"c\" }]\n"));
    EXPECT_EQ(measures.switches[0].flips, 2) << fps;
    EXPECT_EQ(measures.switches[0].quick_returns, 1) << fps;
  }
}

TEST(Switch, WithoutAGapFlipsBackAndForthAndIsWarnedOf) {
  const std::string text = switching("enter_below = 1.4\nleave_above = 1.4\n");
  EXPECT_GT(changes_in(text).size(), 4u);
  const auto warnings = warnings_of_feel(test::feel_from(text));
  EXPECT_TRUE(
      std::any_of(warnings.begin(), warnings.end(), [](const Warning& w) { return w.code == "switch_without_gap"; }));
  EXPECT_TRUE(warnings_of_feel(test::feel_from(switching("enter_below = 1.4\nleave_above = 1.5\n"))).empty());
}

TEST(Switch, LooksTheOtherWayToo) {
  const std::string text = switching("enter_above = 1.6\nleave_below = 1.5\n");
  const auto rows = test::play_rows(test::feel_from(text), 1);
  EXPECT_EQ(rows.goal[0], 80.0); // in force from the first frame
  const auto changes = changes_in(text);
  ASSERT_EQ(changes.size(), 2u);
  EXPECT_NEAR(changes[0], 0.75, 0.11);
  EXPECT_NEAR(changes[1], 3.5, 0.11);
}

// Rule K14.
TEST(Switch, MayKeepWhatIsThere) {
  const std::string feel = "[channel.d]\nrest = 3\nformula = \"3 - time\"\n[channel.side]\nrest = 0\nmotion = { kind = "
                           "\"glide\", half_life = 5 "
                           "}\n[pose.far]\nside = 10\n[control.far]\nkind = \"hold\"\npose = \"far\"\n[pose.inside]\nd "
                           "= 1\n[switch.inner]\non = "
                           "\"d\"\npose = \"inside\"\nenter_below = 2\nleave_above = 4\nkeep = "
                           "[\"side\"]\n[take.t]\nlength = 2\ncues = [ { at = 0.2, "
                           "press = \"far\", for = 1.2 } ]\n";
  const auto rows = test::play_rows(test::feel_from(feel), 1);
  // Its home has become where it was when the switch came, at 1 s; the hold lasts until 1.4 s.
  EXPECT_NEAR(rows.goal.back(), rows.smooth[61], 0.05);
}

TEST(Switch, FaultsAreExplained) {
  const auto code = [](const std::string& thresholds) {
    const Problems problems = test::problems_of(switching(thresholds));
    return problems.empty() ? std::string("none") : problems[0].code;
  };
  EXPECT_EQ(code("enter_below = 2\nleave_above = 1\n"), "feel.switch");
  EXPECT_EQ(code("enter_above = 1\nleave_below = 2\n"), "feel.switch");
  EXPECT_EQ(code("enter_below = 2\n"), "feel.missing_key");
  EXPECT_EQ(code("enter_below = 2\nleave_above = 3\nkeep = [\"nobody\"]\n"), "feel.unknown_channel");
}

} // namespace
} // namespace stasis
