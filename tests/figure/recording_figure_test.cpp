// The figures of recordings, read as data.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "figure/match_figure.hpp"
#include "figure/recording_figure.hpp"
#include "support/figures.hpp"

namespace stasis {
namespace {

using test::misplaced_texts;
using test::says;

RecordedRows gliding_rows(std::size_t components) {
  RecordedRows rows;
  rows.values.resize(components);
  for (int k = 0; k < 240; ++k) {
    const double t = k / 80.0, share = t < 0.5 ? 0.0 : 1.0 - std::exp(-6.0 * (t - 0.5));
    rows.times.push_back(t);
    for (std::size_t c = 0; c < components; ++c) rows.values[c].push_back(1.0 + (3.0 - static_cast<double>(c)) * share);
  }
  return rows;
}

figure::Figure drawn(std::size_t components) {
  RecordedValue value;
  value.rows = gliding_rows(components);
  value.channel.name = "reach";
  value.channel.unit = "m";
  value.channel.components = components;
  return figure::recording_figure("heron.csv", value.rows, measure_recording(value));
}

std::size_t marks_of(const figure::Figure& figure, figure::MarkKind kind) {
  return static_cast<std::size_t>(std::count_if(figure.shapes.begin(), figure.shapes.end(), [&](const auto& shape) {
    const auto* mark = std::get_if<figure::Mark>(&shape);
    return mark != nullptr && mark->kind == kind;
  }));
}

bool has_line(const figure::Figure& figure, const std::string& series) {
  return std::any_of(figure.shapes.begin(), figure.shapes.end(), [&](const auto& shape) {
    const auto* line = std::get_if<figure::Line>(&shape);
    return line != nullptr && line->series == series && line->points.size() > 20;
  });
}

TEST(RecordingFigure, ShowsRowsPathSpeedAndTheMove) {
  const figure::Figure figure = drawn(1);
  EXPECT_EQ(marks_of(figure, figure::MarkKind::dot), 240u);
  EXPECT_EQ(marks_of(figure, figure::MarkKind::diamond), 1u);
  EXPECT_TRUE(has_line(figure, "reach"));
  EXPECT_TRUE(has_line(figure, "reach speed"));
  EXPECT_TRUE(says(figure, "sets off at 0.5 s"));
  EXPECT_TRUE(says(figure, "settled after 0.652 s"));
  EXPECT_TRUE(says(figure, "at most 18.0 m/s"));
  EXPECT_TRUE(says(figure, "without noise"));
  EXPECT_TRUE(says(figure, "velocity"));
  EXPECT_EQ(misplaced_texts(figure), std::vector<std::string>{});
}

TEST(RecordingFigure, ShowsEachComponent) {
  const figure::Figure figure = drawn(3);
  for (const char* const line : {"reach.x", "reach.y", "reach.z"}) EXPECT_TRUE(has_line(figure, line)) << line;
  EXPECT_EQ(marks_of(figure, figure::MarkKind::dot), 720u);
  EXPECT_TRUE(says(figure, "speed"));
  EXPECT_EQ(misplaced_texts(figure), std::vector<std::string>{});
}

TEST(RecordingFigure, ANumberStatesWhereItIsFrom) {
  const figure::Figure figure = drawn(1);
  for (const char* const source : {"moves[0].start", "moves[0].peak_speed", "moves[0].settling_time"}) {
    const auto text = std::find_if(figure.texts.begin(), figure.texts.end(),
                                   [&](const figure::Text& one) { return one.source == source; });
    ASSERT_NE(text, figure.texts.end()) << source;
    EXPECT_TRUE(text->number) << source;
  }
}

TEST(MatchFigure, AGoalThatMovesIsDrawnToo) {
  figure::MatchDrawing drawing;
  drawing.title = "x behind its goal: glide";
  drawing.unit = "m";
  for (int k = 0; k < 100; ++k) {
    drawing.times.push_back(k / 60.0);
    drawing.values.push_back(std::sin(k / 20.0 - 0.3));
    drawing.goal.push_back(std::sin(k / 20.0));
  }
  drawing.rules.push_back({"glide", drawing.values});
  const figure::Figure with = figure::match_figure(drawing);
  EXPECT_TRUE(has_line(with, "goal"));
  EXPECT_TRUE(says(with, "thin: its goal"));
  EXPECT_EQ(misplaced_texts(with), std::vector<std::string>{});
  drawing.goal.clear();
  const figure::Figure without = figure::match_figure(drawing);
  EXPECT_FALSE(has_line(without, "goal"));
  EXPECT_FALSE(says(without, "thin:"));
}

} // namespace
} // namespace stasis
