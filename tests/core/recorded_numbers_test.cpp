// What random feels and the feels of the demo did when it was last looked at, in a few sums each: whoever changes an
// answer learns of it here, and in which feel. Nothing says that the numbers are right; the other tests do that.
//
// To record again, after scripts/same-as has shown what changes and the changelog says why:
// STASIS_RECORD=tests/data/recorded/numbers.txt core_test --gtest_filter=RecordedNumbers.*
#include <algorithm>
#include <array>
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
#include "core/measure/camera_measures.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/comparison.hpp"
#include "core/measure/frame_rates.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/measure/rate_causes.hpp"
#include "core/measure/tick_study.hpp"
#include "core/take/player.hpp"
#include "core/view/obstacle_plan.hpp"
#include "io/feel_files.hpp"
#include "support/feels.hpp"
#include "support/random_feels.hpp"
#include "support/random_inputs.hpp"
#include "support/random_views.hpp"

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
  RecordedSum rows, speeds, moves, channels, shakes, inside, camera, studies;
  /// In the order in which they are recorded, each with what it is called.
  std::array<std::pair<const char*, const RecordedSum*>, 8> all() const {
    return {{{"goals and values", &rows},
             {"velocities", &speeds},
             {"moves", &moves},
             {"channels", &channels},
             {"shakes", &shakes},
             {"inside frames", &inside},
             {"camera, switches, sequences", &camera},
             {"rates, comparisons, ticks", &studies}}};
  }
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
    for (std::size_t c = 0; c < feel_->channels.size(); ++c)
      add_inside(block.channels[c], feel_->channels[c].components);
    for (const TrackBlock& track : block.tracks) {
      for (const auto& column : track.place) add_all(column);
      add_all(track.facing);
      add_all(track.lost);
    }
    for (const auto& place : block.screen)
      for (const auto& column : place) add_all(column);
    for (const ShakeBlock& shake : block.shakes) {
      add_all(shake.amplitude);
      for (const auto& part : shake.parts) add_all(part);
    }
    for (const auto* one : {&block.control_down, &block.pushed, &block.switches}) add_all(*one);
    add_all(block.control_state);
    add_all(block.lost_presses);
    add_all(block.runs_to_end);
  }
  void end() override {}

private:
  template<class Numbers> void add_all(const Numbers& numbers) {
    for (const auto one : numbers) sums_.inside.add(static_cast<double>(one));
  }

  /// What rows do not show: wishes, corners between frames, what stages hold, what is in the way.
  void add_inside(const ChannelBlock& channel, std::size_t components) {
    for (std::size_t i = 0; i < components; ++i) {
      const ComponentBlock& column = channel.component[i];
      for (const auto* one : {&column.state, &column.rate, &column.smooth, &column.wishes, &column.goal_states,
                              &column.free_wishes, &column.remainders, &column.shifts})
        add_all(*one);
      for (const double one :
           {column.wish, column.goal_state, column.acting_state, column.rate_before, column.arrived ? 1.0 : 0.0,
            column.drawn ? 1.0 : 0.0, static_cast<double>(column.motion)})
        sums_.inside.add(one);
      for (const ComponentBlock::Knot& knot : column.knots)
        for (const double one : {static_cast<double>(knot.row), knot.at, knot.wish, knot.goal, knot.goal_state})
          sums_.inside.add(one);
      for (const FramePiece& piece : column.pieces)
        for (const double one : {static_cast<double>(piece.row), piece.from, piece.dt, piece.state.value,
                                 piece.goal.start, piece.goal.end, piece.end_value, piece.end_velocity})
          sums_.inside.add(one);
    }
    add_all(channel.hits);
    add_all(channel.ceilings);
    for (const double one : {channel.moved ? 1.0 : 0.0, channel.turned ? 1.0 : 0.0,
                             static_cast<double>(channel.unseen_clicks), static_cast<double>(channel.track)})
      sums_.inside.add(one);
  }

  RecordedSums& sums_;
  const Feel* feel_ = nullptr;
};

/// Where obstacles stand on a plan.
void add_plan(const Feel& feel, const Take& take, RecordedSum& sum) {
  for (const PlanObstacle& obstacle : obstacles_on_plan(feel, take, {-20, 20, -20, 20}, 1.0))
    for (const auto& piece : obstacle.pieces)
      for (const PlanPlace& place : piece)
        for (const double one : place) sum.add(one);
}

/// What is measured of the camera, of switches and sequences, and when.
void add_camera(const Feel& feel, const TakeMeasures& measures, RecordedSum& sum) {
  for (const std::string& name : camera_measure_names(feel)) {
    sum.add(camera_measure(measures, name));
    sum.add(camera_measure_time(measures, name));
  }
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    for (const std::string& name : channel_measure_names(feel.channels[c])) {
      sum.add(channel_measure(feel, measures, c, name, true));
      if (const auto when = channel_measure_time(measures, c, name)) sum.add(when->at);
    }
  for (const SwitchSummary& one : measures.switches)
    for (const double value :
         {static_cast<double>(one.flips), static_cast<double>(one.quick_returns), one.first_return_at})
      sum.add(value);
  for (const SequenceSummary& one : measures.sequences) {
    for (const int count : {one.starts, one.skips}) sum.add(count);
    for (const LegSummary& leg : one.legs) {
      const SequenceLeg& one_leg = leg.leg;
      for (const double value : {one_leg.start, one_leg.duration, one_leg.length, one_leg.top_speed, one_leg.top_jerk,
                                 one_leg.speed_jump, one_leg.acceleration_jump})
        sum.add(value);
      sum.add(leg.top_turn_speed);
    }
  }
  for (const InputSpan& one : measures.inputs)
    for (const double value : {one.from, one.to, one.open ? 1.0 : 0.0}) sum.add(value);
}

void add_rates(const Feel& feel, const Take& take, RecordedSum& sum) {
  const RatesAccount account = play_rates(feel, take, usual_cases(take, {20, 75}));
  for (const auto* const one : {&account.largest_move, &account.largest_value})
    for (const double value : *one) sum.add(value);
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    sum.add(static_cast<double>(account.causes[c].size()));
    sum.add(static_cast<double>(account.worst_play(c)));
    for (const RatePlay& one : account.plays) {
      const ChannelAtRate& at = one.channels[c];
      for (const Deviation& off : {at.spread, at.rule_error, at.input_wait})
        for (const double value : {off.size, off.at}) sum.add(value);
      sum.add(at.settling_time);
      sum.add(at.overshoot);
    }
  }
}

/// The feel beside itself played at once, and on its ticks in every order.
void add_comparisons(const Feel& feel, const Take& take, RecordedSum& sum) {
  Feel slow = feel;
  for (auto& one : slow.motions) one.motion = slowed(one.motion, 1.5);
  const Contender a = play_contender("a", feel, take), b = play_contender("b", slow, take);
  for (const SharedChannel& channel : shared_channels({a, b}))
    for (std::size_t i = 0; i < feel.channels[channel.index[0]].components; ++i) {
      const Gap gap = widest_gap(a, channel.index[0], b, channel.index[1], i);
      for (const double value : {gap.difference, gap.at, value_at(b, channel.index[1], i, 0.7)}) sum.add(value);
      sum.add(static_cast<double>(noticed(a, b, channel, 0, 1).size()));
    }
  for (const TickStudy& study : study_ticks(feel, take)) {
    sum.add(static_cast<double>(study.best));
    for (const TickCase& one : study.cases) {
      for (const auto& value : {one.subject, one.subject_pixels, one.picture, one.picture_pixels}) sum.add(value);
      sum.add(one.late);
    }
  }
}

/// \param is_studied played at several rates and beside another feel as well, which takes as long again
RecordedSums sums_of(const Feel& feel, const Take& take, bool is_studied) {
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
  add_camera(feel, measures, sums.camera);
  add_plan(feel, take, sums.camera);
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
  if (is_studied) {
    add_rates(feel, take, sums.studies);
    add_comparisons(feel, take, sums.studies);
  }
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

template<class Visit> void visit_random(const char* kind, std::uint64_t seed, const std::string& text, Visit visit) {
  if (!test::problems_of(text).empty()) return; // a stick has met a motion that it cannot move
  const Feel feel = test::feel_from(text);
  visit(fmt::format("{}.{}", kind, seed), feel, feel.takes[0]);
}

/// Every take that is recorded, by a name for it.
template<class Visit> void for_each_take(Visit visit) {
  for (std::uint64_t seed = 1; seed <= 700; ++seed) {
    test::FeelMaker maker(seed, {.rules_of_frames = seed % 4 == 0,
                                 .switches = seed % 3 == 0,
                                 .sticks = seed % 2 == 0,
                                 .sequences = seed > 400 && seed % 2 == 1});
    const char* const clocks[] = {"fps = 60",
                                  "fps = 24, jitter = 0.3",
                                  "fps = 90, stalls = [[0.6, 0.2]]",
                                  "fps = 12",
                                  "fps = 60, tick = 50, between = \"blend\"",
                                  "fps = 75, tick = 30"};
    const std::string text = maker.make().text + fmt::format("clock = {{ {} }}\n", clocks[seed % std::size(clocks)]);
    visit_random("random", seed, text, visit);
  }
  for (std::uint64_t seed = 1; seed <= 300; ++seed) {
    visit_random("views", seed, test::feel_of_views(seed), visit);
    visit_random("inputs", seed, test::feel_of_inputs(seed), visit);
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
  constexpr int shown = 20;  // takes that differ tell enough
  constexpr int studied = 8; // one in so many
  int count = 0, differing = 0;
  for_each_take([&](const std::string& name, const Feel& feel, const Take& take) {
    if (differing == shown) return;
    const RecordedSums sums = sums_of(feel, take, count % studied == 0);
    ++count;
    if (record != nullptr) {
      out << name;
      for (const auto& [what, one] : sums.all()) out << fmt::format(" {:.12g}", one->total());
      out << '\n';
      return;
    }
    const auto expected = recorded.find(name);
    ASSERT_NE(expected, recorded.end()) << name;
    std::size_t at = 0;
    bool is_same = true;
    for (const auto& [what, one] : sums.all()) {
      const double was = expected->second.at(at++), allowed = 1e-8 * one->scale();
      EXPECT_NEAR(one->total(), was, allowed) << name << ": " << what;
      is_same = is_same && std::fabs(one->total() - was) <= allowed;
    }
    if (!is_same) ++differing;
  });
  if (record == nullptr && differing < shown) {
    EXPECT_EQ(static_cast<std::size_t>(count), recorded.size());
  }
}

} // namespace
} // namespace stasis
