#include <cmath>

#include <gtest/gtest.h>

#include "core/units.hpp"

namespace stasis {
namespace {

TEST(Units, QuantitiesReadExactly) {
  EXPECT_EQ(parse_quantity("110 ms")->value, 110.0);
  const auto seconds = [](const char* text) {
    return convert(parse_quantity(text)->value, parse_quantity(text)->unit, *find_unit("s"));
  };
  EXPECT_EQ(seconds("110 ms"), 0.11);
  EXPECT_EQ(seconds("30ms"), 0.03);
  EXPECT_EQ(seconds(" 1.5 min "), 90.0);
  EXPECT_EQ(seconds("-2e2 ms"), -0.2);
  EXPECT_EQ(convert(35, *find_unit("mm"), *find_unit("m")), 0.035);
  EXPECT_EQ(convert(35, *find_unit("mm"), *find_unit("cm")), 3.5);
  EXPECT_DOUBLE_EQ(convert(1, *find_unit("rad"), *find_unit("deg")), 180.0 / std::acos(-1.0));
  EXPECT_EQ(convert(0.5, *find_unit("turn"), *find_unit("deg")), 180.0);
}

TEST(Units, RefusesWhatIsNoQuantity) {
  for (const char* text : {"", "ms", "110", "110 parsecs", "nan ms", "inf s", "1e999 s", "1 ms 2", "+-1 s"})
    EXPECT_FALSE(parse_quantity(text)) << text;
}

TEST(Units, FormsOfOneSmoothingAgree) {
  const double rate = 4.0;
  EXPECT_NEAR(rate_of_half_life(std::log(2.0) / rate), rate, 1e-15);
  EXPECT_NEAR(rate_of_time_constant(1 / rate), rate, 1e-15);
  EXPECT_NEAR(rate_of_settling_time(std::log(50.0) / rate, 0.02), rate, 1e-14);
  EXPECT_NEAR(rate_of_fraction(1 - std::exp(-rate / 60), 60), rate, 1e-13);
  EXPECT_NEAR(natural_frequency_hz(angular_frequency(1.7)), 1.7, 1e-15);
}

TEST(Units, EveryKindHasWordsAndUnitsHaveOneMeaning) {
  for (const Unit& unit : all_units()) {
    EXPECT_FALSE(kind_in_words(unit.kind).empty());
    EXPECT_EQ(find_unit(unit.symbol)->kind, unit.kind);
    EXPECT_FALSE(own_unit(unit.kind).empty());
  }
}

} // namespace
} // namespace stasis
