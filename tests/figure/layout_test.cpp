// The description of a take's figure: nothing overlaps, every line is named, every number is a measure.
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/measure/measure_registry.hpp"
#include "core/text.hpp"
#include "figure/style.hpp"
#include "figure/take_figure.hpp"
#include "figure/text_width.hpp"
#include "support/feels.hpp"
#include "support/program.hpp"

namespace stasis {
namespace {

struct Drawn {
  figure::Figure figure;
  TakeMeasures measures;
  Feel feel;
};

Drawn draw(const std::string& text, std::vector<std::string> only = {}, const std::string& title = "Title") {
  Drawn drawn;
  drawn.feel = test::feel_from(text);
  const Scene scene = test::scene_of(drawn.feel);
  figure::SeriesSink series;
  MeasureSink measuring;
  BlockSink* const sinks[] = {&series, &measuring};
  drawn.measures = measuring.take(play(scene, sinks));
  drawn.figure = figure::take_figure({&scene, &drawn.measures, &series, title, "", std::move(only)});
  return drawn;
}

std::string random_feel(unsigned seed) {
  std::mt19937 random(seed);
  const auto pick = [&](int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); };
  std::string text = "title = \"Random\"\n", poses, controls, cues;
  const int channels = pick(1, 12), holds = pick(1, 8), length = pick(1, 30);
  const char* units[] = {"deg", "m", "px", "", "a_long_unit_x"};
  for (int c = 0; c < channels; ++c)
    text += fmt::format("[channel.{}{}]\nunit = \"{}\"\nrest = {}\nmotion = {{ kind = \"spring\", frequency = {}, "
                        "damping_ratio = 0.{} }}\n",
                        pick(0, 3) == 0 ? "a_channel_with_a_very_long_name_indeed_" : "c", c, units[pick(0, 4)],
                        pick(0, 2) == 0 ? "[1, 2, 3]" : "5", pick(1, 6), pick(1, 9));
  for (int h = 0; h < holds; ++h) {
    poses += fmt::format("[pose.p{}]\n", h);
    controls += fmt::format("[control.k{}]\nkind = \"hold\"\npose = \"p{}\"\n", h, h);
    const double start = pick(0, 90) / 100.0 * length,
                 end = std::min(start + pick(1, 50) / 100.0 * length, 1.0 * length);
    cues += fmt::format("{{ at = {}, press = \"k{}\" }}, {{ at = {}, release = \"k{}\" }},", start, h, end, h);
  }
  // Goals are added once the channels are known, so that their components agree.
  const Feel feel = test::feel_from(text);
  std::string full = text;
  for (int h = 0; h < holds; ++h) {
    full += fmt::format("[pose.p{}]\n", h);
    for (const Channel& channel : feel.channels)
      if (pick(0, 1) == 0)
        full += channel.components == 3 ? fmt::format("{} = [{}, {}, 3]\n", channel.name, pick(-9, 9), pick(-9, 9))
                                        : fmt::format("{} = {}\n", channel.name, pick(-900, 900) / 10.0);
  }
  return full + controls + fmt::format("[take.t]\nlength = {}\ncues = [{}]\n", length, cues);
}

void expect_no_overlap(const figure::Figure& figure, const std::string& what) {
  for (std::size_t i = 0; i < figure.texts.size(); ++i) {
    const figure::Text& a = figure.texts[i];
    EXPECT_GE(a.box.left, 0) << what << a.text;
    EXPECT_LE(a.box.right, figure.width) << what << a.text;
    EXPECT_GE(a.box.top, 0) << what << a.text;
    EXPECT_LE(a.box.bottom, figure.height) << what << a.text;
    for (std::size_t j = i + 1; j < figure.texts.size(); ++j)
      EXPECT_FALSE(overlap(a.box, figure.texts[j].box))
          << what << ": '" << a.text << "' and '" << figure.texts[j].text << "'";
  }
}

TEST(TakeFigure, NoTwoTextsOverlapWhateverIsDrawn) {
  for (unsigned seed = 0; seed < 60; ++seed)
    expect_no_overlap(draw(random_feel(seed)).figure, fmt::format("seed {}", seed));
}

/// The number of a text's source, looked up among the measures.
std::optional<double> measured(const Drawn& drawn, const std::string& source) {
  std::size_t index = 0;
  const auto dot = source.rfind('.');
  if (source.starts_with("moves[")) {
    index = std::stoul(source.substr(6));
    for (const MoveMeasure& measure : move_measures())
      if (source.ends_with("." + std::string(measure.name))) return drawn.measures.moves[index].*measure.value;
  }
  if (source.starts_with("inputs[")) {
    const InputSpan& span = drawn.measures.inputs[std::stoul(source.substr(7))];
    return span.to - span.from;
  }
  for (std::size_t c = 0; c < drawn.feel.channels.size(); ++c)
    for (std::size_t i = 0; i < drawn.feel.channels[c].components; ++i) {
      const std::string own = "channels." + drawn.feel.channels[c].name + ".end_value";
      if (source == own || (source.starts_with(own) && source.substr(dot) == component_suffixes[i]))
        return drawn.measures.channels[c].end_value[i];
    }
  return std::nullopt;
}

/// How much of its unit a pixel is worth to the component of an end label: how far it goes, by how far its line does.
double worth_of_pixel(const Drawn& drawn, const figure::Text& label) {
  for (std::size_t c = 0; c < drawn.feel.channels.size(); ++c)
    for (std::size_t i = 0; i < drawn.feel.channels[c].components; ++i) {
      const Channel& channel = drawn.feel.channels[c];
      const std::string suffix = channel.components > 1 ? component_suffixes[i] : "";
      if (label.source != "channels." + channel.name + ".end_value" + suffix) continue;
      double top = 1e9, bottom = -1e9;
      for (const figure::Shape& shape : drawn.figure.shapes)
        if (const auto* line = std::get_if<figure::Line>(&shape);
            line != nullptr && line->series == channel.name + suffix + ".smooth")
          for (const figure::Point& point : line->points)
            top = std::min(top, point.y), bottom = std::max(bottom, point.y);
      const PathSummary& path = drawn.measures.channels[c].path;
      return bottom > top ? (path.highest[i].value - path.lowest[i].value) / (bottom - top) : 0.0;
    }
  return 0.0;
}

TEST(TakeFigure, EveryNumberOnItIsAMeasure) {
  int numbers = 0;
  for (unsigned seed = 0; seed < 30; ++seed) {
    const Drawn drawn = draw(random_feel(seed));
    for (const figure::Text& text : drawn.figure.texts) {
      if (!text.number) continue;
      ++numbers;
      const auto number = measured(drawn, text.source);
      ASSERT_TRUE(number) << text.source;
      EXPECT_EQ(*number, *text.number) << text.source;
      const bool shown = text.text.find(readable(*number)) != std::string::npos
                         || text.text.find(concise(*number, 3)) != std::string::npos || text.text.ends_with("\u2026");
      // What is less than a tenth of a pixel from zero is said to be zero; lines go from frame to frame, a little less
      // far.
      constexpr double tenth = 0.1, less_far = 1.1;
      const bool is_nothing =
          text.text.starts_with("0") && std::fabs(*number) < tenth * less_far * worth_of_pixel(drawn, text);
      EXPECT_TRUE(shown || is_nothing) << text.text << " for " << *number;
    }
  }
  EXPECT_GT(numbers, 200);
}

TEST(TakeFigure, EverySeriesIsLabelledAtItsEnd) {
  for (unsigned seed = 0; seed < 30; ++seed) {
    const Drawn drawn = draw(random_feel(seed));
    for (const figure::Shape& shape : drawn.figure.shapes) {
      const auto* line = std::get_if<figure::Line>(&shape);
      if (line == nullptr || line->series.empty() || line->series.ends_with(".goal")) continue;
      const bool labelled =
          std::any_of(drawn.figure.texts.begin(), drawn.figure.texts.end(), [&](const figure::Text& text) {
            return text.role == figure::TextRole::end_label && text.series == line->series
                   && text.box.left >= figure::style::plot_right;
          });
      EXPECT_TRUE(labelled) << line->series;
    }
  }
}

constexpr const char* one_move = R"([channel.fov]
unit = "deg"
rest = 62
motion = { kind = "spring", frequency = 1.5, damping_ratio = 0.3 }
[pose.p]
fov = 38
[control.listen]
kind = "hold"
pose = "p"
[take.t]
length = 4
cues = [{ at = 0.5, press = "listen" }]
)";

TEST(TakeFigure, TheNumbersReadFirstStandBesideTheCurve) {
  const Drawn drawn = draw(one_move);
  std::vector<std::string> words;
  for (const figure::Text& text : drawn.figure.texts)
    if (text.role == figure::TextRole::annotation) {
      words.push_back(text.text.substr(0, text.text.find(' ')));
      EXPECT_GE(text.size, 12.0);
    }
  for (const char* word : {"rise", "overshoot", "settled", "peak"})
    EXPECT_NE(std::find(words.begin(), words.end(), word), words.end()) << word;
}

TEST(TakeFigure, SaysWhatItLeavesOutAndOnlyPicks) {
  std::string text, pose = "[pose.p]\n";
  for (int c = 0; c < 9; ++c) {
    text += fmt::format("[channel.c{}]\nrest = 0\nunit = \"u{}\"\nmotion = {{ kind = \"glide\", half_life = 0.1 }}\n",
                        c, c);
    pose += fmt::format("c{} = {}\n", c, c + 1);
  }
  text +=
      pose + "[control.k]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 2\ncues = [{ at = 0.5, press = \"k\" }]\n";
  const Drawn all = draw(text);
  ASSERT_FALSE(all.figure.left_out.empty());
  EXPECT_NE(all.figure.left_out[0].find("--only"), std::string::npos);
  const Drawn one = draw(text, {"c8"});
  EXPECT_TRUE(one.figure.left_out.empty());
  EXPECT_TRUE(std::any_of(one.figure.texts.begin(), one.figure.texts.end(),
                          [](const figure::Text& t) { return t.series == "c8.velocity"; }));
}

TEST(TakeFigure, HeavyInkLiesExactlyWhereTheValueMoves) {
  const Drawn drawn = draw(one_move);
  const Move& move = drawn.measures.moves[0];
  const double scale = (figure::style::plot_right - figure::style::plot_left) / 4.0;
  for (const figure::Shape& shape : drawn.figure.shapes) {
    const auto* line = std::get_if<figure::Line>(&shape);
    if (line == nullptr || line->width != figure::style::moving_width) continue;
    EXPECT_NEAR(line->points.front().x, figure::style::plot_left + 0.5 * scale, 0.01);
    EXPECT_NEAR(line->points.back().x, figure::style::plot_left + (0.5 + *move.settling_time) * scale,
                scale / 60 + 0.01);
  }
}

TEST(TakeFigure, SurvivesAnyTitle) {
  for (const std::string& title :
       {std::string(10'000, 'W'), std::string("a\x01\xFF'`\"$(x)"), std::string("</script><img>")})
    expect_no_overlap(draw(one_move, {}, title).figure, "title");
}

TEST(TextWidth, GrowsWithTextAndCutsToFit) {
  EXPECT_NEAR(figure::text_width("fov", 1000, false), 361 + 597 + 557, 1e-9);
  EXPECT_GT(figure::text_width("W", 12, true), figure::text_width("W", 12, false));
  const std::string cut = figure::fitted("a rather long name", 50, 12, false);
  EXPECT_LE(figure::text_width(cut, 12, false), 50);
  EXPECT_TRUE(cut.ends_with("\u2026"));
  EXPECT_EQ(figure::fitted("short", 500, 12, false), "short");
}

} // namespace
} // namespace stasis
