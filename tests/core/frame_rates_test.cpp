// Takes at several frame rates against the exact path. What is measured: docs/measures.md.
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/measure/frame_rates.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::step_feel;

RatesAccount account_of_take(const Feel& feel, const std::vector<double>& rates = {15, 24, 30, 60, 144}) {
  return play_rates(feel, feel.takes[0], usual_cases(feel.takes[0], rates));
}

std::string exact_motion(std::mt19937& random) {
  std::uniform_real_distribution<double> share(0, 1);
  switch (random() % 6) {
  case 0: return fmt::format("kind = \"glide\", half_life = {}", 0.02 + 0.5 * share(random));
  case 1:
    return fmt::format("kind = \"spring\", frequency = {}, damping_ratio = {}", 0.3 + 5 * share(random),
                       0.2 + 1.5 * share(random));
  case 2:
    return fmt::format("kind = \"ease\", duration = {}, handover = \"{}\"", 0.1 + share(random),
                       random() % 2 == 0 ? "carry" : "finish_first");
  case 3:
    return fmt::format("kind = \"pace\", speed = {}, acceleration = {}", 0.5 + share(random), 2 + 9 * share(random));
  case 4: return fmt::format("kind = \"delay\", delay = {}", 0.4 * share(random));
  default:
    return fmt::format(
        "kind = \"stages\", stages = [{{ kind = \"delay\", delay = {} }}, {{ kind = \"glide\", half_life = {} "
        "}}]",
        0.3 * share(random), 0.02 + 0.3 * share(random));
  }
}

TEST(FrameRates, ExactMotionsHaveNoRuleErrorOnAnyClock) {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> share(0, 1);
  for (int n = 0; n < 25; ++n) {
    std::string cues;
    double at = 0;
    for (int k = 0; k < 4; ++k) {
      at += 0.05 + 0.4 * share(random);
      cues += fmt::format("{{ at = {:.3f}, {} = \"c\" }}, ", at, k % 2 == 0 ? "release" : "press");
    }
    const std::string motion = exact_motion(random);
    const Feel feel = feel_from(step_feel(motion, 60, 2.5, 0.0, cues));
    const RatesAccount account = account_of_take(feel);
    ASSERT_EQ(account.plays.size(), 7u);
    for (const RatePlay& play : account.plays)
      EXPECT_LT(play.channels[0].rule_error.size, 1e-9 * account.largest_move[0]) << motion << " " << play.what.label;
    EXPECT_FALSE(account.has_rule_error(0));
  }
}

/// Rows of a track that are shared by all clocks, and corners that are not: both are exact.
TEST(FrameRates, FollowingAPathOfStraightLinesIsExactToo) {
  const Feel feel =
      feel_from("[track.t]\nkind = \"stop_and_go\"\nfrom = 0\nvelocity = 3\ngo = 0.37\nstop = 0.21\n[channel.a]\nrest "
                "= 0\nfollow = "
                "\"t\"\nmotion = { kind = \"spring\", frequency = 1.5, damping_ratio = 0.6 }\n[take.x]\nlength = 3\n");
  for (const RatePlay& play : account_of_take(feel).plays)
    EXPECT_LT(play.channels[0].rule_error.size, 1e-9) << play.what.label;
}

TEST(FrameRates, TheSpreadOfARuleOfFramesIsThatOfDirectArithmetic) {
  const Feel feel =
      feel_from(step_feel("kind = \"per_frame\", rule = \"fraction\", fraction = 0.07, at_fps = 60", 60, 2));
  const RatesAccount account = account_of_take(feel, {15, 30, 60, 144});
  const double rate = -60 * std::log1p(-0.07);
  for (std::size_t p = 0; p < 4; ++p) {
    const double fps = account.plays[p].what.fps;
    double x = 0, widest = 0;
    for (int k = 1; k <= static_cast<int>(2 * fps); ++k) {
      x += 0.07 * (1 - x);
      widest = std::max(widest, std::fabs(x + std::expm1(-rate * k / fps)));
    }
    EXPECT_NEAR(account.plays[p].channels[0].spread.size, widest, 1e-12) << fps;
    EXPECT_NEAR(account.plays[p].channels[0].rule_error.size, widest, 1e-12) << fps;
    EXPECT_NEAR(account.plays[p].channels[0].input_wait.size, 0.0, 1e-13) << fps;
  }
  EXPECT_EQ(account.worst_channel(), 0u);
  EXPECT_EQ(account.plays[account.worst_play(0)].what.label, "15 fps");
  EXPECT_NE(account.causes[0].find("does the same on each frame"), std::string::npos);
  ASSERT_EQ(account.replacements.size(), 1u);
  EXPECT_NE(advice_on(account.replacements[0]).find("half-life 0.159 s"), std::string::npos);
}

/// A press between two frames of 10 fps waits: the glide is late by the wait, and by nothing else.
TEST(FrameRates, InputWaitIsTheMotionLateByTheWait) {
  const Feel feel = feel_from(step_feel("kind = \"glide\", rate = 4", 60, 2, 0.53));
  const RatesAccount account = account_of_take(feel, {10});
  const ChannelAtRate& slow = account.plays[0].channels[0];
  EXPECT_NEAR(slow.input_wait.size, -std::expm1(-4 * 0.07), 1e-12);
  EXPECT_NEAR(slow.input_wait.at, 0.6, 1e-12);
  EXPECT_LT(slow.rule_error.size, 1e-12);
  EXPECT_NEAR(slow.spread.size, slow.input_wait.size, 1e-12);
  EXPECT_NE(account.causes[0].find("first seen at the next frame"), std::string::npos);
}

TEST(FrameRates, ReplacedRulesHaveNoSpread) {
  for (const char* rule :
       {"rule = \"fraction\", fraction = 0.2", "rule = \"product\", rate = 9", "rule = \"amount\", amount = 0.02"}) {
    const Feel written = feel_from(step_feel(std::string("kind = \"per_frame\", at_fps = 60, ") + rule, 60, 2));
    const auto replacements = account_of_take(written).replacements;
    ASSERT_EQ(replacements.size(), 1u);
    const Feel replaced = feel_from(step_feel(replacements[0].equivalent->text, 60, 2));
    for (const RatePlay& play : account_of_take(replaced).plays)
      EXPECT_LT(play.channels[0].spread.size, 1e-9) << rule << " " << play.what.label;
  }
}

TEST(FrameRates, CurvedGoalsAreMeasuredAgainstAFinePath) {
  const Feel feel =
      feel_from("[channel.a]\nrest = 0\nmotion = { kind = \"glide\", rate = 3 }\nformula = \"sin(8 * time)\"\n"
                "[take.x]\nlength = 2\n");
  const RatesAccount account = account_of_take(feel, {15, 60});
  const double slow = account.plays[0].channels[0].rule_error.size,
               quick = account.plays[1].channels[0].rule_error.size;
  // Straight pieces of a curve err by the square of the frame's time.
  EXPECT_NEAR(slow / quick, 16.0, 2.0);
  EXPECT_GT(slow, 1e-3);
  EXPECT_NE(account.causes[0].find("formula"), std::string::npos);
}

TEST(FrameRates, WhatActsOnEveryFrameIsNamed) {
  const Feel feel = feel_from(
      "[channel.a]\nrest = 1\nrange = [0, 50]\n[control.w]\nkind = \"clicks\"\nchannel = \"a\"\nstep = "
      "0.1\nevery_frame = true\n[take.x]\nlength = 2\ncues = [{ at = 0.5, press = \"w\" }, { at = 1.5, release = "
      "\"w\" }]\n");
  const RatesAccount account = account_of_take(feel, {30, 60});
  EXPECT_NE(account.causes[0].find("w acts once on every frame"), std::string::npos) << account.causes[0];
}

/// What makes an exact motion differ by rate is told apart: ticks, their order, what is curved between frames.
TEST(FrameRates, WhyAnExactMotionDiffersIsNamed) {
  const std::string circle = "[track.t]\nkind = \"circle\"\ncentre = [0, 1]\ndiameter = 4\nspeed = 4\n";
  const std::string chase =
      "[channel.a]\nunit = \"m\"\nrest = [0, 0]\nmotion = { kind = \"glide\", rate = 4 }\nfollow = \"t\"\n";
  const auto cause = [&](const std::string& clock) {
    return account_of_take(feel_from(circle + chase + "[take.x]\nlength = 2\nclock = { fps = 60" + clock + " }\n"),
                           {30, 60})
        .causes[0];
  };
  EXPECT_NE(cause(", tick = 50").find("stands still between ticks"), std::string::npos) << cause(", tick = 50");
  const std::string blended = cause(", tick = 50, between = \"blend\"");
  EXPECT_EQ(blended.find("stands still between ticks"), std::string::npos) << blended;
  EXPECT_NE(cause("").find("its goal turns between frames"), std::string::npos) << cause("");
  EXPECT_NE(cause(", order = \"camera_first\"").find("sees it one frame late"), std::string::npos);
}

TEST(FrameRates, APointerTimesTheFramesTimeGoesSlowerWhereFramesAreShorter) {
  const Feel feel = feel_from(
      "[channel.a]\nrest = 0\nrange = [-90, 90]\n[control.m]\nkind = \"pointer\"\nchannel = \"a\"\ngain = "
      "20\ntimes_frame_time = true\n[take.t]\nlength = 1\ncues = [{ at = 0.2, pointer = \"m\", counts = 30 }]\n");
  const RatesAccount account = account_of_take(feel);
  EXPECT_NE(account.causes[0].find("goes slower when frames are shorter"), std::string::npos) << account.causes[0];
}

const std::string placed_eye =
    "[picture]\nsize = [1280, 800]\nlens = { channel = \"fov\" }\nfocus = \"focus\"\ndistance = \"radius\"\nposition = "
    "\"eye\"\nyaw = "
    "\"yaw\"\n[channel.focus]\nrest = [0, 0.3, 0]\n[channel.radius]\nrest = 3\n[channel.fov]\nunit = \"deg\"\nrest = "
    "60\n[channel.yaw]\nunit = \"deg\"\nspace = \"turn\"\nrest = 0\nmotion = { kind = \"spring\", frequency = 0.9, "
    "damping_ratio = 1 "
    "}\n[channel.eye]\nrest = [0, 0.3, 3]\nplaced = true\nmotion = { kind = \"glide\", half_life = 0.04 "
    "}\n[pose.side]\nyaw = "
    "80\n[control.side]\nkind = \"hold\"\npose = \"side\"\n[take.t]\nlength = 2\ncues = [{ at = 0.5, press = \"side\" "
    "}]\n";

TEST(FrameRates, AStickThatNobodyTouchesChangesNothing) {
  const Feel plain = feel_from(placed_eye),
             stick = feel_from(placed_eye
                               + "[channel.other]\nrest = 0\n[control.s]\nkind = \"stick\"\nchannel = \"other\"\n");
  const RatesAccount without = account_of_take(plain), with = account_of_take(stick);
  for (std::size_t p = 0; p < without.plays.size(); ++p)
    EXPECT_EQ(without.plays[p].channels[4].rule_error.size, with.plays[p].channels[4].rule_error.size);
  // A way round is taken straight between frames; what is off is all told.
  for (const RatePlay& play : without.plays)
    EXPECT_LE(play.channels[4].spread.size,
              play.channels[4].rule_error.size + play.channels[4].input_wait.size + 1e-12);
}

TEST(FrameRates, SharesDoNotDependOnTheOtherClocks) {
  // The button comes up between frames: on a slow clock the move back begins from elsewhere.
  const Feel feel = feel_from(step_feel("kind = \"spring\", frequency = 1, damping_ratio = 0.5", 60, 3, 0.31,
                                        "{ at = 0.77, release = \"c\" }"));
  const RatesAccount few = play_rates(feel, feel.takes[0], usual_cases(feel.takes[0], {60})),
                     many = play_rates(feel, feel.takes[0], usual_cases(feel.takes[0], {7, 60, 144}));
  EXPECT_EQ(few.largest_move[0], many.largest_move[0]);
}

TEST(FrameRates, AShakeThatDiesByFramesIsNamed) {
  const auto feel = [](const std::string& decay) {
    return feel_from(
        "[channel.a]\nrest = 0\n[shake.s]\non = { a = 0.1 }\nwave = { kind = \"sines\", frequency = 5 }\ndecay = { "
        + decay + " }\n[take.t]\nlength = 2\ncues = [{ at = 0.25, hit = \"s\" }]\n");
  };
  const auto named = [](const Feel& one) { return account_of_take(one).frame_shakes; };
  const auto by_frames = named(feel("kind = \"per_frame\", factor = 0.94, at_fps = 60"));
  ASSERT_EQ(by_frames.size(), 1u);
  EXPECT_NE(by_frames[0].find("0.747 s at 15 fps"), std::string::npos) << by_frames[0];
  EXPECT_TRUE(named(feel("kind = \"half_life\", half_life = 0.2")).empty());
}

TEST(FrameRates, AControlThatGoesByFramesIsNamedWithWhatDoesNot) {
  const auto named = [](const std::string& control, const std::string& cue) {
    return account_of_take(feel_from("[channel.a]\nrest = 0\nrange = [-9, 9]\n[control.c]\nchannel = \"a\"\n" + control
                                     + "[take.t]\nlength = 2\ncues = [" + cue + "]\n"))
        .frame_controls;
  };
  const std::string press = "{ at = 0.5, press = \"c\" }, { at = 1, release = \"c\" }";
  const auto steps = named("kind = \"clicks\"\nstep = 0.1\nevery_frame = true\n", press);
  ASSERT_EQ(steps.size(), 1U);
  EXPECT_NE(steps[0].find("repeat_every = 0.0166667"), std::string::npos) << steps[0];
  const auto counts =
      named("kind = \"pointer\"\ngain = 2\ntimes_frame_time = true\n", "{ at = 0.5, pointer = \"c\", counts = 3 }");
  ASSERT_EQ(counts.size(), 1U);
  EXPECT_NE(counts[0].find("gain over 60"), std::string::npos) << counts[0];
  EXPECT_TRUE(named("kind = \"clicks\"\nstep = 0.1\n", press).empty());
}

TEST(FrameRates, SharesAreOfTheLargestMoveAndTheTakesOwnClockComesFirst) {
  Feel feel = feel_from(step_feel("kind = \"glide\", rate = 4", 60, 2, 0.53));
  feel.takes[0].disturbance.jitter = 0.3;
  const RatesAccount account = account_of_take(feel, {30});
  ASSERT_EQ(account.plays.size(), 4u);
  EXPECT_EQ(account.plays[0].what.label, "60 fps, as written");
  EXPECT_NEAR(*account.share(0, 0.5), 50.0, 1e-12);
}

/// All that is told while a take is compared.
class KeptRows final : public RateRows {
public:
  struct Rows {
    std::vector<double> times, values, off;
  };
  void begin(const RatesAccount& account) override { plays.resize(account.plays.size()); }
  void add_exact(ComponentRef component, std::span<const double> times, std::span<const double> values) override {
    append(exact, times, values);
    EXPECT_EQ(component, ComponentRef{});
  }
  void add_frames(std::size_t play, ComponentRef, std::span<const double> times, std::span<const double> values,
                  std::span<const double> off) override {
    append(plays[play], times, values);
    plays[play].off.insert(plays[play].off.end(), off.begin(), off.end());
    ++stretches;
  }
  void end() override { is_over = true; }

  Rows exact;
  std::vector<Rows> plays;
  int stretches = 0;
  bool is_over = false;

private:
  static void append(Rows& rows, std::span<const double> times, std::span<const double> values) {
    rows.times.insert(rows.times.end(), times.begin(), times.end());
    rows.values.insert(rows.values.end(), values.begin(), values.end());
  }
};

/// A take that is compared a stretch at a time, with an input in each: as exact in the last as in the first.
TEST(FrameRates, ALongTakeIsComparedInStretchesThatNobodyNotices) {
  std::string cues;
  for (int k = 0; k < 9; ++k)
    cues += fmt::format("{{ at = {}.003, {} = \"c\" }}, ", 25 + 250 * k, k % 2 == 0 ? "press" : "release");
  const Feel feel = feel_from(step_feel("kind = \"glide\", rate = 3", 60, 2400, 0.0, cues));
  KeptRows rows;
  std::vector<std::size_t> told;
  std::size_t total = 0;
  const auto how_far = [&](std::size_t done, std::size_t of) {
    told.push_back(done);
    total = of;
  };
  const RatesAccount account =
      play_rates(feel, feel.takes[0], usual_cases(feel.takes[0], {15, 30, 100, 1000}), how_far, &rows);
  EXPECT_EQ(told.size() + 1, total); // measuring the moves comes after the stretches
  for (std::size_t k = 0; k < told.size(); ++k) EXPECT_EQ(told[k], k + 1);
  EXPECT_TRUE(rows.is_over);
  EXPECT_GT(rows.stretches, 2 * static_cast<int>(account.plays.size()));
  EXPECT_TRUE(std::is_sorted(rows.exact.times.begin(), rows.exact.times.end()));
  EXPECT_EQ(std::adjacent_find(rows.exact.times.begin(), rows.exact.times.end()), rows.exact.times.end());
  for (std::size_t p = 0; p < account.plays.size(); ++p) {
    const KeptRows::Rows& play = rows.plays[p];
    ASSERT_EQ(static_cast<std::int64_t>(play.times.size()), account.plays[p].clock.frames);
    double largest = 0.0;
    std::size_t exact = 0;
    for (std::size_t k = 0; k < play.times.size(); ++k) {
      ASSERT_EQ(play.times[k], account.plays[p].clock.drawn_time(static_cast<std::int64_t>(k)));
      while (rows.exact.times[exact] < play.times[k] - 1e-12) ++exact;
      ASSERT_NEAR(rows.exact.times[exact], play.times[k], 1e-12);
      ASSERT_EQ(play.off[k], play.values[k] - rows.exact.values[exact]);
      largest = std::max(largest, std::fabs(play.off[k]));
    }
    EXPECT_EQ(account.plays[p].channels[0].spread.size, largest) << account.plays[p].what.label;
    EXPECT_LT(account.plays[p].channels[0].rule_error.size, 1e-11) << account.plays[p].what.label;
  }
  // Each input comes 3 ms after a frame of all clocks, which is a frame of the quickest only.
  const double wait = 1.0 / 15 - 0.003;
  EXPECT_NEAR(account.plays[0].channels[0].spread.size, 1.0 - std::exp(-3.0 * wait), 1e-9);
  EXPECT_LT(account.plays[3].channels[0].spread.size, 1e-9);
}

/// A turn, a ratio, a vector: differences are taken in the unit, and lengths of vectors together.
TEST(FrameRates, MeasuresTurnsRatiosAndVectors) {
  const Feel feel = feel_from("[channel.yaw]\nunit = \"deg\"\nspace = \"turn\"\nrest = 170\nmotion = { kind = "
                              "\"per_frame\", rule = \"fraction\", fraction "
                              "= 0.1, at_fps = 60 }\n[channel.v]\nrest = [0, 0]\nmotion = { kind = \"per_frame\", rule "
                              "= \"fraction\", fraction = 0.1, "
                              "at_fps = 60 }\n[pose.up]\nyaw = -170\nv = [3, 4]\n[control.c]\nkind = \"hold\"\npose = "
                              "\"up\"\n[take.t]\nlength = "
                              "2\ncues = [{ at = 0, press = \"c\" }]\n");
  const RatesAccount account = account_of_take(feel, {30});
  EXPECT_NEAR(account.largest_move[0], 20.0, 1e-9); // the short way
  EXPECT_NEAR(account.largest_move[1], 5.0, 1e-12);
  const double turn = *account.share(0, account.plays[0].channels[0].spread.size),
               vector = *account.share(1, account.plays[0].channels[1].spread.size);
  EXPECT_NEAR(turn, vector, 1e-9); // the same rule, the same share
  EXPECT_GT(vector, 5.0);
}

/// Game time that is held back is time lost against the clock, and no error of an exact motion.
TEST(FrameRates, ALongestFrameLosesTimeAndNothingElse) {
  Feel feel = feel_from(step_feel("kind = \"glide\", rate = 2", 60, 2, 0.1));
  feel.takes[0].disturbance.stalls = {{0.5, 0.4}};
  feel.takes[0].disturbance.longest_frame = 0.05;
  const RatesAccount account = account_of_take(feel, {60});
  const ChannelAtRate& held = account.plays[0].channels[0];
  EXPECT_LT(held.rule_error.size, 1e-12);
  EXPECT_GT(held.spread.size, 0.1);
}

TEST(FrameRates, ASwitchActsAtTheFirstFramePastItsThreshold) {
  const Feel feel = feel_from(
      "[channel.a]\nrest = 0\nmotion = { kind = \"glide\", rate = 2 }\n[channel.b]\nrest = 0\nmotion = { kind = "
      "\"glide\", rate = 5 "
      "}\n[pose.up]\na = 1\n[pose.high]\nb = 1\n[control.c]\nkind = \"hold\"\npose = \"up\"\n[switch.s]\non = "
      "\"a\"\npose = "
      "\"high\"\nenter_above = 0.5\nleave_below = 0.4\n[take.t]\nlength = 2\ncues = [{ at = 0, press = \"c\" }]\n");
  const RatesAccount account = account_of_take(feel, {15, 60});
  EXPECT_FALSE(account.has_rule_error(0));
  const double slow = account.plays[0].channels[1].rule_error.size,
               quick = account.plays[1].channels[1].rule_error.size;
  EXPECT_GT(slow, quick);
  EXPECT_NE(account.causes[1].find("a switch looks only at frames"), std::string::npos);
}

TEST(FrameRates, SlowMotionIsInEveryPlayAndNoFaultOfItsRate) {
  std::string channels;
  for (const char* const name : {"by_game", "by_clock"})
    channels += std::string("[channel.") + name
                + "]\nrest = 0\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 0.6 }\n"
                + (name == std::string("by_clock") ? "runs_on = \"clock\"\n" : "");
  const Feel feel = test::feel_from(channels
                                    + "[pose.p]\nby_game = 1\nby_clock = 1\n[control.c]\nkind = \"hold\"\npose = "
                                      "\"p\"\n[take.t]\nlength = 4\ncues = [{ at = 0.8, game_speed = 0.2, over = 0.35 "
                                      "}, { at = 1.01, press = \"c\" }, { at = 2.5, game_speed = 2 }, { at = 3.02, "
                                      "release = \"c\" }]\n");
  const std::vector<RateCase> cases = usual_cases(feel.takes[0], {15, 60, 100});
  EXPECT_EQ(cases.front().label, "15 fps"); // nothing else disturbs the clock: it is not played "as written" as well
  const RatesAccount account = account_of_take(feel, {15, 60, 100});
  for (const RatePlay& play : account.plays)
    for (std::size_t c = 0; c < 2; ++c)
      EXPECT_LT(play.channels[c].rule_error.size, 1e-9) << play.what.label << ", channel " << c;
  // At 100 fps every cue comes on a frame.
  for (std::size_t c = 0; c < 2; ++c) EXPECT_LT(account.plays[2].channels[c].spread.size, 1e-9);
  EXPECT_GT(account.plays[0].channels[1].input_wait.size, 0.1);
}

} // namespace
} // namespace stasis
