// Columns that may be large: in memory, on a shelf, and back where a shelf has no more room.
#include <algorithm>
#include <cmath>
#include <limits>
#include <random>

#include <gtest/gtest.h>

#include "core/number_column.hpp"
#include "core/scene/track.hpp"

namespace stasis {
namespace {

using Ranges = std::vector<std::pair<std::size_t, std::size_t>>;

/// A shelf in memory with room for so many numbers a column, which notes what it was told to let go.
class ShelfOfRoom final : public NumberShelf {
public:
  explicit ShelfOfRoom(std::size_t room) : room_(room) {}
  std::unique_ptr<NumberSpool> spool() const override {
    return room_ == 0 ? nullptr : std::make_unique<Spool>(room_, let_go_);
  }
  const Ranges& let_go() const { return *let_go_; }

private:
  struct Store final : NumberStore {
    Store(std::vector<double> numbers, std::shared_ptr<Ranges> let_go)
        : all(std::move(numbers)), ranges(std::move(let_go)) {}
    std::span<const double> numbers() const noexcept override { return all; }
    void let_go(std::size_t first, std::size_t last) const noexcept override { ranges->emplace_back(first, last); }
    std::vector<double> all;
    std::shared_ptr<Ranges> ranges;
  };
  struct Spool final : NumberSpool {
    Spool(std::size_t most, std::shared_ptr<Ranges> let_go) : room(most), ranges(std::move(let_go)) {}
    bool take(std::span<const double> numbers) override {
      if (all.size() + numbers.size() > room) return false;
      all.insert(all.end(), numbers.begin(), numbers.end());
      return true;
    }
    std::shared_ptr<const NumberStore> finish() override {
      return std::make_shared<const Store>(std::move(all), ranges);
    }
    std::size_t room;
    std::vector<double> all;
    std::shared_ptr<Ranges> ranges;
  };

  std::size_t room_;
  std::shared_ptr<Ranges> let_go_ = std::make_shared<Ranges>();
};

constexpr std::size_t no_limit = std::numeric_limits<std::size_t>::max();
constexpr std::size_t in_memory = NumberColumnWriter::longest_in_memory, piece = NumberColumnWriter::piece;

double number_at(std::size_t row) { return static_cast<double>(row) * 0.25 - 7.0; }

NumberColumn written(std::size_t count, std::shared_ptr<const NumberShelf> shelf) {
  NumberColumnWriter writer(std::move(shelf));
  for (std::size_t row = 0; row < count; ++row) {
    EXPECT_EQ(writer.size(), row);
    writer.add(number_at(row));
  }
  return writer.finish();
}

TEST(NumberColumn, HoldsWhatWasWrittenWhereverThereIsRoom) {
  for (const std::size_t count : {std::size_t{0}, std::size_t{1}, in_memory - 1, in_memory, in_memory + 1,
                                  in_memory + piece, in_memory + piece + 1, in_memory + 3 * piece + 5})
    for (const std::size_t room : {std::size_t{0}, std::size_t{1}, in_memory, in_memory + piece, no_limit}) {
      const NumberColumn column = written(count, std::make_shared<ShelfOfRoom>(room));
      ASSERT_EQ(column.size(), count) << room;
      for (std::size_t row = 0; row < count; ++row) ASSERT_EQ(column[row], number_at(row)) << room;
    }
}

TEST(NumberColumn, OnlyALongOneLiesOnTheShelf) {
  const auto shelf = std::make_shared<ShelfOfRoom>(no_limit);
  written(in_memory, shelf).let_go(0, 10);
  EXPECT_TRUE(shelf->let_go().empty());
  written(in_memory + 1, shelf).let_go(0, 10);
  EXPECT_EQ(shelf->let_go(), (Ranges{{0, 10}}));
}

/// Every row is let go, in ranges that reach no further than the pass has come.
TEST(NumberColumn, APassLetsGoOfEveryRowBehindIt) {
  const auto shelf = std::make_shared<ShelfOfRoom>(no_limit);
  const std::size_t count = in_memory + 5 * piece + 3;
  const NumberColumn column = written(count, shelf);
  {
    ColumnPass pass(column);
    for (std::size_t row = 0; row < count; ++row) {
      EXPECT_EQ(pass[row], number_at(row));
      ASSERT_LE(shelf->let_go().empty() ? 0 : shelf->let_go().back().second, row);
    }
  }
  std::size_t reached = 0;
  for (const auto& [first, last] : shelf->let_go()) {
    EXPECT_LE(first, reached);
    reached = std::max(reached, last);
  }
  EXPECT_EQ(reached, count);
  EXPECT_GT(shelf->let_go().size(), 3u);
}

TEST(NumberColumn, WhatIsMadeOfAColumnLiesBesideIt) {
  const auto shelf = std::make_shared<ShelfOfRoom>(no_limit);
  const NumberColumn column = written(in_memory + 1, shelf);
  const NumberColumn twice = changed(column, [](double number) { return 2.0 * number; });
  EXPECT_EQ(twice.shelf(), column.shelf());
  for (std::size_t row = 0; row < column.size(); ++row) ASSERT_EQ(twice[row], 2.0 * column[row]);
}

TEST(MiddleStep, IsTheMiddleOneOfAllSteps) {
  std::mt19937_64 random(3);
  for (int trial = 0; trial < 300; ++trial) {
    const std::size_t rows = 2 + random() % 40;
    std::vector<double> time{-5.0};
    while (time.size() < rows) {
      const double step =
          std::exp2(static_cast<double>(random() % 24) - 16.0) * (1.0 + static_cast<double>(random() % 4));
      time.push_back(time.back() + step);
    }
    std::vector<double> steps;
    for (std::size_t row = 1; row < rows; ++row) steps.push_back(time[row] - time[row - 1]);
    std::sort(steps.begin(), steps.end());
    EXPECT_EQ(middle_step(NumberColumn(time)), steps[steps.size() / 2]);
  }
}

} // namespace
} // namespace stasis
