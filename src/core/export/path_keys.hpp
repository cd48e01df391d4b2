// The fewest keys for a path through space, or for turns, whichever way of going from key to key needs least.
#pragma once

#include <cstddef>
#include <vector>

namespace stasis {

/// A path sample by sample: `width` numbers each, one after the other.
struct SampledPath {
  std::vector<double> times;    ///< s, ascending
  std::size_t width = 1;        ///< 1 to 4
  std::vector<double> values;   ///< times.size() * width
  bool is_turn = false;         ///< quaternions, of length 1: near means a small angle between them
  std::vector<double> slopes{}; ///< as values, per second: see fill_slopes()
};

/// At each sample the slope of the parabola through it and its neighbours, at the ends of the line to the neighbour; of
/// a turn that of its numbers.
void fill_slopes(SampledPath& path);

/// How one gets from key to key. Source: glTF 2.0, appendix C.
enum class KeyPath : std::size_t {
  step,   ///< it stays, then leaps
  linear, ///< straight, a turn evenly about one axis
  cubic,  ///< a cubic with a slope at each key
};

struct PathKeys {
  KeyPath path = KeyPath::linear;
  std::vector<std::size_t> at; ///< samples, ascending: the first one, and except for steps the last one too
};

/// How far two samples of the same path lie apart: a distance, or an angle in radians.
double apart(const SampledPath& path, const double* a, const double* b) noexcept;
/// What a path of keys shows at a sample's time, `from` and `to` being the keys around it.
void show(const SampledPath& path, KeyPath kind, std::size_t from, std::size_t to, std::size_t at, double* out);

/// The fewest numbers that keep every sample within `tolerance` (of apart()): for each way the fewest keys, exact.
/// \param path with its slopes
PathKeys path_keys(const SampledPath& path, double tolerance);

} // namespace stasis
