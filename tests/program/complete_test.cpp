// stasis complete and the manual pages: what a shell and man are told.
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

bool has_line(const std::string& text, const std::string& line) {
  return ("\n" + text).find("\n" + line + "\n") != std::string::npos;
}

TEST(Complete, KnowsCommandsOptionsAndWhatIsInTheFeel) {
  const TempDir folder;
  EXPECT_EQ(run_program(folder, {"demo", ".", "--figure", "none"}).status, 0);
  const auto asked = [&](std::vector<std::string> words) {
    words.insert(words.begin(), "stasis");
    const std::string at = std::to_string(words.size() - 1);
    std::vector<std::string> call{"complete", at};
    call.insert(call.end(), words.begin(), words.end());
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 0) << ended.err;
    return ended.out;
  };
  EXPECT_EQ(asked({"swe"}), "sweep\n");
  EXPECT_TRUE(has_line(asked({"run", "otter.toml", "--"}), "--figure"));
  EXPECT_FALSE(has_line(asked({"set", "otter.toml", "--"}), "--figure"));
  EXPECT_TRUE(has_line(asked({"set", "otter.toml", "--"}), "--quiet"));
  EXPECT_EQ(asked({"run", "otter.toml", "--color", "al"}), "always\n");
  EXPECT_EQ(asked({"run", "otter.toml", "--take", "app"}), "approach\n");
  EXPECT_TRUE(has_line(asked({"run", "otter.toml", "--set", "motion.soft."}), "motion.soft.frequency="));
  EXPECT_TRUE(has_line(asked({"set", "otter.toml", ""}), "channel.fov.rest="));
  EXPECT_TRUE(has_line(asked({"run", "otter.toml", "--without", ""}), "log_hit"));
  EXPECT_TRUE(has_line(asked({"run", "swim.toml", "--variant", ""}), "all"));
  EXPECT_TRUE(has_line(asked({"tune", "otter.toml", ""}), "side"));
  EXPECT_EQ(asked({"tune", "otter.toml", "fov", "snap"}), "snappier\n");
  EXPECT_TRUE(has_line(asked({"watch", "run", "otter.toml", "--"}), "--figure"));
  // Where files are meant, where a feel is broken, where there is no such command: nothing, and no fault.
  folder.write("broken.toml", "[[[");
  for (const std::vector<std::string>& words : {std::vector<std::string>{"run", ""},
                                                {"run", "broken.toml", "--take", ""},
                                                {"run", "gone.toml", "--take", ""},
                                                {"nonsense", "x"},
                                                {"run", "otter.toml", "--out", ""}})
    EXPECT_EQ(asked(words), "") << words.front();
}

TEST(Manual, APageIsTheCommandsHelp) {
  const TempDir folder;
  const std::string page = run_program(folder, {"schema", "--manual", "sweep"}).out;
  EXPECT_NE(page.find(".TH stasis-sweep 1"), std::string::npos);
  EXPECT_NE(page.find("\\-\\-over"), std::string::npos);
  const std::string whole = run_program(folder, {"schema", "--manual", "stasis"}).out;
  EXPECT_NE(whole.find(".BR stasis\\-hands (1)"), std::string::npos);
  // Nothing on a page is an order to the formatter that is not ours.
  for (std::size_t at = 0; (at = page.find("\n.", at)) != std::string::npos; ++at)
    EXPECT_TRUE(page.compare(at + 1, 3, ".TH") == 0 || page.compare(at + 1, 3, ".SH") == 0
                || page.compare(at + 1, 3, ".nf") == 0 || page.compare(at + 1, 3, ".fi") == 0
                || page.compare(at + 1, 3, ".BR") == 0)
        << page.substr(at, 40);
  const Ended unknown = run_program(folder, {"schema", "--manual", "swep"});
  EXPECT_EQ(unknown.status, 2);
  EXPECT_NE(unknown.err.find("Did you mean sweep?"), std::string::npos) << unknown.err;
}

} // namespace
} // namespace stasis::test
