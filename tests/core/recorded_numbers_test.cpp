// What random feels and the feels of the demo did when it was last looked at, in a few sums each: whoever changes an
// answer learns of it here, and in which feel. Nothing says that the numbers are right; the other tests do that.
//
// To record again, after scripts/same-as has shown what changes and the changelog says why:
// STASIS_RECORD=tests/data/recorded/numbers.txt core_test --gtest_filter=RecordedNumbers.*
#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <map>
#include <sstream>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/check/known_names.hpp"
#include "core/check/warning.hpp"
#include "core/explain/explain.hpp"
#include "core/feel/compose.hpp"
#include "core/feel/goal_source.hpp"
#include "core/feel/read_feel.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/measure/rate_causes.hpp"
#include "core/take/player.hpp"
#include "io/feel_files.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

/// RecordedSums in which every number counts, by a weight of its own, so that two that are exchanged are noticed.
class RecordedSum {
public:
  void add(double value) {
    ++count_;
    state_ = state_ * 6364136223846793005ull + 1442695040888963407ull;
    const double weight = 0.5 + static_cast<double>(state_ >> 11) * 0x1p-53;
    if (std::isfinite(value))
      sum_ += weight * std::asinh(value);
    else
      sum_ += 7.0 * weight;
  }
  void add(const std::optional<double>& value) { value ? add(*value) : add(-3.0); }
  double total() const { return sum_; }
  double scale() const { return std::sqrt(static_cast<double>(count_) + 1.0); }

private:
  std::uint64_t state_ = 1;
  double sum_ = 0.0;
  std::int64_t count_ = 0;
};

struct RecordedSums {
  RecordedSum rows, speeds, moves, channels, shakes;
};

class RecordedSumSink final : public BlockSink {
public:
  explicit RecordedSumSink(RecordedSums& sums) : sums_(sums) {}
  void begin(const Scene& scene) override { feel_ = scene.feel; }
  void consume(const Block& block) override {
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row)
      for (std::size_t c = 0; c < feel_->channels.size(); ++c)
        for (std::size_t i = 0; i < feel_->channels[c].components; ++i) {
          const ComponentBlock& column = block.channels[c].component[i];
          sums_.rows.add(column.goal_at(row));
          sums_.rows.add(column.value[row]);
          sums_.speeds.add(column.velocity[row]);
        }
    for (const auto& eye : block.eye)
      for (const double one : eye) sums_.rows.add(one);
  }
  void end() override {}

private:
  RecordedSums& sums_;
  const Feel* feel_ = nullptr;
};

RecordedSums sums_of(const Feel& feel, const Take& take) {
  RecordedSums sums;
  RecordedSumSink rows(sums);
  MeasureSink measuring;
  BlockSink* const sinks[] = {&rows, &measuring};
  const TakeMeasures measures = measuring.take(play({&feel, &take, clock_of(take)}, sinks));
  for (const Move& move : measures.moves) {
    for (const MoveMeasure& one : move_measures()) sums.moves.add(move.*one.value);
    for (const double value : {move.start, move.end, move.from[0], move.to[0], move.retargeted ? 1.0 : 0.0})
      sums.moves.add(value);
  }
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    for (const std::string& name : channel_measure_names(feel.channels[c]))
      sums.channels.add(channel_measure(feel, measures, c, name));
  for (std::size_t s = 0; s < feel.shakes.size(); ++s)
    for (const std::string& name : shake_measure_names(feel, s))
      sums.shakes.add(shake_measure(feel, measures, s, name));
  sums.channels.add(static_cast<double>(measures.notes.size()));
  for (const auto& warnings : {warnings_of_feel(feel), warnings_of_take(feel, take, measures)})
    for (const Warning& one : warnings)
      for (const char letter : one.code) sums.channels.add(letter);
  if (!feel.motions.empty()) {
    const MotionAccount motion = account_of("m", feel.motions[0].motion);
    for (const auto& value : {motion.step.settling_time, motion.step.overshoot, motion.step.to_90, motion.lag})
      sums.channels.add(value);
    for (const Sway& sway : motion.sways)
      for (const double value : {sway.passes, sway.late}) sums.channels.add(value);
  }
  sums.channels.add(has_curved_goals(feel, take) ? 1.0 : 0.0);
  return sums;
}

/// The feels that the program unpacks, and the recipes, in one order.
std::vector<std::string> feels_of_the_demo() {
  std::vector<std::string> paths;
  for (const char* folder : {STASIS_SOURCE "/demo", STASIS_SOURCE "/demo/recipes"})
    for (const auto& entry : std::filesystem::directory_iterator(folder))
      if (entry.path().extension() == ".toml") paths.push_back(entry.path().string());
  std::sort(paths.begin(), paths.end());
  return paths;
}

/// Every take that is recorded, by a name for it.
template<class Visit> void for_each_take(Visit visit) {
  for (std::uint64_t seed = 1; seed <= 700; ++seed) {
    test::FeelMaker maker(seed, {.rules_of_frames = seed % 4 == 0,
                                 .switches = seed % 3 == 0,
                                 .sticks = seed % 2 == 0,
                                 .sequences = seed > 400 && seed % 2 == 1});
    const char* const clocks[] = {"fps = 60", "fps = 24, jitter = 0.3", "fps = 90, stalls = [[0.6, 0.2]]", "fps = 12"};
    const std::string text = maker.make().text + fmt::format("clock = {{ {} }}\n", clocks[seed % 4]);
    if (!test::problems_of(text).empty()) continue; // a stick has met a motion that it cannot move
    const Feel feel = test::feel_from(text);
    visit(fmt::format("random.{}", seed), feel, feel.takes[0]);
  }
  for (const std::string& path : feels_of_the_demo()) {
    std::vector<Source> sources;
    auto document = io::read_feel_files({path}, sources);
    ASSERT_TRUE(document && resolve_settings(*document)) << path;
    const Feel feel = *read_feel(*document, all_known_names);
    const std::string name = std::filesystem::path(path).stem().string();
    for (const Take& take : feel.takes) visit(fmt::format("{}.{}", name, take.name), feel, take);
  }
}

TEST(RecordedNumbers, AreWhatTheyWere) {
  const char* const record = std::getenv("STASIS_RECORD");
  std::map<std::string, std::vector<double>> recorded;
  std::ifstream file(STASIS_SOURCE "/tests/data/recorded/numbers.txt");
  for (std::string line; std::getline(file, line);) {
    std::istringstream words(line);
    std::string name;
    words >> name;
    for (double value = 0.0; words >> value;) recorded[name].push_back(value);
  }
  std::ofstream out;
  if (record != nullptr) out.open(record);
  int count = 0;
  for_each_take([&](const std::string& name, const Feel& feel, const Take& take) {
    const RecordedSums sums = sums_of(feel, take);
    ++count;
    const RecordedSum* const all[] = {&sums.rows, &sums.speeds, &sums.moves, &sums.channels, &sums.shakes};
    if (record != nullptr) {
      out << name;
      for (const RecordedSum* one : all) out << fmt::format(" {:.12g}", one->total());
      out << '\n';
      return;
    }
    const auto expected = recorded.find(name);
    ASSERT_NE(expected, recorded.end()) << name;
    const char* const words[] = {"goals and values", "velocities", "moves", "channels", "shakes"};
    for (std::size_t k = 0; k < std::size(all); ++k)
      EXPECT_NEAR(all[k]->total(), expected->second.at(k), 1e-8 * all[k]->scale()) << name << ": " << words[k];
  });
  EXPECT_GT(count, 300);
}

} // namespace
} // namespace stasis
