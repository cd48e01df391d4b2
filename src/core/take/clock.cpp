#include "core/take/clock.hpp"

#include <cmath>

namespace stasis {

Clock steady_clock(double fps, double length) noexcept {
  Clock clock{fps, 1};
  auto last = static_cast<std::int64_t>(std::floor((length + instant_slack) * fps)) + 1;
  while (last > 0 && clock.time(last) > length + instant_slack) --last;
  clock.frames = last + 1;
  return clock;
}

std::int64_t due_frame(const Clock& clock, double at) noexcept {
  auto frame = static_cast<std::int64_t>(std::floor((at - instant_slack) * clock.fps));
  if (frame < 0) frame = 0;
  while (at > clock.time(frame) + instant_slack) ++frame;
  return frame;
}

} // namespace stasis
