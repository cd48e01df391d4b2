// Long lists of frame times, of which only parts are in memory: the same as if all were kept.
#include <algorithm>
#include <cmath>
#include <random>
#include <vector>

#include <gtest/gtest.h>

#include "core/clock.hpp"
#include "core/frame_times.hpp"
#include "core/measure/rate_instants.hpp"

namespace stasis {
namespace {

/// Times of no pattern that can be guessed, with some that are equal.
class Uneven final : public TimeMaker {
public:
  explicit Uneven(std::size_t count) : left_(count) {}
  std::optional<double> next() override {
    if (left_ == 0) return std::nullopt;
    --left_;
    time_ += static_cast<double>(random_() % 8) / 64;
    return time_;
  }
  std::unique_ptr<TimeMaker> copy() const override { return std::make_unique<Uneven>(*this); }

private:
  std::size_t left_;
  double time_ = 0.0;
  std::minstd_rand random_{7};
};

std::vector<double> all_of(const TimeMaker& maker) {
  std::vector<double> out;
  const auto made = maker.copy();
  while (const auto time = made->next()) out.push_back(*time);
  return out;
}

class LongLists : public testing::TestWithParam<std::size_t> {};

/// Around the length up to which all are kept, and the ends of parts.
INSTANTIATE_TEST_SUITE_P(FrameTimes, LongLists, testing::Values(1, 16384, 65535, 65536, 65537, 81920, 81921, 200'001));

TEST_P(LongLists, TellEveryTimeWhateverWasAskedBefore) {
  const Uneven maker(GetParam());
  const std::vector<double> all = all_of(maker);
  const FrameTimes list(maker);
  ASSERT_EQ(list.size(), all.size());
  EXPECT_EQ(list.back(), all.back());
  for (std::size_t k = 0; k < all.size(); ++k) ASSERT_EQ(list[k], all[k]) << k;
  std::mt19937 random(3);
  for (int n = 0; n < 3000; ++n) {
    // What began long ago beside what is read in order.
    const std::size_t old = (random() % 5) * (all.size() / 5), now = random() % all.size();
    ASSERT_EQ(list[old], all[old]) << old;
    ASSERT_EQ(list[now], all[now]) << now;
  }
}

TEST_P(LongLists, FindTimesAndGiveRowsAcrossParts) {
  const Uneven maker(GetParam());
  const std::vector<double> all = all_of(maker);
  const FrameTimes list(maker);
  std::mt19937 random(5);
  for (int n = 0; n < 500; ++n) {
    const double time = n % 3 == 0 ? all[random() % all.size()]
                                   : std::uniform_real_distribution<double>(-1.0, all.back() + 1.0)(random);
    ASSERT_EQ(list.first_not_before(time),
              static_cast<std::size_t>(std::lower_bound(all.begin(), all.end(), time) - all.begin()));
    ASSERT_EQ(list.first_after(time),
              static_cast<std::size_t>(std::upper_bound(all.begin(), all.end(), time) - all.begin()));
    const std::size_t first = random() % all.size(), count = std::min<std::size_t>(random() % 600, all.size() - first);
    const auto row = list.row(first, count);
    ASSERT_TRUE(std::equal(row.begin(), row.end(), all.begin() + static_cast<std::ptrdiff_t>(first))) << first;
    ASSERT_EQ(row.size(), count);
  }
}

TEST(FrameTimes, ALongClockIsTheShortOneAndMore) {
  Disturbance disturbance;
  disturbance.jitter = 0.6;
  disturbance.seed = 11;
  disturbance.stalls = {{0.3, 0.2}, {400.0, 1.5}};
  disturbance.random_stalls = {0.5, 0.05, 0.25};
  for (const bool is_held : {false, true})
    for (const bool is_slowed : {false, true}) {
      if (is_held) disturbance.longest_frame = 0.05;
      if (is_slowed) disturbance.speeds = {{100.0, 0.3, 2.0}, {500.0, 2.0, 0.0}};
      const Clock part = disturbed_clock(60, 1000, disturbance), all = disturbed_clock(60, 4000, disturbance);
      EXPECT_LT(part.frames, 65536);
      ASSERT_GT(all.frames, 65536 * 3);
      // There and back, the whole length of it.
      for (std::int64_t k = 0; k < part.frames; ++k) {
        const std::int64_t far = all.frames - 1 - 3 * k;
        EXPECT_LT(all.time(far), all.time(far + 1) + 1e-300) << far;
        ASSERT_EQ(all.time(k), part.time(k)) << k;
        ASSERT_EQ(all.drawn_time(k), part.drawn_time(k)) << k;
      }
      EXPECT_EQ(due_frame(all, 987.6), due_frame(part, 987.6));
      EXPECT_EQ(first_frame_at(all, 432.1), first_frame_at(part, 432.1));
      EXPECT_EQ(all.game_at(321.0), part.game_at(321.0));
      EXPECT_EQ(all.drawn_at(321.0), part.drawn_at(321.0));
    }
}

TEST(RateInstants, MergeAndDropThoseThatAreOne) {
  std::mt19937 random(9);
  for (int n = 0; n < 200; ++n) {
    MergedTimes merged;
    std::vector<double> wanted;
    for (std::size_t s = 0; s < 1 + random() % 5; ++s) {
      std::vector<double> times;
      for (std::size_t k = 0; k < random() % 40; ++k)
        times.push_back(static_cast<double>(random() % 50) / 10 + static_cast<double>(random() % 3) * 4e-13);
      std::sort(times.begin(), times.end());
      wanted.insert(wanted.end(), times.begin(), times.end());
      merged.add(GivenTimes(times));
    }
    std::sort(wanted.begin(), wanted.end());
    wanted.erase(std::unique(wanted.begin(), wanted.end(), [](double a, double b) { return b - a < one_instant; }),
                 wanted.end());
    EXPECT_EQ(all_of(merged), wanted);
  }
}

TEST(RateInstants, StepsAreNoLongerThanTheFinestAndOneMoreIsNotDrawn) {
  const auto stepped = [](std::vector<double> times, double finest) {
    return all_of(SteppedTimes(GivenTimes(std::move(times)), finest));
  };
  EXPECT_EQ(stepped({0, 1, 1.5}, 0.25), (std::vector<double>{0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 2.0}));
  EXPECT_EQ(stepped({0, 1, 1.5}, 1e9), (std::vector<double>{0, 1, 1.5, 2.0}));
  EXPECT_EQ(stepped({0, 1, 1.5}, 0.3).size(), 4u + 2u + 2u);
  EXPECT_EQ(stepped({3}, 0.1), (std::vector<double>{3, 4}));
  EXPECT_EQ(stepped({}, 0.1), std::vector<double>{});
}

TEST(RateInstants, AnyMakerGoesOnFromACopy) {
  MergedTimes merged;
  merged.add(FramesOfClock(disturbed_clock(30, 2, {0.5, 4, {}}), RunsOn::clock));
  merged.add(EvenTimes(0.25, 1.9));
  merged.add(GivenTimes({0.1, 0.7, 1.93}));
  const SteppedTimes stepped(merged, 0.01);
  const DrawnTimes drawn(stepped, disturbed_clock(24, 2, {0.2, 4, {}}), false);
  for (const TimeMaker* maker : std::initializer_list<const TimeMaker*>{&stepped, &drawn}) {
    const std::vector<double> all = all_of(*maker);
    EXPECT_TRUE(std::is_sorted(all.begin(), all.end()));
    const auto going = maker->copy();
    for (std::size_t k = 0; k < all.size(); ++k) {
      const std::vector<double> rest = all_of(*going);
      ASSERT_TRUE(std::equal(rest.begin(), rest.end(), all.begin() + static_cast<std::ptrdiff_t>(k), all.end())) << k;
      EXPECT_EQ(going->next(), all[k]);
    }
  }
}

TEST(RateInstants, EvenTimesBeginAt0AndEndBeforeTheEnd) {
  EXPECT_EQ(all_of(EvenTimes(0.25, 1.0)), (std::vector<double>{0, 0.25, 0.5, 0.75}));
  EXPECT_EQ(all_of(EvenTimes(0.25, 0.0)), (std::vector<double>{0}));
}

} // namespace
} // namespace stasis
