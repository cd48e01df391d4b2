// Sequences at times that people type: ends of legs and passes that fall on frames, or miss them by a rounding.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/motion/led_time.hpp"
#include "core/take/sequence_course.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

struct TypedSequence {
  double time;            ///< s, of each leg and hold
  const char *way, *more; ///< of each stop, of the sequence
};

std::string typed_feel(const TypedSequence& typed, double fps) {
  return fmt::format(R"([channel.a]
unit = "m"
rest = 0
range = [-20, 20]
motion = {{ kind = "spring", frequency = 2, damping_ratio = 0.7 }}
[sequence.s]
{2}
stops = [{{ a = 1, after = {0}{1} }}, {{ a = 3, after = {0}{1}, hold = {0} }}, {{ a = 2, after = {0}{1} }}]
[take.t]
length = 5
clock = {{ fps = {3} }}
cues = [{{ at = 0.5, start = "s" }}]
)",
                     typed.time, typed.way, typed.more, fps);
}

constexpr const char* typed_ways[] = {"", ", curve = \"in-out sine\"", ", curve = \"linear\"",
                                      ", motion = { kind = \"glide\", half_life = 0.05 }",
                                      ", motion = { kind = \"pace\", speed = 30, acceleration = 200 }"};
constexpr const char* typed_wholes[] = {"",
                                        "steady = true",
                                        "overshoot = false",
                                        "repeat = 2",
                                        "repeat = 3\npace = 2",
                                        "there_and_back = true",
                                        "backward = true"};

template<class Check> void for_each_typed(Check check) {
  for (const double time : {0.1, 0.2, 0.5})
    for (const char* way : typed_ways)
      for (const char* more : typed_wholes) check(TypedSequence{time, way, more});
}

// A take at 1,000 frames a second tells the truth; at 20, 30, 60 and 120 every end falls on a frame, to a rounding.
TEST(SequenceRounding, EveryMeasureIsThatOfAnyFrameRate) {
  for_each_typed([](const TypedSequence& typed) {
    const TakeMeasures fine = test::play_measures(test::feel_from(typed_feel(typed, 1000)));
    for (const double fps : {20.0, 30.0, 60.0, 120.0}) {
      const TakeMeasures coarse = test::play_measures(test::feel_from(typed_feel(typed, fps)));
      const auto where = fmt::format("{} s, {}, {} at {} fps", typed.time, typed.way, typed.more, fps);
      const PathSummary &a = fine.channels[0].path, &b = coarse.channels[0].path;
      EXPECT_NEAR(a.travelled, b.travelled, 2e-3 * a.travelled) << where;
      EXPECT_EQ(a.reversals[0], b.reversals[0]) << where;
      EXPECT_NEAR(a.lowest[0].value, b.lowest[0].value, 1e-6) << where;
      EXPECT_NEAR(a.highest[0].value, b.highest[0].value, 1e-6) << where;
      EXPECT_NEAR(a.top_speed.value, b.top_speed.value, 1e-6 * a.top_speed.value) << where;
      ASSERT_EQ(a.top_speed_jump.has_value(), b.top_speed_jump.has_value()) << where;
      if (a.top_speed_jump) {
        EXPECT_NEAR(a.top_speed_jump->value, b.top_speed_jump->value, 1e-6 * a.top_speed.value) << where;
      }
      ASSERT_EQ(fine.moves.size(), coarse.moves.size()) << where;
      for (std::size_t m = 0; m < fine.moves.size(); ++m) {
        EXPECT_NEAR(fine.moves[m].start, coarse.moves[m].start, 1e-9) << where;
        EXPECT_NEAR(fine.moves[m].from[0], coarse.moves[m].from[0], 1e-9) << where;
        ASSERT_EQ(fine.moves[m].settling_time.has_value(), coarse.moves[m].settling_time.has_value()) << where;
        if (fine.moves[m].settling_time) {
          EXPECT_NEAR(*fine.moves[m].settling_time, *coarse.moves[m].settling_time, 1e-6) << where;
        }
      }
      const auto &legs = fine.sequences[0].legs, &others = coarse.sequences[0].legs;
      ASSERT_EQ(legs.size(), others.size()) << where;
      for (std::size_t k = 0; k < legs.size(); ++k) {
        EXPECT_EQ(legs[k].leg.to, others[k].leg.to) << where;
        EXPECT_NEAR(legs[k].leg.start, others[k].leg.start, 1e-9) << where;
        EXPECT_NEAR(legs[k].leg.duration, others[k].leg.duration, 1e-9) << where;
        EXPECT_NEAR(legs[k].leg.length, others[k].leg.length, 1e-9) << where;
      }
    }
  });
}

// A hair beside an instant, within a rounding, is that instant, seen from either side.
TEST(SequenceRounding, AHairBesideAnInstantIsThatInstant) {
  for_each_typed([](const TypedSequence& typed) {
    const Feel feel = test::feel_from(typed_feel(typed, 60));
    const Sequence& sequence = feel.sequences[0];
    const SequenceCourse course = course_at_rest(feel, nullptr, sequence);
    const LedCourse led{course.channels[0].way[0], time_of(sequence, course)};
    std::vector<double> instants{led.time.total()};
    for (const CoursePass& pass : passes_of(led.time, led.time.total(), 10)) instants.push_back(pass.begins);
    for (const double instant : instants)
      for (const double hair : {-4e-14, -1e-15, 1e-15, 4e-14})
        for (const Side side : {Side::at, Side::before}) {
          if (instant == 0.0) continue;
          const Instant there = evaluate(led, instant, side), beside = evaluate(led, instant + hair, side);
          EXPECT_NEAR(there.value, beside.value, 1e-9) << typed.way << typed.more << " at " << instant;
          EXPECT_NEAR(there.velocity, beside.velocity, 1e-6 * std::max(1.0, std::fabs(there.velocity)))
              << typed.way << typed.more << " at " << instant << (side == Side::at ? " from then on" : " before");
        }
  });
}

TEST(SequenceRounding, ANearbyInstantIsTheOneThatWasMeant) {
  const std::vector<double> instants{0.0, 0.1 + 0.2, 1.0};
  EXPECT_EQ(meant_instant(0.3, instants), 0.1 + 0.2);
  EXPECT_EQ(meant_instant(0.3001, instants), 0.3001);
  EXPECT_EQ(meant_instant(1.0 + 1e-13, instants), 1.0);
  EXPECT_EQ(meant_instant(-1e-13, instants), 0.0);
  EXPECT_EQ(meant_instant(5.0, instants), 5.0);
}

TEST(SequenceRounding, APassEndsWhereItsTimeEndsToARounding) {
  const LedTime time{1.0, 0.0, 0.1, 0.4, 3, false, false}; // 0.4 s, then twice 0.3 s
  for (const double hair : {-1e-15, 0.0, 1e-15}) {
    EXPECT_DOUBLE_EQ(place_at(time, 0.4 + hair, true).at, 0.4);
    EXPECT_DOUBLE_EQ(place_at(time, 0.4 + hair, false).at, 0.1);
    EXPECT_DOUBLE_EQ(place_at(time, 0.7 + hair, true).at, 0.4);
    EXPECT_DOUBLE_EQ(place_at(time, 0.7 + hair, false).at, 0.1);
    EXPECT_FALSE(place_at(time, 1.0 + hair, true).is_over);
    EXPECT_TRUE(place_at(time, 1.0 + hair, false).is_over);
    EXPECT_DOUBLE_EQ(place_at(time, 1.0 + hair, false).at, 0.4);
  }
}

/// The later a stop is come to, the shorter the time to the next one, the further the way to it swings out: for some
/// speeds no time agrees with its way.
TEST(SequenceSpeeds, WithoutATimeThatAgreesWithItsWayAreThoseOfTheStraightWay) {
  for (const double speed : {0.9, 3.0, 9.673, 400.0}) {
    const Feel feel = test::feel_from(
        fmt::format("[channel.place]\nunit = \"m\"\nrest = [0, 1, 0]\n[sequence.s]\nalong = \"place\"\nstops = [{{ "
                    "speed = {}, place = "
                    "[-4.48, 1.87, -6.6] }}, {{ at = 1.388, place = [-9, -9, -9] }}]\n[take.t]\nlength = 2\n",
                    speed));
    const SequenceCourse course = course_at_rest(feel, nullptr, feel.sequences[0]);
    const double straight = std::sqrt(4.48 * 4.48 + 0.87 * 0.87 + 6.6 * 6.6);
    const auto legs = legs_of(feel, course, {0.0, course.total(), 0.0}, 1.0);
    ASSERT_EQ(legs.size(), 2u) << speed;
    ASSERT_TRUE(std::isfinite(legs[0].length)) << speed;
    if (course.given_up.empty())
      EXPECT_NEAR(legs[0].length / legs[0].duration, speed, 1e-6 * speed); // of the way as it is
    else
      EXPECT_NEAR(straight / legs[0].duration, speed, 1e-9 * speed) << course.given_up[0];
    for (double t = 0.0; t <= course.total(); t += 0.01) EXPECT_TRUE(std::isfinite(along_at(feel, course, t).place[0]));
  }
}

} // namespace
} // namespace stasis
