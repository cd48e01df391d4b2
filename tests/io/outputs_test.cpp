// JUnit XML and curve samples: what other programs read.
#include <cmath>
#include <pugixml.hpp>
#include <sstream>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "io/curves_out.hpp"
#include "io/junit_xml.hpp"

namespace stasis {
namespace {

TEST(JunitXml, CountsCasesAndFailuresByTake) {
  const std::string xml = io::junit_xml(
      "A feel",
      {{"one", "a at most 1", true, ""}, {"two", "b at most 2", false, "found 3"}, {"one", "c", false, "found 4"}});
  pugi::xml_document document;
  ASSERT_TRUE(document.load_string(xml.c_str()));
  const auto root = document.child("testsuites");
  EXPECT_STREQ(root.attribute("name").value(), "A feel");
  const auto one = root.child("testsuite");
  EXPECT_STREQ(one.attribute("name").value(), "one");
  EXPECT_EQ(one.attribute("tests").as_int(), 2);
  EXPECT_EQ(one.attribute("failures").as_int(), 1);
  EXPECT_STREQ(one.next_sibling().child("testcase").child("failure").attribute("message").value(), "found 3");
}

TEST(JunitXml, NamesAreTextWhateverTheyHold) {
  const std::string nasty = "</testsuite><x a=\"'>&\n\x01";
  const std::string xml = io::junit_xml(nasty, {{nasty, nasty, false, nasty}});
  pugi::xml_document document;
  ASSERT_TRUE(document.load_string(xml.c_str())) << xml;
  EXPECT_EQ(std::string(document.child("testsuites").attribute("name").value()).find("</testsuite><x a=\"'>&"), 0u);
  EXPECT_FALSE(document.child("testsuites").child("x"));
}

std::vector<KnownCurve> two_curves() {
  std::vector<KnownCurve> curves;
  for (const char* text : {"in circle", "cubic-bezier(0.3, 0, 0.1, 1)"}) {
    const Curve curve = *parse_curve(text);
    curves.push_back({text, curve, facts_of(curve)});
  }
  return curves;
}

TEST(CurvesCsv, QuotesNamesAndLeavesUnboundedSpeedsEmpty) {
  std::istringstream lines(io::curves_csv(two_curves(), 3));
  std::string line;
  std::getline(lines, line);
  EXPECT_EQ(line, "time,\"in circle.value\",\"in circle.speed\",\"cubic-bezier(0.3, 0, 0.1, "
                  "1).value\",\"cubic-bezier(0.3, 0, 0.1, 1).speed\"");
  std::getline(lines, line);
  EXPECT_EQ(line, "0,0,0,0,0");
  std::getline(lines, line);
  EXPECT_TRUE(line.starts_with("0.5,0.1339745962155613")) << line;
  std::getline(lines, line);
  EXPECT_EQ(line, "1,1,,1,0") << "in circle ends upright";
}

TEST(CurvesJson, HoldsFactsAndNoInfinity) {
  const auto json = nlohmann::json::parse(io::curves_json(two_curves(), "0"));
  ASSERT_EQ(json["curves"].size(), 2u);
  EXPECT_TRUE(json["curves"][0]["fastest_speed"].is_null());
  EXPECT_EQ(json["curves"][0]["end_speed"], nullptr);
  EXPECT_NEAR(json["curves"][0]["half_time_share"].get<double>(), 1 - std::sqrt(0.75), 1e-15);
  EXPECT_TRUE(json["curves"][1]["words"].get<std::string>().starts_with("Starts softly"));
}

} // namespace
} // namespace stasis
