// What holds of a distance that obstacles hold in, whatever stands where, however it moves and on whatever clock.
#include <algorithm>
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;

/// Every row of a channel that obstacles hold in.
class RoomRows final : public BlockSink {
public:
  explicit RoomRows(std::size_t channel) : channel_(channel) {}
  struct Row {
    double time, goal, smooth, limit, hit, wish;
  };
  void begin(const Scene& scene) override { clock_ = scene.clock; }
  void consume(const Block& block) override {
    const ChannelBlock& columns = block.channels[channel_];
    const ComponentBlock& column = columns.component[0];
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row)
      rows.push_back({clock_.time(block.first + static_cast<std::int64_t>(row)), column.goal_at(row),
                      column.smooth[row], columns.ceilings[row], columns.hits[row],
                      column.wishes.empty() ? column.wish : column.wishes[row]});
  }
  void end() override {}
  std::vector<Row> rows;

private:
  std::size_t channel_;
  Clock clock_;
};

std::vector<RoomRows::Row> rows_of(const Feel& feel) {
  RoomRows rows(3);
  BlockSink* const sinks[] = {&rows};
  play(test::scene_of(feel), sinks);
  return rows.rows;
}

/// A subject among piers, a view that is turned, a wheel that is clicked: all by chance.
std::string random_feel(unsigned seed, const std::string& motion, bool never_through, const std::string& clock) {
  std::mt19937 random(seed);
  const auto between = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  std::string piers;
  for (int k = 0; k < 4; ++k)
    piers += fmt::format("[obstacle.pier{}]\nkind = \"box\"\ncentre = [{}, {}, {}]\nsize = [{}, {}, {}]\nturn = {}\n",
                         k, between(-4, 4), between(-1, 1), between(-4, 4), between(0.2, 1.5), between(1, 4),
                         between(0.2, 1.5), between(-180, 180));
  std::string cues;
  for (double at = 0.2; at < 5; at += between(0.1, 0.8))
    cues += fmt::format("  {{ at = {}, click = \"wheel\", count = {} }},\n", at, random() % 2 == 0 ? 1 : -1);
  for (double at = 0.1; at < 5; at += between(0.3, 1.0))
    cues += fmt::format("  {{ at = {}, goal = {{ yaw = {} }} }},\n", at, between(-180, 180));
  return fmt::format(R"(
[picture]
focus = "focus"
distance = "radius"
yaw = "yaw"
pitch = "tilt"
[track.subject]
kind = "eight"
centre = [0, 0, 0]
width = {}
height = {}
lap = {}
[channel.focus]
rest = [0, 0, 0]
follow = "subject"
motion = {{ kind = "glide", half_life = 0.05 }}
[channel.yaw]
unit = "deg"
space = "turn"
rest = 0
motion = {{ kind = "spring", frequency = 1.5, damping_ratio = 0.8 }}
[channel.tilt]
unit = "deg"
rest = {}
[channel.radius]
rest = 3
range = [0.4, 6]
motion = {}
obstacles = {{ thickness = {}, stand_off = {}, never_through = {} }}
[control.wheel]
kind = "clicks"
channel = "radius"
step = 0.4
clicks_from = "{}"
{}
[take.t]
length = 5
clock = {}
cues = [
{}]
)",
                     between(3, 9), between(2, 6), between(3, 9), between(-30, 10), motion, between(0, 0.5),
                     between(0, 0.3), never_through, random() % 2 == 0 ? "view" : "goal", piers, clock, cues);
}

const char* const motions[] = {
    R"({ kind = "glide", half_life = 0.15 })", R"({ kind = "spring", frequency = 1.2, damping_ratio = 0.5 })",
    R"({ rising = { kind = "spring", frequency = 0.8, damping_ratio = 1 }, falling = { kind = "glide", half_life = 0.02 } })",
    R"({ kind = "ease", duration = 0.6, curve = "in-out sine" })",
    R"({ kind = "pace", speed = 5, acceleration = 12 })"};
const char* const clocks[] = {"{ fps = 60 }", "{ fps = 24 }", "{ fps = 60, jitter = 0.6, seed = 3 }",
                              "{ fps = 60, tick = 30 }", "{ fps = 60, tick = 30, order = \"camera_first\" }"};

TEST(RoomProperty, GoalAndValueKeepToTheirBounds) {
  int held = 0, rows = 0;
  for (unsigned seed = 1; seed <= 60; ++seed) {
    const bool never_through = seed % 2 == 0;
    const auto all = rows_of(feel_from(random_feel(seed, motions[seed % 5], never_through, clocks[(seed / 5) % 5])));
    for (const RoomRows::Row& row : all) {
      ++rows;
      held += row.limit < row.wish ? 1 : 0;
      ASSERT_LE(row.limit, row.hit);
      ASSERT_GE(row.limit, 0);
      ASSERT_GE(row.goal, 0.4);
      ASSERT_GE(row.smooth, 0.4);
      ASSERT_LE(row.smooth, 6);
      // The goal is the wish, held to the limit, held to the range.
      ASSERT_NEAR(row.goal, std::clamp(std::min(row.wish, row.limit), 0.4, 6.0), 1e-9) << seed << " at " << row.time;
      if (never_through) {
        ASSERT_LE(row.smooth, std::max(row.hit, 0.4) * (1 + 1e-12)) << seed << " at " << row.time;
      }
    }
  }
  EXPECT_GT(held, rows / 20);
  EXPECT_GT(rows, 10'000);
}

TEST(RoomProperty, NothingInTheWayIsNothingAtAll) {
  for (unsigned seed = 1; seed <= 10; ++seed) {
    const std::string text = random_feel(seed, motions[seed % 5], false, clocks[0]);
    Feel cleared = feel_from(text);
    cleared.takes[0].obstacles.emplace();
    Feel without = feel_from(text);
    without.channels[3].obstacles.reset();
    const auto a = rows_of(cleared);
    const auto b = test::play_rows(without, 3);
    ASSERT_EQ(a.size(), b.smooth.size());
    for (std::size_t k = 0; k < a.size(); ++k) {
      EXPECT_TRUE(std::isinf(a[k].limit) && std::isinf(a[k].hit));
      ASSERT_NEAR(a[k].smooth, b.smooth[k], 1e-12) << seed << " row " << k;
    }
  }
}

/// Added up over a take, a quicker glide inward is beyond its obstacles by less.
TEST(RoomProperty, AFasterWayInNeverGoesDeeper) {
  for (unsigned seed = 1; seed <= 12; ++seed) {
    double deepest_before = unbounded;
    for (const double half_life : {0.4, 0.1, 0.02, 0.004}) {
      const auto rows = rows_of(feel_from(
          random_feel(seed, fmt::format("{{ kind = \"glide\", half_life = {} }}", half_life), false, clocks[0])));
      double sum = 0;
      for (const RoomRows::Row& row : rows) sum += std::max(0.0, row.smooth - std::max(row.hit, 0.4));
      EXPECT_LE(sum, deepest_before + 1e-9) << seed << " " << half_life;
      deepest_before = sum;
    }
  }
}

TEST(RoomProperty, TwoPlaysAreTheSameToTheBit) {
  for (unsigned seed = 1; seed <= 5; ++seed) {
    const Feel feel = feel_from(random_feel(seed, motions[seed % 5], true, clocks[seed % 5]));
    const auto a = rows_of(feel), b = rows_of(feel);
    ASSERT_EQ(a.size(), b.size());
    for (std::size_t k = 0; k < a.size(); ++k) {
      EXPECT_EQ(a[k].smooth, b[k].smooth);
      EXPECT_EQ(a[k].goal, b[k].goal);
    }
  }
}

/// A view that is let out just as a frame begins, or a hair before or after: the same way, whatever the frame rate.
TEST(RoomProperty, LetOutOnAFrameIsLetOutAHairBesideIt) {
  const char* const ways_out[] = {
      "{ kind = \"glide\", half_life = 0.2 }",
      "{ kind = \"spring\", frequency = 2, damping_ratio = 0.5 }",
      "{ kind = \"pace\", speed = 2, acceleration = 10 }",
      "{ rising = { kind = \"glide\", half_life = 0.5 }, falling = { kind = \"glide\", half_life = 0.1 } }",
      "{ kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.1 }, { kind = \"glide\", half_life = 0.2 }] }",
      "{ kind = \"ease\", duration = 0.5, handover = \"restart\" }"};
  const auto ends = [](const char* motion, double from, int fps) {
    const Feel feel = test::feel_from(fmt::format(
        "[picture]\nfocus = \"focus\"\ndistance = \"radius\"\n[track.w]\nkind = \"line\"\nfrom = [0, 1, {0}]\nvelocity "
        "= [0, "
        "0, -3]\n[channel.focus]\nunit = \"m\"\nrest = [0, 1, {0}]\nfollow = \"w\"\n[obstacle.cliff]\nkind = "
        "\"plane\"\nnormal = [0, 0, -1]\nat = [0, 0, 0]\n[channel.radius]\nunit = \"m\"\nrest = 5\nrange = [0.2, "
        "6]\nmotion "
        "= {1}\nobstacles = {{ stand_off = 0.1 }}\n[take.t]\nlength = 1.5\nclock = {{ fps = {2} }}\n",
        from, motion, fps));
    return test::play_rows(feel, 1).smooth.back();
  };
  constexpr double on_a_frame = -2.1; // the room is 5 m after just one second
  for (const char* motion : ways_out) {
    const double expected = ends(motion, on_a_frame, 1000);
    for (const int fps : {24, 30, 60, 1000})
      for (const double hair : {-1e-12, 0.0, 1e-12})
        EXPECT_NEAR(ends(motion, on_a_frame + hair, fps), expected, 1e-9) << motion << " " << fps << " " << hair;
  }
}

} // namespace
} // namespace stasis
