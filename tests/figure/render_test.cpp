#include <gtest/gtest.h>

#include "figure/process.hpp"
#include "figure/render.hpp"

namespace stasis {
namespace {

figure::Figure with_text(const std::string& words) {
  figure::Figure figure;
  figure.shapes.emplace_back(figure::Line{{{10, 10}, {200, 150}}, "#064B5D", 2.0, false, "a.smooth"});
  figure.texts.push_back(
      {figure::TextRole::title, words, {100, 40}, figure::Align::left, "#14262E", 21, true, {}, {}, {}, {}});
  return figure;
}

TEST(Render, TextIsShownNeverRun) {
  const std::string nasty = "it's `touch ran` $(x) @a {b}_c \\n % \"q\" <b>&amp;";
  const auto svg = figure::render_svg(with_text(nasty));
  ASSERT_TRUE(svg) << svg.error().message;
  EXPECT_NE(svg->find("it's `touch ran` $(x) @a {b}_c \\n % \"q\" &lt;b&gt;&amp;amp;"), std::string::npos);
  EXPECT_EQ(figure::gnuplot_script(with_text(nasty)).find("touch"), std::string::npos);
  EXPECT_EQ(svg->find("<b>"), std::string::npos);
}

TEST(Render, TextsMayBeginWithQuotesAndEndSections) {
  for (const char* text : {"'tis", "''", "'", "a ]]> b", "'\"$(touch ran)`touch ran`"}) {
    const auto svg = figure::render_svg(with_text(text));
    ASSERT_TRUE(svg) << text << ": " << svg.error().message;
    EXPECT_EQ(svg->find("]]>"), std::string::npos);
    EXPECT_TRUE(figure::render_png(*svg)) << text; // it reads the SVG as XML
  }
  EXPECT_NE(figure::render_svg(with_text("'tis"))->find(">'tis<"), std::string::npos);
}

TEST(Render, SameFigureSameBytes) {
  const auto first = figure::render_svg(with_text("title")), second = figure::render_svg(with_text("title"));
  ASSERT_TRUE(first && second);
  EXPECT_EQ(*first, *second);
  EXPECT_NE(first->find("<desc>Drawn by Stasis</desc>"), std::string::npos);
  EXPECT_NE(first->find("font-weight=\"700\""), std::string::npos);
  EXPECT_EQ(first->find("<title>"), std::string::npos);
}

TEST(Render, PngIsOfTheSizeAndSigned) {
  const auto svg = figure::render_svg(with_text("title"));
  ASSERT_TRUE(svg);
  const auto png = figure::render_png(*svg);
  ASSERT_TRUE(png) << png.error().message;
  EXPECT_TRUE(png->starts_with("\x89PNG"));
  const auto number = [&](std::size_t at) {
    return (static_cast<unsigned char>((*png)[at + 2]) << 8) + static_cast<unsigned char>((*png)[at + 3]);
  };
  EXPECT_EQ(number(16), 1280);
  EXPECT_EQ(number(20), 800);
  EXPECT_NE(png->find("Drawn by Stasis"), std::string::npos);
}

TEST(Process, SaysWhatFailed) {
  const auto missing = figure::run_process({"no-such-program-here"}, "");
  ASSERT_FALSE(missing);
  EXPECT_TRUE(missing.error().not_installed);
  const auto failed = figure::run_process({"gnuplot", "-d", "-"}, "plot nonsense(x)\n");
  ASSERT_FALSE(failed);
  EXPECT_NE(failed.error().message.find("gnuplot failed"), std::string::npos);
  EXPECT_EQ(*figure::run_process({"cat"}, std::string(1 << 20, 'x')), std::string(1 << 20, 'x'));
}

} // namespace
} // namespace stasis
