#include <cmath>
#include <numbers>
#include <random>

#include <gtest/gtest.h>

#include "core/lens/lens.hpp"
#include "core/motion/smoothing.hpp"

namespace stasis {
namespace {

const Curve ease_in_out = *parse_curve("ease-in-out");

TEST(Smoothing, RoundTripsAmongExactFormsAgree) {
  std::mt19937_64 random(2);
  std::uniform_real_distribution<double> share(0.001, 0.999), exponent(-2, 2);
  for (int i = 0; i < 200; ++i)
    for (const SmoothingWord& a : smoothing_words()) {
      const double fps = 24 + 200 * share(random);
      double value = std::pow(10, exponent(random));
      if (a.form == SmoothingForm::fraction) value = share(random);
      if (a.form == SmoothingForm::product) value = fps * share(random);
      const Smoothing from{a.form, value, fps};
      for (const SmoothingWord& b : smoothing_words()) {
        if (family_of(a.form) != family_of(b.form)) continue;
        const Smoothing other{b.form, translated(from, b.form, 60.0, ease_in_out), 60.0};
        // A fraction so near 1 that its complement has lost its digits cannot carry them back.
        if (b.form == SmoothingForm::fraction && other.value > 0.999) continue;
        if (b.form == SmoothingForm::product && other.value > 0.999 * 60.0) continue;
        EXPECT_NEAR(translated(other, a.form, fps, ease_in_out), value, 1e-12 * value) << a.word << " by " << b.word;
      }
    }
}

TEST(Smoothing, KnownEquals) {
  const Smoothing tenth{SmoothingForm::fraction, 0.1, 60.0};
  EXPECT_NEAR(translated(tenth, SmoothingForm::fraction, 30.0, ease_in_out), 0.19, 1e-15);
  EXPECT_NEAR(translated(tenth, SmoothingForm::product, 60.0, ease_in_out), 6.0, 1e-14);
  const Smoothing rate{SmoothingForm::product, 6.0, 60.0};
  EXPECT_NEAR(translated(rate, SmoothingForm::product, 30.0, ease_in_out), 5.7, 1e-14) << "two frames in one: 0.19";
  EXPECT_NEAR(translated(tenth, SmoothingForm::half_life, 60.0, ease_in_out), std::log(0.5) / (60 * std::log(0.9)),
              1e-15);
  EXPECT_NEAR(critical_time_to(0.02), 2.917, 1e-3);
  EXPECT_DOUBLE_EQ(
      translated({SmoothingForm::spring_time, 0.5, 60.0}, SmoothingForm::spring_frequency, 60.0, ease_in_out),
      2.0 / std::numbers::pi);
}

TEST(Smoothing, NearestMatchesAgreeInTheTimeTo90) {
  const Smoothing from{SmoothingForm::half_life, 0.2, 60.0};
  const double t90 = translated(from, SmoothingForm::time_to_90, 60.0, ease_in_out);
  const double w = 2.0 / translated(from, SmoothingForm::spring_time, 60.0, ease_in_out);
  EXPECT_NEAR((1 + w * t90) * std::exp(-w * t90), 0.1, 1e-9);
  const double duration = translated(from, SmoothingForm::ease_duration, 60.0, ease_in_out);
  EXPECT_NEAR(evaluate(ease_in_out, t90 / duration).value, 0.9, 1e-12);
  for (const Translation& t : translations_of(from, std::vector<double>{60.0}, ease_in_out))
    EXPECT_EQ(t.sense.find("90 %") == std::string::npos, t.exact);
}

TEST(Smoothing, RefusesWhatArrivesWithinAFrame) {
  EXPECT_EQ(why_no_equivalent({SmoothingForm::product, 59.0, 60.0}), "");
  EXPECT_NE(why_no_equivalent({SmoothingForm::product, 60.0, 60.0}).find("arrives within one frame"),
            std::string::npos);
  EXPECT_NE(why_no_equivalent({SmoothingForm::product, 70.0, 60.0}).find("overshoots on every frame"),
            std::string::npos);
  EXPECT_NE(why_no_equivalent({SmoothingForm::product, 120.0, 60.0}).find("does not settle"), std::string::npos);
  EXPECT_NE(why_no_equivalent({SmoothingForm::fraction, 1.0, 60.0}), "");
  EXPECT_EQ(why_no_equivalent({SmoothingForm::rate, 1000.0, 60.0}), "");
}

TEST(Lens, AnglesAndTheirInverses) {
  for (const double vertical : {0.1, 0.7, 1.5, 2.9})
    for (const double aspect : {0.5, 1.0, 16.0 / 9.0}) {
      EXPECT_NEAR(vertical_of_horizontal(horizontal_of_vertical(vertical, aspect), aspect), vertical, 1e-14);
      EXPECT_NEAR(vertical_of_diagonal(diagonal_of_vertical(vertical, aspect), aspect), vertical, 1e-14);
      EXPECT_NEAR(angle_of_focal_length(focal_length_of_angle(vertical, 36.0), 36.0), vertical, 1e-14);
    }
  EXPECT_NEAR(angle_of_focal_length(18.0, 36.0), std::numbers::pi / 2, 1e-15);
  EXPECT_NEAR(horizontal_of_vertical(std::numbers::pi / 2, 2.0), 2 * std::atan(2.0), 1e-15);
  EXPECT_NEAR(extent_at(std::numbers::pi / 2, 3.0), 6.0, 1e-14);
  EXPECT_NEAR(distance_for(std::numbers::pi / 2, 6.0), 3.0, 1e-14);
}

TEST(Lens, PictureScaleIsTheRatioOfSizes) {
  // A thing of height 1 at distance 5 fills this share of the picture's height.
  const auto share = [](double vertical) { return 1.0 / extent_at(vertical, 5.0); };
  EXPECT_NEAR(picture_scale(1.0, 0.6), share(0.6) / share(1.0), 1e-14);
}

} // namespace
} // namespace stasis
