// A feel that is changed while it is played by hand: value and speed go on, the rest is by the new numbers.
#include <cmath>
#include <cstring>
#include <random>

#include <gtest/gtest.h>

#include "core/motion/spring.hpp"
#include "core/take/session.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

std::vector<double> shown_by(const Feel& feel, const Session& session) {
  std::vector<double> out;
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    for (std::size_t i = 0; i < feel.channels[c].components; ++i)
      out.insert(out.end(), {session.goal({c, i}), session.smooth({c, i}), session.value({c, i})});
  for (std::size_t s = 0; s < feel.shakes.size(); ++s) out.push_back(session.strength(s));
  for (std::size_t c = 0; c < feel.controls.size(); ++c)
    out.push_back(session.state(c) + (session.is_down(c) ? 0.5 : 0));
  return out;
}

void go_on_by_hand(Session& session, const Take& take, double fps, std::size_t& next) {
  const auto time = static_cast<double>(session.frame() + 1) / fps;
  for (; next < take.cues.size() && take.cues[next].at <= time; ++next) session.give(take.cues[next]);
  session.advance_to(time);
}

TEST(ChangedSession, TheSameFeelGoesOnToTheBit) {
  int played = 0;
  for (std::uint64_t seed = 2001; seed <= 2200; ++seed) {
    std::mt19937_64 random(seed);
    test::FeelMaker maker(seed, {.switches = random() % 3 == 0, .sticks = random() % 2 == 0});
    const test::RandomFeel made = maker.make();
    if (!test::problems_of(made.text).empty()) continue;
    const Feel feel = test::feel_from(made.text), again = test::feel_from(made.text);
    const Take& take = feel.takes[0];
    constexpr double fps = 60.0;
    const auto frames = static_cast<std::int64_t>(made.length * fps),
               middle = static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(frames));
    Session one(feel, take), other(feel, take);
    std::size_t next = 0, other_next = 0;
    for (std::int64_t frame = 0; frame < frames; ++frame) {
      go_on_by_hand(one, take, fps, next);
      go_on_by_hand(other, take, fps, other_next);
      if (frame == middle) other = other.changed(again, again.takes[0]);
      const auto expected = shown_by(feel, one), now = shown_by(again, other);
      ASSERT_EQ(expected.size(), now.size());
      for (std::size_t k = 0; k < now.size(); ++k)
        ASSERT_EQ(std::memcmp(&now[k], &expected[k], sizeof(double)), 0)
            << "seed " << seed << ", changed at " << middle << ", frame " << frame << ", number " << k << ": " << now[k]
            << " for " << expected[k] << "\n"
            << made.text;
    }
    ++played;
  }
  EXPECT_GT(played, 100);
}

/// What a source gave a channel stays its home where the changed feel has no source there; what nobody had moved
/// begins where the changed feel says.
TEST(ChangedSession, AHomeThatIsNoLongerGivenStays) {
  const auto with = [&](const std::string& formula) {
    return test::feel_from("[channel.a]\nrest = 0.5\nformula = \"" + formula
                           + "\"\n[channel.b]\nrest = 0\n[take.t]\nlength = 2\n");
  };
  const Feel led = with("3 + 2 * time"), standing = with("0.5"),
             free = test::feel_from("[channel.a]\nrest = 1.5\n[channel.b]\nrest = 0\n[take.t]\nlength = 2\n");
  Session session(led, led.takes[0]), other(standing, standing.takes[0]);
  for (int frame = 0; frame <= 30; ++frame) {
    session.advance(1.0 / 60.0);
    other.advance(1.0 / 60.0);
  }
  EXPECT_NEAR(session.goal({0, 0}), 4.0, 1e-12);
  session = session.changed(free, free.takes[0]);
  other = other.changed(free, free.takes[0]);
  for (int frame = 0; frame < 30; ++frame) {
    session.advance(1.0 / 60.0);
    other.advance(1.0 / 60.0);
    EXPECT_NEAR(session.goal({0, 0}), 4.0, 1e-12);
    EXPECT_EQ(other.goal({0, 0}), 1.5);
  }
  session.put_home({0, 0}, 0.25); // nothing else gives it a home now
  session.advance(1.0 / 60.0);
  EXPECT_EQ(session.goal({0, 0}), 0.25);
}

TEST(ChangedSession, ASpringUnderWayGoesOnByItsNewNumbers) {
  const Feel before = test::feel_from(test::step_feel("kind = \"spring\", frequency = 1, damping_ratio = 0.5", 60, 2));
  const Feel after = test::feel_from(test::step_feel("kind = \"spring\", frequency = 3, damping_ratio = 0.2", 60, 2));
  Session session(before, before.takes[0]);
  session.press(0);
  for (int frame = 0; frame <= 20; ++frame) session.advance(1.0 / 60.0);
  const double value = session.smooth({0, 0}), velocity = session.velocity({0, 0});
  session = session.changed(after, after.takes[0]);
  EXPECT_EQ(session.frame(), 20);
  EXPECT_EQ(session.smooth({0, 0}), value);
  EXPECT_EQ(session.velocity({0, 0}), velocity);
  // An independent solution: the damped wave from that value and speed to the goal 1.
  const double w = 2.0 * 3.14159265358979323846 * 3.0, damping = 0.2, damped = w * std::sqrt(1.0 - damping * damping);
  const double gap = value - 1.0, start = session.time();
  for (int frame = 0; frame < 40; ++frame) {
    session.advance(1.0 / 60.0);
    const double t = session.time() - start;
    const double wave = std::exp(-damping * w * t)
                        * (gap * std::cos(damped * t) + (velocity + damping * w * gap) / damped * std::sin(damped * t));
    EXPECT_NEAR(session.smooth({0, 0}), 1.0 + wave, 1e-12);
  }
}

TEST(ChangedSession, AMoveOfASetTimeIsFinishedByItsOldNumbers) {
  const Feel before = test::feel_from(test::step_feel("kind = \"ease\", duration = 1, curve = \"linear\"", 60, 4));
  const Feel after = test::feel_from(test::step_feel("kind = \"ease\", duration = 0.5, curve = \"linear\"", 60, 4));
  Session session(before, before.takes[0]);
  session.press(0);
  for (int frame = 0; frame <= 30; ++frame) session.advance(1.0 / 60.0);
  session = session.changed(after, after.takes[0]);
  session.advance(0.25);
  EXPECT_NEAR(session.smooth({0, 0}), 0.75, 1e-12);
  session.advance(0.25);
  session.advance(0.25);
  EXPECT_EQ(session.smooth({0, 0}), 1.0);
  session.release(0);
  session.advance(0.0); // begins the way home, by the new numbers
  session.advance(0.25);
  EXPECT_NEAR(session.smooth({0, 0}), 0.5, 1e-12);
}

TEST(ChangedSession, WhatIsNewBeginsAtRestAndWhatIsGoneIsForgotten) {
  const std::string text = test::step_feel("kind = \"glide\", half_life = 0.2", 60, 2);
  const Feel before = test::feel_from(text);
  const Feel after = test::feel_from(text + "[channel.b]\nrest = 5\nrange = [0, 9]\nmotion = { kind = \"cut\" }\n");
  Session session(before, before.takes[0]);
  session.press(0);
  for (int frame = 0; frame <= 12; ++frame) session.advance(1.0 / 60.0);
  const double value = session.smooth({0, 0});
  session = session.changed(after, after.takes[0]);
  const std::size_t a = after.channels[0].name == "a" ? 0 : 1;
  EXPECT_EQ(session.smooth({a, 0}), value);
  EXPECT_EQ(session.smooth({1 - a, 0}), 5.0);
  EXPECT_TRUE(session.is_down(0));
  session = session.changed(before, before.takes[0]);
  EXPECT_EQ(session.smooth({0, 0}), value);
}

} // namespace
} // namespace stasis
