// What variants put into a table, however they write it.
#include <gtest/gtest.h>

#include "core/feel/document.hpp"
#include "io/toml_reader.hpp"
#include "io/variant_overrides.hpp"

namespace stasis {
namespace {

std::vector<io::Override> overrides(const std::string& text, const std::string& path) {
  const auto document = io::read_toml(text, 0);
  EXPECT_TRUE(document) << text;
  return document ? io::overrides_of(*document, path) : std::vector<io::Override>();
}

TEST(VariantOverrides, AreFoundInEveryWriting) {
  for (const char* const text : {"[variant.a]\n\"motion.soft.rate\" = 4\n", "[variant.a]\nmotion.soft.rate = 4\n",
                                 "[variant.a.motion.soft]\nrate = 4\n", "[variant.a]\nmotion.soft = { rate = 4 }\n",
                                 "variant = { a = { motion = { soft = { rate = 4 } } } }\n"}) {
    const auto found = overrides(text, "motion.soft");
    ASSERT_EQ(found.size(), 1u) << text;
    EXPECT_EQ(found[0].variant, "a");
    EXPECT_EQ(found[0].path, "motion.soft.rate");
    EXPECT_EQ(found[0].last(), "rate");
    EXPECT_FALSE(found[0].is_table);
    const bool is_quoted = found[0].key.find('.') != std::string::npos;
    EXPECT_EQ(found[0].renamed("half_life"), is_quoted ? "\"motion.soft.half_life\"" : "half_life") << text;
  }
}

TEST(VariantOverrides, AreThoseOfTheTableAlone) {
  const std::string text = "[variant.a]\nmotion.soft.rate = 4\nmotion.softer.rate = 5\nmotion.soft.deep.er = 6\n"
                           "[variant.b]\nmotion.soft.rate = { setting = \"pull\" }\nchannel.x.rest = 1\n[variant.c]\n";
  const auto found = overrides(text, "motion.soft");
  ASSERT_EQ(found.size(), 3u);
  EXPECT_EQ(found[0].path, "motion.soft.rate");
  EXPECT_EQ(found[1].path, "motion.soft.deep"); // a table in it, and not what stands in that
  EXPECT_TRUE(found[1].is_table);
  EXPECT_EQ(found[2].variant, "b");
  EXPECT_TRUE(found[2].is_table);
  EXPECT_TRUE(overrides("[motion.soft]\nrate = 1\n", "motion.soft").empty());
}

} // namespace
} // namespace stasis
