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

std::vector<double> disturbed_times(double fps, double length, const Disturbance& disturbance) {
  Random random(disturbance.seed);
  std::vector<double> times{0.0};
  const std::vector<Stall> stalls = all_stalls(disturbance, length);
  auto stall = stalls.begin();
  double late = 0.0; // by stalls; a frame's own jitter does not add up
  const auto& recorded = disturbance.recorded;
  for (std::size_t frame = 1; times.back() <= length + instant_slack; ++frame) {
    double time = static_cast<double>(frame) / fps + late;
    if (recorded != nullptr) { // past its end the last frame's time goes on
      const std::size_t last = recorded->size() - 1;
      const double usual = (*recorded)[last] - (*recorded)[last - 1];
      time =
          late + (frame <= last ? (*recorded)[frame] : (*recorded)[last] + usual * static_cast<double>(frame - last));
    }
    if (disturbance.jitter > 0.0) time += disturbance.jitter * 0.5 * (2.0 * random.share() - 1.0) / fps;
    for (; stall != stalls.end() && time >= stall->at; ++stall) {
      late += stall->length;
      time += stall->length;
    }
    times.push_back(time);
  }
  return times;
}

/// Game time: each frame's step held at the longest.
std::vector<double> held_back(const std::vector<double>& times, double longest) {
  std::vector<double> game{0.0};
  double lost = 0.0;
  for (std::size_t i = 1; i < times.size(); ++i) {
    lost += std::max(0.0, times[i] - times[i - 1] - longest);
    game.push_back(times[i] - lost);
  }
  return game;
}

GameTime game_time_of(const std::vector<GameSpeed>& speeds) {
  GameTime time;
  for (const GameSpeed& next : speeds) time.change(next);
  return time;
}

/// Each frame's step of game time, slowed and quickened.
std::vector<double> at_game_speed(const std::vector<double>& clock, const std::vector<double>& game,
                                  const std::vector<GameSpeed>& speeds) {
  const GameTime time = game_time_of(speeds);
  std::vector<double> out{0.0};
  double lost = 0.0; // by a longest frame
  for (std::size_t i = 1; i < clock.size(); ++i) {
    const double step = clock[i] - clock[i - 1];
    if (step > 0.0) lost += (1.0 - (game[i] - game[i - 1]) / step) * (time.at(clock[i]) - time.at(clock[i - 1]));
    out.push_back(std::max(time.at(clock[i]) - lost, out.back()));
  }
  return out;
}

} // namespace

Clock clock_at(double fps, std::vector<double> times) {
  Clock clock{fps, static_cast<std::int64_t>(times.size()) - 1};
  clock.times = std::make_shared<const std::vector<double>>(std::move(times));
  return clock;
}

Clock clock_at(double fps, std::vector<double> times, const std::vector<GameSpeed>& speeds) {
  if (speeds.empty()) return clock_at(fps, std::move(times));
  Clock clock = clock_at(fps, at_game_speed(times, times, speeds));
  clock.drawn = std::make_shared<const std::vector<double>>(std::move(times));
  clock.game_time = std::make_shared<const GameTime>(game_time_of(speeds));
  return clock;
}

Clock disturbed_clock(double fps, double length, const Disturbance& disturbance) {
  if (!disturbance.any()) return steady_clock(fps, length);
  std::vector<double> times = disturbed_times(fps, length, disturbance);
  if (!disturbance.longest_frame) return clock_at(fps, std::move(times), disturbance.speeds);
  std::vector<double> game = held_back(times, *disturbance.longest_frame);
  if (!disturbance.speeds.empty()) game = at_game_speed(times, game, disturbance.speeds);
  Clock clock = clock_at(fps, std::move(game));
  clock.drawn = std::make_shared<const std::vector<double>>(std::move(times));
  return clock;
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
  if (!clock.is_steady())
    return std::lower_bound(clock.times->begin(), clock.times->end(), at - instant_slack) - clock.times->begin();
  auto frame = static_cast<std::int64_t>(std::floor((at - instant_slack) * clock.fps));
  if (frame < 0) frame = 0;
  while (at > clock.time(frame) + instant_slack) ++frame;
  return frame;
}

std::int64_t due_frame(const Clock& clock, double at) noexcept {
  if (clock.drawn == nullptr) return first_frame_at(clock, at);
  return std::lower_bound(clock.drawn->begin(), clock.drawn->end(), at - instant_slack) - clock.drawn->begin();
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
double carried_over(const std::vector<double>& from, const std::vector<double>& to, double time) {
  const auto after = std::upper_bound(from.begin() + 1, from.end() - 1, time);
  const auto k = static_cast<std::size_t>(after - from.begin());
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
