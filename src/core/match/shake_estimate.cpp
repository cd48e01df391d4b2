#include "core/match/shake_estimate.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/match/row_cleaning.hpp"
#include "core/measure/spectrum.hpp"

namespace stasis {
namespace {

constexpr std::size_t fewest_shaken = 12;

class ShakeEstimator {
public:
  explicit ShakeEstimator(const ShakeRows& rows) : rows_(rows), count_(rows.times.size()) {}

  std::optional<ShakeEstimate> run() {
    if (count_ < fewest_shaken) return std::nullopt;
    out_.base = rows_.base.value_or(median(rows_.values));
    constexpr int rounds = 4;
    constexpr double hardly = 1e-3; // of its strength
    for (int round = 0; round < rounds; ++round) {
      if (!find_hit() || !find_strength()) return std::nullopt;
      const double before = out_.base;
      if (!rows_.base) out_.base = weighed_mean();
      if (std::fabs(out_.base - before) < hardly * out_.rms) break;
    }
    find_frequency();
    return out_;
  }

private:
  double off(std::size_t row) const noexcept { return rows_.values[row] - out_.base; }

  /// Half-way between the last row that stands and the first that does not.
  bool find_hit() {
    constexpr double plainly = 5.0; // deviations of the noise
    first_ = 0;
    if (rows_.hit) {
      while (first_ < count_ && rows_.times[first_] < *rows_.hit) ++first_;
      out_.hit = *rows_.hit;
    } else {
      double largest = 0.0;
      for (std::size_t k = 0; k < count_; ++k) largest = std::max(largest, std::fabs(off(k)));
      constexpr double least_share = 0.02;
      const double loud = std::max(plainly * rows_.noise, least_share * largest);
      while (first_ < count_ && std::fabs(off(first_)) <= loud) ++first_;
      if (first_ == count_) return false;
      out_.hit = first_ == 0 ? rows_.times[0] : 0.5 * (rows_.times[first_ - 1] + rows_.times[first_]);
    }
    return count_ - first_ >= fewest_shaken;
  }

  /// The most likely strength, fading and noise of rows whose variance is s^2 e^(-2 f t) + n^2, by Fisher's scoring; n
  /// is known roughly beforehand.
  bool find_strength() {
    const double span = rows_.times.back() - out_.hit;
    double squares = 0.0;
    const std::size_t early = std::max(fewest_shaken, (count_ - first_) / 4);
    for (std::size_t k = first_; k < first_ + early; ++k) squares += off(k) * off(k) / static_cast<double>(early);
    if (!(squares > 0.0) || !(span > 0.0)) return false;
    const double log_before = 0.5 * std::log(std::max(rows_.noise * rows_.noise, 1e-24 * squares));
    const bool is_begun = out_.rms > 0.0; // in the round before
    double log_rms = is_begun ? std::log(out_.rms) : 0.5 * std::log(squares);
    double fading = is_begun ? out_.fading : 2.0 / span, log_noise = is_begun ? std::log(out_.noise) : log_before;
    constexpr int most_rounds = 200;
    constexpr double settled = 1e-6, longest_step = 0.5, roughly = 0.4; // the last: of log_noise, beforehand
    for (int round = 0; round < most_rounds; ++round) {
      Eigen::Matrix3d information = Eigen::Matrix3d::Zero(); // of log_rms, fading * span, log_noise
      Eigen::Vector3d score = Eigen::Vector3d::Zero();
      information(2, 2) = 1.0 / (roughly * roughly);
      score[2] = (log_before - log_noise) / (roughly * roughly);
      for (std::size_t k = 0; k < count_; ++k) {
        const double since = (rows_.times[k] - out_.hit) / span;
        const double own = k < first_ ? 0.0 : std::exp(2.0 * (log_rms - fading * span * since));
        const double all = own + std::exp(2.0 * log_noise), share = own / all;
        const Eigen::Vector3d slope(share, -share * since, 1.0 - share);
        information += 2.0 * slope * slope.transpose();
        score += (off(k) * off(k) / all - 1.0) * slope;
      }
      Eigen::Vector3d step = information.inverse() * score;
      if (!step.allFinite()) return false;
      const double size = step.cwiseAbs().maxCoeff();
      if (size > longest_step) step *= longest_step / size;
      log_rms += step[0];
      fading += step[1] / span;
      log_noise += step[2];
      if (size < settled) break;
    }
    out_.rms = std::exp(log_rms);
    out_.fading = fading;
    out_.noise = std::exp(log_noise);
    constexpr double plainly = 2.0;
    return std::isfinite(out_.rms) && std::isfinite(fading) && out_.rms > plainly * out_.noise;
  }

  double weighed_mean() const {
    double weights = 0.0, sum = 0.0;
    for (std::size_t k = 0; k < count_; ++k) {
      const double own = out_.rms * out_.strength_at(rows_.times[k]);
      // What rattles agrees with itself from row to row: many loud rows tell little more than one.
      const double weight = 1.0 / (own * own + std::max(out_.noise * out_.noise, 1e-12 * out_.rms * out_.rms));
      weights += weight;
      sum += weight * rows_.values[k];
    }
    return sum / weights;
  }

  /// Of the rows without their fading, evenly spaced, where they stand out from the noise.
  void find_frequency() {
    constexpr double plainly = 3.0;
    std::size_t end = first_;
    while (end < count_ && out_.rms * out_.strength_at(rows_.times[end]) > plainly * out_.noise) ++end;
    end = std::max(end, std::min(count_, first_ + fewest_shaken));
    std::vector<double> gaps;
    for (std::size_t k = first_ + 1; k < end; ++k) gaps.push_back(rows_.times[k] - rows_.times[k - 1]);
    const double gap = median(gaps);
    const auto samples = static_cast<std::size_t>((rows_.times[end - 1] - rows_.times[first_]) / gap + 1.0 + 1e-6);
    std::vector<double> even;
    std::size_t row = first_;
    for (std::size_t k = 0; k < samples; ++k) {
      const double time = rows_.times[first_] + static_cast<double>(k) * gap;
      while (row + 2 < end && rows_.times[row + 1] <= time) ++row;
      const double share = (time - rows_.times[row]) / (rows_.times[row + 1] - rows_.times[row]);
      even.push_back(off(row) / out_.strength_at(rows_.times[row]) * (1.0 - share)
                     + off(row + 1) / out_.strength_at(rows_.times[row + 1]) * share);
    }
    const PowerSpectrum spectrum = mirrored_spectrum(even, {even.size()}, 1.0 / gap);
    out_.frequency = spectrum.centroid();
    out_.bandwidth = spectrum.bandwidth();
  }

  const ShakeRows& rows_;
  std::size_t count_, first_ = 0; // of the hit
  ShakeEstimate out_;
};

} // namespace

double ShakeEstimate::strength_at(double time) const noexcept {
  return time < hit ? 0.0 : std::exp(-fading * (time - hit));
}

std::optional<ShakeEstimate> estimate_shake(const ShakeRows& rows) { return ShakeEstimator(rows).run(); }

double quiet_noise(const std::vector<double>& values) {
  constexpr std::size_t window = 8;
  constexpr double quietest = 0.1;
  std::vector<double> deviations;
  for (std::size_t first = 0; first + window <= values.size(); first += window / 2) {
    double mean = 0.0, squares = 0.0;
    for (std::size_t k = first; k < first + window; ++k) mean += values[k] / window;
    for (std::size_t k = first; k < first + window; ++k) squares += std::pow(values[k] - mean, 2);
    deviations.push_back(std::sqrt(squares / (window - 1)));
  }
  if (deviations.empty()) return 0.0;
  const auto at = deviations.begin() + static_cast<std::ptrdiff_t>(quietest * static_cast<double>(deviations.size()));
  std::nth_element(deviations.begin(), at, deviations.end());
  constexpr double of_least = 0.636; // the tenth least of deviations of eight rows, beside theirs
  return std::min(*at / of_least, noise_of(values));
}

} // namespace stasis
