// From a recorded path to the stops of a sequence: known paths give their stops back, and no fewer pass.
#include <cmath>
#include <functional>

#include <gtest/gtest.h>

#include "core/curve/flight.hpp"
#include "core/random.hpp"
#include "core/recorded/found_stops.hpp"
#include "core/recorded/stretch_legs.hpp"

namespace stasis::test {
namespace {

constexpr double spacing = 1.0 / 60.0;

/// Rows of a path that is evaluated at each.
struct Recorded {
  std::vector<double> times;
  std::vector<LedColumn> columns;
};

/// Rests half a second, flies through the stops, rests half a second.
Recorded flown(const FlightPlan& plan, double noise = 0.0, std::uint64_t seed = 1) {
  const Flight flight(plan);
  Random random(seed);
  Recorded out;
  out.columns.resize(plan.axes.size());
  for (int k = 0; k * spacing <= plan.times.back() + 1.0; ++k) {
    out.times.push_back(k * spacing);
    for (std::size_t c = 0; c < out.columns.size(); ++c)
      out.columns[c].values.push_back(flight.at(c, k * spacing - 0.5).value + noise * random.normal());
  }
  for (LedColumn& column : out.columns) column.within = usual_within(column.values);
  return out;
}

FlightPlan::Axis axis(std::vector<std::size_t> stops, std::vector<double> values) {
  return {std::move(stops), std::move(values), {}, {}};
}

const FlightPlan three_stops{
    {0.0, 1.37, 2.21, 3.6}, {axis({0, 1, 2, 3}, {4.0, -3.0, 12.5, 9.0}), axis({0, 2}, {100.0, 160.0})}, {}};

Recorded sampled(const std::vector<std::function<double(double)>>& paths, double length) {
  Recorded out;
  out.columns.resize(paths.size());
  for (int k = 0; k * spacing <= length; ++k) {
    out.times.push_back(k * spacing);
    for (std::size_t c = 0; c < paths.size(); ++c) out.columns[c].values.push_back(paths[c](k * spacing));
  }
  for (LedColumn& column : out.columns) column.within = usual_within(column.values);
  return out;
}

double eased(const Curve& curve, double share) {
  return share <= 0 ? 0 : share >= 1 ? 1 : evaluate(curve, share).value;
}

TEST(FoundStops, AFlightGivesItsStopsBack) {
  const Recorded rows = flown(three_stops);
  const FoundStops found = find_stops(rows.times, rows.columns);
  ASSERT_EQ(found.stops.size(), 4u);
  EXPECT_NEAR(found.stops[0].hold, 0.5, 1e-5);
  for (std::size_t s = 1; s < 4; ++s) {
    EXPECT_NEAR(found.stops[s].after, three_stops.times[s] - three_stops.times[s - 1], 1e-5) << s;
    ASSERT_TRUE(found.stops[s].values[0]);
    EXPECT_NEAR(*found.stops[s].values[0], three_stops.axes[0].values[s], 1e-4) << s;
  }
  // The second column is given where it was, and nowhere else.
  EXPECT_FALSE(found.stops[1].values[1]);
  EXPECT_NEAR(found.stops[2].values[1].value_or(0.0), 160.0, 1e-4);
  EXPECT_FALSE(found.stops[3].values[1]);
  for (std::size_t c = 0; c < 2; ++c) EXPECT_LE(found.off[c], rows.columns[c].within);
}

TEST(FoundStops, NoiseDoesNotAddStops) {
  std::size_t right = 0;
  for (std::uint64_t seed = 1; seed <= 10; ++seed) {
    const Recorded rows = flown(three_stops, 0.02, seed);
    const FoundStops found = find_stops(rows.times, rows.columns);
    right += found.stops.size() == 4 ? 1u : 0u;
    if (found.stops.size() != 4) continue;
    EXPECT_NEAR(found.stops[1].after, 1.37, 0.05) << seed;
    EXPECT_NEAR(*found.stops[2].values[0], 12.5, 0.15) << seed;
  }
  EXPECT_GE(right, 9u);
}

TEST(FoundStops, ALargerAllowanceNeverNeedsMoreStops) {
  Recorded rows = flown(three_stops);
  std::size_t before = 1000;
  for (const double within : {1e-4, 0.01, 0.3, 1.5, 20.0}) {
    for (LedColumn& column : rows.columns) column.within = within;
    const FoundStops found = find_stops(rows.times, rows.columns);
    EXPECT_LE(found.stops.size(), before) << within;
    before = found.stops.size();
    for (std::size_t c = 0; c < 2; ++c) EXPECT_LE(found.off[c], 1.001 * within) << within;
  }
}

TEST(FoundStops, EasedLegsAreNamedByTheirCurves) {
  for (const char* const word : {"in-out sine", "out back", "in-out exp", "out power 3", "in power 2", "ease-in-out"}) {
    const Curve curve = *parse_curve(word);
    const Recorded rows = sampled({[&](double t) { return 20.0 + 35.0 * eased(curve, (t - 0.4) / 0.9); }}, 2.0);
    const FoundStops found = find_stops(rows.times, rows.columns);
    ASSERT_EQ(found.stops.size(), 2u) << word;
    EXPECT_EQ(found.stops[1].way, SequenceStop::Way::eased);
    EXPECT_EQ(found.stops[1].curve, word);
    EXPECT_NEAR(found.stops[1].after, 0.9, 1e-4) << word;
    EXPECT_NEAR(found.stops[0].hold, 0.4, 1e-4) << word;
    EXPECT_NEAR(found.stops[1].hold, 0.7, 0.02) << word;
  }
}

TEST(FoundStops, LegsWithoutAHoldBetweenThemAreToldApart) {
  const Curve sine = *parse_curve("in-out sine"), in = *parse_curve("in power 2");
  // An abrupt end, then a soft start.
  const Recorded rows =
      sampled({[&](double t) { return 10.0 * eased(in, (t - 0.5) / 0.8) - 22.0 * eased(sine, (t - 1.3) / 0.7); }}, 2.6);
  const FoundStops found = find_stops(rows.times, rows.columns);
  ASSERT_EQ(found.stops.size(), 3u);
  EXPECT_EQ(found.stops[1].curve, "in power 2");
  EXPECT_EQ(found.stops[2].curve, "in-out sine");
  EXPECT_NEAR(found.stops[1].after, 0.8, 1e-3);
  EXPECT_NEAR(*found.stops[1].values[0], 10.0, 1e-2);
}

TEST(FoundStops, CutsAreFoundWhereTheyAre) {
  const Recorded rows =
      sampled({[](double t) { return t < 0.7 ? 3.0 : -8.0; }, [](double t) { return t < 1.5 ? 1.0 : 2.0; }}, 2.4);
  const FoundStops found = find_stops(rows.times, rows.columns);
  ASSERT_EQ(found.stops.size(), 3u);
  for (const FoundStop& stop : found.stops) EXPECT_EQ(stop.way, SequenceStop::Way::cut);
  EXPECT_NEAR(found.stops[0].hold, 0.7, spacing);
  EXPECT_NEAR(found.stops[1].hold, 0.8, spacing);
  EXPECT_EQ(found.stops[1].values[0], -8.0);
  EXPECT_FALSE(found.stops[1].values[1]) << "what does not jump is not given";
  EXPECT_EQ(found.stops[2].values[1], 2.0);
}

TEST(FoundStops, APathThatNoFewStopsPassGetsAsManyAsItTakes) {
  // It wanders, and turns sharply now and then.
  Recorded rows = sampled({[](double t) { return 3.0 * std::sin(2.1 * t) + std::fabs(std::sin(3.3 * t)); },
                           [](double t) { return std::cos(5.0 * t * t); }},
                          4.0);
  std::size_t before = 0;
  for (const double within : {0.5, 0.05, 0.005}) {
    for (LedColumn& column : rows.columns) column.within = within;
    const FoundStops found = find_stops(rows.times, rows.columns);
    for (std::size_t c = 0; c < 2; ++c) EXPECT_LE(found.off[c], 1.001 * within) << within;
    EXPECT_GT(found.stops.size(), before) << within;
    before = found.stops.size();
  }
  EXPECT_LT(before, rows.times.size());
  // Unless it need not be passed so near.
  const FoundStops few = find_stops(rows.times, rows.columns, {0.1});
  EXPECT_LT(few.stops.size(), before);
  for (std::size_t c = 0; c < 2; ++c) {
    EXPECT_GT(few.within[c], 0.005);
    EXPECT_LE(few.off[c], 1.001 * few.within[c]);
  }
}

TEST(FoundStops, ARecordingInFullFlightHasNoSoftEnds) {
  const FlightPlan plan{
      {0.0, 1.0, 2.0}, {{{0, 1, 2}, {0.0, 5.0, 2.0}, {PathEnd::Kind::free, 0.0}, {PathEnd::Kind::free, 0.0}}}, {}};
  const Flight flight(plan);
  const Recorded rows = sampled({[&](double t) { return flight.at(0, std::min(t, 2.0 - 1e-9)).value; }}, 2.0);
  const FoundStops found = find_stops(rows.times, rows.columns);
  EXPECT_TRUE(found.begins_moving);
  EXPECT_TRUE(found.ends_moving);
  ASSERT_EQ(found.stops.size(), 3u);
  EXPECT_NEAR(found.stops[1].after, 1.0, 1e-3);
  EXPECT_LE(found.off[0], rows.columns[0].within);
}

TEST(FoundStops, ThePathOfTheNumbersIsThatOfTheProgram) {
  const Recorded rows = flown(three_stops);
  const FoundStops found = find_stops(rows.times, rows.columns);
  double largest = 0.0;
  for (std::size_t k = 0; k < rows.times.size(); ++k)
    largest = std::max(largest, std::fabs(found.path[0][k] - rows.columns[0].values[k]));
  EXPECT_EQ(largest, found.off[0]);
}

TEST(FoundStops, ASpaceIsToldByItsPieces) {
  const Flight flight({{0.0, 1.2, 2.5}, {axis({0, 1, 2}, {std::log(2.0), std::log(9.0), std::log(3.0)})}, {}});
  Recorded rows = sampled({[&](double t) { return std::exp(flight.at(0, t - 0.5).value); }}, 3.5);
  LedColumn as_ratio = rows.columns[0];
  as_ratio.space.space = Space::ratio;
  EXPECT_LT(cubic_pieces(rows.times, as_ratio), cubic_pieces(rows.times, rows.columns[0]));
  EXPECT_EQ(find_stops(rows.times, {as_ratio}).stops.size(), 3u);
}

TEST(FoundStops, ColumnsOfOneChannelStandTogether) {
  const auto groups = groups_of({"focus.x", "focus.y", "focus.z", "yaw", "side.y", "side.z", "place.x"});
  ASSERT_EQ(groups.size(), 5u);
  EXPECT_EQ(groups[0].channel, "focus");
  EXPECT_EQ(groups[0].columns, (std::vector<std::size_t>{0, 1, 2}));
  EXPECT_EQ(groups[1].channel, "yaw");
  EXPECT_EQ(groups[2].channel, "side.y") << "a part of a channel is no channel";
  EXPECT_EQ(groups[4].channel, "place.x");
}

TEST(LedRows, ATurningPointAndASlowStartAreNoRests) {
  const Recorded rows = sampled({[](double t) { return 4.0 * t * (2.0 - t); }}, 2.0);
  LedColumn column = rows.columns[0];
  column.within = 0.01;
  const LedRows led = led_rows(rows.times, {column});
  EXPECT_TRUE(rests_in(led, {0, rows.times.size() - 1}).empty());
}

TEST(LedRows, ARestIsFoundWithItsLevel) {
  Random random(5);
  const Recorded rows =
      sampled({[&](double t) {
                return (t < 1.0 ? 2.0 : t < 1.5 ? 2.0 + 6.0 * (t - 1.0) : 5.0) + 0.01 * random.normal();
              }},
              3.0);
  const LedRows led = led_rows(rows.times, rows.columns);
  const auto rests = rests_in(led, {0, rows.times.size() - 1});
  ASSERT_EQ(rests.size(), 2u);
  EXPECT_NEAR(level_of(led, rests[0])[0], 2.0, 0.01);
  EXPECT_NEAR(level_of(led, rests[1])[0], 5.0, 0.01);
  EXPECT_NEAR(rows.times[rests[0].last], 1.0, 0.06);
}

TEST(FlightFit, CubicsEndAtTheKnots) {
  const Recorded rows = flown(three_stops);
  const LedRows led = led_rows(rows.times, rows.columns);
  MovingStretch all;
  all.last = rows.times.size() - 1;
  const auto joints = cubic_joints(led, 0, all);
  for (const double knot : {0.5, 1.87, 2.71, 4.1}) {
    double nearest = 1e9;
    for (const double joint : joints) nearest = std::min(nearest, std::fabs(joint - knot));
    EXPECT_LT(nearest, 5.0 * spacing) << knot;
  }
}

TEST(LedRows, ThreeEqualRowsAreAShortRestUnlessTheyAreRounded) {
  const auto path = [](double t) {
    return t < 0.5 ? 10.0 * t * t : t < 0.54 ? 2.5 : 2.5 + 7.0 * (t - 0.54) * (t - 0.54);
  };
  Recorded rows = sampled({path}, 1.2);
  rows.columns[0].within = 1e-6;
  const auto rests = rests_in(led_rows(rows.times, rows.columns), {1, rows.times.size() - 1});
  ASSERT_EQ(rests.size(), 1u);
  EXPECT_NEAR(rows.times[rests[0].first], 0.5, 0.01);
  // Stairs of three rows, since the last digit is coarse.
  Recorded stairs = sampled({[](double t) { return std::floor(20.0 * t + 1e-9) / 10.0; }}, 2.0);
  stairs.columns[0].within = 1e-6;
  EXPECT_TRUE(rests_in(led_rows(stairs.times, stairs.columns), {0, stairs.times.size() - 1}).empty());
}

TEST(LedRows, NoRowOfARestIsFurtherOffThanAllowed) {
  for (std::uint64_t seed = 1; seed <= 20; ++seed) {
    Random random(seed);
    Recorded rows = sampled({[&](double t) { return (t > 1.0 ? 4.0 * (t - 1.0) : 0.0) + 0.3 * random.share(); }}, 1.6);
    rows.columns[0].within = 0.2;
    const LedRows led = led_rows(rows.times, rows.columns);
    for (const RowSpan& rest : rests_in(led, {0, rows.times.size() - 1})) {
      const double level = level_of(led, rest)[0];
      for (std::size_t k = rest.first; k <= rest.last; ++k)
        EXPECT_LE(std::fabs(rows.columns[0].values[k] - level), 0.2 + 1e-12) << seed;
    }
  }
}

TEST(LedRows, ACutIsFarAndAQuickMoveIsNone) {
  const auto cuts = [](const std::function<double(double)>& path) {
    Recorded rows = sampled({path}, 2.0);
    return cuts_of(led_rows(rows.times, rows.columns)).size();
  };
  EXPECT_EQ(cuts([](double t) { return t < 1.0 ? 0.0 : 5.0; }), 1u);
  EXPECT_EQ(cuts([](double t) { return std::sin(3.0 * t) + (t < 1.0 ? 0.0 : 5.0); }), 1u) << "in the middle of a move";
  EXPECT_EQ(cuts([](double t) { return t < 1.0 ? 0.0 : 5.0 * (1.0 - std::exp(-12.0 * (t - 1.0))); }), 0u);
  EXPECT_EQ(cuts([](double t) { return std::clamp(40.0 * (t - 1.0), 0.0, 4.0); }), 0u);
}

MovingStretch whole(const Recorded& rows) {
  MovingStretch stretch;
  stretch.last = rows.times.size() - 1;
  return stretch;
}

TEST(FlightFit, AtTheTrueTimesTheValuesAreTheTrueOnes) {
  const Recorded rows = flown(three_stops);
  const LedRows led = led_rows(rows.times, rows.columns);
  MovingStretch stretch = whole(rows);
  stretch.rest_before = stretch.rest_after = 20;
  std::vector<double> times;
  for (const double time : three_stops.times) times.push_back(0.5 + time);
  const FittedLegs legs = legs_at(led, stretch, {{0, 1, 2, 3}, {0, 2}}, times, 1000);
  for (std::size_t s = 0; s < 4; ++s) EXPECT_NEAR(legs.axes[0].values[s], three_stops.axes[0].values[s], 1e-9);
  EXPECT_NEAR(legs.axes[1].values[1], 160.0, 1e-9);
  EXPECT_LT(legs.off, 1e-3);
  const std::vector<double> places = places_of(legs, 0, rows.times, stretch);
  for (std::size_t k = 0; k < places.size(); ++k) EXPECT_NEAR(places[k], rows.columns[0].values[k], 1e-9);
}

TEST(FlightFit, TimesAreFoundFromRoughOnes) {
  const Recorded rows = flown(three_stops);
  const LedRows led = led_rows(rows.times, rows.columns);
  MovingStretch stretch = whole(rows);
  stretch.rest_before = stretch.rest_after = 20;
  const FittedLegs legs =
      fitted_legs(led, stretch, {{{0, 1, 2, 3}, {0, 2}}, std::nullopt}, {0.56, 1.8, 2.8, 4.0}, Descent::full);
  for (std::size_t s = 0; s < 4; ++s) EXPECT_NEAR(legs.times[s], 0.5 + three_stops.times[s], 1e-6) << s;
}

TEST(FlightFit, AKnownEndIsKept) {
  const Recorded rows = flown(three_stops, 0.05);
  const LedRows led = led_rows(rows.times, rows.columns);
  MovingStretch stretch = whole(rows);
  stretch.from = std::vector{4.5, 100.5};
  stretch.to = std::vector{8.5, 160.5};
  stretch.flight_begins = 0.47;
  const FittedLegs legs =
      fitted_legs(led, stretch, {{{0, 1, 2, 3}, {0, 2}}, std::nullopt}, {0.47, 1.8, 2.8, 4.0}, Descent::full);
  EXPECT_EQ(legs.times[0], 0.47);
  EXPECT_NEAR(legs.axes[0].values.front(), 4.5, 1e-12);
  EXPECT_NEAR(legs.axes[0].values.back(), 8.5, 1e-12);
}

TEST(DenseFlight, EveryRowIsPassedAndNoStopIsNeedless) {
  Recorded rows = sampled({[](double t) { return std::sin(9.0 * t) + std::fabs(t - 1.0); }}, 2.0);
  rows.columns[0].within = 0.02;
  const LedRows led = led_rows(rows.times, rows.columns);
  const MovingStretch stretch = whole(rows);
  const FittedLegs legs = dense_flight(led, stretch);
  EXPECT_LE(legs.off, 1.0);
  // Without any one of its stops, the others where they are, a row is off.
  for (std::size_t s = 1; s < legs.stops(); ++s) {
    std::vector<double> times = legs.times;
    times.erase(times.begin() + static_cast<std::ptrdiff_t>(s));
    std::vector<std::size_t> all(times.size());
    for (std::size_t k = 0; k < all.size(); ++k) all[k] = k;
    EXPECT_GT(legs_at(led, stretch, {all}, times, 1200).off, 1.0) << s;
  }
}

TEST(StretchLegs, WhatDoesNotJoinDoesNotPass) {
  const Recorded rows = flown(three_stops);
  const LedRows led = led_rows(rows.times, rows.columns);
  NamedLegs first, second;
  first.legs.times = {0.5, 1.5};
  second.legs.times = {1.5, 2.5};
  for (NamedLegs* const one : {&first, &second}) one->legs.axes = {{{0, 1}, {0.0, 1.0}}, {{0, 1}, {0.0, 1.0}}};
  for (FittedLegs::Axis& axis : second.legs.axes) axis.values = {1.0, 2.0};
  EXPECT_TRUE(pass(led, {first, second}));
  NamedLegs early = second, elsewhere = second, far = second;
  early.legs.times[0] = 1.4;
  EXPECT_FALSE(pass(led, {first, early}));
  elsewhere.legs.axes[1].values[0] = 1.1;
  EXPECT_FALSE(pass(led, {first, elsewhere}));
  far.legs.off = 1.2;
  EXPECT_FALSE(pass(led, {first, far}));
  EXPECT_EQ(stops_of({first, second}), 2u);
}

} // namespace
} // namespace stasis::test
