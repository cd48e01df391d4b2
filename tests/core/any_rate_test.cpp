// A feel is the same at every frame rate: paths at shared instants, and what is measured on them.
#include <cmath>
#include <cstdlib>
#include <map>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/measure/channel_measures.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/measure/shake_measure_names.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

using test::FeelMaker;
using test::RandomFeel;

/// Frames at a rate, with jitter and a stall, that begin exactly at each of the shared instants.
Clock clock_through(const std::vector<double>& shared, double fps, std::uint64_t seed) {
  std::mt19937_64 random(seed);
  const auto share = [&] { return static_cast<double>(random() >> 11) * 0x1p-53; };
  std::vector<double> times{0.0};
  for (const double next : shared) {
    if (next <= 0.0) continue;
    // Now and then a stretch is one long frame.
    while (random() % 7 != 0) {
      const double time = times.back() + (0.6 + 0.8 * share()) / fps;
      if (time >= next - 1e-6) break;
      times.push_back(time);
    }
    times.push_back(next);
  }
  times.push_back(times.back() + 1.0 / fps);
  return clock_at(fps, std::move(times));
}

struct Played {
  std::map<double, std::vector<double>> rows; ///< smoothed values and shakes at the shared instants
  TakeMeasures measures;
};

/// Keeps rows at some instants.
class InstantSink final : public BlockSink {
public:
  InstantSink(const std::vector<double>& instants, std::map<double, std::vector<double>>& rows)
      : instants_(instants.begin(), instants.end()), rows_(rows) {}
  void begin(const Scene& scene) override { scene_ = scene; }
  void consume(const Block& block) override {
    for (std::int64_t i = 0; i < block.count; ++i) {
      const double time = scene_.clock.time(block.first + i);
      if (!std::binary_search(instants_.begin(), instants_.end(), time)) continue;
      const auto row = static_cast<std::size_t>(i);
      for (std::size_t c = 0; c < block.channels.size(); ++c)
        for (std::size_t k = 0; k < scene_.feel->channels[c].components; ++k) {
          rows_[time].push_back(block.channels[c].component[k].smooth[row]);
          rows_[time].push_back(block.channels[c].component[k].value[row]);
        }
    }
  }
  void end() override {}

private:
  std::vector<double> instants_;
  std::map<double, std::vector<double>>& rows_;
  Scene scene_;
};

Played play_on(const Feel& feel, const Clock& clock, const std::vector<double>& shared) {
  Played played;
  InstantSink rows(shared, played.rows);
  MeasureSink measures;
  BlockSink* const sinks[] = {&rows, &measures};
  auto notes = play({&feel, &feel.takes[0], clock}, sinks);
  played.measures = measures.take(std::move(notes));
  return played;
}

using Named = std::map<std::string, std::optional<double>>;

/// What by its nature counts frames, or what lies between them: see docs/measures.md.
bool counts_frames(const std::string& name) {
  return name.find("judder") != std::string::npos || name.find("_frames") != std::string::npos
         || name.find("folded") != std::string::npos;
}

Named named(const Feel& feel, const TakeMeasures& measures) {
  Named out;
  const auto keep = [&](const std::string& name, const std::optional<double>& value) {
    if (!counts_frames(name)) out[name] = value;
  };
  for (std::size_t m = 0; m < measures.moves.size(); ++m) {
    const Move& move = measures.moves[m];
    const std::string head = fmt::format("move {} of {}: ", m, feel.channels[move.channel].name);
    for (const MoveMeasure& one : move_measures()) keep(head + std::string(one.name), move.*one.value);
    keep(head + "start", move.start);
    keep(head + "end", move.end);
    keep(head + "from", move.from[0]);
    keep(head + "to", move.to[0]);
    keep(head + "retargeted", move.retargeted ? 1.0 : 0.0);
  }
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    for (const std::string& name : channel_measure_names(feel.channels[c]))
      // Beside a place without a bound it is what is drawn on a frame.
      if (name != "top_speed" || !measures.channels[c].path.unbounded_speed)
        keep(feel.channels[c].name + "." + name, channel_measure(feel, measures, c, name));
  for (std::size_t s = 0; s < feel.shakes.size(); ++s)
    for (const std::string& name : shake_measure_names(feel, s))
      keep(feel.shakes[s].name + "." + name, shake_measure(feel, measures, s, name));
  return out;
}

/// The size of what a number is counted in, for those that are nearly nothing.
double floor_of(const std::string& name) { return name.find("acceleration") != std::string::npos ? 1.0 : 0.1; }

/// Within which share a number is the same: what is looked for among a few places of a stretch is told less exactly.
double precision_of(const std::string& name) {
  if (name.ends_with(".top_jerk")) return 1e-2;
  if (name.ends_with(".top_acceleration")) return 5e-3;
  if (name.ends_with(".travelled") || name.ends_with(".moving_time")) return 2e-3;
  return 1e-6;
}

int feels_to_try(int usual) {
  const char* const asked = std::getenv("STASIS_RANDOM_FEELS");
  return asked != nullptr ? std::atoi(asked) : usual;
}
std::uint64_t first_seed() {
  const char* const asked = std::getenv("STASIS_RANDOM_SEED");
  return asked != nullptr ? std::strtoull(asked, nullptr, 10) : 1;
}

/// \param found seeds that once failed, tried as well.
void expect_the_same_at_any_rate(const test::FeelKinds& kinds, int usual,
                                 const std::vector<std::uint64_t>& found = {}) {
  std::vector<std::uint64_t> seeds = found;
  for (int n = 0; n < feels_to_try(usual); ++n) seeds.push_back(first_seed() + static_cast<std::uint64_t>(n));
  for (const std::uint64_t seed : seeds) {
    FeelMaker maker(seed, kinds);
    const RandomFeel made = maker.make();
    const Feel feel = test::feel_from(made.text);
    ASSERT_FALSE(feel.takes.empty()) << made.text;
    std::vector<double> shared = made.cue_times;
    for (double at = 0.0; at < made.length; at += 0.25) shared.push_back(at);
    shared.push_back(made.length);
    std::sort(shared.begin(), shared.end());
    shared.erase(std::unique(shared.begin(), shared.end(), [](double a, double b) { return b - a < 1e-9; }),
                 shared.end());
    const double rates[] = {1000.0, 12.0, 15.0, 24.0, 30.0, 50.0, 60.0, 144.0, 240.0, 500.0};
    std::optional<Played> finest;
    Named expected;
    int told = 0;
    for (const double fps : rates) {
      const Played now =
          play_on(feel, clock_through(shared, fps, seed * 100 + static_cast<std::uint64_t>(fps)), shared);
      if (!finest) {
        expected = named(feel, now.measures);
        finest = now;
        continue;
      }
      const std::string what = fmt::format("seed {} at {} fps", seed, fps);
      for (const auto& [time, values] : finest->rows) {
        const auto& here = now.rows.at(time);
        for (std::size_t k = 0; k < values.size(); ++k)
          if (!(std::fabs(here[k] - values[k]) <= 1e-9 * std::max(1.0, std::fabs(values[k])))) {
            if (told++ < 6)
              ADD_FAILURE() << what << ": value " << k << " at " << time
                            << " s: " << fmt::format("{} for {}", here[k], values[k]);
            break;
          }
      }
      const Named measured = named(feel, now.measures);
      for (const auto& [name, value] : expected) {
        const auto here = measured.find(name);
        const bool is_there = here != measured.end() && here->second.has_value() == value.has_value();
        const bool alike =
            is_there
            && (!value
                || std::fabs(*here->second - *value)
                       <= precision_of(name) * std::max({floor_of(name), std::fabs(*here->second), std::fabs(*value)}));
        if (!alike && told++ < 12)
          ADD_FAILURE() << what << ": " << name << ": "
                        << (here != measured.end() && here->second ? fmt::format("{}", *here->second) : "none")
                        << " for " << (value ? fmt::format("{}", *value) : "none");
      }
      if (measured.size() != expected.size() && told++ < 12)
        ADD_FAILURE() << what << ": " << measured.size() << " measures for " << expected.size();
    }
    if (told > 0 && std::getenv("STASIS_SHOW") != nullptr) ADD_FAILURE() << made.text;
  }
}

// Rule F4.
TEST(AnyRate, MovesAreTheSame) { expect_the_same_at_any_rate({.tracks = false, .shakes = false}, 50); }
TEST(AnyRate, FollowersAreTheSame) {
  constexpr std::uint64_t runs_on_within_a_frame = 81029; // just after an over-damped spring has come into its band
  expect_the_same_at_any_rate({.shakes = false}, 60, {runs_on_within_a_frame});
}
TEST(AnyRate, ShakesAreTheSame) {
  // Speeds of rounding in long frames; a part of a pace that is there by rounding only; swings between frames at which
  // the range holds both ends.
  expect_the_same_at_any_rate({}, 25, {77, 92, 116, 185, 187, 260, 269, 361});
}

} // namespace
} // namespace stasis
