// Sequences through the built program: what is run, told, stepped and refused.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis {
namespace {

using Json = nlohmann::json;
using test::Ended;
using test::run_program;
using test::TempDir;

std::string tour_feel(const std::string& cues = "{ at = 0.5, start = \"tour\" }") {
  return fmt::format(R"(title = "A tour"
[picture]
position = "eye"
yaw = "yaw"
[channel.eye]
unit = "m"
rest = [0, 2, 6]
motion = "soft"
[channel.yaw]
unit = "deg"
space = "turn"
rest = 0
motion = "soft"
[motion.soft]
kind = "spring"
frequency = 2
damping_ratio = 1
[sequence.tour]   # round the pool
stops = [
  {{ eye = [0, 2, 6], yaw = 0 }},
  {{ at = 1, eye = [6, 2, 0], yaw = 90 }},        # from the bank
  {{ after = 1, eye = [0, 2, -6], yaw = 180, hold = 0.5 }},
  {{ after = 1, eye = [0, 4, 6], yaw = 0, curve = "in-out sine" }},
]
[control.look]
kind = "sequence"
sequence = "tour"
[take.t]
length = 6
cues = [{}]
)",
                     cues);
}

TEST(SequenceCommand, RunMeasuresItsLegsAsTheContractSays) {
  const TempDir folder;
  folder.write("tour.toml", tour_feel());
  const Ended ended = run_program(folder, {"run", "tour.toml", "--json", "-o", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const Json tour = Json::parse(ended.out)["sequences"]["tour"];
  EXPECT_EQ(tour["starts"], 1);
  EXPECT_EQ(tour["skips"], 0);
  ASSERT_EQ(tour["legs"].size(), 4U);
  double start = 0.5;
  for (std::size_t k = 0; k < 4; ++k) {
    const Json& leg = tour["legs"][k];
    EXPECT_EQ(leg["from"], k);
    EXPECT_EQ(leg["to"], k + 1);
    EXPECT_NEAR(leg["start"].get<double>(), start, 1e-9);
    EXPECT_NEAR(leg["duration"].get<double>(), k == 0 ? 0.0 : 1.0, 1e-9);
    start += k == 0 ? 0.0 : k == 2 ? 1.5 : 1.0;
  }
  // The last leg is straight, of 12 m and 2 m across, along a half wave of a cosine.
  EXPECT_NEAR(tour["legs"][3]["length"].get<double>(), std::hypot(12.0, 2.0), 1e-9);
  EXPECT_NEAR(tour["legs"][3]["top_speed"].get<double>(), std::hypot(12.0, 2.0) * std::acos(-1.0) / 2.0, 1e-6);
  EXPECT_GT(tour["legs"][1]["top_turn_speed"].get<double>(), 90.0);
}

TEST(SequenceCommand, RunWritesItsFigureAndItsColumn) {
  const TempDir folder;
  folder.write("tour.toml", tour_feel("{ at = 0.5, start = \"tour\" }, { at = 2, skip = \"tour\" }"));
  const Ended ended = run_program(folder, {"run", "tour.toml", "-o", "out", "--figure", "svg"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("out/t.sequence.tour.svg"), std::string::npos);
  EXPECT_NE(ended.out.find("sequence tour, along eye, skipped"), std::string::npos) << ended.out;
  const std::string trace = folder.read("out/t.trace.csv");
  const std::string header = trace.substr(0, trace.find('\n'));
  EXPECT_NE(header.find(",sequence.tour,"), std::string::npos) << header;
  const auto commas = [](const std::string& text) { return std::count(text.begin(), text.end(), ','); };
  const auto column = commas(header.substr(0, header.find(",sequence.tour,"))) + 1;
  std::size_t at = 0;
  for (int row = 0; row <= 360; ++row) {
    at = trace.find('\n', at) + 1;
    std::size_t cell = at;
    for (long k = 0; k < column; ++k) cell = trace.find(',', cell) + 1;
    EXPECT_EQ(trace[cell], row >= 30 && row < 120 ? '1' : '0') << row;
  }
}

TEST(SequenceCommand, ExplainTellsItStopByStop) {
  const TempDir folder;
  folder.write("tour.toml", tour_feel());
  const Ended words = run_program(folder, {"explain", "tour.toml"});
  EXPECT_NE(words.out.find("sequence tour: 3.50 s"), std::string::npos) << words.out;
  EXPECT_NE(words.out.find("3: eye (0, 2, \u22126) m, yaw 180 deg"), std::string::npos) << words.out;
  const Json json = Json::parse(run_program(folder, {"explain", "tour.toml", "--json"}).out);
  const Json& tour = json["sequences"]["tour"];
  EXPECT_EQ(tour["along"], "eye");
  EXPECT_EQ(tour["stops"][3]["way"], "eased");
  EXPECT_TRUE(tour["given_up"].empty());
  const Ended other = run_program(folder, {"explain", "tour.toml", "--json", "--set", "sequence.tour.steady=true"});
  EXPECT_EQ(Json::parse(other.out)["sequences"]["tour"]["given_up"].size(), 1U);
}

TEST(SequenceCommand, StepBeginsAndSkipsIt) {
  const TempDir folder;
  folder.write("tour.toml", tour_feel(""));
  std::string lines = "{\"dt\": 0}\n{\"dt\": 0.5, \"inputs\": [{\"start\": \"tour\"}]}\n{\"dt\": 1}\n{\"dt\": 1}\n"
                      "{\"dt\": 0.1, \"inputs\": [{\"skip\": \"tour\"}]}\n";
  const Ended ended = run_program(folder, {"step", "tour.toml"}, lines);
  ASSERT_EQ(ended.status, 0) << ended.err;
  std::vector<Json> frames;
  for (std::size_t at = 0; at < ended.out.size();) {
    const std::size_t end = ended.out.find('\n', at);
    frames.push_back(Json::parse(ended.out.substr(at, end - at)));
    at = end + 1;
  }
  ASSERT_EQ(frames.size(), 5U);
  EXPECT_NEAR(frames[2]["channels"]["yaw"]["value"].get<double>(), 90.0, 1e-9) << frames[2];
  EXPECT_NEAR(frames[3]["channels"]["yaw"]["value"].get<double>(), 180.0, 1e-9);
  EXPECT_NEAR(frames[4]["channels"]["yaw"]["goal"].get<double>(), 0.0, 360.0);
}

TEST(SequenceCommand, SetKeepsItsCommentsAndFaultsNameTheirKey) {
  const TempDir folder;
  folder.write("tour.toml", tour_feel());
  const Ended changed = run_program(folder, {"set", "tour.toml", "sequence.tour.stops[1].at=1.5"});
  ASSERT_EQ(changed.status, 0) << changed.err;
  const std::string text = folder.read("tour.toml");
  EXPECT_NE(text.find("{ at = 1.5, eye = [6, 2, 0], yaw = 90 },        # from the bank"), std::string::npos) << text;
  std::string wrong = tour_feel();
  wrong.replace(wrong.find("hold = 0.5"), 4, "hodl");
  folder.write("wrong.toml", wrong);
  const Ended refused = run_program(folder, {"run", "wrong.toml"});
  EXPECT_EQ(refused.status, 2);
  EXPECT_NE(refused.err.find("sequence.tour.stops[2].hodl"), std::string::npos) << refused.err;
  EXPECT_NE(refused.err.find("Did you mean hold?"), std::string::npos) << refused.err;
}

TEST(SequenceCommand, SlowMotionHasBothTimesInItsTrace) {
  const TempDir folder;
  folder.write("tour.toml",
               tour_feel("{ at = 1, game_speed = 0.25, over = 0.4 }, { at = 2, game_speed = 1 }, { at = 0, start = "
                         "\"tour\" }"));
  const Ended ended = run_program(folder, {"run", "tour.toml", "-o", "out", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const std::string trace = folder.read("out/t.trace.csv");
  const std::string header = trace.substr(0, trace.find('\n'));
  ASSERT_EQ(header.substr(header.rfind(',') + 1), "game_time");
  const std::size_t last = trace.rfind('\n', trace.size() - 2) + 1;
  const std::string row = trace.substr(last);
  // 6 s on the clock; the second from 1 to 2 is 0.4 s of easing and 0.6 s at a quarter.
  EXPECT_NEAR(std::stod(row.substr(row.rfind(',') + 1)), 5.0 + 0.4 * 0.625 + 0.6 * 0.25, 1e-6);
}

} // namespace
} // namespace stasis
