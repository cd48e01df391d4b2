// Exported source code stands as the formatter of its language would have it.
#include <ostream>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/program.hpp"
#include "support/random_feels.hpp"

namespace stasis::test {
namespace {

struct Formatter {
  const char* language;
  std::string check; ///< fails on the first file that it would change
};

void PrintTo(const Formatter& one, std::ostream* out) { *out << one.language; }

const Formatter formatters[] = {
    {"c", "clang-format --style=LLVM --dry-run -Werror p.c p_check.c"},
    {"cpp", "clang-format --style=LLVM --dry-run -Werror p.cpp p_check.cpp"},
    {"javascript", "node " STASIS_SOURCE "/node_modules/prettier/bin/prettier.cjs --check p.mjs p_check.mjs p.d.mts"},
    {"python", "black --quiet --check --diff p.py p_check.py"},
    {"rust", "rustfmt --edition 2018 --check p_check.rs"}, // and what it is a part of
};

class LaidOutCode : public ::testing::TestWithParam<Formatter> {
protected:
  Ended checked(const std::string& file, const std::string& take, const std::vector<std::string>& more = {}) {
    std::vector<std::string> words{"export", file, "code", "--language", GetParam().language, "--prefix",
                                   "p",      "-o", "out",  "--force",    "--with-check"};
    if (!take.empty()) words.insert(words.end(), {"--take", take});
    words.insert(words.end(), more.begin(), more.end());
    const Ended exported = run_program(folder, words);
    if (exported.status != 0) return exported;
    return run_in_shell(folder, fmt::format("cd out && {} 2>&1", GetParam().check));
  }
  const TempDir folder;
};

TEST_P(LaidOutCode, OfTheDemo) {
  ASSERT_EQ(run_program(folder, {"demo", ".", "--figure", "none"}).status, 0);
  for (const char* recipe : {"slow_motion", "wall", "hand_held"})
    ASSERT_EQ(run_program(folder, {"new", std::string(recipe) + ".toml", "--recipe", recipe}).status, 0);
  for (const char* file : {"first.toml", "otter.toml", "swim.toml", "frames.toml", "orbit.toml", "bridge.toml",
                           "weir.toml", "slow_motion.toml", "wall.toml", "hand_held.toml"}) {
    const std::string text = folder.read(file);
    const std::size_t at = text.find("\n[take.") + 7;
    const Ended ended = checked(file, text.substr(at, text.find(']', at) - at));
    EXPECT_EQ(ended.status, 0) << file << "\n" << ended.out.substr(0, 3000) << ended.err;
  }
}

TEST_P(LaidOutCode, OfRandomFeels) {
  int seen = 0;
  for (std::uint64_t seed = 12001; seen < 8; ++seed) {
    ASSERT_LT(seed, 12100u);
    FeelMaker maker(seed, {.tracks = seed % 3 == 0,
                           .rules_of_frames = seed % 4 == 0,
                           .switches = seed % 3 == 0,
                           .sticks = seed % 2 == 0});
    folder.write("r.toml", "feel = 1\n" + maker.make().text + "clock = { fps = 60 }\n");
    const Ended ended = checked("r.toml", "");
    if (ended.status == 2) continue; // a feel that is none, or that cannot be written, which is said
    ++seen;
    EXPECT_EQ(ended.status, 0) << seed << "\n" << ended.out.substr(0, 3000) << ended.err;
  }
}

TEST_P(LaidOutCode, OfShortNumbers) {
  const std::string name = GetParam().language;
  if (name == "javascript" || name == "python") return; // they have one precision only
  ASSERT_EQ(run_program(folder, {"demo", ".", "--figure", "none"}).status, 0);
  for (const auto& [file, take] : {std::pair{"otter.toml", "hands"}, {"swim.toml", "drill"}, {"orbit.toml", ""}}) {
    const Ended ended = checked(file, take, {"--precision", "single"});
    EXPECT_EQ(ended.status, 0) << file << "\n" << ended.out.substr(0, 3000) << ended.err;
  }
}

INSTANTIATE_TEST_SUITE_P(Code, LaidOutCode, ::testing::ValuesIn(formatters),
                         [](const auto& one) { return std::string(one.param.language); });

} // namespace
} // namespace stasis::test
