// Warnings that no other test calls for: each is given where it should be, and not where all is well.
#include <algorithm>
#include <cmath>
#include <set>

#include <gtest/gtest.h>

#include "core/check/known_names.hpp"
#include "core/check/warning.hpp"
#include "core/feel/compose.hpp"
#include "core/feel/read_feel.hpp"
#include "io/toml_reader.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

std::set<std::string> codes_of(const std::string& text) {
  const Feel feel = test::feel_from(text);
  std::set<std::string> codes;
  for (const Warning& one : warnings_of_feel(feel)) codes.insert(one.code);
  for (const Warning& one : warnings_of_take(feel, feel.takes[0], test::play_measures(feel))) codes.insert(one.code);
  return codes;
}

TEST(WarningOf, ASettingThatNoValueRefersTo) {
  const auto is_told = [](const std::string& half_life) {
    Node document =
        *io::read_toml("[channel.a]\nunit = \"m\"\nrest = 0\nmotion = { kind = \"glide\", half_life = " + half_life
                           + " }\n[setting.slow]\nvalue = 0.2\nrange = [0.1, 0.3]\nunit = \"s\"\n",
                       0);
    const auto used = resolve_settings(document);
    Feel feel = *read_feel(document, all_known_names);
    feel.settings[0].is_used = !used->empty();
    const auto warnings = warnings_of_feel(feel);
    return std::any_of(warnings.begin(), warnings.end(),
                       [](const Warning& one) { return one.code == "unused_setting"; });
  };
  EXPECT_TRUE(is_told("0.1"));
  EXPECT_FALSE(is_told("{ setting = \"slow\" }"));
}

/// A value in a space, led by what nobody can check beforehand: counts, a formula, a mirror.
std::string led_out_of(const std::string& space, const std::string& range, int way) {
  return "[channel.a]\nunit = \"deg\"\nrest = 40\nspace = \"" + space + "\"\n" + range
         + "motion = { kind = \"spring\", frequency = 2, damping_ratio = 0.5 }\n"
           "[control.mouse]\nkind = \"pointer\"\nchannel = \"a\"\ngain = 1\n"
           "[channel.b]\nunit = \"deg\"\nrest = 30\nspace = \""
         + space + "\"\n" + range + "formula = \"30 + time * 200 * (" + std::to_string(way)
         + ")\"\n"
           "motion = { kind = \"glide\", half_life = 0.1 }\n"
           "[channel.c]\nunit = \"deg\"\nrest = 60\nspace = \""
         + space + "\"\n" + range
         + "motion = { kind = \"glide\", half_life = 0.1 }\n"
           "[control.side]\nkind = \"cycle\"\nmirror = \"c\"\ncentre = "
         + (way < 0 ? "10" : "130")
         + "\n"
           "[take.t]\nlength = 2\ncues = [ { at = 0.1, pointer = \"mouse\", counts = "
         + std::to_string(250 * way) + " }, { at = 0.2, press = \"side\" } ]\n";
}

// Rule F18.
/// Goals that the space has no values for go to the nearest that there is, and every row is a number.
TEST(WarningOf, AGoalThatTheSpaceHasNoValuesFor) {
  for (const auto& [space, way] : {std::pair{"ratio", -1}, {"zoom", -1}, {"zoom", 1}})
    for (const char* const range : {"", "range = [0, 150]\n"}) {
      if (way > 0 && *range != 0) continue; // that range ends below half a turn
      const Feel feel = test::feel_from(led_out_of(space, range, way));
      std::set<std::string> about;
      for (const Warning& one : warnings_of_take(feel, feel.takes[0], test::play_measures(feel)))
        if (one.code == "goal_outside_space") about.insert(one.about);
      EXPECT_EQ(about, (std::set<std::string>{"a", "b", "c"})) << space << way << range;
      for (std::size_t c = 0; c < 3; ++c) {
        const test::Rows rows = test::play_rows(feel, c);
        EXPECT_TRUE(std::all_of(rows.value.begin(), rows.value.end(), [](double value) { return value > 0.0; }));
        EXPECT_TRUE(std::all_of(rows.velocity.begin(), rows.velocity.end(), [](double v) { return std::isfinite(v); }));
      }
    }
  EXPECT_FALSE(codes_of(led_out_of("zoom", "range = [5, 150]\n", 1)).contains("goal_outside_space"));
  EXPECT_FALSE(codes_of(led_out_of("linear", "", -1)).contains("goal_outside_space"));
}

/// A rule that runs away until nothing is a number: it is told so, and not how far off it is.
TEST(WarningOf, AValueThatBecomesNoNumber) {
  const Feel feel = test::feel_from(
      "[channel.a]\nrest = 0\nmotion = { kind = \"per_frame\", at_fps = 60, rule = \"spring_step\", stiffness = "
      "90000, damping = 1, method = \"explicit\" }\n[pose.p]\na = 1\n[control.k]\nkind = \"hold\"\npose = "
      "\"p\"\n[take.t]\nlength = 20\ncues = [{ at = 0.1, press = \"k\" }]\n");
  const TakeMeasures measures = test::play_measures(feel);
  const auto says = [](const std::string& text, const char* what) { return text.find(what) != std::string::npos; };
  EXPECT_EQ(std::count_if(measures.notes.begin(), measures.notes.end(),
                          [&](const std::string& note) { return says(note, "became no number on its way"); }),
            1);
  for (const std::string& note : measures.notes) EXPECT_FALSE(says(note, "none")) << note;
  for (const Warning& one : warnings_of_take(feel, feel.takes[0], measures)) EXPECT_FALSE(says(one.message, "none"));
}

/// An eye at a distance behind what it follows, which is 0.4 m in radius.
std::string eye_behind(double distance) {
  return "[picture]\nposition = \"eye\"\nyaw = \"yaw\"\n[channel.yaw]\nunit = \"deg\"\nrest = 0\n[channel.eye]\nunit = "
         "\"m\"\nrest = [0, 1, 0]\n"
         "follow = { track = \"swimmer\", offset = [0, 0, "
         + std::to_string(-distance)
         + "] }\n[track.swimmer]\nkind = \"line\"\nfrom = [0, 1, 0]\nvelocity = [0, 0, 1]\nunit = \"m\"\nradius = "
           "0.4\n[take.t]\nlength = 1\n";
}

TEST(WarningOf, AnEyeInsideItsSubject) {
  EXPECT_TRUE(codes_of(eye_behind(0.1)).contains("inside_subject"));
  EXPECT_FALSE(codes_of(eye_behind(2.0)).contains("inside_subject"));
}

/// Somebody who walks backwards to a wall, with the view behind them.
std::string backwards(const std::string& stand_off, double lowest) {
  return "[picture]\nfocus = \"focus\"\ndistance = \"radius\"\n[track.walker]\nkind = \"line\"\nfrom = [0, 1, "
         "-8]\nvelocity = [0, 0, 3]\n"
         "[channel.focus]\nunit = \"m\"\nrest = [0, 1, -8]\nfollow = \"walker\"\n[obstacle.wall]\nkind = "
         "\"plane\"\nnormal = [0, 0, -1]\nat = [0, 0, 0]\n"
         "[channel.radius]\nunit = \"m\"\nrest = 5\nrange = ["
         + std::to_string(lowest)
         + ", 6]\nmotion = { kind = \"glide\", half_life = 0.05 }\nobstacles = { thickness = 0.1, " + stand_off
         + " }\n[take.t]\nlength = 2.4\n";
}

TEST(WarningOf, AGoalOnTheVerySurface) {
  EXPECT_TRUE(codes_of(backwards("stand_off = 0", 0.2)).contains("on_the_surface"));
  EXPECT_FALSE(codes_of(backwards("stand_off = 0.2", 0.2)).contains("on_the_surface"));
}

TEST(WarningOf, LessRoomThanTheRangeAllows) {
  EXPECT_TRUE(codes_of(backwards("stand_off = 0.2", 2.0)).contains("room_below_range"));
  EXPECT_FALSE(codes_of(backwards("stand_off = 0.2", 0.01)).contains("room_below_range"));
}

TEST(WarningOf, ARollThatIsUncomfortable) {
  const auto rolling = [](double degrees) {
    return "[picture]\nposition = \"eye\"\nroll = \"roll\"\nmost_roll = 2\n[channel.eye]\nunit = \"m\"\nrest = [0, 0, "
           "0]\n[channel.roll]\nunit = \"deg\"\nrest = 0\n"
           "[shake.rattle]\non = { roll = "
           + std::to_string(degrees)
           + " }\nwave = { kind = \"noise\", frequency = 5 }\ndecay = { kind = \"half_life\", half_life = 0.3 "
             "}\n[take.t]\nlength = 3\ncues = [{ at = 0.1, hit = "
             "\"rattle\" }]\n";
  };
  EXPECT_TRUE(codes_of(rolling(12)).contains("uncomfortable_roll"));
  EXPECT_FALSE(codes_of(rolling(0.5)).contains("uncomfortable_roll"));
}

TEST(NoWarningOf, AMoveFromWhereItIsToWhereItIs) {
  const auto feel = [](const char* goal) {
    return test::feel_from(
        std::string("[channel.a]\nrest = 1\nmotion = { kind = \"glide\", half_life = 0.1 }\n[pose.p]\na "
                    "= ")
        + goal
        + "\n[control.c]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 1\ncues = [{ at = 0.95, "
          "press = \"c\" }]\n");
  };
  for (const auto& [goal, is_on_its_way] : {std::pair("1.0000000000001", false), std::pair("1.5", true)}) {
    const Feel played = feel(goal);
    const TakeMeasures measures = test::play_measures(played);
    EXPECT_EQ(measures.moves.size(), 1u);
    const auto warnings = warnings_of_take(played, played.takes[0], measures);
    EXPECT_EQ(std::any_of(warnings.begin(), warnings.end(), [](const Warning& w) { return w.code == "unsettled"; }),
              is_on_its_way);
    EXPECT_EQ(std::any_of(measures.notes.begin(), measures.notes.end(),
                          [](const std::string& note) { return note.find("on its way") != std::string::npos; }),
              is_on_its_way);
  }
}

} // namespace
} // namespace stasis
