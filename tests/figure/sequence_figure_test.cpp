// The figure of a sequence: read from its description.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "core/text.hpp"
#include "figure/sequence_figure.hpp"
#include "support/feels.hpp"
#include "support/figures.hpp"

namespace stasis {
namespace {

struct DrawnSequence {
  Feel feel;
  TakeMeasures measures;
  figure::SequenceSink series;
  figure::Figure figure;

  explicit DrawnSequence(const std::string& stops, const std::string& more = "")
      : feel(test::feel_from(R"([picture]
position = "eye"
yaw = "yaw"
[channel.eye]
unit = "m"
rest = [0, 2, 6]
motion = { kind = "glide", half_life = 0.2 }
[channel.yaw]
unit = "deg"
space = "turn"
rest = 0
motion = { kind = "glide", half_life = 0.2 }
[sequence.round]
)" + stops + R"(
[take.t]
length = 7
cues = [{ at = 0.5, start = "round" })"
                             + more + "]\n")) {
    const Scene scene = test::scene_of(feel);
    MeasureSink measuring;
    BlockSink* const sinks[] = {&series, &measuring};
    measures = measuring.take(play(scene, sinks));
    figure = figure::sequence_figure({&scene, &measures, &series, 0, "Title", ""});
  }
};

const char* const round_way = R"(stops = [
  { eye = [0, 2, 6], yaw = 0 }, { at = 1, eye = [6, 2, 0], yaw = 90 }, { at = 3, eye = [0, 2, -6], yaw = 180 },
  { at = 5, eye = [-6, 2, 0], yaw = -90 },
])";

TEST(SequenceFigure, NumbersItsStopsAndTellsItsTopSpeeds) {
  const DrawnSequence drawn(round_way);
  EXPECT_TRUE(test::misplaced_texts(drawn.figure).empty())
      << ::testing::PrintToString(test::misplaced_texts(drawn.figure));
  for (const char* number : {"1", "2", "3", "4"}) EXPECT_TRUE(test::says(drawn.figure, number));
  double fastest = 0.0, turning = 0.0;
  for (const LegSummary& leg : drawn.measures.sequences[0].legs) {
    fastest = std::max(fastest, leg.leg.top_speed);
    turning = std::max(turning, leg.top_turn_speed.value_or(0.0));
  }
  EXPECT_TRUE(test::says(drawn.figure, readable(fastest) + " m/s"));
  EXPECT_TRUE(test::says(drawn.figure, readable(turning) + " deg/s"));
  ASSERT_EQ(test::lines_of(drawn.figure, "way").size(), 1U);
  EXPECT_EQ(test::lines_of(drawn.figure, "look").size(), 4U);
}

TEST(SequenceFigure, ACutLeavesTheWayInTwo) {
  const DrawnSequence drawn(R"(stops = [
  { eye = [0, 2, 6] }, { at = 2, eye = [6, 2, 0] }, { at = 2, eye = [0, 2, -6], cut = true }, { at = 4, eye = [-6, 2, 0] },
])");
  EXPECT_EQ(test::lines_of(drawn.figure, "way").size(), 2U);
}

TEST(SequenceFigure, ASkippedOneEndsWhereItWasSkipped) {
  const DrawnSequence whole(round_way), skipped(round_way, ", { at = 2.5, skip = \"round\" }");
  EXPECT_TRUE(test::says(skipped.figure, "in 2.00 s"));
  EXPECT_LT(test::lines_of(skipped.figure, "way")[0]->points.size(),
            test::lines_of(whole.figure, "way")[0]->points.size());
  EXPECT_EQ(test::lines_of(skipped.figure, "look").size(), 2U);
}

} // namespace
} // namespace stasis
