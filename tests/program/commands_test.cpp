// explain, check, compare, curve and convert, as their users meet them.
#include <cmath>
#include <random>
#include <regex>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

using Json = nlohmann::json;

constexpr const char* feel_text = R"(title = "Lamp"
[channel.fov]
unit = "deg"
rest = 62
range = [30, 95]
space = "zoom"
motion = "soft"
[motion.soft]
kind = "spring"
frequency = { setting = "pull" }
damping_ratio = 0.5
[motion.unused]
kind = "glide"
half_life = 300
[setting.pull]
value = 2
range = [1, 4]
[pose.aim]
fov = 38
[control.aim]
kind = "hold"
pose = "aim"
[take.one]
length = 4
cues = [ { at = 0.5, press = "aim" }, { at = 2.2, release = "aim" } ]
[variant.heavy]
"motion.soft.frequency" = 0.8
[[want]]
measure = "fov.settling_time"
at_most = 0.8
[[silence]]
warning = "unused_motion"
reason = "kept for a later take"
)";

struct Lamp {
  TempDir folder;
  Lamp() { folder.write("lamp.toml", feel_text); }
  Ended run(std::vector<std::string> arguments) { return run_program(folder, arguments); }
};

TEST(Check, TriesWantsAtBothEndsOfASettingAndEndsWithOne) {
  Lamp lamp;
  const Ended ended = lamp.run({"check", "lamp.toml", "--json", "--junit", "out.xml"});
  EXPECT_EQ(ended.status, 1) << "at 1 Hz the want does not hold";
  const Json result = Json::parse(ended.out);
  ASSERT_EQ(result["wants"].size(), 3u);
  EXPECT_TRUE(result["wants"][0]["holds"]);
  EXPECT_EQ(result["wants"][1]["where"], "one, setting pull = 1");
  EXPECT_FALSE(result["wants"][1]["holds"]);
  EXPECT_TRUE(result["wants"][2]["holds"]);
  EXPECT_NEAR(result["wants"][1]["value"].get<double>(), 2 * result["wants"][0]["value"].get<double>(), 1e-3)
      << "half the frequency, twice the time";
  EXPECT_NE(lamp.folder.read("out.xml").find("failures=\"1\""), std::string::npos);
  EXPECT_EQ(lamp.run({"check", "lamp.toml", "--set", "want[0].at_most=2"}).status, 0);
}

TEST(Check, WarningsCountOnlyWhenStrictAndMayBeSilencedWithAReason) {
  Lamp lamp;
  const std::vector<std::string> easy{"check", "lamp.toml", "--set", "want[0].at_most=2", "--json"};
  const Json result = Json::parse(lamp.run(easy).out);
  std::vector<std::string> open;
  for (const Json& warning : result["warnings"])
    if (warning["silenced_because"].is_null()) open.push_back(warning["code"]);
  EXPECT_EQ(open, (std::vector<std::string>{"unlikely_time"})) << "300 s; the unused motion is silenced";
  auto strict = easy;
  strict.emplace_back("--strict");
  EXPECT_EQ(lamp.run(easy).status, 0);
  EXPECT_EQ(lamp.run(strict).status, 1);
  const Ended unknown = lamp.run({"check", "lamp.toml", "--set", "silence[0].warning=\"unused_motoin\""});
  EXPECT_EQ(unknown.status, 2);
  EXPECT_NE(unknown.err.find("Did you mean unused_motion?"), std::string::npos);
}

TEST(Check, AMeasureThatDidNotHappenFailsItsWant) {
  Lamp lamp;
  const Ended ended = lamp.run({"check", "lamp.toml", "--set", "motion.soft.damping_ratio=0.01"});
  EXPECT_EQ(ended.status, 1);
  EXPECT_NE(ended.out.find("did not happen"), std::string::npos);
  EXPECT_NE(ended.out.find("warning unsettled"), std::string::npos);
}

TEST(Check, UnknownMeasuresAreRefusedWithTheNearest) {
  Lamp lamp;
  const Ended ended = lamp.run({"check", "lamp.toml", "--set", "want[0].measure=\"fov.setling_time\""});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("Did you mean fov.settling_time?"), std::string::npos);
}

TEST(Compare, NamesEachLineItsKickTheWidestGapAndWhatStillMoves) {
  Lamp lamp;
  const Ended ended = lamp.run({"compare",  "lamp.toml",
                                "--label",  "jump",
                                "--set",    "motion.soft={kind=\"cut\"}",
                                "--label",  "gliding",
                                "--set",    "motion.soft={kind=\"glide\",half_life=0.25}",
                                "--label",  "eased",
                                "--set",    "motion.soft={kind=\"ease\",duration=0.5}",
                                "--label",  "sprung",
                                "--set",    "motion.soft.frequency=1.5",
                                "-o",       "out",
                                "--figure", "svg"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(
      ended.out.find("gliding against jump, fov: settles 1.4 s later, starts with a kick of 3.9 where the other jumps"),
      std::string::npos)
      << ended.out;
  EXPECT_NE(ended.out.find("eased against jump, fov: settles 0.45 s later, starts softly where the other jumps"),
            std::string::npos);
  EXPECT_NE(ended.out.find("overshoots 16 % where there was none"), std::string::npos);
  EXPECT_NE(ended.out.find("still creeping"), std::string::npos);
  const Json result = Json::parse(lamp.folder.read("out/compare.one.json"));
  EXPECT_EQ(result["contenders"], Json({"jump", "gliding", "eased", "sprung"}));
  EXPECT_EQ(result["channels"]["fov"]["measures"]["settling_time"]["best"], "jump");
  EXPECT_EQ(result["channels"]["fov"]["widest"][0]["size"], 0.0);
  EXPECT_GT(result["channels"]["fov"]["widest"][2]["size"], 20.0);
  const std::string svg = lamp.folder.read("out/compare.one.svg");
  for (const char* words :
       {">jump<", ">gliding<", ">eased<", ">sprung<", "kick 3.9", "jumps", "starts softly", "widest", "to go"})
    EXPECT_NE(svg.find(words), std::string::npos) << words;
}

TEST(Compare, TakesVariantsAndFiles) {
  Lamp lamp;
  const Ended variant = lamp.run({"compare", "lamp.toml", "--variant", "heavy", "--figure", "none"});
  ASSERT_EQ(variant.status, 0) << variant.err;
  EXPECT_NE(variant.out.find("base and heavy"), std::string::npos);
  lamp.folder.write("other.toml", lamp.folder.read("lamp.toml"));
  const Ended files = lamp.run({"compare", "lamp.toml", "other.toml", "--figure", "none"});
  ASSERT_EQ(files.status, 0) << files.err;
  EXPECT_NE(files.out.find("nothing differs"), std::string::npos) << files.out;
}

TEST(Compare, RefusesWhatItCannotName) {
  Lamp lamp;
  EXPECT_EQ(lamp.run({"compare", "lamp.toml", "--set", "motion.soft.frequency=1"}).status, 2);
  EXPECT_EQ(lamp.run({"compare", "lamp.toml"}).status, 2);
  const Ended unknown = lamp.run({"compare", "lamp.toml", "--variant", "heavyy"});
  EXPECT_EQ(unknown.status, 2);
  EXPECT_NE(unknown.err.find("Did you mean heavy?"), std::string::npos);
  EXPECT_EQ(lamp.folder.files(), (std::vector<std::string>{"lamp.toml"}));
}

TEST(Run, OfAVariantHasItsNameInItsFiles) {
  Lamp lamp;
  ASSERT_EQ(lamp.run({"run", "lamp.toml", "--variant", "all", "--figure", "none", "-o", "out"}).status, 0);
  EXPECT_EQ(lamp.folder.files(),
            (std::vector<std::string>{"lamp.toml", "out/one.heavy.measures.json", "out/one.heavy.trace.csv",
                                      "out/one.measures.json", "out/one.trace.csv"}));
  EXPECT_EQ(Json::parse(lamp.folder.read("out/one.heavy.measures.json"))["variant"], "heavy");
}

TEST(Run, InstantShowsTheEndValuesAtOnce) {
  Lamp lamp;
  auto trace = read_csv(lamp.run({"run", "lamp.toml", "--instant", "-o", "-"}).out);
  EXPECT_EQ(trace["fov.smooth"][30], 62.0);
  EXPECT_EQ(trace["fov.smooth"][31], 38.0);
}

TEST(Explain, TeachesWhatTheMotionDoes) {
  Lamp lamp;
  const Ended ended = lamp.run({"explain", "lamp.toml"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  for (const char* words : {"a spring of 2 Hz and damping ratio 0.5", "16.3 %", "stiffness 157.9", "50 % after", "late",
                            "0.5 Hz", "8 Hz", "1.745 times as large", "at the range"})
    EXPECT_NE(ended.out.find(words), std::string::npos) << words << "\n" << ended.out;
  const Json account = Json::parse(lamp.run({"explain", "lamp.toml", "--json"}).out);
  const Json& motion = account["channels"]["fov"]["motions"][0];
  EXPECT_NEAR(motion["lag_time"].get<double>(), 2 * 0.5 / (2 * std::acos(-1.0) * 2), 1e-15);
  EXPECT_NEAR(motion["step"]["overshoot"].get<double>(), 100 * std::exp(-std::acos(-1.0) * 0.5 / std::sqrt(0.75)),
              1e-9);
  EXPECT_EQ(motion["sway"].size(), 5u);
}

TEST(Curve, SamplesAndWordsAndSheets) {
  const TempDir folder;
  const Ended ended = run_program(folder, {"curve", "in", "ease", "--figure", "svg", "--samples", "11"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_EQ(folder.files(), (std::vector<std::string>{"stasis-out/curves.csv", "stasis-out/curves.svg"}));
  EXPECT_NE(ended.out.find("ease\n  Starts with a kick"), std::string::npos);
  auto samples = read_csv(run_program(folder, {"curve", "out power 3", "-o", "-", "--samples", "5"}).out);
  EXPECT_EQ(samples["time"], (std::vector<double>{0, 0.25, 0.5, 0.75, 1}));
  EXPECT_EQ(samples["\"out power 3.value\""][2], 0.875);
  EXPECT_EQ(run_program(folder, {"curve", "steps(0)"}).status, 2);
  EXPECT_EQ(run_program(folder, {"curve"}).status, 2);
}

TEST(Curve, GoesThroughThePointsOfAFile) {
  const TempDir folder;
  folder.write("p.csv", "frame,way\n0,0\n10,0.7\n20,1\n");
  auto samples = read_csv(run_program(folder, {"curve", "--points", "p.csv", "-o", "-", "--samples", "3"}).out);
  EXPECT_EQ(samples["\"p.csv.value\""], (std::vector<double>{0, 0.7, 1}));
  folder.write("p.csv", "0,0\n1,x\n");
  const Ended bad = run_program(folder, {"curve", "--points", "p.csv"});
  EXPECT_EQ(bad.status, 2);
  EXPECT_NE(bad.err.find("p.csv:2:3"), std::string::npos) << bad.err;
  EXPECT_EQ(run_program(folder, {"curve", "--points", "gone.csv"}).status, 3);
}

/// Every figure of a conversion table, confirmed by playing it: the exact forms give one path, the nearest ones the
/// same time to 90 %.
TEST(Convert, IsConfirmedByRun) {
  const TempDir folder;
  std::mt19937_64 random(8);
  std::uniform_real_distribution<double> time(0.03, 0.3);
  const auto trace_of = [&](const std::string& motion) {
    const Ended ended = run_program(
        folder, {"run", "-", "-o", "-"},
        fmt::format(
            "[channel.a]\nrest = 0\nmotion = {{ {} }}\n[pose.up]\na = 1\n[control.c]\nkind = \"hold\"\npose = \"up\"\n"
            "[take.t]\nlength = 1.5\nclock = {{ fps = 50 }}\ncues = [ {{ at = 0, press = \"c\" }} ]\n",
            motion));
    EXPECT_EQ(ended.status, 0) << ended.err;
    return read_csv(ended.out)["a.smooth"];
  };
  for (int i = 0; i < 6; ++i) {
    const double half_life = time(random);
    const auto exact = trace_of(fmt::format("kind = \"glide\", half_life = {}", half_life));
    const Json table = Json::parse(
        run_program(folder, {"convert", "half_life", fmt::format("{}", half_life), "--fps", "50", "--json"}).out);
    double time_to_90 = 0;
    for (const Json& row : table["equals"])
      if (row["form"] == "time_to_90") time_to_90 = row["value"];
    for (const Json& row : table["equals"]) {
      const std::string form = row["form"];
      const double value = row["value"];
      std::string motion;
      if (form == "fraction") motion = fmt::format("kind = \"glide\", per_frame = {}, at_fps = 50", value);
      if (form == "product") motion = fmt::format("kind = \"glide\", per_frame = {}, at_fps = 50", value / 50);
      if (form == "rate" || form == "time_constant" || form == "half_life")
        motion = fmt::format("kind = \"glide\", {} = {}", form, value);
      if (form == "time_to_98") motion = fmt::format("kind = \"glide\", settling_time = {}", value);
      const double left = form == "time_to_90" ? 0.1 : form == "time_to_95" ? 0.05 : form == "time_to_99" ? 0.01 : 0.0;
      if (left > 0.0) motion = fmt::format("kind = \"glide\", rate = {}", -std::log(left) / value);
      if (!motion.empty()) {
        const auto rows = trace_of(motion);
        for (std::size_t k = 0; k < rows.size(); ++k) EXPECT_NEAR(rows[k], exact[k], 1e-12) << form;
        continue;
      }
      if (form == "spring_frequency")
        motion = fmt::format("kind = \"spring\", frequency = {}, damping_ratio = 1", value);
      if (form == "spring_time")
        motion = fmt::format("kind = \"spring\", stiffness = {}, damping = {}", 4 / (value * value), 4 / value);
      if (form == "ease_duration")
        motion = fmt::format("kind = \"ease\", duration = {}, curve = \"ease-in-out\"", value);
      EXPECT_FALSE(row["exact"]) << form;
      // The row nearest to the time to 90 % is within a frame's travel of it.
      const auto rows = trace_of(motion);
      const double place = time_to_90 * 50;
      const auto k = static_cast<std::size_t>(place);
      EXPECT_LE(rows[k], 0.9 + 1e-9) << form;
      EXPECT_GE(rows[k + 1], 0.9 - 1e-9) << form;
    }
  }
}

TEST(Convert, SaysWhenThereIsNoEquivalent) {
  const TempDir folder;
  const Ended ended = run_program(folder, {"convert", "product", "60", "--at-fps", "60"});
  EXPECT_EQ(ended.status, 1);
  EXPECT_NE(ended.out.find("no equivalent"), std::string::npos);
  EXPECT_EQ(run_program(folder, {"convert", "half_life", "-1"}).status, 2);
  EXPECT_EQ(run_program(folder, {"convert", "half_life", "3 m"}).status, 2);
  EXPECT_EQ(run_program(folder, {"convert", "vertical", "180"}).status, 2);
  EXPECT_NE(run_program(folder, {"convert", "halflife", "1"}).err.find("Did you mean half_life?"), std::string::npos);
}

TEST(Convert, Lenses) {
  const TempDir folder;
  const Json table = Json::parse(
      run_program(folder, {"convert", "vertical", "62", "--aspect", "16:9", "--to", "38", "--distance", "4", "--json"})
          .out);
  std::map<std::string, double> rows;
  for (const Json& row : table["equals"]) rows[row["form"]] = row["value"];
  const double half = std::tan(31 * std::acos(-1.0) / 180);
  EXPECT_NEAR(std::tan(rows["horizontal"] * std::acos(-1.0) / 360), half * 16 / 9, 1e-13);
  EXPECT_NEAR(rows["picture_scale"], half / std::tan(19 * std::acos(-1.0) / 180), 1e-13);
  EXPECT_NEAR(rows["visible_height"], 8 * half, 1e-12);
  EXPECT_NEAR(rows["focal_length"], 36 / (2 * half * 16 / 9), 1e-12);
}

TEST(Include, BringsInMotionsAndRefusesTheSameNameTwice) {
  const TempDir folder;
  folder.write("feel.toml", "include = [\"more/shared.toml\"]\n[channel.a]\nrest = 0\nmotion = \"soft\"\n[pose.p]\na = "
                            "1\n[control.p]\nkind = \"hold\"\npose = \"p\"\n"
                            "[take.t]\nlength = 1\ncues = [ { at = 0, press = \"p\" } ]\n");
  folder.write("more/shared.toml", "[motion.soft]\nkind = \"glide\"\nhalf_life = 0.1\n");
  EXPECT_EQ(run_program(folder, {"run", "feel.toml", "-o", "-"}).status, 0);
  folder.write("more/shared.toml", "[motion.soft]\nkind = \"glide\"\nhalf_life = -0.1\n");
  EXPECT_NE(run_program(folder, {"run", "feel.toml", "-o", "-"}).err.find("more/shared.toml:3:13"), std::string::npos);
  folder.write("more/shared.toml", "[channel.b]\nrest = 1\n");
  EXPECT_EQ(run_program(folder, {"run", "feel.toml", "-o", "-"}).status, 2);
  folder.write("feel.toml", folder.read("feel.toml") + "[motion.soft]\nkind = \"cut\"\n");
  folder.write("more/shared.toml", "[motion.soft]\nkind = \"glide\"\nhalf_life = 0.1\n");
  EXPECT_NE(run_program(folder, {"run", "feel.toml", "-o", "-"}).err.find("already a motion named soft"),
            std::string::npos);
}

TEST(Include, MayNotLeaveTheFolder) {
  const TempDir folder;
  folder.write("outside.toml", "[motion.soft]\nkind = \"cut\"\n");
  folder.write("in/feel.toml",
               "include = [\"../outside.toml\"]\n[channel.a]\nrest = 0\nmotion = \"soft\"\n[take.t]\nlength = 1\n");
  const Ended refused = run_program(folder, {"run", "in/feel.toml", "-o", "-"});
  EXPECT_EQ(refused.status, 2);
  EXPECT_NE(refused.err.find("lies outside the folder"), std::string::npos);
  EXPECT_EQ(run_program(folder, {"run", "in/feel.toml", "-o", "-", "--allow-outside"}).status, 0);
  folder.write("in/feel.toml", "include = [\"gone.toml\"]\n[channel.a]\nrest = 0\n[take.t]\nlength = 1\n");
  EXPECT_EQ(run_program(folder, {"run", "in/feel.toml", "-o", "-"}).status, 3);
}

constexpr const char* plain_take = R"([channel.a]
rest = 0
[pose.p]
a = 1
[control.k]
kind = "hold"
pose = "p"
[[want]]
take = "t"
measure = "a.settling_time"
at_most = 1
[take.t]
length = 1
cues = [{ at = 0.2, press = "k" }]
)";

TEST(Manner, QuietSaysNothingButFaultsAndWhatProgramsRead) {
  const TempDir folder;
  folder.write("f.toml", plain_take);
  const Ended run = run_program(folder, {"run", "f.toml", "--quiet", "-o", "o", "--figure", "none"});
  EXPECT_EQ(run.status, 0);
  EXPECT_EQ(run.out, "");
  EXPECT_EQ(run.err, "");
  EXPECT_FALSE(folder.read("o/t.trace.csv").empty());
  const Ended json = run_program(folder, {"--quiet", "run", "f.toml", "--json", "-o", "o", "--figure", "none"});
  EXPECT_TRUE(json.out.starts_with("{\"stasis\""));
  EXPECT_EQ(json.err, "");
  EXPECT_TRUE(run_program(folder, {"run", "f.toml", "-o", "-", "--quiet"}).out.starts_with("frame,time"));
  const Ended fault = run_program(folder, {"run", "none.toml", "--quiet"});
  EXPECT_EQ(fault.status, 3);
  EXPECT_TRUE(fault.err.starts_with("stasis: error:"));
  EXPECT_EQ(run_program(folder, {"run", "f.toml", "--quiet", "--verbose"}).status, 2);
}

TEST(Manner, AMisspeltOneIsAnsweredWithTheRightOne) {
  const TempDir folder;
  folder.write("f.toml", plain_take);
  for (const auto& [wrong, right] :
       {std::pair("--colour", "--color"), {"--quite", "--quiet"}, {"--verbos", "--verbose"}}) {
    const Ended ended = run_program(folder, {"run", "f.toml", wrong});
    EXPECT_EQ(ended.status, 2);
    EXPECT_NE(ended.err.find(std::string("Did you mean ") + right + "?"), std::string::npos) << ended.err;
  }
}

TEST(Manner, VerboseTellsLongListsWhole) {
  const TempDir folder;
  std::string text;
  for (int k = 0; k < 15; ++k) text += "[channel.c" + std::to_string(k) + "]\nrets = 0\n";
  folder.write("f.toml", text);
  const std::string usual = run_program(folder, {"check", "f.toml"}).err;
  const std::string whole = run_program(folder, {"check", "f.toml", "--verbose"}).err;
  EXPECT_NE(usual.find("more; mend these first"), std::string::npos);
  EXPECT_EQ(usual.find("channel.c14.rets"), std::string::npos);
  EXPECT_EQ(whole.find("more; mend these first"), std::string::npos);
  EXPECT_NE(whole.find("channel.c14.rets"), std::string::npos);
}

TEST(Manner, ColourIsForTerminalsUnlessAskedOtherwise) {
  const TempDir folder;
  folder.write("f.toml", plain_take);
  const std::string green = "\x1b[32m\u25cf\x1b[0m holds";
  EXPECT_EQ(run_program(folder, {"check", "f.toml"}).out.find('\x1b'), std::string::npos);
  EXPECT_NE(run_program(folder, {"check", "f.toml", "--color", "always"}).out.find(green), std::string::npos);
  EXPECT_TRUE(
      run_program(folder, {"run", "none.toml", "--color=always"}).err.starts_with("\x1b[1;31mstasis: error:\x1b[0m"));
  EXPECT_EQ(run_program(folder, {"check", "f.toml", "--color", "blue"}).status, 2);
  // What a file says is no colour, asked for or not.
  folder.write("g.toml", "title = \"\\u001b[31m\"\n" + std::string(plain_take));
  EXPECT_EQ(run_program(folder, {"check", "g.toml", "--color", "always"}).out.find("\x1b[31m"), std::string::npos);
  const auto on_terminal = [&](const std::string& before, const std::string& after) {
    return run_in_shell(folder, before + " script -qec '" + STASIS_PROGRAM + " check f.toml" + after + "' /dev/null")
        .out;
  };
  EXPECT_NE(on_terminal("TERM=xterm", "").find(green), std::string::npos);
  EXPECT_EQ(on_terminal("TERM=xterm NO_COLOR=1", "").find("\x1b["), std::string::npos);
  EXPECT_EQ(on_terminal("TERM=dumb", "").find("\x1b["), std::string::npos);
  EXPECT_EQ(on_terminal("TERM=xterm", " --color never").find("\x1b["), std::string::npos);
}

TEST(Manner, LongWorkTellsATerminalHowFarItIs) {
  const TempDir folder;
  folder.write("day.toml",
               "[channel.a]\nrest = 0\nformula = \"sin(time)\"\nmotion = { kind = \"spring\", frequency = 1, "
               "damping_ratio = 0.5 }\n[take.t]\nlength = 60000\n");
  const auto run = [&](const std::string& before, const std::string& after) {
    return run_in_shell(folder, before + " script -qec '" + STASIS_PROGRAM + " run day.toml -o none --figure none"
                                    + after + "' /dev/null")
        .out;
  };
  const std::string told = run("TERM=xterm", "");
  EXPECT_TRUE(std::regex_search(told, std::regex("\r[0-9]+ of 3600001 frames, [0-9]+ s left\x1b\\[K"))) << told;
  EXPECT_NE(told.find("\r\x1b[K"), std::string::npos); // and taken away
  EXPECT_EQ(run("TERM=dumb", "").find(" left"), std::string::npos);
  EXPECT_EQ(run("TERM=xterm", " 2>err").find(" left"), std::string::npos);
  EXPECT_EQ(folder.read("err"), "");
}

TEST(ExplainCommand, TellsAMotionOnceAndInFullAgainIfAsked) {
  const TempDir folder;
  folder.write("two.toml", "[motion.soft]\nkind = \"spring\"\nfrequency = 2\ndamping_ratio = 0.7\n"
                           "[channel.a]\nunit = \"m\"\nrest = 0\nrange = [0, 1]\nmotion = \"soft\"\n"
                           "[channel.b]\nunit = \"deg\"\nrest = 0\nrange = [0, 9]\nmotion = \"soft\"\n"
                           "[channel.c]\nrest = 0\n");
  const auto count = [](const std::string& text, const std::string& word) {
    std::size_t times = 0;
    for (auto at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) ++times;
    return times;
  };
  const std::string once = run_program(folder, {"explain", "two.toml"}).out;
  EXPECT_EQ(count(once, "a spring of 2 Hz"), 1u) << once;
  EXPECT_EQ(count(once, "by soft, as for a."), 1u) << once;
  EXPECT_EQ(count(once, "at the range: as for a."), 1u) << once;
  EXPECT_NE(once.find("1 deg a second it lags"), std::string::npos) << once; // what differs is told
  EXPECT_EQ(count(once, "sway of the goal"), 1u) << once;                    // of the cut there is none either
  EXPECT_NE(once.find("  by a cut: it jumps"), std::string::npos) << once;
  const std::string whole = run_program(folder, {"explain", "two.toml", "--verbose"}).out;
  EXPECT_EQ(count(whole, "a spring of 2 Hz"), 2u) << whole;
  const Json told = Json::parse(run_program(folder, {"explain", "two.toml", "--json"}).out);
  EXPECT_EQ(told["channels"]["a"]["motions"][0]["words"], told["channels"]["b"]["motions"][0]["words"]);
}

TEST(Terminal, WhatIsToBePastedStaysOnOneLine) {
  const TempDir folder;
  folder.write("old.toml",
               "[channel.a]\nrest = 0\nmotion = { kind = \"per_frame\", rule = \"spring_step\", stiffness = 160, "
               "damping = 9, at_fps = 60 }\n[take.t]\nlength = 1\ncues = [{ at = 0.1, goal = { a = 1 } }]\n");
  const std::string told = run_in_shell(folder, std::string("COLUMNS=60 script -qec 'stty cols 60; ") + STASIS_PROGRAM
                                                    + " rates old.toml --figure none' /dev/null")
                               .out;
  EXPECT_TRUE(
      std::regex_search(told, std::regex("\\{ kind = \"spring\", frequency = [0-9.]+, damping_ratio = [0-9.]+ \\}")))
      << told;
}

TEST(OutputFolder, WhatMeansNoFolderElsewhereIsRefusedAndNotMade) {
  const TempDir folder;
  folder.write("a.toml", "[channel.a]\nrest = 0\n[take.t]\nlength = 1\ncues = [{ at = 0.5, goal = { a = 1 } }]\n");
  for (const char* command : {"compare", "rates", "stress"})
    for (const char* word : {"-", "none"}) {
      const Ended ended = run_program(folder, {command, "a.toml", "-o", word});
      EXPECT_EQ(ended.status, 2) << command;
      EXPECT_NE(ended.err.find(fmt::format("expected a folder, found \"{}\"", word)), std::string::npos) << ended.err;
      EXPECT_EQ(folder.files(), std::vector<std::string>{"a.toml"});
    }
  EXPECT_EQ(run_program(folder, {"rates", "a.toml", "-o", "./none", "--figure", "none"}).status, 0);
}

} // namespace
} // namespace stasis::test
