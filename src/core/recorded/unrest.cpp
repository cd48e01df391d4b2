#include "core/recorded/unrest.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

Unrest unrest_of(const RecordedRows& rows, const Rest& rest, std::size_t component, double noise) {
  const std::size_t first = rest.first, last = rest.last;
  const double n = static_cast<double>(last - first + 1);
  const auto& values = rows.values[component];
  double mean_t = 0.0, mean_v = values[first], tt = 0.0, tv = 0.0, squares = 0.0;
  for (std::size_t k = first; k <= last; ++k) {
    mean_t += rows.times[k] / n;
    mean_v += (values[k] - values[first]) / n;
  }
  for (std::size_t k = first; k <= last; ++k) {
    tt += (rows.times[k] - mean_t) * (rows.times[k] - mean_t);
    tv += (rows.times[k] - mean_t) * (values[k] - mean_v);
  }
  Unrest out;
  out.drift = tt > 0.0 ? tv / tt : 0.0;
  std::vector<double> samples;
  for (std::size_t k = first; k <= last; ++k) {
    samples.push_back(values[k] - mean_v - out.drift * (rows.times[k] - mean_t));
    squares += samples.back() * samples.back();
  }
  out.rms = std::sqrt(squares / n);
  constexpr double two_sided = 1.96, hardly_more = 1.25;
  out.drift_error = tt > 0.0 ? two_sided * std::max(out.rms, noise) / std::sqrt(tt) : 0.0;
  out.is_noise = out.rms <= hardly_more * noise;
  const double gap = (rows.times[last] - rows.times[first]) / std::max(1.0, n - 1.0);
  out.spectrum = power_spectrum(samples, 1.0 / std::max(1e-9, gap));
  return out;
}

} // namespace stasis
