// Where a subject stands on the screen, against closed forms.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_measures;

/// A flat view of 20 by 10 units on 1000 by 500 pixels whose centre follows a subject.
std::string flat_text(const std::string& subject, const std::string& motion, const std::string& offset) {
  return "[picture]\nsize = [1000, 500]\nposition = \"centre\"\nheight = { channel = \"tall\" }\n[channel.tall]\nunit "
         "= \"m\"\n"
         "rest = 10\n[track.otter]\nkind = \"line\"\n"
         + subject + "\n[channel.centre]\nunit = \"m\"\nrest = [0, 0]\nmotion = { " + motion
         + " }\nfollow = { track = \"otter\"" + offset + " }\n[take.t]\nlength = 3\nclock = { fps = 100 }\n";
}
FollowSummary follow_of(const std::string& text) {
  const Feel feel = feel_from(text);
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    if (feel.channels[c].follow) return play_measures(feel).channels[c].follow;
  return {};
}

/// Keeps the columns of the first track.
class ScreenSink final : public BlockSink {
public:
  void begin(const Scene&) override {}
  void consume(const Block& block) override {
    for (std::size_t axis = 0; axis < 2; ++axis)
      at[axis].insert(at[axis].end(), block.screen[0][axis].begin(), block.screen[0][axis].end());
  }
  void end() override {}
  std::array<std::vector<double>, 2> at;
};
std::array<std::vector<double>, 2> screen_of(const std::string& text) {
  const Feel feel = feel_from(text);
  ScreenSink sink;
  BlockSink* const sinks[] = {&sink};
  play({&feel, &feel.takes[0], clock_of(feel.takes[0])}, sinks);
  return sink.at;
}

TEST(ScreenMeasures, EdgesCountTheSubjectsOwnSize) {
  const std::string stands = "from = [1, 1]\nvelocity = [0, 0]\nradius = 1";
  const FollowSummary beside = follow_of(flat_text(stands, "kind = \"cut\"", ", offset = [2, 3]"));
  EXPECT_NEAR(*beside.edge_distance, 5 - 3 - 1, 1e-9);
  EXPECT_NEAR(*beside.edge_distance_pixels, 50, 1e-7);
  EXPECT_NEAR(*beside.middle_distance, std::hypot(2, 3), 1e-9);
  EXPECT_NEAR(*beside.screen_speed, 0.0, 1e-9);
  const FollowSummary beyond = follow_of(flat_text(stands, "kind = \"cut\"", ", offset = [12, 0]"));
  EXPECT_NEAR(*beyond.edge_distance, 10 - 12 - 1, 1e-9);
  const std::string box = "from = [1, 1]\nvelocity = [0, 0]\nbox = [4, 1]";
  EXPECT_NEAR(*follow_of(flat_text(box, "kind = \"cut\"", ", offset = [7, 0]")).edge_distance, 10 - 7 - 2, 1e-9);
}

TEST(ScreenMeasures, PlacesAreInPixelsFromTheUpperLeftCorner) {
  const auto at = screen_of(flat_text("from = [1, 1]\nvelocity = [0, 0]", "kind = \"cut\"", ", offset = [2, 3]"));
  EXPECT_NEAR(at[0].back(), 500 - 2 * 50, 1e-9);
  EXPECT_NEAR(at[1].back(), 250 + 3 * 50, 1e-9);
}

TEST(ScreenMeasures, SpeedIsThatAcrossThePicture) {
  // A camera that is slow to set off leaves the subject its own speed on the screen, to begin with.
  const FollowSummary follow = follow_of(
      flat_text("from = [0, 0]\nvelocity = [4, 0]", "kind = \"spring\", frequency = 0.2, damping_ratio = 1", ""));
  EXPECT_NEAR(*follow.screen_speed, 4 * 50, 1.0);
  EXPECT_LT(*follow.screen_speed, 4 * 50);
}

/// An eye in space that looks at what it follows from 10 m behind.
std::string space_text(const std::string& distance) {
  return "[picture]\nsize = [1000, 500]\nfocus = \"focus\"\ndistance = \"distance\"\nlens = { channel = \"fov\" }\n"
         "[channel.fov]\nunit = \"deg\"\nrest = 90\n[channel.distance]\nunit = \"m\"\nrest = "
         + distance
         + "\n[track.otter]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [0, 0, 0]\nradius = "
           "0.5\n[channel.focus]\nunit = "
           "\"m\"\nrest = [0, 0, 0]\nfollow = { track = \"otter\", offset = [0, 4, 0] }\n[take.t]\nlength = 1\n";
}

TEST(ScreenMeasures, InSpaceDepthTells) {
  const FollowSummary follow = follow_of(space_text("10"));
  EXPECT_NEAR(*follow.edge_distance, 10 - 4 - 0.5, 1e-9); // half the picture is as high as the distance at 90 degrees
  EXPECT_NEAR(*follow.edge_distance_pixels, 5.5 * 25, 1e-7);
  EXPECT_NEAR(*follow.middle_distance, 4.0, 1e-9);
  EXPECT_NEAR(screen_of(space_text("10"))[1].back(), 250 + 4 * 25, 1e-9);
}

TEST(ScreenMeasures, AtTheEyeItStandsNowhere) {
  std::string text = space_text("0.001");
  text.replace(text.find("offset = [0, 4, 0]"), 18, "offset = [0, 0, -0.001]");
  const Feel feel = feel_from(text);
  const TakeMeasures measures = play_measures(feel);
  EXPECT_FALSE(measures.channels[2].follow.framing_error.has_value());
  bool told = false;
  for (const std::string& note : measures.notes)
    told = told || note.find("has no place in the picture") != std::string::npos;
  EXPECT_TRUE(told);
}

} // namespace
} // namespace stasis
