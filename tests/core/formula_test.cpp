// Formulas: what they are worth, what is wrong with them, and channels that are given by them.
#include <cmath>
#include <limits>

#include <gtest/gtest.h>

#include "core/formula/formula.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

tl::expected<std::size_t, std::string> xy(std::string_view name) {
  if (name == "x") return 0;
  if (name == "y") return 1;
  return tl::unexpected("unknown " + std::string(name));
}

double worth(std::string_view text, double x = 3.0, double y = -2.0) {
  const auto formula = Formula::parse(text, xy);
  EXPECT_TRUE(formula) << text << ": " << (formula ? "" : formula.error().message);
  const double variables[] = {x, y};
  return formula ? formula->evaluate(variables) : std::numeric_limits<double>::quiet_NaN();
}

TEST(Formula, OrdinaryAlgebra) {
  const std::pair<const char*, double> cases[] = {{"1 + 2 * 3", 7},
                                                  {"(1 + 2) * 3", 9},
                                                  {"2 ^ 3 ^ 2", 512},
                                                  {"-2 ^ 2", -4},
                                                  {"2 ^ -1", 0.5},
                                                  {"8 / 4 / 2", 1},
                                                  {"1 - 2 - 3", -4},
                                                  {"--x", 3},
                                                  {"x * y - 1", -7},
                                                  {" .5*x ", 1.5},
                                                  {"1e3", 1000},
                                                  {"pi", std::acos(-1.0)},
                                                  {"clamp(x, 0, 2)", 2},
                                                  {"clamp(y, 0, 2)", 0},
                                                  {"blend(1, 5, .25)", 2},
                                                  {"part(x, 1, 5)", 0.5},
                                                  {"part(y, 1, 5)", 0},
                                                  {"remap(x, 1, 5, 10, 20)", 15},
                                                  {"remap(9, 1, 5, 10, 20)", 20},
                                                  {"min(x, y)", -2},
                                                  {"max(x, y)", 3},
                                                  {"abs(y)", 2},
                                                  {"sqrt(x + 1)", 2},
                                                  {"exp(log(x))", 3},
                                                  {"sin(pi / 2) + cos(0)", 2},
                                                  {"atan(tan(0.5))", 0.5},
                                                  {"2.5 + 6 * part(x, 1.2, 9)", 2.5 + 6.0 * (3.0 - 1.2) / (9.0 - 1.2)}};
  for (const auto& [text, value] : cases) EXPECT_NEAR(worth(text), value, 1e-12) << text;
}

/// A random expression is worth what the same operations give.
TEST(Formula, LongChainsKeepTheirOrder) {
  std::string text = "x";
  double value = 3.0;
  for (int k = 1; k < 300; ++k) {
    text += k % 3 == 0 ? " - " : k % 3 == 1 ? " + " : " - 2 * ";
    text += std::to_string(k);
    value += k % 3 == 0 ? -k : k % 3 == 1 ? k : -2.0 * k;
  }
  EXPECT_EQ(worth(text), value);
}

TEST(Formula, FaultsSayWhere) {
  const auto fault = [](const std::string& text) {
    const auto formula = Formula::parse(text, xy);
    EXPECT_FALSE(formula) << text;
    return formula ? FormulaFault{} : formula.error();
  };
  EXPECT_EQ(fault("x + 1 / 0").at, 6u);
  EXPECT_EQ(fault("x + 1 / 0").message, "this divides by 0");
  EXPECT_EQ(fault("x / (2 - 2)").message, "this divides by 0");
  EXPECT_EQ(fault("x + (2 * y").at, 4u);
  EXPECT_EQ(fault("x + zz").at, 4u);
  EXPECT_EQ(fault("x +").message, "something is missing at the end");
  EXPECT_EQ(fault("x 2").at, 2u);
  EXPECT_EQ(fault("part(x, 1)").message, "part takes 3 arguments, found 2");
  EXPECT_NE(fault("prat(x, 1, 2)").hint.find("Did you mean part?"), std::string::npos);
  EXPECT_EQ(fault("x $ y").at, 2u);
  EXPECT_EQ(fault("").message, "something is missing at the end");
  EXPECT_EQ(fault("sqrt(-1)").message, "this does not give a number");
  EXPECT_EQ(fault(std::string(10'000, '1')).message, "a formula has at most 4000 characters");
  EXPECT_NE(fault(std::string(60, '(') + "x" + std::string(60, ')')).message.find("deeper than 50"), std::string::npos);
  std::string powers = "x";
  for (int k = 0; k < 200; ++k) powers += "^x";
  EXPECT_NE(fault(powers).message.find("deeper than 50"), std::string::npos);
  EXPECT_EQ(worth(std::string(45, '(') + "x" + std::string(45, ')')), 3.0);
}

const std::string two_channels =
    "[channel.d]\nrest = 4\nrange = [1, 9]\nmotion = { kind = \"glide\", half_life = 0.2 }\n[pose.p]\nd = 8\n"
    "[control.c]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2\ncues = [ { at = 0.5, press = \"c\" } ]\n";

// Rule F2.
TEST(FormulaChannel, ReadsTheSmoothedValueOfThisFrame) {
  const Feel feel = test::feel_from(two_channels + "[channel.a]\nrest = 0\nformula = \"2 * d + time\"\n");
  const auto d = test::play_rows(feel, 0), a = test::play_rows(feel, 1);
  for (std::size_t k = 0; k < a.time.size(); ++k) {
    EXPECT_NEAR(a.goal[k], 2.0 * d.smooth[k] + a.time[k], 1e-12) << k;
    EXPECT_NEAR(a.smooth[k], a.goal[k], 1e-12) << k; // a cut is its goal
  }
  EXPECT_EQ(a.smooth[0], 8.0); // it starts on its goal
}

TEST(FormulaChannel, MayStandBeforeWhatItReadsAndReadGoalsAndControls) {
  const Feel feel = test::feel_from("[channel.a]\nrest = 0\nformula = \"d.goal + 10 * c\"\n" + two_channels);
  const auto a = test::play_rows(feel, 0);
  EXPECT_EQ(a.goal[0], 4.0);
  EXPECT_EQ(a.goal[29], 4.0);
  EXPECT_EQ(a.goal[30], 18.0); // a control makes it jump
  EXPECT_EQ(a.smooth[30], 4.0);
  EXPECT_EQ(a.smooth[31], 18.0);
}

// Rule G1.
TEST(FormulaChannel, PosesTakeItOverAndGiveItBack) {
  const Feel feel = test::feel_from(
      two_channels
      + "[channel.a]\nrest = 0\nformula = \"d\"\n[pose.q]\na = { add = 100 }\n[control.q]\nkind = "
        "\"hold\"\npose = \"q\"\n[take.u]\nlength = 2\ncues = [ { at = 1, press = \"q\", for = 0.5 } ]\n");
  const auto rows = [&] {
    test::RowSink sink(1, 0);
    BlockSink* const sinks[] = {&sink};
    play(test::scene_of(feel, 1), sinks);
    return sink.rows;
  }();
  EXPECT_EQ(rows.goal[59], 4.0);
  EXPECT_EQ(rows.goal[60], 104.0);
  EXPECT_EQ(rows.goal[90], 4.0);
}

// Rule F2.
TEST(FormulaChannel, FaultsAreExplained) {
  const auto first = [](const std::string& text) {
    const Problems problems = test::problems_of(text);
    return problems.empty() ? Problem{} : problems[0];
  };
  const std::string a = "[channel.a]\nrest = 0\nformula = ";
  EXPECT_EQ(first(a + "\"1 / 0\"\n").code, "feel.formula");
  EXPECT_EQ(first(a + "\"2 * nobody\"\n").where.column, 16);
  EXPECT_NE(first(a + "\"2 * nobody\"\n").message.find("no channel and no control nobody"), std::string::npos);
  EXPECT_EQ(first(a + "\"a + 1\"\n").code, "feel.formula_cycle");
  EXPECT_NE(first(a + "\"b\"\n[channel.b]\nrest = 0\nformula = \"a.goal\"\n").message.find("a reads b reads a"),
            std::string::npos);
  EXPECT_EQ(first(a + "3\n").code, "feel.not_a_text");
  EXPECT_EQ(first("[channel.a]\nrest = [0, 1]\nformula = \"2\"\n").code, "feel.component_count");
  EXPECT_EQ(first(a + "\"time\"\nmotion = { kind = \"delay\", delay = 0.1 }\n").code, ""); // it may wait
  EXPECT_EQ(first(a + "\"time\"\n[control.p]\nkind = \"pointer\"\nchannel = \"a\"\ngain = 1\n").code,
            "feel.two_owners");
}

// Rule G1.
TEST(FormulaChannel, WhatIsNoNumberStaysWhereItWas) {
  const Feel feel = test::feel_from("[channel.a]\nrest = 0\nformula = \"1 / (time - 1)\"\n[take.t]\nlength = 2\n");
  const auto rows = test::play_rows(feel);
  for (const double goal : rows.goal) EXPECT_TRUE(std::isfinite(goal));
  EXPECT_EQ(rows.goal[60], rows.goal[59]);
  const auto measures = test::play_measures(feel);
  EXPECT_NE(measures.notes[0].find("gave no number"), std::string::npos);
}

} // namespace
} // namespace stasis
