// In which spaces columns were led, and along which curves with numbers of their own: known paths give both back.
#include <algorithm>

#include <gtest/gtest.h>

#include "core/recorded/curve_families.hpp"
#include "core/recorded/led_space.hpp"

namespace stasis::test {
namespace {

/// A place of three components from one rest to another and on to a third, by factors or evenly.
struct LedPlaces {
  std::vector<double> times;
  std::vector<LedColumn> columns;
};

LedPlaces led_along(const std::vector<const char*>& curves, Space space) {
  const std::vector<std::vector<double>> places{{5.2, 6.1, 8.9}, {4.4, 1.3, 5.5}, {4.2, 8.4, 4.3}};
  constexpr double begin = 0.6, length = 0.9, row_apart = 1.0 / 60.0;
  LedPlaces out;
  out.columns.resize(3);
  for (int k = 0; k * row_apart <= begin + length * static_cast<double>(curves.size()) + 0.5; ++k) {
    out.times.push_back(k * row_apart);
    for (std::size_t c = 0; c < 3; ++c) {
      double place = to_space({space, 1.0, 1.0}, places[0][c]);
      for (std::size_t leg = 0; leg < curves.size(); ++leg) {
        const double share = std::clamp((k * row_apart - begin) / length - static_cast<double>(leg), 0.0, 1.0);
        place += (to_space({space, 1.0, 1.0}, places[leg + 1][c]) - to_space({space, 1.0, 1.0}, places[leg][c]))
                 * evaluate(*parse_curve(curves[leg]), share).value;
      }
      out.columns[c].values.push_back(from_space({space, 1.0, 1.0}, place));
    }
  }
  for (LedColumn& column : out.columns) column.within = usual_within(column.values);
  return out;
}

TEST(LedSpace, IsTheOneInWhichFewStopsPass) {
  for (const Space space : {Space::linear, Space::ratio}) {
    LedPlaces led = led_along({"ease", "in-out sine"}, space);
    std::vector<SpaceChoice> choices{{{0, 1, 2}, {{}, {Space::ratio, 1.0, 1.0}}}};
    const FoundStops found = find_stops_and_spaces(led.times, led.columns, choices);
    EXPECT_EQ(choices[0].spaces[choices[0].chosen].space, space);
    for (const LedColumn& column : led.columns) EXPECT_EQ(column.space.space, space);
    ASSERT_EQ(found.stops.size(), 3u);
    EXPECT_EQ(found.stops[1].curve, "ease");
    EXPECT_EQ(found.stops[2].curve, "in-out sine");
  }
}

TEST(LedSpace, FewStopsPassInTheTrueSpaceOnly) {
  LedPlaces led = led_along({"ease", "in-out sine"}, Space::linear);
  EXPECT_TRUE(few_stops_pass(led.times, led.columns));
  for (LedColumn& column : led.columns) column.space = {Space::ratio, 1.0, 1.0};
  EXPECT_FALSE(few_stops_pass(led.times, led.columns));
}

TEST(CurveFamilies, LegsAlongThemComeBackAsTheyWereTyped) {
  for (const char* const word :
       {"out back 2.3", "in-out power 2.6", "cubic-bezier(0.15, 0.8, 0.4, 1)", "cubic-bezier(0.6, -0.2, 0.3, 1.1)"}) {
    const LedPlaces led = led_along({word}, Space::linear);
    const FoundStops found = find_stops(led.times, led.columns);
    ASSERT_EQ(found.stops.size(), 2u) << word;
    EXPECT_EQ(found.stops[1].curve, word);
    EXPECT_NEAR(found.stops[1].after, 0.9, 1e-4) << word;
  }
}

TEST(CurveFamilies, TheirTextIsTheirCurve) {
  std::vector<const StepRule*> rules;
  for (const StepRule& rule : step_rules()) rules.push_back(&rule);
  for (const CurveFamily& family : families_near(rules)) {
    const std::vector<double> numbers = family.numbers(family.start);
    const auto curve = family.curve(numbers);
    ASSERT_TRUE(curve.has_value());
    const auto read = parse_curve(family.text(numbers));
    ASSERT_TRUE(read.has_value()) << family.text(numbers);
    for (int k = 0; k <= 8; ++k)
      EXPECT_EQ(evaluate(*read, k / 8.0).value, evaluate(*curve, k / 8.0).value) << family.text(numbers) << " " << k;
  }
}

} // namespace
} // namespace stasis::test
