// One planted accident each: named by its code, and by no other. What only looks like one is not named.
#include <cmath>
#include <set>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* two_channels = R"([channel.d]
unit = "m"
rest = 4
range = [1, 9]
motion = { kind = "glide", half_life = 0.1 }
[channel.side]
unit = "m"
rest = 0
motion = { kind = "glide", half_life = 0.1 }
)";

/// The codes of what `check` finds in a feel.
std::set<std::string> found_in(const TempDir& folder, const std::string& feel) {
  folder.write("feel.toml", feel);
  const Ended ended = run_program(folder, {"check", "feel.toml", "--json"});
  EXPECT_EQ(ended.err, "");
  std::set<std::string> codes;
  if (!ended.err.empty()) return codes;
  const nlohmann::json found = nlohmann::json::parse(ended.out);
  for (const auto& one : found["warnings"]) codes.insert(one["code"].get<std::string>());
  return codes;
}

using Codes = std::set<std::string>;

TEST(Accident, ASwitchThatItsOwnPoseHolds) {
  const TempDir folder;
  const auto feel = [](double near) {
    return std::string(two_channels)
           + fmt::format("[pose.close]\nd = {}\n[switch.near]\non = \"d\"\npose = \"close\"\nenter_below = 3\n"
                         "leave_above = 3.5\n[take.t]\nlength = 2\n",
                         near);
  };
  EXPECT_EQ(found_in(folder, feel(1.5)), Codes{"switch_never_leaves"});
  EXPECT_EQ(found_in(folder, feel(3.6)), Codes{});
}

/// A stick that sends the distance below and above a switch's thresholds by turns, each `every` seconds.
std::string fluttering(double every) {
  std::string cues;
  for (int k = 0; k < 8; ++k)
    cues += fmt::format("{{ at = {:g}, stick = \"s\", value = {} }},", 0.5 + every * k, k % 2 == 0 ? -0.6 : 0.0);
  return std::string(two_channels)
         + "[pose.aside]\nside = 1\n[control.s]\nkind = \"stick\"\nchannel = \"d\"\nposition = \"absolute\"\n"
           "[switch.near]\non = \"d\"\npose = \"aside\"\nenter_below = 3\nleave_above = 3.2\n"
           "[take.t]\nlength = 12\ncues = ["
         + cues + "]\n[[want]]\ntake = \"t\"\nmeasure = \"d.flips\"\nat_most = 8\n";
}

TEST(Accident, ASwitchThatFlutters) {
  const TempDir folder;
  EXPECT_EQ(found_in(folder, fluttering(0.25)), Codes{"switch_flips"});
  EXPECT_EQ(found_in(folder, fluttering(1.2)), Codes{});
  const Ended run = run_program(folder, {"run", "feel.toml", "--json", "-o", "none"});
  EXPECT_EQ(nlohmann::json::parse(run.out)["channels"]["d"]["flips"], 8.0);
}

TEST(Accident, AStickThatIsPressed) {
  const TempDir folder;
  const std::string feel = std::string(two_channels)
                           + "[control.s]\nkind = \"stick\"\nchannel = \"d\"\n[take.t]\nlength = 2\ncues = [{ at = "
                             "0.5, press = \"s\" }, { at = 1, release = \"s\" }]\n";
  EXPECT_EQ(found_in(folder, feel), Codes{"press_without_effect"});
}

/// A view behind a recorded subject.
std::string behind_recording(const std::string& follow, const std::string& track) {
  return "[channel.view]\nunit = \"m\"\nrest = [0, 0]\nmotion = { kind = \"glide\", half_life = 0.1 }\nfollow = { "
         "track "
         "= \"otter\""
         + follow + " }\n[track.otter]\nkind = \"recorded\"\nfile = \"otter.csv\"\nunit = \"m\"\n" + track
         + "[take.t]\nlength = 4\n";
}
/// Rows at 60 a second; \param times_scale of its column of times; \param jump between two of its rows.
void write_recording(const TempDir& folder, double times_scale, double jump) {
  std::string rows = "time,x,y\n";
  for (int k = 0; k < 300; ++k)
    rows += fmt::format("{},{},{}\n", k / 60.0 * times_scale, k / 30.0 + (k > 100 ? jump : 0.0), std::sin(k / 60.0));
  folder.write("otter.csv", rows);
}

TEST(Accident, ASubjectThatTeleports) {
  const TempDir folder;
  write_recording(folder, 1.0, 30.0);
  EXPECT_EQ(found_in(folder, behind_recording("", "")), Codes{"subject_teleports"});
  EXPECT_EQ(found_in(folder, behind_recording("", "cut_beyond = 20\n")), Codes{});
  write_recording(folder, 1.0, 0.0);
  EXPECT_EQ(found_in(folder, behind_recording("", "")), Codes{});
}

TEST(Accident, ARecordingInAnotherUnitOfTime) {
  const TempDir folder;
  write_recording(folder, 1000.0, 0.0);
  EXPECT_EQ(found_in(folder, behind_recording("", "")), Codes{"unlikely_recording"});
  EXPECT_EQ(found_in(folder, behind_recording("", "time_unit = \"ms\"\n")), Codes{});
}

TEST(Accident, ALeadByForwardSpeedWithoutAHeading) {
  const TempDir folder;
  write_recording(folder, 1.0, 0.0);
  EXPECT_EQ(found_in(folder, behind_recording(", lead = { by = \"forward_speed\", seconds = 0.3 }", "")),
            Codes{"lead_without_heading"});
}

/// A flat view whose height a hold raises; \param width the keys of its width.
std::string flat_view(const std::string& width, const std::string& more) {
  return "[picture]\nheight = { channel = \"tall\" }\nwidth = { channel = \"wide\" }\nsize = [1600, 1000]\n"
         "[channel.tall]\nunit = \"m\"\nrest = 10\nmotion = { kind = \"glide\", half_life = 0.1 "
         "}\n[channel.wide]\nunit "
         "= \"m\"\nrest = 16\n"
         + width + "[pose.up]\ntall = 20\n[control.up]\nkind = \"hold\"\npose = \"up\"\n" + more
         + "[take.t]\nlength = 4\ncues = [{ at = 1, press = \"up\" }]\n";
}

TEST(Accident, AStretchedPicture) {
  const TempDir folder;
  EXPECT_EQ(found_in(folder, flat_view("range = [1, 24]\n", "")), Codes{"stretched_picture"});
  EXPECT_EQ(found_in(folder, flat_view("range = [1, 40]\n", "")), Codes{});
  const auto shake = [](const char* on, const char* wave) {
    return fmt::format(
        "[track.otter]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [1, 0]\n[shake.s]\nalways = true\non = {{ "
        "{} }}\nwave = {{ {} }}\n",
        on, wave);
  };
  const char *const sines = "kind = \"sines\", frequency = 3",
                    *const stride = "kind = \"stride\", track = \"otter\", length = 1, phase = 0";
  EXPECT_EQ(found_in(folder, flat_view("", shake("tall = 0.2", sines))), Codes{"stretched_picture"});
  // Each component of a wave of its own goes its own way, however far both are shaken.
  EXPECT_EQ(found_in(folder, flat_view("", shake("tall = 0.2, wide = 0.32", sines))), Codes{"stretched_picture"});
  EXPECT_EQ(found_in(folder, flat_view("", shake("tall = 0.2, wide = 0.2", stride))), Codes{"stretched_picture"});
  EXPECT_EQ(found_in(folder, flat_view("", shake("tall = 0.2, wide = 0.32", stride))), Codes{});
}

TEST(Accident, ADistanceThatItsRangeKeepsFromFollowingTheLens) {
  const TempDir folder;
  const auto feel = [](double nearest) {
    return "[picture]\nlens = { channel = \"fov\", axis = \"vertical\" }\nfocus = \"focus\"\ndistance = "
           "\"distance\"\n[channel.focus]\nunit = \"m\"\nrest = [0, 0, 0]\n[channel.fov]\nunit = \"deg\"\nrest = "
           "40\nmotion = { kind = \"glide\", half_life = 0.1 }\n[channel.distance]\nunit = \"m\"\nrest = "
           "6\nkeeps_width "
           "= 6\nmotion = { kind = \"cut\" }\nrange = ["
           + fmt::format("{}", nearest)
           + ", 20]\n[pose.wide]\nfov = 80\n[control.wide]\nkind = \"hold\"\npose = \"wide\"\n[take.t]\nlength = "
             "4\ncues = [{ at = 1, press = \"wide\" }]\n";
  };
  EXPECT_EQ(found_in(folder, feel(3.0)), Codes{"width_not_kept"});
  EXPECT_EQ(found_in(folder, feel(1.0)), Codes{});
}

TEST(Accident, AShakeThatRunsBelowZero) {
  const TempDir folder;
  const auto feel = [](const std::string& more) {
    return std::string(two_channels)
           + "[shake.thump]\non = { side = 0.1 }\nwave = { kind = \"sines\", frequency = 5 }\ndecay = { kind = "
             "\"per_frame\", amount = 0.02, at_fps = 60"
           + more + " }\n[take.t]\nlength = 2\n";
  };
  EXPECT_EQ(found_in(folder, feel("")), Codes{"shake_per_frame"});
  EXPECT_EQ(found_in(folder, feel(", runs_below_zero = true")), Codes{"shake_grows"});
}

// --- What is no accident ---

TEST(NoAccident, WhatAVariantUsesOrAFileShares) {
  const TempDir folder;
  folder.write("shared.toml", "[motion.lazy]\nkind = \"glide\"\nhalf_life = 0.4\n[setting.trail]\nvalue = 0.2\nrange = "
                              "[0.1, 0.3]\nunit = \"s\"\n");
  const std::string feel = std::string(two_channels) + "[take.t]\nlength = 1\n";
  EXPECT_EQ(found_in(folder, "include = [\"shared.toml\"]\n" + feel), Codes{});
  const std::string own = "[motion.quick]\nkind = \"glide\"\nhalf_life = 0.05\n[setting.slow]\nvalue = 0.2\nrange = "
                          "[0.1, 0.3]\nunit = \"s\"\n";
  EXPECT_EQ(found_in(folder, feel + own), (Codes{"unused_motion", "unused_setting"}));
  EXPECT_EQ(found_in(folder, feel + own
                                 + "[variant.brisk]\n\"channel.d.motion\" = \"quick\"\n"
                                   "\"channel.side.motion.half_life\" = { setting = \"slow\" }\n"),
            Codes{});
}

TEST(NoAccident, AMutedShake) {
  const TempDir folder;
  const auto feel = [](const std::string& more) {
    return std::string(two_channels) + "[shake.s]\non = { d = 9 }\nalways = true\n" + more
           + "wave = { kind = \"noise\", frequency = 80 }\n[take.t]\nlength = 1\n";
  };
  EXPECT_EQ(found_in(folder, feel("")), (Codes{"shake_folds", "shake_out_of_range"}));
  EXPECT_EQ(found_in(folder, feel("muted = true\n")), Codes{});
}

TEST(NoAccident, TheRecordedWayOfACamera) {
  const TempDir folder;
  std::string rows = "time,x,y,z\n";
  for (int k = 0; k < 200; ++k) rows += fmt::format("{},{},{},{}\n", k / 50.0, k / 50.0, 1.0, 0.0);
  folder.write("eye.csv", rows);
  EXPECT_EQ(found_in(folder, "[picture]\nposition = \"eye\"\nyaw = \"yaw\"\n[channel.yaw]\nunit = \"deg\"\nrest = "
                             "0\n[channel.eye]\nunit = \"m\"\nrest = [0, 1, 0]\nmotion = { kind = \"cut\" }\nfollow = "
                             "\"eye_path\"\n[track.eye_path]\nkind = \"recorded\"\nfile = \"eye.csv\"\nunit = \"m\"\n"
                             "[take.t]\nlength = 3\n"),
            Codes{});
}

} // namespace
} // namespace stasis::test
