// What runs on the clock goes as fast as ever while game time is slowed, stopped or quickened.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "core/take/session.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;
using test::problems_of;

/// A feel of which everything runs on the clock, with cues.
std::string on_the_clock(const std::string& motion, const std::string& clock, const std::string& more_cues) {
  return fmt::format(R"(
[channel.a]
rest = 1
motion = {0}
runs_on = "clock"
[channel.tilt]
rest = 0
range = [-60, 60]
motion = {0}
runs_on = "clock"
[pose.p]
a = 3
[control.c]
kind = "hold"
pose = "p"
[control.stick]
kind = "stick"
channel = "tilt"
gain = 30
spin_up = 0.2
runs_on = "clock"
[shake.s]
on = {{ a = 0.1 }}
wave = {{ kind = "noise", frequency = 5 }}
decay = {{ kind = "half_life", half_life = 0.3 }}
runs_on = "clock"
[take.t]
length = 5
clock = {{ {1} }}
cues = [{{ at = 0.6, press = "c" }}, {{ at = 1.1, hit = "s" }}, {{ at = 1.3, stick = "stick", value = 0.7 }},
        {{ at = 2.2, stick = "stick", value = 0 }}, {{ at = 2.4, release = "c" }}{2}]
)",
                     motion, clock, more_cues);
}

/// Values of every channel on every frame.
std::vector<double> values_of(const Feel& feel) {
  struct Values : BlockSink {
    void begin(const Scene& scene) override { count = scene.feel->channels.size(); }
    void consume(const Block& block) override {
      for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row)
        for (std::size_t c = 0; c < count; ++c) out.push_back(block.channels[c].component[0].value[row]);
    }
    void end() override {}
    std::size_t count = 0;
    std::vector<double> out;
  } sink;
  const Take& take = feel.takes.front();
  BlockSink* const sinks[] = {&sink};
  play({&feel, &take, disturbed_clock(take.fps, take.length, take.disturbance)}, sinks);
  return sink.out;
}

constexpr const char* some_motions[] = {
    "{ kind = \"glide\", half_life = 0.1 }", "{ kind = \"spring\", frequency = 2, damping_ratio = 0.5 }",
    "{ kind = \"ease\", duration = 0.4, curve = \"in-out sine\", delay = 0.1 }",
    "{ kind = \"pace\", speed = 8, acceleration = 40 }",
    "{ kind = \"stages\", stages = [{ kind = \"glide\", half_life = 0.05 }, { kind = "
    "\"spring\", frequency = 3, damping_ratio = 1 }] }"};
constexpr const char* some_speeds[] = {
    ", { at = 0.5, game_speed = 0.2, over = 0.3 }, { at = 2.5, game_speed = 1, over = 0.2 }",
    ", { at = 0.7, game_speed = 0 }, { at = 0.8, game_speed = 3 }", ", { at = 0, game_speed = 0.5 }"};

// Rule F17.
TEST(RunsOnTheClock, IsAsIfTheGameWereNotSlowed) {
  for (const char* const motion : some_motions)
    for (const char* const clock : {"fps = 60", "fps = 24, jitter = 0.3", "fps = 90, stalls = [[1.2, 0.2]]"}) {
      const Feel plain = feel_from(on_the_clock(motion, clock, ""));
      const std::vector<double> as_ever = values_of(plain);
      const TakeMeasures measured = play_measures(plain);
      for (const char* const slowed : some_speeds) {
        const Feel feel = feel_from(on_the_clock(motion, clock, slowed));
        const std::vector<double> values = values_of(feel);
        ASSERT_EQ(values.size(), as_ever.size());
        for (std::size_t k = 0; k < values.size(); ++k)
          ASSERT_NEAR(values[k], as_ever[k], 1e-9) << motion << clock << k;
        const TakeMeasures measures = play_measures(feel);
        ASSERT_EQ(measures.moves.size(), measured.moves.size()) << motion;
        for (std::size_t m = 0; m < measures.moves.size(); ++m) {
          const Move &one = measures.moves[m], &other = measured.moves[m];
          EXPECT_NEAR(one.settling_time.value_or(-1), other.settling_time.value_or(-1), 1e-7);
          EXPECT_NEAR(one.peak_speed.value_or(-1), other.peak_speed.value_or(-1), 1e-6);
          ASSERT_TRUE(one.on_the_clock);
          EXPECT_NEAR(one.on_the_clock->start, other.start, 1e-9);
          EXPECT_EQ(one.on_the_clock->settling_time, one.settling_time);
        }
        EXPECT_NEAR(measures.channels[0].path.top_speed.value, measured.channels[0].path.top_speed.value, 1e-6);
        EXPECT_NEAR(measures.channels[1].path.travelled, measured.channels[1].path.travelled, 1e-9);
        EXPECT_NEAR(measures.shakes[0].parts[0].peak, measured.shakes[0].parts[0].peak, 1e-9);
      }
    }
}

TEST(RunsOnTheClock, WhatRunsOnGameTimeTakesAsManyTimesAsLongByIt) {
  const Feel feel = feel_from(
      "[channel.a]\nrest = 0\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 0.5 }\n[pose.p]\na = "
      "1\n[control.c]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 8\ncues = [{ at = 0, game_speed = 0.25 }, { "
      "at = "
      "1, press = \"c\" }]\n");
  const TakeMeasures measures = play_measures(feel);
  ASSERT_EQ(measures.moves.size(), 1u);
  const Move& move = measures.moves[0];
  ASSERT_TRUE(move.on_the_clock && move.settling_time && move.rise_time && move.peak_time && move.delay_time);
  EXPECT_NEAR(move.on_the_clock->start, 1.0, 1e-9);
  EXPECT_NEAR(move.start, 0.25, 1e-9);
  EXPECT_NEAR(*move.on_the_clock->settling_time, 4 * *move.settling_time, 1e-9);
  EXPECT_NEAR(*move.on_the_clock->rise_time, 4 * *move.rise_time, 1e-9);
  EXPECT_NEAR(*move.on_the_clock->peak_time, 4 * *move.peak_time, 1e-9);
  EXPECT_NEAR(*move.on_the_clock->delay_time, 4 * *move.delay_time, 1e-9);
}

TEST(RunsOnTheClock, ByTheClockMovesAreTheSameAtAnyRate) {
  const auto moves_at = [](double fps, const char* speeds) {
    const Feel feel = feel_from(fmt::format("[channel.a]\nrest = 0\nmotion = {{ kind = \"spring\", frequency = 2, "
                                            "damping_ratio = 0.5 }}\n[channel.b]\nrest = "
                                            "0\nmotion = {{ kind = \"ease\", duration = 0.2, curve = \"in-out sine\" "
                                            "}}\nruns_on = \"clock\"\n[pose.p]\na = "
                                            "1\nb = 1\n[control.c]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = "
                                            "8\nclock = {{ fps = {} }}\ncues = [{{ "
                                            "at = 1, press = \"c\" }}, {}]\n",
                                            fps, speeds));
    return play_measures(feel).moves;
  };
  for (const char* const speeds :
       {"{ at = 1.1, game_speed = 0.25 }", "{ at = 0.9, game_speed = 0.3, over = 0.35 }",
        "{ at = 1.05, game_speed = 0.2, over = 0.1 }, { at = 1.07, game_speed = 3, over = 0.2 }"}) {
    const std::vector<Move> fine = moves_at(1000, speeds);
    ASSERT_EQ(fine.size(), 2u);
    for (const double fps : {24.0, 30.0, 60.0}) {
      const std::vector<Move> moves = moves_at(fps, speeds);
      ASSERT_EQ(moves.size(), 2u);
      for (std::size_t m = 0; m < 2; ++m) {
        const MoveOnTheClock &one = *moves[m].on_the_clock, &other = *fine[m].on_the_clock;
        EXPECT_NEAR(one.start, other.start, 1e-9) << fps << speeds;
        EXPECT_NEAR(*one.settling_time, *other.settling_time, 1e-9) << fps << speeds;
        EXPECT_NEAR(*one.rise_time, *other.rise_time, 1e-9) << fps << speeds;
        EXPECT_NEAR(*one.delay_time, *other.delay_time, 1e-9) << fps << speeds;
        // A figure over game time has its marks at the same places.
        EXPECT_NEAR(moves[m].instant(*moves[m].settling_time), fine[m].instant(*fine[m].settling_time), 1e-9) << fps;
      }
    }
  }
}

TEST(RunsOnTheClock, GameTimeIsThereAndBack) {
  GameTime time;
  time.change({0.5, 0.0, 0.3});
  time.change({0.6, 2.0, 0.0});
  time.change({0.6, 0.25, 0.4});
  time.change({3.0, 1.0, 0.0});
  for (double clock = 0.0; clock < 5.0; clock += 0.0137)
    EXPECT_NEAR(time.clock_at(time.at(clock)), clock, 1e-9) << clock;
}

TEST(RunsOnTheClock, CornersOfASubjectsWayComeWhenTheGameSeesThem) {
  // At half the speed a subject stops, and the corner lies within a frame: as one that goes half as fast for twice as
  // long.
  const auto feel = [](double speed, double times, const char* cues) {
    return feel_from(
        fmt::format("[track.s]\nkind = \"stop_and_go\"\nfrom = [0]\nvelocity = [{}]\ngo = {}\nstop = {}\n"
                    "[channel.a]\nrest = 0\nfollow = \"s\"\nmotion = {{ kind = \"glide\", half_life = 0.05 "
                    "}}\nruns_on = \"clock\"\n[take.t]\nlength = 4\nclock = {{ fps = 24 }}\ncues = [{}]\n",
                    speed, 0.2713 * times, 0.3391 * times, cues));
  };
  const std::vector<double> slowed = values_of(feel(4, 1, "{ at = 0, game_speed = 0.5 }")),
                            plain = values_of(feel(2, 2, ""));
  ASSERT_EQ(slowed.size(), plain.size());
  for (std::size_t k = 0; k < plain.size(); ++k) EXPECT_NEAR(slowed[k], plain[k], 1e-9) << k;
}

TEST(RunsOnTheClock, FollowsASubjectThatIsSlowedWithTheGame) {
  const double speed = 0.3, velocity = 4.0, half_life = 0.1;
  const auto feel = [&](const std::string& follows) {
    return feel_from(fmt::format(
        "[track.s]\nkind = \"line\"\nfrom = [0]\nvelocity = [{}]\n[channel.a]\nrest = 0\n{}\nmotion = {{ kind = "
        "\"glide\", half_life = {} }}\nruns_on = \"clock\"\n[take.t]\nlength = 4\ncues = [{{ at = 0, game_speed = {} "
        "}}]\n",
        velocity, follows, half_life, speed));
  };
  const double tau = half_life / std::log(2.0), v = speed * velocity;
  for (const char* const follows : {"follow = \"s\"", "formula = \"4 * time\""}) {
    const std::vector<double> values = values_of(feel(follows));
    for (std::size_t k = 0; k < values.size(); ++k) {
      const double t = static_cast<double>(k) / 60.0;
      EXPECT_NEAR(values[k], v * (t - tau * (1.0 - std::exp(-t / tau))), 1e-9) << follows << k;
    }
  }
}

TEST(RunsOnTheClock, IsRefusedWhereTheGameLeads) {
  const std::string channel = "[channel.a]\nrest = 0\nmotion = { kind = \"glide\", half_life = 0.1 }\n";
  EXPECT_FALSE(problems_of(channel
                           + "runs_on = \"clock\"\n[sequence.s]\nstops = [{ at = 0, a = 1 }, { after = 1, a = 2 }]\n"
                             "[take.t]\nlength = 1\n")
                   .empty());
  EXPECT_FALSE(
      problems_of("[track.s]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [1, 0]\n" + channel
                  + "[shake.s]\non = { a = 1 }\nwave = { kind = \"stride\", track = \"s\", length = 1 }\nalways = "
                    "true\nruns_on = \"clock\"\n[take.t]\nlength = 1\n")
          .empty());
}

/// A view that turns by the clock sees the same in a slowed game, within frames too: only what is told by the second is
/// told by seconds of the game.
TEST(RunsOn, WhatIsSeenIsTheSameHoweverSlowTheGameIs) {
  const auto seen = [](double speed) {
    return play_measures(feel_from(fmt::format(
        "[picture]\nfocus = \"focus\"\ndistance = \"far\"\nyaw = \"yaw\"\nlens = {{ channel = \"lens\", axis = "
        "\"vertical\" }}\n[track.stone]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [0, 0, 0]\n[channel.lens]\nunit "
        "= "
        "\"deg\"\nrest = 70\n[channel.focus]\nunit = \"m\"\nrest = [1, 0, 0]\nfollow = {{ track = \"stone\", offset = "
        "[1, "
        "0, 0] }}\n[channel.far]\nunit = \"m\"\nrest = 4\n[channel.yaw]\nunit = \"deg\"\nrest = 0\nmotion = {{ kind = "
        "\"ease\", duration = 1, curve = \"in-out sine\" }}\nruns_on = \"clock\"\n[pose.p]\nyaw = "
        "80\n[control.c]\nkind = "
        "\"hold\"\npose = \"p\"\n[take.t]\nlength = 3\nclock = {{ fps = 10 }}\ncues = [{{ at = 0, game_speed = {} }}, "
        "{{ at "
        "= 0.5, press = \"c\" }}]\n",
        speed)));
  };
  const TakeMeasures usual = seen(1);
  for (const double speed : {0.25, 3.0}) {
    const TakeMeasures slow = seen(speed);
    EXPECT_NEAR(slow.camera.top_turn_speed->value * speed, usual.camera.top_turn_speed->value, 1e-9) << speed;
    EXPECT_NEAR(slow.camera.top_eye_speed->value * speed, usual.camera.top_eye_speed->value, 1e-9) << speed;
    const FollowSummary &here = slow.channels[1].follow, &there = usual.channels[1].follow;
    EXPECT_NEAR(*here.screen_speed * speed, *there.screen_speed, 1e-6 * *there.screen_speed) << speed;
    EXPECT_NEAR(*here.middle_distance, *there.middle_distance, 1e-9) << speed;
    EXPECT_NEAR(*here.edge_distance, *there.edge_distance, 1e-9) << speed;
  }
}

// Rule F17: what is told to run on another clock goes on from where it is, moves, waits, sticks and shakes alike.
TEST(RunsOn, IsChangedWithoutAJump) {
  for (const char* const motion :
       {"{ kind = \"spring\", frequency = 0.7, damping_ratio = 0.6 }", "{ kind = \"ease\", duration = 1.5 }",
        "{ kind = \"pace\", speed = 3, acceleration = 8 }",
        "{ kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.4 }, { kind = \"spring\", frequency = 0.9, "
        "damping_ratio = 0.7 }, { kind = "
        "\"glide\", half_life = 0.1 }] }"}) {
    const std::string clock = on_the_clock(motion, "fps = 60", "");
    std::string game = clock;
    for (std::size_t at = 0; (at = game.find("runs_on = \"clock\"", at)) != std::string::npos;)
      game.replace(at, 17, "runs_on = \"game\"");
    const Feel feels[] = {feel_from(clock), feel_from(game)};
    for (int every = 7; every < 60; every += 13) {
      Session session(feels[0], feels[0].takes[0]);
      session.change_game_speed(0.15, 0.2);
      const auto& cues = feels[0].takes[0].cues;
      std::size_t next = 0, now = 0;
      double last[] = {1.0, 0.0};
      for (int frame = 0; frame < 300; ++frame) {
        if (frame % every == every - 1) {
          now = 1 - now;
          session = session.changed(feels[now], feels[now].takes[0]);
        }
        for (; next < cues.size() && cues[next].at <= frame / 60.0; ++next) session.give(cues[next]);
        session.advance(1.0 / 60.0);
        for (const std::size_t c : {0u, 1u}) {
          const double value = session.value({c, 0});
          // At full speed the way goes at 3.2 at most, the stick at 21, the shake by 4.
          EXPECT_LT(std::fabs(value - last[c]), c == 0 ? 0.16 : 0.6) << motion << ", " << every << ", " << frame;
          last[c] = value;
        }
      }
    }
  }
}

} // namespace
} // namespace stasis
