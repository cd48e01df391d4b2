// The plan of a take: read from its description.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "figure/plan_figure.hpp"
#include "support/feels.hpp"
#include "support/figures.hpp"

namespace stasis {
namespace {

struct DrawnPlan {
  Feel feel;
  TakeMeasures measures;
  PlanSink plan;
  Figure figure;

  explicit DrawnPlan(const std::string& text) : feel(test::feel_from(text)) {
    const Scene scene = test::scene_of(feel);
    MeasureSink measuring;
    BlockSink* const sinks[] = {&plan, &measuring};
    measures = measuring.take(play(scene, sinks));
    figure = plan_figure({&scene, &measures, &plan, "Title", ""});
  }

  std::vector<const Line*> lines(const std::string& series_name) const { return test::lines_of(figure, series_name); }
  bool says(const std::string& words) const { return test::says(figure, words); }
};

std::string plan_feel(double length, const std::string& follow = "\"fish\"") {
  return "[picture]\nfocus = \"focus\"\ndistance = \"far\"\nlens = { channel = \"lens\" }\n[channel.far]\nunit = "
         "\"m\"\nrest = 5\n[channel.lens]\nunit = \"deg\"\nrest = 50\n[track.fish]\nkind = \"eight\"\ncentre = [0, 0, "
         "0]\nwidth = 8\nheight = 4\nlap = 7\n[channel.focus]\nunit = \"m\"\nrest = [0, 0, 0]\nmotion = { kind = "
         "\"glide\", rate = 3 }\nfollow = "
         + follow + "\n[take.t]\nlength = " + std::to_string(length) + "\n";
}

TEST(PlanFigure, HasAsManyPixelsToAUnitBothWays) {
  const DrawnPlan drawn(plan_feel(7));
  const auto subject = drawn.lines("subject");
  ASSERT_EQ(subject.size(), 1u);
  const auto [left, right] = std::minmax_element(subject[0]->points.begin(), subject[0]->points.end(),
                                                 [](Point a, Point b) { return a.x < b.x; });
  const auto [top, bottom] = std::minmax_element(subject[0]->points.begin(), subject[0]->points.end(),
                                                 [](Point a, Point b) { return a.y < b.y; });
  EXPECT_NEAR((right->x - left->x) / (bottom->y - top->y), 2.0, 0.02);
}

TEST(PlanFigure, NamesEveryLineAndTheWorstLag) {
  const DrawnPlan drawn(plan_feel(14, "{ track = \"fish\", dead_zone = { size = 1 } }"));
  for (const char* words :
       {"fish", "focus", "eye", "trails most here", "lag behind the goal", "fish in the picture", "1 m"})
    EXPECT_TRUE(drawn.says(words)) << words;
  EXPECT_FALSE(drawn.lines("dead zone").empty());
  EXPECT_EQ(drawn.lines("sight").size(), 6u);
  const auto& lag = *drawn.measures.channels[2].follow.lag_distance;
  const bool told = std::any_of(drawn.figure.texts.begin(), drawn.figure.texts.end(),
                                [&](const Text& text) { return text.number == lag; });
  EXPECT_TRUE(told);
  EXPECT_FALSE(drawn.lines("hard").empty());
}

/// Whiskers go from where the channel is to its wish, and stay few however long the take.
TEST(PlanFigure, StaysLegibleForALongTake) {
  const DrawnPlan minute(plan_feel(60)), hour(plan_feel(3600));
  for (const DrawnPlan* drawn : {&minute, &hour}) {
    EXPECT_LE(drawn->lines("wish").size(), 70u);
    EXPECT_GT(drawn->lines("wish").size(), 10u);
    EXPECT_LE(drawn->plan.frames().size(), 8000u);
  }
  EXPECT_EQ(hour.plan.frames().back().time, 3600.0);
}

TEST(PlanFigure, TextsDoNotOverlap) {
  for (const double length : {3.0, 14.0, 60.0}) {
    const DrawnPlan drawn(plan_feel(length));
    EXPECT_EQ(test::misplaced_texts(drawn.figure), std::vector<std::string>{}) << length;
  }
}

} // namespace
} // namespace stasis
