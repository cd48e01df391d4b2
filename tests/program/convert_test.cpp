// `stasis convert`, `curve` and `compare` as calls: translations against their closed forms, and what is refused.
#include <cmath>
#include <map>
#include <numbers>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

/// The forms that a translation gives, by name; per-frame forms by name and frame rate, such as "fraction 30".
std::map<std::string, double> translated_to(const std::vector<std::string>& words) {
  const TempDir folder;
  std::vector<std::string> call{"convert"};
  call.insert(call.end(), words.begin(), words.end());
  call.emplace_back("--json");
  const Ended ended = run_program(folder, call);
  EXPECT_EQ(ended.status, 0) << ended.err;
  std::map<std::string, double> out;
  const auto json = nlohmann::json::parse(ended.out);
  for (const auto& one : json["equals"]) {
    std::string name = one["form"];
    if (one.contains("fps") && !one["fps"].is_null()) name += fmt::format(" {}", one["fps"].get<double>());
    out[name] = one["value"];
  }
  return out;
}

double radians_of(double degrees) { return degrees * std::numbers::pi / 180; }
double degrees_of(double angle) { return angle * 180 / std::numbers::pi; }

TEST(ConvertProgram, LensFormsFollowFromTheTangents) {
  for (const double vertical : {5.0, 38.0, 62.0, 100.0, 150.0})
    for (const auto& [text, aspect] : {std::pair{"16:9", 16.0 / 9}, {"1.6", 1.6}, {"2:3", 2.0 / 3}}) {
      auto forms = translated_to({"vertical", fmt::format("{}", vertical), "--aspect", text, "--sensor-width", "24"});
      const double tangent = std::tan(radians_of(vertical) / 2);
      EXPECT_NEAR(forms["horizontal"], degrees_of(2 * std::atan(aspect * tangent)), 1e-11);
      EXPECT_NEAR(forms["diagonal"], degrees_of(2 * std::atan(std::hypot(1, aspect) * tangent)), 1e-11);
      EXPECT_NEAR(forms["focal_length"], 24 / (2 * aspect * tangent), 1e-10);
    }
}

TEST(ConvertProgram, EveryLensFormLeadsBackToTheSameLens) {
  const auto given = translated_to({"vertical", "47", "--aspect", "3:2"});
  for (const char* form : {"horizontal", "diagonal", "focal_length"}) {
    auto back = translated_to({form, fmt::format("{}", given.at(form)), "--aspect", "3:2"});
    EXPECT_NEAR(back["vertical"], 47, 1e-10) << form;
  }
  auto by_unit = translated_to({"focal_length", "3.5 cm"});
  EXPECT_NEAR(by_unit["focal_length"], 35, 1e-12);
  auto radians = translated_to({"vertical", "0.8 rad"});
  EXPECT_NEAR(radians["vertical"], degrees_of(0.8), 1e-12);
}

TEST(ConvertProgram, SaysAtWhatDistanceAWidthFillsThePicture) {
  const TempDir folder;
  const Ended ended = run_program(folder, {"convert", "horizontal", "90", "--width", "2.4"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("1.6 wide for its height"), std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("distance at which 2.4 m fill the width    1.20000 m"), std::string::npos) << ended.out;
}

TEST(ConvertProgram, FractionsAreOneGlideAtEveryFrameRate) {
  for (const double share : {0.02, 0.1, 0.5, 0.93}) {
    auto forms = translated_to({"fraction", fmt::format("{}", share), "--at-fps", "50", "--fps", "25,50,200"});
    const double rate = -std::log1p(-share) * 50;
    EXPECT_NEAR(forms["rate"], rate, 1e-11 * rate);
    EXPECT_NEAR(forms["half_life"], std::numbers::ln2 / rate, 1e-12);
    EXPECT_NEAR(forms["time_to_95"], std::log(20) / rate, 1e-11);
    for (const double fps : {25.0, 50.0, 200.0}) {
      EXPECT_NEAR(forms[fmt::format("fraction {}", fps)], -std::expm1(-rate / fps), 1e-13) << fps;
      EXPECT_NEAR(forms[fmt::format("product {}", fps)], -std::expm1(-rate / fps) * fps, 1e-10) << fps;
    }
    // Each leads back.
    for (const char* form : {"rate", "half_life", "time_constant", "time_to_90"}) {
      auto back = translated_to({form, fmt::format("{}", forms[form]), "--fps", "50"});
      EXPECT_NEAR(back["fraction 50"], share, 1e-12) << form;
    }
  }
}

struct Refused {
  std::vector<std::string> call;
  const char* words;
};

TEST(ConvertProgram, RefusesInOneParagraph) {
  const std::vector<Refused> refused{
      {{"convert", "vertical", "60", "--aspect", "0:2"}, "width over height such as 16:9"},
      {{"convert", "vertical", "60", "--aspect", "wide"}, "found \"wide\""},
      {{"convert", "focal_length", "x"}, "a length above 0"},
      {{"convert", "focal_length", "-3 mm"}, "a length above 0"},
      {{"convert", "rate", "3", "--fps", "30,x"}, "found \"x\""},
      {{"convert", "rate", "3", "--fps", ","}, "--fps"},
      {{"convert", "ease_duration", "1", "--curve", "wobble"}, "\"wobble\" is not a curve"},
      {{"convert", "vertical", "60", "--sensor-width", "0"}, "--sensor-width: expected a number above 0"},
      {{"convert", "half_life", "0.1", "--at-fps", "60"}, "--at-fps says nothing about half_life"},
      {{"convert", "rate", "3", "--aspect", "16:9"}, "--aspect says nothing about rate"},
      {{"convert", "vertical", "60", "--curve", "ease"}, "--curve says nothing about vertical"},
      {{"convert", "fraction", "0.1", "--at-fps", "0"}, "--at-fps: expected a number above 0"},
      {{"convert", "vertical", "60", "--width", "-1"}, "--width"},
      {{"curve", "ease", "--samples", "1"}, "from 2 to 1000000"},
      {{"curve", "--points", "back.csv"}, "ascending times"},
      {{"curve", "--points", "one.csv"}, "two points or more"},
      {{"curve", "--points", "three.csv"}, "two columns"},
      {{"compare"}, "no feel was given"},
      {{"compare", "a.toml", "b.toml"}, "no take of one name in common"},
  };
  for (const Refused& one : refused) {
    const TempDir folder;
    folder.write("back.csv", "time,value\n0,0\n1,1\n0.5,1\n");
    folder.write("one.csv", "time,value\n0,0\n");
    folder.write("three.csv", "time,value,more\n0,0,1\n1,1,1\n");
    folder.write("a.toml", "[channel.a]\nrest = 0\n[take.one]\nlength = 1\n");
    folder.write("b.toml", "[channel.a]\nrest = 0\n[take.two]\nlength = 1\n");
    const auto before = folder.files();
    const Ended ended = run_program(folder, one.call);
    EXPECT_EQ(ended.status, 2) << one.words;
    EXPECT_NE(ended.err.find(one.words), std::string::npos) << ended.err;
    EXPECT_EQ(ended.err.find("\n\n"), std::string::npos);
    EXPECT_EQ(ended.out, "");
    EXPECT_EQ(folder.files(), before) << one.words;
  }
}

const std::string lens_feel = R"([picture]
lens = { channel = "fov" }
[channel.fov]
unit = "deg"
rest = 60
space = "zoom"
motion = { kind = "spring", frequency = 2, damping_ratio = 0.7 }
[pose.near]
fov = 30
[control.near]
kind = "hold"
pose = "near"
[variant.quick]
"channel.fov.motion.frequency" = 3
[variant.slow]
"channel.fov.motion.frequency" = 1
[take.t]
length = 2
cues = [{ at = 0.25, press = "near" }]
)";

TEST(CompareProgram, TakesEveryVariantAtOnce) {
  const TempDir folder;
  folder.write("f.toml", lens_feel);
  const Ended ended = run_program(folder, {"compare", "f.toml", "--variant", "all", "--figure", "none", "--json"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const std::string file = folder.read("stasis-out/compare.t.json");
  for (const char* version : {"base", "quick", "slow"}) {
    EXPECT_NE(ended.out.find(version), std::string::npos) << version;
    EXPECT_NE(file.find(version), std::string::npos) << version;
  }
  EXPECT_TRUE(nlohmann::json::accept(ended.out));
}

/// The lens may be drawn as what it does to the picture: how many times as large, and how fast that changes.
TEST(RunProgram, DrawsTheLensAsPictureScale) {
  const TempDir folder;
  folder.write("f.toml", lens_feel);
  const auto figure = [&](const std::vector<std::string>& more) {
    std::vector<std::string> call{"run", "f.toml", "--figure", "svg", "--force"};
    call.insert(call.end(), more.begin(), more.end());
    EXPECT_EQ(run_program(folder, call).status, 0);
    return folder.read("stasis-out/t.svg");
  };
  EXPECT_EQ(figure({}).find("picture scale"), std::string::npos);
  const std::string scaled = figure({"--picture-scale"});
  EXPECT_NE(scaled.find("picture scale against rest, fov"), std::string::npos);
  EXPECT_NE(scaled.find("rate of picture scale, fov"), std::string::npos);
  EXPECT_NE(scaled.find("doublings/s"), std::string::npos);
}

TEST(CurveProgram, ReadsItsPointsAndSaysWhatItKnowsAsJson) {
  const TempDir folder;
  folder.write("p.csv", "time,value\n0,0\n0.25,0.5\n1,1\n");
  const Ended ended =
      run_program(folder, {"curve", "--points", "p.csv", "--figure", "none", "--json", "--samples", "5"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const auto json = nlohmann::json::parse(ended.out);
  EXPECT_FALSE(json.empty());
  const std::string csv = folder.read("stasis-out/curves.csv");
  EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 6);
  auto columns = read_csv(csv);
  bool found = false;
  for (const auto& [name, values] : columns)
    found = found || (values.size() == 5 && std::fabs(values[1] - 0.5) < 1e-12);
  EXPECT_TRUE(found) << csv;
}

} // namespace
} // namespace stasis::test
