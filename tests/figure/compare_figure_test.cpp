// The figures of a comparison and of curves, read as data.
#include <algorithm>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "figure/compare_figure.hpp"
#include "figure/curve_sheet.hpp"
#include "support/feels.hpp"
#include "support/figures.hpp"

namespace stasis {
namespace {

std::string zoom_feel(const std::string& motion) {
  return fmt::format(R"(
[picture]
lens = {{ channel = "fov" }}
[channel.fov]
unit = "deg"
rest = 62
space = "zoom"
motion = {{ {} }}
[channel.side]
unit = "m"
rest = 0.5
[pose.listen]
fov = 38
[control.listen]
kind = "hold"
pose = "listen"
[take.t]
length = 3
cues = [ {{ at = 0.5, press = "listen" }} ]
)",
                     motion);
}

struct Compared {
  std::vector<Feel> feels;
  std::vector<Contender> contenders;
  std::vector<SharedChannel> channels;
  figure::Figure figure;

  explicit Compared(const std::vector<std::pair<std::string, std::string>>& motions) {
    feels.reserve(motions.size());
    for (const auto& [name, motion] : motions) {
      feels.push_back(test::feel_from(zoom_feel(motion)));
      contenders.push_back(play_contender(name, feels.back(), feels.back().takes[0]));
    }
    channels = shared_channels(contenders);
    figure = figure::compare_figure({&contenders, &channels, "Zoom", {}});
  }

  bool says(const std::string& words) const { return test::says(figure, words); }
};

const Compared& four() {
  static const Compared all({{"instant", "kind = \"cut\""},
                             {"gliding", "kind = \"glide\", half_life = 0.3"},
                             {"eased", "kind = \"ease\", duration = 0.5"},
                             {"sprung", "kind = \"spring\", frequency = 2, damping_ratio = 0.4"}});
  return all;
}

void expect_no_overlap(const figure::Figure& figure) {
  EXPECT_EQ(test::misplaced_texts(figure), std::vector<std::string>{});
}

TEST(CompareFigure, NamesEachLineItsKickTheWidestGapAndWhatStillMoves) {
  const Compared& all = four();
  for (const Contender& one : all.contenders) {
    const auto label = std::find_if(all.figure.texts.begin(), all.figure.texts.end(), [&](const figure::Text& t) {
      return t.role == figure::TextRole::end_label && t.series == one.name;
    });
    ASSERT_NE(label, all.figure.texts.end()) << one.name;
    const bool drawn = std::any_of(all.figure.shapes.begin(), all.figure.shapes.end(), [&](const figure::Shape& shape) {
      const auto* line = std::get_if<figure::Line>(&shape);
      return line != nullptr && line->series == one.name;
    });
    EXPECT_TRUE(drawn) << one.name;
  }
  for (const char* words : {"jumps", "kick 3.9", "starts softly", "widest", "deg to go", "each minus instant"})
    EXPECT_TRUE(all.says(words)) << words;
}

TEST(CompareFigure, TheWidestGapIsThatOfTheRows) {
  const Compared& all = four();
  for (std::size_t k = 1; k < 4; ++k) {
    double widest = 0;
    for (std::size_t row = 0; row < all.contenders[0].rows[0][0].smooth.size(); ++row)
      widest = std::max(widest,
                        std::fabs(all.contenders[k].rows[0][0].smooth[row] - all.contenders[0].rows[0][0].smooth[row]));
    const auto text = std::find_if(all.figure.texts.begin(), all.figure.texts.end(), [&](const figure::Text& t) {
      return t.source == fmt::format("channels.fov.widest[{}].size", k);
    });
    ASSERT_NE(text, all.figure.texts.end());
    EXPECT_EQ(text->number, widest);
  }
}

TEST(CompareFigure, NoTwoTextsOverlap) {
  expect_no_overlap(four().figure);
  expect_no_overlap(
      Compared({{"a", "kind = \"glide\", half_life = 0.1"}, {"b", "kind = \"glide\", half_life = 0.1"}}).figure);
  expect_no_overlap(
      Compared({{"a rather long name of a version", "kind = \"cut\""}, {"b", "kind = \"ease\", duration = 1"}}).figure);
}

TEST(CompareFigure, SaysWhatIsAlike) { EXPECT_NE(four().figure.left_out[0].find("alike: side"), std::string::npos); }

TEST(CompareFigure, AFollowerSaysItsLagAndALongOneIsThinned) {
  const auto feel = [](double half_life) {
    return test::feel_from(fmt::format(R"(
[track.otter]
kind = "circle"
centre = [0, 0]
diameter = 4
speed = 5
[channel.at]
unit = "m"
rest = [0, 0]
motion = {{ kind = "glide", half_life = {} }}
follow = "otter"
[channel.leaning]
unit = "m"
rest = 1
formula = "at.x / 2"
motion = {{ kind = "glide", half_life = 0.1 }}
[take.t]
length = 300
)",
                                       half_life));
  };
  const std::vector<Feel> feels{feel(0.1), feel(0.3)};
  std::vector<Contender> contenders;
  for (const Feel& one : feels) contenders.push_back(play_contender("version", one, one.takes[0]));
  const auto channels = shared_channels(contenders);
  const figure::Figure figure = figure::compare_figure({&contenders, &channels, "Round", {}});
  std::size_t points = 0;
  for (const figure::Shape& shape : figure.shapes)
    if (const auto* line = std::get_if<figure::Line>(&shape)) points = std::max(points, line->points.size());
  EXPECT_GT(points, 1000u);
  EXPECT_LT(points, 5000u); // of 18001 rows
  for (std::size_t c = 0; c < 2; ++c)
    for (std::size_t k = 0; k < 2; ++k) {
      const auto lag = std::find_if(figure.texts.begin(), figure.texts.end(), [&](const figure::Text& text) {
        return text.source
               == fmt::format("channels.{}.measures.lag_distance_mean.values[{}]", feels[k].channels[c].name, k);
      });
      ASSERT_NE(lag, figure.texts.end());
      EXPECT_EQ(lag->number, contenders[k].measures.channels[c].follow.lag_distance_mean);
    }
}

TEST(Comparison, SaysWhatADesignerWouldNotice) {
  const Compared& all = four();
  const std::string sprung = noticed(all.contenders[2], all.contenders[3], all.channels[0], 2, 3);
  EXPECT_NE(sprung.find("sprung against eased, fov: settles 0.22 s later, overshoots 25 % where there was none"),
            std::string::npos)
      << sprung;
  EXPECT_EQ(noticed(all.contenders[0], all.contenders[0], all.channels[1], 0, 0), "");
  EXPECT_EQ(start_in_words(all.contenders[0], 0), "jumps");
  EXPECT_EQ(start_in_words(all.contenders[3], 0), "starts softly");
  EXPECT_EQ(end_in_words(all.contenders[2], 0), "");
}

TEST(Comparison, AnotherClockIsReadBetweenItsRows) {
  const Feel feel = test::feel_from(zoom_feel("kind = \"glide\", half_life = 0.3"));
  Feel slow = feel;
  slow.takes[0].fps = 30;
  const Contender a = play_contender("a", feel, feel.takes[0]), b = play_contender("b", slow, slow.takes[0]);
  EXPECT_FALSE(same_clock(a, b));
  EXPECT_LT(widest_gap(a, 0, b, 0, 0).size, 0.05) << "the same path, less what a straight line between rows misses";
}

TEST(CurveSheet, HasACellForEachCurveAndTwelveToAPage) {
  std::vector<KnownCurve> curves;
  for (const ShapeWord& word : shape_words())
    for (const Direction direction : {Direction::in, Direction::out}) {
      const Curve curve = EaseShape{word.kind, direction, word.fallback};
      curves.push_back({fmt::format("{} {}", word_of(direction), word.word), curve, facts_of(curve)});
    }
  const auto sheets = figure::curve_sheets(curves, "14 curves");
  ASSERT_EQ(sheets.size(), 2u);
  for (const figure::Figure& sheet : sheets) expect_no_overlap(sheet);
  std::size_t names = 0;
  for (const figure::Figure& sheet : sheets)
    names += static_cast<std::size_t>(std::count_if(sheet.texts.begin(), sheet.texts.end(), [](const figure::Text& t) {
      return t.role == figure::TextRole::panel_name;
    }));
  EXPECT_EQ(names, curves.size());
}

TEST(CurveSheet, MarksSpeedBeyondItsScale) {
  const Curve curve = *parse_curve("out elastic");
  const auto sheet = figure::curve_sheets({{"out elastic", curve, facts_of(curve)}}, "one").front();
  const auto edges = std::count_if(sheet.shapes.begin(), sheet.shapes.end(), [](const figure::Shape& shape) {
    const auto* line = std::get_if<figure::Line>(&shape);
    return line != nullptr && line->series == "out elastic.beyond";
  });
  EXPECT_EQ(edges, 2) << "once forward, once backward";
}

TEST(CurveSheet, AJumpAtTheVeryEndIsDrawn) {
  const auto end_of = [](const std::string& text) {
    const Curve curve = *parse_curve(text);
    const auto sheet = figure::curve_sheets({{text, curve, facts_of(curve)}}, "one").front();
    std::optional<double> end;
    for (const figure::Shape& shape : sheet.shapes)
      if (const auto* line = std::get_if<figure::Line>(&shape); line != nullptr && line->series == text + ".value")
        end = line->points.back().y;
    return end;
  };
  ASSERT_TRUE(end_of("linear"));
  for (const char* const text : {"steps(4)", "steps(49)", "step-end"})
    EXPECT_EQ(end_of(text), end_of("linear")) << text;
  EXPECT_GT(end_of("linear(0, 0.8)"), end_of("linear")) << "px from the top: this one stays below";
}

} // namespace
} // namespace stasis
