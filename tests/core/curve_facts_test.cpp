// The words about a curve, against facts computed from its rows alone.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "core/curve/curve.hpp"
#include "core/curve/curve_facts.hpp"

namespace stasis {
namespace {

struct Plain {
  double half, fastest, fastest_at, over, under;
};

TEST(Corners, OfABounceLieInBothHalvesWhereItGoesInAndOut) {
  const auto corners = [](const char* words) {
    const Curve curve = *parse_curve(words);
    std::vector<double> found;
    for (double at = next_corner(curve, 0.0); at < 1.0; at = next_corner(curve, at)) found.push_back(at);
    return found;
  };
  const auto expect = [&](const char* words, const std::vector<double>& elevenths) {
    const auto found = corners(words);
    ASSERT_EQ(found.size(), elevenths.size()) << words;
    for (std::size_t k = 0; k < found.size(); ++k) EXPECT_NEAR(found[k], elevenths[k] / 11.0, 1e-15) << words;
  };
  expect("out bounce", {4, 8, 10});
  expect("in bounce", {1, 3, 7});
  expect("in-out bounce", {0.5, 1.5, 3.5, 5.5, 7.5, 9.5, 10.5});
  expect("in-out power 3", {5.5});
}

/// The same facts by a dense scan.
Plain scanned(const Curve& curve) {
  Plain out{evaluate(curve, 0.5).value, 0, 0, 0, 0};
  constexpr int looks = 200'000;
  double before = evaluate(curve, 0.0).value;
  for (int i = 1; i <= looks; ++i) {
    const double t = static_cast<double>(i) / looks, now = evaluate(curve, t).value;
    const double speed = std::fabs(now - before) * looks;
    if (speed > out.fastest * (1 + 1e-6)) out.fastest = speed, out.fastest_at = t;
    out.over = std::max(out.over, now - 1);
    out.under = std::max(out.under, -now);
    before = now;
  }
  return out;
}

TEST(CurveFacts, AgreeWithADenseScan) {
  for (const char* text :
       {"linear", "ease", "ease-in-out", "in sine", "out power 3", "in-out back 1.7", "out elastic", "in bounce",
        "in-out exp", "cubic-bezier(0.5,1.7,0.5,-0.7)", "linear(0, 0.8 30%, 1.2, 1)", "out back 3", "in elastic 5"}) {
    const Curve curve = *parse_curve(text);
    const CurveFacts facts = facts_of(curve);
    const Plain plain = scanned(curve);
    EXPECT_EQ(facts.half_time_share, plain.half) << text;
    EXPECT_NEAR(facts.fastest_speed, plain.fastest, 2e-3 * plain.fastest) << text;
    EXPECT_NEAR(facts.overshoot, plain.over, 1e-8) << text;
    EXPECT_NEAR(facts.undershoot, plain.under, 1e-8) << text;
  }
}

struct Words {
  const char* text;
  std::vector<const char*> said, unsaid;
};

TEST(CurveFacts, WordsSayWhatIsTrue) {
  const Words cases[] = {
      {"linear", {"One speed throughout", "starts with a kick", "never overshoots", "50 % of the way"}, {"softly"}},
      {"in sine",
       {"Starts softly", "fastest at the end", "ends with a kick", "never overshoots", "29.3 % of the way"},
       {}},
      {"out sine", {"Starts with a kick, 1.57 times", "fastest at the start", "ends softly", "70.7 %"}, {}},
      {"in-out sine",
       {"Starts softly", "fastest at half time", "ends softly", "50 %", "the same from both ends"},
       {"kick"}},
      {"ease", {"Starts with a kick, 0.400 times", "ends softly", "80.2 %"}, {"same from both ends"}},
      {"out power 3", {"Starts with a kick, 3.00 times", "ends softly", "87.5 %"}, {}},
      {"in power 3", {"Starts softly", "ends with a kick, stopping dead from 3.00 times", "12.5 %"}, {}},
      {"out back", {"ends softly", "overshoots by 10 %", "turns back once"}, {}},
      {"in back", {"drawing back first", "10 % below its start"}, {"overshoots by"}},
      {"out elastic", {"overshoots by 37.3 %", "turns back 7 times"}, {}},
      {"out bounce", {"3 corners", "never overshoots", "Starts softly"}, {}},
      {"in circle", {"a speed without bound"}, {}},
      {"steps(4)", {"Moves in 4 jumps", "25 % of the way"}, {"fastest"}},
      {"step-end", {"Jumps the whole way in one, at the end"}, {}},
      {"linear(0, 0.8)", {"stays at 80 % of the way"}, {}},
      {"linear(0.2, 1)", {"Jumps at once to 20 %"}, {}},
  };
  for (const Words& one : cases) {
    const std::string words = in_words(facts_of(*parse_curve(one.text)));
    for (const char* said : one.said)
      EXPECT_NE(words.find(said), std::string::npos) << one.text << ": " << words << " lacks " << said;
    for (const char* unsaid : one.unsaid) EXPECT_EQ(words.find(unsaid), std::string::npos) << one.text << ": " << words;
  }
}

TEST(CurveFacts, ACountOfStepsIsOneOfJumps) {
  for (const int count : {2, 3, 29, 49, 98, 99, 1000, 8'888}) {
    const CurveFacts facts = facts_of(*parse_curve("steps(" + std::to_string(count) + ")"));
    EXPECT_EQ(facts.jumps, count);
    EXPECT_NEAR(facts.largest_jump, 1.0 / count, 1e-9) << count;
  }
}

} // namespace
} // namespace stasis
