#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

#include "core/space/space.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

const SpaceMap zoom_degrees{Space::zoom, radians(1.0)};

TEST(Space, ZoomGoesThereAndBack) {
  for (double angle = 0.5; angle < 179.6; angle += 0.5)
    EXPECT_NEAR(from_space(zoom_degrees, to_space(zoom_degrees, angle)), angle, 2e-13) << angle;
}

TEST(Space, EqualStepsInZoomAreEqualRatiosOfPictureScale) {
  const auto scale = [](double degrees) { return std::tan(radians(degrees) / 2); };
  const double a = to_space(zoom_degrees, 62), b = to_space(zoom_degrees, 38);
  const double middle = from_space(zoom_degrees, (a + b) / 2);
  EXPECT_NEAR(scale(62) / scale(middle), scale(middle) / scale(38), 1e-14);
}

TEST(Space, VerticalAndHorizontalAngleDifferByAConstant) {
  const double aspect = 1.6;
  for (const double vertical : {20.0, 38.0, 62.0, 95.0}) {
    const double horizontal = degrees(2 * std::atan(aspect * std::tan(radians(vertical) / 2)));
    EXPECT_NEAR(to_space(zoom_degrees, horizontal) - to_space(zoom_degrees, vertical), std::log(aspect), 1e-14);
  }
}

TEST(Space, RatesAreTheDerivativesOfTheWayBack) {
  const double h = 1e-5;
  for (double y = -2.0; y < 2.0; y += 0.37) {
    const SpaceRates before = rates_at(zoom_degrees, y - h), at = rates_at(zoom_degrees, y),
                     after = rates_at(zoom_degrees, y + h);
    EXPECT_NEAR(at.value, from_space(zoom_degrees, y), 1e-13);
    EXPECT_NEAR(at.first, stretch(zoom_degrees, at.value), 1e-12);
    EXPECT_NEAR((after.value - before.value) / (2 * h), at.first, 1e-7);
    EXPECT_NEAR((after.first - before.first) / (2 * h), at.second, 1e-7);
    EXPECT_NEAR((after.second - before.second) / (2 * h), at.third, 1e-7);
  }
}

TEST(Space, DomainOfZoomIsHalfATurn) {
  EXPECT_EQ(domain(zoom_degrees).low, 0.0);
  EXPECT_NEAR(domain(zoom_degrees).high, 180.0, 1e-12);
  EXPECT_NEAR(domain({Space::zoom, 1.0}).high, std::numbers::pi, 1e-15);
  EXPECT_TRUE(std::isinf(domain({}).high));
}

} // namespace
} // namespace stasis
