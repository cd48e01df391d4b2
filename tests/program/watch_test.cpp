// stasis watch: runs again on a change, survives faults, ends when told.
#include <chrono>
#include <cstdio>
#include <filesystem>
#include <thread>

#include <gtest/gtest.h>

#include "io/file_watch.hpp"
#include "support/program.hpp"

namespace stasis::test {
namespace {

std::string feel_with(const std::string& half_life) {
  return "[channel.a]\nrest = 0\nmotion = { kind = \"glide\", half_life = " + half_life
         + " }\n[pose.p]\na = 1\n[control.p]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2\ncues = [ { at = 0, "
           "press = \"p\" } ]\n";
}

/// Saves each text in turn, each once the run before it has left its mark: a machine that is busy may take its time.
void save_in_turn(const TempDir& folder, std::vector<std::string> texts) {
  using namespace std::chrono_literals;
  const std::string mark = folder / "stasis-out/t.measures.json";
  std::filesystem::file_time_type last{};
  for (const std::string& text : texts) {
    const auto until = std::chrono::steady_clock::now() + 3s; // what cannot be read leaves no mark
    std::error_code error;
    while (std::chrono::steady_clock::now() < until) {
      const auto now = std::filesystem::last_write_time(mark, error);
      if (!error && now != last) {
        last = now;
        break;
      }
      std::this_thread::sleep_for(20ms);
    }
    std::this_thread::sleep_for(250ms); // until the watching has begun again
    folder.write("f.toml", text);
  }
}

TEST(Watch, RunsAgainOnAChangeAndSaysWhatChanged) {
  const TempDir folder;
  folder.write("f.toml", feel_with("0.1"));
  std::thread editor([&] { save_in_turn(folder, {feel_with("0.2"), "[channel.a", feel_with("0.1")}); });
  const Ended ended = run_program(folder, {"watch", "--runs", "4", "run", "f.toml", "--figure", "none"});
  editor.join();
  EXPECT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("changed t: a.delay_time: 0.100 s to 0.200 s (+100 %)"), std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("the last good results stay"), std::string::npos);
  EXPECT_NE(ended.out.find("changed t: a.delay_time: 0.200 s to 0.100 s (\u221250 %)"), std::string::npos);
  EXPECT_NE(ended.err.find("this is not TOML"), std::string::npos);
}

TEST(Watch, RefusesWhatCannotBeWatched) {
  const TempDir folder;
  EXPECT_EQ(run_program(folder, {"watch"}).status, 2);
  EXPECT_EQ(run_program(folder, {"watch", "run"}).status, 2);
  EXPECT_EQ(run_program(folder, {"watch", "run", "-"}).status, 2);
  EXPECT_EQ(run_program(folder, {"watch", "--runs", "0", "run", "f.toml"}).status, 2);
  const Ended typo = run_program(folder, {"watch", "rum", "f.toml"});
  EXPECT_EQ(typo.status, 2);
  EXPECT_NE(typo.err.find("Did you mean run?"), std::string::npos);
}

TEST(FileWatch, SeesReplacementsOfTheSameSize) {
  const TempDir folder;
  folder.write("a", "one");
  const std::vector<std::string> files{folder / "a", folder / "gone"};
  const auto seen = io::states_of(files);
  EXPECT_EQ(seen[1].size, -1);
  folder.write("b", "two");
  std::filesystem::rename(folder / "b", folder / "a");
  volatile bool stop = false;
  EXPECT_NE(io::wait_for_change(files, seen, 10, stop), seen);
  stop = true;
  EXPECT_EQ(io::wait_for_change(files, seen, 10, stop), seen);
}

} // namespace
} // namespace stasis::test
