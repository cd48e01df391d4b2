// stasis history, as its users meet it: nothing that Stasis wrote over is lost.
#include <filesystem>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* lamp = R"([channel.a]
rest = 0      # at rest
motion = "soft"
[motion.soft]
kind = "glide"
half_life = 0.1   # s
[pose.on]
a = 1
[control.c]
kind = "hold"
pose = "on"
[take.t]
length = 3
cues = [{ at = 1, press = "c" }]
)";

std::string with_half_life(const std::string& value) {
  std::string text = lamp;
  return text.replace(text.find("0.1 "), 3, value);
}

void set_half_life(const TempDir& folder, const std::string& value) {
  EXPECT_EQ(run_program(folder, {"set", "f.toml", "motion.soft.half_life=" + value}).status, 0);
}

TEST(History, UndoAfterUndoLeadsBackThroughEverythingThatWasWritten) {
  const TempDir folder;
  folder.write("f.toml", lamp);
  for (const char* value : {"0.2", "0.3", "0.4"}) set_half_life(folder, value);
  for (const char* value : {"0.3", "0.2", "0.1"}) {
    EXPECT_EQ(run_program(folder, {"history", "f.toml", "--undo"}).status, 0);
    EXPECT_EQ(folder.read("f.toml"), with_half_life(value));
  }
  const Ended end = run_program(folder, {"history", "f.toml", "--undo"});
  EXPECT_EQ(end.status, 2);
  EXPECT_NE(end.err.find("nothing older"), std::string::npos) << end.err;
  EXPECT_EQ(folder.read("f.toml"), lamp);
  // What was undone is kept too.
  EXPECT_EQ(run_program(folder, {"history", "f.toml", "--restore", "4"}).status, 0);
  EXPECT_EQ(folder.read("f.toml"), with_half_life("0.4"));
}

TEST(History, WhatWasChangedByHandIsKeptBeforeItIsWrittenOver) {
  const TempDir folder;
  folder.write("f.toml", lamp);
  set_half_life(folder, "0.2");
  folder.write("f.toml", with_half_life("0.7"));
  EXPECT_NE(run_program(folder, {"history", "f.toml"}).out.find("changed by hand"), std::string::npos);
  set_half_life(folder, "0.8");
  EXPECT_EQ(run_program(folder, {"history", "f.toml", "--show", "3"}).out, with_half_life("0.7"));
  EXPECT_EQ(run_program(folder, {"history", "f.toml", "--undo"}).status, 0);
  EXPECT_EQ(folder.read("f.toml"), with_half_life("0.7"));
  EXPECT_EQ(run_program(folder, {"history", "f.toml", "--undo"}).status, 0);
  EXPECT_EQ(folder.read("f.toml"), with_half_life("0.2"));
}

TEST(History, TellsWhatChangedWhenByWhichCallAndWhatThatDid) {
  const TempDir folder;
  folder.write("f.toml", lamp);
  EXPECT_NE(run_program(folder, {"history", "f.toml"}).out.find("nothing is kept yet"), std::string::npos);
  set_half_life(folder, "0.2");
  const std::string told = run_program(folder, {"history", "f.toml"}).out;
  for (const char* words : {"f.toml: 2 versions kept", "as it was found", "stasis set f.toml motion.soft.half_life=0.2",
                            "<- now", "motion.soft.half_life: 0.1 to 0.2", "t: a.delay_time: 0.1", "(+100 %)"})
    EXPECT_NE(told.find(words), std::string::npos) << words << "\n" << told;
}

TEST(History, AnyCommandTakesAKeptVersion) {
  const TempDir folder;
  folder.write("f.toml", lamp);
  set_half_life(folder, "0.2");
  const Ended compared = run_program(folder, {"compare", "f.toml@1", "f.toml", "--figure", "none"});
  EXPECT_EQ(compared.status, 0) << compared.err;
  EXPECT_NE(compared.out.find("f@1"), std::string::npos) << compared.out;
  EXPECT_EQ(run_program(folder, {"check", "f.toml@2"}).status, 0);
  const Ended missing = run_program(folder, {"check", "f.toml@9"});
  EXPECT_EQ(missing.status, 2);
  EXPECT_NE(missing.err.find("versions 1 to 2 are"), std::string::npos) << missing.err;
  const Ended written = run_program(folder, {"set", "f.toml@1", "motion.soft.half_life=3"});
  EXPECT_EQ(written.status, 2);
  EXPECT_NE(written.err.find("--restore 1"), std::string::npos) << written.err;
  EXPECT_EQ(run_program(folder, {"history", "f.toml", "--show", "1"}).out, lamp);
}

TEST(History, IsBoundedAndCanBeSwitchedOff) {
  const TempDir folder;
  folder.write("f.toml", "history = 3\n" + std::string(lamp));
  for (int i = 1; i <= 6; ++i) set_half_life(folder, fmt::format("0.{}1", i));
  std::size_t texts = 0;
  for (const auto& file : std::filesystem::directory_iterator(folder / "stasis-history/f.toml")) {
    (void)file;
    ++texts;
  }
  EXPECT_EQ(texts, 3u + 1u); // and the list
  EXPECT_EQ(run_program(folder, {"history", "f.toml", "--show", "7"}).status, 0);
  EXPECT_EQ(run_program(folder, {"history", "f.toml", "--show", "4"}).status, 2);
  folder.write("g.toml", "history = 0\n" + std::string(lamp));
  EXPECT_EQ(run_program(folder, {"set", "g.toml", "motion.soft.half_life=3"}).status, 0);
  EXPECT_FALSE(std::filesystem::exists(folder / "stasis-history/g.toml"));
}

TEST(History, WhereItCannotBeKeptTheFeelIsLeftAlone) {
  const TempDir folder;
  folder.write("f.toml", lamp);
  folder.write("stasis-history", "a plain file stands in the way\n");
  const Ended ended = run_program(folder, {"set", "f.toml", "motion.soft.half_life=0.2"});
  EXPECT_EQ(ended.status, 3) << ended.err;
  EXPECT_NE(ended.err.find("history = 0"), std::string::npos) << ended.err;
  EXPECT_EQ(ended.out, ""); // nothing is shown as done that was not done
  EXPECT_EQ(folder.read("f.toml"), lamp);
}

TEST(History, AListThatIsSpoiltIsSaidAndNothingIsWritten) {
  const TempDir folder;
  folder.write("f.toml", lamp);
  set_half_life(folder, "0.2");
  folder.write("stasis-history/f.toml/list.toml", "nonsense = [");
  for (const std::vector<std::string>& call :
       {std::vector<std::string>{"history", "f.toml"}, {"set", "f.toml", "motion.soft.half_life=0.3"}}) {
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 2) << call[0];
    EXPECT_NE(ended.err.find("cannot be understood"), std::string::npos) << ended.err;
  }
  EXPECT_EQ(folder.read("f.toml"), with_half_life("0.2"));
}

TEST(History, OddCallsAreRefused) {
  const TempDir folder;
  folder.write("f.toml", lamp);
  set_half_life(folder, "0.2");
  const std::vector<std::vector<std::string>> calls{{"-"},
                                                    {"f.toml", "--undo", "--restore", "1"},
                                                    {"f.toml", "--restore", "0"},
                                                    {"f.toml", "--restore", "two"},
                                                    {"f.toml", "--show", "1.5"}};
  for (std::vector<std::string> call : calls) {
    call.insert(call.begin(), "history");
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 2) << call.back();
    EXPECT_TRUE(ended.err.starts_with("stasis: error: ")) << ended.err;
  }
  EXPECT_EQ(run_program(folder, {"history", "gone.toml"}).status, 3);
  EXPECT_EQ(folder.read("f.toml"), with_half_life("0.2"));
}

} // namespace
} // namespace stasis::test
