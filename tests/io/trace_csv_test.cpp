#include <gtest/gtest.h>

#include "io/measures_json.hpp"
#include "io/trace_csv.hpp"
#include "support/feels.hpp"
#include "support/program.hpp"

namespace stasis {
namespace {

std::string trace_of(const Feel& feel) {
  std::string text;
  TraceCsvSink sink([&](std::string_view piece) { text += piece; });
  BlockSink* const sinks[] = {&sink};
  play(test::scene_of(feel), sinks);
  return text;
}

TEST(TraceCsv, ReadsBackBitForBit) {
  const Feel feel =
      test::feel_from(test::step_feel("kind = \"spring\", frequency = 3, damping_ratio = 0.2", 144, 20, 0.5));
  const auto rows = test::play_rows(feel);
  auto columns = test::read_csv(trace_of(feel));
  EXPECT_EQ(columns["a.smooth"], rows.smooth);
  EXPECT_EQ(columns["a.value"], rows.value);
  EXPECT_EQ(columns["a.velocity"], rows.velocity);
  EXPECT_EQ(columns["a.goal"], rows.goal);
  EXPECT_EQ(columns["time"], rows.time);
}

TEST(TraceCsv, HasTheContractsColumns) {
  const Feel feel = test::feel_from(R"([channel.focus]
rest = [0, 0]
range = [-1, 1]
[pose.p]
focus = [2, 0]
[control.c]
kind = "hold"
pose = "p"
[take.t]
length = 0.1
clock = { fps = 10 }
cues = [{ at = 0.1, press = "c" }]
)");
  EXPECT_EQ(trace_of(feel),
            "frame,time,dt,focus.goal.x,focus.goal.y,focus.smooth.x,focus.smooth.y,focus.value.x,focus.value.y,"
            "focus.velocity.x,focus.velocity.y,focus.wish.x,focus.wish.y,control.c.down\n"
            "0,0,0,0,0,0,0,0,0,0,0,0,0,0\n"
            "1,0.1,0.1,1,0,0,0,0,0,0,0,2,0,1\n");
}

TEST(TraceCsv, ASpeedWithoutBoundIsAnEmptyCell) {
  const Feel feel =
      test::feel_from(test::step_feel("kind = \"ease\", duration = 1, curve = \"cubic-bezier(0, 1, 1, 1)\"", 10, 0.2));
  const std::string text = trace_of(feel);
  EXPECT_NE(text.find("\n0,0,0,1,0,0,,1\n"), std::string::npos) << text;
  EXPECT_EQ(text.find("inf"), std::string::npos);
  EXPECT_EQ(text.find("nan"), std::string::npos);
}

TEST(MeasuresJson, IsOneLineWithNullForWhatDidNotHappen) {
  const Feel feel = test::feel_from(test::step_feel("kind = \"cut\"", 60, 2, 0.5));
  const std::string json =
      measures_json({"9", "name \"q\"\n</script>", ""}, test::scene_of(feel), test::play_measures(feel));
  EXPECT_EQ(json.find('\n'), std::string::npos);
  EXPECT_TRUE(json.starts_with(
      "{\"stasis\":\"9\",\"feel\":\"name \\\"q\\\" </script>\",\"take\":\"t\",\"variant\":null,\"clock\":"));
  EXPECT_NE(json.find("\"peak_speed\":null"), std::string::npos);
  EXPECT_EQ(json.find("inf"), std::string::npos);
  EXPECT_EQ(json.find("nan"), std::string::npos);
}

} // namespace
} // namespace stasis
