#include "core/measure/frame_rates.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "core/components.hpp"
#include "core/feel/goal_source.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/rate_causes.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Smoothed values by channel and component.
using Rows = std::vector<std::array<std::vector<double>, most_components>>;

class SmoothRows final : public BlockSink {
public:
  void begin(const Scene& scene) override { rows_.assign(scene.feel->channels.size(), {}); }
  void consume(const Block& block) override {
    for (std::size_t c = 0; c < rows_.size(); ++c)
      for (std::size_t i = 0; i < most_components; ++i) {
        const auto& smooth = block.channels[c].component[i].smooth;
        rows_[c][i].insert(rows_[c][i].end(), smooth.begin(), smooth.end());
      }
  }
  void end() override {}
  Rows take() { return std::move(rows_); }

private:
  Rows rows_;
};

/// Instants closer than this are one, s: frames of several clocks that meet.
constexpr double same_instant = 1e-12;
/// Where a goal is curved, the exact path is played in steps no longer than this, s; and no more than so many of them.
constexpr double fine_step = 1.0 / 2000.0, most_fine_steps = 40'000.0;

void sort_instants(std::vector<double>& times) {
  std::sort(times.begin(), times.end());
  times.erase(std::unique(times.begin(), times.end(), [](double a, double b) { return b - a < same_instant; }),
              times.end());
}

/// The instants of the exact path: `frames`, steps between them where goals are curved, and one more that is not drawn.
std::vector<double> instants_of(std::vector<double> frames, double finest) {
  sort_instants(frames);
  std::vector<double> times;
  for (std::size_t k = 0; k + 1 < frames.size(); ++k) {
    const double span = frames[k + 1] - frames[k];
    const int parts = std::max(1, static_cast<int>(std::ceil(span / finest)));
    for (int p = 0; p < parts; ++p) times.push_back(frames[k] + span * p / parts);
  }
  times.push_back(frames.back());
  times.push_back(frames.back() + (frames.size() > 1 ? frames.back() - frames[frames.size() - 2] : 1.0));
  return times;
}

std::size_t place_of(const std::vector<double>& times, double time) {
  const auto at = std::lower_bound(times.begin(), times.end(), time - same_instant);
  return static_cast<std::size_t>(at - times.begin());
}

class RatesPlayer {
public:
  RatesPlayer(const Feel& feel, const Take& take) : feel_(feel), take_(take), exact_feel_(continuous_feel(feel)) {
    const bool curved = has_curved_goals(feel, take);
    finest_ = curved ? std::max(fine_step, take.length / most_fine_steps) : unbounded;
  }

  RatesAccount play_all(std::vector<RateCase> cases, const HowFar& how_far) {
    account_.feel = &feel_;
    account_.take = &take_;
    // Then what all of them are compared with, and what stands beside it.
    const std::size_t total = cases.size() + 2;
    const auto tell = [&](std::size_t done) {
      if (how_far) how_far(done, total);
    };
    for (RateCase& one : cases) {
      account_.plays.push_back(play(std::move(one)));
      tell(account_.plays.size());
    }
    play_exactly();
    tell(total - 1);
    measure_moves();
    tell(total);
    for (RatePlay& one : account_.plays) compare(one);
    account_.replacements = replacements_of(feel_);
    account_.frame_shakes = frame_shakes_of(account_);
    account_.frame_controls = frame_controls_of(account_);
    for (std::size_t c = 0; c < feel_.channels.size(); ++c) account_.causes.push_back(cause_of(account_, c));
    return std::move(account_);
  }

private:
  Take take_at(const RateCase& what) const {
    Take take = take_;
    take.fps = what.fps;
    take.disturbance = what.disturbance;
    return take;
  }

  RatePlay play(RateCase what) {
    const Take take = take_at(what);
    RatePlay out{std::move(what), clock_of(take), {}, {}};
    MeasureSink measuring;
    SmoothRows rows;
    BlockSink* const sinks[] = {&measuring, &rows};
    out.measures = measuring.take(stasis::play({&feel_, &take, out.clock}, sinks));
    Rows smooth = rows.take();
    for (std::size_t c = 0; c < smooth.size(); ++c) {
      ChannelAtRate channel;
      channel.settling_time = channel_measure(feel_, out.measures, c, "settling_time");
      channel.overshoot = channel_measure(feel_, out.measures, c, "overshoot");
      channel.smooth = std::move(smooth[c]);
      out.channels.push_back(std::move(channel));
    }
    return out;
  }

  Rows play_reference(const Take& take, const Clock& clock) const {
    SmoothRows rows;
    BlockSink* const sinks[] = {&rows};
    stasis::play({&exact_feel_, &take, clock}, sinks);
    return rows.take();
  }
  /// A clock of frames at these times of the clock; the game is slowed and quickened in all plays alike.
  Clock clock_with(std::vector<double> times) const {
    return clock_at(take_.fps, std::move(times), take_.disturbance.speeds);
  }

  /// The exact path, with inputs at their own times, at the frames of all plays.
  void play_exactly() {
    std::vector<double> frames;
    for (const RatePlay& one : account_.plays)
      for (std::int64_t k = 0; k < one.clock.frames; ++k) frames.push_back(one.clock.drawn_time(k));
    sort_instants(frames);
    const double last = frames.back();
    for (const Cue& cue : take_.cues) {
      const auto near = std::lower_bound(frames.begin(), frames.end(), cue.at - instant_slack);
      if (cue.at < last && (near == frames.end() || *near > cue.at + instant_slack)) cues_.push_back(cue.at);
    }
    frames.insert(frames.end(), cues_.begin(), cues_.end());
    std::vector<double> times = instants_of(std::move(frames), finest_);
    account_.exact = play_reference(take_, clock_with(times));
    times.pop_back();
    account_.exact_times = std::move(times);
  }

  /// The exact path of inputs that come on a clock's own frames: between those, cues see the frame before.
  Rows play_on_frames(const Clock& clock, std::vector<double>& times) const {
    std::vector<double> frames, drawn;
    for (std::int64_t k = 0; k < clock.frames; ++k) frames.push_back(clock.time(k));
    times = instants_of(std::move(frames), finest_);
    if (!take_.disturbance.speeds.empty()) return play_slowed_on_frames(clock, times);
    std::int64_t frame = 0;
    for (const double time : times) {
      while (frame + 1 < clock.frames && clock.time(frame + 1) <= time + same_instant) ++frame;
      drawn.push_back(clock.drawn_time(frame));
    }
    Clock reference = clock_at(clock.fps, times);
    reference.drawn = std::make_shared<const std::vector<double>>(std::move(drawn));
    return play_reference(take_, reference);
  }
  /// The same where the clock goes its own way between frames: the cues come at the frames that see them.
  Rows play_slowed_on_frames(const Clock& clock, const std::vector<double>& times) const {
    Take take = take_;
    for (Cue& cue : take.cues)
      if (const std::int64_t frame = due_frame(clock, cue.at); frame < clock.frames) cue.at = clock.drawn_time(frame);
    std::vector<double> drawn;
    for (const double time : times) drawn.push_back(clock.drawn_at(time));
    Clock reference = clock_at(clock.fps, times);
    reference.drawn = std::make_shared<const std::vector<double>>(std::move(drawn));
    return play_reference(take, reference);
  }

  /// The largest moves of the exact path: on a clock of its own, so that it does not matter which others are played.
  void measure_moves() {
    account_.largest_move.assign(feel_.channels.size(), 0.0);
    constexpr double step = 1.0 / 240.0;
    std::vector<double> frames{0.0, take_.length};
    for (double at = step; at < take_.length; at += step) frames.push_back(at);
    for (const Cue& cue : take_.cues)
      if (cue.at < take_.length) frames.push_back(cue.at);
    MeasureSink measuring;
    BlockSink* const sinks[] = {&measuring};
    const Clock clock = clock_with(instants_of(std::move(frames), unbounded));
    const TakeMeasures measures = measuring.take(stasis::play({&exact_feel_, &take_, clock}, sinks));
    for (const Move& move : measures.moves)
      account_.largest_move[move.channel] =
          std::max(account_.largest_move[move.channel], length_of(plus(move.to, move.from, -1.0)));
  }

  void compare(RatePlay& play) const {
    std::vector<double> own_times;
    const Rows own = play_on_frames(play.clock, own_times);
    for (std::size_t c = 0; c < play.channels.size(); ++c) {
      ChannelAtRate& channel = play.channels[c];
      const std::size_t components = feel_.channels[c].components;
      for (std::int64_t k = 0; k < play.clock.frames; ++k) {
        const auto row = static_cast<std::size_t>(k);
        const double time = play.clock.drawn_time(k);
        const std::size_t exact = place_of(account_.exact_times, time), at = place_of(own_times, play.clock.time(k));
        Components spread{}, rule{}, wait{};
        for (std::size_t i = 0; i < components; ++i) {
          spread[i] = channel.smooth[i][row] - account_.exact[c][i][exact];
          rule[i] = channel.smooth[i][row] - own[c][i][at];
          wait[i] = own[c][i][at] - account_.exact[c][i][exact];
          channel.off[i].push_back(spread[i]);
        }
        const auto keep = [&](Deviation& kept, const Components& difference) {
          if (const double size = length_of(difference); size > kept.size) kept = {size, time};
        };
        keep(channel.spread, spread);
        keep(channel.rule_error, rule);
        keep(channel.input_wait, wait);
      }
    }
  }

  const Feel& feel_;
  const Take& take_;
  Feel exact_feel_;
  double finest_;
  std::vector<double> cues_;
  RatesAccount account_;
};

} // namespace

std::vector<RateCase> usual_cases(const Take& take, const std::vector<double>& rates) {
  std::vector<RateCase> cases;
  const auto label = [](double fps) { return concise(fps, 6) + " fps"; };
  // That the game is slowed is no fault of the clock: it is in every play.
  Disturbance none, own = take.disturbance;
  none.speeds = std::exchange(own.speeds, {});
  if (own.any()) cases.push_back({fmt::format("{}, as written", label(take.fps)), take.fps, take.disturbance});
  for (const double fps : rates) cases.push_back({label(fps), fps, none});
  constexpr double usual = 60.0;
  Disturbance jitter = none, stalls = none;
  jitter.jitter = 0.5;
  jitter.seed = stalls.seed = take.disturbance.seed;
  stalls.random_stalls = {1.0, 0.05, 0.25};
  cases.push_back({label(usual) + ", jitter", usual, jitter});
  cases.push_back({label(usual) + ", stalls", usual, stalls});
  return cases;
}

std::optional<double> RatesAccount::share(std::size_t channel, double size) const noexcept {
  if (largest_move[channel] <= 0.0) return std::nullopt;
  return 100.0 * size / largest_move[channel];
}

std::size_t RatesAccount::worst_play(std::size_t channel) const noexcept {
  const auto size_in = [&](std::size_t play) { return judged_by(channel, plays[play]).size; };
  std::size_t worst = 0;
  for (std::size_t p = 1; p < plays.size(); ++p)
    if (size_in(p) > size_in(worst)) worst = p;
  return worst;
}

bool RatesAccount::has_rule_error(std::size_t channel) const noexcept {
  return std::any_of(plays.begin(), plays.end(), [&](const RatePlay& play) {
    return is_noticeable(channel, play.channels[channel].rule_error.size);
  });
}

const Deviation& RatesAccount::judged_by(std::size_t channel, const RatePlay& play) const noexcept {
  return has_rule_error(channel) ? play.channels[channel].rule_error : play.channels[channel].spread;
}

bool RatesAccount::is_noticeable(std::size_t channel, double size) const noexcept {
  double largest = largest_move[channel];
  for (const auto& component : exact[channel])
    for (const double value : component) largest = std::max(largest, std::fabs(value));
  constexpr double rounding = 1e-11;
  return size > rounding * largest;
}

std::optional<std::size_t> RatesAccount::worst_channel() const noexcept {
  std::optional<std::size_t> worst;
  std::array<double, 3> most{};
  for (std::size_t c = 0; c < largest_move.size(); ++c) {
    const double size = judged_by(c, plays[worst_play(c)]).size;
    if (!is_noticeable(c, size)) continue;
    const auto part = share(c, size);
    const std::array<double, 3> here{has_rule_error(c) ? 1.0 : 0.0, part ? 1.0 : 0.0, part.value_or(size)};
    if (worst && here <= most) continue;
    worst = c;
    most = here;
  }
  return worst;
}

RatesAccount play_rates(const Feel& feel, const Take& take, std::vector<RateCase> cases, const HowFar& how_far) {
  return RatesPlayer(feel, take).play_all(std::move(cases), how_far);
}

Feel continuous_feel(const Feel& feel) {
  Feel out = feel;
  for (NamedMotion& named : out.motions)
    if (const auto* rule = std::get_if<PerFrame>(&named.motion)) named.motion = continuous_form(*rule);
  const double usual_fps = feel.takes.empty() ? 60.0 : feel.takes.front().fps;
  for (Control& control : out.controls) drop_frame_habit(control, usual_fps);
  return out;
}

} // namespace stasis
