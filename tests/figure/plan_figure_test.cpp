// The plan of a take: read from its description.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "core/view/obstacle_plan.hpp"
#include "figure/plan_figure.hpp"
#include "figure/take_figure.hpp"
#include "support/feels.hpp"
#include "support/figures.hpp"

namespace stasis {
namespace {

struct DrawnPlan {
  Feel feel;
  TakeMeasures measures;
  figure::PlanSink plan;
  figure::Figure figure;

  explicit DrawnPlan(const std::string& text) : feel(test::feel_from(text)) {
    const Scene scene = test::scene_of(feel);
    MeasureSink measuring;
    BlockSink* const sinks[] = {&plan, &measuring};
    measures = measuring.take(play(scene, sinks));
    figure = figure::plan_figure({&scene, &measures, &plan, "Title", ""});
  }

  std::vector<const figure::Line*> lines(const std::string& series_name) const {
    return test::lines_of(figure, series_name);
  }
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
                                                 [](figure::Point a, figure::Point b) { return a.x < b.x; });
  const auto [top, bottom] = std::minmax_element(subject[0]->points.begin(), subject[0]->points.end(),
                                                 [](figure::Point a, figure::Point b) { return a.y < b.y; });
  EXPECT_NEAR((right->x - left->x) / (bottom->y - top->y), 2.0, 0.02);
}

TEST(PlanFigure, NamesEveryLineAndTheWorstLag) {
  const DrawnPlan drawn(plan_feel(14, "{ track = \"fish\", dead_zone = { size = 1 } }"));
  for (const char* words :
       {"fish", "focus", "eye", "lags most here", "lag behind the goal", "fish in the picture", "1 m"})
    EXPECT_TRUE(drawn.says(words)) << words;
  EXPECT_FALSE(drawn.lines("dead zone").empty());
  EXPECT_EQ(drawn.lines("sight").size(), 6u);
  const auto& lag = *drawn.measures.channels[2].follow.lag_distance;
  const bool told = std::any_of(drawn.figure.texts.begin(), drawn.figure.texts.end(),
                                [&](const figure::Text& text) { return text.number == lag; });
  EXPECT_TRUE(told);
  EXPECT_FALSE(drawn.lines("hard").empty());
}

/// Whiskers go from where the channel is to its wish, and stay few however long the take.
// Where a sequence cuts, nothing was gone through, and what is not there yet does not lag.
TEST(PlanFigure, IsInPiecesWhereASequenceCuts) {
  const DrawnPlan drawn(
      plan_feel(7)
      + "cues = [{ at = 2, start = \"tour\" }]\n[sequence.tour]\nstops = [{ focus = [40, 0, 0], hold = "
        "1 }, { focus = [-40, 0, 0], cut = true, hold = 1 }]\n");
  EXPECT_EQ(std::count_if(drawn.plan.frames().begin(), drawn.plan.frames().end(),
                          [](const figure::PlanFrame& frame) { return frame.is_cut; }),
            2);
  for (const figure::Line* line : drawn.lines("value"))
    for (std::size_t k = 1; k < line->points.size(); ++k)
      EXPECT_LT(std::hypot(line->points[k].x - line->points[k - 1].x, line->points[k].y - line->points[k - 1].y), 60.0);
  for (const figure::PlanFrame& frame : drawn.plan.frames()) {
    if (!frame.catches_up) {
      EXPECT_LT(frame.lag, 10.0) << frame.time;
    }
  }
}

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

std::string walled_feel(const std::string& take = "") {
  return plan_feel(7) + take + R"(
[obstacle.pier]
kind = "box"
centre = [0, 0, 3]
size = [2, 4, 1]
turn = 30
[obstacle.rock]
kind = "sphere"
centre = [-3, 0, -2]
diameter = 2
[obstacle.fence]
kind = "wall"
points = [[3, -90], [3, 90]]
[obstacle.cliff]
kind = "plane"
at = [0, 0, 5]
normal = [0, 0, -1]
[obstacle.floor]
kind = "plane"
at = [0, -1, 0]
[obstacle.hill]
kind = "box"
centre = [400, 0, 0]
size = 3
)";
}

/// A plan of a view that obstacles hold in.
DrawnPlan drawn_walls(const std::string& take = "") {
  std::string text = walled_feel(take);
  text.replace(
      text.find("rest = 5"), 8,
      "rest = 5\nrange = [0.2, 9]\nmotion = { kind = \"glide\", half_life = 0.2 }\nobstacles = { stand_off = 0.1 }");
  return DrawnPlan(text);
}

TEST(PlanFigure, ShowsAndNamesWhatStandsThere) {
  const DrawnPlan drawn = drawn_walls();
  for (const char* name : {"pier", "rock", "fence", "cliff"}) {
    EXPECT_FALSE(drawn.lines(std::string("wall ") + name).empty()) << name;
    EXPECT_TRUE(drawn.says(name)) << name;
  }
  // Neither a floor nor what is far away is on the plan; what is cut off stays inside it.
  for (const char* name : {"floor", "hill"}) EXPECT_TRUE(drawn.lines(std::string("wall ") + name).empty()) << name;
  for (const figure::Point& p : drawn.lines("wall fence")[0]->points) {
    EXPECT_GE(p.y, 84 - 1e-9);
    EXPECT_LE(p.y, 752 + 1e-9);
  }
  EXPECT_EQ(test::misplaced_texts(drawn.figure), std::vector<std::string>{});
}

TEST(PlanFigure, ShowsWhereTheEyeIsThroughAnObstacle) {
  const DrawnPlan drawn = drawn_walls();
  const auto& room = drawn.measures.channels[0].follow;
  ASSERT_GT(*room.penetration, 0);
  EXPECT_FALSE(drawn.lines("through").empty());
  EXPECT_TRUE(drawn.says("through " + drawn.feel.obstacles[*room.worst_obstacle].name));
  const DrawnPlan open = drawn_walls("obstacles = []\n");
  EXPECT_TRUE(open.lines("through").empty());
  EXPECT_TRUE(drawn.says("red: the eye is through"));
  EXPECT_FALSE(open.says("red: the eye is through")); // nothing is red there
  EXPECT_TRUE(open.lines("wall pier").empty());
}

/// Every outline lies where the obstacle is: a place drawn inside is one that a thin ray touches at once.
TEST(ObstaclePlan, OutlinesAreWhereTheObstaclesAre) {
  const Feel feel = test::feel_from(walled_feel());
  const PlanBounds view{-6, 6, -6, 6};
  const auto shapes = obstacles_on_plan(feel, feel.takes[0], view, 0.0);
  ASSERT_EQ(shapes.size(), 4u);
  for (const PlanObstacle& shape : shapes) {
    const auto obstacle = std::find_if(feel.obstacles.begin(), feel.obstacles.end(),
                                       [&](const Obstacle& one) { return one.name == shape.name; });
    for (const auto& piece : shape.pieces) {
      PlanPlace middle{0, 0};
      for (const PlanPlace& p : piece) {
        middle = {middle[0] + p[0] / static_cast<double>(piece.size()),
                  middle[1] + p[1] / static_cast<double>(piece.size())};
        EXPECT_LE(std::max(std::fabs(p[0]), std::fabs(p[1])), 6 + 1e-9);
      }
      for (const PlanPlace& p : piece) {
        const auto touch = [&](double out) {
          const Ray ray{
              {middle[0] + out * (p[0] - middle[0]), 0, middle[1] + out * (p[1] - middle[1])}, {0, 1, 0}, 1e-9};
          const auto hit = hit_of(ray, obstacle->shape);
          return hit && hit->distance == 0.0;
        };
        EXPECT_TRUE(touch(shape.is_line ? 1.0 : 0.98)) << shape.name;
        const bool cut_off = std::max(std::fabs(p[0]), std::fabs(p[1])) > 6 - 1e-9;
        if (!shape.is_line && !cut_off) {
          EXPECT_FALSE(touch(1.02)) << shape.name;
        }
      }
    }
  }
}

/// The take's figure is grey from the hit on, and says how far the view went through.
TEST(TakeFigure, IsGreyWhereAnObstacleBegins) {
  const DrawnPlan drawn = drawn_walls();
  const Scene scene = test::scene_of(drawn.feel);
  figure::SeriesSink series;
  BlockSink* const sinks[] = {&series};
  play(scene, sinks);
  const figure::Figure figure = figure::take_figure({&scene, &drawn.measures, &series, "Title", "", {}, false});
  EXPECT_EQ(test::lines_of(figure, "far.hit").size(), 1u);
  const double through = *drawn.measures.channels[0].follow.penetration;
  EXPECT_TRUE(std::any_of(figure.texts.begin(), figure.texts.end(), [&](const figure::Text& text) {
    return text.source == "channels.far.penetration" && text.number == through;
  }));
  EXPECT_EQ(test::misplaced_texts(figure), std::vector<std::string>{});
}

} // namespace
} // namespace stasis
