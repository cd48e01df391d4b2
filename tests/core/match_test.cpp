// Moves made by a known rule: the rule is found, with its numbers.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "core/match/match_step.hpp"
#include "core/random.hpp"

namespace stasis {
namespace {

/// A normal number, by the sum of twelve.
double normal(Random& random) {
  double sum = -6.0;
  for (int k = 0; k < 12; ++k) sum += random.share();
  return sum;
}

const StepRule& kind_named(const std::string& name) {
  for (const StepRule& kind : step_rules())
    if (kind.name() == name) return kind;
  ADD_FAILURE() << name;
  return step_rules().front();
}

RecordedMove recorded(const StepRule& kind, const std::vector<double>& unknowns, double start, double noise,
                      std::uint64_t seed) {
  Random random(seed);
  RecordedMove move;
  for (int k = 0; k <= 120; ++k) {
    const double time = k / 60.0;
    move.times.push_back(time);
    move.values.push_back(62.0 - 24.0 * kind.value(unknowns, time - start) + noise * normal(random));
  }
  return move;
}

const Estimate& number(const MatchedRule& rule, const std::string& name) {
  for (const Estimate& one : rule.numbers)
    if (one.name == name) return one;
  ADD_FAILURE() << name;
  return rule.numbers.front();
}

struct Truth {
  const char* kind;
  std::vector<double> unknowns;
};

const std::vector<Truth> truths{{"glide", {std::log(5.0)}},
                                {"spring", {std::log(11.5), std::log(0.62)}},
                                {"spring", {std::log(14.0), std::log(0.2)}},
                                {"spring", {std::log(9.0), std::log(1.0)}},
                                {"pace", {std::log(0.8), 0.3}},
                                {"ease in-out sine", {std::log(0.7)}},
                                {"ease out bounce", {std::log(0.9)}},
                                {"ease cubic-bezier", {std::log(0.8), -1.0, 0.3, 0.5, 1.2}}};

TEST(Match, TellsOfEachFitHowFarItIs) {
  const StepRule kind = kind_named("glide");
  std::vector<std::size_t> told;
  std::size_t last = 0;
  match_step({recorded(kind, {std::log(8.0)}, 0.4, 0.01, 1)}, step_rules(), [&](std::size_t done, std::size_t total) {
    told.push_back(done);
    last = total;
  });
  ASSERT_FALSE(told.empty());
  EXPECT_TRUE(std::is_sorted(told.begin(), told.end()));
  EXPECT_LE(told.back(), last);
}

TEST(Match, WithoutNoiseTheNumbersComeBackAndTheRuleIsFirst) {
  for (const Truth& truth : truths) {
    const StepRule& kind = kind_named(truth.kind);
    for (const bool given : {true, false}) {
      RecordedMove move = recorded(kind, truth.unknowns, 0.4137, 0.0, 1);
      if (given) {
        move.start = 0.4137;
        move.from = 62.0;
        move.goal = 38.0;
      }
      const auto match = match_step({move}, step_rules());
      ASSERT_TRUE(match) << truth.kind;
      const MatchedRule& best = match->ranking.front();
      EXPECT_EQ(best.kind->name(), truth.kind) << given;
      EXPECT_TRUE(match->is_explained);
      const auto expected = kind.numbers(truth.unknowns, 24.0);
      for (std::size_t k = 0; k < expected.size() && best.kind == &kind; ++k)
        EXPECT_NEAR(best.numbers[k].value, expected[k].value, (given ? 1e-6 : 1e-4) * std::fabs(expected[k].value))
            << truth.kind << " " << expected[k].name << " " << given;
      EXPECT_NEAR(best.start, 0.4137, 1e-4) << truth.kind;
      EXPECT_NEAR(best.goal, 38.0, 1e-3) << truth.kind;
    }
  }
}

TEST(Match, StatedIntervalsHoldTheTruthAsOftenAsTheySay) {
  int inside = 0, all = 0;
  for (std::uint64_t seed = 1; seed <= 50; ++seed) {
    const StepRule& kind = kind_named("spring");
    const std::vector<double> unknowns{std::log(11.5), std::log(0.62)};
    const auto match = match_step({recorded(kind, unknowns, 0.4, 0.24, seed)}, {kind});
    ASSERT_TRUE(match);
    EXPECT_NEAR(match->cleaning.noise, 0.24, 0.12);
    for (const auto& expected : kind.numbers(unknowns, 24.0)) {
      const Estimate& found = number(match->ranking.front(), std::string(expected.name));
      inside += found.low <= expected.value && expected.value <= found.high ? 1 : 0;
      ++all;
    }
  }
  // 95 of 100 on average, with a deviation of 2.2.
  EXPECT_GE(inside, 88);
  EXPECT_LE(inside, 100);
  EXPECT_EQ(all, 100);
}

TEST(Match, WithNoiseTheTrueRuleIsAmongThoseThatAreNamed) {
  int named = 0, all = 0;
  for (const Truth& truth : truths)
    for (std::uint64_t seed = 1; seed <= 2; ++seed, ++all) {
      const auto match = match_step({recorded(kind_named(truth.kind), truth.unknowns, 0.4, 0.24, seed)}, step_rules());
      ASSERT_TRUE(match);
      for (const MatchedRule& rule : match->ranking)
        if (rule.is_indistinct && rule.kind->name() == truth.kind) ++named;
    }
  EXPECT_GE(named, all - 1);
}

TEST(Match, RepeatedRowsAndOutliersAreLeftOut) {
  const StepRule& kind = kind_named("spring");
  RecordedMove move = recorded(kind, {std::log(11.5), std::log(0.62)}, 0.4, 0.02, 3);
  for (const std::size_t row : {28u, 33u}) move.values[row] = move.values[row - 1];
  for (const std::size_t row : {50u, 80u, 100u}) move.values[row] += 9.0;
  const auto match = match_step({move}, {kind});
  ASSERT_TRUE(match);
  EXPECT_EQ(match->cleaning.repeated, 2u);
  EXPECT_EQ(match->cleaning.outliers, 3u);
  EXPECT_NEAR(number(match->ranking.front(), "damping_ratio").value, 0.62, 0.01);
}

/// A move of 100 digits, as a capture of 30 rounded rows a second with three wrong ones tells it.
RecordedMove rounded_with_wrong_rows(const StepRule& kind, const std::vector<double>& unknowns, std::uint64_t seed) {
  Random random(seed);
  RecordedMove move;
  for (int k = 0; k < 60; ++k) {
    move.times.push_back((k + 0.37) / 30.0);
    move.values.push_back(std::round(10.0 * (62.0 - 10.0 * kind.value(unknowns, move.times.back() - 0.5))) / 10.0);
  }
  for (int wrong = 0; wrong < 3; ++wrong) {
    double& value = move.values[static_cast<std::size_t>(60.0 * random.share())];
    value = std::round(10.0 * (value + (random.share() < 0.5 ? -1.0 : 1.0) * (2.0 + 8.0 * random.share()))) / 10.0;
  }
  return move;
}

TEST(Match, AFewWrongRowsDoNotBendTheRule) {
  const std::vector<Truth> kinds{{"glide", {std::log(9.0)}},
                                 {"spring", {std::log(16.0), std::log(0.62)}},
                                 {"spring", {std::log(12.0), std::log(1.1)}},
                                 {"ease in-out power 4", {std::log(0.4)}}};
  for (const Truth& truth : kinds)
    for (std::uint64_t seed = 1; seed <= 3; ++seed) {
      const StepRule& kind = kind_named(truth.kind);
      const RecordedMove move = rounded_with_wrong_rows(kind, truth.unknowns, seed);
      const auto match = match_step({move}, step_rules());
      ASSERT_TRUE(match);
      EXPECT_TRUE(match->is_explained) << truth.kind << " " << seed;
      const auto found = std::find_if(match->ranking.begin(), match->ranking.end(),
                                      [&](const MatchedRule& rule) { return rule.kind->name() == truth.kind; });
      ASSERT_NE(found, match->ranking.end());
      for (std::size_t k = 0; k < truth.unknowns.size(); ++k)
        EXPECT_NEAR(found->unknowns[k], truth.unknowns[k], 0.05) << truth.kind << " " << seed;
    }
}

TEST(Match, ADelayIsFoundWhereItIsKnownWhenTheGoalJumped) {
  const std::vector<StepRule> kinds{kind_named("glide"), kind_named("spring"), kind_named("ease in-out sine")};
  for (const StepRule& kind : kinds) {
    const std::vector<double> unknowns = kind.name() == "spring"  ? std::vector<double>{std::log(12.0), std::log(0.6)}
                                         : kind.name() == "glide" ? std::vector<double>{std::log(6.0)}
                                                                  : std::vector<double>{std::log(0.6)};
    for (std::uint64_t seed = 1; seed <= 10; ++seed) {
      RecordedMove move = recorded(kind, unknowns, 0.5, 0.24, seed);
      move.start = 0.5 - 0.12;
      const auto late = match_step({move}, kinds);
      ASSERT_TRUE(late && late->ranking.front().delay) << kind.name() << " " << seed;
      const MatchedRule& rule = late->ranking.front();
      EXPECT_NEAR(*rule.delay, 0.12, 0.02) << kind.name() << " " << seed;
      EXPECT_EQ(number(rule, "delay").value, *rule.delay);
      EXPECT_TRUE(rule.motion(4).starts_with(R"({ kind = "stages", stages = [{ kind = "delay", delay = )"));
      // What sets off at once has none.
      move.start = 0.5;
      const auto at_once = match_step({move}, kinds);
      ASSERT_TRUE(at_once) << kind.name() << " " << seed;
      EXPECT_EQ(at_once->ranking.front().kind->name(), kind.name()) << seed;
      EXPECT_FALSE(at_once->ranking.front().delay) << kind.name() << " " << seed;
    }
  }
}

TEST(Match, TheFitOfTwoNumbersIsNotTheWrongHollow) {
  // Noise had put both of the best two starts of this one where a spring of 62 Hz ends.
  const StepRule& kind = kind_named("spring");
  const std::vector<StepRule> only{kind};
  for (std::uint64_t seed = 1; seed <= 60; ++seed) {
    const RecordedMove move =
        recorded(kind, {std::log(16.4), std::log(0.54)}, 0.4 + 0.003 * static_cast<double>(seed), 0.24, seed);
    const auto match = match_step({move}, only);
    ASSERT_TRUE(match);
    EXPECT_NEAR(match->ranking.front().unknowns[0], std::log(16.4), 0.1) << seed;
  }
}

TEST(Match, ThePictureScaleIsToldFromDegrees) {
  const StepRule& kind = kind_named("glide");
  const SpaceMap zoom{Space::zoom, 3.14159265358979 / 180.0, 360.0};
  RecordedMove linear = recorded(kind, {std::log(5.0)}, 0.4, 0.0, 1), in_zoom = linear;
  in_zoom.space = zoom;
  const double a = to_space(zoom, 80.0), b = to_space(zoom, 20.0);
  for (std::size_t k = 0; k < linear.times.size(); ++k)
    linear.values[k] = in_zoom.values[k] =
        from_space(zoom, a + (b - a) * kind.value(std::vector<double>{std::log(5.0)}, linear.times[k] - 0.4));
  const auto match = match_step({linear, in_zoom}, {kind});
  ASSERT_TRUE(match);
  EXPECT_EQ(match->ranking.front().space, Space::zoom);
  EXPECT_NEAR(match->ranking.front().numbers[0].value, std::log(2.0) / 5.0, 1e-6);
}

TEST(Match, OneAndTheSamePathIsSaid) {
  EXPECT_NE(kind_named("spring").same_path_as(std::vector<double>{2.0, std::log(1.5)}).find("two glides"),
            std::string::npos);
  EXPECT_EQ(kind_named("spring").same_path_as(std::vector<double>{2.0, std::log(0.5)}), "");
  EXPECT_NE(kind_named("pace").same_path_as(std::vector<double>{0.0, -12.0}).find("linear"), std::string::npos);
}

TEST(Match, WhatSaysLittleIsSaid) {
  const StepRule& glide = kind_named("glide");
  RecordedMove noise, jump, ramp;
  Random random(4);
  for (int k = 0; k < 150; ++k) {
    for (RecordedMove* one : {&noise, &jump, &ramp}) one->times.push_back(k / 60.0);
    noise.values.push_back(normal(random));
    jump.values.push_back(k < 60 ? 0.0 : 1.0);
    ramp.values.push_back(0.1 * k);
  }
  for (const auto& [move, trouble] :
       {std::pair{&noise, MatchTrouble::no_move}, {&jump, MatchTrouble::jump}, {&ramp, MatchTrouble::unfinished}}) {
    const auto match = match_step({*move}, {glide, kind_named("ease out sine")});
    ASSERT_TRUE(match);
    EXPECT_EQ(match->trouble, trouble);
    EXPECT_FALSE(match->is_explained);
  }
  const auto whole = match_step({recorded(glide, {std::log(5.0)}, 0.4, 0.2, 3)}, {glide});
  EXPECT_EQ(whole->trouble, MatchTrouble::none);
}

TEST(Match, ALongRecordingIsThinned) {
  const StepRule& glide = kind_named("glide");
  RecordedMove move;
  for (int k = 0; k < 30000; ++k) {
    move.times.push_back(k / 1000.0);
    move.values.push_back(glide.value(std::vector<double>{std::log(0.7)}, k / 1000.0 - 4.0));
  }
  const auto match = match_step({move}, {glide});
  ASSERT_TRUE(match);
  EXPECT_EQ(match->stride, 15u);
  EXPECT_NEAR(match->ranking.front().numbers[0].value, std::log(2.0) / 0.7, 1e-6);
}

TEST(Match, ALookAtFewRowsGivesUpWhatIsNoMoveOnly) {
  Random random(11);
  const auto long_move = [&](const auto& value) {
    RecordedMove move;
    for (int k = 0; k <= 600; ++k) {
      move.times.push_back(k / 300.0);
      const double wrong = random.share() < 0.05 ? 20.0 * (random.share() - 0.5) : 0.0;
      move.values.push_back(value(k / 300.0) + 0.05 * normal(random) + wrong);
    }
    return move;
  };
  for (const Truth& truth : truths) {
    const StepRule& kind = kind_named(truth.kind);
    const RecordedMove move = long_move([&](double t) { return 62.0 - 24.0 * kind.value(truth.unknowns, t - 0.3); });
    EXPECT_TRUE(may_be_explained(move, step_rules(), 0.0)) << truth.kind;
  }
  const RecordedMove wander =
      long_move([](double t) { return 5.0 * std::sin(9.0 * t) + 3.0 * std::cos(31.0 * t * t); });
  EXPECT_FALSE(may_be_explained(wander, step_rules(), 0.1));
  EXPECT_TRUE(may_be_explained(wander, step_rules(), 10.0)) << "as near as is asked";
}

TEST(Match, ARecordingWithoutAMoveHasNone) {
  RecordedMove still;
  for (int k = 0; k < 50; ++k) {
    still.times.push_back(k / 60.0);
    still.values.push_back(5.0);
  }
  EXPECT_FALSE(match_step({still}, step_rules()));
  EXPECT_FALSE(match_step({{{0.0, 0.1, 0.2}, {1.0, 2.0, 3.0}, {}, {}, {}, {}}}, step_rules()));
}

// Where a search begins is chosen by tables: they are the steps themselves, nearly.
TEST(Match, TablesOfStartsAreTheSteps) {
  for (const StepRule& rule : step_rules()) {
    ASSERT_FALSE(rule.start_shapes().empty()) << rule.name();
    for (const double size : rule.start_sizes(0.05, 3.0))
      for (const StartShape& shape : rule.start_shapes()) {
        std::vector<double> unknowns{size};
        unknowns.insert(unknowns.end(), shape.rest().begin(), shape.rest().end());
        ASSERT_EQ(unknowns.size(), rule.unknowns()) << rule.name();
        for (const double since : {-0.5, 0.0, 0.01, 0.3, 1.1, 2.9})
          EXPECT_NEAR(shape.about(rule.quickness(size), since), rule.value(unknowns, since), 0.06)
              << rule.name() << " " << size << " " << since;
      }
  }
}

// A pace has a number more than an eased move: that it fits no better does not say that it is none.
TEST(Match, APaceThatFitsAsWellAsAnEaseIsNamed) {
  const StepRule& pace = kind_named("pace");
  int named = 0;
  constexpr int captures = 25;
  for (std::uint64_t seed = 1; seed <= captures; ++seed) {
    const auto match = match_step({recorded(pace, {std::log(0.8), 0.45}, 0.41, 0.24, seed)}, step_rules());
    ASSERT_TRUE(match);
    EXPECT_TRUE(match->is_explained) << seed;
    for (const MatchedRule& rule : match->ranking) named += rule.kind == &pace && rule.is_indistinct ? 1 : 0;
  }
  EXPECT_GE(named, captures - 1);
}

} // namespace
} // namespace stasis
