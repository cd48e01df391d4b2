#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "io/measures_json.hpp"
#include "io/trace_csv.hpp"
#include "support/feels.hpp"
#include "support/program.hpp"

namespace stasis {
namespace {

std::string trace_of(const Feel& feel) {
  std::string text;
  io::TraceCsvSink sink([&](std::string_view piece) { text += piece; });
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

/// A distance with nothing in its way for half a second, then 2 for half a second.
Feel held_feel() {
  return test::feel_from(R"([track.clear]
kind = "steps"
places = [[9], [2], [9]]
every = 0.5
[obstacle.level]
kind = "recorded"
track = "clear"
[obstacle.wall]
kind = "wall"
points = [[-1, 4], [1, 4]]
[picture]
focus = "focus"
distance = "radius"
yaw = "yaw"
[channel.focus]
rest = [0, 0, 0]
[channel.yaw]
unit = "deg"
rest = 0
[channel.radius]
unit = "m"
rest = 5
range = [0.5, 8]
motion = { kind = "glide", half_life = 0.05 }
obstacles = { stand_off = 0.25, only = ["wall", "level"] }
[take.t]
length = 2
clock = { fps = 10 }
cues = [{ at = 1.5, goal = { yaw = 180 } }]
)");
}

TEST(TraceCsv, RoomWithoutEndIsAnEmptyCell) {
  Feel feel = held_feel();
  auto both = test::read_csv(trace_of(feel));
  EXPECT_EQ(both["radius.hit"][2], 4); // the wall
  EXPECT_EQ(both["radius.limit"][2], 3.75);
  EXPECT_EQ(both["radius.hit"][7], 2); // what is recorded is nearer
  EXPECT_EQ(both["radius.goal"][7], 1.75);
  feel.takes[0].obstacles = std::vector<std::size_t>{1};
  const std::string text = trace_of(feel);
  auto wall = test::read_csv(text);
  EXPECT_EQ(wall["radius.hit"][7], 4);
  EXPECT_TRUE(std::isnan(wall["radius.hit"].back())); // looked away from
  EXPECT_TRUE(std::isnan(wall["radius.limit"].back()));
  EXPECT_EQ(text.find("inf"), std::string::npos);
  EXPECT_EQ(text.find("nan"), std::string::npos);
}

TEST(MeasuresJson, GivesEveryNumberAUnitOfItsOwn) {
  const Feel feel = test::feel_from(
      "[channel.a]\nspace = \"ratio\"\nunit = \"m\"\nrest = [1, 2]\n[channel.b]\nunit = \"m\"\nrest = [1, 2]\n"
      "[shake.s]\non = { \"b.x\" = 0.1 }\nwave = { kind = \"noise\", frequency = 5 }\ndecay = { kind = \"half_life\", "
      "half_life = 0.2 }\n"
      "[take.t]\nlength = 1\ncues = [{ at = 0.1, hit = \"s\" }]\n");
  const auto units = nlohmann::json::parse(
      io::measures_json({"9", "f", ""}, test::scene_of(feel), test::play_measures(feel)))["units"];
  EXPECT_EQ(units["a.sideways"], "1"); // a distance in the space: of logarithms
  EXPECT_EQ(units["b.sideways"], "m");
  EXPECT_EQ(units["layers.s.quiet_after"], "s");
  EXPECT_EQ(units["layers.s.b.x.peak"], "m");
  EXPECT_EQ(units["layers.s.b.x.speed_rms"], "m/s");
}

TEST(MeasuresJson, SaysWhatTheViewWentThroughAndWhen) {
  const Feel feel = held_feel();
  const auto json =
      nlohmann::json::parse(io::measures_json({"9", "f", ""}, test::scene_of(feel), test::play_measures(feel)));
  const auto& room = json["follow"]["radius"];
  EXPECT_EQ(room["penetration_of"], "level");
  EXPECT_EQ(room["penetration_at"], 0.5);
  EXPECT_NEAR(room["penetration"].get<double>(), 3.75 - 2, 1e-12);
  EXPECT_TRUE(room["advised_half_life"].is_null());
  const auto& notes = json["notes"];
  EXPECT_TRUE(std::any_of(notes.begin(), notes.end(), [](const nlohmann::json& note) {
    return note.get<std::string>().find("no half-life would have kept it out") != std::string::npos;
  }));
  EXPECT_EQ(json["units"]["radius.penetration"], "m");
  EXPECT_EQ(json["units"]["penetration_frames"], "frames");
  // The same number stands where wants look for it.
  EXPECT_EQ(json["channels"]["radius"]["penetration"], room["penetration"]);
}

TEST(MeasuresJson, IsNullWhereNothingWasMetAndAbsentWhereNothingCanBe) {
  Feel feel = held_feel();
  feel.takes[0].obstacles.emplace();
  const auto json =
      nlohmann::json::parse(io::measures_json({"9", "f", ""}, test::scene_of(feel), test::play_measures(feel)));
  const auto& room = json["follow"]["radius"];
  EXPECT_EQ(room["penetration"], 0);
  EXPECT_EQ(room["held_time"], 0);
  for (const char* none : {"penetration_at", "penetration_of", "advised_half_life", "let_out_time", "let_out_speed"})
    EXPECT_TRUE(room[none].is_null()) << none;
  EXPECT_FALSE(json["channels"]["yaw"].contains("penetration"));
}

TEST(MeasuresJson, IsOneLineWithNullForWhatDidNotHappen) {
  const Feel feel = test::feel_from(test::step_feel("kind = \"cut\"", 60, 2, 0.5));
  const std::string json =
      io::measures_json({"9", "name \"q\"\n</script>", ""}, test::scene_of(feel), test::play_measures(feel));
  EXPECT_EQ(json.find('\n'), std::string::npos);
  EXPECT_TRUE(json.starts_with(
      "{\"stasis\":\"9\",\"feel\":\"name \\\"q\\\" </script>\",\"take\":\"t\",\"variant\":null,\"clock\":"));
  EXPECT_NE(json.find("\"peak_speed\":null"), std::string::npos);
  EXPECT_EQ(json.find("inf"), std::string::npos);
  EXPECT_EQ(json.find("nan"), std::string::npos);
}

} // namespace
} // namespace stasis
