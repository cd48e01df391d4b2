// The small language in which feels are lowered: what it reads, what it refuses, what it leaves out.
#include <gtest/gtest.h>

#include "code/printer.hpp"
#include "code/read_program.hpp"

namespace stasis::code {
namespace {

/// A program in one language, without what stands before its functions.
std::string in_c(const std::string& text) {
  const std::string all = c_printer()->print(read_program(text), {"p", {}});
  const std::size_t at = all.find("static inline");
  return at == std::string::npos ? std::string() : all.substr(at);
}

std::string fault_of(const std::string& text) {
  try {
    read_program(text);
  } catch (const std::logic_error& fault) {
    return fault.what();
  }
  return "";
}

TEST(ProgramText, BracketsStandWhereTheOrderNeedsThemAndNowhereElse) {
  const auto body = [](const std::string& expression) {
    const std::string text = in_c("open real f(real a, real b, real c) { return " + expression + "; }");
    const std::size_t from = text.find("return ") + 7;
    return text.substr(from, text.find(';') - from);
  };
  for (const char* same : {"a - (b - c)", "a - b - c", "(a + b) * c", "a + b * c", "a / (b * c)", "a / b * c",
                           "-(a + b)", "-a * b", "a * -b"})
    EXPECT_EQ(body(same), same);
  EXPECT_EQ(body("((a) + ((b)))"), "a + b");
}

TEST(ProgramText, MixedConditionsKeepTheirMeaningInEveryLanguage) {
  const Program program = read_program("open flag f(flag a, flag b, flag c) { return (a || b) && !(b && c); }");
  for (const auto& printer : printers()) {
    const std::string text = printer->print(program, {"p", {}});
    const bool by_words = printer->language() == "lua" || printer->language() == "python";
    EXPECT_NE(text.find(by_words ? "(a or b) and not (b and c)" : "(a || b) && !(b && c)"), std::string::npos)
        << printer->language() << text;
  }
}

TEST(ProgramText, AChoiceInLuaDecidesByItsWholeCondition) {
  const Program program = read_program("open real f(flag a, flag b) { return 2.0 * choose(a || b, 1.0, 3.0); }");
  EXPECT_NE(lua_printer()->print(program, {"p", {}}).find("2.0 * ((a or b) and 1.0 or 3.0)"), std::string::npos);
}

TEST(ProgramText, WhatIsNeverSoIsNotWritten) {
  const std::string text = in_c(R"(
constant real UNUSED = 3.0;
record State { real kept; real only_written; }
flag never() { return false; }
act idle(changing State s) { if (never()) { s.kept = 1.0; } }
real twice(real x, real ignored) { if (never() && x > 1.0) { return 0.0; } return 2.0 * x; }
open real f(changing State s, real x) {
  idle(s);
  s.only_written = x;
  real unread = x;
  unread = 2.0;
  if (never()) { return 5.0; } else { s.kept = s.kept + 1.0; }
  return twice(x, 7.0) + s.kept;
}
)");
  EXPECT_EQ(text, R"(static inline double p_twice(double x) { return 2.0 * x; }

static inline double p_f(p_state *s, double x) {
  s->kept = s->kept + 1.0;
  return p_twice(x) + s->kept;
}

#endif
)");
}

TEST(ProgramText, OpenFunctionsKeepTheirParameters) {
  EXPECT_NE(in_c("open real f(real unused) { return 1.0; }").find("p_f(double unused)"), std::string::npos);
}

TEST(ProgramText, FaultsAreSaidWithTheirLine) {
  EXPECT_NE(fault_of("\n\nopen real f() { return unknown; }").find("line 3"), std::string::npos);
  EXPECT_NE(fault_of("open real f() { return g(1.0); }").find("no function is called g"), std::string::npos);
  EXPECT_NE(fault_of("real g(real x) { return x; } open real f() { return g(); }").find("another number of values"),
            std::string::npos);
  EXPECT_NE(fault_of("real g(real x) { return x; } open real f() { return g(1); }").find("of another type"),
            std::string::npos);
  EXPECT_NE(fault_of("open real f(whole n) { return 1.0 + n; }").find("different types"), std::string::npos);
  EXPECT_EQ(fault_of("open real f(whole n) { return 1.0 + real(n); }"), "");
}

TEST(ProgramText, NoNameIsAWordThatALanguageKeeps) {
  for (const char* word : {"end", "from", "match", "base", "local", "lambda", "move", "double"})
    EXPECT_NE(fault_of(std::string("open real f(real ") + word + ") { return 1.0; }").find("keyword"),
              std::string::npos)
        << word;
}

TEST(ProgramText, ArraysCountFromOneInLuaAndByUnsignedNumbersInRust) {
  const Program program = read_program(
      "record State { real[3] list; } open real f(State s, whole n) { return s.list[0] + s.list[n + 1]; }");
  EXPECT_NE(lua_printer()->print(program, {"p", {}}).find("s.list[1] + s.list[n + 1 + 1]"), std::string::npos);
  EXPECT_NE(rust_printer()->print(program, {"p", {}}).find("s.list[0] + s.list[(n + 1) as usize]"), std::string::npos);
}

TEST(ProgramText, NumbersAloneSayTheirTypeInRustWhereAMethodIsCalled) {
  const Program program = read_program("open real f(real x) { return exp(-6.5) + sqrt(2.0 * 3.0) + exp(-6.5 * x); }");
  EXPECT_NE(rust_printer()
                ->print(program, {"p", {}})
                .find("(-6.5_f64).exp() + (2.0_f64 * 3.0_f64).sqrt() + (-6.5 * x).exp()"),
            std::string::npos)
      << rust_printer()->print(program, {"p", {}});
}

TEST(ProgramText, NamesAreWrittenAsTheLanguageWritesThem) {
  EXPECT_EQ(in_camel_case("value_of_fov", false), "valueOfFov");
  EXPECT_EQ(in_camel_case("value_of_fov", true), "ValueOfFov");
  EXPECT_EQ(in_capitals("value_of_fov2"), "VALUE_OF_FOV2");
}

} // namespace
} // namespace stasis::code
