// Recordings of subjects, as the program reads and refuses them.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

std::string feel_after(const std::string& track) {
  return "[track.otter]\nkind = \"recorded\"\nfile = \"swim.csv\"\n" + track
         + "\n[channel.a]\nunit = \"m\"\nrest = [0, 0]\nfollow = \"otter\"\n[take.t]\nlength = 2\nclock = { fps = 10 "
           "}\n";
}
const std::string mapped = "columns = { time = \"t\", x = \"east\", y = \"-down\" }";

Ended run_track(const TempDir& folder, const std::string& track, const std::string& csv) {
  folder.write("f.toml", feel_after(track));
  folder.write("swim.csv", csv);
  return run_program(folder, {"run", "f.toml", "--figure", "none"});
}

TEST(TrackFile, MapsColumnsAndTurnsThemRound) {
  const TempDir folder;
  const Ended ended = run_track(folder, mapped, "t,other,east,down\n0,x,0,1\n1,y,10,3\n2,z,10,3\n");
  ASSERT_EQ(ended.status, 0) << ended.err;
  auto trace = read_csv(folder.read("stasis-out/t.trace.csv"));
  EXPECT_EQ(trace["a.goal.x"][5], 5.0);
  EXPECT_EQ(trace["a.goal.y"][5], -2.0);
  EXPECT_EQ(trace["track.otter.x"][5], 5.0);
  EXPECT_EQ(trace["a.track"][5], 1.0);
}

TEST(TrackFile, TakesARateInsteadOfTimes) {
  const TempDir folder;
  const Ended ended = run_track(folder, "rate = 2\nscale = 10", "x,y\n0,0\n1,2\n2,4\n");
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_EQ(read_csv(folder.read("stasis-out/t.trace.csv"))["a.goal.y"][5], 20.0);
}

struct Fault {
  std::string csv, where, words, repair;
};

TEST(TrackFile, FaultsNameLineAndColumnAndAreMendedOnRequest) {
  const std::vector<Fault> faults{
      {"t,east,down\n0,0,0\n1,1o,0\n", "swim.csv:3:3", "expected a finite number, found \"1o\"", ""},
      {"t,east,down\n0,0,0\n1,nan,0\n", "swim.csv:3:3", "found \"nan\"", ""},
      {"t,east,down\n0,0,0\n1,1\n", "swim.csv:3:1", "2 cells", ""},
      {"t,east,down\n0,0,0\n1,,0\n2,2,0\n", "swim.csv:3:1", "missing", "gaps"},
      {"t,east,down\n0,0,0\n2,2,0\n1,1,0\n", "swim.csv:4:1", "comes after", "unsorted"},
      {"t,east,down\n0,0,0\n\n1,7,0\n1,1,0\n2,2,0\n", "swim.csv:5:1", "twice", "repeated"},
      {"t,up,down\n0,0,0\n", "f.toml:4", "no column \"east\"", ""},
      {"t,east,down\n", "f.toml:3", "track.otter.file: the file has no row of numbers.", ""},
  };
  for (const Fault& fault : faults) {
    const TempDir folder;
    const Ended refused = run_track(folder, mapped, fault.csv);
    EXPECT_EQ(refused.status, 2) << fault.csv;
    EXPECT_NE(refused.err.find(fault.where), std::string::npos) << refused.err;
    EXPECT_NE(refused.err.find(fault.words), std::string::npos) << refused.err;
    EXPECT_EQ(folder.files().size(), 2u);
    if (fault.repair.empty()) continue;
    const Ended mended = run_track(folder, mapped + "\nrepair = [\"" + fault.repair + "\"]", fault.csv);
    ASSERT_EQ(mended.status, 0) << mended.err;
    EXPECT_EQ(read_csv(folder.read("stasis-out/t.trace.csv"))["a.goal.x"][10], 1.0) << fault.csv;
  }
}

/// Long recordings lie elsewhere than short ones; nobody is to see it.
TEST(TrackFile, ALongRecordingReadsAsAShortOne) {
  const auto rows = [](int count) {
    std::string text = "ms,x,y,z,heading,throttle\n";
    for (int k = 0; k < count; ++k)
      text += fmt::format("{},{:.4f},{},{:.4f},{},{}\n", 2 * k, std::cos(0.001 * k), k % 7 == 3 ? "" : "0.5",
                          -0.002 * k, k / 10 % 360, k % 5 * 0.2);
    return text;
  };
  const TempDir folder;
  folder.write("long.csv", rows(150'000));
  folder.write("short.csv", rows(9'000));
  for (const std::string times : {"time = \"ms\", ", ""})
    for (const std::string name : {"long", "short"}) {
      const std::string rate = times.empty() ? "rate = 500" : "time_unit = \"ms\"";
      folder.write(name + ".toml", "[track.s]\nkind = \"recorded\"\nfile = \"" + name + ".csv\"\ncolumns = { " + times
                                       + R"(x = "-x", y = "y", z = "z", heading = "heading", throttle = "throttle" }
scale = 3
repair = ["gaps"]
cut_beyond = 20
)" + rate + R"(
[channel.focus]
rest = [0, 0, 0]
motion = { kind = "glide", rate = 4 }
follow = { track = "s", lead = { by = "throttle", distance = 2 }, offset = [1, 0, 0], offset_in = "subject" }
[take.t]
length = 17
)");
      const Ended ended = run_program(folder, {"run", name + ".toml", "-o", name, "--figure", "none"});
      ASSERT_EQ(ended.status, 0) << ended.err;
      EXPECT_EQ(folder.read(name + "/t.trace.csv"), folder.read("long/t.trace.csv")) << times;
    }
}

TEST(TrackFile, AHoleInARecordingIsAFault) {
  std::string csv = "t,east,down\n";
  for (int k = 0; k < 40; ++k) csv += fmt::format("{},{},0\n", k < 20 ? 0.05 * k : 0.05 * k + 1, k);
  const TempDir folder;
  const Ended refused = run_track(folder, mapped, csv);
  EXPECT_EQ(refused.status, 2);
  EXPECT_NE(refused.err.find("swim.csv:22:1"), std::string::npos) << refused.err;
  EXPECT_EQ(run_track(folder, mapped + "\nlongest_gap = 2", csv).status, 0);
  EXPECT_EQ(run_track(folder, mapped + "\nrepair = [\"gaps\"]", csv).status, 0);
}

// Rule G5.
TEST(TrackFile, SaysWhatHappensWhereItIsLost) {
  const std::string csv = "t,east,down\n0.5,5,0\n1,5,0\n";
  const TempDir folder;
  ASSERT_EQ(run_track(folder, mapped, csv).status, 0);
  EXPECT_EQ(read_csv(folder.read("stasis-out/t.trace.csv"))["a.goal.x"][0], 5.0);
  ASSERT_EQ(run_track(folder, mapped + "\nlost = \"base\"", csv).status, 0);
  auto trace = read_csv(folder.read("stasis-out/t.trace.csv"));
  EXPECT_EQ(trace["a.goal.x"][4], 0.0);
  EXPECT_EQ(trace["a.goal.x"][5], 5.0); // it appears late: a jump
  EXPECT_EQ(trace["a.value.x"][5], 0.0);
  EXPECT_EQ(trace["a.track"][4], 0.0);
  EXPECT_EQ(trace["a.goal.x"][10], 5.0);
  EXPECT_EQ(trace["a.goal.x"][11], 0.0);
  const Ended refused = run_track(folder, mapped + "\nlost = \"error\"", csv);
  EXPECT_EQ(refused.status, 2);
  EXPECT_NE(refused.err.find("from 0.5"), std::string::npos) << refused.err;
  EXPECT_NE(run_program(folder, {"check", "f.toml", "--set", "track.otter.lost=hold"}).out.find("track_lost"),
            std::string::npos);
}

// Rule G6.
TEST(TrackFile, AJumpOfTheSubjectIsNoMotion) {
  const TempDir folder;
  const std::string csv = "t,east,down\n0,0,0\n0.95,0,0\n1.05,50,0\n2,50,0\n";
  ASSERT_EQ(run_track(folder, mapped + "\ncut_beyond = 10", csv).status, 0);
  auto trace = read_csv(folder.read("stasis-out/t.trace.csv"));
  EXPECT_EQ(trace["a.goal.x"][10], 0.0);
  EXPECT_EQ(trace["a.goal.x"][11], 50.0);
  EXPECT_EQ(trace["a.value.x"][11], 0.0);
}

TEST(TrackFile, StaysInItsFolder) {
  const TempDir folder;
  folder.write("f.toml", feel_after("").replace(0, 0, "").replace(feel_after("").find("swim.csv"), 8, "../out.csv"));
  const Ended refused = run_program(folder, {"run", "f.toml"});
  EXPECT_EQ(refused.status, 2);
  EXPECT_NE(refused.err.find("outside the folder"), std::string::npos);
}

/// A take of a long recording read back as a track gives the same path again: what is written can be read.
TEST(TrackFile, ATraceIsATrack) {
  const TempDir folder;
  ASSERT_EQ(run_track(folder, mapped, "t,east,down\n0,0,0\n1,3,1\n2,1,7\n").status, 0);
  folder.write("g.toml",
               "[track.seen]\nkind = \"recorded\"\nfile = \"stasis-out/t.trace.csv\"\ncolumns = { time = \"time\", x = "
               "\"a.value.x\", y = \"a.value.y\" }\n[channel.b]\nrest = [0, 0]\nfollow = \"seen\"\n[take.u]\nlength = "
               "2\nclock = { fps = 10 }\n");
  ASSERT_EQ(run_program(folder, {"run", "g.toml", "--figure", "none"}).status, 0);
  auto first = read_csv(folder.read("stasis-out/t.trace.csv")),
       second = read_csv(folder.read("stasis-out/u.trace.csv"));
  EXPECT_EQ(first["a.value.x"], second["b.value.x"]);
  EXPECT_EQ(first["a.value.y"], second["b.value.y"]);
}

TEST(Tracks, MeasuresStandInTheJsonAndTheText) {
  const TempDir folder;
  const Ended ended = run_track(folder, mapped, "t,east,down\n0,0,0\n2,20,0\n");
  EXPECT_NE(ended.out.find("a follows otter: lags by 0 m"), std::string::npos) << ended.out;
  const std::string json = folder.read("stasis-out/t.measures.json");
  EXPECT_NE(json.find("\"follow\":{\"a\":{\"track\":\"otter\",\"lag_distance\":0,"), std::string::npos);
  EXPECT_NE(json.find("\"a.lag_distance\":\"m\""), std::string::npos);
  EXPECT_NE(run_program(folder, {"explain", "f.toml"}).out.find("follows otter (recorded, 2 rows, 2 s)"),
            std::string::npos);
}

/// What follows need never rest, so random hands look for other troubles only.
TEST(Tracks, RandomHandsDoNotAskAFollowerToRest) {
  const TempDir folder;
  folder.write("f.toml",
               "[track.t]\nkind = \"circle\"\ncentre = [0, 0]\ndiameter = 4\nspeed = 3\n[channel.a]\nrest = [0, "
               "0]\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 1 }\nfollow = "
               "\"t\"\n[channel.b]\nrest = 0\nformula "
               "= \"t.x\"\n[channel.c]\nrest = 0\n[pose.p]\nc = 1\n[control.p]\nkind = \"hold\"\npose = "
               "\"p\"\n[take.x]\nlength = 1\n");
  const Ended ended = run_program(folder, {"stress", "f.toml", "--plays", "30", "--figure", "none"});
  EXPECT_EQ(ended.status, 0) << ended.out;
}

TEST(Shakes, AreComparedAndLeftOut) {
  const TempDir folder;
  folder.write("f.toml",
               "[channel.a]\nunit = \"m\"\nrest = 0\n[shake.s]\non = { a = 0.5 }\nwave = { kind = \"noise\", frequency "
               "= 5 }\ndecay = "
               "{ kind = \"linear\", duration = 1 }\n[take.x]\nlength = 2\ncues = [{ at = 0.5, hit = \"s\" }]\n");
  const Ended run = run_program(folder, {"run", "f.toml", "--figure", "none"});
  EXPECT_NE(run.out.find("shake s: 1 hit, strength up to 1.00; half after 0.500 s"), std::string::npos) << run.out;
  auto with = read_csv(folder.read("stasis-out/x.trace.csv"));
  EXPECT_EQ(with["shake.s.amplitude"][30], 1.0);
  EXPECT_NEAR(with["shake.s.amplitude"][60], 0.5, 1e-12);
  EXPECT_NE(with["a.value"][40], with["a.smooth"][40]);
  EXPECT_NE(folder.read("stasis-out/x.measures.json").find("\"layers\":{\"s\":{\"hits\":1,"), std::string::npos);
  ASSERT_EQ(run_program(folder, {"run", "f.toml", "--figure", "none", "--without", "s"}).status, 0);
  auto without = read_csv(folder.read("stasis-out/x.trace.csv"));
  EXPECT_EQ(without["a.value"], without["a.smooth"]);
  EXPECT_EQ(without["a.smooth"], with["a.smooth"]);
  const Ended unknown = run_program(folder, {"run", "f.toml", "--without", "t"});
  EXPECT_EQ(unknown.status, 2);
  const Ended compared =
      run_program(folder, {"compare", "f.toml", "--label", "calm", "--set", "shake.s.muted=true", "--figure", "none"});
  EXPECT_NE(compared.out.find("shake s"), std::string::npos) << compared.out;
  EXPECT_NE(run_program(folder, {"explain", "f.toml"}).out.find("rattles at 5 Hz"), std::string::npos);
}

/// 60 s of steady shake, read from the trace: the frequency that was asked for.
TEST(Shakes, RattleAtTheirFrequencyInTheTraceToo) {
  const TempDir folder;
  folder.write("f.toml", "[channel.a]\nrest = 0\n[shake.s]\non = { a = 1 }\nwave = { kind = \"noise\", frequency = 6 "
                         "}\nalways = true\n[take.x]\nlength "
                         "= 60\n");
  ASSERT_EQ(run_program(folder, {"run", "f.toml", "--figure", "none"}).status, 0);
  const std::string json = folder.read("stasis-out/x.measures.json");
  const auto number_after = [&](const std::string& key) { return std::stod(json.substr(json.find(key) + key.size())); };
  EXPECT_NEAR(number_after("\"main_frequency\":"), 6.0, 0.6);
  const auto value = read_csv(folder.read("stasis-out/x.trace.csv"))["a.value"];
  double square = 0.0;
  for (const double v : value) square += v * v / static_cast<double>(value.size());
  EXPECT_NEAR(number_after("\"rms\":"), std::sqrt(square), 1e-4); // of the wave itself, not of its rows
}

} // namespace
} // namespace stasis::test
