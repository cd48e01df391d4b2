// What is measured on a recorded path, against closed forms: paths laid by hand, node by node.
#include <cmath>
#include <functional>
#include <numbers>

#include <gtest/gtest.h>

#include "core/recorded/path_reading.hpp"
#include "core/units.hpp"

namespace stasis::test {
namespace {

/// A value and its first three rates at a time.
using Known = std::function<Smooth(double)>;

PathSection laid(double from, double to, const std::vector<Known>& components, int parts = 400) {
  PathSection section;
  for (int k = 0; k <= parts; ++k) {
    PathNode node{from + (to - from) * k / parts, {}};
    for (std::size_t c = 0; c < components.size(); ++c) node.state[c] = components[c](node.time);
    section.push_back(node);
  }
  return section;
}

Known standing(double value) {
  return [=](double) { return Smooth{value, 0.0, 0.0, 0.0}; };
}

/// From rest at 1 s, with a rate of 4 1/s.
Known gliding(double from, double to) {
  return [=](double t) {
    const double left = (from - to) * std::exp(-4.0 * (t - 1.0));
    return Smooth{to + left, -4.0 * left, 16.0 * left, -64.0 * left};
  };
}

Channel unitless(std::size_t components = 1) {
  Channel channel;
  channel.name = "a";
  channel.components = components;
  return channel;
}

PlannedMove planned(Components from, Components to, double start = 1.0, double end = 4.0) {
  PlannedMove move;
  move.start = start;
  move.end = end;
  move.from = from;
  move.to = to;
  move.has_goal = true;
  return move;
}

TEST(PathReading, AGlideIsToldByItsClosedForm) {
  const CapturedPath path{laid(0.0, 1.0, {standing(2.0)}), laid(1.0, 4.0, {gliding(2.0, 12.0)})};
  const TakeMeasures measures = read_path(unitless(), path, {planned({2.0}, {12.0})}, 1e-9);
  const Move& move = measures.moves.at(0);
  EXPECT_NEAR(*move.delay_time, std::log(2.0) / 4.0, 1e-6);
  EXPECT_NEAR(*move.rise_time, std::log(9.0) / 4.0, 1e-6);
  EXPECT_NEAR(*move.settling_time, std::log(50.0) / 4.0, 1e-6);
  EXPECT_EQ(*move.overshoot, 0.0);
  EXPECT_FALSE(move.peak_time);
  EXPECT_NEAR(*move.peak_speed, 40.0, 1e-9);
  EXPECT_NEAR(*move.peak_acceleration, 160.0, 1e-9);
  EXPECT_NEAR(*move.jolt, 40.0, 1e-9);
  EXPECT_NEAR(*move.start_kick, std::log(50.0), 1e-5);
  EXPECT_NEAR(*move.remaining, 10.0 * std::exp(-12.0), 1e-9);
  EXPECT_FALSE(move.sideways);
  const PathSummary& way = measures.channels[0].path;
  EXPECT_NEAR(way.travelled, 10.0 * (1.0 - std::exp(-12.0)), 1e-9);
  EXPECT_NEAR(way.top_speed.value, 40.0, 1e-9);
  EXPECT_EQ(way.top_speed.at, 1.0);
  EXPECT_NEAR(way.top_speed_jump->value, 40.0, 1e-9);
  EXPECT_NEAR(way.top_acceleration_jump->value, 160.0, 1e-9);
  EXPECT_NEAR(way.top_jerk->value, 640.0, 1e-9);
  EXPECT_EQ(way.reversals[0], 0.0);
  // Faster than a hundredth of what has been gone, a second: 40 exp(-4 u) > 0.1 (1 - exp(-4 u)).
  EXPECT_NEAR(way.moving_time, std::log(401.0) / 4.0, 1e-4);
  EXPECT_FALSE(measures.channels[0].time_at_limit);
}

TEST(PathReading, ASwingTellsItsTurns) {
  const double w = 5.0, decay = 0.8;
  const auto swing = [=](double t) {
    const double e = std::exp(-decay * t), c = std::cos(w * t), s = std::sin(w * t);
    const double rate = -e * (decay * c + w * s), push = e * ((decay * decay - w * w) * c + 2.0 * decay * w * s);
    return Smooth{1.0 - e * c, -rate, -push, 0.0};
  };
  const CapturedPath path{laid(0.0, 6.0, {swing}, 2000)};
  PlannedMove plan = planned({0.0}, {1.0}, 0.0, 6.0);
  const TakeMeasures measures = read_path(unitless(), path, {plan}, 1e-9);
  const Move& move = measures.moves.at(0);
  // It turns where decay cos = -w sin, first past half a swing.
  const double turn = (std::numbers::pi - std::atan(decay / w)) / w;
  EXPECT_NEAR(*move.peak_time, turn, 1e-6);
  EXPECT_NEAR(*move.overshoot, -100.0 * std::exp(-decay * turn) * std::cos(w * turn), 1e-5);
  // Each way back is exp(-decay pi / w) of the one before; those of a thousandth of the whole count.
  const double ratio = std::exp(-decay * std::numbers::pi / w);
  double way_back = (1.0 + ratio) * std::exp(-decay * turn) * w / std::hypot(w, decay), whole = 1.0;
  int turns = 0;
  for (double at = turn; at < 6.0; at += std::numbers::pi / w, way_back *= ratio) {
    whole = std::max(whole, 1.0 + std::exp(-decay * turn));
    turns += way_back > 1e-3 * whole ? 1 : 0;
  }
  EXPECT_NEAR(measures.channels[0].path.reversals[0], turns, 1);
}

TEST(PathReading, SharesAreTakenInTheSpace) {
  Channel channel = unitless();
  channel.space.space = Space::ratio;
  // ln x goes evenly from ln 1 to ln 16 in 2 s.
  const double rate = std::log(16.0) / 2.0;
  const CapturedPath path{laid(0.0, 2.0, {[=](double t) {
                                 const double x = std::exp(rate * t);
                                 return Smooth{x, rate * x, rate * rate * x, rate * rate * rate * x};
                               }}),
                          laid(2.0, 3.0, {standing(16.0)})};
  const Move move = read_path(channel, path, {planned({1.0}, {16.0}, 0.0, 3.0)}, 1e-9).moves.at(0);
  EXPECT_NEAR(*move.delay_time, 1.0, 1e-6);
  EXPECT_NEAR(*move.rise_time, 1.6, 1e-6);
  EXPECT_NEAR(*move.settling_time, 1.96, 1e-6);
  EXPECT_NEAR(*move.peak_speed, 16.0 * rate, 1e-9); // in the channel's own unit
}

TEST(PathReading, PlacesAreMeasuredAlongTheirWay) {
  const Channel channel = unitless(3);
  // Evenly along (3, 4, 0), and half a metre aside in its middle.
  const auto along = [](double size) { return [=](double t) { return Smooth{size * (t - 1.0), size, 0.0, 0.0}; }; };
  const auto aside = [](double t) {
    const double u = t - 1.0;
    return Smooth{2.0 * u * (1.0 - u), 2.0 - 4.0 * u, -4.0, 0.0};
  };
  const CapturedPath path{laid(0.0, 1.0, {standing(0.0), standing(0.0), standing(0.0)}),
                          laid(1.0, 2.0, {along(3.0), along(4.0), aside}),
                          laid(2.0, 3.0, {standing(3.0), standing(4.0), standing(0.0)})};
  const TakeMeasures measures = read_path(channel, path, {planned({0, 0, 0}, {3, 4, 0}, 1.0, 3.0)}, 1e-9);
  const Move& move = measures.moves.at(0);
  EXPECT_NEAR(*move.delay_time, 0.5, 1e-6);
  EXPECT_NEAR(*move.sideways, 0.5, 1e-6);
  EXPECT_NEAR(*move.peak_speed, std::hypot(5.0, 2.0), 1e-6);
  EXPECT_EQ(measures.channels[0].path.highest[1].value, 4.0);
  EXPECT_EQ(measures.channels[0].path.reversals[2], 1.0);
  EXPECT_EQ(measures.channels[0].path.reversals[0], 0.0);
}

TEST(PathReading, TheSettleBandMayBeWiderOrInTheUnit) {
  const CapturedPath path{laid(0.0, 1.0, {standing(0.0)}), laid(1.0, 6.0, {gliding(0.0, 20.0)})};
  Channel channel = unitless();
  for (const auto& [size, absolute, share] : {std::tuple{10.0, false, 0.1}, {1.0, false, 0.01}, {1.0, true, 0.05}}) {
    channel.settle_band.size = size;
    channel.settle_band.absolute = absolute;
    const Move move = read_path(channel, path, {planned({0.0}, {20.0}, 1.0, 6.0)}, 1e-9).moves.at(0);
    EXPECT_NEAR(*move.settling_time, -std::log(share) / 4.0, 1e-6);
  }
}

TEST(PathReading, WhatIsCutOffHasNotSettledAndWhatIsThereAtOnceHasNoSpeed) {
  const CapturedPath slow{laid(1.0, 1.5, {gliding(2.0, 12.0)})};
  const Move cut_off = read_path(unitless(), slow, {planned({2.0}, {12.0}, 1.0, 1.5)}, 1e-9).moves.at(0);
  EXPECT_FALSE(cut_off.settling_time);
  EXPECT_NEAR(*cut_off.remaining, 10.0 * std::exp(-2.0), 1e-9);
  EXPECT_FALSE(cut_off.start_kick);
  const CapturedPath jump{laid(0.0, 1.0, {standing(2.0)}), laid(1.0, 3.0, {standing(12.0)})};
  const TakeMeasures at_once = read_path(unitless(), jump, {planned({2.0}, {12.0}, 1.0, 3.0)}, 1e-9);
  EXPECT_EQ(*at_once.moves[0].settling_time, 0.0);
  EXPECT_EQ(*at_once.moves[0].rise_time, 0.0);
  EXPECT_FALSE(at_once.moves[0].peak_speed);
  EXPECT_FALSE(at_once.moves[0].jolt);
  EXPECT_EQ(at_once.channels[0].path.travelled, 10.0);
  EXPECT_EQ(at_once.channels[0].path.top_speed.value, 0.0);
}

TEST(PathReading, WithoutAGoalOnlyTheSpeedsAreTold) {
  const CapturedPath path{laid(1.0, 4.0, {gliding(2.0, 12.0)})};
  PlannedMove plan = planned({2.0}, {12.0});
  plan.has_goal = false;
  const Move move = read_path(unitless(), path, {plan}, 1e-9).moves.at(0);
  EXPECT_NEAR(*move.peak_speed, 40.0, 1e-9);
  EXPECT_FALSE(move.delay_time);
  EXPECT_FALSE(move.settling_time);
  EXPECT_FALSE(move.overshoot);
  EXPECT_FALSE(move.remaining);
}

TEST(PathReading, SmallWaysBackAreNone) {
  const auto ripple = [](double t) {
    return Smooth{t + 0.02 * std::sin(120.0 * t), 1.0 + 2.4 * std::cos(120.0 * t), -288.0 * std::sin(120.0 * t), 0.0};
  };
  const CapturedPath path{laid(0.0, 1.0, {ripple}, 4000)};
  EXPECT_GT(read_path(unitless(), path, {}, 1e-9).channels[0].path.reversals[0], 10.0);
  EXPECT_EQ(read_path(unitless(), path, {}, 0.1).channels[0].path.reversals[0], 0.0);
}

} // namespace
} // namespace stasis::test
