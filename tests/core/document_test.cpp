#include <gtest/gtest.h>

#include "core/feel/document.hpp"

namespace stasis {
namespace {

std::string why(std::string_view path) {
  const auto steps = parse_path(path);
  return steps ? "" : steps.error().front().message;
}

TEST(Path, ReadsKeysPlacesAndQuotes) {
  const auto steps = parse_path("take.approach.cues[2].at");
  ASSERT_TRUE(steps);
  ASSERT_EQ(steps->size(), 5u);
  EXPECT_EQ(std::get<std::string>((*steps)[1]), "approach");
  EXPECT_EQ(std::get<std::size_t>((*steps)[3]), 2u);
  EXPECT_EQ(std::get<std::string>((*parse_path("pose.aim.\"focus.y\""))[2]), "focus.y");
  EXPECT_EQ(std::get<std::string>((*parse_path("'a b'"))[0]), "a b");
}

TEST(Path, SaysWhatIsWrongWithIt) {
  EXPECT_NE(why("").find("empty"), std::string::npos);
  EXPECT_NE(why("a.").find("ends in a dot"), std::string::npos);
  EXPECT_NE(why("a..b").find("key is missing"), std::string::npos);
  EXPECT_NE(why("a[x]").find("whole number"), std::string::npos);
  EXPECT_NE(why("[1]").find("whole number"), std::string::npos);
  EXPECT_NE(why("a[1").find("whole number"), std::string::npos);
  EXPECT_NE(why("\"a").find("not closed"), std::string::npos);
  EXPECT_NE(why("a b").find("dot is missing"), std::string::npos);
}

TEST(Put, ReplacesAddsAndRefuses) {
  Node root{NodeTable{}, {}};
  const auto set = [&](std::string_view path, Node value) {
    return put(root, *parse_path(path), path, std::move(value));
  };
  EXPECT_TRUE(set("a.b", Node{1.5, {}}));
  EXPECT_TRUE(set("a.b", Node{2.5, {}}));
  EXPECT_EQ(std::get<double>(root.find("a")->find("b")->value), 2.5);
  EXPECT_FALSE(set("a.b.c", Node{1.0, {}}));
  EXPECT_TRUE(set("list", Node{NodeList(2), {}}));
  EXPECT_TRUE(set("list[1]", Node{7.0, {}}));
  EXPECT_FALSE(set("list[2]", Node{7.0, {}}));
  EXPECT_FALSE(set("a[0]", Node{7.0, {}}));
}

} // namespace
} // namespace stasis
