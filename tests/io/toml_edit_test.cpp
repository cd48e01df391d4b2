// An edit changes its one value and leaves every other byte as it was.
#include <algorithm>
#include <fstream>
#include <random>
#include <sstream>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/feel/document.hpp"
#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"

namespace stasis {
namespace {

std::string edited(const std::string& text, const std::string& path, const std::string& value) {
  const auto edit = io::edit_value(text, path, value);
  if (!edit) return "refused: " + edit.error()[0].message;
  return edit->text;
}

TEST(TomlEdit, ReplacesJustTheToken) {
  EXPECT_EQ(edited("# head\na = 1   # one\nb=2\n", "a", "3.5"), "# head\na = 3.5   # one\nb=2\n");
  EXPECT_EQ(edited("[x]\r\n  a   =   \"old\"\t# keep\r\n", "x.a", "new"), "[x]\r\n  a   =   \"new\"\t# keep\r\n");
  EXPECT_EQ(edited("p = { x = 1, y = { z = 2 } } # c\n", "p.y.z", "[1, 2]"), "p = { x = 1, y = { z = [1, 2] } } # c\n");
  EXPECT_EQ(edited("l = [ { at = 1 }, { at = 2, b = 3 } ]", "l[1].at", "9"), "l = [ { at = 1 }, { at = 9, b = 3 } ]");
  EXPECT_EQ(edited("a.b.c = 1\n", "a.b.c", "true"), "a.b.c = true\n");
  EXPECT_EQ(edited("t = \"\u00e4\u00f6\" ; x\n", "t", "1").substr(0, 8), "refused:");
  EXPECT_EQ(edited("t = [\"\u00e4\u00f6\", \"\u2026\", 5] # \u00fc\n", "t[2]", "6"),
            "t = [\"\u00e4\u00f6\", \"\u2026\", 6] # \u00fc\n");
  EXPECT_EQ(edited("a = \"\"\"\nlong\ntext\"\"\" # c\nb = 1\n", "a", "1"), "a = 1 # c\nb = 1\n");
  EXPECT_EQ(edited("[[w]]\nm = 1\n[[w]]\nm = 2\n", "w[1].m", "3"), "[[w]]\nm = 1\n[[w]]\nm = 3\n");
  EXPECT_EQ(edited("\"odd key\".\"a.b\" = 1\n", "\"odd key\".\"a.b\"", "2"), "\"odd key\".\"a.b\" = 2\n");
}

TEST(TomlEdit, AddsAKeyWhereItsTableStands) {
  EXPECT_EQ(edited("[x]\na = 1 # one\n\n# about y\n[y]\nb = 2\n", "x.c", "3"),
            "[x]\na = 1 # one\nc = 3\n\n# about y\n[y]\nb = 2\n");
  EXPECT_EQ(edited("[x]\n[y]\nb = 2\n", "x.c", "3"), "[x]\nc = 3\n[y]\nb = 2\n");
  EXPECT_EQ(edited("[x]\na = 1", "x.c", "3"), "[x]\na = 1\nc = 3\n");
  EXPECT_EQ(edited("[x]\r\na = 1\r\n", "x.c", "word"), "[x]\r\na = 1\r\nc = \"word\"\r\n");
  EXPECT_EQ(edited("p = { x = 1 }\n", "p.y", "2"), "p = { x = 1, y = 2 }\n");
  EXPECT_EQ(edited("p = {}\n", "p.y", "2"), "p = { y = 2 }\n");
  EXPECT_EQ(edited("[t]\nl = [\n  1,\n  2, # two\n]\n", "t.c.d", "3"), "[t]\nl = [\n  1,\n  2, # two\n]\nc.d = 3\n");
  EXPECT_EQ(edited("[t]\nclock.fps = 60\nlength = 1\n", "t.clock.tick", "30"),
            "[t]\nclock.fps = 60\nclock.tick = 30\nlength = 1\n");
  EXPECT_EQ(edited("[a.b]\nc = 1\n", "a.d", "2"), "[a.b]\nc = 1\n\n[a]\nd = 2\n");
  EXPECT_EQ(edited("# top\n[x]\na = 1\n", "title", "T"), "title = \"T\"\n# top\n[x]\na = 1\n");
  EXPECT_EQ(edited("feel = 1 # v\n\n[x]\na = 1\n", "title", "T"), "feel = 1 # v\ntitle = \"T\"\n\n[x]\na = 1\n");
  EXPECT_EQ(edited("[[w]]\nm = 1\n[[w]]\nm = 2\n", "w[0].n", "3"), "[[w]]\nm = 1\nn = 3\n[[w]]\nm = 2\n");
}

TEST(TomlEdit, KeepsAByteOrderMarkInFront) {
  EXPECT_EQ(edited("\xEF\xBB\xBF"
                   "a = 1\n",
                   "a", "2"),
            "\xEF\xBB\xBF"
            "a = 2\n");
  EXPECT_EQ(edited("\xEF\xBB\xBF"
                   "[x]\na = 1\n",
                   "title", "T"),
            "\xEF\xBB\xBF"
            "title = \"T\"\n[x]\na = 1\n");
}

TEST(TomlEdit, RefusesWhatItCannotDo) {
  for (const char* path : {"a.b", "l[5]", "l[0].x", "x", "", "a..b"})
    EXPECT_TRUE(edited("a = 1\nl = [1]\n[x]\nb = 2\n", path, "3").starts_with("refused")) << path;
  EXPECT_TRUE(edited("a = = 1\n", "a", "2").starts_with("refused"));
}

/// All paths of numbers and texts below a node.
void collect(const Node& node, const std::string& path, std::vector<std::string>& out) {
  if (const NodeTable* table = node.table()) {
    for (const Entry& entry : *table) {
      const bool bare = std::all_of(entry.key.begin(), entry.key.end(),
                                    [](char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_'; });
      collect(entry.value, (path.empty() ? "" : path + ".") + (bare ? entry.key : "\"" + entry.key + "\""), out);
    }
  } else if (const NodeList* list = node.list()) {
    for (std::size_t i = 0; i < list->size(); ++i) collect((*list)[i], path + "[" + std::to_string(i) + "]", out);
  } else {
    out.push_back(path);
  }
}

std::string demo_text() {
  std::ifstream file(std::string(STASIS_SOURCE) + "/demo/otter.toml", std::ios::binary);
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

std::string with_crlf(const std::string& text) {
  std::string out;
  for (const char c : text) out += c == '\n' ? std::string("\r\n") : std::string(1, c);
  return out;
}

TEST(TomlEdit, RandomEditsOfTheDemoChangeOneLineOnlyAndReadBack) {
  std::mt19937_64 random(21);
  const char* const values[] = {"1.25", "-3", "true", "\"a text\"", "[1, 2.5]", "{ times = 2 }", "1e-3", "plain words"};
  for (const bool crlf : {false, true}) {
    std::string text = crlf ? with_crlf(demo_text()) : demo_text();
    std::vector<std::string> paths;
    collect(*io::read_toml(text, 0), "", paths);
    ASSERT_GT(paths.size(), 60u);
    for (int i = 0; i < 300; ++i) {
      const std::string& path = paths[random() % paths.size()];
      const std::string value = values[random() % std::size(values)];
      const auto edit = io::edit_value(text, path, value);
      ASSERT_TRUE(edit) << path << ": " << edit.error()[0].message;
      std::istringstream before(text), after(edit->text);
      std::string a, b;
      int changed = 0;
      while (std::getline(before, a)) {
        ASSERT_TRUE(static_cast<bool>(std::getline(after, b)));
        changed += a != b ? 1 : 0;
      }
      EXPECT_FALSE(static_cast<bool>(std::getline(after, b)));
      EXPECT_LE(changed, 1) << path;
      // What stands at the path is now the value; and putting the old token back gives the old text.
      const auto back = io::edit_value(edit->text, path, "7");
      const auto again = io::edit_value(text, path, "7");
      ASSERT_TRUE(back && again);
      EXPECT_EQ(back->text, again->text) << path << " = " << value;
    }
  }
}

std::string changed(const std::string& text, const std::string& path, const std::vector<io::KeyChange>& changes) {
  const auto result = io::change_keys(text, path, changes);
  return result ? *result : "refused: " + result.error()[0].message;
}

TEST(ChangeKeys, RenamesAndTakesOutAndLeavesComments) {
  const std::vector<io::KeyChange> both{{"a", "z", "9"}, {"b", "", ""}};
  EXPECT_EQ(changed("[t]\na = 1   # one\nb = 2   # two\nc = 3\n", "t", both), "[t]\nz = 9   # one\n# two\nc = 3\n");
  EXPECT_EQ(changed("[t]\r\n  a=1\r\n  b = 2\r\n", "t", both), "[t]\r\n  z=9\r\n");
  EXPECT_EQ(changed("t = { a = 1, b = 2, c = 3 }", "t", both), "t = { z = 9, c = 3 }");
  EXPECT_EQ(changed("t = { b = 2 , a = 1 } # c", "t", both), "t = { z = 9 } # c");
  EXPECT_EQ(changed("t = { a = 1, b = 2 }", "t", both), "t = { z = 9 }");
  EXPECT_EQ(changed("t.a = 1\nt.b = 2 # two\nt.c = 3\n", "t", both), "t.z = 9\n# two\nt.c = 3\n");
  EXPECT_EQ(changed("[t]\nc = 3\n", "t", both), "[t]\nc = 3\n");
  EXPECT_EQ(changed("\xEF\xBB\xBF[t]\na = 1\n", "t", both), "\xEF\xBB\xBF[t]\nz = 9\n");
  EXPECT_EQ(changed("a = 1\n", "t", both), "refused: there is no such table");
}

TEST(TomlEdit, WhatItWritesIsTomlWhateverStandsInKeysAndTexts) {
  const std::string feel = "feel = 1\n[channel.a]\nrest = 0\n";
  const std::string long_key(90, 'k');
  for (const std::string& path :
       std::vector<std::string>{"title", "x.\"a\\\\b\"", "x.\"del\x7F\"", "x." + long_key, "x.\"\""})
    for (const std::string& value :
         {std::string("plain"), std::string("del \x7F"), std::string("back\\slash \"quote\""), std::string("\x01")}) {
      const auto edit = io::edit_value(feel, path, value);
      if (!edit) continue;
      EXPECT_TRUE(io::read_toml(edit->text, 0)) << edit->text;
    }
  const auto whole = io::edit_value(feel, "x." + long_key, "1");
  ASSERT_TRUE(whole);
  EXPECT_NE(whole->text.find(long_key + " = 1"), std::string::npos) << whole->text;
  EXPECT_FALSE(io::edit_value(feel, "title", "\xE6"));
}

} // namespace
} // namespace stasis
