// Plays a take on all its clocks side by side, and beside each its exact path, a stretch of time after another.
#include <algorithm>
#include <array>
#include <cmath>
#include <deque>
#include <memory>
#include <utility>

#include "core/components.hpp"
#include "core/feel/goal_source.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/frame_rates.hpp"
#include "core/measure/rate_causes.hpp"
#include "core/measure/rate_instants.hpp"
#include "core/take/player.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

/// Where a goal is curved, the exact path is played in steps no longer than this, s; and no more than so many of them.
constexpr double fine_step = 1.0 / 2000.0, most_fine_steps = 40'000.0;
/// So many numbers of all plays together are compared at a time.
constexpr double numbers_at_a_time = 1e6;

/// Smoothed values by channel and component, of the frames that are still to be compared.
class SmoothRows final : public BlockSink {
public:
  using Rows = std::vector<std::array<std::vector<double>, most_components>>;

  void begin(const Scene& scene) override { rows_.assign(scene.feel->channels.size(), {}); }
  void consume(const Block& block) override {
    for (std::size_t c = 0; c < rows_.size(); ++c)
      for (std::size_t i = 0; i < most_components; ++i) {
        const auto& smooth = block.channels[c].component[i].smooth;
        rows_[c][i].insert(rows_[c][i].end(), smooth.begin(), smooth.end());
      }
    end_ = block.first + block.count;
  }
  void end() override {}

  std::int64_t first_frame() const noexcept { return first_; }
  std::int64_t end_frame() const noexcept { return end_; }
  double at(std::size_t channel, std::size_t component, std::int64_t frame) const {
    return rows_[channel][component][static_cast<std::size_t>(frame - first_)];
  }
  std::span<const double> of(ComponentRef which, std::int64_t first, std::int64_t end) const {
    return std::span(rows_[which.channel][which.component])
        .subspan(static_cast<std::size_t>(first - first_), static_cast<std::size_t>(end - first));
  }
  /// Frames before that one have been compared.
  void forget_before(std::int64_t frame) {
    for (auto& channel : rows_)
      for (auto& component : channel)
        if (!component.empty()) component.erase(component.begin(), component.begin() + (frame - first_));
    first_ = frame;
  }

private:
  Rows rows_;
  std::int64_t first_ = 0, end_ = 0;
};

/// A play under way, and its values.
class Lane {
public:
  /// \param measures where what is played is measured too
  Lane(const Feel& feel, Take take, Clock clock, MeasureSink* measures)
      : take_(std::move(take)), clock_(std::move(clock)) {
    std::vector<BlockSink*> sinks{&rows};
    if (measures != nullptr) sinks.insert(sinks.begin(), measures);
    play_ = std::make_unique<TakePlay>(Scene{&feel, &take_, clock_}, sinks);
  }

  /// On until all its frames up to a time have been played, s on the clock or of the game.
  void play_past(double time, RunsOn which) {
    while (!play_->is_over() && (rows.end_frame() >= clock_.frames || clock_.time(rows.end_frame(), which) <= time))
      play_->play_block();
  }
  /// On from a frame to the first that is not before a time, which is that of one of them.
  std::int64_t frame_at(double time, RunsOn which, std::int64_t frame) const noexcept {
    while (clock_.time(frame, which) < time - one_instant) ++frame;
    return frame;
  }
  /// The end of the frames that have been played up to a time.
  std::int64_t end_at(double time, RunsOn which) const {
    std::int64_t end = rows.first_frame();
    while (end < rows.end_frame() && clock_.time(end, which) <= time) ++end;
    return end;
  }
  const Clock& clock() const noexcept { return clock_; }
  std::vector<std::string> take_notes() { return play_->take_notes(); }

  SmoothRows rows;

private:
  Take take_;
  Clock clock_;
  std::unique_ptr<TakePlay> play_;
};

class RatesPlayer {
public:
  RatesPlayer(const Feel& feel, const Take& take, RateRows* told)
      : feel_(feel), take_(take), exact_feel_(continuous_feel(feel)), told_(told) {
    const bool curved = has_curved_goals(feel, take);
    finest_ = curved ? std::max(fine_step, take.length / most_fine_steps) : double{unbounded};
  }

  RatesAccount play_all(std::vector<RateCase> cases, const HowFar& how_far) {
    account_.feel = &feel_;
    account_.take = &take_;
    account_.largest_move.assign(feel_.channels.size(), 0.0);
    account_.largest_value.assign(feel_.channels.size(), 0.0);
    for (RateCase& one : cases) {
      const Take played = take_at(one);
      account_.plays.push_back({std::move(one), clock_of(played), {}, {}});
      account_.plays.back().channels.resize(feel_.channels.size());
    }
    if (told_ != nullptr) told_->begin(account_);
    begin_lanes();
    play_side_by_side(how_far);
    if (told_ != nullptr) told_->end();
    for (std::size_t p = 0; p < account_.plays.size(); ++p) measure(p);
    measure_moves();
    account_.replacements = replacements_of(feel_);
    account_.frame_shakes = frame_shakes_of(account_);
    account_.frame_controls = frame_controls_of(account_);
    for (std::size_t c = 0; c < feel_.channels.size(); ++c) account_.causes.push_back(cause_of(account_, c));
    return std::move(account_);
  }

private:
  /// A play of the account, and the exact path of inputs that come on its clock's frames.
  struct Pair {
    MeasureSink measuring;
    std::optional<Lane> played, own;
    std::int64_t at_exact = 0, at_own = 0; ///< the frames of both exact paths that were compared last
  };

  Take take_at(const RateCase& what) const {
    Take take = take_;
    take.fps = what.fps;
    take.disturbance = what.disturbance;
    return take;
  }

  void begin_lanes() {
    for (const RatePlay& play : account_.plays) {
      Pair& pair = pairs_.emplace_back();
      pair.played.emplace(feel_, take_at(play.what), play.clock, &pair.measuring);
      begin_on_frames(play.clock, pair.own);
    }
    exact_.emplace(exact_feel_, take_, clock_at(take_.fps, exact_instants(), take_.disturbance.speeds), nullptr);
  }

  /// The exact path, with inputs at their own times, at the frames of all plays.
  SteppedTimes exact_instants() const {
    MergedTimes frames;
    double last = 0.0;
    for (const RatePlay& one : account_.plays) {
      frames.add(FramesOfClock(one.clock, RunsOn::clock));
      last = std::max(last, one.clock.drawn_time(one.clock.frames - 1));
    }
    std::vector<double> cues;
    for (const Cue& cue : take_.cues)
      if (cue.at < last && !is_on_a_frame(cue.at)) cues.push_back(cue.at);
    std::sort(cues.begin(), cues.end());
    frames.add(GivenTimes(std::move(cues)));
    return {frames, finest_};
  }
  bool is_on_a_frame(double at) const {
    return std::any_of(account_.plays.begin(), account_.plays.end(), [&](const RatePlay& play) {
      const std::int64_t frame = due_frame(play.clock, at);
      return frame < play.clock.frames && play.clock.drawn_time(frame) <= at + instant_slack;
    });
  }

  /// The exact path of inputs that come on a clock's own frames: between those, cues see the frame before.
  void begin_on_frames(const Clock& clock, std::optional<Lane>& lane) const {
    MergedTimes frames;
    frames.add(FramesOfClock(clock, RunsOn::game));
    const SteppedTimes times(frames, finest_);
    Clock reference = clock_at(clock.fps, times);
    Take take = take_;
    // Where the clock goes its own way between frames, the cues come at the frames that see them.
    const bool is_slowed = !take_.disturbance.speeds.empty();
    if (is_slowed)
      for (Cue& cue : take.cues)
        if (const std::int64_t frame = due_frame(clock, cue.at); frame < clock.frames) cue.at = clock.drawn_time(frame);
    reference.drawn = std::make_shared<const FrameTimes>(DrawnTimes(times, clock, is_slowed));
    lane.emplace(exact_feel_, std::move(take), std::move(reference), nullptr);
  }

  void play_side_by_side(const HowFar& how_far) {
    double components = 0.0, a_second = 0.0;
    for (const Channel& channel : feel_.channels) components += static_cast<double>(channel.components);
    for (const RatePlay& play : account_.plays) a_second += play.what.fps * components;
    const double stretch = numbers_at_a_time / a_second;
    const auto total = static_cast<std::size_t>(std::max(1.0, std::ceil(take_.length / stretch)));
    for (std::size_t done = 0; done < total; ++done) {
      const bool is_last = done + 1 == total;
      play_until(is_last ? unbounded : stretch * static_cast<double>(done + 1));
      if (how_far) how_far(done + 1, total + 1);
    }
  }

  /// Everything on to a time on the clock, s.
  void play_until(double time) {
    exact_->play_past(time, RunsOn::clock);
    keep_exact(time);
    for (std::size_t p = 0; p < pairs_.size(); ++p) {
      Pair& pair = pairs_[p];
      pair.played->play_past(time, RunsOn::clock);
      compare(p, pair, pair.played->end_at(time, RunsOn::clock));
    }
    // The last may be one with a frame that comes a moment later.
    exact_->rows.forget_before(std::max(exact_->rows.first_frame(), exact_->end_at(time, RunsOn::clock) - 1));
  }

  void keep_exact(double time) {
    const std::int64_t first = std::exchange(kept_exact_, exact_->end_at(time, RunsOn::clock)), end = kept_exact_;
    const std::vector<double> times = drawn_times(exact_->clock(), first, end);
    for (std::size_t c = 0; c < feel_.channels.size(); ++c)
      for (std::size_t i = 0; i < feel_.channels[c].components; ++i) {
        const std::span<const double> values = exact_->rows.of({c, i}, first, end);
        for (const double value : values)
          account_.largest_value[c] = std::max(account_.largest_value[c], std::fabs(value));
        if (told_ != nullptr) told_->add_exact({c, i}, times, values);
      }
  }

  static std::vector<double> drawn_times(const Clock& clock, std::int64_t first, std::int64_t end) {
    std::vector<double> times;
    times.reserve(static_cast<std::size_t>(end - first));
    for (std::int64_t k = first; k < end; ++k) times.push_back(clock.drawn_time(k));
    return times;
  }

  /// A play's frames up to `end`, with the exact path and with that of its own frames.
  void compare(std::size_t play, Pair& pair, std::int64_t end) {
    Lane& played = *pair.played;
    const std::int64_t first = played.rows.first_frame();
    if (end <= first) return;
    const Clock& clock = played.clock();
    pair.own->play_past(clock.time(end - 1), RunsOn::game);
    const std::vector<double> times = drawn_times(clock, first, end);
    std::vector<std::int64_t> exact, own;
    for (std::int64_t k = first; k < end; ++k) {
      pair.at_exact = exact_->frame_at(times[static_cast<std::size_t>(k - first)], RunsOn::clock, pair.at_exact);
      pair.at_own = pair.own->frame_at(clock.time(k), RunsOn::game, pair.at_own);
      exact.push_back(pair.at_exact);
      own.push_back(pair.at_own);
    }
    for (std::size_t c = 0; c < feel_.channels.size(); ++c) compare_channel(play, c, times, exact, own);
    played.rows.forget_before(end);
    pair.own->rows.forget_before(pair.at_own);
  }

  // many: which play and channel, the times of its frames, and their places in both exact paths
  void compare_channel(std::size_t play, std::size_t c, const std::vector<double>& times,
                       const std::vector<std::int64_t>& exact, const std::vector<std::int64_t>& own) {
    const SmoothRows &played = pairs_[play].played->rows, &on_frames = pairs_[play].own->rows;
    ChannelAtRate& channel = account_.plays[play].channels[c];
    const std::size_t components = feel_.channels[c].components;
    std::array<std::vector<double>, most_components> off;
    const std::int64_t end = played.first_frame() + static_cast<std::int64_t>(times.size());
    for (std::size_t k = 0; k < times.size(); ++k) {
      const std::int64_t frame = played.first_frame() + static_cast<std::int64_t>(k);
      Components spread{}, rule{}, wait{};
      for (std::size_t i = 0; i < components; ++i) {
        const double value = played.at(c, i, frame), wanted = exact_->rows.at(c, i, exact[k]),
                     seen = on_frames.at(c, i, own[k]);
        spread[i] = value - wanted;
        rule[i] = value - seen;
        wait[i] = seen - wanted;
        if (told_ != nullptr) off[i].push_back(spread[i]);
      }
      const auto keep = [&](Deviation& kept, const Components& difference) {
        if (const double size = length_of(difference); size > kept.size) kept = {size, times[k]};
      };
      keep(channel.spread, spread);
      keep(channel.rule_error, rule);
      keep(channel.input_wait, wait);
    }
    if (told_ != nullptr)
      for (std::size_t i = 0; i < components; ++i)
        told_->add_frames(play, {c, i}, times, played.of({c, i}, played.first_frame(), end), off[i]);
  }

  void measure(std::size_t play) {
    RatePlay& out = account_.plays[play];
    out.measures = pairs_[play].measuring.take(pairs_[play].played->take_notes());
    for (std::size_t c = 0; c < out.channels.size(); ++c) {
      out.channels[c].settling_time = channel_measure(feel_, out.measures, c, "settling_time");
      out.channels[c].overshoot = channel_measure(feel_, out.measures, c, "overshoot");
    }
  }

  /// The largest moves of the exact path: on a clock of its own, so that it does not matter which others are played.
  void measure_moves() {
    constexpr double step = 1.0 / 240.0;
    MergedTimes frames;
    frames.add(EvenTimes(step, take_.length));
    std::vector<double> others{take_.length};
    for (const Cue& cue : take_.cues)
      if (cue.at < take_.length) others.push_back(cue.at);
    std::sort(others.begin(), others.end());
    frames.add(GivenTimes(std::move(others)));
    MeasureSink measuring;
    BlockSink* const sinks[] = {&measuring};
    const Clock clock = clock_at(take_.fps, SteppedTimes(frames, unbounded), take_.disturbance.speeds);
    const TakeMeasures measures = measuring.take(stasis::play({&exact_feel_, &take_, clock}, sinks));
    for (const Move& move : measures.moves)
      account_.largest_move[move.channel] =
          std::max(account_.largest_move[move.channel], length_of(plus(move.to, move.from, -1.0)));
  }

  const Feel& feel_;
  const Take& take_;
  Feel exact_feel_;
  double finest_;
  RateRows* told_; // null: nobody
  RatesAccount account_;
  std::deque<Pair> pairs_; // by play
  std::optional<Lane> exact_;
  std::int64_t kept_exact_ = 0; // frames of the exact path that have been told of
};

} // namespace

RatesAccount play_rates(const Feel& feel, const Take& take, std::vector<RateCase> cases, const HowFar& how_far,
                        RateRows* rows) {
  return RatesPlayer(feel, take, rows).play_all(std::move(cases), how_far);
}

} // namespace stasis
