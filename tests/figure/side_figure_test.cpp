// The side view of a profile, read as data.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "figure/side_figure.hpp"
#include "support/feels.hpp"
#include "support/figures.hpp"

namespace stasis {
namespace {

const std::string orbit = R"(
[channel.focus]
unit = "m"
rest = [0, 0, 0]
[channel.tilt]
unit = "deg"
rest = 0
range = [-60, 60]
[channel.radius]
unit = "m"
rest = 3
motion = { kind = "glide", half_life = 0.1 }
[channel.fov]
unit = "deg"
rest = 60
[profile.orbit]
driver = "tilt"
knots = [ { at = -60, radius = 2, fov = 75 }, { at = 0, radius = 3, fov = 60 }, { at = 30, radius = 5, fov = 50 }, { at = 60, radius = 4, fov = 45 } ]
[control.tip]
kind = "stick"
channel = "tilt"
gain = 60
[take.t]
length = 3
cues = [{ at = 0.2, stick = "tip", value = 1 }, { at = 1.2, stick = "tip", value = -1 }]
)";
const std::string picture =
    "[picture]\nlens = { channel = \"fov\" }\nfocus = \"focus\"\ndistance = \"radius\"\npitch = "
    "\"tilt\"\n";

struct FromTheSide {
  Feel feel;
  figure::Figure figure;
  std::size_t frames;
  explicit FromTheSide(const std::string& text) : feel(test::feel_from(text)) {
    figure::SideSink side;
    BlockSink* const sinks[] = {&side};
    const Scene scene = test::scene_of(feel);
    play(scene, sinks);
    frames = side.frames().size();
    figure = figure::side_figure({&scene, &side, "Orbit", ""});
  }
  const figure::Line* line(const std::string& series) const {
    const auto found = test::lines_of(figure, series);
    return found.empty() ? nullptr : found.front();
  }
  bool says(const std::string& words) const { return test::says(figure, words); }
  std::size_t diamonds() const {
    return static_cast<std::size_t>(
        std::count_if(figure.shapes.begin(), figure.shapes.end(), [](const figure::Shape& shape) {
          const auto* mark = std::get_if<figure::Mark>(&shape);
          return mark != nullptr && mark->kind == figure::MarkKind::diamond;
        }));
  }
};

TEST(SideFigure, ShowsTheWayItsKnotsAndEachValueAgainstTheDriver) {
  const FromTheSide drawn(picture + orbit);
  EXPECT_EQ(drawn.frames, 181u);
  for (const char* const series : {"eye as designed", "eye in this take", "radius as designed", "radius in this take",
                                   "fov as designed", "fov in this take"})
    EXPECT_NE(drawn.line(series), nullptr) << series;
  EXPECT_EQ(drawn.diamonds(), 12u); // four knots from the side, and in two panels
  for (const char* const words : {"tilt \u221260 deg", "tilt 30 deg", "5 m", "75 deg", "looked at"})
    EXPECT_TRUE(drawn.says(words)) << words;
  EXPECT_EQ(test::misplaced_texts(drawn.figure), std::vector<std::string>{});
}

/// Equal scales both ways: the drawn way is the radius at each tilt, about what is looked at.
TEST(SideFigure, HasEqualScales) {
  const FromTheSide drawn(picture + orbit);
  const figure::Mark* origin = nullptr;
  for (const figure::Shape& shape : drawn.figure.shapes)
    if (const auto* mark = std::get_if<figure::Mark>(&shape); mark != nullptr && mark->kind == figure::MarkKind::dot)
      origin = mark;
  ASSERT_NE(origin, nullptr);
  const auto& way = drawn.line("eye as designed")->points;
  const auto far = [&](const figure::Point& p) { return std::hypot(p.x - origin->at.x, p.y - origin->at.y); };
  EXPECT_NEAR(far(way.back()) / far(way.front()), 2.0, 1e-6); // 4 m against 2 m
  // Looking down by 60 degrees the eye stands above, at 60 degrees.
  EXPECT_NEAR(std::atan2(origin->at.y - way.front().y, way.front().x - origin->at.x), std::acos(-1.0) / 3, 1e-9);
}

TEST(SideFigure, SaysWhereThereIsNoSide) {
  const FromTheSide drawn(orbit);
  EXPECT_TRUE(drawn.says("no side view"));
  EXPECT_EQ(drawn.line("eye as designed"), nullptr);
  EXPECT_NE(drawn.line("fov as designed"), nullptr);
}

} // namespace
} // namespace stasis
