// The built program, as its users meet it.
#include <algorithm>
#include <map>
#include <sstream>
#include <sys/stat.h>
#include <unistd.h>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

using Json = nlohmann::json;

constexpr const char* small_feel = R"(title = "Small"
[channel.fov]
unit = "deg"
rest = 62
range = [30, 95]
space = "zoom"
motion = "soft"
[motion.soft]
kind = "spring"
frequency = 2
damping_ratio = 0.5
[pose.aim]
fov = 38
[control.aim]
kind = "hold"
pose = "aim"
[take.one]
length = 3
cues = [ { at = 0.5, press = "aim" }, { at = 1.8, release = "aim" } ]
[take.two]
length = 1
clock = { fps = 30 }
)";

TEST(Program, SaysWhatToTypeFirst) {
  const TempDir folder;
  const Ended ended = run_program(folder, {});
  EXPECT_EQ(ended.status, 0);
  EXPECT_NE(ended.out.find("stasis demo"), std::string::npos);
  EXPECT_EQ(ended.err, "");
  EXPECT_EQ(run_program(folder, {"--version"}).out, "stasis 0.1.0\n");
}

TEST(Program, HelpOfEachCommandHoldsAWorkedExample) {
  const TempDir folder;
  const std::string overview = run_program(folder, {"--help"}).out;
  for (const char* command :
       {"demo", "new", "run", "explain", "check", "compare", "curve", "convert", "set", "watch", "schema"}) {
    EXPECT_NE(overview.find(fmt::format("  {} ", command)), std::string::npos) << command;
    const Ended help = run_program(folder, {command, "--help"});
    EXPECT_EQ(help.status, 0) << command;
    EXPECT_NE(help.out.find("Worked example"), std::string::npos) << command;
    EXPECT_EQ(help.err, "") << command;
  }
}

/// The tour's answers: how many lines are told after each command.
std::map<std::string, int> lines_told(const std::string& tour) {
  std::map<std::string, int> told;
  std::string command;
  std::istringstream lines(tour);
  for (std::string line; std::getline(lines, line);)
    if (line.starts_with("  $ ")) {
      command = line;
      told[command] = 0;
    } else if (line.starts_with("    ") && !command.empty()) {
      ++told[command];
    }
  return told;
}

TEST(Program, DemoUnpacksRunsAndNamesEveryFile) {
  const TempDir folder;
  const Ended ended = run_program(folder, {"demo", "tour"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_LT(std::count(ended.out.begin(), ended.out.end(), '\n'), 120);
  const auto told = lines_told(ended.out);
  EXPECT_GT(told.size(), 20u);
  for (const auto& [command, lines] : told) EXPECT_GE(lines, 1) << command;
  const std::string out = "tour/stasis-out/", story = folder.read(out + "tour.txt");
  for (const std::string& file : folder.files()) {
    if (file == out + "tour.txt") {
      EXPECT_NE(ended.out.find(file), std::string::npos);
    } else if (file.starts_with(out)) {
      EXPECT_NE(story.find(file), std::string::npos) << file;
    }
  }
  std::vector<std::string> expected{"tour/bridge.toml", "tour/capture.csv", "tour/first.toml", "tour/frames.toml",
                                    "tour/lean.csv",    "tour/orbit.toml",  "tour/otter.toml", "tour/swim.csv",
                                    "tour/swim.toml",   "tour/weir.toml"};
  for (const char* const kind : {"measures.json", "png", "svg", "trace.csv", "plan.png", "plan.svg"})
    for (const char* const take : {"swim", "round", "aside", "whole"})
      expected.push_back(fmt::format("{}{}.{}", out, take, kind));
  for (const char* const kind : {"png", "svg"}) expected.push_back(fmt::format("{}round.side.{}", out, kind));
  for (const char* const kind : {"json", "png", "svg"})
    for (const char* const stem : {"compare.drill", "rates.hatch"})
      expected.push_back(fmt::format("{}{}.{}", out, stem, kind));
  for (const char* const kind : {"png", "svg"})
    for (const char* const stem :
         {"log.shake.log_hit", "round.shake.stroke", "rates.hatch.ticks", "whole.sequence.arrival"})
      expected.push_back(fmt::format("{}{}.{}", out, stem, kind));
  for (const char* const take : {"approach", "first", "hands", "log"})
    for (const char* const kind : {"measures.json", "png", "svg", "trace.csv"})
      expected.push_back(fmt::format("{}{}.{}", out, take, kind));
  for (const char* const take : {"approach", "hands", "log"}) {
    for (const char* const kind : {"json", "png", "svg"})
      expected.push_back(fmt::format("{}compare.{}.{}", out, take, kind));
    for (const char* const kind : {"png", "svg"}) expected.push_back(fmt::format("{}tune.{}.{}", out, take, kind));
  }
  for (const char* const file : {"measure.capture.png",
                                 "measure.capture.svg",
                                 "match.capture.png",
                                 "match.capture.svg",
                                 "match.log.trace.png",
                                 "match.log.trace.svg",
                                 "stops.whole.trace.png",
                                 "stops.whole.trace.svg",
                                 "otter.css",
                                 "skipped.frames.png",
                                 "otter.c",
                                 "curves.csv",
                                 "curves.png",
                                 "curves.svg",
                                 "report.html",
                                 "hands.html",
                                 "solve.first.png",
                                 "solve.first.svg",
                                 "sweep.csv",
                                 "sweep.png",
                                 "sweep.svg",
                                 "tour.txt",
                                 "tradeoff.png",
                                 "tradeoff.svg"})
    expected.push_back(out + file);
  std::sort(expected.begin(), expected.end());
  EXPECT_EQ(folder.files(), expected);
}

TEST(Program, NewWritesAFeelThatRunsAndNeverReplacesOne) {
  const TempDir folder;
  EXPECT_EQ(run_program(folder, {"new", "my.toml"}).status, 0);
  const std::string text = folder.read("my.toml");
  EXPECT_EQ(run_program(folder, {"run", "my.toml", "--figure", "none"}).status, 0);
  folder.write("my.toml", "precious");
  const Ended refused = run_program(folder, {"new", "my.toml"});
  EXPECT_EQ(refused.status, 3);
  EXPECT_NE(refused.err.find("exists already"), std::string::npos);
  EXPECT_EQ(folder.read("my.toml"), "precious");
  EXPECT_EQ(run_program(folder, {"new", "-"}).out, text);
}

TEST(Program, NewNamesTheSchemaForEditors) {
  const TempDir folder;
  EXPECT_EQ(run_program(folder, {"new", "my.toml", "--schema"}).status, 0);
  EXPECT_EQ(folder.read("my.toml").rfind("#:schema ./feel.schema.json\n", 0), 0u);
  EXPECT_EQ(folder.read("feel.schema.json"), run_program(folder, {"schema"}).out);
  EXPECT_EQ(run_program(folder, {"check", "my.toml", "--strict"}).status, 0);
  EXPECT_EQ(run_program(folder, {"new", "lean.toml", "--recipe", "lean", "--schema"}).status, 0);
  // One that says something else is somebody's.
  folder.write("feel.schema.json", "precious");
  EXPECT_EQ(run_program(folder, {"new", "third.toml", "--schema"}).status, 3);
  EXPECT_EQ(folder.read("feel.schema.json"), "precious");
  EXPECT_EQ(folder.files(), (std::vector<std::string>{"feel.schema.json", "lean.toml", "my.toml"}));
  EXPECT_EQ(run_program(folder, {"new", "-", "--schema"}).status, 2);
}

TEST(Program, RunWritesTheContractsFiles) {
  const TempDir folder;
  folder.write("small.toml", small_feel);
  const Ended ended = run_program(folder, {"run", "small.toml", "-o", "out", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_EQ(folder.files(), (std::vector<std::string>{"out/one.measures.json", "out/one.trace.csv",
                                                      "out/two.measures.json", "out/two.trace.csv", "small.toml"}));
  const Json measures = Json::parse(folder.read("out/one.measures.json"));
  for (const char* key :
       {"stasis", "feel", "take", "variant", "clock", "channels", "moves", "layers", "follow", "notes", "units"})
    EXPECT_TRUE(measures.contains(key)) << key;
  EXPECT_EQ(measures["take"], "one");
  EXPECT_EQ(measures["moves"].size(), 2u);
  EXPECT_EQ(measures["moves"][0]["cause"], "press aim");
  EXPECT_EQ(measures["moves"][0]["motion"], "soft");
  EXPECT_EQ(measures["channels"]["fov"]["peak_speed"], std::max(measures["moves"][0]["peak_speed"].get<double>(),
                                                                measures["moves"][1]["peak_speed"].get<double>()));
  EXPECT_EQ(measures["units"]["fov.peak_speed"], "deg/s");
  auto trace = read_csv(folder.read("out/one.trace.csv"));
  EXPECT_EQ(trace["frame"].size(), 181u);
  EXPECT_EQ(trace["control.aim.down"][30], 1.0);
  EXPECT_EQ(trace["dt"][0], 0.0);
  EXPECT_EQ(trace["dt"][1], 1.0 / 60);
  EXPECT_EQ(Json::parse(folder.read("out/two.measures.json"))["channels"]["fov"]["settling_time"], nullptr);
}

TEST(Program, JsonIsTheSameObjectOneLineATake) {
  const TempDir folder;
  folder.write("small.toml", small_feel);
  const Ended ended = run_program(folder, {"run", "small.toml", "--json", "--figure", "none"});
  ASSERT_EQ(ended.status, 0);
  EXPECT_EQ(ended.out, folder.read("stasis-out/one.measures.json") + folder.read("stasis-out/two.measures.json"));
  EXPECT_NE(ended.err.find("wrote stasis-out/one.trace.csv"), std::string::npos);
}

TEST(Program, SitsInAPipe) {
  const TempDir folder;
  const Ended ended = run_program(folder, {"run", "-", "-o", "-", "--take", "one"}, small_feel);
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_TRUE(folder.files().empty());
  EXPECT_EQ(ended.err, "");
  folder.write("small.toml", small_feel);
  ASSERT_EQ(run_program(folder, {"run", "small.toml", "--figure", "none"}).status, 0);
  EXPECT_EQ(ended.out, folder.read("stasis-out/one.trace.csv"));
  const Ended both = run_program(folder, {"run", "small.toml", "-o", "-"});
  EXPECT_EQ(both.status, 2);
  EXPECT_NE(both.err.find("--take"), std::string::npos);
}

TEST(Program, AClosedPipeEndsQuietly) {
  const TempDir folder;
  folder.write("small.toml", small_feel);
  const std::string command = fmt::format(
      "cd {} && {{ {} run small.toml --take one --fps 5000 -o - ; echo $? > status ; }} 2> err | head -n 1 > out",
      folder.path().string(), STASIS_PROGRAM);
  ASSERT_EQ(std::system(command.c_str()), 0);
  EXPECT_EQ(folder.read("err"), "");
  EXPECT_EQ(folder.read("status"), "0\n");
}

// Rule F14.
TEST(Program, SameInputSameBytes) {
  const TempDir here, there;
  ASSERT_EQ(run_program(here, {"demo", "a"}).status, 0);
  ASSERT_EQ(run_program(there, {"demo", "a"}).status, 0);
  for (const std::string& file : here.files()) EXPECT_TRUE(here.read(file) == there.read(file)) << file;
}

TEST(Program, OverridesActForTheCall) {
  const TempDir folder;
  folder.write("small.toml", small_feel);
  const auto settling = [&](std::vector<std::string> more) {
    std::vector<std::string> words{"run", "small.toml", "--take", "one", "--figure", "none", "--json"};
    words.insert(words.end(), more.begin(), more.end());
    const Ended ended = run_program(folder, words);
    EXPECT_EQ(ended.status, 0) << ended.err;
    return Json::parse(ended.out);
  };
  const Json plain = settling({}), quick = settling({"--set", "motion.soft.frequency=4"});
  EXPECT_NEAR(plain["moves"][0]["settling_time"].get<double>(), 2 * quick["moves"][0]["settling_time"].get<double>(),
              1e-9);
  EXPECT_EQ(settling({"--fps", "30"})["clock"]["frames"], 91);
  EXPECT_EQ(settling({"--set", "take.one.cues[0].at=1", "--set", "title=Renamed"})["feel"], "Renamed");
  EXPECT_EQ(folder.read("small.toml"), small_feel);
}

struct WrongCall {
  std::vector<std::string> words;
  int status;
  const char* says;
};

TEST(Program, WrongCallsAreExplainedAndWriteNothing) {
  const TempDir folder;
  folder.write("small.toml", small_feel);
  const WrongCall calls[] = {
      {{"rum", "small.toml"}, 2, "Did you mean run?"},
      {{"run"}, 2, "feel is required"},
      {{"run", "small.toml", "--fsp", "30"}, 2, "Did you mean --fps?"},
      {{"run", "small.toml", "--figure", "jpg"}, 2, "is not one of svg, png, text or none"},
      {{"run", "small.toml", "--take", "ona"}, 2, "Did you mean one?"},
      {{"run", "small.toml", "--only", "fow"}, 2, "Did you mean fov?"},
      {{"run", "small.toml", "--fps", "0"}, 2, "at least 0.01"},
      {{"run", "small.toml", "--fps", "fast"}, 2, "found the text \"fast\""},
      {{"run", "small.toml", "--set", "motion.soft.frequency"}, 2, "expected path=value"},
      {{"run", "small.toml", "--set", "motion.soft.freqency=3"}, 2, "Did you mean frequency?"},
      {{"run", "small.toml", "--set", "motion..x=3"}, 2, "path is not understood"},
      {{"run", "small.toml", "--set", "motion.soft.frequency=-3"}, 2, "found -3"},
      {{"run", "missing.toml"}, 3, "could not open missing.toml: No such file or directory"},
      {{"run", "."}, 3, "could not read .: it is a folder"},
      {{"new"}, 2, "name the file to write"},
      {{"demo", "small.toml"}, 3, "could not make the folder small.toml"},
  };
  for (const WrongCall& call : calls) {
    const Ended ended = run_program(folder, call.words);
    EXPECT_EQ(ended.status, call.status) << call.says << ended.err;
    EXPECT_NE(ended.err.find(call.says), std::string::npos) << ended.err;
    EXPECT_TRUE(ended.err.starts_with("stasis: error: ")) << ended.err;
    EXPECT_EQ(ended.out, "");
    EXPECT_EQ(folder.files(), std::vector<std::string>{"small.toml"}) << call.says;
  }
}

TEST(Program, AFolderThatCannotBeWrittenIsSaidSo) {
  const TempDir folder;
  folder.write("small.toml", small_feel);
  folder.write("taken/one.trace.csv/x", "a folder stands where the file should");
  const Ended ended = run_program(folder, {"run", "small.toml", "-o", "taken"});
  EXPECT_EQ(ended.status, 3);
  EXPECT_NE(ended.err.find("is not a plain file"), std::string::npos) << ended.err;
  EXPECT_EQ(folder.files().size(), 2u);
  folder.write("other/one.trace.csv", "my own table");
  const Ended refused = run_program(folder, {"run", "small.toml", "-o", "other", "--take", "one", "--figure", "none"});
  EXPECT_EQ(refused.status, 3);
  EXPECT_NE(refused.err.find("--force"), std::string::npos);
  EXPECT_EQ(folder.read("other/one.trace.csv"), "my own table");
  EXPECT_EQ(
      run_program(folder, {"run", "small.toml", "-o", "other", "--take", "one", "--figure", "none", "--force"}).status,
      0);
  if (::geteuid() == 0) return; // root writes anywhere
  ::chmod(folder.path().c_str(), 0555);
  EXPECT_EQ(run_program(folder, {"run", "small.toml", "-o", "closed"}).status, 3);
}

TEST(Program, AFeelWithoutATakeSaysWhatToAdd) {
  const TempDir folder;
  const Ended ended = run_program(folder, {"run", "-"}, "[channel.a]\nrest = 1\n");
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("has no take"), std::string::npos);
}

TEST(Program, AFullDeviceIsNamedAndAClosedPipeIsNoFault) {
  const TempDir folder;
  folder.write("small.toml", small_feel);
  const auto shell = [&](const std::string& rest) {
    const std::string command =
        fmt::format("cd {} && {} run small.toml --take one -o - {}", folder.path().string(), STASIS_PROGRAM, rest);
    return WEXITSTATUS(std::system(command.c_str()));
  };
  EXPECT_EQ(shell("> /dev/full 2> said"), 3);
  EXPECT_EQ(folder.read("said"), "stasis: error: could not write to standard output: No space left on device.\n");
  EXPECT_EQ(shell("2> said | true"), 0);
  EXPECT_EQ(folder.read("said"), "");
}

TEST(Program, ALongTakeNeedsNoMoreMemory) {
  const TempDir folder;
  folder.write("small.toml", small_feel);
  // A million frames under a limit of 64 MiB of address space.
  const std::string command = fmt::format("cd {} && ulimit -v 65536 && {} run small.toml --take one --set "
                                          "take.one.length=1000 --fps 1000 --figure none > out",
                                          folder.path().string(), STASIS_PROGRAM);
  if (std::string(STASIS_SANITIZED) == "ON") GTEST_SKIP() << "sanitizers reserve address space of their own";
  EXPECT_EQ(std::system(command.c_str()), 0);
}

} // namespace
} // namespace stasis::test
