// A trace's header and its columns, which are made apart from each other, belong together.
#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "core/take/trace_columns.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

/// Holds that every block of a take has a column for each name behind frame, time and dt, a number a row.
class ColumnCount final : public BlockSink {
public:
  void begin(const Scene& scene) override {
    scene_ = &scene;
    names_ = trace_header(scene);
  }
  void consume(const Block& block) override {
    trace_columns(*scene_, block, columns_);
    ASSERT_EQ(columns_.size() + 3, names_.size());
    for (std::size_t k = 0; k < columns_.size(); ++k) {
      const std::size_t rows =
          columns_[k].numbers.empty() ? static_cast<std::size_t>(block.count) : columns_[k].numbers.size();
      EXPECT_GE(rows, static_cast<std::size_t>(block.count)) << names_[k + 3];
    }
    ++blocks;
  }
  void end() override {}
  int blocks = 0;

private:
  const Scene* scene_ = nullptr;
  std::vector<std::string> names_;
  std::vector<ColumnView> columns_;
};

void expect_columns(const Feel& feel) {
  ColumnCount counting;
  BlockSink* const sinks[] = {&counting};
  play({&feel, &feel.takes[0], clock_of(feel.takes[0])}, sinks);
  EXPECT_GT(counting.blocks, 0);
}

TEST(TraceColumns, AreAsManyAsTheirNames) {
  expect_columns(test::feel_from(R"(feel = 1
[picture]
size = [320, 180]
height = { channel = "height" }
[channel.height]
rest = 9
[channel.focus]
rest = [0, 0]
snap = 0.0625
motion = { kind = "glide", half_life = 0.2 }
[channel.focus.follow]
track = "fish"
dead_zone = { size = [1, 1] }
[track.fish]
kind = "line"
from = [0, 0]
velocity = [1, 0.3]
[take.t]
length = 1
)"));
  for (std::uint64_t seed = 1; seed <= 60; ++seed) {
    const std::string text =
        test::FeelMaker(seed, {.tracks = true, .rules_of_frames = true, .switches = true, .sticks = true}).make().text;
    if (test::problems_of(text).empty()) expect_columns(test::feel_from(text)); // not every text is a feel
  }
}

} // namespace
} // namespace stasis
