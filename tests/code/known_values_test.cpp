// What is the same wherever a program is asked for it is no longer asked.
#include <gtest/gtest.h>

#include "code/printer.hpp"
#include "code/read_program.hpp"

namespace stasis::code {
namespace {

std::string program_in_c(const std::string& text) { return c_printer()->print(read_program(text), {"p", {}}); }
bool has(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

TEST(KnownValues, AParameterThatAllGiveAlikeGoes) {
  const std::string twice = "real f(real a, real b) { return a * b + b; }\n";
  const std::string alike = program_in_c(twice + "open real g(real x) { return f(x, 1.0) + f(2.0 * x, 1.0); }");
  EXPECT_TRUE(has(alike, "p_f(double a)")) << alike;
  const std::string other = program_in_c(twice + "open real g(real x) { return f(x, 1.0) + f(2.0 * x, 0.0); }");
  EXPECT_TRUE(has(other, "p_f(double a, double b)")) << other;
  // A number that means something keeps its name.
  EXPECT_TRUE(has(program_in_c(twice + "open real g(real x) { return f(x, 0.3); }"), "p_f(double a, double b)"));
}

TEST(KnownValues, AnOpenFunctionKeepsItsParameters) {
  const std::string text =
      program_in_c("open real f(real a, real b) { return a * b; }\nopen real g() { return f(3.0, 1.0); }");
  EXPECT_TRUE(has(text, "p_f(double a, double b)")) << text;
}

TEST(KnownValues, AParameterThatIsWrittenToStays) {
  const std::string text = program_in_c(
      "real f(real a, whole n) { while (n < 5) { n = n + 1; } return a * real(n); }\nopen real g(real x) { return "
      "f(x, 0) + f(x, 0); }");
  EXPECT_TRUE(has(text, "int n")) << text;
}

TEST(KnownValues, WhatConstantsNumberIsToldApart) {
  const std::string rules = "constant whole FIRST = 1;\nconstant whole LAST = 2;\n";
  const std::string choice =
      "real f(real a, whole rule) { if (rule == FIRST) { return a; } return sqrt(a); }\nopen real g(real x) { return ";
  const std::string last = program_in_c(rules + choice + "f(x, LAST); }");
  EXPECT_FALSE(has(last, "FIRST")) << last;
  EXPECT_FALSE(has(last, "if (")) << last;
  const std::string both = program_in_c(rules + choice + "f(x, LAST) + f(x, FIRST); }");
  EXPECT_TRUE(has(both, "if (")) << both;
  // A designer's number is never counted on: it may be changed in the file.
  const std::string tuned =
      program_in_c("constant real LENGTH = 0.0;\nopen real g(real x) { if (LENGTH > 0.0) { return x; } return "
                   "sqrt(x); }");
  EXPECT_TRUE(has(tuned, "if (")) << tuned;
}

TEST(KnownValues, AFieldToWhichNothingElseIsWrittenGoes) {
  const std::string state = "record S { real value; flag turned; }\nopen act begin(changing S s) { s.value = 2.0; "
                            "s.turned = false; }\nopen real get(S s) { return choose(s.turned, -s.value, s.value); }\n";
  const std::string never = program_in_c(state);
  EXPECT_FALSE(has(never, "turned")) << never;
  const std::string sometimes = program_in_c(state + "open act turn(changing S s) { s.turned = true; }");
  EXPECT_TRUE(has(sometimes, "bool turned")) << sometimes;
}

TEST(KnownValues, NothingIsSaidOfWhatIsGone) {
  const std::string text =
      "/// A sum. `a`: the first; `b`, `c`: the others; `d`: how often.\nreal f(real a, real b, real c, real d) "
      "{ return (a + b + c) * d; }\nopen real g(real x) { return f(x, ";
  const auto said = [&](const std::string& rest) {
    const std::string all = program_in_c(text + rest + "); }");
    const std::size_t from = all.find("/* A sum.");
    return all.substr(from, all.find("*/", from) + 2 - from);
  };
  EXPECT_EQ(said("x, x, x"), "/* A sum. `a`: the first; `b`, `c`: the others; `d`: how often. */");
  EXPECT_EQ(said("x, x, 1.0"), "/* A sum. `a`: the first; `b`, `c`: the others. */");
  EXPECT_EQ(said("0.0, x, 1.0"), "/* A sum. `a`: the first; `b`, `c`: the others. */");
  EXPECT_EQ(said("0.0, 0.0, x"), "/* A sum. `a`: the first; `d`: how often. */");
}

TEST(KnownValues, VariablesThatOnlyServeThemselvesGo) {
  const std::string text = program_in_c("whole rank(whole k) { return 3 * k; }\nopen whole f(whole n) { whole best = "
                                        "100; whole count = 0; whole last = 0; "
                                        "for k = 0 below n { count = count + 1; whole r = rank(k); if (r < best) { "
                                        "best = r; } last = k; } return last; }");
  for (const char* gone : {"best", "count", "rank", "int r "}) EXPECT_FALSE(has(text, gone)) << gone << text;
  EXPECT_TRUE(has(text, "last = k;")) << text;
}

TEST(KnownValues, WhatChangesSomethingElseStays) {
  const std::string text = program_in_c(
      "record S { real value; }\nreal take(changing S s) { s.value = s.value + 1.0; return s.value; }\nopen act "
      "f(changing S s) { real unread = take(s); }\nopen real get(S s) { return s.value; }");
  EXPECT_TRUE(has(text, "p_take(s)")) << text;
}

TEST(KnownValues, AnAnswerThatIsKnownIsNotLookedUp) {
  const std::string text = program_in_c("constant whole A = 0;\nconstant whole B = 1;\nconstant real LOW_A = "
                                        "2.5;\nreal low(whole c) { if (c == A) { return "
                                        "LOW_A; } if (c == B) { return 7.5; } return 0.5; }\nopen real f() { return "
                                        "low(A) + low(B) + low(4); }\nopen real "
                                        "g(whole c) { return low(c); }");
  EXPECT_TRUE(has(text, "P_LOW_A + 7.5 + 0.5")) << text;
  EXPECT_TRUE(has(text, "p_low(c)")) << text;
}

TEST(KnownValues, AVariableThatStaysIsItsNumber) {
  EXPECT_FALSE(
      has(program_in_c("open real f(real a) { real slack = 0.0; return choose(a <= slack, 1.0, a); }"), "slack"));
  EXPECT_TRUE(has(program_in_c("open real f(real a) { real sum = 0.0; sum = sum + a; return sum; }"), "sum"));
  EXPECT_TRUE(
      has(program_in_c("open real f(real a) { whole k = 0; for n = 0 below 3 { if (a > real(n)) { k = n; } } return "
                       "real(k); }"),
          "int k"));
}

TEST(KnownValues, ACallOfTheSameNumberBothWaysIsThatNumber) {
  EXPECT_FALSE(has(program_in_c("open whole f(flag a) { return choose(a, 1, 1); }"), "?"));
  const std::string alike =
      program_in_c("constant real REST = 4.0;\nopen real f(whole c) { if (c == 1) { return REST; } return "
                   "REST; }");
  EXPECT_FALSE(has(alike, "if (")) << alike;
  EXPECT_TRUE(
      has(program_in_c("constant real REST = 4.0;\nopen real f(whole c) { if (c == 1) { return REST; } return 5.0; }"),
          "if ("));
}

} // namespace
} // namespace stasis::code
