// The picture of a path that was led through stops: rows, path, stops and holds are where they belong.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "figure/stops_figure.hpp"
#include "support/figures.hpp"

namespace stasis::test {
namespace {

struct Drawn {
  std::vector<double> times;
  std::vector<LedColumn> columns;
  FoundStops found;
  figure::Figure figure;
};

/// Rests a second, goes up in a second and a half, rests; each column this many times as far.
Drawn drawn(const std::vector<std::string>& names, const std::vector<double>& ways, double begins = 0.0) {
  Drawn out;
  for (int k = 0; k <= 210; ++k) out.times.push_back(begins + k / 60.0);
  for (const double way : ways) {
    LedColumn column;
    for (const double time : out.times) {
      const double share = std::clamp((time - begins - 1.0) / 1.5, 0.0, 1.0);
      column.values.push_back(way * share * share * (3.0 - 2.0 * share));
    }
    column.within = 0.001;
    out.columns.push_back(std::move(column));
  }
  out.found = find_stops(out.times, out.columns);
  figure::StopsDrawing what;
  what.title = "led";
  what.subtitle = "so many rows";
  what.times = out.times;
  what.names = names;
  what.columns = &out.columns;
  what.found = &out.found;
  out.figure = figure::stops_figure(what);
  return out;
}

std::size_t count_of_dots(const figure::Figure& figure) {
  return static_cast<std::size_t>(std::count_if(figure.shapes.begin(), figure.shapes.end(), [](const auto& shape) {
    const auto* mark = std::get_if<figure::Mark>(&shape);
    return mark != nullptr && mark->kind == figure::MarkKind::dot;
  }));
}

TEST(StopsFigure, EachColumnHasItsLineAndItsRows) {
  const Drawn one = drawn({"focus.x", "focus.y", "yaw"}, {10.0, -4.0, 90.0});
  for (const char* const name : {"focus.x", "focus.y", "yaw"}) {
    const auto lines = lines_of(one.figure, name);
    ASSERT_EQ(lines.size(), 1u) << name;
    EXPECT_EQ(lines[0]->points.size(), one.times.size());
  }
  EXPECT_EQ(count_of_dots(one.figure), 3 * one.times.size());
  for (const char* const words : {"led", "so many rows", "focus", "yaw", "dots: recorded"})
    EXPECT_TRUE(says(one.figure, words));
}

TEST(StopsFigure, ALineLiesOverItsDots) {
  const Drawn one = drawn({"yaw"}, {90.0});
  const auto line = lines_of(one.figure, "yaw").front()->points;
  std::vector<figure::Point> dots;
  for (const auto& shape : one.figure.shapes)
    if (const auto* mark = std::get_if<figure::Mark>(&shape)) dots.push_back(mark->at);
  ASSERT_EQ(dots.size(), line.size());
  for (std::size_t k = 0; k < dots.size(); ++k) {
    EXPECT_NEAR(dots[k].x, line[k].x, 1e-9);
    EXPECT_NEAR(dots[k].y, line[k].y, 0.01);
  }
}

TEST(StopsFigure, StopsAreNumberedAndHoldsShaded) {
  const Drawn one = drawn({"yaw"}, {90.0});
  ASSERT_EQ(one.found.stops.size(), 2u);
  EXPECT_TRUE(says(one.figure, "1"));
  EXPECT_TRUE(says(one.figure, "2"));
  std::vector<double> widths;
  for (const auto& shape : one.figure.shapes)
    if (const auto* fill = std::get_if<figure::Fill>(&shape)) widths.push_back(fill->outline[1].x - fill->outline[0].x);
  ASSERT_EQ(widths.size(), 2u) << "both stops are held";
  EXPECT_NEAR(widths[0], widths[1], 2.0) << "a second each";
}

TEST(StopsFigure, TheColumnsThatMoveMostStandForAll) {
  std::vector<std::string> names;
  std::vector<double> ways;
  for (int k = 0; k < 9; ++k) {
    names.push_back("c" + std::to_string(k));
    ways.push_back(1.0 + k);
  }
  const Drawn one = drawn(names, ways);
  EXPECT_EQ(lines_of(one.figure, "c8").size(), 1u);
  EXPECT_EQ(lines_of(one.figure, "c4").size(), 1u);
  EXPECT_TRUE(lines_of(one.figure, "c3").empty()) << "five panels are as many as can be read";
}

TEST(StopsFigure, TextsDoNotCoverEachOtherAndTimesAreThoseOfTheRecording) {
  for (const double begins : {0.0, 12.5}) {
    const Drawn one = drawn({"focus.x", "focus.y", "focus.z", "yaw", "fov"}, {10.0, 9.9, 9.8, 90.0, 20.0}, begins);
    EXPECT_TRUE(misplaced_texts(one.figure).empty()) << misplaced_texts(one.figure).front();
    EXPECT_TRUE(says(one.figure, begins == 0.0 ? "seconds" : "seconds after 12.5 s"));
  }
}

} // namespace
} // namespace stasis::test
