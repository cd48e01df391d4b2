// The schema is checked by a standard validator: the demo holds, and what the reader refuses by kind it refuses too.
#include <cstdlib>

#include <gtest/gtest.h>

#include "io/schema.hpp"
#include "support/program.hpp"

namespace stasis {
namespace {

constexpr const char* validate = R"(
import json, sys, tomllib, jsonschema
schema = json.load(open("schema.json"))
jsonschema.Draft202012Validator.check_schema(schema)
feel = tomllib.load(open(sys.argv[1], "rb"))
errors = list(jsonschema.Draft202012Validator(schema).iter_errors(feel))
for error in errors: print("/".join(map(str, error.absolute_path)), error.message[:200])
sys.exit(1 if errors else 0)
)";

bool is_valid(const test::TempDir& folder, const std::string& feel) {
  folder.write("feel.toml", feel);
  const std::string command = "cd '" + folder.path().string() + "' && /usr/bin/python3 validate.py feel.toml >out 2>&1";
  return std::system(command.c_str()) == 0;
}

TEST(Schema, AStandardValidatorAgreesWithTheReader) {
  const test::TempDir folder;
  folder.write("schema.json", io::feel_schema());
  folder.write("validate.py", validate);
  const test::Ended starter = test::run_program(folder, {"new", "-"});
  EXPECT_TRUE(is_valid(folder, starter.out)) << folder.read("out");
  ASSERT_EQ(test::run_program(folder, {"demo", ".", "--figure", "none"}).status, 0);
  EXPECT_TRUE(is_valid(folder, folder.read("otter.toml"))) << folder.read("out");
  const auto with = [&](std::string what, const std::string& by) {
    std::string text = starter.out;
    const auto at = text.find(what);
    EXPECT_NE(at, std::string::npos);
    return text.replace(at, what.size(), by);
  };
  EXPECT_FALSE(is_valid(folder, with("frequency = 2.0", "freqency = 2.0")));
  EXPECT_FALSE(is_valid(folder, with("frequency = 2.0", "frequency = -2.0")));
  EXPECT_FALSE(is_valid(folder, with("frequency = 2.0", "frequency = \"2 s\"")));
  EXPECT_TRUE(is_valid(folder, with("frequency = 2.0", "frequency = \"2 Hz\"")));
  EXPECT_FALSE(is_valid(folder, with("kind = \"spring\"", "kind = \"sprung\"")));
  EXPECT_FALSE(is_valid(folder, with("press = \"aim\"", "press = \"aim\", release = \"aim\"")));
  EXPECT_FALSE(is_valid(folder, with("[pose.aim]", "[pose.Aim]")));
}

} // namespace
} // namespace stasis
