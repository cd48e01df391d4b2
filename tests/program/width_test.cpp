// On a terminal of 80 columns no line is wider; what programs read and people paste stays whole.
#include <regex>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/text.hpp"
#include "support/program.hpp"

namespace stasis::test {
namespace {

void copy_demo(const TempDir& folder) {
  ASSERT_EQ(run_in_shell(folder, fmt::format("cp '{0}'/demo/*.toml '{0}'/demo/*.csv .", STASIS_SOURCE)).status, 0);
}

/// Lines that are too wide, except for what is to be pasted, paths, and quoted lines of a file.
std::vector<std::string> wide_lines(const std::string& text, std::size_t width) {
  static const std::regex whole(R"(^  (wrote|motion =|follow =) .*|^ *\{ [^}]*\},?|^ *\d* \|.*|^\S+:\d+.*)");
  std::vector<std::string> wide;
  for (const std::string_view line : split(text, '\n'))
    if (code_points(line) > width && !std::regex_match(std::string(line), whole)) wide.emplace_back(line);
  return wide;
}

const std::vector<std::string> calls{
    "run otter.toml --take approach --figure none",
    "run weir.toml --take whole --figure none",
    "run swim.toml --take swim --figure text",
    "run bridge.toml --figure none",
    "explain otter.toml",
    "explain weir.toml",
    "check otter.toml",
    "check weir.toml",
    "compare swim.toml --take drill --variant base --variant raw --variant throttle --figure none",
    "rates frames.toml --figure none",
    "stress first.toml --plays 50 --figure none",
    "measure capture.csv --unit deg --figure none",
    "match capture.csv --unit deg --figure none",
    "match capture.csv --value fov --stops --within 0.6 --figure none",
    "convert fraction 0.1 --at-fps 60",
    "curve 'in-out sine' 'out back' --figure none",
    "tune --words",
    "tune first.toml fov snappier --figure none",
    "new --list",
    "explain --term half_life",
    "set otter.toml motion.soft.frequency=1.8 --dry-run",
    "run nothing.toml",
    "run otter.toml --set channel.fov.rst=1",
    "curve nothing",
    "--help",
    "export --help",
    "match --help"};

TEST(Width, NoLineIsWiderThanTheTerminal) {
  const TempDir folder;
  copy_demo(folder);
  for (const std::string& call : calls)
    for (const std::size_t width : {60u, 80u, 120u}) {
      const Ended ended = run_in_shell(folder, fmt::format("COLUMNS={} \"$0\" {} 2>&1", width, call));
      for (const std::string& line : wide_lines(ended.out, width))
        ADD_FAILURE() << call << " at " << width << ": " << line;
      EXPECT_FALSE(ended.out.empty()) << call;
    }
}

TEST(Width, WithoutATerminalLinesStayWhole) {
  const TempDir folder;
  copy_demo(folder);
  const Ended ended = run_in_shell(folder, "unset COLUMNS; \"$0\" check weir.toml");
  EXPECT_FALSE(wide_lines(ended.out, 200).empty()) << "a search finds a sentence on one line";
}

TEST(Width, WhatProgramsReadIsNotBroken) {
  const TempDir folder;
  copy_demo(folder);
  const Ended json = run_in_shell(folder, "COLUMNS=60 \"$0\" explain otter.toml --json");
  EXPECT_TRUE(nlohmann::json::accept(json.out));
  const Ended trace = run_in_shell(folder, "COLUMNS=60 \"$0\" run first.toml -o - | head -1 | wc -l");
  EXPECT_EQ(trimmed(trace.out), "1");
  const Ended wide =
      run_in_shell(folder, "\"$0\" run first.toml -o - > a; COLUMNS=60 \"$0\" run first.toml -o - > b; cmp a b");
  EXPECT_EQ(wide.status, 0);
  const Ended errors = run_in_shell(folder, "COLUMNS=60 \"$0\" --errors json run nothing.toml 2>&1");
  EXPECT_TRUE(nlohmann::json::accept(errors.out)) << errors.out;
}

TEST(Width, WordsAreKeptWhenLinesAreFolded) {
  const TempDir folder;
  copy_demo(folder);
  const auto words_of = [&](const std::string& setting) {
    std::string out;
    for (const char letter : run_in_shell(folder, setting + " \"$0\" check weir.toml").out)
      if (letter != ' ' && letter != '\n') out += letter;
    return out;
  };
  EXPECT_EQ(words_of("COLUMNS=47"), words_of("unset COLUMNS;"));
}

TEST(Width, RowsThatDoNotFitNameTheirChannelAgain) {
  const TempDir folder;
  copy_demo(folder);
  const std::string text = run_in_shell(folder, "COLUMNS=80 \"$0\" run otter.toml --take approach --figure none").out;
  std::size_t headers = 0;
  for (const std::string_view line : split(text, '\n'))
    if (line.starts_with("  channel       at")) ++headers;
  EXPECT_EQ(headers, 2u) << text;
  EXPECT_NE(text.find("cause"), std::string::npos);
}

} // namespace
} // namespace stasis::test
