#include "core/take/clock.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include "core/random.hpp"

namespace stasis {

Clock steady_clock(double fps, double length) noexcept {
  Clock clock{fps, 1};
  auto last = static_cast<std::int64_t>(std::floor((length + instant_slack) * fps)) + 1;
  while (last > 0 && clock.time(last) > length + instant_slack) --last;
  clock.frames = last + 1;
  return clock;
}

Clock disturbed_clock(double fps, double length, const Disturbance& disturbance) {
  Clock clock = steady_clock(fps, length);
  if (!disturbance.any()) return clock;
  Random random(disturbance.seed);
  std::vector<double> times{0.0};
  auto stall = disturbance.stalls.begin();
  double late = 0.0; // by stalls; a frame's own jitter does not add up
  for (std::int64_t frame = 1; times.back() <= length + instant_slack; ++frame) {
    const double shift = disturbance.jitter * 0.5 * (2.0 * random.share() - 1.0) / fps;
    double time = static_cast<double>(frame) / fps + late + shift;
    for (; stall != disturbance.stalls.end() && time >= stall->at; ++stall) {
      late += stall->length;
      time += stall->length;
    }
    times.push_back(time);
  }
  clock.frames = static_cast<std::int64_t>(times.size()) - 1;
  clock.times = std::make_shared<const std::vector<double>>(std::move(times));
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

std::int64_t due_frame(const Clock& clock, double at) noexcept {
  if (!clock.is_steady()) {
    const auto first = std::lower_bound(clock.times->begin(), clock.times->end(), at - instant_slack);
    return first - clock.times->begin();
  }
  auto frame = static_cast<std::int64_t>(std::floor((at - instant_slack) * clock.fps));
  if (frame < 0) frame = 0;
  while (at > clock.time(frame) + instant_slack) ++frame;
  return frame;
}

} // namespace stasis
