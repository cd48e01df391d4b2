// A stick that may move a goal, and is never touched, changes nothing: the goal's way is then kept for its delays, and
// read again later, instead of its jumps.
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_rows;
using test::Rows;

const std::string stick = "[control.s]\nkind = \"stick\"\nchannel = \"a\"\ngain = 1\n";

/// Poses of one channel, pressed and let go at random, each by motions of which some wait.
class WaitingFeel {
public:
  explicit WaitingFeel(std::uint64_t seed) : random_(seed) {}

  std::string make(bool with_stick) {
    std::string text = fmt::format("[channel.a]\nrest = 0\nmotion = {}\n", motion());
    for (const char* pose : {"p", "q"}) {
      text += fmt::format("[pose.{}]\na = {}\n", pose, pick({-1.0, 1.0, 2.5}));
      for (const char* when : {"entering", "leaving"})
        if (share() < 0.4) text += fmt::format("{} = {{ a = {} }}\n", when, motion());
    }
    for (const char* pose : {"p", "q"}) text += fmt::format("[control.c{0}]\nkind = \"hold\"\npose = \"{0}\"\n", pose);
    if (with_stick) text += stick;
    return fmt::format("{}[take.t]\nlength = 6\nclock = {{ fps = {} }}\ncues = [{}]\n", text, pick({20, 30, 50, 60}),
                       cues());
  }

private:
  double share() { return static_cast<double>(random_() % 1'000'000) / 1e6; }
  double pick(std::vector<double> of) { return of[random_() % of.size()]; }

  std::string motion() {
    const double delay = pick({0.05, 0.1, 0.123, 0.2, 0.3, 0.5});
    const std::string waits = fmt::format("{{ kind = \"delay\", delay = {} }}", delay);
    const std::string spring = fmt::format("{{ kind = \"spring\", frequency = {}, damping_ratio = {} }}",
                                           pick({1, 2, 3, 5}), pick({0.3, 0.7, 1, 1.5}));
    const std::string glide = fmt::format("{{ kind = \"glide\", rate = {} }}", pick({2, 5, 8, 12}));
    const std::string pace = fmt::format("{{ kind = \"pace\", speed = {}", pick({3, 4}));
    const std::string ease = fmt::format("{{ kind = \"ease\", duration = {}", pick({0.3, 0.4, 0.5}));
    switch (random_() % 12) {
    case 0: return waits;
    case 1: return fmt::format("{{ kind = \"stages\", stages = [{}, {}] }}", waits, spring);
    case 2: return fmt::format("{{ kind = \"stages\", stages = [{}, {}] }}", waits, glide);
    case 3: return spring;
    case 4: return glide;
    case 5: return pace + " }";
    case 6: return pace + ", acceleration = 20 }";
    case 7: return ease + " }";
    case 8: return ease + ", handover = \"carry\" }";
    case 9: return ease + ", handover = \"finish_first\" }";
    case 10: return ease + ", handover = \"pro_rata\", curve = \"out power 3\" }";
    default: return "{ kind = \"cut\" }";
    }
  }

  std::string cues() {
    std::string all;
    for (const char* pose : {"p", "q"}) {
      bool pressed = false;
      for (double at = 0.1 + 0.7 * share(); at < 5.0; at += pick({0.06, 0.1, 0.3, 0.5, 0.8, 1.3})) {
        const double frame = share() < 0.7 ? std::round(at * 50.0) / 50.0 : at;
        all += fmt::format("{{ at = {}, {} = \"c{}\" }}, ", frame, pressed ? "release" : "press", pose);
        pressed = !pressed;
      }
    }
    return all;
  }

  std::mt19937_64 random_;
};

void expect_alike(const std::optional<double>& with, const std::optional<double>& without, const std::string& what) {
  ASSERT_EQ(with.has_value(), without.has_value()) << what;
  if (without) {
    EXPECT_NEAR(*with, *without, 1e-6 * std::max(1.0, std::fabs(*without))) << what;
  }
}

// Rules M4 and M6.
TEST(IdleStick, ChangesNothing) {
  for (std::uint64_t seed = 1; seed <= 400; ++seed) {
    const Feel with = feel_from(WaitingFeel(seed).make(true)), without = feel_from(WaitingFeel(seed).make(false));
    const Rows held = play_rows(with), plain = play_rows(without);
    ASSERT_EQ(held.smooth.size(), plain.smooth.size());
    for (std::size_t row = 0; row < plain.smooth.size(); ++row)
      ASSERT_NEAR(held.smooth[row], plain.smooth[row], 1e-12) << "seed " << seed << ", row " << row;
    const auto moves = test::play_measures(with).moves, as_plain = test::play_measures(without).moves;
    ASSERT_EQ(moves.size(), as_plain.size()) << "seed " << seed;
    for (std::size_t k = 0; k < moves.size(); ++k) {
      const std::string what = fmt::format("seed {}, move {}", seed, k);
      expect_alike(moves[k].settling_time, as_plain[k].settling_time, what);
      expect_alike(moves[k].peak_acceleration, as_plain[k].peak_acceleration, what);
      expect_alike(moves[k].start_kick, as_plain[k].start_kick, what);
      EXPECT_EQ(moves[k].retargeted, as_plain[k].retargeted) << what;
    }
  }
}

// Rule M4.
TEST(IdleStick, WhatWasOnItsWayThroughAnotherDelayIsDropped) {
  // Let go at 1 and pressed at 1.1 by a spring: that it was let go is forgotten, and told again from 1.5 on.
  const std::string feel =
      "[channel.a]\nrest = 0\nmotion = {{ kind = \"delay\", delay = 0.5 }}\n[pose.p]\na = 1\n"
      "entering = {{ a = {{ kind = \"spring\", frequency = 8, damping_ratio = 1 }} }}\n"
      "[control.c]\nkind = \"hold\"\npose = \"p\"\n{}[take.t]\nlength = 4\nclock = {{ fps = {} }}\n"
      "cues = [{{ at = 0.2, press = \"c\" }}, {{ at = 1, release = \"c\" }}, {{ at = 1.1, press = "
      "\"c\" }}, {{ at = 1.5, release = \"c\" }}]\n";
  for (const std::string& controls : {std::string(), stick})
    for (const double fps : {50.0, 200.0}) {
      const Feel made = feel_from(fmt::format(fmt::runtime(feel), controls, fps));
      const Rows rows = play_rows(made);
      for (std::size_t row = 0; row < rows.smooth.size(); ++row) {
        const double time = static_cast<double>(row) / fps;
        if (time > 0.9 && time < 2.0) {
          EXPECT_NEAR(rows.smooth[row], 1.0, 1e-9) << time;
        } else if (time > 2.0 + 0.5 / fps) {
          EXPECT_EQ(rows.smooth[row], 0.0) << time;
        }
      }
      EXPECT_NEAR(*test::play_measures(made).moves.back().settling_time, 0.5, 1e-9);
    }
}

TEST(IdleStick, AMotionThatTakesOverLeadsToTheGoalThatIsAsked) {
  // Let go at 1, and asked for again at 1.45; another pose asks for the same at 1.5, when what was let go arrives. Its
  // glide works towards what it asks for, not towards what has just come.
  const Feel feel = feel_from(
      "[channel.a]\nrest = 0\nmotion = { kind = \"delay\", delay = 0.5 }\n[pose.p]\na = 1\n[pose.q]\na = 1\n"
      "entering = { a = { kind = \"glide\", rate = 6 } }\n[control.cp]\nkind = \"hold\"\npose = \"p\"\n[control.cq]\n"
      "kind = \"hold\"\npose = \"q\"\n[take.t]\nlength = 4\nclock = { fps = 20 }\ncues = [{ at = 0.2, press = \"cp\" "
      "}, "
      "{ at = 1, release = \"cp\" }, { at = 1.45, press = \"cp\" }, { at = 1.5, press = \"cq\" }]\n");
  EXPECT_EQ(play_rows(feel).smooth.back(), 1.0);
}

TEST(IdleStick, AMoveHasNotSettledWhileAnotherJumpIsOnItsWay) {
  // By the same delay all the time: 1 from 1.5 on, 0 from 1.6 on, 1 again from 2 on.
  for (const std::string& controls : {std::string(), stick}) {
    const Feel feel = feel_from(
        "[channel.a]\nrest = 0\nmotion = { kind = \"delay\", delay = 0.5 }\n[pose.p]\na = 1\n[control.c]\nkind = "
        "\"hold\"\npose = \"p\"\n"
        + controls
        + "[take.t]\nlength = 4\nclock = { fps = 200 }\ncues = [{ at = 1, press = \"c\" }, { at = 1.1, release = "
          "\"c\" }, { at = 1.5, press = \"c\" }]\n");
    EXPECT_NEAR(*test::play_measures(feel).moves.back().settling_time, 0.5, 1e-9);
  }
}

// Rule M8.
TEST(IdleStick, AMoveThatIsFinishedFirstWaitsForItsEndOrForTheStick) {
  // Pressed at 0.2, let go at 0.3: home is taken up at 0.7, once the move of half a second is over. A stick that is
  // pushed before that moves the home, so that it is taken up there and then.
  const std::string feel =
      "[channel.a]\nrest = 0\nmotion = {{ kind = \"ease\", duration = 0.5, curve = \"linear\", handover = "
      "\"finish_first\" }}\n[pose.p]\na = 1\n{}[control.c]\nkind = \"hold\"\npose = \"p\"\n"
      + stick
      + "[take.t]\nlength = 3\nclock = {{ fps = {} }}\ncues = [{{ at = 0.2, press = \"c\" }}, {{ at = 0.3, release = "
        "\"c\" }}{}]\n";
  const std::string waits =
      "[pose.z]\na = 9\nentering = { a = { kind = \"delay\", delay = 0.3 } }\n[control.z]\nkind = "
      "\"hold\"\npose = \"z\"\n";
  for (const std::string& more : {std::string(), waits})
    for (const double fps : {24.0, 30.0, 50.0, 1000.0}) {
      const auto rows_of = [&](const char* cues) {
        return play_rows(feel_from(fmt::format(fmt::runtime(feel), more, fps, cues))).smooth;
      };
      const auto row_at = [&](double time) { return static_cast<std::size_t>(std::lround(time * fps)); };
      const std::vector<double>
          waiting = rows_of(""),
          pushed = rows_of(", { at = 0.5, stick = \"s\", value = 1 }, { at = 0.75, stick = \"s\", value = 0 }");
      // Taken up between two frames where the move ends between them.
      const double begun = std::ceil(0.2 * fps - 1e-9) / fps, over = begun + 0.5;
      EXPECT_NEAR(waiting[row_at(0.5)], (static_cast<double>(row_at(0.5)) / fps - begun) / 0.5, 1e-9);
      const std::size_t half_way_home = row_at(0.95);
      EXPECT_NEAR(waiting[half_way_home], 1.0 - (static_cast<double>(half_way_home) / fps - over) / 0.5, 1e-9);
      EXPECT_EQ(waiting.back(), 0.0);
      for (std::size_t row = 1; row < pushed.size(); ++row)
        EXPECT_LT(std::fabs(pushed[row] - pushed[row - 1]), 2.6 / fps) << "it does not jump, row " << row;
      EXPECT_NEAR(pushed.back(), 0.25, 1.1 / fps) << "it ends where the stick has put home";
    }
}

// Rule M8.
TEST(IdleStick, AMoveThatBeginsAsAnotherEndsTurnsRoundAtOnce) {
  // Straight up by 5 a second and down again from 0.7 on: the speed jumps by 10 there, on a frame or beside it.
  for (const std::string& controls : {std::string(), stick})
    for (const double fps : {24.0, 30.0, 60.0, 1000.0})
      for (const double duration : {0.2, 0.2 + 1e-10, 0.2 - 1e-10}) {
        const Feel feel = feel_from(fmt::format(
            "[channel.a]\nrest = 0\nmotion = {{ kind = \"ease\", duration = {}, curve = \"linear\", handover = "
            "\"finish_first\" }}\n[pose.p]\na = 1\n[control.c]\nkind = \"hold\"\npose = \"p\"\n{}[take.t]\nlength = "
            "2\nclock = {{ fps = {} }}\ncues = [{{ at = 0.5, press = \"c\" }}, {{ at = 0.6, release = \"c\" }}]\n",
            duration, controls, fps));
        EXPECT_NEAR(*test::play_measures(feel).moves.back().jolt, 10.0, 1e-7) << duration << " s at " << fps;
      }
}

// Rule M6.
TEST(IdleStick, AnArrivalOnAFrameIsMeasuredAsOneBesideIt) {
  // A glide of 5/s sets off at 5 units a second, and slows down by 25: on a frame, a hair beside it, at any frame rate.
  for (const std::string& controls : {std::string(), stick})
    for (const double fps : {24.0, 30.0, 60.0, 1000.0})
      for (const double delay : {0.1, 0.2, 0.5, 0.5 + 1e-10, 0.5 - 1e-10}) {
        const Feel feel = feel_from(fmt::format(
            "[channel.a]\nrest = 0\nmotion = {{ kind = \"stages\", stages = [{{ kind = \"delay\", delay = {} }}, {{ "
            "kind = "
            "\"glide\", rate = 5 }}] }}\n[pose.p]\na = 1\n[control.c]\nkind = \"hold\"\npose = \"p\"\n{}[take.t]\n"
            "length = 3\nclock = {{ fps = {} }}\ncues = [{{ at = 0.5, press = \"c\" }}]\n",
            delay, controls, fps));
        const Move move = test::play_measures(feel).moves.front();
        EXPECT_NEAR(*move.settling_time, delay + std::log(50.0) / 5.0, 1e-9) << delay << " s at " << fps;
        EXPECT_NEAR(*move.jolt, 5.0, 1e-9) << delay << " s at " << fps;
        EXPECT_NEAR(*move.peak_acceleration, 25.0, 1e-9) << delay << " s at " << fps;
        EXPECT_NEAR(*move.start_kick, 5.0 * *move.settling_time, 1e-8) << delay << " s at " << fps;
      }
}

} // namespace
} // namespace stasis
