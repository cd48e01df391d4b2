#include "core/export/fewest_keys.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace stasis {
namespace {

constexpr std::size_t nowhere = std::numeric_limits<std::size_t>::max();

/// Whether one piece holds, looking first where the last one that did not was furthest off: its neighbours mostly fail
/// there too.
class PieceCheck {
public:
  PieceCheck(const std::vector<SlopedSample>& samples, double tolerance) : samples_(samples), tolerance_(tolerance) {}

  bool holds(std::size_t from, std::size_t to) {
    if (from < suspect_ && suspect_ < to && is_off(from, to, suspect_)) return false;
    const std::size_t middle = from + (to - from) / 2;
    for (std::size_t k = middle; k < to; ++k)
      if (is_off(from, to, k)) return false;
    for (std::size_t k = from + 1; k < middle; ++k)
      if (is_off(from, to, k)) return false;
    return true;
  }

private:
  bool is_off(std::size_t from, std::size_t to, std::size_t at) {
    if (at == from) return false;
    const bool off =
        !(std::fabs(hermite(samples_[from], samples_[to], samples_[at].time) - samples_[at].value) <= tolerance_);
    if (off) suspect_ = at;
    return off;
  }

  const std::vector<SlopedSample>& samples_;
  double tolerance_;
  std::size_t suspect_ = 0;
};

} // namespace

double hermite(const SlopedSample& a, const SlopedSample& b, double time) noexcept {
  const double h = b.time - a.time, u = (time - a.time) / h, v = 1.0 - u;
  const double rise = b.value - a.value, s = u * u * (3.0 - 2.0 * u);
  return a.value + s * rise + h * u * v * (v * a.slope_out - u * b.slope_in);
}

std::vector<std::size_t> fewest_pieces(std::size_t count, const std::function<bool(std::size_t, std::size_t)>& holds) {
  std::vector<std::size_t> before(count, nowhere), layer{0}, open;
  for (std::size_t k = 1; k < count; ++k) open.push_back(k); // not reached yet, ascending
  while (count > 1 && before[count - 1] == nowhere) {
    std::vector<std::size_t> next;
    for (const std::size_t from : layer) {
      std::vector<std::size_t> left;
      for (const std::size_t to : open) {
        if (to > from && holds(from, to)) {
          before[to] = from;
          next.push_back(to);
        } else {
          left.push_back(to);
        }
      }
      open.swap(left);
    }
    std::sort(next.begin(), next.end());
    layer.swap(next);
  }
  std::vector<std::size_t> keys{count - 1};
  while (keys.back() != 0) keys.push_back(before[keys.back()]);
  std::reverse(keys.begin(), keys.end());
  return keys;
}

std::vector<std::size_t> fewest_keys(const std::vector<SlopedSample>& samples, double tolerance) {
  PieceCheck check(samples, tolerance);
  return fewest_pieces(samples.size(), [&](std::size_t from, std::size_t to) { return check.holds(from, to); });
}

} // namespace stasis
