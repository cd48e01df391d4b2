// The figures of frame rates and of ticks, read as data.
#include <algorithm>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "figure/rates_figure.hpp"
#include "support/feels.hpp"
#include "support/figures.hpp"

namespace stasis {
namespace {

using test::misplaced_texts;
using test::says;

figure::Figure figure_of(const std::string& motion, const std::vector<double>& rates) {
  const Feel feel = test::feel_from(test::step_feel(motion, 60, 2, 0.53));
  figure::RatesSeries series;
  const RatesAccount account = play_rates(feel, feel.takes[0], usual_cases(feel.takes[0], rates), {}, &series);
  return figure::rates_figure({&account, &series, "Old", {}});
}

TEST(RatesFigure, NamesEachLineTheWidestGapAndItsCause) {
  const figure::Figure figure =
      figure_of("kind = \"per_frame\", rule = \"fraction\", fraction = 0.07, at_fps = 60", {15, 30, 60, 144});
  for (const char* const rate : {"15 fps", "30 fps", "60 fps", "144 fps"}) {
    const bool drawn = std::any_of(figure.shapes.begin(), figure.shapes.end(), [&](const figure::Shape& shape) {
      const auto* line = std::get_if<figure::Line>(&shape);
      return line != nullptr && line->series == rate && line->points.size() > 20;
    });
    EXPECT_TRUE(drawn) << rate;
    const auto label =
        std::find_if(figure.texts.begin(), figure.texts.end(), [&](const figure::Text& t) { return t.series == rate; });
    ASSERT_NE(label, figure.texts.end()) << rate;
    EXPECT_NE(label->text.find(rate), std::string::npos);
  }
  EXPECT_TRUE(says(figure, "widest: 15 fps"));
  EXPECT_TRUE(says(figure, "which does the same on each frame"));
  EXPECT_TRUE(says(figure, "by its own rule"));
  EXPECT_TRUE(says(figure, "no line for 60 fps, ")); // five colours, six clocks
  EXPECT_EQ(misplaced_texts(figure), std::vector<std::string>{});
}

TEST(RatesFigure, SaysThatAnExactMotionIsExact) {
  const figure::Figure waits = figure_of("kind = \"glide\", half_life = 0.2", {15, 60});
  EXPECT_TRUE(says(waits, "Exact at every rate; inputs wait"));
  EXPECT_EQ(misplaced_texts(waits), std::vector<std::string>{});
}

/// What is explained below the figure is there to be seen: dots where there is room for one a frame, a band where a
/// channel moves.
TEST(RatesFigure, ExplainsOnlyWhatItShows) {
  const auto dots_of = [](const figure::Figure& figure) {
    return std::count_if(figure.shapes.begin(), figure.shapes.end(), [](const figure::Shape& shape) {
      const auto* mark = std::get_if<figure::Mark>(&shape);
      return mark != nullptr && mark->kind == figure::MarkKind::dot;
    });
  };
  const std::string rule = "kind = \"per_frame\", rule = \"fraction\", fraction = 0.07, at_fps = 60";
  const figure::Figure slow = figure_of(rule, {15, 60}), quick = figure_of(rule, {60, 144});
  EXPECT_GT(dots_of(slow), 20);
  EXPECT_TRUE(says(slow, "dots: frames"));
  EXPECT_EQ(dots_of(quick), 0);
  EXPECT_FALSE(says(quick, "dots: frames"));
  EXPECT_TRUE(says(quick, "band: 1 % of the largest move"));
}

/// One line more than there are colours is never drawn, whatever is asked for.
TEST(RatesFigure, HoldsManyRates) {
  const figure::Figure figure = figure_of("kind = \"per_frame\", rule = \"product\", rate = 18, at_fps = 60",
                                          {10, 12, 15, 20, 24, 30, 50, 60, 100, 120, 144, 240});
  std::vector<std::string> series;
  for (const figure::Shape& shape : figure.shapes)
    if (const auto* line = std::get_if<figure::Line>(&shape); line != nullptr && line->series.ends_with(" minus exact"))
      series.push_back(line->series);
  EXPECT_EQ(series.size(), 5u);
  EXPECT_EQ(misplaced_texts(figure), std::vector<std::string>{});
}

TEST(TicksFigure, HasACellForEachOrderAndMarksTheMostEven) {
  const Feel feel = test::feel_from("[track.t]\nkind = \"line\"\nfrom = [0, 0]\nvelocity = [3, 1]\n[channel.a]\nunit = "
                                    "\"m\"\nrest = [0, 0]\nfollow = "
                                    "\"t\"\n[take.x]\nlength = 2\nclock = { fps = 60, tick = 50 }\n");
  const auto studies = study_ticks(feel, feel.takes[0]);
  const figure::Figure figure = figure::ticks_figure({&feel, &feel.takes[0], &studies, "Tick"});
  for (const TickCase& one : studies[0].cases) EXPECT_TRUE(says(figure, one.label)) << one.label;
  EXPECT_TRUE(says(figure, "camera last, blended: the most even"));
  EXPECT_TRUE(says(figure, "20.0 ms late"));
  EXPECT_EQ(misplaced_texts(figure), std::vector<std::string>{});
  // A held subject has stems beyond the middle line, a blended one has none.
  const auto tallest = [&](const std::string& series) {
    double height = 0.0;
    for (const figure::Shape& shape : figure.shapes)
      if (const auto* line = std::get_if<figure::Line>(&shape); line != nullptr && line->series == series)
        height = std::max(height, std::fabs(line->points[1].y - line->points[0].y));
    return height;
  };
  EXPECT_GT(tallest("picture camera last, held"), 20.0);
  EXPECT_LT(tallest("picture camera last, blended"), 3.0);
}

} // namespace
} // namespace stasis
