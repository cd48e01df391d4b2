// Programs whose values are short numbers: what stays long, and that every mixture says so.
#include <regex>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "code/lower_feel.hpp"
#include "code/printer.hpp"
#include "code/read_program.hpp"
#include "code/single_precision.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis::code {
namespace {

const char* const clockwork = R"(
/// s
constant real SOFT_TIME = 0.5;
constant real SIZE = 3.0;
record State { real time; real value; real home; whole count; }
real longest_wait() { return SOFT_TIME; }
real eased(real t) { return t * t * (3.0 - 2.0 * t); }
open act advance(changing State s, real dt) {
  s.time = s.time + dt;
  real share = min(1.0, s.time / longest_wait());
  real size = SIZE * real(s.count);
  real gap = 0.0;
  gap = size - s.value;
  if (abs(gap) <= near(1.0e-12, 1.0e-6) * size) { return; }
  s.value = s.value + gap * eased(share);
}
open real value_of_box(State s) { return s.value; }
)";

std::string printed_single(const std::unique_ptr<Printer>& printer, const char* text = clockwork) {
  return printer->print(in_single_precision(read_program(text)), {"p", {}});
}

TEST(SinglePrecision, TimeStaysLongAndValuesAreShort) {
  const std::string c = printed_single(c_printer());
  for (const char* text :
       {"double time;", "float value;", "static const double P_SOFT_TIME = 0.5;", "static const float P_SIZE = 3.0f;",
        "double dt)", "static inline float p_eased(double t)", "static inline double p_longest_wait(void)",
        "const double share = fmin(1.0, s->time / p_longest_wait());", "const float size = P_SIZE * (float)s->count;",
        "float gap = 0.0f;", "fabsf(gap) <= 1.0e-6f * size", "s->value = s->value + gap * p_eased(share);",
        "return (float)(t * t * (3.0 - 2.0 * t));", "float p_value_of_box(const p_state *s)"})
    EXPECT_NE(c.find(text), std::string::npos) << text << "\n" << c;
}

TEST(SinglePrecision, EveryMixtureSaysSo) {
  const char* const mixed = R"(
record State { real time; real value; }
open act go(changing State s, real dt) {
  s.value = s.value + dt;
  real later = s.time * s.value;
  s.time = choose(s.value > dt, s.value, later);
}
)";
  const std::string rust = printed_single(rust_printer(), mixed);
  for (const char* text :
       {"s.value = ((f64::from(s.value) + dt) as f32);", "let later: f64 = s.time * f64::from(s.value);",
        "if f64::from(s.value) > dt {\n        f64::from(s.value)\n    } else {\n        later\n    };"})
    EXPECT_NE(rust.find(text), std::string::npos) << text << "\n" << rust;
  const std::string csharp = printed_single(csharp_printer(), mixed);
  EXPECT_NE(csharp.find("s.Value = (float)((double)s.Value + dt);"), std::string::npos) << csharp;
}

/// A field that is called otherwise one day would turn short without a fault.
TEST(SinglePrecision, WhatStaysLongIsCalledSoInTheParts) {
  std::string all = "check_value"; // of checks
  for (std::uint64_t seed = 1; seed <= 60; ++seed) {
    const std::string text =
        test::FeelMaker(seed, {.tracks = true, .rules_of_frames = true, .switches = true, .sticks = true}).make().text;
    if (test::problems_of(text).empty()) all += lower(test::feel_from(text)).text; // not every text is a feel
  }
  for (const std::string_view name : names_kept_long())
    EXPECT_TRUE(std::regex_search(all, std::regex(fmt::format("\\b{}\\b", name)))) << name;
}

TEST(SinglePrecision, WithoutItANearLiteralIsTheLongOne) {
  const std::string c = c_printer()->print(read_program(clockwork), {"p", {}});
  EXPECT_NE(c.find("fabs(gap) <= 1.0e-12 * size"), std::string::npos) << c;
  EXPECT_EQ(c.find("float"), std::string::npos);
}

} // namespace
} // namespace stasis::code
