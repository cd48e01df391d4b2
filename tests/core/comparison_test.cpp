// Versions of one take side by side: where they are farthest apart, against closed forms.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/measure/comparison.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

/// A glide of a rate from 0 to 1, at 0 s.
Feel gliding(double rate) {
  return test::feel_from(
      fmt::format("[channel.a]\nrest = 0\nmotion = {{ kind = \"glide\", rate = {} }}\n[pose.p]\na = "
                  "1\n[control.p]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 3\nclock = {{ fps "
                  "= 1000 }}\ncues = [{{ at = 0, press = \"p\" }}]\n",
                  rate));
}

TEST(Comparison, TheWidestGapOfTwoGlidesIsItsClosedForm) {
  const Feel slow = gliding(2), quick = gliding(5);
  const std::vector<Contender> all{play_contender("slow", slow, slow.takes[0]),
                                   play_contender("quick", quick, quick.takes[0])};
  const auto shared = shared_channels(all);
  ASSERT_EQ(shared.size(), 1u);
  const Gap gap = widest_gap(all[0], 0, all[1], 0, 0);
  const double at = std::log(5.0 / 2.0) / 3.0; // where both go equally fast
  EXPECT_NEAR(gap.at, at, 1e-3);
  EXPECT_NEAR(gap.size, std::exp(-2.0 * at) - std::exp(-5.0 * at), 1e-6);
  EXPECT_GT(gap.difference, 0.0);
  EXPECT_NEAR(value_at(all[0], 0, 0, 0.5005), -std::expm1(-2.0 * 0.5005), 1e-6);
  EXPECT_EQ(noticed(all[0], all[0], shared[0], 0, 0), "");
}

} // namespace
} // namespace stasis
