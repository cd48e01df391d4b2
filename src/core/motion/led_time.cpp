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
  if (elapsed < first || (before && elapsed == first)) return in_pass(0.0, elapsed, first);
  const double total = time.total();
  const double last = time.passes == 0 ? unbounded : static_cast<double>(time.passes - 1);
  if (elapsed >= total) {
    LedPlace end = in_pass(last, last == 0.0 ? first : later, last == 0.0 ? first : later);
    end.is_over = elapsed > total || !before;
    return end;
  }
  double number = std::floor((elapsed - first) / later);
  if (before && number * later == elapsed - first && number > 0.0) number -= 1.0;
  number = std::min(number, last - 1.0);
  return in_pass(number + 1.0, std::min(elapsed - first - number * later, later), later);
}

} // namespace stasis
