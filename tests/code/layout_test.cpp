// Lines of source code, laid out as the formatters of their languages do: each example was formatted by them.
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include "code/layout.hpp"
#include "code/line_tokens.hpp"
#include "code/line_tree.hpp"

namespace stasis::code {
namespace {

using Rows = std::vector<std::string>;
using Layout = std::vector<std::string> (*)(std::string_view, std::size_t);

/// The signs of rows without what a layout may add: brackets around a whole, commas behind the last of a list.
std::string signs_of(const Rows& rows) {
  std::string out;
  for (const std::string& row : rows)
    for (const Token& token : tokens_of(row))
      if (token.text != "," && token.text != "(" && token.text != ")") out += token.text + " ";
  return out;
}

TEST(LineTokens, NumbersTextsAndSignsAreWhole) {
  std::vector<std::string> texts;
  for (const Token& one : tokens_of("x = 1.5e-12 * f64::MAX + a.b[3] != \"a, (b\" 0..5")) texts.push_back(one.text);
  EXPECT_EQ(texts, (Rows{"x", "=", "1.5e-12", "*", "f64", "::", "MAX", "+", "a", ".", "b", "[", "3", "]",
                         "!=", "\"a, (b\"", "0", "..", "5"}));
}

TEST(LineTree, AnExpressionIsReadBackAsItWasWritten) {
  for (const char* text :
       {"a + b * c - d", "(a + b) * c", "f(a, g(b), c[3 * w + 1].d)", "-a.b(c).d", "a ? b : c ? d : e",
        "if a < b { c } else { d }", "(x as f64).max(2.0)", "[1.0, -2.0]", "[0.0; 7]", "!(a && b) || c"}) {
    const std::vector<Token> tokens = tokens_of(text);
    const auto tree = line_tree(tokens, 0, tokens.size());
    ASSERT_TRUE(tree) << text;
    EXPECT_EQ(on_one_line(*tree), text);
  }
  for (const char* text : {"a +", "f(a", "a b", "println!(a)", ""}) {
    const std::vector<Token> tokens = tokens_of(text);
    EXPECT_FALSE(line_tree(tokens, 0, tokens.size())) << text;
  }
}

TEST(Layout, AShortLineStaysAsItIs) {
  EXPECT_EQ(python_layout("x = f(a, b)", 4), Rows{"x = f(a, b)"});
  EXPECT_EQ(rust_layout("let x: f64 = f(a, b);", 4), Rows{"let x: f64 = f(a, b);"});
  EXPECT_EQ(javascript_layout("const x = f(a, b);", 2), Rows{"const x = f(a, b);"});
  EXPECT_EQ(c_layout("const double x = f(a, b);", 2), Rows{"const double x = f(a, b);"});
}

TEST(Layout, NothingIsLostAndNoRowIsTooWide) {
  const struct {
    Layout layout;
    std::size_t widest;
    const char *begin, *end;
  } all[] = {{python_layout, 88, "value = ", ""},
             {rust_layout, 100, "let value: f64 = ", ";"},
             {javascript_layout, 80, "const value = ", ";"},
             {c_layout, 80, "const double value = ", ";"}};
  for (const char* expression :
       {"first_of_all + second_of_all * (third_of_all - fourth_of_all) - fifth_of_all / sixth_of_all + seventh_of_all",
        "some_function(first_of_all, second_of_all, some_other(third_of_all, fourth_of_all), fifth_of_all, "
        "sixth_of_all)",
        "(first_of_all - second_of_all) * third_of_all[3 * fourth_of_all + 1] * (fifth_of_all + sixth_of_all * "
        "seventh)",
        "some_function(some_other(first_of_all + second_of_all, third_of_all * fourth_of_all - fifth_of_all), "
        "sixth_of)"})
    for (const auto& [layout, widest, begin, end] : all)
      for (const std::size_t indent : {0u, 4u, 12u}) {
        const std::string line = begin + std::string(expression) + end;
        const Rows rows = layout(line, indent);
        EXPECT_GT(rows.size(), 1u) << line;
        EXPECT_EQ(signs_of(rows), signs_of({line}));
        for (const std::string& row : rows) {
          EXPECT_LE(indent + row.size(), widest) << row;
          EXPECT_NE(row.back(), ' ') << row;
        }
      }
}

TEST(Layout, OfPython) {
  EXPECT_EQ(python_layout("count = (1 if made_once else legs)", 4), Rows{"count = 1 if made_once else legs"});
  EXPECT_EQ(
      python_layout("m.speed = stop_speed if last == 1.0 else start_speed + (stop_speed - start_speed) * last", 8),
      (Rows{"m.speed = (", "    stop_speed", "    if last == 1.0",
            "    else start_speed + (stop_speed - start_speed) * last", ")"}));
  EXPECT_EQ(python_layout(
                "def carry(m: Mover, gap: float, duration: float, slope: float, brake: float, low: float) -> None:", 0),
            (Rows{"def carry(", "    m: Mover, gap: float, duration: float, slope: float, brake: float, low: float",
                  ") -> None:"}));
  EXPECT_EQ(python_layout(
                "return first * (leg_speed + 0.5 * phase_push * first) + (t - first) * (leg_speed + push * first)", 4),
            (Rows{"return first * (leg_speed + 0.5 * phase_push * first) + (t - first) * (",
                  "    leg_speed + push * first", ")"}));
}

TEST(Layout, OfRust) {
  EXPECT_EQ(rust_layout("m.mix = if steep || r >= 3.0 * (1.0 - 1.0e-12) { 1.0 } else { r / 3.0 };", 8),
            (Rows{"m.mix = if steep || r >= 3.0 * (1.0 - 1.0e-12) {", "    1.0", "} else {", "    r / 3.0", "};"}));
  EXPECT_EQ(rust_layout("plan_way(m, 0, goal - m.value, finite(m.speed), top_speed, top_speed, acceleration);", 4),
            (Rows{"plan_way(", "    m,", "    0,", "    goal - m.value,", "    finite(m.speed),", "    top_speed,",
                  "    top_speed,", "    acceleration,", ");"}));
  EXPECT_EQ(rust_layout("return (1.0e6_f64.min(place) - 1.0e-9 * 1.0_f64.max(place.abs())).ceil().floor() as i32;", 4),
            (Rows{"return (1.0e6_f64.min(place) - 1.0e-9 * 1.0_f64.max(place.abs()))", "    .ceil()",
                  "    .floor() as i32;"}));
  EXPECT_EQ(
      rust_layout("if time - m.line_time[(n - 1) as usize] <= 1.0e-12 && m.line_goal[(n - 1) as usize] == goal {", 8),
      (Rows{"if time - m.line_time[(n - 1) as usize] <= 1.0e-12 && m.line_goal[(n - 1) as usize] == goal", "{"}));
}

TEST(Layout, OfJavaScript) {
  EXPECT_EQ(javascript_layout("const x = (a * b) / c + (d % e) - (f && g);", 2),
            Rows{"const x = (a * b) / c + (d % e) - (f && g);"});
  EXPECT_EQ(javascript_layout("s.turnsYaw = !heldNow && !touchedNow && s.time >= s.lastTouchYaw + 1.5 - 1.0e-9;", 2),
            (Rows{"s.turnsYaw =", "  !heldNow && !touchedNow && s.time >= s.lastTouchYaw + 1.5 - 1.0e-9;"}));
  EXPECT_EQ(
      javascript_layout("if (firstOfAll < secondOfAll && thirdOfAll !== fourthOfAll && fifthOfAll > sixthOfAll) {", 2),
      (Rows{"if (", "  firstOfAll < secondOfAll &&", "  thirdOfAll !== fourthOfAll &&", "  fifthOfAll > sixthOfAll",
            ") {"}));
  EXPECT_EQ(
      javascript_layout("return firstOfAll * secondOfAll + thirdOfAll * fourthOfAll + fifthOfAll * sixthOfAll;", 2),
      (Rows{"return (", "  firstOfAll * secondOfAll +", "  thirdOfAll * fourthOfAll +", "  fifthOfAll * sixthOfAll",
            ");"}));
}

TEST(Layout, OfC) {
  EXPECT_EQ(
      c_layout("static inline void carry_speed(mover *m, double gap, double duration, double slope, double brake) {",
               0),
      (Rows{"static inline void carry_speed(mover *m, double gap, double duration,",
            "                               double slope, double brake) {"}));
  EXPECT_EQ(
      c_layout(
          "return c == VALUE_FOV || c == VALUE_DISTANCE || c == VALUE_FOCUS_X || c == VALUE_FOCUS_Y || c == VALUE_Z;",
          4),
      (Rows{"return c == VALUE_FOV || c == VALUE_DISTANCE || c == VALUE_FOCUS_X ||",
            "       c == VALUE_FOCUS_Y || c == VALUE_Z;"}));
  EXPECT_EQ(c_layout("sum = sum + (in_space(c, goal_in_pose(state, state->contender_pose[k], component)) - home);", 8),
            (Rows{"sum = sum + (in_space(c, goal_in_pose(state, state->contender_pose[k],",
                  "                                      component)) -", "             home);"}));
}

TEST(Layout, AFileOfCHasShortFunctionsOnARowAndItsNotesInOneColumn) {
  EXPECT_EQ(
      c_file_layout("static inline int f(void) {\n  return 3;\n}\nint a; /* one */\nint longer; /* two */\n\nint b; /* "
                    "three */\n",
                    "/*"),
      "static inline int f(void) { return 3; }\nint a;      /* one */\nint longer; /* two */\n\nint b; /* three */\n");
}

} // namespace
} // namespace stasis::code
