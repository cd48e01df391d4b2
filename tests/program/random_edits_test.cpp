// What is written into a feel changes what it says it changes, wherever that stands and however it is laid out: every
// other byte stays, and what is read back is what was meant.
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

/// A feel whose spring is laid out by chance: in a table, in one line, dotted, in place, or in an included file.
class LaidOut {
public:
  explicit LaidOut(std::uint64_t seed) : random_(seed) {
    place_ = static_cast<int>(seed % 5);
    end_ = random_() % 2 == 0 ? "\n" : "\r\n";
    const std::string spring = place_ == 3 ? "{ " + inline_keys() + " }" : "\"soft\"";
    main_ = line("# the lens of a view, by chance") + (place_ == 4 ? line("include = [\"rules.toml\"]") : "")
            + (place_ == 2 ? dotted() : "") + line("[channel.fov]") + line("unit" + gap() + "\"deg\"")
            + line("rest = 62") + line("range = [20, 100]") + line("motion = " + spring) + line("[pose.listen]")
            + line("fov = 38") + line("[control.listen]") + line("kind = 'hold'") + line("pose = \"listen\"");
    if (place_ == 0) main_ += table();
    if (place_ == 1) main_ += line("[motion]") + line("soft = { " + inline_keys() + " }");
    main_ += line("[take.t]") + line("length = 4") + line("cues = [") + line("  { at = 0.5, press = \"listen\" },")
             + line("]");
    if (place_ == 4) rules_ = table();
  }

  void write(const TempDir& folder) const {
    folder.write("main.toml", main_);
    if (!rules_.empty()) folder.write("rules.toml", rules_);
  }
  std::string path(const std::string& key) const {
    return (place_ == 3 ? "channel.fov.motion." : "motion.soft.") + key;
  }
  const std::string& file() const { return rules_.empty() ? main_ : rules_; }
  const char* file_name() const { return rules_.empty() ? "main.toml" : "rules.toml"; }
  /// The text with other words for the values of two keys; the rest as it stands.
  std::string with(const std::string& frequency, const std::string& ratio) const {
    std::string text = file();
    for (const auto& [token, word] : {std::pair{frequency_, frequency}, std::pair{ratio_, ratio}})
      text.replace(text.find(token), token.size(), word);
    return text;
  }
  const std::string& frequency() const { return frequency_; }
  const std::string& ratio() const { return ratio_; }

private:
  std::string gap() { return std::string(random_() % 3, ' ') + "=" + std::string(1 + random_() % 3, ' '); }
  std::string line(const std::string& text) {
    static const char* const notes[] = {"", "", "", " # a note", "\t# = \"quoted\" and [bracketed]", "   "};
    // Within a list or an inline table a note is a note as well.
    return text + notes[random_() % 6] + end_ + (random_() % 8 == 0 ? end_ : "");
  }
  /// Numbers that stand nowhere else in the text.
  std::string inline_keys() {
    return fmt::format("kind{}\"spring\", frequency{}{}, damping_ratio{}{}", gap(), gap(), frequency_, gap(), ratio_);
  }
  std::string table() {
    return line("[motion.soft]") + line("kind" + gap() + "\"spring\"") + line("frequency" + gap() + frequency_)
           + line("damping_ratio" + gap() + ratio_);
  }
  std::string dotted() {
    return line("motion.soft.kind = \"spring\"") + line("motion.soft.frequency" + gap() + frequency_)
           + line("motion.soft.damping_ratio" + gap() + ratio_);
  }

  std::mt19937_64 random_;
  int place_;
  std::string end_, main_, rules_, frequency_ = "1.3170", ratio_ = "0.8430";
};

/// The spring as the program reads it.
std::pair<double, double> read_back(const TempDir& folder) {
  const Ended said = run_program(folder, {"explain", "main.toml", "--json"});
  EXPECT_EQ(said.status, 0) << said.err;
  const auto all = nlohmann::json::parse(said.out);
  const auto number = [&](const char* form) {
    for (const auto& one : all["channels"]["fov"]["motions"][0]["forms"])
      if (one["form"] == form) return one["value"].get<double>();
    return 0.0;
  };
  return {number("frequency"), number("damping_ratio")};
}

/// The number that stands for a key in a text, as a word.
std::string word_of(const std::string& text, const std::string& before, const std::string& whole) {
  const std::size_t at = whole.find(before);
  std::size_t end = at;
  while (end < text.size() && std::string("0123456789.eE+-_").find(text[end]) != std::string::npos) ++end;
  return text.substr(at, end - at);
}

TEST(RandomEdits, SetChangesItsTokenAndNothingElse) {
  for (std::uint64_t seed = 0; seed < 60; ++seed) {
    const TempDir folder;
    const LaidOut feel(seed);
    feel.write(folder);
    const Ended done = run_program(folder, {"set", "main.toml", feel.path("frequency") + "=2.75"});
    ASSERT_EQ(done.status, 0) << seed << done.err << feel.file();
    EXPECT_EQ(folder.read(feel.file_name()), feel.with("2.75", feel.ratio())) << seed;
    const auto [frequency, ratio] = read_back(folder);
    EXPECT_NEAR(frequency, 2.75, 1e-12) << seed; // by way of radians
    EXPECT_NEAR(ratio, 0.843, 1e-12) << seed;
    // And back: the file is what it was, to the byte.
    ASSERT_EQ(run_program(folder, {"set", "main.toml", feel.path("frequency") + "=" + feel.frequency()}).status, 0);
    EXPECT_EQ(folder.read(feel.file_name()), feel.file()) << seed;
  }
}

TEST(RandomEdits, WordsAndSearchesWriteTheirNumbersAndNothingElse) {
  for (std::uint64_t seed = 0; seed < 30; ++seed) {
    const TempDir folder;
    const LaidOut feel(seed);
    feel.write(folder);
    const Ended done =
        seed % 3 == 0
            ? run_program(folder, {"solve", "main.toml", "--free", feel.path("frequency") + "=0.6:4", "--want",
                                   "fov.settling_time at_most 0.4", "--write"})
            : run_program(folder, {"tune", "main.toml", "fov", seed % 3 == 1 ? "snappier" : "livelier", "--write"});
    ASSERT_EQ(done.status, 0) << seed << done.out << done.err << feel.file();
    const std::string after = folder.read(feel.file_name());
    const auto [frequency, ratio] = read_back(folder);
    // The words that now stand there, found from both sides of where they stood.
    const std::string first = word_of(after, feel.frequency(), feel.file());
    std::string halfway = feel.file();
    halfway.replace(halfway.find(feel.frequency()), feel.frequency().size(), first);
    const std::string second = word_of(after, feel.ratio(), halfway);
    EXPECT_EQ(after, feel.with(first, second)) << seed << done.out;
    EXPECT_NE(after, feel.file()) << seed;
    EXPECT_NEAR(std::stod(first), frequency, 1e-12) << seed;
    EXPECT_NEAR(std::stod(second), ratio, 1e-12) << seed;
  }
}

/// Without what stands for the motion's numbers: what must stay when its form is another one.
std::string bare(std::string text) {
  for (const char* const key : {"frequency", "damping_ratio", "stiffness", "damping", "settling_time", "overshoot"})
    for (std::size_t at = 0; (at = text.find(key, at)) != std::string::npos;) {
      std::size_t end = at + std::string(key).size();
      while (end < text.size() && std::string("0123456789.eE+-_ =,").find(text[end]) != std::string::npos) ++end;
      text.erase(at, end - at);
    }
  return text;
}

TEST(RandomEdits, AnotherFormStandsWhereTheOldOneDid) {
  for (std::uint64_t seed = 0; seed < 40; ++seed) {
    const TempDir folder;
    const LaidOut feel(seed);
    feel.write(folder);
    const Ended before = run_program(folder, {"run", "main.toml", "--json", "-o", "none"});
    const std::string motion = feel.path("frequency").substr(0, feel.path("frequency").rfind('.'));
    const Ended done =
        run_program(folder, {"set", "main.toml", "--form", motion + (seed % 2 == 0 ? "=stiffness" : "=settling_time")});
    ASSERT_EQ(done.status, 0) << seed << done.out << done.err << feel.file();
    EXPECT_EQ(bare(folder.read(feel.file_name())), bare(feel.file())) << seed;
    const auto was = nlohmann::json::parse(before.out)["moves"][0];
    const auto is =
        nlohmann::json::parse(run_program(folder, {"run", "main.toml", "--json", "-o", "none"}).out)["moves"][0];
    for (const char* const measure : {"rise_time", "settling_time", "overshoot", "peak_speed"})
      EXPECT_NEAR(is[measure].get<double>(), was[measure].get<double>(), 1e-9 * (1.0 + was[measure].get<double>()))
          << seed;
  }
}

} // namespace
} // namespace stasis::test
