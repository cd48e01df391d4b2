// stasis measure, as its users meet it: a trace measured like the run that wrote it, noise told, faults explained.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/random.hpp"
#include "support/program.hpp"

namespace stasis::test {
namespace {

using Json = nlohmann::json;

std::string heron_feel(const std::string& motion) { return held_feel(motion, 5, 240, {0.5, 2.7}); }

Json measured_in(const TempDir& folder, std::vector<std::string> words, int status = 0) {
  words.insert(words.begin(), "measure");
  words.insert(words.end(), {"--figure", "none", "--json"});
  const Ended ended = run_program(folder, words);
  EXPECT_EQ(ended.status, status) << ended.err;
  return ended.out.empty() ? Json() : Json::parse(ended.out);
}

void expect_alike(const Json& found, const Json& truth, const std::string& name, double relative, const char* motion) {
  ASSERT_EQ(found.is_null(), truth.is_null()) << motion << " " << name;
  if (truth.is_null()) return;
  const double size = std::max(std::fabs(truth.get<double>()), 0.01);
  EXPECT_NEAR(found.get<double>(), truth.get<double>(), relative * size) << motion << " " << name;
}

TEST(MeasureCommand, ATraceIsMeasuredAsTheRunThatWroteIt) {
  const TempDir folder;
  for (const char* motion :
       {R"({ kind = "glide", half_life = 0.1 })", R"({ kind = "spring", frequency = 1.9, damping_ratio = 0.45 })",
        R"({ kind = "ease", duration = 0.61, curve = "in-out sine" })",
        R"({ kind = "ease", duration = 0.433, curve = "linear" })",
        R"({ kind = "pace", speed = 21, acceleration = 97 })", R"({ kind = "cut" })"}) {
    folder.write("f.toml", heron_feel(motion));
    const Json truth =
        Json::parse(run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none", "--json", "--force"}).out);
    for (const bool knows_goal : {true, false}) {
      std::vector<std::string> call{"out/t.trace.csv", "--value", "a.value", "--unit", "m"};
      if (knows_goal) call.insert(call.end(), {"--goal", "a.goal"});
      const Json found = measured_in(folder, call);
      ASSERT_EQ(found["moves"].size(), 2u) << motion;
      for (std::size_t k = 0; k < 2; ++k) {
        EXPECT_NEAR(found["moves"][k]["start"].get<double>(), truth["moves"][k]["start"].get<double>(), 5e-4);
        for (const char* name : {"delay_time", "rise_time", "overshoot", "settling_time", "peak_speed"})
          expect_alike(found["moves"][k][name], truth["moves"][k][name], name, 2e-3, motion);
        expect_alike(found["moves"][k]["peak_acceleration"], truth["moves"][k]["peak_acceleration"],
                     "peak_acceleration", 0.03, motion);
      }
      const Json &whole = found["channels"]["a.value"], &taken = truth["channels"]["a"];
      for (const char* name : {"end_value", "lowest_value", "highest_value", "travelled", "top_speed"})
        expect_alike(whole[name], taken[name], name, 1e-3, motion);
    }
  }
}

TEST(MeasureCommand, TheDemosCaptureIsToldWithItsNoise) {
  const TempDir folder;
  EXPECT_EQ(run_in_shell(folder, fmt::format("cp {}/demo/capture.csv .", STASIS_SOURCE)).status, 0);
  const Json found = measured_in(folder, {"capture.csv", "--unit", "deg"});
  ASSERT_EQ(found["moves"].size(), 1u);
  const Json &move = found["moves"][0], &error = found["errors"]["moves"][0];
  // A spring of 1.83 Hz and ratio 0.62 from 62 to 38 degrees at 0.437 s.
  for (const auto& [name, truth] : {std::pair{"start", 0.437},
                                    {"overshoot", 8.3533},
                                    {"peak_speed", 135.292},
                                    {"settling_time", 0.51977},
                                    {"rise_time", 0.165553}}) {
    EXPECT_NEAR(move[name].get<double>(), truth, error[name].get<double>()) << name;
    EXPECT_LT(error[name].get<double>(), 0.06 * truth) << name;
  }
  EXPECT_EQ(found["recording"]["fov"]["components"][0]["repeated"], 3);
  EXPECT_NEAR(found["recording"]["fov"]["components"][0]["noise"].get<double>(), 0.1, 0.03);
  EXPECT_FALSE(found["hidden_by_noise"].empty());
  EXPECT_EQ(found["units"]["fov.peak_speed"], "deg/s");
}

TEST(MeasureCommand, SeveralColumnsAreOneValue) {
  const TempDir folder;
  std::string text = "time,eye.x,eye.y,eye.z,fov\n";
  for (int k = 0; k <= 240; ++k) {
    const double t = k / 80.0, share = t < 0.6 ? 0.0 : 1.0 - std::exp(-7.0 * (t - 0.6));
    text += fmt::format("{},{},{},{},{}\n", t, 3.0 * share, 4.0 * share, 1.5, 60.0);
  }
  folder.write("v.csv", text);
  const Json found = measured_in(folder, {"v.csv", "--value", "eye.x,eye.y,eye.z", "--unit", "m", "--value", "fov"});
  ASSERT_EQ(found["moves"].size(), 1u);
  EXPECT_EQ(found["moves"][0]["channel"], "eye");
  EXPECT_NEAR(found["moves"][0]["peak_speed"].get<double>(), 35.0, 0.02);
  EXPECT_NEAR(found["moves"][0]["sideways"].get<double>(), 0.0, 1e-9);
  EXPECT_NEAR(found["channels"]["eye"]["end_value.y"].get<double>(), 4.0, 1e-6);
  EXPECT_EQ(found["channels"]["fov"]["travelled"], 0);
}

TEST(MeasureCommand, StallsAndRepeatedRowsAreCounted) {
  const TempDir folder;
  std::string text = "t;v\n";
  double time = 0.0;
  for (int k = 0; k < 200; ++k) {
    time += k == 50 || k == 120 ? 0.05 : 0.01;
    text += fmt::format("{};{}\n", time, std::sin(time));
  }
  folder.write("s.csv", text);
  const Json found = measured_in(folder, {"s.csv"});
  const Json& rows = found["recording"]["v"]["row_times"];
  EXPECT_EQ(rows["stalls"], 2);
  EXPECT_NEAR(rows["longest"].get<double>(), 0.05, 1e-9);
  EXPECT_NEAR(rows["usual"].get<double>(), 0.01, 1e-9);
  EXPECT_FALSE(found["clock"]["steady"].get<bool>());
}

TEST(MeasureCommand, TwoRecordingsStandSideBySide) {
  const TempDir folder;
  std::string quick = "time,a\n", slow = "time,b\n";
  for (int k = 0; k <= 200; ++k) {
    const double t = k / 100.0, u = std::max(0.0, t - 0.4);
    quick += fmt::format("{},{}\n", t, 1.0 - std::exp(-9.0 * u));
    slow += fmt::format("{},{}\n", t, 1.0 - std::exp(-8.0 * u));
  }
  folder.write("q.csv", quick);
  folder.write("s.csv", slow);
  const Json found = measured_in(folder, {"q.csv", "--beside", "s.csv:b"});
  bool told = false;
  for (const Json& row : found["beside"]["measures"])
    if (row["name"] == "moves[0].peak_speed") {
      told = true;
      EXPECT_NEAR(row["first"].get<double>(), 9.0, 0.01);
      EXPECT_NEAR(row["second"].get<double>(), 8.0, 0.01);
      EXPECT_TRUE(row["differs"].get<bool>());
    }
  EXPECT_TRUE(told);
}

TEST(MeasureCommand, FaultsNameTheOptionThatMendsThem) {
  const TempDir folder;
  folder.write("r.csv", "time,a,b\n0,1,1\n1,2,2\n2,3,3\n3,4,4\n4,5,5\n5,7,7\n6,8,8\n7,9,9\n8,9,9\n");
  folder.write("few.csv", "time,a\n0,1\n1,2\n2,3\n");
  for (const auto& [words, said] : std::vector<std::pair<std::vector<std::string>, std::string>>{
           {{"r.csv"}, "--value"},
           {{"r.csv", "--value", "c"}, "Its columns: time, a and b"},
           {{"few.csv"}, "it needs 8"},
           {{"r.csv", "--value", "a", "--goal", "a,b"}, "has 2 columns"},
           {{"r.csv", "--value", "a", "--space", "zoom"}, "--unit deg or rad"},
           {{"r.csv", "--value", "a", "--unit", "m", "--unit", "m"}, "more of them"},
           {{"r.csv", "--value", "a", "--time", "b", "--time-unit", "h"}, "s, ms and us"}}) {
    std::vector<std::string> call = words;
    call.insert(call.begin(), "measure");
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 2) << ended.err;
    EXPECT_NE(ended.err.find(said), std::string::npos) << ended.err;
    EXPECT_EQ(ended.out, "");
  }
}

TEST(MeasureCommand, TheFigureAndTheTextTellTheSame) {
  const TempDir folder;
  EXPECT_EQ(run_in_shell(folder, fmt::format("cp {}/demo/capture.csv .", STASIS_SOURCE)).status, 0);
  const Ended ended = run_program(folder, {"measure", "capture.csv", "--unit", "deg", "--figure", "svg", "-o", "o"});
  EXPECT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("settling_time"), std::string::npos);
  const std::string figure = folder.read("o/measure.capture.svg");
  const std::size_t at = ended.out.find("settling_time");
  const std::string line = ended.out.substr(at, ended.out.find('\n', at) - at);
  const std::string number = line.substr(line.find_last_of(' ', line.find(" \u00b1") - 1) + 1);
  EXPECT_NE(figure.find("settled after " + number), std::string::npos) << number;
}

/// Durations, rates and presses that people type: told right, or said to be too quick for the rows.
TEST(MeasureCommand, RoundNumbersAreToldRightOrSaidToBeTooQuick) {
  const TempDir folder;
  for (const double fps : {24.0, 30.0, 60.0, 1000.0})
    for (const double duration : {0.1, 0.2, 0.5, 0.2000001})
      for (const char* curve : {"linear", "in-out sine", "out power 2"})
        for (const double press : {0.5, 0.5083}) {
          folder.write("f.toml",
                       held_feel(fmt::format("{{ kind = \"ease\", duration = {}, curve = \"{}\" }}", duration, curve),
                                 4, fps, {press, 2.2}));
          const Json truth = Json::parse(
              run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none", "--json", "--force"}).out);
          const Json found = measured_in(folder, {"out/t.trace.csv", "--value", "a.value", "--goal", "a.goal"});
          const std::string which = fmt::format("{} {} {} at {}", curve, duration, press, fps);
          ASSERT_EQ(found["moves"].size(), 2u) << which;
          const std::string notes = found["notes"].dump();
          if (notes.find("too far apart") != std::string::npos) {
            EXPECT_LT(duration * fps, 13.0) << which;
            EXPECT_TRUE(found["moves"][0]["jolt"].is_null()) << which;
            continue;
          }
          for (std::size_t k = 0; k < 2; ++k)
            for (const char* name : {"delay_time", "rise_time", "settling_time", "overshoot", "peak_speed"})
              expect_alike(found["moves"][k][name], truth["moves"][k][name], name, 5e-3, which.c_str());
        }
}

TEST(MeasureCommand, AGoalThatIsThereAlreadyIsNoMove) {
  const TempDir folder;
  std::string text = "time,a,g\n";
  for (int k = 0; k < 120; ++k) text += fmt::format("{},{},{}\n", k / 60.0, 5.0, k < 60 ? 4.0 : 5.0);
  folder.write("r.csv", text);
  const Json found = measured_in(folder, {"r.csv", "--value", "a", "--goal", "g"});
  ASSERT_EQ(found["moves"].size(), 1u); // its goal jumped, to where it stood
  EXPECT_EQ(found["moves"][0]["remaining"].is_null() ? 0.0 : found["moves"][0]["remaining"].get<double>(), 0.0);
  EXPECT_EQ(found["channels"]["a"]["travelled"], 0);
  EXPECT_EQ(measured_in(folder, {"r.csv", "--value", "a"})["moves"].size(), 0u);
}

TEST(MeasureCommand, OddCallsGetOneParagraphAndWriteNothing) {
  const TempDir folder;
  EXPECT_EQ(run_in_shell(folder, fmt::format("cp {}/demo/capture.csv .", STASIS_SOURCE)).status, 0);
  const auto before = folder.files();
  for (const auto& [words, status, said] : std::vector<std::tuple<std::vector<std::string>, int, std::string>>{
           {{"--value", "fov", "--value", "fov"}, 2, "named twice"},
           {{"--value", "fvo"}, 2, "Did you mean fov?"},
           {{"--rate", "nan"}, 2, "--rate: expected a number"},
           {{"--rate", "60", "--time", "time"}, 2, "exclude each other"},
           {{"--beside", ":fov"}, 2, "OTHER.csv:COLUMN"},
           {{"--beside", "capture.csv:"}, 2, "OTHER.csv:COLUMN"},
           {{"--beside", "nothing.csv"}, 3, "nothing.csv"},
           {{"--settle-band", "nan"}, 2, "from 0.01 to 50"},
           {{"--between", "0:0.05"}, 2, "it needs 8"},
           {{"--valu", "fov"}, 2, "Did you mean --value?"}}) {
    std::vector<std::string> call{"measure", "capture.csv"};
    call.insert(call.end(), words.begin(), words.end());
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, status) << said << ended.err;
    EXPECT_NE(ended.err.find(said), std::string::npos) << ended.err;
    EXPECT_EQ(ended.out, "");
  }
  EXPECT_EQ(folder.files(), before);
  // Rows at a rate of their own: the column of times is no value.
  EXPECT_EQ(measured_in(folder, {"capture.csv", "--rate", "60"})["moves"].size(), 1u);
}

} // namespace
} // namespace stasis::test
