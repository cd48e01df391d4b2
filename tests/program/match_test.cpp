// stasis match, as its users meet it: a trace of a known feel gives its motion back, whatever the table looks like.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/random.hpp"
#include "support/program.hpp"

namespace stasis::test {
namespace {

using Json = nlohmann::json;

std::string lantern(const std::string& motion) { return held_feel(motion, 3, 60, {0.5}); }

Json matched(const TempDir& folder, std::vector<std::string> words, int status = 0) {
  words.insert(words.begin(), "match");
  words.insert(words.end(), {"--figure", "none", "--json"});
  const Ended ended = run_program(folder, words);
  EXPECT_EQ(ended.status, status) << ended.err;
  return ended.out.empty() ? Json() : Json::parse(ended.out);
}

TEST(MatchCommand, AFeelsOwnTraceGivesItsMotionBack) {
  const TempDir folder;
  const std::vector<std::tuple<std::string, std::string, std::string, double>> feels{
      {R"({ kind = "glide", half_life = 0.17 })", "glide", "half_life", 0.17},
      {R"({ kind = "spring", frequency = 1.7, damping_ratio = 0.45 })", "spring", "frequency", 1.7},
      {R"({ kind = "ease", duration = 0.65, curve = "in-out sine" })", "ease in-out sine", "duration", 0.65},
      {R"({ kind = "pace", speed = 14, acceleration = 60 })", "pace", "acceleration", 60.0},
      {R"toml({ kind = "ease", duration = 0.8, curve = "cubic-bezier(0.2, 0.1, 0.4, 1.2)" })toml", "ease cubic-bezier",
       "y2", 1.2}};
  for (const auto& [motion, kind, name, value] : feels) {
    folder.write("f.toml", lantern(motion));
    EXPECT_EQ(run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none"}).status, 0);
    for (const bool knows_goal : {true, false}) {
      std::vector<std::string> call{"out/t.trace.csv", "--value", "a.value"};
      if (knows_goal) call.insert(call.end(), {"--goal", "a.goal"});
      const Json found = matched(folder, call);
      EXPECT_EQ(found["ranking"][0]["kind"], kind);
      EXPECT_NEAR(found["ranking"][0]["parameters"][name]["value"].get<double>(), value,
                  (knows_goal ? 1e-6 : 1e-4) * value)
          << kind;
    }
  }
}

TEST(MatchCommand, DurationsThatPeopleTypeComeBackAtAnyFrameRate) {
  const TempDir folder;
  for (const char* fps : {"24", "30", "60", "1000"})
    for (const double duration : {0.1, 0.2, 0.5}) {
      folder.write("f.toml",
                   lantern(fmt::format(R"({{ kind = "ease", duration = {}, curve = "in-out sine" }})", duration)));
      folder.write("t.csv", run_program(folder, {"run", "f.toml", "--fps", fps, "-o", "-"}).out);
      const Json found = matched(folder, {"t.csv", "--value", "a.value", "--goal", "a.goal"});
      EXPECT_EQ(found["ranking"][0]["kind"], "ease in-out sine") << fps << " " << duration;
      EXPECT_NEAR(found["ranking"][0]["parameters"]["duration"]["value"].get<double>(), duration, 1e-6 * duration);
      EXPECT_EQ(found["trouble"], "");
    }
}

/// The demo's capture in another form of table.
std::string as_table(const TempDir& folder, char separator, bool decimal_comma, const std::string& line_end) {
  std::string out = "# captured\n\"the time\"" + std::string(1, separator) + "fov" + line_end;
  for (const auto& table = read_csv(folder.read("capture.csv")); std::size_t row : [&] {
         std::vector<std::size_t> rows(table.at("time").size());
         for (std::size_t k = 0; k < rows.size(); ++k) rows[k] = k;
         return rows;
       }()) {
    std::string cells = fmt::format("{:.4f}{}{:.2f}", table.at("time")[row], separator, table.at("fov")[row]);
    if (decimal_comma) std::replace(cells.begin(), cells.end(), '.', ',');
    out += cells + line_end;
  }
  return out;
}

class Captured : public ::testing::Test {
protected:
  Captured() { EXPECT_EQ(run_in_shell(folder, fmt::format("cp {}/demo/capture.csv .", STASIS_SOURCE)).status, 0); }
  static double frequency(const Json& found) { return found["ranking"][0]["parameters"]["frequency"]["value"]; }

  const TempDir folder;
};

TEST_F(Captured, TheRuleIsFoundWithIntervalsThatHoldIt) {
  const Json found = matched(folder, {"capture.csv", "--unit", "deg"});
  const Json& best = found["ranking"][0];
  EXPECT_EQ(best["kind"], "spring");
  EXPECT_EQ(best["space"], "linear");
  for (const auto& [name, truth] : {std::pair{"frequency", 1.83}, {"damping_ratio", 0.62}}) {
    EXPECT_LE(best["parameters"][name]["low"].get<double>(), truth);
    EXPECT_GE(best["parameters"][name]["high"].get<double>(), truth);
  }
  EXPECT_LE(best["start"]["low"].get<double>(), 0.437);
  EXPECT_GE(best["start"]["high"].get<double>(), 0.437);
  EXPECT_NEAR(found["noise"].get<double>(), 0.1, 0.03);
  EXPECT_EQ(found["digit"], 0.01);
  EXPECT_EQ(found["repeated"], 3);
  double sum = 0.0;
  for (const Json& rule : found["ranking"]) sum += rule["probability"].get<double>();
  EXPECT_NEAR(sum, 1.0, 1e-9);
}

TEST_F(Captured, AnyTableIsReadTheSame) {
  const double plain = frequency(matched(folder, {"capture.csv", "--kinds", "spring"}));
  for (const char separator : {',', ';', '\t'})
    for (const bool comma : {false, true})
      for (const char* line_end : {"\n", "\r\n", "\r"}) {
        if (separator == ',' && comma) continue;
        folder.write("t.csv", as_table(folder, separator, comma, line_end));
        EXPECT_DOUBLE_EQ(frequency(matched(folder, {"t.csv", "--time", "the time", "--kinds", "spring"})), plain);
      }
  const std::string text = as_table(folder, ';', true, "\n");
  folder.write("bom.csv", "\xef\xbb\xbf" + text.substr(text.find('\n') + 1));
  EXPECT_DOUBLE_EQ(frequency(matched(folder, {"bom.csv", "--time", "the time", "--kinds", "spring"})), plain);
  std::string wide = "\xff\xfe";
  for (const char c : text) wide += std::string(1, c) + std::string(1, '\0');
  folder.write("wide.csv", wide);
  EXPECT_DOUBLE_EQ(frequency(matched(folder, {"wide.csv", "--time", "the time", "--kinds", "spring"})), plain);
}

TEST_F(Captured, TimesOfOtherUnitsAndOriginsAreSaid) {
  const auto table = read_csv(folder.read("capture.csv"));
  std::string ms = "time,fov\n", epoch = ms;
  for (std::size_t k = 0; k < table.at("time").size(); ++k) {
    ms += fmt::format("{:.1f},{:.2f}\n", 1000.0 * table.at("time")[k], table.at("fov")[k]);
    epoch += fmt::format("{:.4f},{:.2f}\n", 1795882158.0 + table.at("time")[k], table.at("fov")[k]);
  }
  const double plain = frequency(matched(folder, {"capture.csv", "--kinds", "spring"}));
  for (const std::string& text : {ms, epoch}) {
    folder.write("t.csv", text);
    const Json found = matched(folder, {"t.csv", "--kinds", "spring"});
    EXPECT_NEAR(frequency(found), plain, 1e-4);
    EXPECT_EQ(found["notes"].size(), 1u);
  }
}

TEST_F(Captured, WhatIsFoundIsWrittenIntoAFeel) {
  folder.write("f.toml", lantern("\"old\"") + "[motion.old]\nkind = \"cut\"\n");
  const std::string before = folder.read("f.toml");
  matched(folder, {"capture.csv", "--kinds", "spring", "--write", "f.toml:motion.caught"});
  EXPECT_TRUE(folder.read("f.toml").starts_with(before));
  EXPECT_EQ(run_program(folder, {"check", "f.toml", "--set", "channel.a.motion=caught"}).status, 0);
  // A name that is taken stays what it was.
  const std::string written = folder.read("f.toml");
  EXPECT_EQ(run_program(folder, {"match", "capture.csv", "--write", "f.toml:motion.old", "--figure", "none"}).status,
            2);
  EXPECT_EQ(folder.read("f.toml"), written);
}

TEST_F(Captured, WhatNoRuleExplainsIsSaid) {
  std::string text = "time,x\n";
  // A glide that is nudged on its way.
  for (int k = 0; k < 240; ++k)
    text += fmt::format("{:.4f},{:.6f}\n", k / 60.0,
                        1.0 - std::exp(-0.1 * std::max(0, k - 30)) + 0.3 * std::exp(-std::pow((k - 80) / 6.0, 2)));
  folder.write("t.csv", text);
  const Ended ended = run_program(folder, {"match", "t.csv", "--figure", "none", "--kinds", "spring"});
  EXPECT_EQ(ended.status, 1);
  EXPECT_NE(ended.out.find("none of them explains it"), std::string::npos) << ended.out;
}

TEST_F(Captured, OddTablesAndCallsGetOneParagraphThatNamesTheCause) {
  const std::vector<std::tuple<std::string, std::vector<std::string>, std::string>> odd{
      {"", {}, "nothing in it"},
      {"1,2\n3,4\n", {}, "names of the columns"},
      {"time,x\n0,1\n1\n", {}, "line 3: 1 cells"},
      {"time,x\n0,5,1,5\n0,6,1,7\n", {}, "decimal commas need"},
      {"time,x\n0,1\n0,2\n", {}, "do not ascend"},
      {"time,x\n0,one\n1,two\n", {}, "no rows with numbers"},
      {"time,x\n0,1\n1,1e308\n2,3\n", {}, "row 2 of x holds 1e+308"},
      {std::string("PK\x03\x04\0\0", 6), {}, "not text"},
      {"a,b,c\n1,2,3\n2,3,4\n", {}, "--time"},
      {"time,b,c\n1,2,3\n2,3,4\n", {}, "--value"},
      {"time,x\n0,1\n1,2\n", {"--value", "y"}, "Its columns: time and x"},
      {"time,x\n0,1\n1,2\n", {"--kinds", "sprig"}, "Did you mean spring?"},
      {"time,x\n0,1\n1,2\n", {"--between", "3"}, "0.5:2.5"},
      {"time,x\n0,1\n1,2\n", {"--space", "zoom"}, "--unit"},
      {"time,x\n0,1\n1,2\n", {"--goal", "g"}, "no column"},
      {"time,x\n0,1\n1,2\n", {"--time-unit", "h"}, "not one of s, ms"},
      {"time,x\n0,1\n1,2\n", {"--write", "f.toml"}, "FEEL:motion.NAME"}};
  for (const auto& [text, words, cause] : odd) {
    folder.write("odd.csv", text);
    std::vector<std::string> call{"match", "odd.csv", "--figure", "none"};
    call.insert(call.end(), words.begin(), words.end());
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 2) << text << ended.out;
    EXPECT_NE(ended.err.find(cause), std::string::npos) << ended.err;
    EXPECT_EQ(ended.err.find('\n'), ended.err.size() - 1) << ended.err;
  }
  EXPECT_EQ(run_program(folder, {"match", "gone.csv"}).status, 3);
}

/// An otter of its own, that a view follows.
std::string chase_feel() {
  std::string track = "time,x,y,z\n";
  for (int k = 0; k <= 360; ++k) {
    const double t = k / 60.0;
    track += fmt::format("{},{},{},0\n", t, 2.0 * std::sin(1.3 * t) + std::sin(3.1 * t), std::cos(2.2 * t));
  }
  return track;
}

TEST(MatchCommand, AnIntervalThatSaysNothingIsOpen) {
  const TempDir folder;
  int open = 0;
  for (std::uint64_t seed = 0; open == 0 && seed < 24;
       ++seed) { // a sluggish spring is a glide, whatever its numbers are
    Random random(seed);
    std::string rows = "t,v\n";
    for (int k = 0; k < 380; ++k)
      rows +=
          fmt::format("{:.6f},{:.4f}\n", k / 120.0,
                      10.0 - 8.0 * std::expm1(-5.8 * std::max(0.0, k / 120.0 - 0.4)) + 0.2 * (random.share() - 0.5));
    folder.write("glide.csv", rows);
    const std::string said = run_program(folder, {"match", "glide.csv", "--value", "v", "--figure", "none"}).out;
    const std::size_t line = said.find("  spring ");
    ASSERT_NE(line, std::string::npos) << said;
    const std::string spring = said.substr(line, said.find('\n', line) - line);
    open += spring.find("(open)") != std::string::npos ? 1 : 0;
    EXPECT_EQ(spring.find("e+"), std::string::npos) << spring;
    EXPECT_EQ(spring.find("e-"), std::string::npos) << spring;
  }
  EXPECT_GT(open, 0);
}

TEST(MatchCommand, WhatFollowsASubjectIsFoundInAFeelsOwnTrace) {
  const TempDir folder;
  folder.write("subject.csv", chase_feel());
  folder.write("f.toml", R"([track.subject]
kind = "recorded"
file = "subject.csv"
columns = { time = "time", x = "x", y = "y", z = "z" }
unit = "m"
[channel.view]
unit = "m"
rest = [0, 0, 0]
motion = { kind = "spring", frequency = 1.3, damping_ratio = 0.8 }
follow = "subject"
[take.t]
length = 5
clock = { fps = 60 }
)");
  const Ended ran = run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none"});
  ASSERT_EQ(ran.status, 0) << ran.err;
  for (const std::vector<std::string>& goal :
       {std::vector<std::string>{"--goal", "view.goal.x,view.goal.y"}, {"--goal-from", "subject.csv:x,y"}}) {
    std::vector<std::string> call{"out/t.trace.csv", "--value", "view.value.x,view.value.y"};
    call.insert(call.end(), goal.begin(), goal.end());
    const Json found = matched(folder, call);
    EXPECT_EQ(found["ranking"][0]["kind"], "spring");
    EXPECT_NEAR(found["ranking"][0]["parameters"]["frequency"]["value"].get<double>(), 1.3, 1e-4);
    EXPECT_NEAR(found["ranking"][0]["parameters"]["damping_ratio"]["value"].get<double>(), 0.8, 1e-4);
    EXPECT_TRUE(found["explained"].get<bool>());
  }
  const Ended moved = run_program(folder, {"match", "out/t.trace.csv", "--value", "view.value.x", "--goal",
                                           "view.goal.x", "--write", "f.toml:motion.caught", "--figure", "none"});
  EXPECT_EQ(moved.status, 0) << moved.err;
  EXPECT_NE(folder.read("f.toml").find("[motion.caught]"), std::string::npos);
}

/// Four moves, up and down again twice.
std::string two_there_and_back(const std::string& motion) { return held_feel(motion, 9, 60, {0.5, 2.7, 4.9, 7.1}); }

/// Its trace with noise laid over it.
void write_noisy(const TempDir& folder, const std::string& motion, double noise) {
  folder.write("f.toml", two_there_and_back(motion));
  EXPECT_EQ(run_program(folder, {"run", "f.toml", "-o", "out", "--figure", "none", "--force"}).status, 0);
  const auto table = read_csv(folder.read("out/t.trace.csv"));
  std::string text = "time,a\n";
  stasis::Random random(5);
  for (std::size_t k = 0; k < table.at("time").size(); ++k) {
    text += fmt::format("{},{}\n", table.at("time")[k], table.at("a.value")[k] + noise * random.normal());
  }
  folder.write("r.csv", text);
}

TEST(MatchCommand, SeveralMovesAreOneRule) {
  const TempDir folder;
  for (const double noise : {0.0, 0.1}) {
    write_noisy(folder, R"({ kind = "spring", frequency = 1.7, damping_ratio = 0.6 })", noise);
    const Json found = matched(folder, {"r.csv"});
    ASSERT_EQ(found["moves"].size(), 4u);
    EXPECT_EQ(found["ranking"][0]["kind"], "spring");
    EXPECT_TRUE(found["agree"].get<bool>());
    EXPECT_NEAR(found["moves"][3]["start"]["value"].get<double>(), 7.1, 0.01);
    const Json& frequency = found["ranking"][0]["parameters"]["frequency"];
    EXPECT_LE(frequency["low"].get<double>(), 1.7);
    EXPECT_GE(frequency["high"].get<double>(), 1.7);
    EXPECT_NEAR(frequency["value"].get<double>(), 1.7, 0.03);
  }
}

TEST(MatchCommand, RisingAndFallingAreTwoMotionsWhereTheyDiffer) {
  const TempDir folder;
  write_noisy(folder,
              R"({ rising = { kind = "spring", frequency = 1.2, damping_ratio = 0.9 }, )"
              R"(falling = { kind = "spring", frequency = 2.4, damping_ratio = 0.5 } })",
              0.05);
  const Json found = matched(folder, {"r.csv", "--kinds", "spring", "--kinds", "glide"});
  EXPECT_FALSE(found["agree"].get<bool>());
  EXPECT_EQ(found["rising"].get<std::string>().substr(0, 30), "{ kind = \"spring\", frequency =");
  EXPECT_EQ(found["motion"].get<std::string>().substr(0, 11), "{ rising = ");
  // What is printed is a motion of a feel.
  folder.write("again.toml", two_there_and_back(found["motion"].get<std::string>()));
  EXPECT_EQ(run_program(folder, {"check", "again.toml"}).status, 0);
  const Ended kept = run_program(
      folder, {"match", "r.csv", "--kinds", "spring", "--figure", "none", "--write", "again.toml:motion.caught"});
  EXPECT_EQ(kept.status, 1);
  EXPECT_NE(kept.err.find("two motions"), std::string::npos);
}

} // namespace
} // namespace stasis::test
