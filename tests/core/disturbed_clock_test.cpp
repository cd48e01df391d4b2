// Clocks whose frames are not evenly spaced, and paths that do not care.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/clock.hpp"
#include "core/search/stress.hpp"
#include "core/units.hpp"
#include "support/exact.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_rows;
using test::Rows;
using test::step_feel;

std::vector<double> frame_times(const Clock& clock) {
  std::vector<double> out;
  for (std::int64_t k = 0; k <= clock.frames; ++k) out.push_back(clock.time(k));
  return out;
}

TEST(DisturbedClock, IsSteadyWithoutADisturbance) {
  const Clock clock = disturbed_clock(60, 2, {});
  EXPECT_TRUE(clock.is_steady());
  EXPECT_EQ(clock.frames, 121);
}

TEST(DisturbedClock, JitterStaysWithinItsShare) {
  const Clock clock = disturbed_clock(50, 10, {0.6, 3, {}});
  double most = 0.0;
  for (std::int64_t k = 1; k < clock.frames; ++k) {
    const double off = clock.time(k) - static_cast<double>(k) / 50;
    EXPECT_LE(std::fabs(off), 0.3 / 50 + 1e-12);
    EXPECT_GT(clock.dt(k - 1), 0.0);
    most = std::max(most, std::fabs(off));
  }
  EXPECT_GT(most, 0.28 / 50);
  EXPECT_LE(clock.time(clock.frames - 1), 10 + 1e-9);
  EXPECT_GT(clock.time(clock.frames), 10.0);
  EXPECT_EQ(frame_times(disturbed_clock(50, 10, {0.6, 3, {}})), frame_times(clock));
  EXPECT_NE(frame_times(disturbed_clock(50, 10, {0.6, 4, {}})), frame_times(clock));
}

TEST(DisturbedClock, GameTimeIsTheIntegralOfItsSpeed) {
  Disturbance slowed;
  slowed.speeds = {{1.0, 0.25, 0.4}, {2.0, 0.0, 0.0}, {2.5, 1.0, 0.2}};
  const Clock clock = disturbed_clock(240, 4, slowed);
  ASSERT_NE(clock.drawn, nullptr);
  // By steps of a millionth.
  double game = 0.0, at = 0.0;
  const auto speed = [](double t) {
    const auto eased = [](double x) { return x * x * (3.0 - 2.0 * x); };
    if (t < 1.0) return 1.0;
    if (t < 1.4) return 1.0 - 0.75 * eased((t - 1.0) / 0.4);
    if (t < 2.0) return 0.25;
    if (t < 2.5) return 1e-5;
    return t < 2.7 ? 1e-5 + (1.0 - 1e-5) * eased((t - 2.5) / 0.2) : 1.0;
  };
  for (std::int64_t frame = 0; frame < clock.frames; frame += 24) {
    const double until = static_cast<double>(frame) / 240;
    constexpr double step = 1e-5;
    for (; at + 0.5 * step < until; at += step) game += step * speed(at + 0.5 * step);
    EXPECT_NEAR(clock.time(frame), game, 1e-6) << until;
    EXPECT_NEAR(clock.drawn_time(frame), until, 1e-12);
  }
  EXPECT_EQ(due_frame(clock, 2.2), 528); // cues come by the clock
}

TEST(DisturbedClock, ASpringInSlowMotionIsTheSpringByGameTime) {
  std::string text = step_feel("kind = \"spring\", frequency = 2, damping_ratio = 0.5", 60, 3, 0.5);
  const auto plain = play_rows(feel_from(text));
  const std::string cues = "cues = [";
  text.insert(text.find(cues) + cues.size(), "{ at = 0, game_speed = 0.5 }, ");
  // The press comes at 0.5 s of the clock, 0.25 s of game time.
  const auto slow = play_rows(feel_from(text));
  for (std::size_t row = 0; row < 60; ++row) EXPECT_NEAR(slow.smooth[30 + 2 * row], plain.smooth[30 + row], 1e-12);
}

TEST(DisturbedClock, AStallDelaysAllThatComesAfter) {
  const Clock clock = disturbed_clock(10, 2, {0.0, 1, {{0.45, 0.3}, {1.0, 0.25}}});
  EXPECT_NEAR(clock.time(4), 0.4, 1e-15);
  EXPECT_NEAR(clock.time(5), 0.8, 1e-15);
  EXPECT_NEAR(clock.dt(4), 0.4, 1e-15);
  EXPECT_NEAR(clock.time(6), 0.9, 1e-15);
  EXPECT_NEAR(clock.time(7), 1.25, 1e-15);
  EXPECT_EQ(due_frame(clock, 0.41), 5);
  EXPECT_EQ(due_frame(clock, 0.4), 4);
  EXPECT_EQ(clock.frames_within(4, 0.55, 100), 2);
  EXPECT_EQ(clock.frames_within(4, 0.39, 100), 0);
}

/// A move begun at a frame, whatever the frames before and after it are like.
std::string disturbed(const std::string& motion, const std::string& clock) {
  std::string text = step_feel(motion, 60, 3, 0.5, "{ at = 1.3, release = \"c\" }");
  const std::string plain = "clock = { fps = 60 }";
  text.replace(text.find(plain), plain.size(), "clock = { fps = 60, " + clock + " }");
  return text;
}

TEST(DisturbedClock, SpringsAndGlidesKeepTheirPath) {
  const double w = angular_frequency(1.5);
  for (const char* clock :
       {"jitter = 0.8, seed = 2", "stalls = [[0.7, 0.21], [1.5, 0.4]]", "jitter = 0.5, stalls = [[0.6, 0.1]]"}) {
    const Rows spring =
        play_rows(feel_from(disturbed("kind = \"spring\", frequency = 1.5, damping_ratio = 0.3", clock)));
    const Rows glide = play_rows(feel_from(disturbed("kind = \"glide\", rate = 3", clock)));
    double began = -1.0, turned = -1.0;
    test::ExactState at_turn{};
    double glide_at_turn = 0.0;
    for (std::size_t k = 0; k < spring.time.size(); ++k) {
      if (began < 0.0 && spring.goal[k] == 1.0) began = spring.time[k];
      if (began >= 0.0 && turned < 0.0 && spring.goal[k] == 0.0) {
        turned = spring.time[k];
        at_turn = test::exact_spring(w, 0.3, false, 0, 0, 1, 0, turned - began);
        glide_at_turn = 1.0 - std::exp(-3 * (turned - began));
      }
      if (began < 0.0) continue;
      const double since = spring.time[k] - (turned < 0.0 ? began : turned);
      const auto exact = turned < 0.0 ? test::exact_spring(w, 0.3, false, 0, 0, 1, 0, since)
                                      : test::exact_spring(w, 0.3, false, at_turn.value, at_turn.velocity, 0, 0, since);
      EXPECT_NEAR(spring.smooth[k], static_cast<double>(exact.value), 1e-12) << clock << k;
      EXPECT_NEAR(glide.smooth[k], turned < 0.0 ? 1.0 - std::exp(-3 * since) : glide_at_turn * std::exp(-3 * since),
                  1e-12);
    }
    EXPECT_GE(began, 0.5);
    EXPECT_GE(turned, 1.3);
  }
}

TEST(DisturbedClock, EasesStagesAndPacesKeepTheirPathToo) {
  for (const char* motion :
       {"kind = \"ease\", duration = 0.6, curve = \"in-out sine\"", "kind = \"pace\", speed = 2, acceleration = 9",
        "kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.13 }, { kind = \"glide\", rate = 4 }, { kind = "
        "\"spring\", frequency = 2, damping_ratio = 0.5 }]"}) {
    // The first frame due at each cue is the same instant on both clocks: only frames in between are disturbed.
    const Rows rough = play_rows(feel_from(disturbed(motion, "stalls = [[0.61, 0.05], [1.75, 0.15]]")));
    const Rows fine = play_rows(feel_from(step_feel(motion, 1200, 3, 0.5, "{ at = 1.3, release = \"c\" }")));
    std::size_t compared = 0;
    double began = 0.0;
    for (std::size_t k = 0; k < rough.time.size(); ++k) {
      if (rough.goal[k] == 1.0 && began == 0.0) began = rough.time[k];
      const double place = rough.time[k] * 1200;
      const auto row = static_cast<std::size_t>(std::llround(place));
      if (began == 0.0 || rough.time[k] > 1.3 || std::fabs(place - static_cast<double>(row)) > 1e-6) continue;
      EXPECT_NEAR(rough.smooth[k], fine.smooth[row], 1e-9) << motion << rough.time[k];
      ++compared;
    }
    EXPECT_EQ(began, 0.5);
    EXPECT_GT(compared, 20u) << motion;
  }
}

TEST(DisturbedClock, FollowedTracksKeepTheirPath) {
  const auto text = [](const std::string& clock) {
    return "[track.t]\nkind = \"stop_and_go\"\nfrom = [0, 0]\nvelocity = [3, -1]\ngo = 0.37\nstop = "
           "0.21\n[channel.a]\nrest = [0, 0]\nmotion = { kind = "
           "\"spring\", frequency = 2, damping_ratio = 0.4 }\nfollow = \"t\"\n[take.x]\nlength = 3\nclock = { "
           + clock + " }\n";
  };
  const Rows rough = play_rows(feel_from(text("fps = 30, stalls = [[0.5, 0.1], [1.7, 0.3]]")));
  const Rows fine = play_rows(feel_from(text("fps = 300")));
  for (std::size_t k = 0; k < rough.time.size(); ++k) {
    const auto row = static_cast<std::size_t>(std::llround(rough.time[k] * 300));
    if (row >= fine.time.size()) break;
    EXPECT_NEAR(rough.smooth[k], fine.smooth[row], 1e-10) << rough.time[k];
  }
}

TEST(DisturbedClock, StressStallsToo) {
  const Feel feel = feel_from(step_feel("kind = \"spring\", frequency = 2, damping_ratio = 0.8", 60, 2));
  const Stress stress(feel, {});
  std::size_t stalled = 0;
  for (std::uint64_t number = 0; number < 200; ++number) {
    const StressPlay play = stress.play_of(number);
    if (!play.stalls.empty()) ++stalled;
    EXPECT_TRUE(stress.troubles_of(play).empty()) << stress.text_of(play, "t");
    EXPECT_EQ(stress.text_of(play, "t").find("stalls = [[") != std::string::npos, !play.stalls.empty());
  }
  EXPECT_GT(stalled, 20u);
  EXPECT_LT(stalled, 100u);
}

TEST(DisturbedClock, StallsByChanceAreSeededAndAsManyAsAsked) {
  Disturbance chance;
  chance.random_stalls = {2.0, 0.05, 0.15};
  const Clock clock = disturbed_clock(60, 200, chance);
  int stalls = 0;
  for (std::int64_t k = 0; k < clock.frames; ++k)
    if (clock.dt(k) > 1.0 / 60 + 1e-9) {
      ++stalls;
      EXPECT_GE(clock.dt(k), 1.0 / 60 + 0.05 - 1e-9);
    }
  // 2 a second on average while no time is lost, so 400 less those that fall together or on lost time.
  EXPECT_GT(stalls, 280);
  EXPECT_LT(stalls, 450);
  EXPECT_EQ(frame_times(disturbed_clock(60, 200, chance)), frame_times(clock));
  chance.seed = 2;
  EXPECT_NE(frame_times(disturbed_clock(60, 200, chance)), frame_times(clock));
}

TEST(DisturbedClock, RecordedFramesComeWhenTheyCame) {
  Disturbance recorded;
  recorded.recorded = std::make_shared<const std::vector<double>>(std::vector<double>{0.0, 0.02, 0.05, 0.06, 0.1});
  const Clock clock = disturbed_clock(40, 0.06, recorded);
  ASSERT_EQ(clock.frames, 4);
  EXPECT_EQ(clock.time(2), 0.05);
  EXPECT_EQ(clock.time(4), 0.1);
  const Clock whole = disturbed_clock(40, 0.1, recorded);
  ASSERT_EQ(whole.frames, 5);
  EXPECT_NEAR(whole.dt(4), 0.04, 1e-15); // the last frame's time goes on
}

/// Game time is held back, cues go by the clock: the press at 1 s comes on the frame that ends the stall, when only
/// 0.54 s have been played.
// Rule F16.
TEST(DisturbedClock, ALongestFrameHoldsGameTimeBackAndNotCues) {
  const std::string text = step_feel("kind = \"glide\", rate = 3", 50, 2, 1.0);
  std::string held = text;
  held.replace(held.find("fps = 50"), 8, "fps = 50, stalls = [[0.5, 0.5]], longest_frame = \"40 ms\"");
  const Feel feel = feel_from(held);
  const Clock clock = clock_of(feel.takes[0]);
  ASSERT_NE(clock.drawn, nullptr);
  EXPECT_NEAR(clock.drawn_time(25), 1.0, 1e-12);
  EXPECT_NEAR(clock.time(25), 0.52, 1e-12);
  EXPECT_EQ(due_frame(clock, 1.0), 25);
  EXPECT_EQ(first_frame_at(clock, 0.53), 26);
  const Rows rows = play_rows(feel);
  for (std::size_t k = 25; k < rows.smooth.size(); ++k)
    EXPECT_NEAR(rows.smooth[k], -std::expm1(-3 * (rows.time[k] - rows.time[25])), 1e-13);
}

} // namespace
} // namespace stasis
