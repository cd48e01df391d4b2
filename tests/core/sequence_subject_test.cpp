// Stops that are where a subject is: met at their time, and gone on with.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/take/sequence_course.hpp"
#include "core/take/session.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

/// A view of a place whose sequence `tour` begins at 0.25 s; the subject `swims` as is told.
std::string view_of(const std::string& swims, const std::string& sequence, double fps = 60,
                    const std::string& more = "") {
  return fmt::format("[channel.eye]\nunit = \"m\"\nrest = [0, 0, 0]\nmotion = \"soft\"\n"
                     "[channel.gap]\nunit = \"m\"\nrest = 4\nmotion = \"soft\"\nspace = \"ratio\"\n"
                     "range = [0.01, 1000]\n"
                     "[motion.soft]\nkind = \"spring\"\nfrequency = 1.2\ndamping_ratio = 0.9\n"
                     "[track.t]\n{}\n[track.depth]\nkind = \"line\"\nfrom = 2\nvelocity = 0.5\n"
                     "[sequence.tour]\n{}\n[take.x]\nlength = 6\nclock = {{ fps = {} }}\n"
                     "cues = [{{ at = 0.25, start = \"tour\" }}{}]\n",
                     swims, sequence, fps, more);
}

const std::string line = "kind = \"line\"\nfrom = [1, 2, 3]\nvelocity = [2, 0, -1]";
const std::string circle = "kind = \"circle\"\ncentre = [0, 1, 0]\ndiameter = 4\nspeed = 3";

Components place_of(const Feel& feel, double time) {
  TrackReader reader(feel.tracks[0]);
  reader.enter(time);
  return reader.at(time).place;
}

std::shared_ptr<const LedWay> way_of(const Feel& feel, std::size_t component = 0, std::size_t channel = 0) {
  const SequenceCourse course = course_at_rest(feel, &feel.takes[0], feel.sequences[0]);
  for (const auto& one : course.channels)
    if (one.channel == channel) return one.way[component];
  return nullptr;
}

// Rule Q10.
TEST(SequenceSubject, ACutGoesOnWithItUntilAStopNamesTheChannelAgain) {
  const std::string stops = "stops = [{ eye = { track = \"t\" }, cut = true, hold = 1.5 }, { after = 1, gap = 3 }, "
                            "{ eye = [0, 0, 0], cut = true, after = 1, hold = 0.3 }]";
  for (const std::string& swims : {line, circle})
    for (const double fps : {24.0, 60.0, 240.0}) {
      const Feel feel = test::feel_from(view_of(swims, stops, fps));
      for (std::size_t i = 0; i < 3; ++i) {
        const auto rows = test::play_rows(feel, 0, i);
        for (std::size_t row = 0; row < rows.time.size(); ++row)
          if (rows.time[row] > 0.25 + 1.0 / fps + 1e-9 && rows.time[row] < 3.75 - 1e-9) {
            ASSERT_NEAR(rows.smooth[row], place_of(feel, rows.time[row])[i], 1e-12) << fps << " " << rows.time[row];
          }
      }
    }
}

// Rule Q10: met with its speed, and continuous in acceleration up to there.
TEST(SequenceSubject, AFlightComesToItWithItsSpeed) {
  const Feel feel = test::feel_from(view_of(
      circle,
      "stops = [{ eye = [5, 5, 5] }, { at = 1, eye = [3, 2, 6] }, { at = 2.5, eye = { track = \"t\" }, hold = 2 }]"));
  for (std::size_t i = 0; i < 3; ++i) {
    const auto way = way_of(feel, i);
    ASSERT_NE(way, nullptr);
    const Instant before = way->at(2.5, Side::before), after = way->at(2.5, Side::at);
    EXPECT_NEAR(before.value, place_of(feel, 2.75)[i], 1e-12);
    EXPECT_NEAR(before.velocity, after.velocity, 1e-9);
    EXPECT_NEAR(way->at(1.0, Side::before).acceleration, way->at(1.0, Side::at).acceleration, 1e-9);
    for (double time = 2.5; time < 4.5; time += 0.1)
      EXPECT_NEAR(way->at(time).value, place_of(feel, time + 0.25)[i], 1e-12);
  }
}

// Rule Q10: from where it was, by the curve's share of the way to where the subject is.
TEST(SequenceSubject, ACurveEasesToWhereItGoes) {
  const Feel feel = test::feel_from(view_of(
      circle,
      "stops = [{ eye = [5, 5, 5] }, { after = 2, eye = { track = \"t\" }, curve = \"in-out power 3\", hold = 1 }]"));
  const auto share = [](double u) { return u < 0.5 ? 4 * u * u * u : 1 - 4 * (1 - u) * (1 - u) * (1 - u); };
  for (std::size_t i = 0; i < 3; ++i) {
    const auto way = way_of(feel, i);
    for (double time = 0.05; time < 3.0; time += 0.0437) {
      const double there = place_of(feel, time + 0.25)[i], u = std::min(1.0, time / 2.0);
      EXPECT_NEAR(way->at(time).value, 5.0 + (there - 5.0) * share(u), 1e-12) << time;
      constexpr double h = 1e-4;
      const Instant a = way->at(time - h), b = way->at(time), c = way->at(time + h);
      if (std::fabs(time - 1.0) < 2 * h || std::fabs(time - 2.0) < 2 * h) continue;
      EXPECT_NEAR(b.velocity, (c.value - a.value) / (2 * h), 1e-5) << time;
      EXPECT_NEAR(b.acceleration, (c.velocity - a.velocity) / (2 * h), 1e-4) << time;
      EXPECT_NEAR(b.jerk, (c.acceleration - a.acceleration) / (2 * h), 1e-3) << time;
    }
  }
}

// Rule Q10: as the same motion goes after the same subject in play.
TEST(SequenceSubject, AMotionGoesAfterItAsInPlay) {
  for (const char* const motion :
       {"kind = \"spring\", frequency = 1.1, damping_ratio = 0.5", "kind = \"glide\", half_life = 0.2",
        "kind = \"ease\", duration = 1.3, curve = \"in-out sine\"",
        "kind = \"stages\", stages = [{ kind = \"glide\", half_life = 0.1 }, { kind = \"spring\", frequency = 2, "
        "damping_ratio = 0.8 }]"}) {
    const std::string stops =
        fmt::format("stops = [{{ eye = {{ track = \"t\" }}, motion = {{ {} }}, after = 3, hold = 1 }}]", motion);
    const Feel led = test::feel_from(view_of(line, stops, 60));
    const std::string play =
        fmt::format("{}[pose.p]\neye = {{ track = \"t\" }}\nentering = {{ {} }}\n[control.c]\nkind = "
                    "\"hold\"\npose = \"p\"\n",
                    view_of(line, stops, 60), motion);
    std::string pressed = play;
    pressed.replace(pressed.find("start = \"tour\""), 14, "press = \"c\"");
    const Feel played = test::feel_from(pressed);
    const auto a = test::play_rows(led, 0, 0), b = test::play_rows(played, 0, 0);
    for (std::size_t row = 0; row < 200; ++row) ASSERT_NEAR(a.smooth[row], b.smooth[row], 1e-9) << motion << " " << row;
  }
}

// Rule Q10: at another pace and backward it is met where it is by the clock.
TEST(SequenceSubject, IsMetByTheClockHoweverTheWayIsGone) {
  const std::string stops =
      "stops = [{ eye = { track = \"t\" }, cut = true, hold = 0.5 }, { after = 2, eye = [9, 9, 9], "
      "hold = 1 }, { after = 2, eye = { track = \"t\" }, hold = 1 }]\n";
  struct Case {
    const char* keys;
    double first, last; // s of the take, in which it goes with the subject
  };
  for (const Case& one :
       {Case{"pace = 2", 3.02, 3.5}, Case{"pace = 2\nbackward = true", 0.27, 0.75}, Case{"pace = 0.5", 0.27, 1.25}})
    for (const std::string& swims : {line, circle}) {
      const Feel feel = test::feel_from(view_of(swims, stops + one.keys, 240));
      const auto rows = test::play_rows(feel, 0, 2);
      int compared = 0;
      for (std::size_t row = 0; row < rows.time.size(); ++row)
        if (rows.time[row] > one.first && rows.time[row] < one.last - 1e-9) {
          ASSERT_NEAR(rows.smooth[row], place_of(feel, rows.time[row])[2], 1e-9) << one.keys << rows.time[row];
          ++compared;
        }
      EXPECT_GT(compared, 100);
    }
}

TEST(SequenceSubject, WorksInTheChannelsSpace) {
  const Feel feel = test::feel_from(view_of(line, "stops = [{ gap = { track = \"depth\" }, cut = true, hold = 4 }]"));
  const auto way = way_of(feel, 0, 1);
  for (double time = 0.0; time < 4.0; time += 0.3) {
    const double there = 2.0 + 0.5 * (time + 0.25);
    const Instant now = way->at(time);
    EXPECT_NEAR(now.value, std::log(there), 1e-12);
    EXPECT_NEAR(now.velocity, 0.5 / there, 1e-12);
    EXPECT_NEAR(now.acceleration, -std::pow(0.5 / there, 2), 1e-12);
    EXPECT_NEAR(now.jerk, 2 * std::pow(0.5 / there, 3), 1e-12);
  }
}

// Rule Q6: given back in the middle of a ride it goes on with the subject's speed.
TEST(SequenceSubject, IsGivenBackWithItsSpeed) {
  const Feel feel = test::feel_from(view_of(line, "stops = [{ eye = { track = \"t\" }, cut = true, hold = 3 }]", 60,
                                            ", { at = 1.5, skip = \"tour\" }"));
  const auto rows = test::play_rows(feel, 0, 0);
  EXPECT_NEAR(rows.smooth[90], place_of(feel, 1.5)[0], 1e-12);
  EXPECT_NEAR(rows.velocity[90], 2.0, 1e-9);
}

TEST(SequenceSubject, AStopBySpeedComesWhereItThenIs) {
  const Feel feel = test::feel_from(view_of(line, "along = \"eye\"\nstops = [{ eye = [1, 2, 30] }, { speed = 4, eye = "
                                                  "{ track = \"t\" }, curve = \"linear\", hold = 1 }]"));
  const SequenceCourse course = course_at_rest(feel, &feel.takes[0], feel.sequences[0]);
  const Components there = place_of(feel, 0.25 + course.arrives[1]);
  EXPECT_NEAR(length_of(plus(there, {1, 2, 30}, -1.0)), 4.0 * course.arrives[1], 1e-9);
  const Feel slow = test::feel_from(view_of(line, "along = \"eye\"\nstops = [{ eye = [1, 2, 30] }, { speed = 1, eye = "
                                                  "{ track = \"t\" }, curve = \"linear\", hold = 1 }]"));
  const auto given_up = course_at_rest(slow, &slow.takes[0], slow.sequences[0]).given_up;
  ASSERT_EQ(given_up.size(), 1u);
  EXPECT_NE(given_up[0].find("outruns"), std::string::npos);
}

TEST(SequenceSubject, AnglesThatAreRecordedRoundGoTheShortWay) {
  Feel feel = test::feel_from("[channel.yaw]\nunit = \"deg\"\nrest = 0\nspace = \"turn\"\nmotion = { kind = \"cut\" }\n"
                              "[track.t]\nkind = \"line\"\nfrom = 0\nvelocity = 0\n"
                              "[sequence.s]\nstops = [{ yaw = { track = \"t\" }, cut = true, hold = 3 }]\n");
  auto path = std::make_shared<RecordedPath>();
  path->time = std::vector<double>{0.0, 1.0, 2.0};
  path->place[0] = std::vector<double>{350.0, 10.0, 340.0};
  feel.tracks[0].path = std::shared_ptr<const RecordedPath>(std::move(path));
  const SequenceCourse course = course_at_rest(feel, nullptr, feel.sequences[0]);
  const auto& way = course.channels[0].way[0];
  EXPECT_NEAR(way->at(0.0).value, -10.0, 1e-12);
  EXPECT_NEAR(way->at(0.5).value, 0.0, 1e-12);
  EXPECT_NEAR(way->at(2.0).value, -20.0, 1e-12);
}

TEST(SequenceSubject, WhatGoesWithASubjectJumpsWhereThatDoes) {
  const Feel feel =
      test::feel_from(view_of("kind = \"steps\"\nplaces = [[0, 0, 0], [4, 0, 0], [0, 0, 4], [1, 0, 0]]\nevery = 1",
                              "overshoot = false\nstops = [{ after = 0.5, eye = { track = \"t\" }, hold = 2 }]"));
  // It starts at 0.25 s and is over at 2.75: of the jumps at 1, 2 and 3 s two lie in it.
  const SequenceCourse course = course_at_rest(feel, &feel.takes[0], feel.sequences[0]);
  ASSERT_EQ(course.cuts.size(), 2u);
  EXPECT_NEAR(course.cuts[0], 0.75, 1e-12);
  EXPECT_NEAR(course.cuts[1], 1.75, 1e-12);
}

/// A chase is made of hundreds of stretches whose speed is full of roundings: a way is measured in a bounded time.
TEST(SequenceSubject, AChaseIsMeasuredQuickly) {
  const Feel feel =
      test::feel_from(view_of("kind = \"eight\"\ncentre = [0, 1, 0]\nwidth = 6\nheight = 3\nlap = 5",
                              "overshoot = false\nstops = [{ eye = [5, 5, 5] }, { after = 0.5, eye = { track = "
                              "\"t\" } }, { after = 1.25, eye = { track = \"t\" }, motion = { kind = "
                              "\"pace\", speed = 5, acceleration = 30 } }]"));
  const SequenceCourse course = course_at_rest(feel, &feel.takes[0], feel.sequences[0]);
  const auto legs = legs_of(feel, course, {0.0, course.total(), 0.0}, 1.0);
  ASSERT_EQ(legs.size(), 3u);
  const auto way = [&](double from, double to) { // by many short chords
    double length = 0.0;
    Components last = along_at(feel, course, from).place;
    constexpr int chords = 20'000;
    for (int k = 1; k <= chords; ++k) {
      const Components next = along_at(feel, course, from + (to - from) * k / chords).place;
      length += length_of(plus(next, last, -1.0));
      last = next;
    }
    return length;
  };
  EXPECT_NEAR(legs[2].length, way(0.5, 1.75), 1e-5);
}

/// Steps are made when they are asked for, and one in many is kept: what is asked, in which order, changes nothing, and
/// a stop that is held for a day costs no more than what is played of it.
TEST(SequenceSubject, AChaseIsTheSameInWhateverOrderItIsAsked) {
  for (const char* const motion :
       {"kind = \"spring\", frequency = 1.1, damping_ratio = 0.5", "kind = \"pace\", speed = 5, acceleration = 30",
        "kind = \"stages\", stages = [{ kind = \"glide\", half_life = 0.1 }, { kind = "
        "\"spring\", frequency = 2, damping_ratio = 0.8 }]"}) {
    const Feel feel = test::feel_from(view_of(
        circle,
        fmt::format("stops = [{{ eye = [5, 5, 5] }}, {{ after = 1, eye = {{ track = \"t\" }}, motion = {{ {} }}, "
                    "hold = 80000 }}]",
                    motion)));
    const auto in_order = way_of(feel), at_random = way_of(feel);
    std::vector<double> times;
    for (int k = 0; k < 400; ++k) times.push_back(0.0173 * k);
    std::vector<Instant> found;
    for (const double time : times) found.push_back(in_order->at(time));
    for (std::size_t k = 0; k < times.size(); ++k) {
      const std::size_t n = (k * 151 + 7) % times.size();
      const Instant now = at_random->at(times[n]);
      EXPECT_EQ(now.value, found[n].value) << motion << times[n];
      EXPECT_EQ(now.velocity, found[n].velocity) << motion << times[n];
    }
  }
}

TEST(SequenceSubject, WhatCannotBeIsRefused) {
  const auto code_of = [](const std::string& text) {
    const Problems problems = test::problems_of(text);
    return problems.empty() ? std::string() : problems[0].code;
  };
  const std::string stops =
      "stops = [{ eye = { track = \"t\" }, cut = true, hold = 1 }, { after = 1, eye = [0, 0, 0] }]\n";
  EXPECT_EQ(code_of(view_of(line, stops)), "");
  EXPECT_EQ(code_of(view_of(line, stops + "repeat = 2")), "feel.sequence");
  EXPECT_EQ(code_of(view_of(line, stops + "there_and_back = true")), "feel.sequence");
}

} // namespace
} // namespace stasis
