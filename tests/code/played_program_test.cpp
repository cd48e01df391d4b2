// The parts of source code against the heart that they stand for, and whole takes, played without a compiler.
#include <algorithm>
#include <cmath>
#include <random>
#include <set>
#include <string>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "code/check_program.hpp"
#include "code/lower_feel.hpp"
#include "code/parts.hpp"
#include "code/played_program.hpp"
#include "code/read_program.hpp"
#include "code/walk.hpp"
#include "core/motion/mover.hpp"
#include "core/shake/envelope.hpp"
#include "core/take/ladder.hpp"
#include "core/take/stick.hpp"
#include "core/units.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis::code {
namespace {

/// A feel of one value with a motion, as a program; `more` of the feel after it.
PlayedProgram with_motion(const std::string& motion, const std::string& more = "") {
  return PlayedProgram(
      read_program(lower(test::feel_from("[channel.a]\nrest = 0\nmotion = \"m\"\n[motion.m]\n" + motion + more)).text));
}

/// A motion as the feel reads it.
Motion motion_of(const std::string& motion) {
  const Feel feel = test::feel_from("[channel.a]\nrest = 0\nmotion = \"m\"\n[motion.m]\n" + motion);
  return feel.motions[feel.channels[0].motion[0].rising].motion;
}

const char* const curve_texts[] = {
    "linear",
    "ease",
    "ease-in-out",
    "cubic-bezier(0.9, -0.4, 0.1, 1.4)",
    "cubic-bezier(1, 0, 0, 1)",
    "cubic-bezier(0, 1, 0, 1)",
    "steps(4)",
    "steps(5, jump-both)",
    "steps(3, jump-none)",
    "linear(0, 0.25 25%, 1 75%, 0.9 75%, 1)",
    "in sine",
    "out sine",
    "in-out sine",
    "in power 1.7",
    "out power 3",
    "in-out power 0.6",
    "in exp",
    "out exp 6",
    "in-out exp",
    "in circle",
    "out circle",
    "in-out circle",
    "in back",
    "out back 2.5",
    "in-out back",
    "in elastic",
    "out elastic 5",
    "in-out elastic",
    "in bounce",
    "out bounce",
    "in-out bounce",
};

class CurveInCode : public ::testing::TestWithParam<const char*> {};

TEST_P(CurveInCode, HasTheValuesAndSlopesOfTheHeart) {
  const std::string text = fmt::format("kind = \"ease\"\nduration = 0.5\ncurve = \"{}\"\n", GetParam());
  PlayedProgram played = with_motion(text);
  const Motion motion = motion_of(text);
  const Curve& curve = ease_of(motion)->curve;
  std::mt19937_64 random(11);
  std::uniform_real_distribution<double> anywhere(0.0, 1.0);
  for (int k = 0; k <= 400; ++k) {
    const double t = k <= 40 ? k / 40.0 : anywhere(random);
    const CurvePoint point = evaluate(curve, t);
    EXPECT_NEAR(played.of("curve_of_m", {t}), point.value, 1e-13) << t;
    // A slope that is the same everywhere is put in its place, and no function is left of it.
    if (!played.has("slope_of_m")) continue;
    const double slope = played.of("slope_of_m", {t});
    if (std::isfinite(point.slope))
      EXPECT_NEAR(slope, point.slope, 1e-9 * std::max(1.0, std::fabs(point.slope))) << t;
    else
      EXPECT_FALSE(std::isfinite(slope)) << t;
  }
}

INSTANTIATE_TEST_SUITE_P(Code, CurveInCode, ::testing::ValuesIn(curve_texts), [](const auto& one) {
  std::string name;
  for (const char* c = one.param; *c != '\0'; ++c) name += std::isalnum(static_cast<unsigned char>(*c)) != 0 ? *c : '_';
  return name;
});

/// A value on its way to a goal that stands: the program's step beside the heart's.
void expect_same_steps(const std::string& text, const std::vector<double>& steps, double tolerance) {
  PlayedProgram played = with_motion(text);
  const Motion motion = motion_of(text);
  Cell mover = played.make("Mover");
  const auto put = [&](const char* field, double value) {
    if (mover.has(field)) mover[field].number = value;
  };
  put("value", -0.3);
  put("speed", 1.7);
  put("acting_at", 1.0);
  put("from_at", 1.0);
  put("step_dt", -1.0);
  MoverState state = state_at_rest(-0.3);
  state.velocity = 1.7;
  StepMemory memory;
  double worst = 0.0;
  for (const double dt : steps) {
    Cell step;
    step.number = dt;
    played.call("step_by_m", {&mover, &step});
    advance(motion, state, memory, {}, {1.0, 1.0}, dt);
    worst = std::max({worst, std::fabs(mover["value"].number - state.value),
                      std::fabs(mover["speed"].number - state.velocity) / std::max(1.0, std::fabs(state.velocity))});
  }
  EXPECT_LE(worst, tolerance) << text;
}

TEST(StepsInCode, AreThoseOfTheHeartOnEverySideOfEverySeam) {
  std::vector<double> steps;
  std::mt19937_64 random(5);
  std::uniform_real_distribution<double> length(0.001, 0.05);
  for (int k = 0; k < 60; ++k) steps.push_back(k < 20 ? 1.0 / 60.0 : k < 25 ? 0.4 : length(random));
  for (const double ratio : {0.0, 0.1, 0.7, 1.0 - 1e-9, 1.0, 1.0 + 1e-9, 1.3, 3.0, 20.0})
    for (const double frequency : {0.3, 2.0, 9.0})
      expect_same_steps(fmt::format("kind = \"spring\"\nfrequency = {}\ndamping_ratio = {:.17g}\n", frequency, ratio),
                        steps, 2e-12);
  for (const double half_life : {0.004, 0.1, 3.0})
    expect_same_steps(fmt::format("kind = \"glide\"\nhalf_life = {}\n", half_life), steps, 1e-13);
  for (const char* rule : {"rule = \"fraction\"\nfraction = 0.1", "rule = \"product\"\nrate = 8\nclamp = true",
                           "rule = \"amount\"\namount = 0.02",
                           "rule = \"spring_step\"\nstiffness = 90\ndamping = 8\nmethod = \"semi_implicit\"",
                           "rule = \"spring_step\"\nstiffness = 90\ndamping = 8\nmethod = \"explicit\""})
    expect_same_steps(fmt::format("kind = \"per_frame\"\nat_fps = 60\n{}\n", rule), steps, 1e-13);
}

TEST(StepsInCode, FollowAGoalThatRuns) {
  for (const char* text :
       {"kind = \"glide\"\nhalf_life = 0.2\n", "kind = \"spring\"\nfrequency = 1.4\ndamping_ratio = 0.5\n",
        "kind = \"spring\"\nfrequency = 1.4\ndamping_ratio = 1.6\nresist = \"gap\"\n",
        "kind = \"pace\"\nspeed = 2\nacceleration = 7\n", "kind = \"pace\"\nspeed = 0.4\n"}) {
    Feel feel = test::feel_from("[channel.a]\nrest = 0\nmotion = \"m\"\n[motion.m]\n" + std::string(text));
    PlayedProgram played(read_program(lower_motions_alone(feel).text));
    const Motion& motion = feel.motions[feel.channels[0].motion[0].rising].motion;
    Cell state = played.make("State"), which, goal, step;
    played.call("begin", {&state});
    MoverState mover = state_at_rest(0.0);
    StepMemory memory;
    double before = 0.0;
    for (int k = 1; k <= 90; ++k) {
      const double dt = 1.0 / 60.0, next = 0.8 * std::sin(0.07 * k) + 0.01 * k;
      goal.number = next;
      step.number = dt;
      played.call("follow", {&state, &which, &goal});
      played.call("advance", {&state, &step});
      advance(motion, mover, memory, {}, {before, next}, dt);
      before = next;
      EXPECT_NEAR(played.call("value_of_m", {&state}), mover.value, 1e-12) << text << k;
    }
  }
}

// A value that only inputs send somewhere knows its motions; one that anything else moves is asked which it is.
TEST(ValuesInCode, ThatOnlyInputsMoveGoOnByFunctionsOfTheirOwn) {
  const Program program = read_program(lower(test::feel_from(R"(
[channel.a]
rest = [0, 0]
motion = { x = "soft", y = "quick" }
[channel.b]
rest = 0
formula = "2 * a.x"
motion = "soft"
[channel.c]
rest = 0
motion = { rising = "soft", falling = "late" }
[motion.soft]
kind = "spring"
frequency = 2
damping_ratio = 1
[motion.quick]
kind = "glide"
half_life = "40 ms"
[motion.late]
kind = "stages"
stages = [{ kind = "delay", delay = "0.1 s" }, { kind = "glide", half_life = "0.1 s" }]
)"))
                                           .text);
  const auto steps = [&](const char* name) {
    std::set<std::string> called;
    each_expression_in(program.function(name)->body, [&](const Expression& part) {
      if (part.kind == Expression::Kind::call && part.text.starts_with("step_by")) called.insert(part.text);
    });
    return called;
  };
  EXPECT_EQ(steps("go_on_with_a_x"), std::set<std::string>{"step_by_soft"});
  EXPECT_EQ(steps("go_on_with_a_y"), std::set<std::string>{"step_by_quick"});
  EXPECT_EQ(program.function("go_on_with_b"), nullptr);
  EXPECT_EQ(program.function("go_on_with_c"), nullptr);
}

// What waits goes on by functions of any value; the others have their own.
TEST(NumbersInCode, SpacesAndTurnsAreThoseOfTheHeart) {
  const Feel feel = test::feel_from(R"(
[channel.lens]
unit = "deg"
rest = 60
range = [20, 100]
space = "zoom"
motion = { kind = "ease", duration = "0.3 s", handover = "finish_first" }
[channel.far]
unit = "m"
rest = 4
range = [1, 9]
space = "ratio"
motion = { kind = "ease", duration = "0.3 s", handover = "finish_first" }
[channel.yaw]
unit = "deg"
rest = 0
space = "turn"
)");
  PlayedProgram played(read_program(lower(feel).text));
  std::mt19937_64 random(2);
  for (int k = 0; k < 500; ++k) {
    const double share = std::uniform_real_distribution<double>(0.0, 1.0)(random);
    for (std::size_t c = 0; c < 2; ++c) {
      const Channel& channel = feel.channels[c];
      const double value = channel.range[0].low + share * (channel.range[0].high - channel.range[0].low);
      const double there = played.of("in_space", {static_cast<double>(c), value});
      EXPECT_NEAR(there, to_space(channel.space, value), 1e-14);
      EXPECT_NEAR(played.of("out_of_space", {static_cast<double>(c), there}), value, 1e-13 * value);
    }
    const double value = 2000.0 * share - 1000.0, goal = 700.0 * share;
    EXPECT_EQ(played.of("short_way", {value, goal, 360.0}), short_way(feel.channels[2].space, value, goal));
  }
}

TEST(NumbersInCode, TheGrowthLessOneKeepsItsDigits) {
  PlayedProgram played = with_motion("kind = \"ease\"\nduration = 1\ncurve = \"in exp\"\n");
  for (double x = 1e-18; x < 30.0; x *= 1.7)
    for (const double sign : {1.0, -1.0})
      EXPECT_NEAR(played.of("exp_less_one", {sign * x}) / std::expm1(sign * x), 1.0, 1e-14) << sign * x;
}

TEST(WheelsInCode, StandOnTheRungsOfTheHeart) {
  for (const char* wheel : {"step = 0.7", "step = 1.12\nby = \"factor\"", "step = 0.3\ninvert = true"}) {
    const std::string space = std::string(wheel).find("factor") != std::string::npos ? "space = \"ratio\"\n" : "";
    std::string text = "[channel.a]\nunit = \"m\"\nrest = 4\nrange = [1.2, 9]\n" + space
                       + "[control.wheel]\nkind = \"clicks\"\nchannel = \"a\"\n" + wheel + "\n";
    text.erase(std::min(text.find("by = \"factor\"\n"), text.size()), std::string("by = \"factor\"\n").size());
    const Feel feel = test::feel_from(text);
    const Clicks& clicks = std::get<Clicks>(feel.controls[0].rule);
    const Ladder ladder(feel.channels[0], clicks);
    PlayedProgram played(read_whole_program(lower(feel).text));
    const double kind = clicks.by == StepKind::amount ? 0.0 : 1.0;
    std::mt19937_64 random(3);
    std::uniform_real_distribution<double> anywhere(1.0, 9.2);
    for (int k = 0; k < 400; ++k) {
      const double value = k < 30 ? ladder.value(k - 15) : anywhere(random);
      const int count = static_cast<int>(random() % 9) - 4;
      if (count == 0) continue;
      EXPECT_EQ(played.of("rung_after", {0.0, kind, clicks.step, value, static_cast<double>(count)}),
                ladder.after(value, count))
          << wheel << " " << value << " " << count;
      EXPECT_NEAR(played.of("value_of_rung", {0.0, kind, clicks.step, static_cast<double>(count)}), ladder.value(count),
                  1e-13);
    }
  }
}

TEST(SticksInCode, AnswerToADeflectionAsTheHeartDoes) {
  PlayedProgram played(read_whole_program(lower(test::feel_from(R"(
[channel.yaw]
unit = "deg"
rest = 0
[control.stick]
kind = "stick"
channel = "yaw"
gain = 90
)"))
                                              .text));
  for (const StickResponse& response : {StickResponse{}, StickResponse{0.15, 0.1, 1.0}, StickResponse{0.1, 0.0, 2.3}})
    for (double x = -1.2; x <= 1.2; x += 0.01)
      EXPECT_NEAR(played.of("response_to", {x, response.dead_band, response.outer_dead_band, response.exponent}),
                  response_to(x, response), 1e-15);
}

TEST(ShakesInCode, DieAwayAsTheHeartsDo) {
  for (const char* decay :
       {"kind = \"half_life\", half_life = 0.2", "kind = \"linear\", duration = 0.7, attack = 0.05, hold = 0.1",
        "kind = \"power\", duration = 0.5, exponent = 2.5", "kind = \"half_life\", half_life = 0.3, stop_after = 0.4",
        "kind = \"per_frame\", factor = 0.9, at_fps = 60", "kind = \"per_frame\", amount = 0.03, at_fps = 60"}) {
    const Feel feel = test::feel_from(fmt::format("[channel.a]\nrest = 0\n[shake.s]\non = {{ a = 1 }}\n"
                                                  "wave = {{ kind = \"noise\", frequency = 8 }}\ndecay = {{ {} }}\n",
                                                  decay));
    const Program program = read_program(lower(feel).text);
    PlayedProgram played(program);
    const std::size_t takes = program.function("left_of_s")->parameters.size();
    for (double since = -0.01; since < 1.2; since += 0.0073) {
      const double frames = 60.0 * since;
      std::vector<double> given{since, frames};
      given.resize(takes);
      EXPECT_NEAR(played.of("left_of_s", given), envelope_at(feel.shakes[0].decay, since, frames), 1e-13)
          << decay << " " << since;
    }
  }
}

/// Times that people type, at rates that people use: what falls on a frame falls on it in both.
TEST(TakesInCode, WithTypedTimesAreTheHeartsOwn) {
  const char* const motions[] = {
      "{{ kind = \"ease\", duration = {}, curve = \"in-out sine\", handover = \"finish_first\" }}",
      "{{ kind = \"ease\", duration = {}, curve = \"out back\", handover = \"carry\" }}",
      "{{ kind = \"ease\", duration = {}, curve = \"steps(5)\", handover = \"pro_rata\" }}",
      "{{ kind = \"ease\", duration = {}, delay = 0.1, repeat = 2, there_and_back = true, curve = \"out bounce\" }}",
      "{{ kind = \"stages\", stages = [{{ kind = \"delay\", delay = {} }}, {{ kind = \"glide\", half_life = 0.1 }}] }}",
      "{{ kind = \"delay\", delay = {} }}",
      "{{ kind = \"pace\", speed = {}, acceleration = 4 }}",
  };
  for (const double fps : {24.0, 30.0, 60.0})
    for (const double typed : {0.1, 0.2, 0.5}) {
      std::string text, pose = "[pose.p]\n";
      int channels = 0;
      for (const char* motion : motions) {
        text += fmt::format("[channel.c{}]\nrest = 0\nrange = [-5, 5]\nmotion = {}\n", channels,
                            fmt::format(fmt::runtime(motion), typed));
        pose += fmt::format("c{} = 1\n", channels++);
      }
      text += pose
              + fmt::format("[control.k]\nkind = \"hold\"\npose = \"p\"\n[control.w]\nkind = \"clicks\"\n"
                            "channel = \"c0\"\nstep = 0.5\nrepeat_every = 0.1\n[take.t]\nlength = 2\n"
                            "clock = {{ fps = {0} }}\ncues = [{{ at = {1}, press = \"k\" }}, {{ at = {2}, release = "
                            "\"k\" }}, {{ at = {3}, press = \"k\" }}, {{ at = 1.0, press = \"w\" }}, {{ at = 1.4, "
                            "release = \"w\" }}, {{ at = 1.6, release = \"k\" }}]\n",
                            fps, typed, 2.0 * typed, 3.0 * typed);
      const Feel feel = test::feel_from(text);
      const Lowered lowered = lower(feel);
      ASSERT_TRUE(lowered.faults.empty());
      const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
      EXPECT_EQ(check.columns, std::size(motions));
      EXPECT_LE(worst_of(check, lowered), 1e-12) << fps << " " << typed;
    }
}

/// Links behind a lead of every kind, interrupted on the way there and back, and behind a goal that runs.
TEST(TakesInCode, LinksBehindALeadAreTheHeartsOwn) {
  const char* const links[] = {"{ kind = \"glide\", half_life = 0.08 }",
                               "{ kind = \"spring\", frequency = 2, damping_ratio = 0.6 }",
                               "{ kind = \"spring\", frequency = 3, damping_ratio = 1.3, resist = \"gap\" }",
                               "{ kind = \"glide\", half_life = 0.05 }, { kind = \"spring\", frequency = 2.5, "
                               "damping_ratio = 0.8, resist = \"gap\" }"};
  std::vector<std::string> leads{"{ kind = \"pace\", speed = 3 }", "{ kind = \"pace\", speed = 4, acceleration = 15 }"};
  for (const char* const curve : curve_texts)
    leads.push_back(fmt::format("{{ kind = \"ease\", duration = 0.31, curve = \"{}\", handover = \"{}\" }}", curve,
                                leads.size() % 2 == 0 ? "carry" : "pro_rata"));
  for (std::size_t k = 0; k < leads.size(); ++k) {
    const Feel feel = test::feel_from(fmt::format(
        "[channel.a]\nrest = 0\nrange = [-5, 5]\nmotion = {{ kind = \"stages\", stages = [{0}, {1}] }}\n"
        "[channel.b]\nrest = 0\nformula = \"1 + 0.4 * sin(3 * time)\"\nmotion = {{ kind = \"stages\", stages = [{0}, "
        "{2}] }}\n"
        "[pose.p]\na = 1\nb = {{ add = 0.5 }}\n[control.k]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 1.1\n"
        "clock = {{ fps = 60 }}\ncues = [{{ at = 0.1, press = \"k\" }}, {{ at = 0.317, release = \"k\" }}, {{ at = "
        "0.37, press = \"k\" }}]\n",
        leads[k], links[k % 4], links[(k + 1) % 4]));
    const Lowered lowered = lower(feel);
    ASSERT_TRUE(lowered.faults.empty());
    const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
    EXPECT_GE(check.columns, 1u);
    // Where a curve stands upright or jumps, when it does so is known to the last digits only.
    const bool is_upright =
        leads[k].find("steps") != std::string::npos || leads[k].find("(1, 0, 0, 1)") != std::string::npos;
    EXPECT_LE(worst_of(check, lowered), is_upright ? 1e-10 : 1e-12)
        << leads[k] << " " << links[k % 4] << " " << links[(k + 1) % 4];
  }
}

/// A pace that moves several values together waits, leads links, is interrupted meanwhile, and takes over from others.
TEST(TakesInCode, APaceMovesValuesTogetherBehindADelayAndBeforeLinks) {
  std::mt19937_64 random(2026);
  const auto below = [&](int end) { return static_cast<int>(random() % static_cast<std::uint64_t>(end)); };
  const auto between = [&](double low, double high) {
    return low + (high - low) * (static_cast<double>(random() >> 11) * 0x1p-53);
  };
  const auto motion = [&] {
    std::string stages;
    if (below(4) > 0) stages += fmt::format("{{ kind = \"delay\", delay = {:.3f} }}, ", between(0.01, 0.3));
    stages += fmt::format("{{ kind = \"pace\", speed = {:.3f}{} }}", between(1, 5),
                          below(3) == 0 ? "" : fmt::format(", acceleration = {:.3f}", between(3, 40)));
    if (below(3) == 0) stages += fmt::format(", {{ kind = \"glide\", half_life = {:.3f} }}", between(0.03, 0.2));
    if (below(3) == 0)
      stages += fmt::format(", {{ kind = \"spring\", frequency = {:.3f}, damping_ratio = 0.7 }}", between(1, 4));
    return "{ kind = \"stages\", stages = [" + stages + "] }";
  };
  for (int k = 0; k < 16; ++k) {
    std::string text = "[channel.p]\nrest = [0, 0.5, -1]\nrange = [-5, 5]\nmotion = " + motion()
                       + "\n[motion.other]\nkind = \"glide\"\nhalf_life = "
                         "0.1\n[pose.near]\np = [1, 2.5, -1]\n[pose.far]\np = [-2, 0, 3]\n";
    if (below(2) == 0) text += "entering = { p = " + motion() + " }\n";
    if (below(3) == 0) text += "leaving = { p = { x = \"other\", y = " + motion() + " } }\n";
    text += fmt::format("[control.near]\nkind = \"hold\"\npose = \"near\"\n[control.far]\nkind = \"toggle\"\npose = "
                        "\"far\"\n[take.t]\nlength = 2.5\nclock = {{ fps = {}, jitter = {}, seed = {} }}\ncues = [",
                        below(2) == 0 ? 60 : 24, below(2) == 0 ? "0" : "0.4", k + 1);
    for (int cue = 0; cue < 5; ++cue) {
      const double at = between(0.05, 2.0);
      const char* const control = below(2) == 0 ? "near" : "far";
      text += fmt::format("{{ at = {:.3f}, press = \"{}\" }}, {{ at = {:.3f}, release = \"{}\" }}, ", at, control,
                          at + between(0.02, 0.4), control);
    }
    const Feel feel = test::feel_from(text + "]\n");
    const Lowered lowered = lower(feel);
    ASSERT_TRUE(lowered.unlike.empty());
    const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
    ASSERT_EQ(check.columns, 3u);
    EXPECT_LE(worst_of(check, lowered), 1e-12) << text;
  }
}

/// Shakes along the camera's axes, by the way of a subject, dying away along a curve; a value on a grid.
TEST(TakesInCode, ShakesOfEveryKindAreTheHeartsOwn) {
  const std::string shaken =
      "[channel.bob]\nrest = 0\nunit = \"m\"\nsnap = 0.01\n[pose.turn]\nroll = 40\n[control.turn]\nkind = "
      "\"hold\"\npose = "
      "\"turn\"\n[shake.bell]\non = { \"focus.y\" = 0.2 }\nwave = { kind = \"ring\", frequency = 3, damping_ratio = "
      "0.1 "
      "}\ncap = 1.2\nframe = \"view\"\n[shake.steps]\non = { bob = 0.05 }\nwave = { kind = \"stride\", track = "
      "\"subject\", length = 0.8 }\nalways = true\nlevel = 1\n[take.t]\nlength = 2\nclock = { fps = 60, jitter = 0.4, "
      "seed = 4 }\ncues = [{ at = 0.3, press = \"turn\", for = 0.6 }, { at = 0.5, hit = \"knock\" }, { at = 0.7, hit = "
      "\"bell\" }, { at = 0.8, hit = \"bell\" }, { at = 1.2, hit = \"knock\", strength = 0.4 }]\n"
      "[channel.roll]\nrest = 5\nunit = \"deg\"\nmotion = { kind = \"spring\", frequency = 1, damping_ratio = 0.5 }\n";
  const std::string space =
      "[picture]\nfocus = \"focus\"\ndistance = \"d\"\nyaw = \"yaw\"\npitch = \"pitch\"\nroll = "
      "\"roll\"\n[channel.focus]\nrest "
      "= [0, 1, 0]\nunit = \"m\"\nmotion = { kind = \"glide\", half_life = 0.2 }\nfollow = "
      "\"subject\"\n[channel.d]\nrest = "
      "4\nunit = \"m\"\n[channel.yaw]\nrest = 20\nunit = \"deg\"\n[channel.pitch]\nrest = -10\nunit = "
      "\"deg\"\n[track.subject]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [2, 0, -1.5]\n";
  const std::string flat =
      "[picture]\nposition = \"focus\"\nheight = { channel = \"high\" }\nroll = \"roll\"\n[channel.high]\nrest = "
      "9\nunit = "
      "\"m\"\n[channel.focus]\nrest = [0, 1]\nunit = \"m\"\nmotion = { kind = \"glide\", half_life = 0.2 }\nfollow = "
      "\"subject\"\n[track.subject]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [2, -1.5]\n";
  for (const std::string& scene : {space, flat})
    for (const char* const curve : curve_texts) {
      const Feel feel = test::feel_from(
          scene + shaken
          + fmt::format(
              "[shake.knock]\non = {{ \"focus.x\" = 0.2, \"focus.y\" = 0.1, roll = 2 }}\nwave = {{ kind = "
              "\"noise\", frequency = 6 }}\ndecay = {{ kind = \"eased\", duration = 0.7, curve = \"{}\", attack "
              "= 0.05 }}\nframe = \"view\"\n",
              curve));
      const Lowered lowered = lower(feel);
      ASSERT_TRUE(lowered.faults.empty());
      EXPECT_TRUE(lowered.left.empty()) << lowered.left[0];
      const Check check = check_of(lowered, {&feel, &feel.takes[0], clock_of(feel.takes[0])});
      EXPECT_GE(check.columns, 5u);
      EXPECT_LE(worst_of(check, lowered), 1e-12) << curve;
    }
}

TEST(TakesInCode, OfRandomFeelsAreTheHeartsOwn) {
  int played = 0;
  for (std::uint64_t seed = 4001; played < 12; ++seed) {
    ASSERT_LT(seed, 4200u);
    const test::RandomFeel made = test::FeelMaker(seed, {.tracks = seed % 4 == 0,
                                                         .rules_of_frames = seed % 3 == 0,
                                                         .switches = seed % 2 == 0,
                                                         .sticks = seed % 2 == 1})
                                      .make();
    if (!test::problems_of(made.text).empty()) continue;
    const Feel feel = test::feel_from(made.text);
    const Lowered lowered = lower(feel);
    if (!lowered.faults.empty()) continue;
    const Scene scene{&feel, &feel.takes[0], clock_of(feel.takes[0])};
    const Check check = check_of(lowered, scene);
    if (check.columns == 0) continue;
    EXPECT_LE(worst_of(check, lowered), 1e-12) << seed;
    ++played;
  }
}

} // namespace
} // namespace stasis::code
