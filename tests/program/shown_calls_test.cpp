// Every call of stasis that README, guide, pages and help show is one that works, on the demo's own files.
#include <cmath>
#include <fstream>
#include <regex>
#include <set>
#include <sstream>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

std::string page_of(const std::string& name) {
  std::ifstream file(std::string(STASIS_SOURCE) + "/" + name, std::ios::binary);
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

/// Lines in order, those that end in a backslash joined with the next.
std::vector<std::string> lines_of(const std::string& text) {
  std::vector<std::string> lines;
  std::istringstream all(text);
  bool goes_on = false;
  for (std::string line; std::getline(all, line);) {
    const bool continues = line.ends_with("\\");
    if (continues) line.pop_back();
    if (goes_on)
      lines.back() += line.substr(std::min(line.size(), line.find_first_not_of(' ')));
    else
      lines.push_back(line);
    goes_on = continues;
  }
  return lines;
}

/// A fenced block without a language, or of a shell, and the call that is named before it, if one is.
struct Block {
  std::string text, answer_of;
};
std::vector<Block> blocks_in(const std::string& page) {
  std::vector<Block> blocks;
  const std::regex fence("(?:^|\n)(?:<!-- the answer of: ([^\n]*) -->\n)?```(\\w*)\n([^]*?)\n```");
  for (std::sregex_iterator one(page.begin(), page.end(), fence); one != std::sregex_iterator(); ++one)
    if ((*one)[2].str().empty() || (*one)[2] == "sh") blocks.push_back({(*one)[3], (*one)[1]});
  return blocks;
}

/// A folder in which the calls find what they name: the demo, and recordings and feels of those names.
class ShownCalls : public ::testing::Test {
protected:
  ShownCalls() {
    EXPECT_EQ(run_program(folder, {"demo", ".", "--figure", "none"}).status, 0);
    std::string chase = "time,view.x,view.y,subject.x,subject.y\n", subject = "time,x,y\n";
    double x = 0.0, y = 0.0;
    // An exact glide of 5/s behind a subject that goes round, straight from row to row.
    constexpr double rate = 5.0, dt = 1.0 / 60.0;
    const double kept = std::exp(-rate * dt), mean = (1.0 - kept) / (rate * dt);
    double before[2] = {0.0, 1.0};
    for (int k = 0; k <= 240; ++k) {
      const double at[2] = {3.0 * std::sin(1.3 * k * dt), std::cos(k * dt)};
      if (k > 0) {
        x = at[0] + (x - before[0]) * kept - (at[0] - before[0]) * mean;
        y = at[1] + (y - before[1]) * kept - (at[1] - before[1]) * mean;
      }
      chase += fmt::format("{},{},{},{},{}\n", k * dt, x, y, at[0], at[1]);
      subject += fmt::format("{},{},{}\n", k * dt, at[0], at[1]);
      std::copy(std::begin(at), std::end(at), std::begin(before));
    }
    folder.write("chase.csv", chase);
    folder.write("subject.csv", subject);
    for (const char* const name : {"feels/one.toml", "feels/two.toml"}) folder.write(name, folder.read("first.toml"));
    for (const char* const name : {"before.toml", "after.toml"}) folder.write(name, folder.read("otter.toml"));
    in_shell("stasis run weir.toml --take whole -o - > flight.csv");
    in_shell("stasis run otter.toml --take approach -o - > approach.trace.csv");
    in_shell("stasis run otter.toml --take log -o - > log.csv; (head -1 log.csv; tail -72 log.csv) > knock.csv");
    in_shell("stasis new pan_speed.toml --recipe pan_speed");
    in_shell("stasis set otter.toml motion.soft.frequency=1.8"); // so that there is a history
    in_shell("for k in $(seq 40); do stasis sweep first.toml --over channel.fov.motion.frequency=1:4:41 --measure "
             "fov.settling_time --part $k/40 -o OUT; done");
  }

  Ended in_shell(const std::string& call) const {
    const std::string program = STASIS_PROGRAM;
    return run_in_shell(folder, fmt::format("export PATH='{}':$PATH; {}", program.substr(0, program.rfind('/')), call));
  }

  /// Runs a call as it is shown. One of `watch` goes on forever and is not run.
  void expect_works(const std::string& call, const std::string& where) {
    if (call.starts_with("stasis watch ") || !done_.insert(call).second) return;
    const Ended ended = in_shell(call);
    // A want may fail: that is an answer.
    EXPECT_TRUE(ended.status == 0 || (ended.status == 1 && call.starts_with("stasis check ")))
        << where << ": " << call << "\n"
        << ended.err;
    last_ = ended.out;
    ++count_;
  }

  /// All calls of a page, in its order. Every other block is the answer of the last one, or of the one it names: its
  /// lines stand in that, in this order.
  void expect_page_works(const std::string& name) {
    for (const Block& block : blocks_in(page_of(name))) {
      const std::vector<std::string> lines = lines_of(block.text);
      bool has_calls = false;
      for (const std::string& line : lines) {
        if (!line.starts_with("stasis ") && !line.starts_with("cc ")) continue;
        expect_works(line, name);
        has_calls = true;
      }
      if (has_calls) continue;
      if (!block.answer_of.empty()) last_ = in_shell(block.answer_of).out;
      ++answers_;
      std::size_t at = 0;
      for (const std::string& line : lines) {
        if (line == "...") continue; // left out
        at = last_.find(line, at);
        ASSERT_NE(at, std::string::npos) << name << " shows: " << line << "\nwhat came back is\n" << last_;
      }
    }
  }

  const TempDir folder;
  std::set<std::string> done_;
  std::string last_;
  int count_ = 0, answers_ = 0;
};

TEST_F(ShownCalls, OfTheGuideWork) {
  expect_page_works("docs/guide.md");
  EXPECT_GT(count_, 20);
  EXPECT_GT(answers_, 9);
}

TEST_F(ShownCalls, OfThePagesForProgramsWork) {
  expect_page_works("docs/code.md");
  expect_page_works("docs/embed.md");
  EXPECT_GT(count_, 1);
}

TEST_F(ShownCalls, OfTheReadmeWork) {
  const std::string page = page_of("README.md");
  expect_works("stasis run first.toml", "README.md");
  const std::string answer = last_;
  for (const Block& block : blocks_in(page))
    if (block.text.starts_with("Otter at the weir")) {
      EXPECT_EQ(answer.substr(0, block.text.size()), block.text);
    }
  // And the table of what can be asked.
  const std::regex row("\n\\| `(stasis [^`]*)`");
  for (std::sregex_iterator one(page.begin(), page.end(), row); one != std::sregex_iterator(); ++one)
    expect_works((*one)[1], "README.md");
  EXPECT_GT(count_, 20);
}

TEST_F(ShownCalls, OfEveryHelpWork) {
  std::vector<std::string> commands;
  for (const std::string& line : lines_of(run_program(folder, {"--help"}).out))
    if (std::smatch match; std::regex_match(line, match, std::regex("  ([a-z]+) {2,}.*"))) commands.push_back(match[1]);
  EXPECT_GT(commands.size(), 20u);
  for (const std::string& command : commands) {
    if (command == "complete") continue; // shows how a shell asks it, in capitals
    for (const std::string& line : lines_of(run_program(folder, {command, "--help"}).out)) {
      if (!line.starts_with("  stasis ")) continue;
      // What is said about a call stands three blanks after it.
      const std::size_t about = line.find("   ", 2);
      expect_works(line.substr(2, about == std::string::npos ? about : about - 2), command + " --help");
    }
  }
  EXPECT_GT(count_, 45);
}

} // namespace
} // namespace stasis::test
