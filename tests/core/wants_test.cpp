// Wants: bounds on what is measured.
#include <gtest/gtest.h>

#include "core/check/wants.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

/// Whether the first want of a spring that settles in 0.35 s and overshoots by 3 % holds.
bool holds(const std::string& want) {
  const Feel feel =
      test::feel_from("[channel.a]\nrest = 0\nmotion = { kind = \"spring\", settling_time = 0.35, overshoot = 3 "
                      "}\n[pose.p]\na = 1\n[control.p]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2\ncues "
                      "= [{ at = 0.2, press = \"p\" }]\n[[want]]\n"
                      + want);
  return judge(feel.wants[0], feel, test::play_measures(feel)).holds;
}

TEST(Wants, OfTheVeryNumbersThatAFeelIsGivenByHold) {
  EXPECT_TRUE(holds("measure = \"a.settling_time\"\nat_most = 0.35\n"));
  EXPECT_TRUE(holds("measure = \"a.settling_time\"\nat_least = 0.35\n"));
  EXPECT_TRUE(holds("measure = \"a.overshoot\"\nat_most = 3\n"));
  EXPECT_TRUE(holds("measure = \"a.overshoot\"\nat_least = 3\n"));
}

TEST(Wants, AreNoWiderThanThat) {
  EXPECT_FALSE(holds("measure = \"a.settling_time\"\nat_most = 0.349999\n"));
  EXPECT_FALSE(holds("measure = \"a.overshoot\"\nat_least = 3.00001\n"));
  EXPECT_FALSE(holds("measure = \"a.overshoot\"\nnear = 3.1\nwithin = 0.09\n"));
}

} // namespace
} // namespace stasis
