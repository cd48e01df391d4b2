#include "core/clock.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include "core/random.hpp"
#include "core/root.hpp"

namespace stasis {

Clock steady_clock(double fps, double length) noexcept {
  Clock clock{fps, 1};
  auto last = static_cast<std::int64_t>(std::floor((length + instant_slack) * fps)) + 1;
  while (last > 0 && clock.time(last) > length + instant_slack) --last;
  clock.frames = last + 1;
  return clock;
}

namespace {

/// Stalls that come by chance, and those that were asked for, in order.
std::vector<Stall> all_stalls(const Disturbance& disturbance, double length) {
  std::vector<Stall> stalls = disturbance.stalls;
  const RandomStalls& chance = disturbance.random_stalls;
  if (chance.rate <= 0.0) return stalls;
  // A stream of its own, so that the jitter is the same with stalls and without.
  Random random(disturbance.seed ^ 0x9e3779b97f4a7c15ULL);
  for (double at = 0.0;;) {
    at -= std::log1p(-random.share()) / chance.rate;
    if (at > length) break;
    stalls.push_back({at, chance.shortest + (chance.longest - chance.shortest) * random.share()});
  }
  std::stable_sort(stalls.begin(), stalls.end(), [](const Stall& a, const Stall& b) { return a.at < b.at; });
  return stalls;
}

/// The times on the clock of disturbed frames, the last of which is the first past the take's end.
class DisturbedTimes final : public TimeMaker {
public:
  DisturbedTimes(double fps, double length, const Disturbance& disturbance)
      : fps_(fps), end_(length + instant_slack), jitter_(disturbance.jitter), recorded_(disturbance.recorded),
        stalls_(std::make_shared<const std::vector<Stall>>(all_stalls(disturbance, length))),
        random_(disturbance.seed) {}

  std::optional<double> next() override {
    if (frame_ > 0 && latest_ > end_) return std::nullopt;
    if (frame_ > 0) latest_ = time_of(frame_);
    ++frame_;
    return latest_;
  }
  std::unique_ptr<TimeMaker> copy() const override { return std::make_unique<DisturbedTimes>(*this); }

private:
  double time_of(std::size_t frame) {
    double time = static_cast<double>(frame) / fps_ + late_;
    if (recorded_ != nullptr) { // past its end the last frame's time goes on
      const std::size_t last = recorded_->size() - 1;
      const double usual = (*recorded_)[last] - (*recorded_)[last - 1];
      time = late_
             + (frame <= last ? (*recorded_)[frame] : (*recorded_)[last] + usual * static_cast<double>(frame - last));
    }
    if (jitter_ > 0.0) time += jitter_ * 0.5 * (2.0 * random_.share() - 1.0) / fps_;
    for (; stall_ < stalls_->size() && time >= (*stalls_)[stall_].at; ++stall_) {
      late_ += (*stalls_)[stall_].length;
      time += (*stalls_)[stall_].length;
    }
    return time;
  }

  double fps_, end_, jitter_;
  std::shared_ptr<const std::vector<double>> recorded_;
  std::shared_ptr<const std::vector<Stall>> stalls_;
  Random random_;
  std::size_t frame_ = 0, stall_ = 0;
  double latest_ = 0.0, late_ = 0.0; // by stalls; a frame's own jitter does not add up
};

GameTime game_time_of(const std::vector<GameSpeed>& speeds) {
  GameTime time;
  for (const GameSpeed& next : speeds) time.change(next);
  return time;
}

/// Game time by frames: each frame's step held at the longest, then slowed and quickened.
class GameTimes final : public TimeMaker {
public:
  GameTimes(const TimeMaker& clock, std::optional<double> longest, std::shared_ptr<const GameTime> speeds)
      : clock_(clock.copy()), longest_(longest), speeds_(std::move(speeds)) {}
  GameTimes(const GameTimes& other)
      : TimeMaker(), clock_(other.clock_->copy()), longest_(other.longest_), speeds_(other.speeds_), at_(other.at_),
        has_begun_(other.has_begun_) {}

  std::optional<double> next() override {
    const std::optional<double> time = clock_->next();
    if (time && has_begun_) go_on(*time);
    has_begun_ = true;
    return time ? std::optional(at_.game) : std::nullopt;
  }
  std::unique_ptr<TimeMaker> copy() const override { return std::make_unique<GameTimes>(*this); }

private:
  struct At {
    double clock = 0.0, held = 0.0, game = 0.0;
    double late = 0.0, lost = 0.0; // s of the clock by a longest frame, and of slowed time by the same
  };

  void go_on(double clock) {
    const double step = clock - at_.clock;
    double held = clock;
    if (longest_) {
      at_.late += std::max(0.0, step - *longest_);
      held -= at_.late;
    }
    double game = held;
    if (speeds_ != nullptr) {
      if (step > 0.0) at_.lost += (1.0 - (held - at_.held) / step) * (speeds_->at(clock) - speeds_->at(at_.clock));
      game = std::max(speeds_->at(clock) - at_.lost, at_.game);
    }
    at_.clock = clock;
    at_.held = held;
    at_.game = game;
  }

  std::unique_ptr<TimeMaker> clock_;
  std::optional<double> longest_;
  std::shared_ptr<const GameTime> speeds_; // null: as fast as the clock
  At at_;
  bool has_begun_ = false;
};

/// The times of a list, one after another.
class ListedTimes final : public TimeMaker {
public:
  explicit ListedTimes(std::shared_ptr<const FrameTimes> list) : list_(std::move(list)) {}
  std::optional<double> next() override {
    return next_ < list_->size() ? std::optional((*list_)[next_++]) : std::nullopt;
  }
  std::unique_ptr<TimeMaker> copy() const override { return std::make_unique<ListedTimes>(*this); }

private:
  std::shared_ptr<const FrameTimes> list_;
  std::size_t next_ = 0;
};

Clock clock_of_list(double fps, std::shared_ptr<const FrameTimes> times) {
  const auto frames = static_cast<std::int64_t>(times->size()) - 1;
  return {.fps = fps, .frames = frames, .times = std::move(times)};
}

/// \param drawn the times on the clock \param speeds null where the game is neither slowed nor quickened
Clock clock_of_game(double fps, std::shared_ptr<const FrameTimes> drawn, std::optional<double> longest,
                    std::shared_ptr<const GameTime> speeds) {
  const GameTimes game(ListedTimes(drawn), longest, std::move(speeds));
  Clock clock = clock_of_list(fps, std::make_shared<const FrameTimes>(game));
  clock.drawn = std::move(drawn);
  return clock;
}

Clock clock_of_list(double fps, std::shared_ptr<const FrameTimes> drawn, const std::vector<GameSpeed>& speeds) {
  if (speeds.empty()) return clock_of_list(fps, std::move(drawn));
  const auto game_time = std::make_shared<const GameTime>(game_time_of(speeds));
  Clock clock = clock_of_game(fps, std::move(drawn), std::nullopt, game_time);
  clock.game_time = game_time;
  return clock;
}

} // namespace

Clock clock_at(double fps, std::vector<double> times, const std::vector<GameSpeed>& speeds) {
  return clock_of_list(fps, std::make_shared<const FrameTimes>(std::move(times)), speeds);
}

Clock clock_at(double fps, const TimeMaker& times, const std::vector<GameSpeed>& speeds) {
  return clock_of_list(fps, std::make_shared<const FrameTimes>(times), speeds);
}

Clock disturbed_clock(double fps, double length, const Disturbance& disturbance) {
  if (!disturbance.any()) return steady_clock(fps, length);
  const DisturbedTimes times(fps, length, disturbance);
  if (!disturbance.longest_frame) return clock_at(fps, times, disturbance.speeds);
  // What holds game time back leads from one to the other at frames only.
  std::shared_ptr<const GameTime> speeds;
  if (!disturbance.speeds.empty()) speeds = std::make_shared<const GameTime>(game_time_of(disturbance.speeds));
  return clock_of_game(fps, std::make_shared<const FrameTimes>(times), disturbance.longest_frame, speeds);
}

std::int64_t Clock::frames_within(std::int64_t frame, double span, std::int64_t most) const noexcept {
  if (times == nullptr) {
    const double whole = std::floor((span + instant_slack) * fps);
    return whole >= static_cast<double>(most) ? most : static_cast<std::int64_t>(whole);
  }
  std::int64_t count = 0;
  while (count < most && frame + count < frames && elapsed(frame, frame + count + 1) <= span + instant_slack) ++count;
  return count;
}

std::int64_t first_frame_at(const Clock& clock, double at) noexcept {
  if (!clock.is_steady()) return static_cast<std::int64_t>(clock.times->first_not_before(at - instant_slack));
  auto frame = static_cast<std::int64_t>(std::floor((at - instant_slack) * clock.fps));
  if (frame < 0) frame = 0;
  while (at > clock.time(frame) + instant_slack) ++frame;
  return frame;
}

std::int64_t due_frame(const Clock& clock, double at) noexcept {
  if (clock.drawn == nullptr) return first_frame_at(clock, at);
  return static_cast<std::int64_t>(clock.drawn->first_not_before(at - instant_slack));
}

double GameTime::Ramp::speed_at(double clock) const noexcept {
  const double x = over > 0.0 ? std::min(1.0, (clock - begin) / over) : 1.0;
  return from + (to - from) * x * x * (3.0 - 2.0 * x);
}

double GameTime::Ramp::time_at(double clock) const noexcept {
  const double since = clock - begin, eased = std::min(since, over);
  const double x = over > 0.0 ? eased / over : 0.0;
  const double part = over * (from * x + (to - from) * x * x * x * (1.0 - 0.5 * x));
  return time + part + to * (since - eased);
}

void GameTime::change(const GameSpeed& next) {
  /// Frames must follow each other, so a game that stands goes on ever so little.
  constexpr double slowest = 1e-5;
  const Ramp before = ramps_.empty() ? Ramp{0.0, 0.0, 1.0, 1.0, 0.0} : ramps_.back();
  ramps_.push_back(
      {next.at, before.time_at(next.at), before.speed_at(next.at), std::max(next.speed, slowest), next.over});
}

double GameTime::at(double clock) const noexcept {
  const auto next = std::upper_bound(ramps_.begin(), ramps_.end(), clock,
                                     [](double time, const Ramp& ramp) { return time < ramp.begin; });
  return next == ramps_.begin() ? clock : (next - 1)->time_at(clock);
}

double GameTime::clock_at(double time) const {
  const auto next =
      std::upper_bound(ramps_.begin(), ramps_.end(), time, [](double t, const Ramp& ramp) { return t < ramp.time; });
  if (next == ramps_.begin()) return time;
  const Ramp& ramp = *(next - 1);
  const double eased = ramp.begin + ramp.over, there = ramp.time_at(eased);
  if (time >= there) return eased + (time - there) / ramp.to;
  return bracketed_root([&](double clock) { return ramp.time_at(clock) - time; }, ramp.begin, eased, ramp.time - time,
                        there - time);
}

Clock Clock::of(RunsOn which) const {
  if (which == RunsOn::game || drawn == nullptr) return *this;
  return {.fps = fps, .frames = frames, .times = drawn};
}

namespace {

/// What a time that lies between two of `from` is among those of `to`.
double carried_over(const FrameTimes& from, const FrameTimes& to, double time) {
  const std::size_t k = std::clamp<std::size_t>(from.first_after(time), 1, from.size() - 1);
  const double step = from[k] - from[k - 1];
  const double share = step > 0.0 ? (time - from[k - 1]) / step : 0.0;
  return to[k - 1] + share * (to[k] - to[k - 1]);
}

} // namespace

double Clock::drawn_at(double time) const {
  if (game_time != nullptr) return game_time->clock_at(time);
  return drawn == nullptr || drawn->size() < 2 ? time : carried_over(*times, *drawn, time);
}

double Clock::game_at(double time) const {
  if (game_time != nullptr) return game_time->at(time);
  return drawn == nullptr || drawn->size() < 2 ? time : carried_over(*drawn, *times, time);
}

} // namespace stasis
