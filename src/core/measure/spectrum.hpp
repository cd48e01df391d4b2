// The power spectrum of a stretch of evenly spaced samples.
#pragma once

#include <vector>

namespace stasis {

/// Power by frequency: of the samples as they are, without a window and with their mean left in.
struct PowerSpectrum {
  double step = 1.0;         ///< Hz from one entry to the next, the first at 0
  std::vector<double> power; ///< up to half the sampling rate; sums to the mean square of the samples

  double total() const noexcept;
  /// Mean frequency, weighted by power, Hz; 0 without power.
  double centroid() const noexcept;
  /// Root of the mean squared distance from the centroid, weighted by power, Hz.
  double bandwidth() const noexcept;
  /// Share (0..1) of the power between two frequencies.
  double share_between(double low, double high) const noexcept;
  /// Root mean square of the samples' rate of change, units/s.
  double rate_rms() const noexcept;
};

/// Of pieces that lie between leaps, each going on into its mirror image at both ends, so that leaps are not taken for
/// movement.
/// \param samples at `rate` a second, in the middle of each step. \param ends where each piece ends, ascending, the
/// last one the number of samples.
PowerSpectrum mirrored_spectrum(const std::vector<double>& samples, const std::vector<std::size_t>& ends, double rate);

/// \param samples at `rate` a second; at most 2^18 of them are looked at, from the first on.
PowerSpectrum power_spectrum(const std::vector<double>& samples, double rate);

} // namespace stasis
