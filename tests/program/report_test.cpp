// stasis report: the file, its refusals, what may never change. What the page does is tried in tests/page.
#include <cmath>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

constexpr const char* report_feel = R"(
title = "Two & <two>"
[picture]
lens = { channel = "fov" }
[channel.fov]
rest = 60
unit = "deg"
motion = { kind = "glide", half_life = 0.1 }
[pose.near]
fov = 40
[control.near]
kind = "hold"
pose = "near"
[take.one]
length = 1
cues = [ { at = 0.1, press = "near" } ]
[take.two]
length = 2
[variant.slow]
"channel.fov.motion.half_life" = 0.3
[[want]]
take = "one"
measure = "fov.settling_time"
at_most = 0.7
)";

std::size_t count_of(const std::string& text, const std::string& part) {
  std::size_t count = 0;
  for (std::size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1)) ++count;
  return count;
}

TEST(Report, ShowsTheFiguresThatRunDraws) {
  const TempDir folder;
  folder.write("f.toml", "[channel.a]\nunit = \"m\"\nrest = 0\n[shake.rattle]\non = { a = 0.1 }\nwave = { kind = "
                         "\"noise\", frequency = 5 }\n"
                         "decay = { kind = \"half_life\", half_life = 0.2 }\n[take.one]\nlength = 1\ncues = [{ at = "
                         "0.1, hit = \"rattle\" }]\n");
  ASSERT_EQ(run_program(folder, {"run", "f.toml", "--figure", "svg", "-o", "out"}).status, 0);
  EXPECT_FALSE(folder.read("out/one.shake.rattle.svg").empty());
  ASSERT_EQ(run_program(folder, {"report", "f.toml", "-o", "page.html"}).status, 0);
  EXPECT_NE(folder.read("page.html").find("<figcaption>one, shake rattle"), std::string::npos);
}

TEST(Report, HoldsEveryTakeOfEveryVersion) {
  const TempDir folder;
  folder.write("f.toml", report_feel);
  const Ended ended = run_program(folder, {"report", "f.toml", "-o", "deep/er/page.html", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  EXPECT_NE(ended.out.find("one, base: 1 of 1 wants hold"), std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("one, slow: 0 of 1 wants hold"), std::string::npos) << ended.out;
  EXPECT_EQ(folder.files(), (std::vector<std::string>{"deep/er/page.html", "f.toml"}));
  const std::string page = folder.read("deep/er/page.html");
  EXPECT_EQ(count_of(page, "\"version\":"), 4u);
  EXPECT_NE(page.find("<title>Two &amp; &lt;two&gt;</title>"), std::string::npos);
  EXPECT_NE(page.find("\"title\":\"Two \\u0026 \\u003ctwo\\u003e\""), std::string::npos);
  EXPECT_NE(page.find("<code>stasis report f.toml -o deep/er/page.html --figure none</code>"), std::string::npos);
  EXPECT_EQ(count_of(page, "<!--"), 1u);
}

TEST(Report, TheDataOfAPageAreTheMeasuresOfARun) {
  const TempDir folder;
  folder.write("f.toml", report_feel);
  const Ended page = run_program(folder, {"report", "f.toml", "-o", "-", "--figure", "none", "--variant", "base"});
  const Ended run = run_program(folder, {"run", "f.toml", "--figure", "none", "--json", "--take", "one"});
  ASSERT_EQ(page.status, 0) << page.err;
  EXPECT_EQ(folder.files().size(), 3u); // the feel and what run wrote
  std::string moves =
      run.out.substr(run.out.find("\"moves\":"), run.out.find("\"inputs\":") - run.out.find("\"moves\":"));
  EXPECT_NE(page.out.find(moves), std::string::npos);
}

TEST(Report, RefusesWhatItShould) {
  const TempDir folder;
  folder.write("f.toml", report_feel);
  folder.write("mine.html", "<p>not yours</p>");
  EXPECT_EQ(run_program(folder, {"report", "f.toml", "-o", "mine.html", "--figure", "none"}).status, 3);
  EXPECT_EQ(folder.read("mine.html"), "<p>not yours</p>");
  EXPECT_EQ(run_program(folder, {"report", "f.toml", "-o", "mine.html", "--figure", "none", "--force"}).status, 0);
  folder.write("none.toml", "[channel.a]\nrest = 0\n");
  const Ended none = run_program(folder, {"report", "none.toml"});
  EXPECT_EQ(none.status, 2);
  EXPECT_NE(none.err.find("no take"), std::string::npos);
  EXPECT_EQ(run_program(folder, {"report", "f.toml", "--variant", "slwo"}).status, 2);
}

TEST(Report, OnlyAWatchedPageLooksBesideItself) {
  const TempDir folder;
  folder.write("f.toml", report_feel);
  run_program(folder, {"report", "f.toml", "-o", "a.html", "--figure", "none"});
  run_program(folder, {"report", "f.toml", "-o", "b.html", "--figure", "none", "--watched"});
  EXPECT_EQ(folder.read("a.html").find("data-newest=\""), std::string::npos);
  EXPECT_NE(folder.read("b.html").find("data-newest=\"b.html.newest.svg\""), std::string::npos);
  const std::string before = folder.read("b.html.newest.svg");
  run_program(folder, {"report", "f.toml", "-o", "b.html", "--figure", "none", "--watched"});
  EXPECT_EQ(folder.read("b.html.newest.svg"), before);
  run_program(folder,
              {"report", "f.toml", "-o", "b.html", "--figure", "none", "--watched", "--set", "pose.near.fov=41"});
  EXPECT_NE(folder.read("b.html.newest.svg"), before);
}

TEST(Report, FiguresKeepTheirNamesApart) {
  const TempDir folder;
  folder.write("f.toml", report_feel);
  ASSERT_EQ(run_program(folder, {"report", "f.toml", "-o", "a.html"}).status, 0);
  const std::string page = folder.read("a.html");
  EXPECT_EQ(count_of(page, "id=\"figure0_gnuplot_canvas\""), 1u);
  EXPECT_EQ(count_of(page, "id=\"figure1_gnuplot_canvas\""), 1u);
  EXPECT_EQ(count_of(page, "id=\"gnuplot"), 0u);
  EXPECT_EQ(count_of(page, "<?xml"), 0u);
}

/// The numbers that the page's player draws from.
nlohmann::json data_of(const std::string& page) {
  const std::string opens = "type=\"application/json\">";
  const auto from = page.find(opens);
  if (from == std::string::npos) return {};
  const auto begin = from + opens.size();
  return nlohmann::json::parse(page.substr(begin, page.find("</script>", begin) - begin));
}

TEST(Report, ItsPlayerKnowsTheSubjectWhoFollowsAndWhatStandsThere) {
  const TempDir folder;
  folder.write("f.toml", R"([picture]
focus = "focus"
distance = "far"
[track.otter]
kind = "line"
from = [0, 0, 0]
velocity = [0, 0, -2]
[channel.focus]
rest = [0, 0, 0]
follow = { track = "otter", dead_zone = { size = [1, 2, 3] }, offset = [0, 0.5, 0] }
[channel.far]
rest = 4
range = [0.5, 9]
obstacles = { stand_off = 0.1 }
[obstacle.pier]
kind = "box"
centre = [1, 0, 0]
size = [1, 3, 1]
[obstacle.fence]
kind = "wall"
points = [[-2, -30], [-2, 30]]
[take.t]
length = 1
clock = { fps = 10, jitter = 0.5 }
)");
  const Ended ended = run_program(folder, {"report", "f.toml", "-o", "-", "--figure", "none"});
  ASSERT_EQ(ended.status, 0) << ended.err;
  const auto data = data_of(ended.out);
  ASSERT_TRUE(data.contains("runs")) << ended.out.substr(0, 400);
  const auto& run = data["runs"][0];
  EXPECT_EQ(run["followers"][0]["zone"], (std::vector<double>{1, 2, 3}));
  EXPECT_EQ(run["followers"][0]["offset"], (std::vector<double>{0, 0.5, 0}));
  EXPECT_EQ(run["tracks"][0]["name"], "otter");
  EXPECT_EQ(run["times"].size(), run["frames"].size()); // a clock that is not steady says when
  EXPECT_EQ(run["picture"]["placed"], false);
  ASSERT_EQ(run["obstacles"].size(), 2u);
  EXPECT_EQ(run["obstacles"][0]["name"], "pier");
  EXPECT_EQ(run["obstacles"][0]["line"], false);
  EXPECT_EQ(run["obstacles"][0]["pieces"][0].size(), 4u);
  EXPECT_EQ(run["obstacles"][1]["line"], true);
  for (const auto& point : run["obstacles"][1]["pieces"][0])
    EXPECT_LT(std::fabs(point[1].get<double>()), 20) << "cut to what the plan may show";
  for (const auto& point : run["obstacles"][0]["pieces"][0]) {
    EXPECT_NEAR(std::fabs(point[0].get<double>() - 1), 0.5, 1e-12);
    EXPECT_NEAR(std::fabs(point[1].get<double>()), 0.5, 1e-12);
  }
  ASSERT_EQ(run["bodies"].size(), 2u);
  EXPECT_EQ(run["bodies"][0]["faces"].size(), 6u);
  EXPECT_EQ(run["bodies"][1]["faces"].size(), 1u);
}

} // namespace
} // namespace stasis::test
