// A feel played by hand: the rows of a take, to the bit; to go back, and on again.
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <random>

#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "core/take/session.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"
#include "support/random_inputs.hpp"
#include "support/random_views.hpp"

namespace stasis {
namespace {

/// All numbers of a row, in a fixed order.
std::vector<double> numbers_of(const Feel& feel, const Block& block, std::size_t row) {
  std::vector<double> out;
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    for (std::size_t i = 0; i < feel.channels[c].components; ++i) {
      const ComponentBlock& column = block.channels[c].component[i];
      out.insert(out.end(), {column.goal_at(row), column.smooth[row], column.value[row], column.velocity[row]});
    }
    out.push_back(static_cast<double>(block.channels[c].track));
  }
  for (const ShakeBlock& shake : block.shakes) out.push_back(shake.is_felt ? shake.amplitude[row] : 0.0);
  for (const auto& eye : block.eye)
    if (!eye.empty()) out.push_back(eye[row]);
  for (const std::uint8_t down : block.control_down) out.push_back(down);
  for (const std::uint8_t in : block.switches) out.push_back(in);
  return out;
}

class RowSink final : public BlockSink {
public:
  void begin(const Scene& scene) override { feel_ = scene.feel; }
  void consume(const Block& block) override {
    for (std::int64_t row = 0; row < block.count; ++row)
      rows.push_back(numbers_of(*feel_, block, static_cast<std::size_t>(row)));
  }
  void end() override {}
  std::vector<std::vector<double>> rows;

private:
  const Feel* feel_ = nullptr;
};

bool same_bits(const std::vector<double>& a, const std::vector<double>& b) {
  return a.size() == b.size() && (a.empty() || std::memcmp(a.data(), b.data(), a.size() * sizeof(double)) == 0);
}

/// Gives a session the cues of a take, each before the frame at which it is due.
class Hands {
public:
  Hands(const Take& take, const Clock& clock) : take_(&take), clock_(&clock) {}

  void go_on(Session& session) {
    const std::int64_t frame = session.frame() + 1;
    for (; next_ < take_->cues.size() && due_frame(*clock_, take_->cues[next_].at) <= frame; ++next_)
      session.give(take_->cues[next_]);
    session.advance_to(clock_->time(frame));
  }

private:
  const Take* take_;
  const Clock* clock_;
  std::size_t next_ = 0;
};

Session session_on(const Feel& feel, const Take& take, const Clock& clock) {
  return clock.is_steady() ? Session(feel, take, clock.fps) : Session(feel, take);
}

/// A clock that trembles and stalls, or a steady one.
Clock some_clock(std::mt19937_64& random, double length) {
  const double rates[] = {24.0, 30.0, 48.0, 60.0, 90.0, 144.0};
  const double fps = rates[random() % 6];
  if (random() % 3 == 0) return steady_clock(fps, length);
  std::vector<double> times{0.0};
  while (times.back() <= length)
    times.push_back(times.back()
                    + (random() % 40 == 0 ? 0.3 : 0.6 + 0.001 * static_cast<double>(random() % 800)) / fps);
  return clock_at(fps, std::move(times));
}

struct Case {
  std::string text;
  Feel feel;
  Clock clock;
};

std::optional<Case> some_case(std::uint64_t seed) {
  std::mt19937_64 random(seed);
  test::FeelKinds kinds{
      .rules_of_frames = random() % 3 == 0, .switches = random() % 3 == 0, .sticks = random() % 2 == 0};
  kinds.sequences = seed % 3 == 0 && !kinds.rules_of_frames;
  test::FeelMaker maker(seed, kinds);
  const test::RandomFeel made = maker.make();
  if (!test::problems_of(made.text).empty()) return std::nullopt; // a stick has met a motion that it cannot move
  return Case{made.text, test::feel_from(made.text), some_clock(random, made.length)};
}

int number_of(const char* name, int usual) {
  const char* const asked = std::getenv(name);
  return asked != nullptr ? std::atoi(asked) : usual;
}

// Rule F13.
TEST(Session, PlaysTheRowsOfATakeToTheBit) {
  int played = 0;
  const int all = number_of("STASIS_RANDOM_FEELS", 200), first = number_of("STASIS_RANDOM_SEED", 1);
  for (int n = first; n < first + all; ++n) {
    const auto seed = static_cast<std::uint64_t>(n);
    const auto one = some_case(seed);
    if (!one) continue;
    const Take& take = one->feel.takes[0];
    RowSink rows;
    BlockSink* const sinks[] = {&rows};
    play({&one->feel, &take, one->clock}, sinks);
    Session session = session_on(one->feel, take, one->clock);
    Hands hands(take, one->clock);
    hands.go_on(session);
    for (std::int64_t frame = 0; frame < one->clock.frames; ++frame) {
      hands.go_on(session);
      const auto now = numbers_of(one->feel, *session.frame_before(), 0);
      const auto& expected = rows.rows[static_cast<std::size_t>(frame)];
      if (same_bits(now, expected)) continue;
      std::size_t k = 0;
      while (k < now.size() && same_bits({now[k]}, {expected[k]})) ++k;
      ADD_FAILURE() << "seed " << seed << ", frame " << frame << ": number " << k << " of " << now.size() << ": "
                    << ::testing::PrintToString(now[k]) << " for " << ::testing::PrintToString(expected[k])
                    << (std::getenv("STASIS_SHOW") != nullptr ? "\n" + one->text : "");
      break;
    }
    ++played;
  }
  EXPECT_GT(played, all / 2);
}

/// Plays random feels of a kind as takes and by hand.
void expect_same_by_hand(std::string (*feel_of)(std::uint64_t), int count) {
  int played = 0;
  for (std::uint64_t seed = 1; played < count; ++seed) {
    ASSERT_LT(seed, 40u * static_cast<unsigned>(count));
    const std::string text = feel_of(seed);
    // A hand that slows the game tells so in time of its own.
    if (text.find("game_speed") != std::string::npos || !test::problems_of(text).empty()) continue;
    const Feel feel = test::feel_from(text);
    const Take& take = feel.takes[0];
    const Clock clock = clock_of(take);
    RowSink rows;
    BlockSink* const sinks[] = {&rows};
    play({&feel, &take, clock}, sinks);
    Session session = session_on(feel, take, clock);
    Hands hands(take, clock);
    hands.go_on(session);
    std::int64_t same = 0;
    for (; same < clock.frames; ++same) {
      hands.go_on(session);
      if (!same_bits(numbers_of(feel, *session.frame_before(), 0), rows.rows[static_cast<std::size_t>(same)])) break;
    }
    EXPECT_EQ(same, clock.frames) << seed << "\n" << text;
    ++played;
  }
}

// Rule F13.
TEST(Session, PlaysEveryInputToTheBit) {
  expect_same_by_hand(test::feel_of_inputs, number_of("STASIS_RANDOM_FEELS", 100));
}
TEST(Session, PlaysEveryViewToTheBit) {
  expect_same_by_hand(test::feel_of_views, number_of("STASIS_RANDOM_FEELS", 250));
}
// A view from a place with a way of its own, towards what is followed in its axes.
TEST(Session, PlaysEveryViewFromAPlaceToTheBit) {
  expect_same_by_hand(
      [](std::uint64_t seed) {
        std::string text = test::feel_of_views(100 * seed);
        const auto replace = [&](const std::string& from, const std::string& to) {
          const std::size_t at = text.find(from);
          if (at != std::string::npos) text.replace(at, from.size(), to);
          return at != std::string::npos;
        };
        if (!replace("placed = true\n", "follow = { track = \"v\", offset = [3, 2, 1] }\n")) return std::string("none");
        if (seed % 2 == 0) return text;
        for (const char* const turns : {"yaw = \"yaw\"\n", "pitch = \"pitch\"\n", "distance = \"distance\"\n"})
          replace(turns, "");
        return text;
      },
      8);
}

TEST(Session, GoesOnFromWhereItWasSavedAsItDidBefore) {
  for (std::uint64_t seed = 1001; seed <= 1100; ++seed) {
    const auto one = some_case(seed);
    if (!one) continue;
    const Take& take = one->feel.takes[0];
    const auto middle = static_cast<std::int64_t>(seed * 7919 % static_cast<std::uint64_t>(one->clock.frames));
    Session session = session_on(one->feel, take, one->clock);
    Hands hands(take, one->clock);
    for (std::int64_t frame = 0; frame <= middle; ++frame) hands.go_on(session);
    const auto saved = session.save();
    const Hands then = hands;
    const auto play_on = [&] {
      std::vector<std::vector<double>> rows;
      for (std::int64_t frame = middle + 1; frame < one->clock.frames; ++frame) {
        hands.go_on(session);
        rows.push_back(numbers_of(one->feel, *session.frame_before(), 0));
      }
      return rows;
    };
    const auto first = play_on();
    session.restore(*saved);
    hands = then;
    const auto again = play_on();
    ASSERT_EQ(first.size(), again.size());
    for (std::size_t row = 0; row < first.size(); ++row)
      ASSERT_TRUE(same_bits(first[row], again[row])) << "seed " << seed << ", row " << row << " after " << middle;
  }
}

TEST(Session, IsSlowedAsATakeIsAndBackAsItWas) {
  const Feel feel = test::feel_from(
      "[channel.a]\nrest = 0\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 0.5 }\n[channel.b]\nrest = "
      "0\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 0.5 }\nruns_on = \"clock\"\n[pose.p]\na = 1\nb "
      "= "
      "1\n[control.p]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 4\nclock = { fps = 64 }\ncues = [{ at = 0.5, "
      "press = \"p\" }, { at = 0.25, game_speed = 0.2, over = 0.5 }, { at = 2, game_speed = 3 }]\n");
  const Take& take = feel.takes[0];
  const Clock clock = disturbed_clock(take.fps, take.length, take.disturbance);
  test::RowSink a(0, 0), b(1, 0);
  BlockSink* const sinks[] = {&a, &b};
  play({&feel, &take, clock}, sinks);
  Session session(feel, take);
  const auto play_from = [&](std::int64_t first) {
    for (std::int64_t frame = first; frame < clock.frames; ++frame) {
      if (frame == 32) session.press(0);
      session.advance_to(clock.drawn_time(frame));
      if (session.time() == 0.25) session.change_game_speed(0.2, 0.5);
      if (session.time() == 2.0) session.change_game_speed(3.0);
      const auto row = static_cast<std::size_t>(frame);
      ASSERT_EQ(session.game_time(), clock.time(frame)) << frame;
      ASSERT_EQ(session.value({0, 0}), a.rows.value[row]) << frame;
      ASSERT_EQ(session.value({1, 0}), b.rows.value[row]) << frame;
      if (frame == 80) break;
    }
  };
  play_from(0);
  const auto saved = session.save();
  play_from(81);
  session.restore(*saved);
  play_from(81);
}

TEST(Session, TellsAFrameBeforeItGoesOn) {
  const Feel feel = test::feel_from(test::step_feel("kind = \"glide\", half_life = 0.2", 10, 2));
  Session session(feel, feel.takes[0]);
  EXPECT_EQ(session.frame(), -1);
  session.advance(5.0);
  EXPECT_EQ(session.time(), 0.0);
  EXPECT_EQ(session.frame_before(), nullptr);
  session.press(0);
  session.advance(0.1);
  EXPECT_EQ(session.goal({0, 0}), 1.0);
  EXPECT_EQ(session.smooth({0, 0}), 0.0);
  EXPECT_TRUE(session.is_down(0));
  session.advance(0.2);
  EXPECT_NEAR(session.value({0, 0}), 0.5, 1e-15);
  EXPECT_NEAR(session.velocity({0, 0}), 0.5 * std::log(2.0) / 0.2, 1e-12);
  session.press(0);
  session.advance(0.1);
  EXPECT_EQ(session.take_notes().size(), 1u);
}

} // namespace
} // namespace stasis
