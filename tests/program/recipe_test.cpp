// The recipes: each a whole feel that does what its first line says, without a warning.
#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

std::vector<std::string> recipe_names() {
  const TempDir folder;
  const std::string list = run_program(folder, {"new", "--list"}).out;
  std::vector<std::string> names;
  for (std::size_t at = list.find('\n') + 1; at < list.size(); at = list.find('\n', at) + 1) {
    const std::size_t from = list.find_first_not_of(' ', at);
    names.push_back(list.substr(from, list.find(' ', from) - from));
  }
  return names;
}

TEST(Recipes, EachIsAFeelWithoutAWarningInWhichSomethingMoves) {
  const auto names = recipe_names();
  EXPECT_GE(names.size(), 25u);
  for (const std::string& name : names) {
    const TempDir folder;
    ASSERT_EQ(run_program(folder, {"new", "my.toml", "--recipe", name}).status, 0) << name;
    const Ended checked = run_program(folder, {"check", "my.toml"});
    EXPECT_EQ(checked.status, 0) << name << checked.out << checked.err;
    // An old rule is there to be mended, and says so.
    if (name != "old_rule") {
      EXPECT_NE(checked.out.find(" 0 warnings"), std::string::npos) << name << checked.out;
    }
    ASSERT_EQ(run_program(folder, {"run", "my.toml", "-o", "out", "--figure", "none"}).status, 0) << name;
    bool moves = false;
    for (const std::string& file : folder.files())
      if (file.ends_with(".trace.csv"))
        for (const auto& [column, numbers] : read_csv(folder.read(file)))
          if (column.find(".value") != std::string::npos)
            for (const double number : numbers) moves = moves || number != numbers.front();
    EXPECT_TRUE(moves) << name;
    EXPECT_EQ(run_program(folder, {"hands", "my.toml", "-o", "page.html"}).status, 0) << name;
  }
}

TEST(Recipes, AnUnknownOneNamesTheNearest) {
  const TempDir folder;
  const Ended ended = run_program(folder, {"new", "my.toml", "--recipe", "laen"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("Did you mean lean?"), std::string::npos) << ended.err;
  EXPECT_EQ(run_program(folder, {"new"}).status, 2);
  EXPECT_EQ(run_program(folder, {"new", "my.toml", "--list"}).status, 2);
  EXPECT_TRUE(folder.files().empty());
}

} // namespace
} // namespace stasis::test
