// `stasis sweep` and `stasis solve`, through the built program.
#include <algorithm>
#include <cmath>
#include <cstring>
#include <numbers>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* one_spring = R"(# a spring, and what is wanted of it
[channel.a]
unit = "m"
rest = 0
motion = "soft"
[motion.soft]          # the spring
kind = "spring"
frequency = 1.5        # Hz
damping_ratio = 0.4
[motion.lazy]
kind = "glide"
half_life = 0.4
[pose.p]
a = 1
[control.p]
kind = "hold"
pose = "p"
[take.t]
length = 4
clock = { fps = 60 }
cues = [{ at = 0.5, press = "p" }]
)";

constexpr const char* over_frequency = "motion.soft.frequency=1:3:9";

/// What is drawn: the ways of all paths and the words of all texts. On a page only the names of parts are others.
std::string drawn_in(const std::string& svg) {
  std::string drawn;
  for (const auto& [open, close] : {std::pair(" d='", "'"), {"<text", "</text>"}})
    for (std::size_t at = svg.find(open); at != std::string::npos; at = svg.find(open, at + 1))
      drawn += svg.substr(at, svg.find(close, at + std::strlen(open)) - at);
  return drawn;
}

TEST(Sweep, ItsFigureIsOnAPageThatIsGivenItsTable) {
  const TempDir folder;
  folder.write("feel.toml",
               std::string(one_spring) + "[[want]]\ntake = \"t\"\nmeasure = \"a.overshoot\"\nat_most = 10\n");
  ASSERT_EQ(run_program(folder, {"sweep", "feel.toml", "--over", "motion.soft.frequency=1:3:5", "--over",
                                 "motion.soft.damping_ratio=0.3,0.5,1", "--measure", "a.overshoot", "--measure",
                                 "a.settling_time", "-o", "o", "--figure", "svg", "--fps", "30,60"})
                .status,
            0);
  const Ended made = run_program(folder, {"report", "feel.toml", "--sweep", "o/sweep.csv", "-o", "p.html", "--baked"});
  ASSERT_EQ(made.status, 0) << made.err;
  const std::string page = folder.read("p.html");
  const std::size_t caption = page.find("sweep.csv, what other numbers would do");
  ASSERT_NE(caption, std::string::npos);
  const std::size_t from = page.find("<svg", caption);
  EXPECT_EQ(drawn_in(page.substr(from, page.find("</svg>", from) - from)), drawn_in(folder.read("o/sweep.svg")));
}

TEST(Sweep, ATableThatIsNoSweepOfTheFeelIsRefused) {
  const TempDir folder;
  folder.write("feel.toml", one_spring);
  const std::pair<const char*, const char*> tables[] = {
      {"motion.soft.frequency,take,fps,variant,a.overshoot\n", "it has no row"},
      {"", "it is empty"},
      {"\n\nmotion.soft.frequency,take,fps,variant,a.overshoot\r\n\n1,t,60,,nan\r\n",
       "line 5: \"nan\" is not a number"},
      {"motion.soft.frequency,take,fps,variant,a.overshoot\n1,t,60,,1e999\n", "\"1e999\" is not a number"},
      {"frequency,overshoot\n1,2\n", "not that of a sweep"},
      {"motion.soft.frequency,take,fps,variant,a.overshoot\n1,t,60,\n", "line 2 has 4 cells"},
      {"motion.soft.frequency,take,fps,variant,a.overshoot\n1,t,60,,x\n", "\"x\" is not a number"},
      {"motion.nope.frequency,take,fps,variant,a.nope\n1,t,60,,3\n2,t,60,,3\n", "another feel"},
      {"motion.soft.frequency,motion.soft.damping_ratio,take,fps,variant,a.overshoot\n1,0.2,t,60,,3\n2,0.3,t,60,,3\n",
       "every combination"},
  };
  for (const auto& [text, why] : tables) {
    folder.write("s.csv", text);
    const Ended made = run_program(folder, {"report", "feel.toml", "--sweep", "s.csv", "-o", "p.html", "--baked"});
    EXPECT_EQ(made.status, 2) << text;
    EXPECT_NE(made.err.find(why), std::string::npos) << made.err;
  }
  EXPECT_EQ(run_program(folder, {"report", "feel.toml", "--sweep", "none.csv", "-o", "p.html"}).status, 3);
  EXPECT_EQ(run_program(folder, {"report", "feel.toml", "--sweep", "s.csv", "--figure", "none"}).status, 2);
}

TEST(Sweep, ItsRowsAreWhatRunMeasures) {
  const TempDir folder;
  folder.write("feel.toml", one_spring);
  const Ended swept =
      run_program(folder, {"sweep", "feel.toml", "--over", over_frequency, "--measure", "a.settling_time", "--measure",
                           "a.overshoot", "-o", "o", "--fps", "30,120"});
  ASSERT_EQ(swept.status, 0) << swept.err;
  // Without the texts it is a table of numbers.
  std::string table = folder.read("o/sweep.csv");
  for (const auto& [text, number] : {std::pair(",t,", ",0,"), {",,", ",0,"}})
    for (std::size_t at = 0; (at = table.find(text, at)) != std::string::npos;)
      table.replace(at, std::strlen(text), number);
  const auto rows = read_csv(table);
  ASSERT_EQ(rows.at("fps").size(), 18U);
  for (const std::size_t k : {std::size_t{0}, std::size_t{7}, std::size_t{17}}) {
    const Ended run =
        run_program(folder, {"run", "feel.toml", "--json", "-o", "none", "--fps", fmt::format("{}", rows.at("fps")[k]),
                             "--set", fmt::format("motion.soft.frequency={}", rows.at("motion.soft.frequency")[k])});
    const nlohmann::json measures = nlohmann::json::parse(run.out);
    EXPECT_EQ(measures["moves"][0]["settling_time"], rows.at("a.settling_time")[k]);
    EXPECT_EQ(measures["moves"][0]["overshoot"], rows.at("a.overshoot")[k]);
  }
  EXPECT_TRUE(std::filesystem::exists(folder / "o/sweep.png"));
  // Its own file is replaced, another one is not.
  const std::vector<std::string> again{"sweep",       "feel.toml", "--over", over_frequency, "--measure",
                                       "a.overshoot", "-o",        "o",      "--figure",     "none"};
  EXPECT_EQ(run_program(folder, again).status, 0);
  folder.write("o/sweep.csv", "my own notes\n");
  EXPECT_EQ(run_program(folder, again).status, 3);
  EXPECT_EQ(folder.read("o/sweep.csv"), "my own notes\n");
}

/// A move that another interrupts has no settling time; the others of its take still have theirs.
TEST(Sweep, MeasuresAsRunDoesWhereAMoveIsInterrupted) {
  const TempDir folder;
  std::string feel = one_spring;
  feel.replace(feel.find("cues = "), std::string::npos,
               "cues = [{ at = 0.1, press = \"p\" }, { at = 0.2, release = \"p\" }]\n");
  folder.write("feel.toml", feel);
  ASSERT_EQ(run_program(folder, {"sweep", "feel.toml", "--over", "motion.soft.damping_ratio=0.5,0.8", "--measure",
                                 "a.settling_time", "-o", "o", "--figure", "none"})
                .status,
            0);
  const std::string rows = folder.read("o/sweep.csv");
  const Ended run =
      run_program(folder, {"run", "feel.toml", "--json", "-o", "none", "--set", "motion.soft.damping_ratio=0.8"});
  const nlohmann::json measures = nlohmann::json::parse(run.out);
  EXPECT_TRUE(measures["moves"][0]["settling_time"].is_null());
  const double last = measures["moves"][1]["settling_time"];
  EXPECT_NEAR(std::stod(rows.substr(rows.rfind(',') + 1)), last, 1e-12);
}

/// What its range does to it is measured where that is asked for, and changes nothing else.
TEST(Sweep, MeasuresAsRunDoesWhereARangeHolds) {
  const TempDir folder;
  std::string feel = one_spring;
  feel.replace(feel.find("rest = 0"), 8, "rest = 0\nrange = [0, 1.1]");
  folder.write("feel.toml", feel);
  const Ended run =
      run_program(folder, {"run", "feel.toml", "--json", "-o", "none", "--set", "motion.soft.damping_ratio=0.2"});
  const nlohmann::json measures = nlohmann::json::parse(run.out);
  const double held = measures["channels"]["a"]["time_at_limit"], beyond = measures["moves"][0]["overshoot"];
  EXPECT_GT(held, 0.05);
  const auto swept = [&](const std::vector<std::string>& names) {
    std::vector<std::string> call{"sweep", "feel.toml", "--over",   "motion.soft.damping_ratio=0.2,0.8",
                                  "-o",    "o",         "--figure", "none"};
    for (const std::string& name : names) call.insert(call.end(), {"--measure", "a." + name});
    EXPECT_EQ(run_program(folder, call).status, 0);
    const std::string rows = folder.read("o/sweep.csv");
    const std::size_t line = rows.find('\n') + 1;
    return rows.substr(line, rows.find('\n', line) - line);
  };
  EXPECT_TRUE(swept({"time_at_limit"}).ends_with(fmt::format(",{}", held)));
  EXPECT_TRUE(swept({"overshoot"}).ends_with(fmt::format(",{}", beyond)));
  EXPECT_TRUE(swept({"overshoot", "time_at_limit"}).ends_with(fmt::format(",{},{}", beyond, held)));
}

TEST(Sweep, IsTheSameByManyThreadsAndInShares) {
  const TempDir folder;
  folder.write("feel.toml", one_spring);
  const auto sweep = [&](std::vector<std::string> more) {
    std::vector<std::string> call{
        "sweep",     "feel.toml",   "--over",   over_frequency, "--over", "motion.soft.damping_ratio=0.2:1.4:5",
        "--measure", "a.overshoot", "--figure", "none"};
    call.insert(call.end(), more.begin(), more.end());
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 0) << ended.err;
  };
  sweep({"-o", "one", "--threads", "1"});
  sweep({"-o", "two", "--threads", "2"});
  std::vector<std::string> gather{"sweep", "--gather", "-o", "all"};
  for (const int part : {3, 1, 7, 2, 5, 4, 6}) {
    sweep({"-o", "parts", "--part", fmt::format("{}/7", part)});
    gather.push_back(fmt::format("parts/sweep.{}-of-7.csv", part));
  }
  const Ended gathered = run_program(folder, gather);
  EXPECT_EQ(gathered.status, 0) << gathered.err;
  EXPECT_EQ(folder.read("two/sweep.csv"), folder.read("one/sweep.csv"));
  EXPECT_EQ(folder.read("all/sweep.csv"), folder.read("one/sweep.csv"));
  gather.pop_back();
  const Ended missing = run_program(folder, gather);
  EXPECT_EQ(missing.status, 2);
  EXPECT_NE(missing.err.find("share 6 of 7 is missing"), std::string::npos) << missing.err;
}

TEST(Sweep, FindsWhereAWantFailsAndWhereAMeasureJumps) {
  const TempDir folder;
  folder.write("feel.toml",
               std::string(one_spring) + "[[want]]\ntake = \"t\"\nmeasure = \"a.overshoot\"\nat_most = 5\n");
  const Ended swept = run_program(folder, {"sweep", "feel.toml", "--over", "motion.soft.damping_ratio=0.6:0.9:61",
                                           "--measure", "a.settling_time", "--figure", "none", "--json"});
  const nlohmann::json found = nlohmann::json::parse(swept.out);
  // exp(-pi z / sqrt(1 - z^2)) = 5 % at 0.6901
  EXPECT_NEAR(found["wants"][0]["edges"][0]["from"].get<double>(), 0.69, 1e-9);
  EXPECT_TRUE(found["wants"][0]["edges"][0]["begins"].get<bool>());
  // A peak of 2 % touches the settle band at 0.7797: just above, the spring settles quickest.
  EXPECT_NEAR(found["best"]["values"]["motion.soft.damping_ratio"].get<double>(), 0.78, 1e-9);
  ASSERT_GE(found["jumps"].size(), 1U);
  EXPECT_NEAR(found["jumps"][0]["from"].get<double>(), 0.775, 1e-9);
  EXPECT_LT(found["jumps"][0]["jump"].get<double>(), -0.05);
}

TEST(Sweep, RefusesWhatItCannotDoInOneParagraph) {
  const TempDir folder;
  folder.write("feel.toml", one_spring);
  const std::pair<std::vector<std::string>, const char*> calls[] = {
      {{"sweep", "feel.toml", "--measure", "a.overshoot"}, "--over is needed"},
      {{"sweep", "feel.toml", "--over", over_frequency}, "--measure is needed"},
      {{"sweep", "feel.toml", "--over", "motion.soft.frequency=3:1:4", "--measure", "a.overshoot"},
       "the lower one first"},
      {{"sweep", "feel.toml", "--over", "motion.sft.frequency=1:3:4", "--measure", "a.overshoot"}, "not possible"},
      {{"sweep", "feel.toml", "--over", over_frequency, "--measure", "a.overshot"}, "Did you mean a.overshoot?"},
      {{"sweep", "feel.toml", "--over", over_frequency, "--measure", "b.overshoot"}, "no channel named"},
      {{"sweep", "feel.toml", "--over", over_frequency, "--measure", "a.peak_time"}, "--best low or --best high"},
      {{"sweep", "feel.toml", "--over", over_frequency, "--measure", "a.overshoot", "--part", "3/2"}, "expected K/N"},
      {{"sweep", "feel.toml", "--over", over_frequency, "--measure", "a.overshoot", "--fps", ","}, "--fps"},
      {{"sweep", "feel.toml", "--over", over_frequency, "--measure", "a.overshoot", "--set", "motion.soft.frequency=2"},
       "cannot be free and --set too"},
      {{"sweep", "feel.toml", "--over", "motion.soft.frequncy=1:3:4", "--measure", "a.overshoot"},
       "Did you mean frequency?"},
      {{"sweep", "--gather", "feel.toml"}, "is not a share"},
      {{"sweep"}, "no feel was given"},
  };
  for (const auto& [call, words] : calls) {
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 2) << words;
    EXPECT_NE(ended.err.find(words), std::string::npos) << ended.err;
    EXPECT_EQ(folder.files(), std::vector<std::string>{"feel.toml"}) << words;
  }
}

/// `solve` on the spring, as JSON.
nlohmann::json solved(const TempDir& folder, const std::vector<std::string>& more, int status) {
  folder.write("feel.toml", one_spring);
  std::vector<std::string> call{"solve", "feel.toml", "--figure", "none", "--json"};
  call.insert(call.end(), more.begin(), more.end());
  const Ended ended = run_program(folder, call);
  EXPECT_EQ(ended.status, status) << ended.err;
  return nlohmann::json::parse(ended.out);
}
const std::vector<std::string> spring_free{"--free", "motion.soft.frequency=0.5:6", "--free",
                                           "motion.soft.damping_ratio=0.2:1.5"};
std::vector<std::string> with(std::vector<std::string> a, const std::vector<std::string>& b) {
  a.insert(a.end(), b.begin(), b.end());
  return a;
}

TEST(Solve, FindsTheSoftestSpringThatSettlesInTime) {
  const TempDir folder;
  const nlohmann::json found = solved(folder,
                                      with(spring_free, {"--want", "a.settling_time at_most 0.35", "--want",
                                                         "a.overshoot at_most 3", "--prefer", "softest"}),
                                      0);
  EXPECT_TRUE(found["solved"].get<bool>());
  const double frequency = found["values"]["motion.soft.frequency"],
               ratio = found["values"]["motion.soft.damping_ratio"];
  // The least peak acceleration of a step, w^2, is that of the slowest spring that settles in 0.35 s: at the ratio at
  // which the peak is 2 % and just within the band.
  const double log_peak = std::log(0.02), best_ratio = -log_peak / std::hypot(std::numbers::pi, log_peak);
  EXPECT_NEAR(ratio, best_ratio, 1e-3 * best_ratio);
  EXPECT_NEAR(frequency, 1.638, 2e-3);
  for (const auto& want : found["wants"]) EXPECT_TRUE(want["holds"].get<bool>());
  // It stands on a jump, so one that is steadier is offered: it holds with each number off by half a per cent.
  ASSERT_GE(found["alternatives"].size(), 1U);
  EXPECT_EQ(found["alternatives"][0]["why"], "steady");
  const double steady_f = found["alternatives"][0]["values"]["motion.soft.frequency"],
               steady_z = found["alternatives"][0]["values"]["motion.soft.damping_ratio"];
  for (const double factor : {0.9951, 1.0049}) {
    const Ended run = run_program(folder, {"run", "feel.toml", "--json", "-o", "none", "--set",
                                           fmt::format("motion.soft.frequency={}", steady_f * factor), "--set",
                                           fmt::format("motion.soft.damping_ratio={}", steady_z)});
    EXPECT_LE(nlohmann::json::parse(run.out)["moves"][0]["settling_time"].get<double>(), 0.35);
  }
}

TEST(Solve, ChangesLeastAndTellsHowFarEachNumberMayGo) {
  const TempDir folder;
  const nlohmann::json found =
      solved(folder, with(spring_free, {"--want", "a.overshoot at_most 10", "--want", "a.settling_time at_most 9"}), 0);
  // The overshoot asks for the ratio alone; the frequency stays.
  const double log_peak = std::log(0.1), least = -log_peak / std::hypot(std::numbers::pi, log_peak);
  EXPECT_NEAR(found["values"]["motion.soft.frequency"].get<double>(), 1.5, 0.02);
  EXPECT_NEAR(found["values"]["motion.soft.damping_ratio"].get<double>(), least, 0.01 * least);
  EXPECT_GE(found["values"]["motion.soft.damping_ratio"].get<double>(), least - 1e-9);
  EXPECT_NEAR(found["tolerance"]["motion.soft.damping_ratio"][0].get<double>(), least, 1e-3);
}

TEST(Solve, SaysWhichWantsConflictAndNeverThatItSolvedThem) {
  const TempDir folder;
  const nlohmann::json found =
      solved(folder,
             with(spring_free, {"--want", "a.settling_time at_most 0.35", "--want", "a.overshoot at_most 30", "--want",
                                "a.peak_speed at_most 2", "--tries", "600"}),
             1);
  EXPECT_FALSE(found["solved"].get<bool>());
  ASSERT_EQ(found["conflict"].size(), 2U);
  EXPECT_EQ(found["conflict"][0]["measure"], "a.settling_time");
  EXPECT_EQ(found["conflict"][1]["measure"], "a.peak_speed");
  EXPECT_TRUE(found["conflict_is_proven"].get<bool>());
  EXPECT_EQ(folder.read("feel.toml"), one_spring);
}

TEST(Solve, ChoosesAmongNames) {
  const TempDir folder;
  const nlohmann::json found = solved(
      folder, {"--free", "channel.a.motion=soft|lazy", "--want", "a.overshoot at_most 0", "--prefer", "quickest"}, 0);
  EXPECT_EQ(found["values"]["channel.a.motion"], "lazy");
}

TEST(Solve, WritesItsAnswerAndNothingElse) {
  const TempDir folder;
  folder.write("feel.toml", one_spring);
  const Ended ended = run_program(
      folder,
      with({"solve", "feel.toml", "--figure", "none", "--write", "--want", "a.overshoot at_most 10"}, spring_free));
  EXPECT_EQ(ended.status, 0) << ended.err;
  std::string expected = one_spring;
  const std::string now = folder.read("feel.toml");
  const auto ratio_at = now.find("damping_ratio = ") + 16;
  const std::string ratio = now.substr(ratio_at, now.find('\n', ratio_at) - ratio_at);
  expected.replace(expected.find("damping_ratio = 0.4"), 19, "damping_ratio = " + ratio);
  EXPECT_EQ(now, expected); // the comments, and the frequency that did not have to change
  EXPECT_EQ(run_program(folder, {"run", "feel.toml", "-o", "none"}).status, 0);
}

TEST(Solve, ReadsItsFeelOnceSoThatItMayComeFromAnotherProgram) {
  const TempDir folder;
  for (const char* const prefer : {"least_change", "quickest", "a.peak_speed"}) {
    const Ended ended = run_program(folder,
                                    with({"solve", "-", "--figure", "none", "--json", "--prefer", prefer, "--want",
                                          "a.overshoot at_most 10", "--tries", "200"},
                                         spring_free),
                                    one_spring);
    EXPECT_EQ(ended.status, 0) << ended.err;
  }
}

TEST(Solve, SaysSoWhereItsSearchProgramIsNotThere) {
  const TempDir folder;
  folder.write("feel.toml", one_spring);
  const Ended ended =
      run_in_shell(folder, "cp \"$0\" alone; PATH=/nowhere ./alone solve feel.toml --figure none --free "
                           "motion.soft.frequency=1:3 --want 'a.overshoot at_most 30'");
  EXPECT_EQ(ended.status, 3);
  EXPECT_NE(ended.err.find("could not start stasis-search"), std::string::npos) << ended.err;
}

TEST(Solve, AMoveThatNeverSettlesDoesNotMeetASettlingTime) {
  const TempDir folder;
  folder.write("feel.toml", std::string(one_spring) + "[[want]]\nmeasure = \"a.settling_time\"\nat_most = 1\n");
  const auto holds = [&](const char* ratio, const char* cues) {
    return run_program(folder, {"check", "feel.toml", "--set", fmt::format("motion.soft.damping_ratio={}", ratio),
                                "--set", fmt::format("take.t.cues={}", cues)})
               .status
           == 0;
  };
  const char* const twice = "[{ at = 0.1, press = \"p\" }, { at = 1.5, release = \"p\" }]";
  EXPECT_TRUE(holds("0.8", twice));
  EXPECT_FALSE(holds("0.05", twice)); // its first move is interrupted after 1.4 s, without having settled
}

TEST(Tradeoff, IsTheLineOfSpringsThatAreQuickestForTheirSoftness) {
  const TempDir folder;
  folder.write("feel.toml", one_spring);
  const Ended ended = run_program(
      folder,
      with({"tradeoff", "feel.toml", "--between", "a.settling_time", "a.peak_acceleration", "--json", "-o", "o"},
           {"--free", "motion.soft.frequency=0.5:6", "--free", "motion.soft.damping_ratio=0.3:1.5"}));
  ASSERT_EQ(ended.status, 0) << ended.err;
  const nlohmann::json found = nlohmann::json::parse(ended.out);
  // The ratio at which the peak is 2 % settles soonest for its frequency, and a step's peak acceleration is w^2: their
  // product with the square of the settling time is one number all along the best line.
  const double log_peak = std::log(0.02), z = -log_peak / std::hypot(std::numbers::pi, log_peak);
  const Ended run = run_program(folder, {"run", "feel.toml", "--json", "-o", "none", "--set",
                                         fmt::format("motion.soft.damping_ratio={}", z * 1.00001)});
  const nlohmann::json move = nlohmann::json::parse(run.out)["moves"][0];
  const double least = std::pow(move["settling_time"].get<double>(), 2) * move["peak_acceleration"].get<double>();
  double first = 0.0, second = 1e9;
  std::vector<double> times;
  for (const auto& one : found["front"]) {
    EXPECT_GE(std::pow(one["first"].get<double>(), 2) * one["second"].get<double>(), least * 0.999);
    EXPECT_GT(one["first"].get<double>(), first);
    EXPECT_LT(one["second"].get<double>(), second);
    first = one["first"];
    second = one["second"];
    times.push_back(first);
  }
  ASSERT_GT(times.size(), 20U);
  EXPECT_NEAR(found["front"][0]["values"]["motion.soft.frequency"].get<double>(), 6.0, 0.01);
  // At places along it, the line is within some per cent of the best.
  int near = 0;
  for (const auto& one : found["front"])
    near += std::pow(one["first"].get<double>(), 2) * one["second"].get<double>() < least * 1.05 ? 1 : 0;
  EXPECT_GT(near, 10);
  EXPECT_TRUE(std::filesystem::exists(folder / "o/tradeoff.png"));
  EXPECT_EQ(
      run_program(folder, {"tradeoff", "feel.toml", "--free", "motion.soft.frequency=1:3", "--between", "a.overshoot"})
          .status,
      2);
}

TEST(Solve, RefusesWhatItCannotDoInOneParagraph) {
  const TempDir folder;
  folder.write("feel.toml", one_spring);
  const std::pair<std::vector<std::string>, const char*> calls[] = {
      {{"solve", "feel.toml", "--want", "a.overshoot at_most 3"}, "--free is needed"},
      {{"solve", "feel.toml", "--free", "motion.soft.frequency=1:3"}, "nothing is wanted"},
      {{"solve", "feel.toml", "--free", "motion.soft.frequency=3:1", "--want", "a.overshoot at_most 3"},
       "lower one first"},
      {{"solve", "feel.toml", "--free", "motion.soft.frequency=-1:1", "--want", "a.overshoot at_most 3"},
       "not possible"},
      {{"solve", "feel.toml", "--free", "motion.soft.frequency=1:3", "--want", "a.overshoot below 3"},
       "MEASURE at_most"},
      {{"solve", "feel.toml", "--free", "motion.soft.frequency=1:3", "--want", "a.overshot at_most 3"}, "Did you mean"},
      {{"solve", "feel.toml", "--free", "motion.soft.frequency=1:3", "--want", "a.overshoot at_most 3", "--prefer",
        "a.peak_time"},
       "a.peak_time=low"},
      {{"solve", "feel.toml", "--free", "motion.soft.frequency=1:3", "--want", "a.overshoot at_most 3", "--set",
        "motion.soft.frequency=2"},
       "cannot be free and --set too"},
      {{"tradeoff", "feel.toml", "--free", "motion.soft.frequency=1|3", "--between", "a.overshoot", "a.rise_time"},
       "between numbers"},
      {{"solve", "-", "--free", "motion.soft.frequency=1:3", "--want", "a.overshoot at_most 3", "--write"},
       "standard input is not a file"},
  };
  for (const auto& [call, words] : calls) {
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 2) << words << ended.out;
    EXPECT_NE(ended.err.find(words), std::string::npos) << ended.err;
    EXPECT_EQ(folder.files(), std::vector<std::string>{"feel.toml"}) << words;
  }
}

} // namespace
} // namespace stasis::test
