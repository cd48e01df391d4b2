// What a session is opened from: files that are given, rates of frames and subjects.
#include <cmath>
#include <limits>
#include <string>

#include <gtest/gtest.h>

#include "embed/opened_session.hpp"

namespace stasis {
namespace {

using test::Opened;
using test::source_of;
using test::taken;

TEST(EmbedSource, ASubjectOnATickMovesOnceATick) {
  const std::string text =
      "[track.t]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [3, 0, 0]\n[channel.a]\nrest = [0, 0, "
      "0]\nfollow = { track = \"t\" }\n[take.x]\nlength = 1\n";
  stasis_source source = source_of(text);
  source.tick = 20.0;
  const Opened session(stasis_open(&source, nullptr));
  ASSERT_NE(session, nullptr);
  stasis_record(session.get(), 1);
  for (int frame = 0; frame <= 60; ++frame) {
    stasis_advance(session.get(), 1.0 / 60.0);
    EXPECT_NEAR(stasis_goal_of(session.get(), 0, 0), 3.0 * std::floor(frame / 3.0 + 1e-6) / 20.0, 1e-9) << frame;
  }
  EXPECT_NE(taken(stasis_recorded_take(session.get(), "hands", nullptr)).find("clock = { fps = 60, tick = 20 }"),
            std::string::npos);
}

TEST(EmbedSource, RatesBeyondAllMeasureAreHeld) {
  const std::string text =
      "[track.t]\nkind = \"line\"\nfrom = 0\nvelocity = 3\n[channel.a]\nrest = 0\nfollow = { track = "
      "\"t\" }\n[take.x]\nlength = 1\n";
  constexpr double endless = std::numeric_limits<double>::infinity(),
                   no_number = std::numeric_limits<double>::quiet_NaN();
  for (const double rate : {endless, 1e300, 1e-300, no_number, -1.0})
    for (const bool ticks : {false, true}) {
      stasis_source source = source_of(text, ticks ? 0.0 : rate);
      if (ticks) source.tick = rate;
      const Opened session(stasis_open(&source, nullptr));
      ASSERT_NE(session, nullptr);
      for (int frame = 0; frame < 5; ++frame) stasis_advance(session.get(), 1.0 / 60.0);
      EXPECT_GT(stasis_time(session.get()), 0.0) << rate;
      EXPECT_TRUE(std::isfinite(stasis_value(session.get(), 0, 0))) << rate << (ticks ? " tick" : " fps");
    }
}

TEST(EmbedSource, AFileThatWasNotGivenIsNamed) {
  const std::string text = "feel = 1\ninclude = [\"rules.toml\"]\n[channel.a]\nrest = 0\nrange = [0, 1]\nmotion = "
                           "\"soft\"\n";
  stasis_source source = source_of(text);
  stasis_faults* faults = nullptr;
  EXPECT_EQ(stasis_open(&source, &faults), nullptr);
  ASSERT_EQ(stasis_fault_count(faults), 1u);
  EXPECT_NE(std::string(stasis_fault_at(faults, 0).message).find("rules.toml was not given"), std::string::npos);
  stasis_faults_free(faults);
  const std::string rules = "[motion.soft]\nkind = \"glide\"\nhalf_life = 0.1\n";
  const stasis_file file{"rules.toml", rules.data(), rules.size()};
  source.files = &file;
  source.file_count = 1;
  const Opened session(stasis_open(&source, nullptr));
  EXPECT_NE(session, nullptr);
}

} // namespace
} // namespace stasis
