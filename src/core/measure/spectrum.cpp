#include "core/measure/spectrum.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <complex>
#include <unsupported/Eigen/FFT>

#include "core/units.hpp"

namespace stasis {

double PowerSpectrum::total() const noexcept {
  double sum = 0.0;
  for (const double p : power) sum += p;
  return sum;
}

double PowerSpectrum::centroid() const noexcept {
  double sum = 0.0, moment = 0.0;
  for (std::size_t k = 0; k < power.size(); ++k) {
    sum += power[k];
    moment += power[k] * step * static_cast<double>(k);
  }
  return sum > 0.0 ? moment / sum : 0.0;
}

double PowerSpectrum::bandwidth() const noexcept {
  const double middle = centroid();
  double sum = 0.0, square = 0.0;
  for (std::size_t k = 0; k < power.size(); ++k) {
    const double off = step * static_cast<double>(k) - middle;
    sum += power[k];
    square += power[k] * off * off;
  }
  return sum > 0.0 ? std::sqrt(square / sum) : 0.0;
}

double PowerSpectrum::share_between(double low, double high) const noexcept {
  double sum = 0.0, inside = 0.0;
  for (std::size_t k = 0; k < power.size(); ++k) {
    const double f = step * static_cast<double>(k);
    sum += power[k];
    if (f >= low && f < high) inside += power[k];
  }
  return sum > 0.0 ? inside / sum : 0.0;
}

double PowerSpectrum::rate_rms() const noexcept {
  double sum = 0.0;
  for (std::size_t k = 0; k < power.size(); ++k) {
    const double w = angular_frequency(step * static_cast<double>(k));
    sum += power[k] * w * w;
  }
  return std::sqrt(sum);
}

PowerSpectrum power_spectrum(const std::vector<double>& samples, double rate) {
  constexpr std::size_t most = std::size_t{1} << 18;
  const std::size_t count = std::min(samples.size(), most);
  PowerSpectrum out;
  if (count == 0) return out;
  // Zeros behind the samples only look closer at the same spectrum.
  const std::size_t size = std::bit_ceil(std::max<std::size_t>(count, 2));
  std::vector<double> padded(samples.begin(), samples.begin() + static_cast<std::ptrdiff_t>(count));
  padded.resize(size, 0.0);
  std::vector<std::complex<double>> bins;
  Eigen::FFT<double>().fwd(bins, padded);
  out.step = rate / static_cast<double>(size);
  out.power.resize(size / 2 + 1);
  const double scale = 1.0 / (static_cast<double>(size) * static_cast<double>(count));
  for (std::size_t k = 0; k < out.power.size(); ++k)
    out.power[k] = (k == 0 || k == size / 2 ? 1.0 : 2.0) * std::norm(bins[k]) * scale;
  return out;
}

} // namespace stasis
