// What is measured belongs to the motion, not to the frames that it is drawn at.
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/feels.hpp"

namespace stasis {
namespace {

class Motions {
public:
  explicit Motions(unsigned seed) : random_(seed) {}

  double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(random_); }

  std::string glide() { return fmt::format("{{ kind = \"glide\", half_life = {} }}", between(0.02, 0.3)); }
  std::string spring() {
    const char* const resist[] = {"speed", "gap"};
    return fmt::format("{{ kind = \"spring\", frequency = {}, damping_ratio = {}, resist = \"{}\" }}", between(0.8, 5),
                       between(0.15, 2.5), resist[random_() % 2]);
  }
  std::string ease() {
    const char* const curves[] = {"ease",       "in-out sine", "out power 3", "out back 2", "linear(0, 0.3 20%, 1)",
                                  "out bounce", "in elastic"};
    return fmt::format("{{ kind = \"ease\", duration = {}, curve = \"{}\", delay = {} }}", between(0.1, 0.7),
                       curves[random_() % std::size(curves)], random_() % 2 == 0 ? 0.0 : between(0.0, 0.2));
  }
  std::string pace() {
    return fmt::format("{{ kind = \"pace\", speed = {}, acceleration = {} }}", between(0.8, 5), between(4, 60));
  }
  std::string delay() { return fmt::format("{{ kind = \"delay\", delay = {} }}", between(0.0, 0.3)); }

  std::string stages() {
    std::string list = delay();
    const auto head = random_() % 3;
    if (head == 0) list += ", " + ease();
    if (head == 1) list += ", " + pace();
    const std::size_t links = 1 + random_() % 3;
    for (std::size_t i = 0; i < links; ++i) list += ", " + (random_() % 2 == 0 ? glide() : spring());
    return "{ kind = \"stages\", stages = [" + list + "] }";
  }

  std::string any() {
    switch (random_() % 6) {
    case 0: return glide();
    case 1: return spring();
    case 2: return ease();
    case 3: return pace();
    default: return stages();
    }
  }

private:
  std::mt19937_64 random_;
};

std::string feel_of(const std::string& motion, const char* space, double fps) {
  return fmt::format("[channel.a]\nunit = \"deg\"\nrest = 40\nspace = \"{}\"\nmotion = {}\n[pose.p]\na = "
                     "70\n[control.p]\nkind = \"hold\"\npose = \"p\"\n"
                     "[take.t]\nlength = 14\nclock = {{ fps = {} }}\ncues = [ {{ at = 0.5, press = \"p\" }} ]\n",
                     space, motion, fps);
}

void expect_alike(const std::optional<double>& a, const std::optional<double>& b, double tolerance,
                  const std::string& what) {
  ASSERT_EQ(a.has_value(), b.has_value()) << what;
  if (a) {
    EXPECT_NEAR(*a, *b, tolerance * std::max({1.0, std::fabs(*a)})) << what;
  }
}

TEST(RateIndependence, MeasuresOfAnyMotionAreThoseAtAnyRate) {
  Motions motions(41);
  for (int i = 0; i < 120; ++i) {
    const std::string motion = motions.any();
    const char* const spaces[] = {"linear", "ratio", "zoom", "turn"};
    const char* const space = spaces[i % 4];
    const Move a = test::play_measures(test::feel_from(feel_of(motion, space, 24))).moves[0];
    const Move b = test::play_measures(test::feel_from(feel_of(motion, space, 250))).moves[0];
    const std::string what = fmt::format("{} in {}", motion, space);
    expect_alike(a.delay_time, b.delay_time, 1e-8, what + ": delay");
    expect_alike(a.rise_time, b.rise_time, 1e-8, what + ": rise");
    expect_alike(a.settling_time, b.settling_time, 1e-7, what + ": settling");
    expect_alike(a.overshoot, b.overshoot, 1e-7, what + ": overshoot");
    expect_alike(a.peak_time, b.peak_time, 1e-5, what + ": peak time");
    expect_alike(a.peak_speed, b.peak_speed, 1e-7, what + ": peak speed");
    expect_alike(a.jolt, b.jolt, 1e-7, what + ": jolt");
  }
}

TEST(RateIndependence, RowsAtSharedInstantsAgreeThroughReversals) {
  Motions motions(43);
  for (int i = 0; i < 80; ++i) {
    const std::string motion = motions.any();
    const auto rows_at = [&](double fps) {
      std::string feel = feel_of(motion, i % 2 == 0 ? "linear" : "ratio", fps);
      feel = feel.substr(0, feel.find("length"))
             + fmt::format("length = 2\nclock = {{ fps = {} }}\ncues = [ {{ at = 0.1, press = \"p\" }}, {{ at = 0.4, "
                           "release = \"p\" }}, "
                           "{{ at = 0.9, press = \"p\" }}, {{ at = 1.1, cancel = \"p\" }} ]\n",
                           fps);
      return test::play_rows(test::feel_from(feel));
    };
    const auto coarse = rows_at(50), fine = rows_at(250);
    for (std::size_t row = 0; row < coarse.time.size(); ++row)
      EXPECT_NEAR(coarse.smooth[row], fine.smooth[5 * row], 1e-9 * 70) << motion << " row " << row;
  }
}

TEST(RateIndependence, EveryMotionLeadsHome) {
  Motions motions(47);
  for (int i = 0; i < 60; ++i) {
    std::string feel = feel_of(motions.any(), "linear", 60);
    feel = feel.substr(0, feel.find("length"))
           + "length = 20\ncues = [ { at = 0.1, press = \"p\" }, { at = 0.35, release = \"p\" }, { at = 0.5, press = "
             "\"p\" }, { at = 0.52, cancel = \"p\" } ]\n";
    EXPECT_NEAR(test::play_rows(test::feel_from(feel)).smooth.back(), 40.0, 1e-6) << feel;
  }
}

} // namespace
} // namespace stasis
