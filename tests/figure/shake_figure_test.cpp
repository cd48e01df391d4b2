// The figure of a shake: read from its description.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "figure/shake_figure.hpp"
#include "support/feels.hpp"
#include "support/figures.hpp"

namespace stasis {
namespace {

struct DrawnShake {
  Feel feel;
  TakeMeasures measures;
  figure::ShakeSink series;
  figure::Figure figure;

  explicit DrawnShake(const std::string& text) : feel(test::feel_from(text)) {
    const Scene scene = test::scene_of(feel);
    MeasureSink measuring;
    BlockSink* const sinks[] = {&series, &measuring};
    measures = measuring.take(play(scene, sinks));
    figure = figure::shake_figure({&scene, &measures, &series, 0, "Title", ""});
  }

  std::vector<const figure::Line*> lines(const std::string& series_name) const {
    return test::lines_of(figure, series_name);
  }
  bool says(const std::string& words) const { return test::says(figure, words); }
};

std::string shake_feel(const std::string& shake, const std::string& cues, double length = 3) {
  return fmt::format("[channel.side]\nunit = \"m\"\nrest = 0\n[channel.up]\nunit = \"m\"\nrest = "
                     "0\n[shake.s]\n{}\n[take.t]\nlength = {}\ncues = [{}]\n",
                     shake, length, cues);
}
const std::string rattle = "on = { side = 0.2, up = 0.1 }\nwave = { kind = \"noise\", frequency = 9 }\ndecay = { kind "
                           "= \"half_life\", half_life = 0.25 }";

TEST(ShakeFigure, TheShakeStaysWithinItsDashedBound) {
  const DrawnShake drawn(shake_feel(rattle, "{ at = 0.5, hit = \"s\" }"));
  const auto envelope = drawn.lines("envelope");
  const auto shake = drawn.lines("shake");
  ASSERT_EQ(envelope.size(), 2u);
  ASSERT_EQ(shake.size(), 1u);
  EXPECT_TRUE(envelope[0]->dashed);
  ASSERT_EQ(envelope[0]->points.size(), shake[0]->points.size());
  for (std::size_t k = 0; k < shake[0]->points.size(); ++k) {
    EXPECT_GE(shake[0]->points[k].y, envelope[0]->points[k].y - 1e-9); // y grows downwards
    EXPECT_LE(shake[0]->points[k].y, envelope[1]->points[k].y + 1e-9);
  }
}

TEST(ShakeFigure, SaysItsFiveNumbers) {
  const DrawnShake drawn(shake_feel(rattle, "{ at = 0.5, hit = \"s\" }"));
  for (const char* words : {"half after 0.250 s", "under 2 % after", "strongest", "RMS while felt", "main frequency",
                            "side against up", "spectrum of side", "noise, 9 Hz, half-life 0.250 s"})
    EXPECT_TRUE(drawn.says(words)) << words;
  const double peak = drawn.measures.shakes[0].parts[0].peak;
  EXPECT_TRUE(std::any_of(drawn.figure.texts.begin(), drawn.figure.texts.end(),
                          [&](const figure::Text& text) { return text.number == peak; }));
  EXPECT_EQ(drawn.lines("against").size(), 1u);
  EXPECT_EQ(drawn.lines("rms").size(), 1u);
}

TEST(ShakeFigure, AKickIsDrawnWhereItGoes) {
  const DrawnShake drawn(
      shake_feel("on = { side = 0.3, up = 0 }\nwave = { kind = \"ring\", frequency = 3, damping_ratio = 0.1 }",
                 "{ at = 0.2, hit = \"s\", direction = [0, 1] }"));
  EXPECT_TRUE(drawn.says("spectrum of up"));
  EXPECT_FALSE(drawn.lines("spectrum").empty());
}

TEST(ShakeFigure, TextsDoNotOverlapAndStayOnThePage) {
  for (const std::string& shake : {rattle,
                                   std::string("on = { side = 1 }\nwave = { kind = \"sines\", frequency = 2 }\ndecay = "
                                               "{ kind = \"linear\", duration = 1 }\nalways = true"),
                                   rattle + "\nstack = \"sum\"\ncap = 2"})
    for (const double length : {1.0, 3.0, 60.0}) {
      const DrawnShake drawn(shake_feel(shake, "{ at = 0.3, hit = \"s\", every = 0.2, times = 3 }", length));
      EXPECT_EQ(test::misplaced_texts(drawn.figure), std::vector<std::string>{}) << length;
    }
}

} // namespace
} // namespace stasis
