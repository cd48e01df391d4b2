// What a shake does to one component, at instants of a fine grid that has nothing to do with frames.
#pragma once

#include <cstdint>
#include <limits>
#include <optional>
#include <vector>

#include "core/measure/spectrum.hpp"

namespace stasis {

/// Samples in the order of time. A record that grows long is thinned out, and at last cut off.
class ShakeRecord {
public:
  /// \param rate samples a second. \param finest by how many of them the wave's shortest period is told.
  ShakeRecord(double rate, int finest) : rate_(rate), most_thin_(finest / least_a_period) {}

  void add(double value);
  /// So many samples without any shaking.
  void add_quiet(std::int64_t count) { quiet_ += count; }
  /// The value has leapt since the sample before.
  void leap();

  /// Mean of the squares over what was shaken, gaps between left out; 0 without samples.
  double mean_square() const noexcept;
  /// The same of the slope, 1/s2, leaps left out.
  double slope_mean_square() const;
  /// Of all that was shaken, from the first sample to the last one that was not quiet; what lies between two leaps is
  /// looked at by itself.
  PowerSpectrum spectrum() const;
  /// True if what comes now is left out.
  bool is_full() const noexcept { return is_full_; }
  /// s that have been left out at the end.
  double left_out() const noexcept { return static_cast<double>(cut_off_) / rate_; }

private:
  static constexpr int least_a_period = 16;

  void keep(double value);
  /// How many of the samples kept are not of a gap between two shakes.
  double felt_samples() const noexcept;
  void thin_out();
  /// Where each piece between two leaps ends, among the samples kept.
  std::vector<std::size_t> piece_ends() const;

  double rate_;
  int most_thin_;
  int thin_ = 1;             // every so manieth sample is kept
  std::int64_t seen_ = 0;    // samples, quiet ones at the end not counted
  std::int64_t quiet_ = 0;   // the quiet ones at the end
  std::int64_t gaps_ = 0;    // of those seen, the quiet ones between others
  std::int64_t cut_off_ = 0; // samples that came when there was no room any more
  bool is_full_ = false;
  std::vector<double> samples_;     // those kept
  std::vector<std::int64_t> leaps_; // number of the sample before which each leap lies
};

} // namespace stasis
