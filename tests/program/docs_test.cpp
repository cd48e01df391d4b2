// Pages that are made by the program are current, and the first feel of the README works.
#include <fstream>
#include <sstream>

#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

std::string source_text(const std::string& name) {
  std::ifstream file(std::string(STASIS_SOURCE) + "/" + name, std::ios::binary);
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

TEST(Docs, TheReferenceIsTheKeyTable) {
  const TempDir folder;
  EXPECT_EQ(run_program(folder, {"schema", "--reference"}).out, source_text("docs/feel-reference.md"))
      << "run: stasis schema --reference > docs/feel-reference.md";
}

TEST(Docs, TheWarningsAreTheRegistry) {
  const TempDir folder;
  EXPECT_EQ(run_program(folder, {"check", "--warnings"}).out, source_text("docs/warnings.md"))
      << "run: stasis check --warnings > docs/warnings.md";
}

/// Every fenced TOML block that is a whole feel.
std::vector<std::string> feels_in(const std::string& page) {
  std::vector<std::string> feels;
  for (std::size_t at = page.find("```toml\n"); at != std::string::npos; at = page.find("```toml\n", at + 8)) {
    const std::string block = page.substr(at + 8, page.find("```", at + 8) - at - 8);
    if (block.find("[take.") != std::string::npos) feels.push_back(block);
  }
  return feels;
}

TEST(Docs, EveryWholeFeelInThemRuns) {
  std::size_t count = 0;
  for (const char* page : {"README.md", "docs/guide.md"})
    for (const std::string& feel : feels_in(source_text(page))) {
      const TempDir folder;
      folder.write("feel.toml", feel);
      const Ended ended = run_program(folder, {"run", "feel.toml", "--figure", "none"});
      EXPECT_EQ(ended.status, 0) << page << "\n" << feel << ended.err;
      ++count;
    }
  EXPECT_GE(count, 2u);
}

TEST(Docs, TheFirstFeelShownIsTheDemosOwn) {
  const std::string first = source_text("demo/first.toml");
  ASSERT_FALSE(first.empty());
  for (const char* page : {"README.md", "docs/guide.md"}) {
    const auto feels = feels_in(source_text(page));
    ASSERT_FALSE(feels.empty()) << page;
    EXPECT_EQ(feels.front(), first) << page;
  }
}

TEST(Docs, ReadmeLinksEveryScreenshot) {
  const std::string readme = source_text("README.md");
  for (const auto& entry : std::filesystem::directory_iterator(std::string(STASIS_SOURCE) + "/docs/screenshots"))
    EXPECT_NE(readme.find(entry.path().filename().string()), std::string::npos) << entry.path();
}

} // namespace
} // namespace stasis::test
