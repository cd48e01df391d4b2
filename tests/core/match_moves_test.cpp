// Several moves of one recording by one rule.
#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

#include "core/random.hpp"
#include "core/recorded/match_moves.hpp"

namespace stasis::test {
namespace {

/// Glides to one goal after the other, each from rest.
struct GlideTo {
  double start, goal, half_life;
};
RecordedMove glides(const std::vector<GlideTo>& moves, double length, double noise) {
  stasis::Random random(21);
  RecordedMove out;
  for (int k = 0; k < static_cast<int>(60.0 * length); ++k) {
    const double t = k / 60.0;
    double value = 2.0;
    for (const GlideTo& move : moves)
      if (t > move.start) value = move.goal + (value - move.goal) * std::exp2(-(t - move.start) / move.half_life);
    out.times.push_back(t);
    out.values.push_back(value + noise * random.normal());
  }
  return out;
}

std::vector<StepRule> some_rules() {
  std::vector<StepRule> rules;
  for (const StepRule& rule : step_rules())
    if (rule.name() == "glide" || rule.name() == "spring" || rule.name() == "ease in-out sine") rules.push_back(rule);
  return rules;
}

TEST(MatchMoves, OneRuleForAllHasNarrowerIntervals) {
  const auto rules = some_rules();
  const std::vector<RecordedMove> recorded{
      glides({{0.5, 12, 0.1}, {2.5, 5, 0.1}, {4.5, 15, 0.1}, {6.5, 2, 0.1}}, 8.5, 0.08)};
  const auto found = match_moves(recorded, rules);
  ASSERT_TRUE(found);
  ASSERT_EQ(found->moves.size(), 4u);
  const JointRule& best = found->ranking.front();
  EXPECT_EQ(best.kind->name(), "glide");
  EXPECT_TRUE(best.agrees);
  EXPECT_TRUE(found->is_explained);
  EXPECT_TRUE(found->rising.empty());
  const Estimate& half_life = best.numbers.front();
  EXPECT_LE(half_life.low, 0.1);
  EXPECT_GE(half_life.high, 0.1);
  for (const MoveOfMany& move : found->moves) {
    const Estimate& own = move.rule.numbers.front();
    EXPECT_LT(half_life.high - half_life.low, own.high - own.low);
  }
  double sum = 0.0;
  for (const JointRule& rule : found->ranking) sum += rule.probability;
  EXPECT_NEAR(sum, 1.0, 1e-9);
}

double half_life_in(const std::string& motion) {
  const std::string head = "{ kind = \"glide\", half_life = ";
  EXPECT_EQ(motion.substr(0, head.size()), head);
  return std::stod(motion.substr(head.size()));
}

TEST(MatchMoves, RisingAndFallingMayDiffer) {
  const auto rules = some_rules();
  const auto found =
      match_moves({glides({{0.5, 12, 0.2}, {3.0, 2, 0.06}, {5.0, 12, 0.2}, {7.5, 2, 0.06}}, 9.5, 0.05)}, rules);
  ASSERT_TRUE(found);
  EXPECT_FALSE(found->ranking.front().agrees);
  EXPECT_NEAR(half_life_in(found->rising), 0.2, 0.005);
  EXPECT_NEAR(half_life_in(found->falling), 0.06, 0.003);
}

TEST(MatchMoves, MovesOfNoOneRuleAreSaidToDiffer) {
  const auto rules = some_rules();
  const auto found = match_moves({glides({{0.5, 12, 0.2}, {3.0, 22, 0.06}, {5.0, 32, 0.12}}, 7.0, 0.05)}, rules);
  ASSERT_TRUE(found);
  EXPECT_FALSE(found->ranking.front().agrees);
  EXPECT_TRUE(found->rising.empty());
}

TEST(MatchMoves, OneMoveIsNotSeveral) {
  const auto rules = some_rules();
  EXPECT_FALSE(match_moves({glides({{0.5, 12, 0.1}}, 3.0, 0.05)}, rules));
  EXPECT_FALSE(match_moves({glides({}, 3.0, 0.05)}, rules));
}

} // namespace
} // namespace stasis::test
