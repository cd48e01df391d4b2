// The figures of recordings, read as data.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "core/random.hpp"
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

TEST(RecordingFigure, ComponentsGoByTheNamesOfTheirColumns) {
  RecordedValue value;
  value.rows = gliding_rows(3);
  value.channel.name = "east,up,south";
  value.channel.components = 3;
  const figure::Figure figure = figure::recording_figure("heron.csv", value.rows, measure_recording(value));
  for (const char* const column : {"east", "up", "south"}) EXPECT_TRUE(says(figure, column)) << column;
  EXPECT_EQ(component_names(value.channel), (std::vector<std::string>{"east", "up", "south"}));
  value.channel.name = "eye";
  EXPECT_EQ(component_names(value.channel), (std::vector<std::string>{"x", "y", "z"}));
}

/// A rest of one second, a glide, and noise that is as large as how far the glide could go beyond its end.
RecordedValue noisy_glide() {
  RecordedValue value;
  value.channel.name = "reach";
  value.rows.values.resize(1);
  Random random(3);
  for (int k = 0; k < 300; ++k) {
    const double t = k / 60.0;
    value.rows.times.push_back(t);
    value.rows.values[0].push_back(3.0 * (t < 1.0 ? 0.0 : 1.0 - std::exp(-6.0 * (t - 1.0)))
                                   + 0.02 * (random.share() - 0.5));
  }
  return value;
}

TEST(RecordingFigure, TellsNoNumberThatNoiseHides) {
  const RecordedValue value = noisy_glide();
  const RecordingMeasures found = measure_recording(value);
  const figure::Figure figure = figure::recording_figure("heron.csv", value.rows, found);
  ASSERT_EQ(found.measures.moves.size(), 1u);
  std::size_t hidden = 0;
  for (std::size_t m = 0; m < move_measures().size(); ++m) {
    const MoveMeasure& measure = move_measures()[m];
    const auto number = found.measures.moves[0].*measure.value;
    const auto error = found.move_errors[0][m];
    if (!number || !error || !is_hidden_by_noise(measure, *number, *error)) continue;
    ++hidden;
    for (const figure::Text& text : figure.texts) EXPECT_NE(text.source, "moves[0]." + std::string(measure.name));
  }
  EXPECT_GT(hidden, 0u);
}

TEST(RecordingFigure, ShadesWhatRestsOnly) {
  RecordedValue value = noisy_glide();
  for (std::size_t k = 0; k < 60; ++k)
    value.rows.values[0][k] += 4.0 * (value.rows.times[k] - 1.0); // it comes in moving
  const RecordingMeasures found = measure_recording(value);
  ASSERT_FALSE(found.rests.empty());
  for (const TimeSpan& rest : found.rests) EXPECT_GT(rest.from, 1.0);
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
