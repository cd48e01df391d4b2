// stasis.hpp: feels opened by C++ programs, and sessions on several threads at once.
#include <thread>

#include <gtest/gtest.h>

#include "embed/stasis.h"
#include "embed/stasis.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

const std::string place_feel = test::step_feel("kind = \"spring\", frequency = 2, damping_ratio = 0.6", 60, 2)
                               + "[channel.eye]\nunit = \"m\"\nrest = [0, 1, 2]\nmotion = { kind = \"cut\" }\n";

TEST(OpenedFeel, NamesWhatASessionTakes) {
  const auto opened = OpenedFeel::from_text("place.toml", place_feel);
  ASSERT_TRUE(opened) << opened.error();
  EXPECT_EQ(opened->component("a"), (ComponentRef{0, 0}));
  EXPECT_EQ(opened->component("eye.z"), (ComponentRef{1, 2}));
  EXPECT_EQ(opened->component("eye"), (ComponentRef{1, 0}));
  for (const char* const none : {"b", "a.x.y", "a.y", "eye.w", ".x", ""}) EXPECT_FALSE(opened->component(none)) << none;
  EXPECT_EQ(opened->control("c"), 0u);
  EXPECT_FALSE(opened->control("d"));
  EXPECT_FALSE(opened->shake("c"));
  EXPECT_FALSE(opened->track("c"));
}

TEST(OpenedFeel, PlaysTheRowsOfItsTake) {
  const auto opened = OpenedFeel::from_text("place.toml", place_feel);
  ASSERT_TRUE(opened) << opened.error();
  const auto rows = test::play_rows(test::feel_from(place_feel));
  const OpenedFeel copy = *opened; // what it refers to stays
  Session session = copy.play(60.0);
  session.press(*copy.control("c"));
  for (const double expected : rows.value) {
    session.advance(0.0);
    ASSERT_EQ(session.value(*copy.component("a")), expected);
  }
}

TEST(OpenedFeel, SaysWhatIsWrong) {
  const auto broken = OpenedFeel::from_text("broken.toml", "[channel.fov]\nrset = 1\n");
  ASSERT_FALSE(broken);
  EXPECT_NE(broken.error().find("broken.toml:2:1"), std::string::npos) << broken.error();
  const auto missing = OpenedFeel::open("/nowhere/at_all.toml");
  ASSERT_FALSE(missing);
  EXPECT_NE(missing.error().find("at_all.toml"), std::string::npos) << missing.error();
  const auto untaken = OpenedFeel::from_text("place.toml", place_feel, {"", "no_such_take"});
  ASSERT_FALSE(untaken);
  EXPECT_NE(untaken.error().find("no_such_take"), std::string::npos) << untaken.error();
  const auto other =
      OpenedFeel::from_text("main.toml", "include = [\"more.toml\"]\n[channel.a]\nrest = 0\nmotion = \"m\"\n", {},
                            {{"more.toml", "[motion.m]\nkind = \"glide\"\nhalf_life = 1\n"}});
  EXPECT_TRUE(other) << other.error();
}

std::vector<double> rows_of(Session session, const Feel& feel, const Take& take, double fps) {
  std::vector<double> rows;
  std::size_t next = 0;
  for (int frame = 0; frame < 120; ++frame) {
    for (; next < take.cues.size() && take.cues[next].at <= frame / fps; ++next) session.give(take.cues[next]);
    session.advance(0.0);
    for (std::size_t c = 0; c < feel.channels.size(); ++c)
      for (std::size_t i = 0; i < feel.channels[c].components; ++i) rows.push_back(session.value({c, i}));
  }
  return rows;
}

// Sessions on one feel share it, and nothing else: meant for the thread sanitizer (scripts/test-long).
TEST(OpenedFeel, SessionsMayBePlayedOnThreadsAtOnce) {
  int played = 0;
  for (std::uint64_t seed = 1; seed <= 40; ++seed) {
    const std::string text = test::FeelMaker(seed, {.tracks = seed % 2 == 0, .sequences = seed % 3 == 0}).make().text;
    const auto opened = OpenedFeel::from_text("made.toml", text);
    if (!opened) continue;
    const auto play = [&] { return rows_of(opened->play(60.0), opened->feel(), opened->surroundings(), 60.0); };
    const std::vector<double> alone = play();
    std::vector<double> found[2];
    std::thread other([&] { found[0] = play(); });
    found[1] = play();
    other.join();
    EXPECT_EQ(found[0], alone) << seed;
    EXPECT_EQ(found[1], alone) << seed;
    ++played;
  }
  EXPECT_GT(played, 30);
}

/// Two handles of the C interface: opened, played, changed and closed by a thread each.
TEST(OpenedFeel, HandlesOfTheLibraryAreApart) {
  const auto play = [] {
    const std::string text = test::FeelMaker(7).make().text;
    stasis_source source{};
    source.text = text.data();
    source.length = text.size();
    source.fps = 60.0;
    double sum = 0.0;
    for (int round = 0; round < 5; ++round) {
      stasis_session* const session = stasis_open(&source, nullptr);
      for (int frame = 0; frame < 90; ++frame) {
        if (frame == 10) stasis_press(session, 0, 0);
        if (frame == 40) stasis_free(stasis_measures(session));
        if (frame == 50) stasis_free(stasis_numbers(session));
        stasis_advance(session, 0.0);
        sum += stasis_value(session, 0, 0);
      }
      stasis_close(session);
    }
    return sum;
  };
  const double alone = play();
  double found = 0.0;
  std::thread other([&] { found = play(); });
  EXPECT_EQ(play(), alone);
  other.join();
  EXPECT_EQ(found, alone);
}

} // namespace
} // namespace stasis
