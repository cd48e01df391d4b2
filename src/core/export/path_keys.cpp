#include "core/export/path_keys.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "core/export/fewest_keys.hpp"

namespace stasis {
namespace {

constexpr std::size_t widest = 4;

const double* row_of(const SampledPath& path, std::size_t sample) { return path.values.data() + sample * path.width; }

/// Whether a piece holds, looking first where the last one that did not was off.
class PathPieces {
public:
  PathPieces(const SampledPath& path, KeyPath kind, double tolerance)
      : path_(path), kind_(kind), tolerance_(tolerance) {}

  bool operator()(std::size_t from, std::size_t to) {
    if (from < suspect_ && suspect_ < to && is_off(from, to, suspect_)) return false;
    for (std::size_t at = from + 1; at < to; ++at)
      if (is_off(from, to, at)) return false;
    return true;
  }

private:
  bool is_off(std::size_t from, std::size_t to, std::size_t at) {
    std::array<double, widest> shown{};
    show(path_, kind_, from, to, at, shown.data());
    const bool off = !(apart(path_, shown.data(), row_of(path_, at)) <= tolerance_);
    if (off) suspect_ = at;
    return off;
  }

  const SampledPath& path_;
  KeyPath kind_;
  double tolerance_;
  std::size_t suspect_ = 0;
};

/// Steps: a key wherever the value has left the last key's.
std::vector<std::size_t> steps_of(const SampledPath& path, double tolerance) {
  std::vector<std::size_t> at{0};
  for (std::size_t k = 1; k < path.times.size(); ++k)
    if (!(apart(path, row_of(path, at.back()), row_of(path, k)) <= tolerance)) at.push_back(k);
  return at;
}

} // namespace

void fill_slopes(SampledPath& path) {
  const std::size_t count = path.times.size(), last = count - 1;
  path.slopes.assign(path.values.size(), 0.0);
  const auto chord = [&](std::size_t a, std::size_t i) {
    return (row_of(path, a + 1)[i] - row_of(path, a)[i]) / (path.times[a + 1] - path.times[a]);
  };
  for (std::size_t k = 0; k < count && last > 0; ++k)
    for (std::size_t i = 0; i < path.width; ++i) {
      double& slope = path.slopes[k * path.width + i];
      if (k == 0 || k == last) {
        slope = chord(k == 0 ? 0 : last - 1, i);
        continue;
      }
      const double before = path.times[k] - path.times[k - 1], after = path.times[k + 1] - path.times[k];
      slope = (chord(k - 1, i) * after + chord(k, i) * before) / (before + after);
    }
}

double apart(const SampledPath& path, const double* a, const double* b) noexcept {
  double near = 0.0, turned = 0.0; // to b, and to the same turn by the other quaternion
  for (std::size_t i = 0; i < path.width; ++i) {
    near += (a[i] - b[i]) * (a[i] - b[i]);
    turned += (a[i] + b[i]) * (a[i] + b[i]);
  }
  if (!path.is_turn) return std::sqrt(near);
  return 4.0 * std::asin(std::min(1.0, 0.5 * std::sqrt(std::min(near, turned))));
}

// many: a path, how it goes, the keys around a sample
void show(const SampledPath& path, KeyPath kind, std::size_t from, std::size_t to, std::size_t at, double* out) {
  const double *a = row_of(path, from), *b = row_of(path, to);
  const double length = path.times[to] - path.times[from], u = (path.times[at] - path.times[from]) / length;
  double first = 1.0 - u, second = u; // shares of the keys
  switch (kind) {
  case KeyPath::step: std::copy_n(a, path.width, out); return;
  case KeyPath::linear: {
    double cosine = 0.0;
    for (std::size_t i = 0; i < path.width; ++i) cosine += a[i] * b[i];
    const double angle = std::acos(std::clamp(cosine, -1.0, 1.0));
    constexpr double no_turn = 1e-6;
    if (path.is_turn && angle > no_turn) {
      first = std::sin((1.0 - u) * angle) / std::sin(angle);
      second = std::sin(u * angle) / std::sin(angle);
    }
    for (std::size_t i = 0; i < path.width; ++i) out[i] = first * a[i] + second * b[i];
    return;
  }
  case KeyPath::cubic: {
    const double *leaving = path.slopes.data() + from * path.width, *coming = path.slopes.data() + to * path.width;
    double size = 0.0;
    for (std::size_t i = 0; i < path.width; ++i) {
      out[i] =
          hermite({path.times[from], a[i], 0.0, leaving[i]}, {path.times[to], b[i], coming[i], 0.0}, path.times[at]);
      size += out[i] * out[i];
    }
    for (std::size_t i = 0; i < path.width && path.is_turn; ++i) out[i] /= std::sqrt(size);
    return;
  }
  }
}

PathKeys path_keys(const SampledPath& path, double tolerance) {
  const auto fewest = [&](KeyPath kind) {
    PathPieces holds(path, kind, tolerance);
    return PathKeys{kind, fewest_pieces(path.times.size(), holds)};
  };
  // Where two need the same, straight lines: between frames they are nearer to the path than stairs are.
  PathKeys best = fewest(KeyPath::linear);
  constexpr std::size_t numbers_a_cubic_key = 3;
  if (PathKeys cubic = fewest(KeyPath::cubic); numbers_a_cubic_key * cubic.at.size() < best.at.size())
    best = std::move(cubic);
  const std::size_t numbers = best.at.size() * (best.path == KeyPath::cubic ? numbers_a_cubic_key : 1);
  if (std::vector<std::size_t> steps = steps_of(path, tolerance); steps.size() < numbers)
    best = {KeyPath::step, std::move(steps)};
  return best;
}

} // namespace stasis
