// A gallery of broken feels, each with exactly what the program says about it. To write the messages again after a
// change of wording, run with STASIS_UPDATE_GOLDEN=1 and read the difference.
#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <sstream>

#include <gtest/gtest.h>

#include "support/program.hpp"

namespace stasis::test {
namespace {

const std::filesystem::path gallery = std::filesystem::path(STASIS_SOURCE) / "tests/data/bad";

std::string text_of(const std::filesystem::path& path) {
  std::ifstream file(path, std::ios::binary);
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

std::vector<std::string> cases() {
  std::vector<std::string> names;
  for (const auto& entry : std::filesystem::directory_iterator(gallery))
    if (entry.path().extension() == ".toml") names.push_back(entry.path().stem().string());
  std::sort(names.begin(), names.end());
  return names;
}

class BadFeel : public testing::TestWithParam<std::string> {};

TEST_P(BadFeel, IsExplainedInOneParagraphAndWritesNothing) {
  const TempDir folder;
  folder.write("feel.toml", text_of(gallery / (GetParam() + ".toml")));
  const Ended ended = run_program(folder, {"run", "feel.toml"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_EQ(ended.out, "");
  EXPECT_EQ(folder.files(), std::vector<std::string>{"feel.toml"});
  const auto expected = gallery / (GetParam() + ".message");
  if (std::getenv("STASIS_UPDATE_GOLDEN") != nullptr) std::ofstream(expected, std::ios::binary) << ended.err;
  EXPECT_EQ(ended.err, text_of(expected));
}

INSTANTIATE_TEST_SUITE_P(Gallery, BadFeel, testing::ValuesIn(cases()), [](const auto& name) { return name.param; });

struct Hostile {
  const char* name;
  std::string text;
};

TEST(HostileInput, IsRefusedQuicklyWithAShortMessage) {
  const Hostile inputs[] = {{"empty", ""},
                            {"nul", std::string("feel = 1\n\0x", 11)},
                            {"hundred_megabytes", "title = \"" + std::string(100'000'000, 'a') + "\""},
                            {"deep_lists", "a = " + std::string(200'000, '[')},
                            {"deep_tables", "[" +
                                                [] {
                                                  std::string keys = "a";
                                                  for (int i = 0; i < 5000; ++i) keys += ".a";
                                                  return keys;
                                                }()
                                                + "]"},
                            {"deep_dotted",
                             [] {
                               std::string keys = "a";
                               for (int i = 0; i < 50'000; ++i) keys += ".a";
                               return keys + " = 1";
                             }()},
                            {"deep_dotted_inline",
                             [] {
                               std::string t = "a = ";
                               for (int i = 0; i < 200; ++i) t += "{ a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a = ";
                               return t;
                             }()},
                            {"deep_inline", "a = " +
                                                [] {
                                                  std::string t;
                                                  for (int i = 0; i < 5000; ++i) t += "{ a = ";
                                                  return t;
                                                }()},
                            {"not_utf8", "title = \"\xFF\xFE\""},
                            {"binary", std::string("\x7F"
                                                   "ELF\x02\x01\x01\x00",
                                                   8)},
                            {"huge_number", "[channel.a]\nrest = 1e400\n"},
                            {"long_line", "[channel.a]\nrest = 0\nzz = " + std::string(100'000, '9')},
                            {"long_key", std::string(100'000, 'k') + " = 1"},
                            {"many_faults", [] {
                               std::string t;
                               for (int i = 0; i < 5000; ++i) t += "k" + std::to_string(i) + " = 1\n";
                               return t;
                             }()}};
  for (const Hostile& input : inputs) {
    const TempDir folder;
    folder.write("feel.toml", input.text);
    const Ended ended = run_program(folder, {"run", "feel.toml"});
    EXPECT_EQ(ended.status, 2) << input.name;
    EXPECT_TRUE(ended.err.starts_with("stasis: error: ")) << input.name << ended.err;
    EXPECT_LT(ended.err.size(), 8000u) << input.name;
    EXPECT_LT(std::count(ended.err.begin(), ended.err.end(), '\n'), 50) << input.name;
    EXPECT_EQ(folder.files(), std::vector<std::string>{"feel.toml"}) << input.name;
  }
}

TEST(HostileInput, AtMostTenFaultsAreShown) {
  const TempDir folder;
  std::string text;
  for (int i = 0; i < 25; ++i) text += "key" + std::to_string(i) + " = 1\n";
  const Ended ended = run_program(folder, {"run", "-"}, text);
  EXPECT_NE(ended.err.find("and 15 more"), std::string::npos) << ended.err;
}

} // namespace
} // namespace stasis::test
