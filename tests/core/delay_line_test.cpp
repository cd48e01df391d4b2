// Goals that move by themselves behind a delay: the same way, so much later.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/take/delay_line.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::feel_from;
using test::play_rows;
using test::Rows;

TEST(DelayLine, GivesTheWayInStraightPieces) {
  DelayLine line;
  line.add(0, 1);
  line.add(1, 3);
  line.add(1, 5); // a jump
  line.add(2, 5);
  std::vector<DelayLine::Piece> pieces;
  line.pieces(-1, -0.5, pieces);
  ASSERT_EQ(pieces.size(), 1u);
  EXPECT_EQ(pieces[0].goal.start, 1.0);
  EXPECT_EQ(pieces[0].goal.end, 1.0);
  line.pieces(0.5, 1.5, pieces);
  ASSERT_EQ(pieces.size(), 2u);
  EXPECT_EQ(pieces[0].goal.start, 2.0);
  EXPECT_EQ(pieces[0].goal.end, 3.0);
  EXPECT_EQ(pieces[0].length, 0.5);
  EXPECT_EQ(pieces[1].goal.start, 5.0);
  EXPECT_EQ(pieces[1].goal.end, 5.0);
  line.pieces(0.5, 1.0, pieces); // up to the jump, and not beyond
  ASSERT_EQ(pieces.size(), 1u);
  EXPECT_EQ(pieces[0].goal.end, 3.0);
  line.pieces(1.0, 1.25, pieces); // from the jump on
  EXPECT_EQ(pieces[0].goal.start, 5.0);
  line.pieces(-0.5, 0.5, pieces);
  ASSERT_EQ(pieces.size(), 2u);
  EXPECT_EQ(pieces[0].goal.end, 1.0);
  EXPECT_EQ(pieces[1].goal.end, 2.0);
}

TEST(DelayLine, KnowsWhereItIsAndSinceWhenItStands) {
  DelayLine line;
  EXPECT_EQ(line.stands_since(), -std::numeric_limits<double>::infinity());
  for (const auto& [time, goal] : {std::pair{0.0, 1.0}, {1.0, 1.0}, {1.0, 3.0}, {2.0, 5.0}, {3.0, 5.0}})
    line.add(time, goal);
  EXPECT_EQ(line.at(-1.0), 1.0);
  EXPECT_EQ(line.at(1.0), 3.0); // after the jump
  EXPECT_EQ(line.at(1.5), 4.0);
  EXPECT_EQ(line.at(9.0), 5.0);
  EXPECT_EQ(line.stands_since(), 2.0);
  line.forget(2.9); // since when it stands is kept, though the point has gone
  EXPECT_EQ(line.stands_since(), 2.0);
  line.begin_anew(4.0, 2.0);
  EXPECT_EQ(line.at(1.0), 2.0);
  EXPECT_EQ(line.stands_since(), -std::numeric_limits<double>::infinity());
}

TEST(DelayLine, ForgetsWhatIsOver) {
  DelayLine line;
  for (int k = 0; k <= 1000; ++k) {
    line.add(k, k * 2.0);
    line.forget(k - 3.0);
  }
  std::vector<DelayLine::Piece> pieces;
  line.pieces(998.5, 999.5, pieces);
  ASSERT_EQ(pieces.size(), 2u);
  EXPECT_EQ(pieces[0].goal.start, 1997.0);
  EXPECT_EQ(pieces[1].goal.end, 1999.0);
}

struct Led {
  const char *name, *top, *channel, *take;
};
/// Whatever leads a channel: a formula, a track that turns and jumps, a stick.
const Led led_by[] = {
    {"formula", "", "formula = \"sin(3 * time) + 0.2 * time\"\n", ""},
    {"track", "[track.t]\nkind = \"stop_and_go\"\nfrom = 0\nvelocity = 2\ngo = 0.37\nstop = 0.4\n", "follow = \"t\"\n",
     ""},
    {"steps", "[track.t]\nkind = \"steps\"\nplaces = [[0], [3], [1]]\nevery = 0.5\n", "follow = \"t\"\n", ""},
    {"stick", "[control.s]\nkind = \"stick\"\nchannel = \"a\"\ngain = 2\nspin_up = 0.2\n", "",
     "cues = [{ at = 0.5, stick = \"s\", value = 1, for = 0.7 }]\n"},
};

Rows led(const Led& by, const std::string& motion, const std::string& clock = "fps = 60") {
  return play_rows(
      feel_from(fmt::format("{}[channel.a]\nrest = 0\nmotion = {{ {} }}\n{}[take.x]\nlength = 3\nclock = {{ {} }}\n{}",
                            by.top, motion, by.channel, clock, by.take)));
}

TEST(Delay, IsTheSameWaySoMuchLater) {
  for (const Led& by : led_by)
    for (const auto& [plain, delayed] :
         {std::pair{"kind = \"cut\"", "kind = \"delay\", delay = 0.25"},
          std::pair{"kind = \"glide\", rate = 5",
                    "kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.25 }, { kind = \"glide\", rate = 5 }]"},
          std::pair{"kind = \"spring\", frequency = 2, damping_ratio = 0.4",
                    "kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.25 }, { kind = \"spring\", frequency = "
                    "2, damping_ratio = 0.4 }]"}}) {
      const Rows now = led(by, plain), later = led(by, delayed);
      for (std::size_t k = 16; k < now.smooth.size(); ++k)
        EXPECT_NEAR(later.smooth[k], now.smooth[k - 15], 1e-9) << by.name << ' ' << delayed << ' ' << k;
      EXPECT_EQ(now.goal, later.goal) << by.name;
    }
}

/// Waiting for a time that is no whole number of frames splits them, and changes nothing else.
TEST(Delay, MayBeAnyTime) {
  const std::string motion = "kind = \"stages\", stages = [{ kind = \"delay\", delay = 0.137 }, { kind = \"spring\", "
                             "frequency = 2, damping_ratio = 0.6 }]";
  const Rows coarse = led(led_by[1], motion, "fps = 30"), fine = led(led_by[1], motion, "fps = 300");
  for (std::size_t k = 0; k < coarse.smooth.size(); ++k) EXPECT_NEAR(coarse.smooth[k], fine.smooth[10 * k], 1e-10) << k;
}

TEST(Delay, AnEasedMoveThatWaitsIsRefusedForSuchGoals) {
  const std::string text = "[channel.a]\nrest = 0\nmotion = { kind = \"stages\", stages = [{ kind = \"delay\", delay = "
                           "0.2 }, { kind = \"ease\", duration = 1 }] }\n";
  EXPECT_EQ(test::problems_of(text + "formula = \"time\"\n").at(0).code, "feel.delayed_formula");
  EXPECT_EQ(test::problems_of(text + "[control.s]\nkind = \"stick\"\nchannel = \"a\"\n").at(0).code,
            "feel.delayed_formula");
  EXPECT_TRUE(test::problems_of(text).empty());
}

} // namespace
} // namespace stasis
