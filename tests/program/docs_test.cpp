// Pages that are made by the program are current, and the first feel of the README works.
#include <filesystem>
#include <fstream>
#include <regex>
#include <set>
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

TEST(Docs, TheGlossaryIsTheProgramsOwn) {
  const TempDir folder;
  EXPECT_EQ(run_program(folder, {"schema", "--glossary"}).out, source_text("docs/glossary.md"))
      << "run: stasis schema --glossary > docs/glossary.md";
  EXPECT_NE(run_program(folder, {"explain", "--term", "Half_Life"}).out.find("half of the gap"), std::string::npos);
  const Ended unknown = run_program(folder, {"explain", "--term", "dampin ratio"});
  EXPECT_EQ(unknown.status, 2);
  EXPECT_NE(unknown.err.find("Did you mean damping ratio?"), std::string::npos) << unknown.err;
  EXPECT_EQ(run_program(folder, {"explain"}).status, 2);
}

TEST(Docs, TheTableOfMeasuresIsTheRegistry) {
  const TempDir folder;
  const std::string page = source_text("docs/measures.md"), head = "<!-- stasis schema --measures -->\n";
  const std::size_t from = page.find(head), to = page.find("<!-- end of the table -->\n");
  ASSERT_TRUE(from < to && to != std::string::npos);
  EXPECT_EQ(run_program(folder, {"schema", "--measures"}).out, page.substr(from + head.size(), to - from - head.size()))
      << "run: stasis schema --measures, and put it between the marks in docs/measures.md";
}

/// What matches in all tests of the core and of the program.
std::set<std::string> found_in_tests(const std::regex& pattern, const std::regex& each) {
  std::set<std::string> found;
  for (const auto& entry : std::filesystem::recursive_directory_iterator(std::string(STASIS_SOURCE) + "/tests")) {
    if (!entry.path().string().ends_with("_test.cpp")) continue;
    std::ifstream file(entry.path());
    for (std::string line; std::getline(file, line);)
      if (std::smatch match; std::regex_match(line, match, pattern))
        for (std::sregex_iterator one(line.begin(), line.end(), each); one != std::sregex_iterator(); ++one)
          found.insert(one->str());
  }
  return found;
}

TEST(Docs, EveryRuleOfAFrameHasItsTest) {
  const std::string page = source_text("docs/design.md");
  std::set<std::string> rules;
  const std::regex head("\\n- \\*\\*([A-Z][0-9]+)\\*\\*");
  for (std::sregex_iterator one(page.begin(), page.end(), head); one != std::sregex_iterator(); ++one)
    EXPECT_TRUE(rules.insert((*one)[1]).second) << (*one)[1] << " stands twice";
  EXPECT_GT(rules.size(), 70u);
  EXPECT_EQ(rules, found_in_tests(std::regex("// Rules? [A-Z][0-9]+.*"), std::regex("\\b[A-Z][0-9]+\\b")));
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

/// All text of the files below a folder of the source.
std::string all_text_below(const std::string& folder) {
  std::string all;
  for (const auto& entry : std::filesystem::recursive_directory_iterator(std::string(STASIS_SOURCE) + "/" + folder))
    if (entry.is_regular_file()) all += source_text(std::filesystem::relative(entry.path(), STASIS_SOURCE).string());
  return all;
}

TEST(Docs, EveryErrorIsListed) {
  const std::string code = all_text_below("src"), page = source_text("docs/errors.md");
  const std::regex reported("\"((feel|file|csv|call)\\.[a-z_]+)\"");
  std::size_t count = 0;
  for (std::sregex_iterator one(code.begin(), code.end(), reported), end; one != end; ++one, ++count) {
    const std::string name = (*one)[1];
    const std::string last = "_" + name.substr(name.rfind('_') + 1); // "`feel.unknown_channel`, `_motion`"
    EXPECT_TRUE(page.find("`" + name + "`") != std::string::npos
                || (name.starts_with("feel.unknown_") && page.find("`" + last + "`") != std::string::npos))
        << name << " is not in docs/errors.md";
  }
  EXPECT_GT(count, 50u);
}

TEST(Docs, EveryWarningIsCalledForByATest) {
  const std::string tests = all_text_below("tests"), page = source_text("docs/warnings.md");
  const std::regex listed("\\n\\| `([a-z_]+)`");
  std::size_t count = 0;
  for (std::sregex_iterator one(page.begin(), page.end(), listed), end; one != end; ++one, ++count)
    EXPECT_NE(tests.find("\"" + (*one)[1].str() + "\""), std::string::npos) << (*one)[1] << " is in no test";
  EXPECT_GT(count, 30u);
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
