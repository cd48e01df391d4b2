// What happens to a document before it is read, and what looks wrong with a feel once it is.
#include <cmath>

#include <gtest/gtest.h>

#include "core/check/known_names.hpp"
#include "core/check/warning.hpp"
#include "core/feel/compose.hpp"
#include "core/feel/read_feel.hpp"
#include "io/csv_reader.hpp"
#include "io/toml_reader.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

Node document(const std::string& text) { return *io::read_toml(text, 0); }

TEST(Compose, SettingsStandForNumbersAnywhere) {
  Node root = document("[setting.s]\nvalue = 3\nrange = [1, 5]\n[channel.a]\nrest = { setting = \"s\", times = 2, add "
                       "= -1 }\nrange = [0, { setting = \"s\", times = 4 }]\n");
  const auto used = resolve_settings(root);
  ASSERT_TRUE(used);
  EXPECT_EQ(used->size(), 2u);
  const Feel feel = *read_feel(root, all_known_names);
  EXPECT_EQ(feel.channels[0].rest[0], 5.0);
  EXPECT_EQ(feel.channels[0].range[0].high, 12.0);
  EXPECT_EQ(feel.settings[0].low, 1.0);
}

TEST(Compose, UnknownSettingsAreSaidWhereTheyStand) {
  Node root = document("[setting.speed]\nvalue = 3\nrange = [1, 5]\n[channel.a]\nrest = { setting = \"sped\" }\n");
  const auto problems = resolve_settings(root);
  ASSERT_FALSE(problems);
  EXPECT_EQ(problems.error()[0].where.line, 5);
  EXPECT_NE(problems.error()[0].hint.find("speed"), std::string::npos);
  Node odd = document("[setting.s]\nvalue = 3\nrange = [1, 5]\n[channel.a]\nrest = { setting = \"s\", plus = 1 }\n");
  EXPECT_EQ(resolve_settings(odd).error()[0].code, "feel.unknown_key");
}

TEST(Compose, AVariantOverridesWhatIsThereAndNothingElse) {
  const std::string text = "[motion.soft]\nkind = \"glide\"\nhalf_life = 1\n[variant.quick]\n\"motion.soft.half_life\" "
                           "= 0.5\n[variant.wrong]\n\"motion.sofd.half_life\" = 2\n";
  Node root = document(text);
  ASSERT_TRUE(apply_variant(root, "quick"));
  EXPECT_EQ(std::get<double>(root.find("motion")->find("soft")->find("half_life")->value), 0.5);
  const auto wrong = apply_variant(root, "wrong");
  ASSERT_FALSE(wrong);
  EXPECT_EQ(wrong.error()[0].where.line, 7);
  EXPECT_NE(wrong.error()[0].hint.find("soft"), std::string::npos);
  EXPECT_EQ(variant_names(root), (std::vector<std::string_view>{"quick", "wrong"}));
  EXPECT_FALSE(apply_variant(root, "gone"));
}

/// What is misspelt is said, and not only what follows of it.
TEST(Compose, AVariantOfTablesWhoseNameIsMisspeltSaysSo) {
  Node root =
      document("[moton.soft]\nkind = \"glide\"\nhalf_life = 1\n[variant.quick]\n\"motion.soft.half_life\" = 0.5\n");
  const auto wrong = apply_variant(root, "quick");
  ASSERT_FALSE(wrong);
  EXPECT_EQ(wrong.error()[0].hint, "There is [moton]: did you mean motion?");
  root = document("[channel.a]\nrest = 0\n[variant.quick]\n\"motion.soft.half_life\" = 0.5\n");
  EXPECT_EQ(apply_variant(root, "quick").error()[0].hint, "");
}

TEST(Compose, AVariantInDottedKeysOrUnderHeadersLeavesTheRest) {
  const std::string text = "[motion.soft]\nkind = \"spring\"\nfrequency = 1\ndamping_ratio = 0.8\n[pose.p]\na = 1\nb = "
                           "2\n[variant.dots]\npose.p.a = 3\n"
                           "motion.soft.frequency = 2\n[variant.header.pose.p]\na = 4\n[variant.braces]\npose.p = { a "
                           "= 5 }\n[variant.other.motion.soft]\n"
                           "half_life = 0.5\nkind = \"glide\"\n[variant.wrong]\npose.q.a = 3\n";
  const auto number = [](const Node& root, const char* section, const char* name, const char* key) {
    const Node* found = root.find(section)->find(name)->find(key);
    if (found == nullptr) return std::nan("");
    const auto* whole = std::get_if<std::int64_t>(&found->value);
    return whole != nullptr ? static_cast<double>(*whole) : std::get<double>(found->value);
  };
  Node dots = document(text), header = document(text), braces = document(text), other = document(text),
       wrong = document(text);
  ASSERT_TRUE(apply_variant(dots, "dots"));
  EXPECT_EQ(number(dots, "pose", "p", "a"), 3.0);
  EXPECT_EQ(number(dots, "pose", "p", "b"), 2.0);
  EXPECT_EQ(number(dots, "motion", "soft", "frequency"), 2.0);
  EXPECT_EQ(number(dots, "motion", "soft", "damping_ratio"), 0.8);
  ASSERT_TRUE(apply_variant(header, "header"));
  EXPECT_EQ(number(header, "pose", "p", "a"), 4.0);
  EXPECT_EQ(number(header, "pose", "p", "b"), 2.0);
  ASSERT_TRUE(apply_variant(braces, "braces"));
  EXPECT_EQ(number(braces, "pose", "p", "a"), 5.0);
  EXPECT_TRUE(std::isnan(number(braces, "pose", "p", "b")));
  // Another kind, named after its keys: those of the old one are gone.
  ASSERT_TRUE(apply_variant(other, "other"));
  EXPECT_EQ(number(other, "motion", "soft", "half_life"), 0.5);
  EXPECT_TRUE(std::isnan(number(other, "motion", "soft", "frequency")));
  const auto refused = apply_variant(wrong, "wrong");
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error()[0].where.line, 19);
}

TEST(Compose, SettingsMustLieInTheirRange) {
  EXPECT_EQ(test::problems_of("[setting.s]\nvalue = 9\nrange = [1, 5]\n[channel.a]\nrest = 0")[0].code,
            "feel.rest_outside_range");
  EXPECT_EQ(test::problems_of("[setting.s]\nvalue = 3\nrange = [5, 1]\n[channel.a]\nrest = 0")[0].code, "feel.range");
}

std::vector<std::string> codes(const std::vector<Warning>& warnings) {
  std::vector<std::string> all;
  for (const Warning& warning : warnings)
    if (warning.silenced_because.empty()) all.push_back(warning.code);
  return all;
}

TEST(Warnings, OfAFeelItself) {
  const auto warned = [](const std::string& text) {
    return codes(warnings_of_feel(test::feel_from("[channel.a]\nrest = 0\nrange = [-1, 1]\nmotion = \"m\"\n" + text)));
  };
  using Codes = std::vector<std::string>;
  const std::string fine = "[motion.m]\nkind = \"spring\"\nfrequency = 2\ndamping_ratio = 0.6\n";
  EXPECT_EQ(warned(fine), Codes{});
  EXPECT_EQ(warned(fine + "[pose.p]\na = 0.5"), Codes{"unused_pose"});
  EXPECT_EQ(warned(fine + "[pose.p]\na = 5\n[control.c]\nkind = \"hold\"\npose = \"p\""), Codes{"goal_outside_range"});
  EXPECT_EQ(warned(fine + "[motion.n]\nkind = \"cut\""), Codes{"unused_motion"});
  EXPECT_EQ(warned("[motion.m]\nkind = \"stages\"\nstages = [\"n\"]\n[motion.n]\nkind = \"glide\"\nhalf_life = 0.1"),
            Codes{});
  EXPECT_EQ(warned("[motion.m]\nkind = \"ease\"\nduration = 300"), Codes{"unlikely_time"});
  EXPECT_EQ(warned("[motion.m]\nkind = \"glide\"\nhalf_life = \"0.1 ms\""), Codes{"unlikely_time"});
  EXPECT_EQ(warned("[motion.m]\nkind = \"spring\"\nfrequency = 2\ndamping_ratio = 0"), Codes{"never_settles"});
  EXPECT_EQ(warned("[motion.m]\nkind = \"spring\"\nfrequency = 2\ndamping_ratio = 0.78"), Codes{"settling_jump"});
  EXPECT_EQ(warned("[motion.m]\nkind = \"ease\"\nduration = 1\ncurve = \"linear(0, 0.9)\""), Codes{"short_of_goal"});
}

TEST(Warnings, OfATake) {
  const auto warned = [](const std::string& motion, const std::string& range) {
    const Feel feel =
        test::feel_from("[channel.a]\nrest = 0\nrange = " + range + "\nmotion = \"soft\"\n[motion.soft]\n" + motion
                        + "\n[pose.p]\na = 1\n[control.c]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 1.5\ncues "
                          "= [ { at = 0, press = \"c\" } ]\n");
    return codes(warnings_of_take(feel, feel.takes[0], test::play_measures(feel)));
  };
  using Codes = std::vector<std::string>;
  EXPECT_EQ(warned("kind = \"spring\"\nfrequency = 2\ndamping_ratio = 0.6", "[-2, 2]"), Codes{});
  EXPECT_EQ(warned("kind = \"spring\"\nfrequency = 2\ndamping_ratio = 0.6", "[-2, 1]"), Codes{"held_at_limit"});
  EXPECT_EQ(warned("kind = \"glide\"\nhalf_life = 0.1", "[-2, 2]"), Codes{"start_kick"});
  EXPECT_EQ(warned("kind = \"spring\"\nfrequency = 0.2\ndamping_ratio = 1", "[-2, 2]"), Codes{"unsettled"});
}

TEST(Csv, ReadsNumbersAndSaysWhereOneIsMissing) {
  const auto table = io::read_number_table("\xEF\xBB\xBFtime,\"a, b\"\r\n0,1e3\r\n\r\n0.5,-2\n", 3);
  ASSERT_TRUE(table);
  EXPECT_EQ(table->header, (std::vector<std::string>{"time", "a, b"}));
  EXPECT_EQ(table->rows, (std::vector<std::vector<double>>{{0, 1000}, {0.5, -2}}));
  EXPECT_EQ(table->lines, (std::vector<int>{2, 4}));
  const auto bad = io::read_number_table("1,2\n3,nan\n4\n", 0);
  ASSERT_FALSE(bad);
  EXPECT_EQ(bad.error()[0].where.line, 2);
  EXPECT_EQ(bad.error()[0].where.column, 3);
  EXPECT_EQ(bad.error()[1].code, "csv.width");
}

} // namespace
} // namespace stasis
