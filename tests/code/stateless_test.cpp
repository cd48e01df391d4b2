// Motions and shakes as functions of time, in double precision, against the rows of takes.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "code/lower_feel.hpp"
#include "code/played_program.hpp"
#include "code/read_program.hpp"
#include "core/take/player.hpp"
#include "support/feels.hpp"

namespace stasis::code {
namespace {

/// The values of a take's channels, each of one component, by frame.
class ValuesSink final : public BlockSink {
public:
  void begin(const Scene& scene) override {
    scene_ = scene;
    values.resize(scene.feel->channels.size());
  }
  void consume(const Block& block) override {
    for (std::int64_t row = 0; row < block.count; ++row) times.push_back(scene_.clock.time(block.first + row));
    for (std::size_t c = 0; c < values.size(); ++c) {
      const auto& column = block.channels[c].component[0].value;
      values[c].insert(values[c].end(), column.begin(), column.begin() + block.count);
    }
  }
  void end() override {}

  std::vector<double> times;
  std::vector<std::vector<double>> values; ///< by channel

private:
  Scene scene_;
};

struct Case {
  const char* name;
  const char* motion;
};
const Case motions[] = {
    {"soft", "kind = \"spring\"\nfrequency = 1.7\ndamping_ratio = 0.45"},
    {"nearly", "kind = \"spring\"\nfrequency = 1.7\ndamping_ratio = 1.0000001"},
    {"even", "kind = \"spring\"\nfrequency = 2\ndamping_ratio = 1"},
    {"stiff", "kind = \"spring\"\nfrequency = 1.1\ndamping_ratio = 4"},
    {"lazy", "kind = \"glide\"\nhalf_life = 0.15"},
    {"eased", "kind = \"ease\"\nduration = 0.7\ncurve = \"cubic-bezier(0.3, 0.1, 0.2, 1.2)\""},
    {"late", "kind = \"ease\"\nduration = 0.4\ndelay = 0.2\ncurve = \"out elastic\""},
    {"twice", "kind = \"ease\"\nduration = 0.3\ncurve = \"in-out sine\"\nrepeat = 2\nthere_and_back = true"},
    {"again", "kind = \"ease\"\nduration = 0.3\ncurve = \"in power 2\"\nrepeat = 3"},
    {"bounced", "kind = \"ease\"\nduration = 0.9\ncurve = \"out bounce\""},
    {"stepped", "kind = \"ease\"\nduration = 0.9\ncurve = \"steps(3, jump-start)\""},
    {"walked", "kind = \"pace\"\nspeed = 1.5\nacceleration = 6"},
    {"short_way", "kind = \"pace\"\nspeed = 15\nacceleration = 6"},
    {"marched", "kind = \"pace\"\nspeed = 1.25"},
};

TEST(Stateless, EveryMotionIsThatOfATake) {
  std::string text, pose = "[pose.p]\n";
  for (const auto& [name, motion] : motions) {
    text += fmt::format("[motion.{0}]\n{1}\n[channel.c_{0}]\nrest = 0\nmotion = \"{0}\"\n", name, motion);
    pose += fmt::format("c_{} = 1\n", name);
  }
  // A clock whose frames are no times that anybody types, so that none lies on a border of a move.
  const Feel feel =
      test::feel_from(text + pose
                      + "[control.k]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2\nclock = { fps = "
                        "63.7 }\ncues = [{ at = 0, press = \"k\" }]\n");
  const Scene scene = test::scene_of(feel);
  ValuesSink sink;
  BlockSink* const sinks[] = {&sink};
  play(scene, sinks);
  const Lowered lowered = lower_stateless(feel);
  EXPECT_TRUE(lowered.left.empty());
  PlayedProgram program(read_program(lowered.text));
  for (std::size_t c = 0; c < std::size(motions); ++c)
    for (std::size_t k = 1; k < sink.times.size(); ++k) { // the frame of the press shows what was before it
      Cell t, way;
      t.number = sink.times[k];
      way.number = 1.0;
      const std::string motion = motions[c].motion;
      const double gone = motion.find("pace") != std::string::npos ? program.call(motions[c].name, {&t, &way})
                                                                   : program.call(motions[c].name, {&t});
      EXPECT_NEAR(gone, sink.values[c][k], 1e-11) << motions[c].name << " at " << t.number;
    }
}

TEST(Stateless, APaceGoesEitherWayAndNoWayAtAll) {
  PlayedProgram program(read_program(
      lower_stateless(test::feel_from("[channel.a]\nrest = 0\nmotion = \"m\"\n[motion.m]\nkind = \"pace\"\nspeed = "
                                      "2\nacceleration = 8\n"))
          .text));
  Cell t, way;
  for (const double time : {-1.0, 0.0, 0.1, 0.3, 0.6, 5.0})
    for (const double far : {0.5, 3.0}) {
      t.number = time;
      way.number = far;
      const double forth = program.call("m", {&t, &way});
      way.number = -far;
      EXPECT_EQ(program.call("m", {&t, &way}), -forth);
      EXPECT_LE(forth, far);
    }
  way.number = 0.0;
  EXPECT_EQ(program.call("m", {&t, &way}), 0.0);
}

TEST(Stateless, EveryShakeIsThatOfATake) {
  const char* const waves[] = {"{ kind = \"noise\", frequency = 6, octaves = 3 }",
                               "{ kind = \"sines\", frequency = 5 }", "{ kind = \"jitter\", rate = 20 }"};
  const char* const decays[] = {"{ kind = \"half_life\", half_life = 0.3 }", "{ kind = \"linear\", duration = 0.9 }",
                                "{ kind = \"power\", duration = 1.1, exponent = 2 }"};
  for (const char* const wave : waves)
    for (const char* const decay : decays) {
      const Feel feel = test::feel_from(fmt::format(
          "[channel.a]\nunit = \"deg\"\nrest = 0\n[shake.s]\non = {{ a = 1.5 }}\nwave = {}\ndecay = {}\n[take.t]\n"
          "length = 1.5\nclock = {{ fps = 64 }}\ncues = [{{ at = 0.25, hit = \"s\" }}]\n",
          wave, decay));
      const Scene scene = test::scene_of(feel);
      ValuesSink sink;
      BlockSink* const sinks[] = {&sink};
      play(scene, sinks);
      PlayedProgram program(read_program(lower_stateless(feel).text));
      for (std::size_t k = 0; k < sink.times.size(); ++k) {
        Cell since, time;
        time.number = sink.times[k];
        since.number = time.number - 0.25;
        EXPECT_NEAR(program.call("s_a", {&since, &time}), sink.values[0][k], 1e-11) << wave << decay << time.number;
      }
    }
}

TEST(Stateless, WhatIsNoFunctionOfTimeIsLeftOutAndSaid) {
  const Lowered lowered = lower_stateless(test::feel_from(R"(
[channel.a]
rest = 0
motion = "staged"
[channel.b]
rest = 0
motion = "framed"
[motion.staged]
kind = "stages"
stages = [{ kind = "glide", half_life = 0.1 }, { kind = "glide", half_life = 0.2 }]
[motion.framed]
kind = "per_frame"
rule = "fraction"
fraction = 0.1
at_fps = 60
[shake.s]
on = { a = 1 }
wave = { kind = "noise", frequency = 6 }
decay = { kind = "per_frame", factor = 0.9, at_fps = 60 }
)"));
  ASSERT_EQ(lowered.left.size(), 3u);
  const std::string said = lowered.left[0] + lowered.left[1] + lowered.left[2];
  for (const char* const why :
       {"staged is not in this file: it is made of stages", "framed is not in this file: it goes by frames",
        "s is not in this file: it dies away by frames"})
    EXPECT_NE(said.find(why), std::string::npos) << said;
  EXPECT_TRUE(read_program(lowered.text).functions.empty());
}

} // namespace
} // namespace stasis::code
