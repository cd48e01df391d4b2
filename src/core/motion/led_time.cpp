#include "core/motion/led_time.hpp"

#include <algorithm>
#include <cmath>

#include "core/unbounded.hpp"

namespace stasis {
namespace {

/// Seconds on the clock of the first pass, and of each later one.
double first_pass(const LedTime& time) noexcept {
  return (time.backward ? time.to - time.from : time.to - time.first) / time.pace;
}
double later_pass(const LedTime& time) noexcept { return (time.to - time.from) / time.pace; }

} // namespace

double LedTime::total() const noexcept {
  if (passes == 0) return unbounded;
  return first_pass(*this) + static_cast<double>(passes - 1) * later_pass(*this);
}

LedPlace place_at(const LedTime& time, double elapsed, bool before) noexcept {
  const double first = first_pass(time), later = later_pass(time);
  const auto in_pass = [&](double number, double into, double length) -> LedPlace {
    const bool odd = std::fmod(number, 2.0) != 0.0;
    const bool back = time.backward != (time.there_and_back && odd);
    const double begin = number == 0.0 && !back ? time.first : back ? time.to : time.from;
    const double end = back ? time.from : time.to;
    const double left = std::max(0.0, length - into), rate = back ? -time.pace : time.pace;
    // From the nearer end, so that both ends are exact.
    return {into <= left ? begin + rate * into : end - rate * left, rate, left, false};
  };
  // A time is a sum: what misses the end of a pass by a rounding is at it.
  const double rounding = 1e-12 * std::max(1.0, elapsed);
  const auto meets = [&](double instant) { return std::fabs(elapsed - instant) <= rounding; };
  if (meets(first) ? before : elapsed < first) return in_pass(0.0, meets(first) ? first : elapsed, first);
  const double total = time.total();
  const double last = time.passes == 0 ? unbounded : static_cast<double>(time.passes - 1);
  if (elapsed >= total || meets(total)) {
    LedPlace end = in_pass(last, last == 0.0 ? first : later, last == 0.0 ? first : later);
    end.is_over = !before || !meets(total);
    return end;
  }
  const double nearest = std::round((elapsed - first) / later);
  if (meets(first + nearest * later) && nearest < last)
    return before && nearest > 0.0 ? in_pass(nearest, later, later) : in_pass(nearest + 1.0, 0.0, later);
  const double number = std::min(std::floor((elapsed - first) / later), last - 1.0);
  return in_pass(number + 1.0, std::clamp(elapsed - first - number * later, 0.0, later), later);
}

} // namespace stasis
