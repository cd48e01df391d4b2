#include <gtest/gtest.h>

#include "core/feel/key_table.hpp"
#include "io/toml_reader.hpp"

namespace stasis {
namespace {

TEST(Toml, KeepsOrderKindsAndPlaces) {
  const auto read = io::read_toml("z = 1\na = 2.5\n[t]\nx = \"q\"\ny = [1, { k = true }]\n", 3);
  ASSERT_TRUE(read);
  const NodeTable& entries = *read->table();
  ASSERT_EQ(entries.size(), 3u);
  EXPECT_EQ(entries[0].key, "z");
  EXPECT_EQ(entries[1].key, "a");
  EXPECT_EQ(entries[1].where.line, 2);
  EXPECT_EQ(entries[1].value.where.column, 5);
  EXPECT_EQ(entries[1].value.where.source, 3);
  EXPECT_EQ(std::get<std::int64_t>(entries[0].value.value), 1);
  const Node& list = *entries[2].value.find("y");
  EXPECT_EQ(std::get<bool>((*list.list())[1].find("k")->value), true);
}

std::string why(std::string_view text) {
  const auto read = io::read_toml(text, 0);
  return read ? "accepted" : read.error().front().message;
}

TEST(Toml, RefusesWhatIsNoToml) {
  for (const char* text : {"a = ", "a = 1 b = 2", "[a", "a = 1e400", "a = \"\x01\"", "= 3", "a = 1\na = 2",
                           "a = \xFF\xFE", "\xC3\xBA", "\xC3\xBA = 1", "\xD0\x96"})
    EXPECT_NE(why(text).find("not TOML"), std::string::npos) << text;
  EXPECT_NE(why(std::string_view("a = 1\0", 6)).find("NUL"), std::string::npos);
  EXPECT_NE(why(std::string(most_document_bytes + 1, ' ')).find("at most"), std::string::npos);
  EXPECT_NE(why("a = " + std::string(100'000, '[')).find("in each other"), std::string::npos);
  // Dots in texts and comments are no keys.
  const std::string dots(100, '.');
  EXPECT_EQ(why("a = \"" + dots + "\"\nb = '" + dots + "' # " + dots + "\nc = \"\"\"\n\\\"\"" + dots + "\"\"\"\n"),
            "accepted");
}

TEST(Toml, APlaceIsGivenForAFault) {
  const auto read = io::read_toml("a = 1\nb = \n", 0);
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().front().where.line, 2);
  const auto nul = io::read_toml(std::string_view("ab\ncd\0", 6), 0);
  EXPECT_EQ(nul.error().front().where.line, 2);
  EXPECT_EQ(nul.error().front().where.column, 3);
}

TEST(Toml, ValuesOfACallNeedNoQuotes) {
  EXPECT_EQ(std::get<double>(io::read_toml_value("2.5", 0)->value), 2.5);
  EXPECT_EQ(std::get<std::string>(io::read_toml_value("soft", 0)->value), "soft");
  EXPECT_EQ(std::get<std::string>(io::read_toml_value("\"110 ms\"", 0)->value), "110 ms");
  EXPECT_EQ(std::get<std::string>(io::read_toml_value("110 ms", 0)->value), "110 ms");
  EXPECT_EQ(io::read_toml_value("[1, 2]", 0)->list()->size(), 2u);
  EXPECT_EQ(std::get<std::string>(io::read_toml_value("1\nb = 2", 0)->value), "1\nb = 2");
}

} // namespace
} // namespace stasis
