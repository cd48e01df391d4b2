#include "core/measure/shake_record.hpp"

#include <algorithm>
#include <cmath>
#include <span>

namespace stasis {
namespace {

constexpr std::size_t roomy_samples = std::size_t{1} << 16;
constexpr std::size_t most_samples = std::size_t{1} << 20;

} // namespace

void ShakeRecord::keep(double value) {
  if (seen_ % thin_ == 0) {
    if (samples_.size() >= roomy_samples && thin_ < most_thin_) thin_out();
    if (seen_ % thin_ == 0) samples_.push_back(value);
  }
  ++seen_;
  is_full_ = samples_.size() >= most_samples;
}

/// Every second sample goes.
void ShakeRecord::thin_out() {
  thin_ *= 2;
  for (std::size_t k = 0; 2 * k < samples_.size(); ++k) samples_[k] = samples_[2 * k];
  samples_.resize((samples_.size() + 1) / 2);
}

void ShakeRecord::add(double value) {
  for (; quiet_ > 0 && !is_full_; --quiet_, ++gaps_) keep(0.0);
  if (!is_full_) return keep(value);
  cut_off_ += quiet_ + 1;
  quiet_ = 0;
}

void ShakeRecord::leap() { leaps_.push_back(seen_ + quiet_); }

double ShakeRecord::mean_square() const noexcept {
  double sum = 0.0;
  for (const double value : samples_) sum += value * value;
  return samples_.empty() ? 0.0 : sum / felt_samples();
}

double ShakeRecord::felt_samples() const noexcept {
  return static_cast<double>(samples_.size()) * static_cast<double>(seen_ - gaps_) / static_cast<double>(seen_);
}

std::vector<std::size_t> ShakeRecord::piece_ends() const {
  std::vector<std::size_t> ends;
  for (const std::int64_t leap : leaps_) {
    const auto end = std::min(samples_.size(), static_cast<std::size_t>((leap + thin_ - 1) / thin_));
    if (end > (ends.empty() ? 0 : ends.back())) ends.push_back(end);
  }
  if (ends.empty() || ends.back() < samples_.size()) ends.push_back(samples_.size());
  return ends;
}

namespace {

/// Sum of the squares of a piece's slope, in steps, each half a step at its ends counted half.
double sum_of_slopes(std::span<const double> piece) {
  if (piece.size() < 2) return 0.0;
  std::vector<double> slopes;
  for (std::size_t k = 1; k < piece.size(); ++k) {
    const double chord = piece[k] - piece[k - 1];
    // In the middle of a step, of fourth order where there is a neighbour on either side.
    const bool is_inner = k >= 2 && k + 1 < piece.size();
    slopes.push_back(is_inner ? (27.0 * chord - (piece[k + 1] - piece[k - 2])) / 24.0 : chord);
  }
  double sum = 0.0;
  for (const double slope : slopes) sum += slope * slope;
  // The middle of the half step at an end lies three quarters of a step before the first slope.
  const auto at_end = [](double first, double second) { return first + 0.75 * (first - second); };
  const std::size_t last = slopes.size() - 1, inner = last > 0 ? 1 : 0;
  const double begins = at_end(slopes[0], slopes[inner]), ends = at_end(slopes[last], slopes[last - inner]);
  return sum + 0.5 * (begins * begins + ends * ends);
}

} // namespace

double ShakeRecord::slope_mean_square() const {
  const double rate = rate_ / thin_;
  double sum = 0.0;
  std::size_t from = 0;
  for (const std::size_t end : piece_ends()) {
    sum += sum_of_slopes({samples_.data() + from, end - from});
    from = end;
  }
  return samples_.empty() ? 0.0 : sum * rate * rate / felt_samples();
}

PowerSpectrum ShakeRecord::spectrum() const { return mirrored_spectrum(samples_, piece_ends(), rate_ / thin_); }

} // namespace stasis
