// Views led through places: exact between frames, the same at every rate, given back without a jump.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/check/warning.hpp"
#include "core/explain/explain_sequence.hpp"
#include "core/take/session.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

/// A view of a place, an angle and a lens, all by springs; the sequence is what is told.
std::string led_feel(const std::string& sequence, const std::string& cues, double fps = 60, double length = 8) {
  return fmt::format(R"([channel.eye]
unit = "m"
rest = [0, 2, 6]
motion = "soft"
[channel.yaw]
unit = "deg"
rest = 0
space = "turn"
motion = "soft"
[channel.fov]
unit = "deg"
rest = 62
range = [20, 100]
space = "zoom"
motion = "soft"
[motion.soft]
kind = "spring"
frequency = 1.2
damping_ratio = 0.9
[pose.listen]
fov = 38
[control.listen]
kind = "hold"
pose = "listen"
[sequence.arrival]
{}
[take.t]
length = {}
clock = {{ fps = {} }}
cues = [{}]
)",
                     sequence, length, fps, cues);
}

const std::string flown = R"(stops = [
  { eye = [0, 5, 20], yaw = 170, fov = 62 },
  { at = 1.5, eye = [4, 4, 15], yaw = -170 },
  { at = 2.5, eye = [2, 3, 11], fov = 50 },
  { after = 1, eye = [-3, 2.5, 9], yaw = -90 },
  { at = 5, eye = [0, 2, 6], yaw = 0, fov = 62 },
])";
const std::string start_cue = "{ at = 0.25, start = \"arrival\" }";

// Rule Q2.
TEST(Sequence, IsTheSameAtEveryFrameRate) {
  const Feel fine = test::feel_from(led_feel(flown, start_cue, 240));
  for (const double fps : {24.0, 60.0, 120.0}) {
    const Feel feel = test::feel_from(led_feel(flown, start_cue, fps));
    for (const ComponentRef component :
         {ComponentRef{0, 0}, ComponentRef{0, 2}, ComponentRef{1, 0}, ComponentRef{2, 0}}) {
      const auto rows = test::play_rows(feel, component.channel, component.component);
      const auto all = test::play_rows(fine, component.channel, component.component);
      const auto stride = static_cast<std::size_t>(240 / fps);
      for (std::size_t row = 0; row < rows.smooth.size() && row * stride < all.smooth.size(); ++row)
        ASSERT_NEAR(rows.smooth[row], all.smooth[row * stride], 1e-9) << fps << " fps, row " << row;
    }
  }
}

// Rule Q3.
TEST(Sequence, FliesWithContinuousAccelerationByTheShortWay) {
  const Feel feel = test::feel_from(led_feel(flown, start_cue));
  const SequenceCourse course = course_at_rest(feel, nullptr, feel.sequences[0]);
  for (const double stop : {1.5, 2.5, 3.5})
    for (const auto& one : course.channels)
      for (const auto& way : one.way) {
        if (way == nullptr) continue;
        const Instant before = way->at(stop, Side::before), after = way->at(stop, Side::at);
        EXPECT_NEAR(before.value, after.value, 1e-12);
        EXPECT_NEAR(before.velocity, after.velocity, 1e-9);
        EXPECT_NEAR(before.acceleration, after.acceleration, 1e-9);
      }
  // 170, -170, -90, 0 are 170, 190, 270, 360.
  EXPECT_DOUBLE_EQ(course.channels[1].way[0]->at(1.5).value, 190.0);
  EXPECT_DOUBLE_EQ(course.channels[1].way[0]->at(5.0).value, 360.0);
  const auto yaw = test::play_rows(feel, 1);
  for (std::size_t row = 16; row < 300; ++row) EXPECT_GE(yaw.smooth[row], 169.9) << row;
}

// Rule Q1.
TEST(Sequence, LeadsItsChannelsWhateverIsHeld) {
  const Feel feel = test::feel_from(
      led_feel(flown, start_cue + ", { at = 1, press = \"listen\" }, { at = 6, release = \"listen\" }"));
  const Feel alone = test::feel_from(led_feel(flown, start_cue));
  const auto held = test::play_rows(feel, 2), free = test::play_rows(alone, 2);
  for (std::size_t row = 0; row <= 315; ++row) ASSERT_EQ(held.smooth[row], free.smooth[row]) << row;
  EXPECT_EQ(held.goal[320], 38.0); // given back to what is held
  EXPECT_EQ(held.goal.back(), 62.0);
}

// Rule Q6.
TEST(Sequence, GivesBackWithoutAJumpWhereverItIsSkipped) {
  for (int n = 1; n <= 1000; ++n) {
    const double at = 0.3 + 0.0047 * n;
    const std::string more = n % 2 == 0   ? "steady = true\n"
                             : n % 3 == 0 ? "overshoot = false\n"
                                          : "there_and_back = true\n";
    const Feel feel = test::feel_from(
        led_feel(flown + "\n" + more, start_cue + fmt::format(", {{ at = {}, skip = \"arrival\" }}", at)));
    test::RowSink eye(0, 0), yaw(1, 0), fov(2, 0);
    BlockSink* const sinks[] = {&eye, &yaw, &fov};
    play(test::scene_of(feel), sinks);
    for (const test::RowSink* sink : {&eye, &yaw, &fov}) {
      const test::Rows& rows = sink->rows;
      const auto k = static_cast<std::size_t>(std::ceil(at * 60.0 - 1e-7));
      if (k + 2 >= rows.smooth.size() || k < 18) continue;
      // The row of the skip lies where its neighbours lead: a jump would show as a bend of its own size.
      const double before = rows.smooth[k] - rows.smooth[k - 1], after = rows.smooth[k + 1] - rows.smooth[k];
      const double most =
          0.05 * std::max(1.0, std::fabs(rows.velocity[k])) + 0.35 * std::fabs(rows.goal[k] - rows.smooth[k]) / 10.0;
      ASSERT_NEAR(before, after, most) << "skipped at " << at << ", row " << k;
    }
  }
}

// Rule Q6: value and speed go on exactly, whatever the sequence is.
TEST(Sequence, CarriesItsSpeedToTheSpringThatTakesOver) {
  int given_back = 0;
  for (std::uint64_t seed = 1; seed <= 1000; ++seed) {
    test::FeelMaker maker(seed, {.tracks = false, .shakes = false, .controls = false, .sequences = true});
    std::string text = maker.make().text;
    // Springs alone, so that speeds are carried on.
    text += "[motion.only]\nkind = \"spring\"\nfrequency = 1.5\ndamping_ratio = 0.8\n";
    const std::string head = "[sequence.tour]\n";
    text.insert(text.find(head) + head.size(), "leaving = \"only\"\n");
    const Feel feel = test::feel_from(text);
    const Take& take = feel.takes[0];
    Session session(feel, take, 60.0);
    std::size_t next = 0;
    std::vector<std::vector<double>> states(feel.channels.size(), std::vector<double>(3));
    for (std::int64_t frame = 0;
         frame < session.scene().clock.frames && static_cast<double>(frame) / 60.0 <= take.length; ++frame) {
      while (next < take.cues.size() && due_frame(session.scene().clock, take.cues[next].at) <= frame)
        session.give(take.cues[next++]);
      session.advance(0.0);
      const Block* before = session.frame_before();
      if (before == nullptr) continue;
      const std::string& cause = before->cause;
      const bool back = cause.find("skip tour") != std::string::npos || cause.find("end tour") != std::string::npos;
      for (std::size_t c = 0; c < feel.channels.size(); ++c)
        for (std::size_t i = 0; i < feel.channels[c].components; ++i) {
          const ComponentBlock& column = before->channels[c].component[i];
          const bool is_spring = std::holds_alternative<Spring>(feel.motions[column.motion].motion)
                                 && column.slowed == nullptr && !column.moves();
          const bool pinned =
              column.smooth[0] == feel.channels[c].range[i].low || column.smooth[0] == feel.channels[c].range[i].high;
          if (back && is_spring && !pinned && feel.motions[column.motion].name == "only") {
            const double size = std::max(1.0, std::fabs(column.rate_before));
            ASSERT_NEAR(column.rate[0], column.rate_before, 1e-9 * size) << "seed " << seed << "\n" << text;
            ASSERT_NEAR(column.state[0], states[c][i], 1e-9) << "seed " << seed << "\n" << text;
            ++given_back;
          }
          states[c][i] = column.state.back();
        }
    }
  }
  EXPECT_GT(given_back, 250);
}

// Rule Q4.
TEST(Sequence, EasesCutsHoldsAndMoves) {
  const Feel feel = test::feel_from(led_feel(R"(stops = [
  { fov = 50, after = 1, curve = "linear", hold = 0.5 },
  { fov = 30, cut = true, hold = 0.5 },
  { fov = 60, after = 1, motion = { kind = "glide", half_life = 0.1 } },
])",
                                             "{ at = 0, start = \"arrival\" }"));
  const auto way = course_at_rest(feel, nullptr, feel.sequences[0]).channels[0].way[0];
  const SpaceMap& zoom = feel.channels[2].space;
  const double from = to_space(zoom, 62), to = to_space(zoom, 50);
  EXPECT_NEAR(way->at(0.25).value, from + 0.25 * (to - from), 1e-12);
  EXPECT_DOUBLE_EQ(way->at(1.3).value, to);
  EXPECT_DOUBLE_EQ(way->at(1.5, Side::before).value, to);
  EXPECT_DOUBLE_EQ(way->at(1.5).value, to_space(zoom, 30));
  // From 2 s on a glide: half of the way in each half-life.
  EXPECT_NEAR(way->at(2.2).value, to_space(zoom, 60) + 0.25 * (to_space(zoom, 30) - to_space(zoom, 60)), 1e-12);
}

// Rule Q5.
TEST(Sequence, GivesUpInTheStatedOrder) {
  const auto given_up = [](const std::string& more) {
    const Feel feel = test::feel_from(led_feel(flown + "\n" + more, start_cue));
    return account_of_sequence(feel, nullptr, feel.sequences[0]);
  };
  EXPECT_TRUE(given_up("").given_up.empty());
  const SequenceAccount steady = given_up("steady = true");
  ASSERT_EQ(steady.given_up.size(), 1U);
  EXPECT_NE(steady.given_up[0].find("times of the stops between"), std::string::npos);
  EXPECT_DOUBLE_EQ(steady.stops.back().arrives, 5.0);
  EXPECT_NE(steady.stops[1].arrives, 1.5);
}

TEST(Sequence, ComesAtTheSpeedThatIsAskedFor) {
  const Feel feel = test::feel_from(led_feel(
      "stops = [{ eye = [0, 0, 0] }, { speed = 2, eye = [3, 0, 4] }, { speed = 4, eye = [9, 0, 4] }]", start_cue));
  const SequenceCourse course = course_at_rest(feel, nullptr, feel.sequences[0]);
  const auto legs = legs_of(feel, course, {0.0, course.total(), 0.0}, 1.0);
  ASSERT_EQ(legs.size(), 3U);
  EXPECT_NEAR(legs[1].length / legs[1].duration, 2.0, 1e-9);
  EXPECT_NEAR(legs[2].length / legs[2].duration, 4.0, 1e-9);
}

// Rule Q7.
TEST(Sequence, GoesThereAndBackAtAPaceFromStopToStop) {
  const Feel feel = test::feel_from(led_feel("stops = [{ fov = 30 }, { after = 1, fov = 40, curve = \"linear\" }, { "
                                             "after = 1, fov = 60, curve = \"linear\" }]\nthere_and_back = true",
                                             "{ at = 0, start = \"arrival\", pace = 2, from = 2 }"));
  const auto rows = test::play_rows(feel, 2);
  EXPECT_NEAR(rows.smooth[1], 40.0, 1.0);
  EXPECT_NEAR(rows.smooth[30], 60.0, 1e-9); // 0.5 s
  EXPECT_NEAR(rows.smooth[60], 40.0, 1e-9); // and back at the stop at which it began
  const Feel back = test::feel_from(led_feel("stops = [{ fov = 30 }, { after = 1, fov = 40, curve = \"linear\" }]",
                                             "{ at = 0, start = \"arrival\", backward = true }"));
  const auto backward = test::play_rows(back, 2);
  EXPECT_NEAR(backward.smooth[59], 30.0, 0.3);
  EXPECT_NEAR(backward.smooth[1], 40.0, 0.3);
}

TEST(Sequence, AFlightThatEndsWhereItBeganGoesOnUnlessItIsToldToHalt) {
  const std::string round = "repeat = 2\nsteady = true\nstops = [{ eye = [0, 0, 0] }, { after = 1, eye = [4, 0, 0] }, "
                            "{ after = 1, eye = [4, 0, 4] }, { after = 1, eye = [0, 0, 0] }]\n";
  const auto speed_at_seam = [&](const std::string& more) {
    const Feel feel = test::feel_from(led_feel(round + more, start_cue));
    const SequenceCourse course = course_at_rest(feel, nullptr, feel.sequences[0]);
    return length_of(along_at(feel, course, course.total(), Side::before).velocity);
  };
  const double goes_on = speed_at_seam("");
  EXPECT_GT(goes_on, 3.0);
  EXPECT_DOUBLE_EQ(speed_at_seam("ease_in = 0\nease_out = 0"), goes_on);
  EXPECT_NEAR(speed_at_seam("ease_in = 0.5\nease_out = 0.5"), 0.0, 1e-9);
}

TEST(Sequence, ItsGoalsAreToldWithTheirUnitsWhereTheyHaveThem) {
  const Feel feel = test::feel_from(led_feel(
      "stops = [{ eye = [0, 5, 20], yaw = { add = -20 }, fov = { times = 1.5 } }, { after = 1, \"eye.y\" = 2 }]",
      start_cue));
  const SequenceAccount account = account_of_sequence(feel, nullptr, feel.sequences[0]);
  EXPECT_EQ(account.stops[0].goals, "eye (0, 5, 20) m, yaw its home less 20 deg, fov 1.5 times its home");
  EXPECT_EQ(account.stops[1].goals, "eye.y 2 m");
}

// Rule Q8.
TEST(Sequence, BeginsAndEndsByAControl) {
  const std::string tour = led_feel(flown, "{ at = 0.25, press = \"go\" }, { at = 0.3, release = \"go\" }, "
                                           "{ at = 2, press = \"go\" }, { at = 2.1, release = \"go\" }")
                           + "[control.go]\nkind = \"sequence\"\nsequence = \"arrival\"\n";
  const Feel feel = test::feel_from(tour);
  const TakeMeasures measures = test::play_measures(feel);
  ASSERT_EQ(measures.sequences[0].starts, 1);
  EXPECT_EQ(measures.sequences[0].skips, 1);
  const auto by_cue = test::play_rows(test::feel_from(led_feel(flown, start_cue)));
  const auto by_hand = test::play_rows(feel);
  for (std::size_t row = 0; row < 120; ++row) ASSERT_EQ(by_hand.smooth[row], by_cue.smooth[row]);
}

TEST(Sequence, WithoutLengthOrEndItStaysBounded) {
  for (const char* stops :
       {"stops = [{ fov = 30 }, { after = 0, fov = 30 }]", "stops = [{ fov = 30 }, { after = 1e-6, fov = 50 }]",
        "stops = [{ fov = 30 }, { at = 0, fov = 50, cut = true }]"}) {
    const Feel feel = test::feel_from(
        led_feel(std::string(stops) + "\nrepeat = 0\nthere_and_back = true\npace = 100", start_cue, 60, 1));
    const auto rows = test::play_rows(feel, 2);
    for (const double value : rows.smooth) ASSERT_TRUE(value >= 20.0 && value <= 100.0);
    EXPECT_LE(test::play_measures(feel).sequences[0].legs.size(), 1000U);
  }
}

TEST(Sequence, BeginsByASwitch) {
  const Feel feel =
      test::feel_from(led_feel(flown, "{ at = 0.5, press = \"listen\" }, { at = 2, release = \"listen\" }")
                      + "[switch.near]\non = \"fov\"\nstarts = \"arrival\"\nenter_below = 50\n"
                        "leave_above = 55\n");
  EXPECT_EQ(test::play_measures(feel).sequences[0].starts, 1);
  EXPECT_FALSE(test::problems_of(led_feel(flown, "")
                                 + "[switch.near]\non = \"fov\"\nenter_below = 50\nleave_above "
                                   "= 55\n")
                   .empty());
}

TEST(Sequence, TurnsTogetherByTheShortWay) {
  const std::string picture = "[picture]\nposition = \"eye\"\nyaw = \"yaw\"\n";
  const Feel feel = test::feel_from(picture + led_feel("turns = \"together\"\n" + flown, start_cue));
  const Feel apart = test::feel_from(picture + led_feel(flown, start_cue));
  const auto yaw = test::play_rows(feel, 1), other = test::play_rows(apart, 1);
  // About one axis the short way is that of the angle: 170, 190, 270, 360 at the stops.
  for (const std::size_t row : {106U, 226U, 316U}) EXPECT_NEAR(yaw.smooth[row], other.smooth[row], 2.0) << row;
  EXPECT_NEAR(yaw.smooth[105], 190.0, 1e-9);
  EXPECT_NEAR(yaw.smooth[225], 270.0, 1e-9);
  EXPECT_NEAR(yaw.smooth[315], 360.0, 1e-9);
}

TEST(Sequence, StaysWhereItEndsIfItSaysSo) {
  const Feel feel =
      test::feel_from(led_feel("on_end = \"stay\"\nstops = [{ after = 1, fov = 40, curve = \"ease\" }]", start_cue));
  const auto rows = test::play_rows(feel, 2);
  EXPECT_NEAR(rows.smooth.back(), 40.0, 1e-12);
  EXPECT_NEAR(rows.goal.back(), 40.0, 1e-12);
}

TEST(Sequence, OfTwoThatLeadOneChannelTheLaterOneHasIt) {
  const Feel feel = test::feel_from(led_feel(flown, start_cue + ", { at = 1, start = \"other\" }")
                                    + "[sequence.other]\nstops = [{ after = 1, fov = 30, curve = \"in-out sine\" }]\n");
  const TakeMeasures measures = test::play_measures(feel);
  EXPECT_EQ(measures.sequences[0].skips, 1);
  EXPECT_NEAR(test::play_rows(feel, 2).smooth[120], 30.0, 1e-9);
}

TEST(Sequence, LegsAreMeasuredAsTheyAreGone) {
  const Feel feel = test::feel_from(led_feel(flown + "\nsteady = true\nease_in = 0\nease_out = 0", start_cue));
  const TakeMeasures measures = test::play_measures(feel);
  const auto& legs = measures.sequences[0].legs;
  ASSERT_EQ(legs.size(), 5U);
  double way = 0.0, time = 0.0;
  for (const LegSummary& leg : legs) {
    way += leg.leg.length;
    time += leg.leg.duration;
  }
  EXPECT_NEAR(time, 5.0, 1e-12);
  for (std::size_t k = 1; k < legs.size(); ++k) {
    EXPECT_NEAR(legs[k].leg.top_speed, way / 5.0, 1e-9 * way);
    EXPECT_NEAR(legs[k].leg.length / legs[k].leg.duration, way / 5.0, 1e-9 * way);
    EXPECT_NEAR(legs[k].leg.speed_jump, 0.0, 1e-6);
  }
}

std::vector<std::string> sequence_codes(const std::string& text) {
  std::vector<std::string> codes;
  for (const Warning& warning : warnings_of_feel(test::feel_from(text))) codes.push_back(warning.code);
  return codes;
}

TEST(Sequence, WarnsOfSnapsAndOfStopsThatAreNeverReached) {
  using Codes = std::vector<std::string>;
  EXPECT_EQ(sequence_codes(led_feel(flown, start_cue)), Codes{});
  EXPECT_EQ(sequence_codes(led_feel(flown, "")), Codes{"unused_sequence"});
  EXPECT_EQ(
      sequence_codes(led_feel("stops = [{ after = 1, eye = [9, 2, 6], curve = \"linear\" }, { after = 1, eye = [0, 2, "
                              "6], curve = \"in-out sine\" }]",
                              start_cue)),
      Codes{"snap_at_stop"});
  EXPECT_EQ(
      sequence_codes(led_feel("stops = [{ after = 0.2, fov = 30, motion = \"soft\" }, { after = 1, fov = 62, curve = "
                              "\"in-out sine\" }]",
                              start_cue)),
      Codes{"stop_not_reached"});
  EXPECT_EQ(sequence_codes(led_feel(flown + "\nrepeat = 2", start_cue)), Codes{"snap_at_stop"});
  std::string cuts = led_feel("stops = [{ after = 1, fov = 30, curve = \"in-out sine\" }]", start_cue);
  const std::string moves = "space = \"zoom\"\nmotion = \"soft\"";
  cuts.replace(cuts.find(moves), moves.size(), "space = \"zoom\"");
  EXPECT_EQ(sequence_codes(cuts), Codes{"snap_at_end"});
}

// Rule Q9.
TEST(Sequence, AnObstacleHoldsWhatItLeads) {
  const Feel feel = test::feel_from(R"([picture]
focus = "focus"
distance = "radius"
[channel.focus]
unit = "m"
rest = [0, 1, -3]
[obstacle.cliff]
kind = "plane"
normal = [0, 0, -1]
at = [0, 0, 0]
[channel.radius]
unit = "m"
rest = 1
range = [0.2, 9]
motion = { kind = "glide", half_life = 0.1 }
obstacles = { thickness = 0.4 }
[sequence.back]
stops = [{ after = 2, radius = 8, curve = "in-out sine" }, { after = 2, radius = 1, curve = "in-out sine" }]
[take.t]
length = 5
cues = [{ at = 0, start = "back" }]
)");
  const auto rows = test::play_rows(feel, 1);
  double highest = 0.0;
  for (const double value : rows.smooth) highest = std::max(highest, value);
  EXPECT_NEAR(highest, 2.8, 1e-9); // 3 m to the cliff, less the ball's radius
  EXPECT_NEAR(rows.smooth[60], 2.8, 1e-9);
  EXPECT_NEAR(rows.smooth[20], 1.0 + 7.0 * 0.5 * (1.0 - std::cos(3.14159265358979 * 20 / 120)), 1e-9);
  EXPECT_NEAR(rows.smooth[240], 1.0, 1e-9);
}

TEST(Sequence, WarnsWhereItPassesWhatItLooksAt) {
  const std::string text = R"([picture]
position = "eye"
focus = "focus"
[channel.eye]
unit = "m"
rest = [0, 1, 5]
motion = { kind = "glide", half_life = 0.2 }
[channel.focus]
unit = "m"
rest = [0, 1, 0]
[sequence.by]
stops = [{ eye = [-5, 1, NEAR] }, { after = 2, eye = [0, 1, NEAR] }, { after = 2, eye = [5, 1, NEAR] }]
[take.t]
length = 5
cues = [{ at = 0, start = "by" }]
)";
  const auto at = [&](const std::string& near) {
    std::string filled = text;
    for (std::size_t k; (k = filled.find("NEAR")) != std::string::npos;) filled.replace(k, 4, near);
    return sequence_codes(filled);
  };
  EXPECT_EQ(at("0.1"), std::vector<std::string>{"passes_look_point"});
  EXPECT_EQ(at("2"), std::vector<std::string>{});
}

TEST(Sequence, FaultsAreTold) {
  const auto fault = [](const std::string& sequence) {
    const Problems problems = test::problems_of(led_feel(sequence, ""));
    return problems.empty() ? std::string("none") : problems.front().message;
  };
  EXPECT_NE(fault("stops = [{ fov = 30 }, { fov = 50 }]").find("when this stop is reached"), std::string::npos);
  EXPECT_NE(fault("stops = [{ at = 2, fov = 30 }, { at = 1, fov = 50 }]").find("before the last stop is left"),
            std::string::npos);
  EXPECT_NE(fault("stops = [{ at = 2, after = 1, fov = 30 }]").find("a stop takes one of at, after and speed"),
            std::string::npos);
  EXPECT_NE(fault("stops = [{ after = 1, fov = 30, cut = true, curve = \"ease\" }]").find("one way"),
            std::string::npos);
  EXPECT_NE(fault("stops = [{ at = 1 }]").find("names no channel"), std::string::npos);
  EXPECT_NE(fault("stops = []").find("1 to"), std::string::npos);
  EXPECT_NE(fault("stops = [{ fov = 30 }]\nalong = \"yaw\"").find("no stop leads"), std::string::npos);
}

} // namespace
} // namespace stasis
