// What files, names, limits and other runs may do to a call, and what they may not.
#include <filesystem>
#include <sys/stat.h>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

const std::string safety_feel = R"(feel = 1
[channel.a]
unit = "m"
rest = 0
motion = "soft"
[motion.soft]
kind = "per_frame"
rule = "fraction"
fraction = 0.1
at_fps = 60
[pose.p]
a = 1
[control.c]
kind = "hold"
pose = "p"
[take.t]
length = 1
cues = [{ at = 0.1, press = "c" }]
)";

bool has_control_character(const std::string& text) {
  return std::any_of(text.begin(), text.end(), [](unsigned char c) { return (c < 0x20 && c != '\n') || c == 0x7F; });
}

TEST(Files, APipeThatNobodyWritesIsRefusedAtOnce) {
  const TempDir folder;
  ASSERT_EQ(::mkfifo((folder / "pipe").c_str(), 0600), 0);
  folder.write("includes.toml", "feel = 1\ninclude = [\"pipe\"]\n");
  folder.write("tracked.toml", "feel = 1\n[track.t]\nkind = \"recorded\"\nfile = \"pipe\"\n");
  folder.write("itself.toml", "feel = 1\ninclude = [\"-\"]\n");
  for (const char* name : {"pipe", "includes.toml", "tracked.toml"}) {
    const Ended ended = run_in_shell(folder, fmt::format("timeout 5 \"$0\" check {}", name));
    EXPECT_EQ(ended.status, 3) << name << ended.err;
    EXPECT_NE(ended.err.find("it is a pipe"), std::string::npos) << ended.err;
  }
  EXPECT_NE(run_program(folder, {"check", "itself.toml"}, safety_feel).err.find("could not open ./-"),
            std::string::npos);
}

TEST(Files, NamesReachTheTerminalEscaped) {
  const TempDir folder;
  for (const std::string& name : {std::string("red\x1b[31m.toml"), std::string("back\u202Ewards.toml"),
                                  std::string("no\xFFutf8.toml"), std::string(400, 'n') + ".toml"}) {
    const Ended missing = run_program(folder, {"run", name});
    EXPECT_EQ(missing.status, 3);
    EXPECT_FALSE(has_control_character(missing.err)) << missing.err;
    EXPECT_EQ(missing.err.find("\u202E"), std::string::npos);
    EXPECT_EQ(missing.err.find('\xFF'), std::string::npos);
    EXPECT_LT(missing.err.size(), 400u);
  }
  folder.write("head.csv", "time,x\x1b[2J\n0,1\n1,2\n");
  folder.write("head.toml",
               safety_feel + "[track.s]\nkind = \"recorded\"\nfile = \"head.csv\"\ncolumns = { x = \"z\" }\n");
  EXPECT_FALSE(has_control_character(run_program(folder, {"run", "head.toml"}).err));
}

TEST(Files, TwoWhoSetAtOnceLoseNothing) {
  const TempDir folder;
  std::string many = safety_feel;
  for (int i = 0; i < 12; ++i) many += fmt::format("[setting.s{}]\nvalue = 0\nrange = [0, 9]\n", i);
  folder.write("feel.toml", many);
  std::string commands;
  for (int i = 0; i < 12; ++i) commands += fmt::format("\"$0\" set feel.toml setting.s{}.value=7 >>log 2>&1 & ", i);
  EXPECT_EQ(run_in_shell(folder, commands + "wait").status, 0);
  const std::string now = folder.read("feel.toml");
  for (int i = 0; i < 12; ++i)
    EXPECT_NE(now.find(fmt::format("[setting.s{}]\nvalue = 7\n", i)), std::string::npos) << folder.read("log");
}

TEST(Files, WhatAKilledRunLeftIsCleanedUp) {
  const TempDir folder;
  folder.write("feel.toml", "history = 0\n" + std::string(safety_feel));
  folder.write("feel.toml.stasis-Ab12cD", "half");
  folder.write("feel.toml.stasis-notes", "of somebody");
  folder.write("mine.stasis", "of somebody");
  EXPECT_EQ(run_program(folder, {"set", "feel.toml", "take.t.length=2"}).status, 0);
  EXPECT_EQ(folder.files(), (std::vector<std::string>{"feel.toml", "feel.toml.stasis-notes", "mine.stasis"}));
}

TEST(Limits, EndInAMessage) {
  const TempDir folder;
  folder.write("feel.toml", safety_feel);
  const Ended large = run_in_shell(folder, "ulimit -f 1; \"$0\" run feel.toml --set take.t.length=900 --figure none");
  EXPECT_EQ(large.status, 3) << large.err;
  EXPECT_NE(large.err.find("File too large"), std::string::npos) << large.err;
  for (const int files : {5, 6, 7, 8, 9}) {
    const Ended few = run_in_shell(
        folder, fmt::format("ulimit -n {}; timeout 20 \"$0\" run feel.toml --figure png -o out{}", files, files));
    EXPECT_TRUE(few.status == 0 || few.status == 3) << files << " " << few.status << few.err;
  }
}

TEST(Limits, LongTakesNeedNoMoreMemory) {
  if (std::string(STASIS_SANITIZED) == "ON") GTEST_SKIP() << "sanitizers reserve address space of their own";
  const TempDir folder;
  folder.write("feel.toml", safety_feel);
  const std::string hour = " --set take.t.length=3600 ", day = " --set take.t.length=86400 ";
  const std::string limit = "ulimit -v 120000; timeout 60 \"$0\" "; // KiB of addresses
  for (const std::string& length : {hour, day}) {
    EXPECT_EQ(run_in_shell(folder, limit + "report feel.toml --figure none --force" + length).status, 0) << length;
    EXPECT_EQ(run_in_shell(folder, limit + "check feel.toml" + length).status, 0) << length;
  }
  const Ended compared = run_in_shell(
      folder,
      "/usr/bin/python3 -c \"import resource,subprocess,sys; e=subprocess.run(sys.argv[1:], "
      "stdout=subprocess.DEVNULL).returncode; print(e, "
      "resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss < 60000)\" \"$0\" compare feel.toml --label b --set "
      "motion.soft.fraction=0.2 --figure none --fps 30"
          + day);
  EXPECT_TRUE(compared.out.starts_with("0 True") || compared.out.starts_with("2 True")) << compared.out << compared.err;
  // All clocks side by side: an hour needs what a day does.
  for (const std::string& length : {hour, day})
    EXPECT_EQ(run_in_shell(folder, limit + "rates feel.toml --at 5 --figure none --force" + length).status, 0)
        << length;
}

TEST(Figures, DrawWhateverTheUsersEnvironmentSays) {
  const TempDir folder;
  folder.write("feel.toml", safety_feel);
  const Ended ended =
      run_in_shell(folder, "GNUTERM=qt GNUPLOT_FIT=x GDFONTPATH=/ \"$0\" run feel.toml --figure svg -o out");
  EXPECT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(folder.read("out/t.svg").find("</svg>"), std::string::npos);
}

struct Ignored {
  std::vector<std::string> words;
  const char* says;
};

TEST(Options, ThatWouldBeIgnoredAreRefused) {
  const TempDir folder;
  folder.write("feel.toml", safety_feel + "[variant.v]\n\"take.t.length\" = 2\n");
  const Ignored calls[] = {
      {{"run", "feel.toml", "--set", "include=[\"x.toml\"]"}, "include cannot be overridden"},
      {{"run", "feel.toml", "--set", "variant.v.x=1"}, "cannot be overridden"},
      {{"run", "feel.toml", "-o", ""}, "a value is missing"},
      {{"check", "feel.toml", "--junit", ""}, "a value is missing"},
      {{"rates", "feel.toml", "--write", "--variant", "nope"}, "--variant has no effect"},
      {{"rates", "feel.toml", "--write", "--only", "a"}, "--only has no effect"},
      {{"rates", "feel.toml", "--write", "--json"}, "--json has no effect"},
      {{"convert", "vertical", "50", "--aspect", "16:"}, "expected width over height"},
      {{"schema", "--reference", "--measures"}, "pages of their own"},
      {{"set", "feel.toml", "title=3"}, "expected a text"},
  };
  for (const Ignored& call : calls) {
    const Ended ended = run_program(folder, call.words);
    EXPECT_EQ(ended.status, 2) << call.says << ended.err;
    EXPECT_NE(ended.err.find(call.says), std::string::npos) << call.says << "\n" << ended.err;
  }
  EXPECT_EQ(folder.files(), std::vector<std::string>{"feel.toml"});
}

TEST(Feels, AreWholeWhicheverPartIsAskedFor) {
  const TempDir folder;
  const std::string clock = safety_feel + "[variant.v]\n\"take.t.clock.recorded\" = \"frames.csv\"\n";
  const std::pair<std::string, std::string> faults[] = {
      {safety_feel + "[variant.v]\n\"motion.soft.fraction\" = -7\n", "feel.toml:20:"},
      {safety_feel + "[[silence]]\nwarning = \"unused_motoin\"\nreason = \"r\"\n", "Did you mean unused_motion?"},
      {clock, "comes too late"},
  };
  for (const auto& [text, says] : faults) {
    folder.write("feel.toml", text);
    for (const char* command : {"run", "check", "explain", "compare", "rates", "stress", "report"}) {
      const Ended ended = run_program(folder, {command, "feel.toml"});
      EXPECT_EQ(ended.status, 2) << command << ended.err;
      EXPECT_NE(ended.err.find(says), std::string::npos) << command << "\n" << ended.err;
    }
  }
}

TEST(Feels, AFileThatIsMissingHasOneStatus) {
  const TempDir folder;
  folder.write("include.toml", "feel = 1\ninclude = [\"gone.toml\"]\n" + safety_feel.substr(9));
  folder.write("points.toml", safety_feel + "[curve.k]\npoints = \"gone.csv\"\n");
  folder.write("recorded.toml", safety_feel + "recorded = \"gone.csv\"\n");
  folder.write("track.toml", safety_feel + "[track.s]\nkind = \"recorded\"\nfile = \"gone.csv\"\n");
  for (const char* name : {"include.toml", "points.toml", "recorded.toml", "track.toml", "gone.toml"})
    for (const char* command : {"run", "check", "explain", "stress"})
      EXPECT_EQ(run_program(folder, {command, name}).status, 3) << command << " " << name;
}

TEST(Check, FindsOutThatItCannotWriteBeforeItPrints) {
  const TempDir folder;
  folder.write("feel.toml", safety_feel);
  const Ended ended = run_program(folder, {"check", "feel.toml", "--junit", "nowhere/out.xml"});
  EXPECT_EQ(ended.status, 3);
  EXPECT_EQ(ended.out, "");
}

TEST(Numbers, BeyondWhatADoubleTellsApartAreRefusedWhereTheyEnter) {
  const TempDir folder;
  folder.write("far.csv", "time,x,z\n0,0,0\n1,1e16,2\n");
  folder.write("near.csv", "time,x,z\n0,0,0\n1,1e-310,2\n");
  const std::string track = "[track.s]\nkind = \"recorded\"\nfile = ";
  const std::pair<std::string, std::string> faults[] = {
      {safety_feel + "[channel.b]\nrest = 1e16\n", "sizes go from 1e-100 to 1e"},
      {safety_feel + "[channel.b]\nrest = 1e-200\n", "sizes go from 1e-100 to 1e"},
      {safety_feel + track + "\"far.csv\"\ncolumns = { time = \"time\", x = \"x\", y = \"z\" }\n", "far.csv:3:"},
  };
  for (const auto& [text, says] : faults) {
    folder.write("feel.toml", text);
    const Ended ended = run_program(folder, {"check", "feel.toml"});
    EXPECT_EQ(ended.status, 2) << text;
    EXPECT_NE(ended.err.find(says), std::string::npos) << ended.err;
  }
  // What is next to nothing in a recording is nothing, in figures too.
  folder.write("feel.toml", safety_feel + track + "\"near.csv\"\ncolumns = { time = \"time\", x = \"x\", y = \"z\" }\n"
                                + "[channel.eye]\nunit = \"m\"\nrest = [0, 0]\nfollow = \"s\"\n");
  const Ended near = run_in_shell(folder, "timeout 20 \"$0\" run feel.toml --figure svg -o out");
  EXPECT_EQ(near.status, 0) << near.err;
}

TEST(Recordings, HoldWhatCuesMaySay) {
  const TempDir folder;
  const std::string controls =
      safety_feel.substr(0, safety_feel.find("[take.t]"))
      + "[channel.b]\nunit = \"m\"\nrest = 1\nrange = [0, 9]\n"
        "[control.wheel]\nkind = \"clicks\"\nchannel = \"b\"\nstep = 1\n[channel.d]\nunit = \"m\"\n"
        "rest = 0\n[control.lever]\nkind = \"stick\"\nchannel = \"d\"\n";
  folder.write("feel.toml", controls + "[take.t]\nlength = 2\nrecorded = \"input.csv\"\n");
  const std::pair<std::string, std::string> faults[] = {
      {"time,wheel\n0,0\n0.5,1.5\n", "wheel: clicks are whole numbers"},
      {"time,wheel\n0,0\n0.5,1e300\n", "found 1e+300"},
      {"time,lever\n0,0\n0.5,1.25\n", "lever: a deflection lies between -1 and 1"},
      {"time,lever,lever\n0,0,0\n0.5,1,1\n", "both move one control"},
  };
  for (const auto& [csv, says] : faults) {
    folder.write("input.csv", csv);
    const Ended ended = run_program(folder, {"check", "feel.toml"});
    EXPECT_EQ(ended.status, 2) << csv;
    EXPECT_NE(ended.err.find(says), std::string::npos) << ended.err;
    EXPECT_NE(ended.err.find("input.csv:"), std::string::npos) << ended.err;
  }
  folder.write("input.csv", "time,wheel,lever,c\n0,0,0,0\n0.5,2,-1,1\n1,0,0,0\n");
  EXPECT_EQ(run_program(folder, {"run", "feel.toml", "--figure", "none"}).status, 0);
}

TEST(Files, AnInterruptLeavesNothingHalf) {
  const TempDir folder;
  folder.write("feel.toml", safety_feel);
  const Ended ended = run_in_shell(
      folder,
      "\"$0\" run feel.toml --set take.t.length=80000 --figure none -o out & p=$!; sleep 0.5; kill -INT $p; kill "
      "-TERM $p 2>/dev/null; wait $p; echo $?");
  EXPECT_TRUE(ended.out.ends_with("130\n") || ended.out.ends_with("143\n")) << ended.out << ended.err;
  EXPECT_EQ(folder.files(), std::vector<std::string>{"feel.toml"});
}

/// Texts that mean something to a plotting program, a page, XML, CSV, a shell or a terminal.
std::string hostile(std::size_t k) {
  const std::string pieces[] = {"'",          "\"",     "`touch ran`", "$(touch ran)", "]]>",  "</script>", "<b>",
                                "&amp;",      "{a}^_",  "\\n",         "%s%n",         "=1+1", "\u202E",    "\\u0000",
                                "<!--",       "|",      ";",           "//",           "\\\\", "#",         "@",
                                "\U0001F9A6", "\u0301", "\\u001B[31m"};
  const std::size_t count = std::size(pieces);
  return pieces[k % count] + pieces[(k / count) % count] + "x" + pieces[(7 * k + 3) % count];
}

TEST(Texts, OfAnyKindAreShownAndNeverRun) {
  const TempDir folder;
  folder.write("parse.py", R"(
import sys, json, csv, xml.dom.minidom, html.parser, tomllib
for path in sys.argv[1:]:
    if path.endswith(".png"): continue
    text = open(path, encoding="utf-8", newline="").read()
    if path.endswith((".svg", ".xml")): xml.dom.minidom.parseString(text)
    elif path.endswith(".json"): [json.loads(line) for line in text.splitlines()]
    elif path.endswith(".csv"):
        rows = list(csv.reader(text.splitlines()))
        assert all(len(row) == len(rows[0]) for row in rows)
    elif path.endswith(".html"): html.parser.HTMLParser().feed(text)
)");
  for (std::size_t k = 0; k < 300; k += 10) {
    std::string text = "feel = 1\ntitle = \"\"\"" + [&] {
      std::string quoted;
      for (const char c : hostile(k)) quoted += c == '"' ? std::string("\\\"") : std::string(1, c);
      return quoted;
    }() + "\"\"\"\n";
    std::string name = hostile(k);
    // Backslashes are the text's own here.
    for (std::size_t at = 0; (at = text.find("\\n", at)) != std::string::npos; at += 3) text.replace(at, 2, "\\\\n");
    folder.write("feel.toml", text + safety_feel.substr(9) + "[[silence]]\nwarning = \"start_kick\"\nreason = \"r\"\n");
    const Ended run = run_program(folder, {"run", "feel.toml", "--figure", "png", "-o", "out", "--force"});
    ASSERT_EQ(run.status, 0) << text << run.err;
    EXPECT_FALSE(has_control_character(run.out)) << run.out;
    EXPECT_EQ(run.out.find("\u202E"), std::string::npos);
    const Ended checked = run_program(folder, {"check", "feel.toml", "--junit", "out/checks.xml", "--force"});
    EXPECT_FALSE(has_control_character(checked.out)) << checked.out;
    EXPECT_EQ(run_program(folder, {"report", "feel.toml", "-o", "out/page.html", "--force"}).status, 0);
    EXPECT_EQ(run_in_shell(folder, "/usr/bin/python3 parse.py out/*").err, "") << text;
    EXPECT_NE(run_program(folder, {"run", name + ".toml"}).status, 0);
  }
  EXPECT_FALSE(std::filesystem::exists(folder / "ran"));
}

} // namespace
} // namespace stasis::test
