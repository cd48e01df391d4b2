// Subjects and cameras on a fixed tick: what is read, what is drawn, how evenly. Rules: docs/design.md, section 3.
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/check/warning.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/tick_study.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::play_rows;
using test::Rows;

std::string on_clock(const std::string& clock, const std::string& motion = "kind = \"cut\"", double length = 4) {
  return fmt::format(
      "[track.t]\nkind = \"line\"\nfrom = 0\nvelocity = 3\n[channel.a]\nunit = \"m\"\nrest = 0\nfollow = "
      "\"t\"\nmotion = {{ {} }}\n[take.x]\nlength = {}\nclock = {{ {} }}\n",
      motion, length, clock);
}

double measured(const std::string& clock, const char* name) {
  const Feel feel = feel_from(on_clock(clock));
  return channel_measure(feel, play_measures(feel), 0, name).value_or(NAN);
}

// Rule T1.
TEST(Tick, HoldsTheLatestOrLiesBetweenTheLastTwo) {
  const Rows held = play_rows(feel_from(on_clock("fps = 60, tick = 50")));
  const Rows blended = play_rows(feel_from(on_clock("fps = 60, tick = 50, between = \"blend\"")));
  for (std::size_t k = 0; k < held.time.size(); ++k) {
    const double latest = std::floor(held.time[k] * 50 + 1e-9) / 50;
    EXPECT_NEAR(held.smooth[k], 3 * latest, 1e-13);
    if (held.time[k] >= 0.02) {
      EXPECT_NEAR(blended.smooth[k], 3 * (held.time[k] - 0.02), 1e-13);
    }
  }
}

TEST(Tick, JudderOfAHeldSubjectIsItsClosedForm) {
  for (const auto& [fps, tick] : {std::pair{60.0, 50.0},
                                  {144.0, 50.0},
                                  {144.0, 60.0},
                                  {120.0, 50.0},
                                  {60.0, 24.0},
                                  {50.0, 60.0},
                                  {59.0, 50.0},
                                  {240.0, 50.0}}) {
    const double part = std::fmod(tick / fps, 1.0);
    const double expected = 3 / tick * std::sqrt(2 * std::min(part, 1 - part));
    const std::string clock = fmt::format("fps = {}, tick = {}", fps, tick);
    EXPECT_NEAR(measured(clock, "judder_track"), expected, 1e-9) << clock;
    // A camera cut to it goes with it: nothing of the subject, all of it in the picture.
    EXPECT_NEAR(measured(clock, "judder_subject"), 0.0, 1e-12);
    EXPECT_NEAR(measured(clock, "judder_picture"), expected, 1e-9);
  }
  EXPECT_NEAR(measured("fps = 50, tick = 50", "judder_picture"), 0.0, 1e-12);
  EXPECT_NEAR(measured("fps = 25, tick = 50", "judder_picture"), 0.0, 1e-12);
  EXPECT_NEAR(measured("fps = 60, tick = 50, between = \"blend\"", "judder_track"), 0.0, 1e-12);
  EXPECT_NEAR(measured("fps = 144, tick = 50, between = \"blend\"", "judder_picture"), 0.0, 1e-12);
}

// Rule T2.
TEST(Order, CameraFirstSeesTheFrameBefore) {
  const Feel feel = feel_from(on_clock("fps = 60, order = \"camera_first\""));
  const Rows rows = play_rows(feel);
  for (std::size_t k = 1; k < rows.time.size(); ++k) EXPECT_NEAR(rows.smooth[k], 3 * rows.time[k - 1], 1e-13);
  const TakeMeasures measures = play_measures(feel);
  const auto note = std::find_if(measures.notes.begin(), measures.notes.end(), [](const std::string& n) {
    return n.find("one frame late: 16.7 ms, 0.0500 m") != std::string::npos;
  });
  EXPECT_NE(note, measures.notes.end());
}

// Rule T2.
TEST(Order, CameraFirstShiftsJumpsByAFrameToo) {
  const std::string steps =
      "[track.t]\nkind = \"steps\"\nplaces = [0, 5, 9]\nevery = 0.5\n[channel.a]\nrest = 0\nfollow = "
      "\"t\"\n[take.x]\nlength = 2\nclock = { fps = 20 }\n";
  const Rows last = play_rows(feel_from(steps));
  std::string first_text = steps;
  first_text.replace(first_text.find("fps = 20"), 8, "fps = 20, order = \"camera_first\"");
  const Rows first = play_rows(feel_from(first_text));
  for (std::size_t k = 1; k < last.time.size(); ++k) {
    EXPECT_EQ(first.goal[k], last.goal[k - 1]) << k;
    EXPECT_EQ(first.smooth[k], last.smooth[k - 1]) << k;
  }
}

/// A camera on the tick is the same camera played at that frame rate, drawn when frames come.
// Rule T3.
TEST(Order, OnTickDrawsWhatTicksLeft) {
  for (const char* motion :
       {"kind = \"cut\"", "kind = \"glide\", half_life = 0.2", "kind = \"spring\", frequency = 2, damping_ratio = 0.5",
        "kind = \"per_frame\", rule = \"fraction\", fraction = 0.2, at_fps = 50"}) {
    const Rows ticks = play_rows(feel_from(on_clock("fps = 50", motion)));
    const Rows held = play_rows(feel_from(on_clock("fps = 144, tick = 50, order = \"on_tick\"", motion)));
    const Rows blended =
        play_rows(feel_from(on_clock("fps = 144, tick = 50, order = \"on_tick\", between = \"blend\"", motion)));
    ASSERT_EQ(held.time.size(), 577u);
    for (std::size_t k = 0; k < held.time.size(); ++k) {
      const double at = held.time[k] * 50;
      const auto tick = static_cast<std::size_t>(std::floor(at + 1e-9));
      EXPECT_NEAR(held.smooth[k], ticks.smooth[tick], 1e-13) << motion;
      const double share = at - static_cast<double>(tick);
      const double from = ticks.smooth[tick > 0 ? tick - 1 : 0];
      EXPECT_NEAR(blended.smooth[k], from + (ticks.smooth[tick] - from) * share, 1e-12) << motion;
    }
  }
}

TEST(Order, OnTickKeepsCuesCausesAndMeasures) {
  const std::string text =
      "[channel.a]\nrest = 0\nmotion = { kind = \"glide\", half_life = 0.1 }\n[pose.up]\na = 1\n[control.c]\nkind = "
      "\"hold\"\npose = \"up\"\n[take.t]\nlength = 3\nclock = { fps = 60, tick = 20, order = \"on_tick\" }\ncues = [{ "
      "at "
      "= 0.5, press = \"c\" }, { at = 1.5, release = \"c\" }]\n";
  const TakeMeasures measures = play_measures(feel_from(text));
  ASSERT_EQ(measures.moves.size(), 2u);
  EXPECT_EQ(measures.moves[0].cause, "press c");
  EXPECT_NEAR(measures.moves[0].start, 0.5, 1e-12);
  EXPECT_TRUE(measures.moves[0].settling_time);
  EXPECT_EQ(measures.inputs.size(), 1u);
  EXPECT_NEAR(measures.inputs[0].to, 1.5, 1e-12);
}

TEST(TickStudy, FindsTheMostEvenOfAllOrders) {
  const Feel feel = feel_from(on_clock("fps = 60, tick = 50"));
  const auto studies = study_ticks(feel, feel.takes[0]);
  ASSERT_EQ(studies.size(), 1u);
  const TickStudy& study = studies[0];
  ASSERT_EQ(study.cases.size(), 6u);
  EXPECT_EQ(study.cases[study.best].label, "camera last, blended");
  EXPECT_NEAR(study.cases[study.best].late, 0.02, 1e-15);
  EXPECT_NEAR(study.subject_speed, 3.0, 1e-12);
  for (const TickCase& one : study.cases) {
    ASSERT_TRUE(one.subject && one.picture);
    if (one.tick.blends) {
      EXPECT_LT(one.worst(), 1e-9) << one.label;
    }
    if (!one.tick.blends) {
      EXPECT_GT(one.worst(), 0.03) << one.label;
    }
    ASSERT_EQ(one.times.size(), one.subject_off.size());
  }
  const Feel plain = feel_from(on_clock("fps = 60"));
  EXPECT_TRUE(study_ticks(plain, plain.takes[0]).empty());
}

TEST(Tick, IsWarnedOfWhereItJerks) {
  const auto codes = [&](const std::string& clock) {
    const Feel feel = feel_from(on_clock(clock));
    std::string all;
    for (const Warning& one : warnings_of_take(feel, feel.takes[0], play_measures(feel))) all += one.code + " ";
    return all;
  };
  EXPECT_NE(codes("fps = 60, tick = 50").find("tick_judder"), std::string::npos);
  EXPECT_EQ(codes("fps = 50, tick = 50").find("tick_judder"), std::string::npos);
  EXPECT_EQ(codes("fps = 60, tick = 50, between = \"blend\"").find("tick_judder"), std::string::npos);
  EXPECT_NE(codes("fps = 60, order = \"camera_first\"").find("camera_first"), std::string::npos);
}

/// Random hands on a feel of several channels: what is drawn of a camera on the tick is what the same feel does at that
/// frame rate, latest tick by latest tick, in every column that stands for a value.
// Rule T3.
TEST(Order, OnTickIsTheTickedCameraUnderRandomHands) {
  std::mt19937 random(17);
  std::uniform_real_distribution<double> share(0, 1);
  for (int n = 0; n < 12; ++n) {
    std::string cues;
    double at = 0;
    for (int k = 0; k < 8; ++k) {
      at = std::ceil((at + 0.02 + 0.3 * share(random)) * 20) / 20; // on a tick
      cues += fmt::format("{{ at = {}, {} = \"{}\" }}, ", at, k % 2 == 0 ? "press" : "release", k % 4 < 2 ? "g" : "h");
    }
    const std::string feel = fmt::format(
        "[channel.a]\nrest = [0, 1]\nmotion = {{ x = {{ kind = \"spring\", frequency = {}, damping_ratio = 0.6 }}, y = "
        "{{ "
        "kind = \"ease\", duration = 0.4 }} }}\n[channel.b]\nrest = 2\nspace = \"ratio\"\nmotion = {{ rising = {{ kind "
        "= "
        "\"glide\", half_life = 0.1 }}, falling = {{ kind = \"delay\", delay = 0.1 }} }}\n[channel.c]\nrest = "
        "0\nformula = "
        "\"b * a.x\"\n[pose.p]\na = [3, 4]\nb = 5\n[pose.q]\nb = 1\n[control.g]\nkind = \"hold\"\npose = \"p\"\n"
        "[control.h]\nkind = \"toggle\"\npose = \"q\"\n[take.t]\nlength = 4\ncues = [{}]\nclock = ",
        0.5 + 3 * share(random), cues);
    const Feel ticked = feel_from(feel + "{ fps = 20 }\n");
    const Feel drawn = feel_from(feel + "{ fps = 72, tick = 20, order = \"on_tick\" }\n");
    for (const auto& [channel, component] : {std::pair{0, 0}, {0, 1}, {1, 0}, {2, 0}}) {
      const auto c = static_cast<std::size_t>(channel), i = static_cast<std::size_t>(component);
      const Rows ticks = play_rows(ticked, c, i), frames = play_rows(drawn, c, i);
      for (std::size_t k = 0; k < frames.time.size(); ++k) {
        const auto tick = static_cast<std::size_t>(std::floor(frames.time[k] * 20 + 1e-9));
        ASSERT_EQ(frames.smooth[k], ticks.smooth[tick]) << n << " channel " << c << " row " << k;
        ASSERT_EQ(frames.value[k], ticks.value[tick]);
        ASSERT_EQ(frames.goal[k], ticks.goal[tick]);
      }
    }
  }
}

/// The speed of what is drawn is the way to the next frame over its time.
TEST(Order, OnTickSpeedsAreThoseOfWhatIsDrawn) {
  const Rows rows = play_rows(feel_from(
      on_clock("fps = 144, tick = 30, order = \"on_tick\", between = \"blend\"", "kind = \"glide\", half_life = 0.1")));
  for (std::size_t k = 0; k + 1 < rows.time.size(); ++k)
    EXPECT_NEAR(rows.velocity[k], (rows.smooth[k + 1] - rows.smooth[k]) * 144, 1e-9);
}

TEST(Order, OnTickDrawsShakesAndTracksOfTheTick) {
  const Feel feel = feel_from("[channel.a]\nunit = \"m\"\nrest = 0\n[shake.s]\non = { a = 0.5 }\nwave = { kind = "
                              "\"noise\", frequency = 4 }\ndecay = "
                              "{ kind = \"half_life\", half_life = 0.4 }\n[take.t]\nlength = 2\ncues = [{ at = 0.5, "
                              "hit = \"s\" }]\nclock = { fps = "
                              "60, tick = 20, order = \"on_tick\" }\n");
  const Rows rows = play_rows(feel);
  bool shaken = false;
  for (std::size_t k = 0; k + 1 < rows.time.size(); ++k) {
    EXPECT_EQ(rows.smooth[k], 0.0);
    shaken = shaken || rows.value[k] != 0.0;
    const bool same_tick = std::floor(rows.time[k] * 20 + 1e-9) == std::floor(rows.time[k + 1] * 20 + 1e-9);
    if (same_tick) {
      EXPECT_EQ(rows.value[k], rows.value[k + 1]) << k;
    }
  }
  EXPECT_TRUE(shaken);
  EXPECT_EQ(play_measures(feel).shakes[0].hits, 1u);
}

/// A jump of a track between two ticks acts at the first frame that sees its tick, held or blended, as a jump.
// Rule T1.
TEST(Tick, AJumpIsSeenWithItsTickAndNeverBlended) {
  for (const char* between : {"hold", "blend"}) {
    const Feel feel = feel_from(fmt::format(
        "[track.t]\nkind = \"steps\"\nplaces = [0, 5]\nevery = 0.53\n[channel.a]\nrest = 0\nfollow = \"t\"\nmotion = "
        "{{ "
        "kind = \"glide\", rate = 4 }}\n[take.x]\nlength = 2\nclock = {{ fps = 60, tick = 10, between = \"{}\" }}\n",
        between));
    const Rows rows = play_rows(feel);
    for (std::size_t k = 0; k < rows.time.size(); ++k) {
      EXPECT_EQ(rows.goal[k], rows.time[k] < 0.6 - 1e-9 ? 0.0 : 5.0) << between << " " << rows.time[k];
      if (rows.time[k] > 0.6) {
        EXPECT_NEAR(rows.smooth[k], -5 * std::expm1(-4 * (rows.time[k] - 0.6)), 1e-12) << between;
      }
    }
    EXPECT_EQ(play_measures(feel).moves.size(), 1u);
  }
}

/// A formula of a track reads it as the camera does: by ticks, and one frame late where the camera comes first.
TEST(Tick, FormulasReadTracksAsTheCameraSeesThem) {
  const auto rows_on = [](const char* clock) {
    return play_rows(feel_from(fmt::format("[track.t]\nkind = \"line\"\nfrom = 0\nvelocity = 3\n[channel.a]\nrest = "
                                           "0\nformula = \"2 * t.x\"\n[take.x]\nlength = 1\nclock = {{ {} }}\n",
                                           clock)));
  };
  const Rows ticked = rows_on("fps = 60, tick = 25"), first = rows_on("fps = 60, order = \"camera_first\"");
  for (std::size_t k = 1; k < ticked.time.size(); ++k) {
    EXPECT_NEAR(ticked.goal[k], 6 * std::floor(ticked.time[k] * 25 + 1e-9) / 25, 1e-12);
    EXPECT_NEAR(first.goal[k], 6 * first.time[k - 1], 1e-12);
  }
}

} // namespace
} // namespace stasis
