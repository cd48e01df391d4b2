// A feel as source code in every language: built and run, its values are those of the take.
#include <cmath>
#include <cstdlib>
#include <ostream>
#include <random>
#include <sstream>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/program.hpp"
#include "support/random_feels.hpp"

namespace stasis::test {
namespace {

const char* const plain_feel = R"(feel = 1
[channel.fov]
unit = "deg"
rest = 62
range = [30, 95]
space = "zoom"
motion = { kind = "spring", frequency = 1.75, damping_ratio = 0.6 }
[pose.listen]
fov = 38
[control.listen]
kind = "hold"
pose = "listen"
[take.press]
length = 2
cues = [{ at = 0.2, press = "listen" }, { at = 0.9, release = "listen" }]
)";

struct Language {
  const char* name;
  const char* extension;
  const char* build; ///< of the check p_check; prints nothing on success
  const char* run;
};

/// A test is named after its language.
void PrintTo(const Language& one, std::ostream* out) { *out << one.name; }

const Language languages[] = {
    {"c", ".c", "gcc -std=c99 -O1 -Wall -Wextra -Wpedantic -Wconversion -Werror p_check.c -o p -lm", "./p"},
    {"cpp", ".cpp", "g++ -std=c++17 -O0 -Wall -Wextra -Wpedantic -Wconversion -Werror p_check.cpp -o p", "./p"},
    {"csharp", ".cs", "mcs p.cs p_check.cs -out:p.exe", "mono p.exe"},
    {"javascript", ".mjs", "true", "node p_check.mjs"},
    {"lua", ".lua", "true", "lua5.4 p_check.lua"},
    {"python", ".py", "true", "python3 -B p_check.py"},
    {"rust", ".rs", "rustc -D warnings p_check.rs -o p", "./p"},
};

class InLanguage : public ::testing::TestWithParam<Language> {
protected:
  /// Exports what stands in `file` and plays `take` by it.
  Ended play(const std::string& file, const std::string& take, const std::vector<std::string>& more = {}) {
    std::vector<std::string> words{"export", file, "code", "--language", GetParam().name, "--prefix",
                                   "p",      "-o", "out",  "--force",    "--with-check"};
    if (!take.empty()) words.insert(words.end(), {"--take", take});
    words.insert(words.end(), more.begin(), more.end());
    const Ended exported = run_program(folder, words);
    if (exported.status != 0) return exported;
    const Ended built = run_in_shell(folder, fmt::format("cd out && {} >built.txt 2>&1", GetParam().build));
    if (built.status != 0) return {99, folder.read("out/built.txt"), ""};
    return run_in_shell(folder, fmt::format("cd out && {}", GetParam().run));
  }
  static double difference_in(const std::string& out) {
    const std::size_t at = out.rfind("largest difference ");
    return at == std::string::npos ? std::nan("") : std::strtod(out.c_str() + at + 19, nullptr);
  }

  const TempDir folder;
};

TEST_P(InLanguage, TheDemoMovesAsItsTakesDo) {
  ASSERT_EQ(run_program(folder, {"demo", ".", "--figure", "none"}).status, 0);
  for (const char* recipe : {"slow_motion", "wall", "hand_held"})
    ASSERT_EQ(run_program(folder, {"new", std::string(recipe) + ".toml", "--recipe", recipe}).status, 0);
  for (const char* file : {"first.toml", "otter.toml", "swim.toml", "frames.toml", "orbit.toml", "bridge.toml",
                           "weir.toml", "slow_motion.toml", "wall.toml", "hand_held.toml"}) {
    const std::string text = folder.read(file);
    const std::size_t at = text.find("\n[take.") + 7;
    const Ended ended = play(file, text.substr(at, text.find(']', at) - at));
    EXPECT_EQ(ended.status, 0) << file << "\n" << ended.out.substr(0, 2000) << ended.err;
    EXPECT_LE(difference_in(ended.out), 1e-12) << file;
  }
}

TEST_P(InLanguage, RandomFeelsMoveAsTheirTakesDo) {
  int played = 0;
  for (std::uint64_t seed = 9001; played < 6; ++seed) {
    ASSERT_LT(seed, 9100u);
    std::mt19937_64 random(seed);
    FeelMaker maker(seed, {.tracks = seed % 3 == 0,
                           .rules_of_frames = seed % 4 == 0,
                           .switches = seed % 3 == 0,
                           .sticks = seed % 2 == 0});
    const char* const clocks[] = {"fps = 60", "fps = 90, jitter = 0.3, seed = 5", "fps = 48, stalls = [[0.6, 0.15]]"};
    folder.write("r.toml", "feel = 1\n" + maker.make().text + fmt::format("clock = {{ {} }}\n", clocks[seed % 3]));
    const Ended ended = play("r.toml", "");
    if (ended.status == 2) continue; // a feel that is none, or that cannot be written, which is said
    ++played;
    EXPECT_EQ(ended.status, 0) << seed << "\n" << ended.out.substr(0, 2000) << ended.err;
    EXPECT_LE(difference_in(ended.out), 1e-12) << seed;
  }
}

TEST_P(InLanguage, ValuesOfShortNumbersComeAsNearAsTheyCan) {
  ASSERT_EQ(run_program(folder, {"demo", ".", "--figure", "none"}).status, 0);
  const std::string name = GetParam().name;
  const std::vector<std::string> single{"--precision", "single"};
  if (name != "c" && name != "cpp" && name != "csharp" && name != "rust") {
    const Ended refused = play("first.toml", "", single);
    EXPECT_EQ(refused.status, 2);
    EXPECT_NE(refused.err.find("has only one precision"), std::string::npos) << refused.err;
    return;
  }
  for (const auto& [file, take] : {std::pair{"otter.toml", "hands"}, {"frames.toml", "hatch"}, {"orbit.toml", ""}}) {
    const Ended ended = play(file, take, single);
    EXPECT_EQ(ended.status, 0) << file << "\n" << ended.out.substr(0, 2000) << ended.err;
    EXPECT_LE(difference_in(ended.out), 1e-5) << file;
    EXPECT_GE(difference_in(ended.out), 1e-12) << file; // they are short
  }
  for (const std::uint64_t seed : {63u, 64u, 48u}) {
    folder.write("r.toml", "feel = 1\n" + FeelMaker(seed, {.sticks = true}).make().text + "clock = { fps = 90 }\n");
    const Ended ended = play("r.toml", "", single);
    if (ended.status == 2) continue;
    EXPECT_EQ(ended.status, 0) << seed << "\n" << ended.out.substr(0, 2000) << ended.err;
  }
}

TEST_P(InLanguage, ACheckNoticesOneNumberThatIsAnother) {
  folder.write("f.toml", plain_feel);
  ASSERT_EQ(play("f.toml", "").status, 0);
  const std::string path = std::string("out/p") + GetParam().extension;
  std::string text = folder.read(path);
  const std::size_t at = text.find("1.75");
  ASSERT_NE(at, std::string::npos);
  folder.write(path, text.replace(at, 4, "1.76"));
  EXPECT_EQ(run_in_shell(folder, fmt::format("cd out && {} >built.txt 2>&1", GetParam().build)).status, 0);
  const Ended ended = run_in_shell(folder, fmt::format("cd out && {}", GetParam().run));
  EXPECT_EQ(ended.status, 1) << ended.out.substr(0, 500);
  EXPECT_GT(difference_in(ended.out), 1e-6);
}

TEST_P(InLanguage, ATitleStaysInItsComment) {
  for (const char* title : {"*/ int x; /*", "end \\n broken", "\\\\", "'''\\\"\\\"\\\" ]] --[[ ", "// \\u2028 ?>"}) {
    folder.write("f.toml", fmt::format("title = \"{}\"\n", title) + plain_feel);
    const Ended ended = play("f.toml", "");
    EXPECT_EQ(ended.status, 0) << title << ended.out.substr(0, 1000) << ended.err;
  }
  // A unit is free text as well, and stands beside each number.
  for (const char* unit : {"*/ x /*", "m\\\\", "]] --"}) {
    std::string text = plain_feel;
    const std::string of_fov = "unit = \"deg\"";
    text.replace(text.find(of_fov), of_fov.size(), fmt::format("unit = \"{}\"", unit));
    text.replace(text.find("space = \"zoom\""), 14, "");
    folder.write("f.toml", text);
    const Ended ended = play("f.toml", "");
    EXPECT_TRUE(ended.status == 0 || ended.err.find("unit") != std::string::npos)
        << unit << ended.out.substr(0, 1000) << ended.err;
  }
}

TEST_P(InLanguage, TheSameBytesComeOutTwice) {
  folder.write("f.toml", plain_feel);
  ASSERT_EQ(play("f.toml", "").status, 0);
  const std::string path = std::string("out/p") + GetParam().extension;
  const std::string once = folder.read(path);
  ASSERT_EQ(play("f.toml", "").status, 0);
  EXPECT_EQ(folder.read(path), once);
}

INSTANTIATE_TEST_SUITE_P(Code, InLanguage, ::testing::ValuesIn(languages),
                         [](const auto& one) { return std::string(one.param.name); });

class ExportedCode : public ::testing::Test {
protected:
  ExportedCode() { folder.write("f.toml", plain_feel); }
  Ended run(std::vector<std::string> words) {
    words.insert(words.begin(), {"export", "f.toml", "code"});
    return run_program(folder, words);
  }
  const TempDir folder;
};

TEST_F(ExportedCode, ACheckThatWouldHaveTooManyTicksIsRefused) {
  std::string text = plain_feel;
  text.replace(text.find("length = 2"), 10, "length = 40\nclock = { fps = 10, tick = 1000, order = \"on_tick\" }");
  folder.write("f.toml", text);
  const Ended ended = run({"--language", "c", "--with-check", "-o", "out"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("goes over 40001 ticks"), std::string::npos) << ended.err;
  EXPECT_NE(ended.err.find("a slower tick"), std::string::npos) << ended.err;
  EXPECT_EQ(folder.files(), std::vector<std::string>{"f.toml"});
}

TEST_F(ExportedCode, TheCheckPrintsTheRowsOfTheTrace) {
  ASSERT_EQ(run({"--language", "c", "--with-check", "-o", "out"}).status, 0);
  const Ended ended = run_in_shell(folder, "cd out && gcc f_check.c -o f -lm && ./f");
  ASSERT_EQ(ended.status, 0);
  const std::size_t last = ended.out.rfind("largest difference");
  ASSERT_NE(last, std::string::npos);
  const auto rows = read_csv(ended.out.substr(0, last));
  ASSERT_EQ(run_program(folder, {"run", "f.toml", "-o", "run", "--figure", "none"}).status, 0);
  const auto trace = read_csv(folder.read("run/press.trace.csv"));
  ASSERT_EQ(rows.at("time").size(), trace.at("time").size());
  for (std::size_t k = 0; k < rows.at("time").size(); ++k) {
    EXPECT_NEAR(rows.at("fov")[k], trace.at("fov.value")[k], 1e-10);
    EXPECT_EQ(rows.at("time")[k], trace.at("time")[k]);
  }
}

/// The program of the demo, and what it prints: the view narrows while the key is held, and comes home.
TEST_F(ExportedCode, TheDemoProgramShowsTheOtterWithoutStasis) {
  ASSERT_EQ(run_program(folder, {"demo", ".", "--figure", "none"}).status, 0);
  ASSERT_EQ(run_program(folder, {"export", "otter.toml", "code", "--language", "c", "-o", "out"}).status, 0);
  const Ended ended = run_in_shell(
      folder,
      fmt::format("cp {}/demo/in_c/main.c out && cd out && gcc -std=c99 -Wall -Wextra -Werror main.c -o view -lm && "
                  "./view",
                  STASIS_SOURCE));
  ASSERT_EQ(ended.status, 0) << ended.err;
  double at_start = 0.0, least = 1e9, at_end = 0.0, time = 0.0, lens = 0.0;
  int rows = 0;
  std::istringstream lines(ended.out);
  std::string line;
  std::getline(lines, line);
  while (std::getline(lines, line)) {
    ASSERT_EQ(std::sscanf(line.c_str(), "%lf %lf deg", &time, &lens), 2) << line;
    if (rows++ == 0) at_start = lens;
    least = std::min(least, lens);
    at_end = lens;
  }
  EXPECT_EQ(rows, 13);
  EXPECT_EQ(at_start, 62.0);
  EXPECT_LT(least, 40.0);
  EXPECT_NEAR(at_end, 62.0, 1.0);
}

/// The motions alone step as the feel's own do: a spring's way from rest to 1, against its closed form.
TEST_F(ExportedCode, MotionsAloneStepExactly) {
  folder.write("m.toml", R"(
[motion.soft]
kind = "spring"
frequency = 1.5
damping_ratio = 0.4
[motion.slow]
kind = "stages"
stages = [{ kind = "delay", delay = 0.1 }, { kind = "glide", rate = 5 }]
)");
  ASSERT_EQ(run_program(folder, {"export", "m.toml", "code", "--language", "python", "--motions", "-o", "out"}).status,
            0);
  const Ended ended = run_in_shell(folder, R"(cd out && python3 -c "
import m
s = m.State()
m.begin(s)
m.goal(s, m.VALUE_SOFT, 1.0)
m.goal(s, m.VALUE_SLOW, 1.0)
for k in range(30): m.advance(s, 1 / 60)
print(repr(m.value_of_soft(s)), repr(m.value_of_slow(s)))
")");
  ASSERT_EQ(ended.status, 0) << ended.err;
  double soft = 0.0, slow = 0.0;
  ASSERT_EQ(std::sscanf(ended.out.c_str(), "%lf %lf", &soft, &slow), 2) << ended.out;
  const double w = 2.0 * std::acos(-1.0) * 1.5, z = 0.4, q = std::sqrt(1.0 - z * z), t = 0.5;
  EXPECT_NEAR(soft, 1.0 - std::exp(-z * w * t) * (std::cos(q * w * t) + z / q * std::sin(q * w * t)), 1e-13);
  EXPECT_NEAR(slow, 1.0 - std::exp(-5.0 * 0.4), 1e-13);
}

TEST_F(ExportedCode, CallsThatMeanNothingAreRefused) {
  const std::pair<std::vector<std::string>, const char*> calls[] = {
      {{}, "needs --language"},
      {{"--language", "cobol"}, "c, cpp"},
      {{"--language", "c", "--prefix", "Big"}, "small letters"},
      {{"--language", "c", "--prefix", "namespace"}, "is a keyword"},
      {{"--language", "lua", "--prefix", "math"}, "is a keyword"},
      {{"--language", "lua", "--precision", "single"}, "has only one precision"},
      {{"--language", "c", "--precision", "half"}, "double or single"},
      {{"--language", "c", "--motions", "--with-check"}, "leave one of them out"},
      {{"--language", "c", "--form", "json"}, "--form goes with"},
      {{"--language", "c", "--column", "fov.value"}, "--column goes with"},
  };
  for (const auto& [words, said] : calls) {
    const Ended ended = run(words);
    EXPECT_EQ(ended.status, 2) << said;
    EXPECT_NE(ended.err.find(said), std::string::npos) << ended.err;
  }
  const Ended other = run_program(folder, {"export", "f.toml", "css", "--language", "c"});
  EXPECT_EQ(other.status, 2);
  EXPECT_NE(other.err.find("--language goes with code only"), std::string::npos);
  for (const std::string& file : folder.files()) EXPECT_EQ(file, "f.toml");
}

TEST_F(ExportedCode, WhatStasisWroteIsReplacedAndWhatOthersWroteIsNot) {
  for (const Language& one : languages) {
    const std::vector<std::string> words{"--language", one.name, "--with-check", "-o", "out"};
    EXPECT_EQ(run(words).status, 0) << one.name;
    const Ended again = run(words);
    EXPECT_EQ(again.status, 0) << one.name << again.err;
    folder.write(std::string("out/f") + one.extension, "mine\n");
    EXPECT_EQ(run(words).status, 3) << one.name;
    EXPECT_EQ(folder.read(std::string("out/f") + one.extension), "mine\n");
  }
}

TEST_F(ExportedCode, EachVersionHasAFileOfItsOwn) {
  folder.write("f.toml", std::string(plain_feel) + "[variant.heavy]\n\"channel.fov.motion.frequency\" = 0.75\n");
  ASSERT_EQ(run({"--language", "lua", "--variant", "all", "-o", "out"}).status, 0);
  EXPECT_NE(folder.read("out/f.lua").find("1.75"), std::string::npos);
  EXPECT_NE(folder.read("out/f_heavy.lua").find("0.75"), std::string::npos);
  EXPECT_EQ(folder.read("out/f_heavy.lua").find("1.75"), std::string::npos);
}

TEST_F(ExportedCode, StandardOutputTakesOneFile) {
  for (const Language& one : languages) {
    const Ended ended = run({"--language", one.name, "-o", "-"});
    EXPECT_EQ(ended.status, 0) << one.name << ended.err;
    EXPECT_NE(ended.out.find("written by stasis export"), std::string::npos) << one.name;
    EXPECT_EQ(ended.out.find("Types of"), std::string::npos) << one.name;
  }
  const Ended two = run({"--language", "c", "--with-check", "-o", "-"});
  EXPECT_EQ(two.status, 2);
  EXPECT_NE(two.err.find("leave --with-check out"), std::string::npos) << two.err;
  for (const std::string& file : folder.files()) EXPECT_EQ(file, "f.toml");
}

TEST_F(ExportedCode, AFileNamedAsALanguagesOwnWordGetsAnotherName) {
  folder.write("math.toml", plain_feel);
  ASSERT_EQ(run_program(folder, {"export", "math.toml", "code", "--language", "python", "-o", "out"}).status, 0);
  EXPECT_EQ(folder.read("out/math.py"), "");
  EXPECT_NE(folder.read("out/math_feel.py"), "");
}

TEST_F(ExportedCode, WhatCannotBeWrittenIsSaidAndNothingIs) {
  folder.write("f.toml", std::string(plain_feel) + R"([channel.a]
rest = 0
[channel.a_in_b]
rest = 0
[pose.b_in_c]
a = 1
[pose.c]
a_in_b = 1
[control.one]
kind = "hold"
pose = "c"
[control.two]
kind = "hold"
pose = "b_in_c"
)");
  const Ended ended = run({"--language", "c", "-o", "out"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("Two names of the feel become the same"), std::string::npos) << ended.err;
  for (const std::string& file : folder.files()) EXPECT_EQ(file, "f.toml");
}

/// What its form of a motion cannot hold is left out with a note, and neither it nor what reads it is compared.
TEST_F(ExportedCode, WhatIsNotAsInTheFeelIsSaidAndNotCompared) {
  folder.write("f.toml", std::string(plain_feel) + R"(
[channel.side]
rest = 0
[channel.twice]
rest = 0
formula = "2 * side"
[track.leaf]
kind = "line"
from = [0, 0, 0]
velocity = [4, 0, 0]
in = "about_subject"
[shake.bob]
on = { side = 0.1 }
wave = { kind = "stride", track = "leaf", length = 2 }
always = true
)");
  const Ended ended = run({"--language", "c", "-o", "out", "--with-check"});
  EXPECT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("Shake bob is not in this file: it goes by a track that may be lost"), std::string::npos)
      << ended.out;
  const std::string check = folder.read("out/f_check.c");
  const std::size_t columns = check.find("time,");
  ASSERT_NE(columns, std::string::npos);
  const std::string named = check.substr(columns, check.find('"', columns) - columns);
  EXPECT_EQ(named.find("side"), std::string::npos) << named;
  EXPECT_NE(named.find("twice"), std::string::npos) << named; // formulas read what is not shaken
}

} // namespace
} // namespace stasis::test
