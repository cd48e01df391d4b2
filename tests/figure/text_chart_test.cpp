// A take as characters: where the value and its goal stand, how wide it is, what is left out.
#include <gtest/gtest.h>

#include "core/text.hpp"
#include "figure/text_chart.hpp"
#include "support/feels.hpp"

namespace stasis::figure {
namespace {

std::string chart_of(const Feel& feel, TextChartSize size, std::vector<std::string> only = {}) {
  TextChart chart(size, std::move(only));
  BlockSink* const sinks[] = {&chart};
  play(test::scene_of(feel), sinks);
  return chart.text();
}

/// The braille characters of a row, as how many dots each has.
std::vector<unsigned> cells_of(std::string_view line) {
  std::vector<unsigned> cells;
  for (std::size_t i = 0; i + 2 < line.size(); ++i) {
    if (static_cast<unsigned char>(line[i]) != 0xE2) continue;
    const unsigned code =
        (static_cast<unsigned char>(line[i + 1]) & 0x3Fu) << 6 | (static_cast<unsigned char>(line[i + 2]) & 0x3Fu);
    cells.push_back(code & 0xFFu);
    i += 2;
  }
  return cells;
}

TEST(TextChart, AStepIsLowThenHigh) {
  const Feel feel = test::feel_from(test::step_feel("kind = \"cut\"", 60, 2, 1.0));
  const std::string text = chart_of(feel, {80, 4});
  const auto lines = split(text, '\n');
  ASSERT_GE(lines.size(), 6u);
  EXPECT_EQ(lines[0].substr(0, 1), "a");
  for (const std::string_view line : lines) EXPECT_LE(code_points(line), 80u) << line;
  const auto top = cells_of(lines[1]), bottom = cells_of(lines[4]);
  ASSERT_EQ(top.size(), 70u);
  for (std::size_t column = 0; column < top.size(); ++column) {
    if (column == 34 || column == 35) continue; // where it jumps
    EXPECT_EQ(top[column] == 0, column < 34) << column;
    EXPECT_EQ(bottom[column] == 0, column > 35) << column;
  }
  EXPECT_NE(lines[1].find("1 "), std::string::npos);
  EXPECT_NE(lines[4].find("0 "), std::string::npos);
}

TEST(TextChart, WhatStandsStillIsLeftOutUnlessAskedFor) {
  const Feel feel = test::feel_from(test::step_feel("kind = \"cut\"", 60, 2, 1.0)
                                    + "[channel.bay]\nrest = 5\nrange = [0, 9]\nmotion = { kind = \"cut\" }\n");
  EXPECT_EQ(chart_of(feel, {80, 4}).find("bay"), std::string::npos);
  EXPECT_EQ(chart_of(feel, {80, 4}, {"bay"}).find("bay"), 0u);
}

TEST(TextChart, ItsSizeIsThatOfTheTerminalAndNotOfTheTake) {
  const Feel feel = test::feel_from(test::step_feel("kind = \"glide\", half_life = 0.3", 240, 60, 1.0));
  for (const std::size_t width : {40u, 120u}) {
    const std::string text = chart_of(feel, {width, 3});
    for (const std::string_view line : split(text, '\n')) EXPECT_LE(code_points(line), width);
  }
}

} // namespace
} // namespace stasis::figure
