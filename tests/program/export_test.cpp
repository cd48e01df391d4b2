// stasis export, as its users meet it: what is written is the take and its motions.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/export/fewest_keys.hpp"
#include "support/program.hpp"
#include "support/random_feels.hpp"

namespace stasis::test {
namespace {

class Exported : public ::testing::Test {
protected:
  static void SetUpTestSuite() { EXPECT_EQ(run_program(demo(), {"demo", ".", "--figure", "none"}).status, 0); }
  static const TempDir& demo() {
    static const TempDir unpacked;
    return unpacked;
  }
  Exported() {
    for (const char* file : {"first.toml", "otter.toml", "swim.toml", "swim.csv", "lean.csv"})
      folder.write(file, demo().read(file));
  }

  std::string written(std::vector<std::string> words, const std::string& path) {
    words.insert(words.begin(), "export");
    words.insert(words.end(), {"-o", "out", "--force"});
    const Ended ended = run_program(folder, words);
    EXPECT_EQ(ended.status, 0) << ended.err;
    return folder.read(path);
  }

  const TempDir folder;
};

/// The keys of a channel, from the CSV.
std::vector<SlopedSample> keys_in(const std::string& csv, const std::string& channel) {
  std::vector<SlopedSample> keys;
  for (std::size_t at = 0; at < csv.size();) {
    const std::size_t end = csv.find('\n', at);
    const std::string line = csv.substr(at, end - at);
    if (line.starts_with(channel + ",")) {
      SlopedSample key{};
      EXPECT_EQ(std::sscanf(line.c_str() + channel.size() + 1, "%lf,%lf,%lf,%lf", &key.time, &key.value, &key.slope_in,
                            &key.slope_out),
                4)
          << line;
      keys.push_back(key);
    }
    at = end + 1;
  }
  return keys;
}

TEST_F(Exported, KeysLeadThroughEveryFrameOfTheTrace) {
  const std::string csv = written({"otter.toml", "keys", "--tolerance", "0.002"}, "out/approach.keys.csv");
  EXPECT_EQ(run_program(folder, {"run", "otter.toml", "--take", "approach", "-o", "run", "--figure", "none"}).status,
            0);
  const auto trace = read_csv(folder.read("run/approach.trace.csv"));
  for (const char* channel : {"fov", "distance", "side", "yaw"}) {
    const auto& values = trace.at(std::string(channel) + ".value");
    const auto& times = trace.at("time");
    const auto keys = keys_in(csv, channel);
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    ASSERT_GE(keys.size(), 2u);
    EXPECT_EQ(keys.front().time, 0.0);
    EXPECT_EQ(keys.back().time, times.back());
    EXPECT_LT(keys.size(), values.size() / 8) << channel;
    std::size_t k = 0;
    for (std::size_t row = 0; row < values.size(); ++row) {
      while (keys[k + 1].time < times[row]) ++k;
      EXPECT_NEAR(hermite(keys[k], keys[k + 1], times[row]), values[row], 0.0020001 * (*high - *low))
          << channel << " at " << times[row];
    }
  }
}

TEST_F(Exported, ACornerHasTwoSlopes) {
  folder.write("corner.toml", R"([channel.a]
rest = 0
motion = { kind = "ease", duration = 1, curve = "linear" }
[pose.on]
a = 1
[control.c]
kind = "hold"
pose = "on"
[take.t]
length = 3
clock = { fps = 4 }
cues = [{ at = 1, press = "c" }]
)");
  EXPECT_EQ(written({"corner.toml", "keys"}, "out/t.keys.csv"),
            "channel,time,value,slope_in,slope_out\na,0,0,0,0\na,1,0,0,1\na,2,1,1,0\na,3,1,0,0\n");
}

TEST_F(Exported, ATableHasTheRowsOfTheTrace) {
  const std::string csv = written({"otter.toml", "table", "--take", "approach", "--fps", "30", "--column", "fov.value"},
                                  "out/approach.table.csv");
  const auto table = read_csv(csv),
             trace = read_csv(
                 run_program(folder, {"run", "otter.toml", "--take", "approach", "--fps", "30", "-o", "-"}).out);
  EXPECT_TRUE(csv.starts_with("frame,time,fov.value\n"));
  EXPECT_EQ(table.at("time"), trace.at("time"));
  EXPECT_EQ(table.at("fov.value"), trace.at("fov.value"));
  const std::string lines =
      written({"otter.toml", "table", "--take", "approach", "--form", "jsonl"}, "out/approach.table.jsonl");
  EXPECT_TRUE(lines.starts_with(R"({"frame":0,"time":0,"fov.value":62,)")) << lines.substr(0, 200);
}

TEST_F(Exported, AnArrayIsTakenByACompilerWithoutAWarning) {
  written({"swim.toml", "table", "--form", "c"}, "out/swim.h");
  folder.write("main.c", "#include \"out/swim.h\"\nint main(void) { return swim_rows > 1 && swim[0][0] == 0.0 "
                         "&& sizeof swim / sizeof swim[0] == (unsigned)swim_rows ? 0 : 1; }\n");
  const Ended built =
      run_in_shell(folder, "ls out; gcc -std=c99 -Wall -Wextra -Wpedantic -Wconversion -Werror main.c -o "
                           "main && ./main");
  EXPECT_EQ(built.status, 0) << built.out << built.err;
}

TEST_F(Exported, TheSameBytesEachTimeAndOneTextToStandardOutput) {
  for (const std::vector<std::string>& words : {std::vector<std::string>{"css"},
                                                {"numbers"},
                                                {"keys", "--take", "approach"},
                                                {"table", "--take", "approach"}}) {
    std::vector<std::string> call{"export", "otter.toml"};
    call.insert(call.end(), words.begin(), words.end());
    call.insert(call.end(), {"-o", "-"});
    const Ended once = run_program(folder, call), again = run_program(folder, call);
    EXPECT_EQ(once.status, 0) << once.err;
    EXPECT_GT(once.out.size(), 100u);
    EXPECT_EQ(once.out, again.out);
  }
  EXPECT_EQ(run_program(folder, {"export", "otter.toml", "keys", "-o", "-"}).status, 2); // three takes
}

TEST_F(Exported, RandomFeelsAreExportedTheSameTwiceAndWithinTheTolerance) {
  for (std::uint64_t seed = 1; seed <= 16; ++seed) {
    FeelKinds kinds;
    kinds.rules_of_frames = kinds.switches = kinds.sticks = seed % 2 == 0;
    kinds.tracks = !kinds.sticks; // a stick does not move what a track places
    folder.write("r.toml", FeelMaker(seed, kinds).make().text);
    const Ended played = run_program(folder, {"run", "r.toml", "-o", "-"});
    if (played.status == 2) continue; // chance put together what does not go together
    for (const char* what : {"css", "numbers", "table"}) {
      const Ended once = run_program(folder, {"export", "r.toml", what, "-o", "-"});
      EXPECT_EQ(once.status, 0) << seed << what << once.err;
      EXPECT_EQ(once.out, run_program(folder, {"export", "r.toml", what, "-o", "-"}).out);
    }
    const std::string csv = run_program(folder, {"export", "r.toml", "keys", "-o", "-"}).out;
    const auto trace = read_csv(played.out);
    for (const auto& [name, values] : trace) {
      const std::size_t at = name.find(".value");
      if (at == std::string::npos || name.starts_with("control.")) continue;
      const std::string channel = name.substr(0, at) + name.substr(at + 6);
      const auto keys = keys_in(csv, channel);
      ASSERT_GE(keys.size(), 2u) << seed << " " << channel;
      const auto [low, high] = std::minmax_element(values.begin(), values.end());
      const double room = 0.001 * (*high - *low) * 1.0001 + 1e-12 * std::fabs(*high);
      std::size_t k = 0;
      for (std::size_t row = 0; row < values.size(); ++row) {
        const double time = trace.at("time")[row];
        while (k + 2 < keys.size() && keys[k + 1].time < time) ++k;
        EXPECT_NEAR(hermite(keys[k], keys[k + 1], time), values[row], room) << seed << channel << time;
      }
    }
  }
}

TEST_F(Exported, AHostileTitleCannotEndAComment) {
  folder.write("hostile.toml", "title = \"*/ body { color: red } /*\\n*/\"\n" + folder.read("first.toml"));
  std::string text = folder.read("hostile.toml");
  text.erase(text.find("\ntitle = ", 10),
             text.find('\n', text.find("\ntitle = ", 10) + 1) - text.find("\ntitle = ", 10));
  folder.write("hostile.toml", text);
  for (const std::string& path : {std::string("out/hostile.css"), std::string("out/approach.h")}) {
    const std::string made = path.ends_with(".css") ? written({"hostile.toml", "css"}, path)
                                                    : written({"hostile.toml", "table", "--form", "c"}, path);
    EXPECT_EQ(made.find("*/ body"), std::string::npos) << made.substr(0, 300);
  }
}

TEST_F(Exported, NothingIsReplacedThatStasisDidNotWrite) {
  folder.write("stasis-out/first.css", "/* mine */");
  const Ended ended = run_program(folder, {"export", "first.toml", "css"});
  EXPECT_EQ(ended.status, 3);
  EXPECT_EQ(folder.read("stasis-out/first.css"), "/* mine */");
  // What it wrote itself, it replaces.
  for (const char* what : {"numbers", "keys", "table"}) {
    EXPECT_EQ(run_program(folder, {"export", "first.toml", what}).status, 0) << what;
    EXPECT_EQ(run_program(folder, {"export", "first.toml", what}).status, 0) << what;
  }
}

TEST_F(Exported, OddCallsAreRefused) {
  for (const std::vector<std::string>& words : {std::vector<std::string>{"cs"},
                                                {"css", "--column", "fov.value"},
                                                {"keys", "--form", "c"},
                                                {"table", "--form", "json"},
                                                {"table", "--column", "fov"},
                                                {"keys", "--only", "fog"},
                                                {"table", "--only", "fov"},
                                                {"css", "--form", "json"},
                                                {"css", "--tolerance", "0"},
                                                {"css", "--tolerance", "1"},
                                                {"css", "--tolerance", "fine"}}) {
    std::vector<std::string> call{"export", "first.toml"};
    call.insert(call.end(), words.begin(), words.end());
    call.insert(call.end(), {"-o", "odd"});
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 2) << fmt::format("{}", fmt::join(words, " "));
    EXPECT_TRUE(ended.err.starts_with("stasis: error: ")) << ended.err;
    EXPECT_FALSE(std::filesystem::exists(folder / "odd"));
  }
}

/// How many pictures an animated PNG says it has.
int pictures_in(const std::string& png) {
  const std::size_t at = png.find("acTL");
  if (at == std::string::npos) return 0;
  int count = 0;
  for (std::size_t k = 4; k < 8; ++k) count = count * 256 + static_cast<unsigned char>(png[at + k]);
  return count;
}

TEST_F(Exported, FramesAreTwentyFiveASecondUnlessAskedOtherwise) {
  const std::string usual = written({"first.toml", "frames"}, "out/first.frames.png");
  EXPECT_TRUE(usual.starts_with("\x89PNG"));
  EXPECT_EQ(pictures_in(usual), 76); // 3 s, and the first
  EXPECT_EQ(usual, written({"first.toml", "frames"}, "out/first.frames.png"));
  EXPECT_EQ(pictures_in(written({"first.toml", "frames", "--fps", "10"}, "out/first.frames.png")), 31);
}

TEST_F(Exported, FramesAreNumberedPicturesToo) {
  const Ended ended =
      run_program(folder, {"export", "first.toml", "frames", "--form", "png", "--fps", "5", "-o", "out"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("first: 16 pictures, 5 a second, 960 x 540 px,"), std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("wrote out/first.frames/\n"), std::string::npos) << ended.out;
  for (const char* name : {"out/first.frames/0001.png", "out/first.frames/0016.png"})
    EXPECT_TRUE(folder.read(name).starts_with("\x89PNG")) << name;
  // A second time over its own pictures, but over nobody else's.
  EXPECT_EQ(run_program(folder, {"export", "first.toml", "frames", "--form", "png", "--fps", "5", "-o", "out"}).status,
            0);
  folder.write("out/first.frames/0003.png", "my own");
  EXPECT_EQ(run_program(folder, {"export", "first.toml", "frames", "--form", "png", "--fps", "5", "-o", "out"}).status,
            3);
  EXPECT_EQ(folder.read("out/first.frames/0003.png"), "my own");
  // Those before it stay as they were too.
  const std::string before = folder.read("out/first.frames/0001.png");
  EXPECT_EQ(run_program(folder, {"export", "first.toml", "frames", "--form", "png", "--fps", "5", "--set",
                                 "channel.fov.rest=70", "-o", "out"})
                .status,
            3);
  EXPECT_EQ(folder.read("out/first.frames/0001.png"), before);
}

TEST_F(Exported, OnStandardOutputAFileIsWhatItIsOnDisk) {
  const std::pair<std::vector<std::string>, std::string> calls[] = {
      {{"export", "first.toml", "frames", "--fps", "2"}, "first.frames.png"},
      {{"export", "swim.toml", "gltf", "--form", "glb", "--take", "drill"}, "drill.glb"},
      {{"export", "otter.toml", "css"}, "otter.css"},
      {{"report", "first.toml", "--figure", "none"}, "page.html"}};
  for (const auto& [call, file] : calls) {
    std::vector<std::string> there = call, here = call;
    there.insert(there.end(), {"-o", "-"});
    here.insert(here.end(), {"-o", file == "page.html" ? "out/page.html" : "out", "--force"});
    ASSERT_EQ(run_program(folder, here).status, 0) << file;
    std::string text = folder.read("out/" + file), said = run_program(folder, there).out;
    // A page says by which call it was made.
    for (std::string* one : {&text, &said})
      if (const std::size_t at = one->find("stasis report first.toml"); at != std::string::npos)
        one->erase(at, one->find_first_of("\"<", at) - at);
    EXPECT_EQ(said.size(), text.size()) << file;
    EXPECT_TRUE(said == text) << file;
  }
}

TEST_F(Exported, FramesOfATakeThatIsTooLongAreRefused) {
  const Ended ended = run_program(folder, {"export", "first.toml", "frames", "--fps", "1001"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("3000 are drawn at most; give a lower --fps"), std::string::npos) << ended.err;
  EXPECT_EQ(run_program(folder, {"export", "first.toml", "frames", "--form", "gltf"}).status, 2);
}

} // namespace
} // namespace stasis::test
