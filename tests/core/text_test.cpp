#include <cmath>
#include <cstring>
#include <limits>
#include <random>

#include <gtest/gtest.h>

#include "core/text.hpp"

namespace stasis {
namespace {

TEST(Text, ShortestFormReadsBackExactly) {
  std::mt19937_64 random(1);
  for (int i = 0; i < 2000; ++i) {
    double value = 0;
    const std::uint64_t bits = random();
    std::memcpy(&value, &bits, sizeof value);
    if (!std::isfinite(value)) continue;
    EXPECT_EQ(read_number(shortest(value)), value);
  }
}

TEST(Text, NumbersForPeople) {
  EXPECT_EQ(readable(0.5951), "0.595");
  EXPECT_EQ(readable(118.3), "118");
  EXPECT_EQ(readable(-0.25, 2), "\u22120.25");
  EXPECT_EQ(readable(0), "0");
  EXPECT_EQ(readable(12345.678), "12346");
  EXPECT_EQ(readable(1e-7), "1e-07");
  EXPECT_EQ(readable(NAN), "none");
  EXPECT_EQ(concise(62.0), "62");
  EXPECT_EQ(concise(0.55), "0.55");
}

TEST(Text, ReadsOnlyWholeFiniteNumbers) {
  EXPECT_EQ(read_number(" +1.5e1 "), 15.0);
  for (const char* text : {"", "x", "1x", "nan", "inf", "1e400", "--1", "+-1", "0x10"})
    EXPECT_FALSE(read_number(text)) << text;
}

TEST(Text, NearestNameIsTheOneThatWasMeant) {
  const std::string_view keys[] = {"frequency", "damping_ratio", "half_life", "kind"};
  EXPECT_EQ(nearest("freqency", keys), "frequency");
  EXPECT_EQ(nearest("dampingratio", keys), "damping_ratio");
  EXPECT_EQ(nearest("damping", keys), "damping_ratio");
  EXPECT_EQ(nearest("knid", keys), "kind");
  EXPECT_FALSE(nearest("colour", keys));
  EXPECT_FALSE(nearest(std::string(100'000, 'f'), keys));
}

TEST(Text, EditDistanceIsAMetric) {
  EXPECT_EQ(edit_distance("", "abc"), 3);
  EXPECT_EQ(edit_distance("abcd", "abdc"), 1);
  EXPECT_EQ(edit_distance("kitten", "sitting"), 3);
  EXPECT_EQ(edit_distance("same", "same"), 0);
}

TEST(Text, PrintableRepairsWhatATerminalWouldChokeOn) {
  EXPECT_EQ(printable("a\tb\x1b[31m"), "a b\\u001B[31m");
  EXPECT_EQ(printable("gr\xC3\xBC\xC3\x9F"), "gr\xC3\xBC\xC3\x9F");
  EXPECT_EQ(printable("\xFF\xC0\xAF"), "\uFFFD\uFFFD\uFFFD");
  EXPECT_EQ(printable("\xED\xA0\x80"), "\uFFFD\uFFFD\uFFFD");
  EXPECT_EQ(printable("\xC2\x85x"), "\\u0085x");
  EXPECT_EQ(printable("a\u202Eb\u2066c\u200Bd"), "a\\u202Eb\\u2066c\\u200Bd");
  EXPECT_EQ(printable("abcdef", 3), "abc\u2026");
  EXPECT_EQ(code_points(printable("\xE6\x97\xA5\xE6\x9C\xAC")), 2u);
}

TEST(Text, NamesAreCutInTheMiddleAndLinesKeepTheirEnds) {
  EXPECT_EQ(shown_name("otter.toml"), "otter.toml");
  EXPECT_EQ(shown_name(std::string(300, 'a') + ".toml", 21), "aaaaaaaaaa\u2026aaaaa.toml");
  EXPECT_EQ(code_points(shown_name("\u00FC\u00FC\u00FC\u00FC\u00FC\u00FC\u00FC\u00FC", 5)), 5u);
  EXPECT_EQ(safe_lines("a\n\tb \xE6\x97\xA5\n"), "a\n\tb \xE6\x97\xA5\n");
  EXPECT_EQ(safe_lines("{\"a\":\"\u202E\"}\n"), "{\"a\":\"\\u202E\"}\n"); // the same JSON
  EXPECT_EQ(safe_lines("\x1b]0;x\x07\xFF"), "\\u001B]0;x\\u0007\uFFFD");
}

TEST(Text, ListsAndSplits) {
  const std::string_view names[] = {"a", "b", "c"};
  EXPECT_EQ(listed(names), "a, b and c");
  EXPECT_EQ(listed(std::span(names).first(1)), "a");
  EXPECT_EQ(split("a|b|", '|').size(), 2u);
  EXPECT_TRUE(split("", '|').empty());
}

TEST(Text, RoundsDownWhatMustNotBeExceeded) {
  EXPECT_EQ(readable_at_most(0.027799), "0.0277");
  EXPECT_EQ(readable_at_most(0.0277), "0.0277");
  EXPECT_EQ(readable_at_most(1.999), "1.99");
  for (double value = 1e-4; value < 1e3; value *= 1.37) {
    const double shown = *read_number(readable_at_most(value));
    EXPECT_LE(shown, value * (1 + 1e-14));
    EXPECT_GT(shown, value * 0.99);
  }
}

TEST(Text, AHalfWidthSaysHowManyDigitsCount) {
  EXPECT_EQ(with_half_width(0.41234, 0.0061), "0.4123 \u00b1 0.0061");
  EXPECT_EQ(with_half_width(2421.4, 369.0), "2421 \u00b1 369");
  EXPECT_EQ(with_half_width(-0.003, 0.067), "\u22120.003 \u00b1 0.067");
  EXPECT_EQ(with_half_width(0.5, 0.0), "0.500");
  EXPECT_EQ(with_half_width(0.5, 1e-12), "0.500"); // nine places show none of it
  EXPECT_EQ(with_half_width(0.5, std::numeric_limits<double>::infinity()), "0.500");
}

} // namespace
} // namespace stasis
