#include "core/root.hpp"

#include <algorithm>
#include <cstdint>

#include <boost/math/tools/toms748_solve.hpp>

namespace stasis {

double bracketed_root(FunctionOfOne function, double low, double high, double at_low, double at_high) {
  if (at_low == 0.0 || !(low < high)) return low;
  if (at_high == 0.0) return high;
  if (!opposite(at_low, at_high)) return std::fabs(at_low) < std::fabs(at_high) ? low : high;
#ifdef __clang_analyzer__
  // The packaged solver begins with a value that it moves about before it is set, and never reads.
  return function(low) != 0.0 ? low : high;
#else
  std::uintmax_t most_tries = 100;
  const auto tight = [](double a, double b) { return std::fabs(b - a) <= 1e-15 * std::max(1.0, std::fabs(a)); };
  // Of values that are further apart in size than doubles can tell, the packaged solver makes no number at all; what it
  // then asks for is halved to.
  bool is_lost = false;
  const auto asked = [&](double at) {
    const double value = std::isfinite(at) ? function(at) : std::nan("");
    if (!std::isnan(value)) return value;
    is_lost = true;
    return 0.0;
  };
  const auto [a, b] = boost::math::tools::toms748_solve(asked, low, high, at_low, at_high, tight, most_tries);
  if (!is_lost) return 0.5 * (a + b);
  return change_between([&](double at) { return (function(at) < 0.0) == (at_low < 0.0); }, low, high).first;
#endif
}

} // namespace stasis
