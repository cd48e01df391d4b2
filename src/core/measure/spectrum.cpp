#include "core/measure/spectrum.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <complex>
#include <span>
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

namespace {

/// The least number that has no other prime factors than 2, 3 and 5: what a transform is quick with.
std::size_t smooth_number(std::size_t least) noexcept {
  std::size_t best = std::bit_ceil(least);
  for (std::size_t fives = 1; fives < best; fives *= 5)
    for (std::size_t odd = fives; odd < best; odd *= 3) {
      std::size_t number = odd;
      while (number < least) number *= 2;
      best = std::min(best, number);
    }
  return best;
}

/// Samples in the middle of `count` even steps, from samples in the middle of others: on the cubic through the four
/// about each.
std::vector<double> resampled(std::span<const double> samples, std::size_t count) {
  const std::size_t given = samples.size();
  constexpr std::size_t about = 4;
  if (count == given || given < about) {
    std::vector<double> same(samples.begin(), samples.end());
    return same;
  }
  std::vector<double> out(count);
  for (std::size_t k = 0; k < count; ++k) {
    const double place = (static_cast<double>(k) + 0.5) * static_cast<double>(given) / static_cast<double>(count) - 0.5;
    const double below = std::clamp(std::floor(place) - 1.0, 0.0, static_cast<double>(given - about));
    const double u = place - below - 1.0;
    const double* s = samples.data() + static_cast<std::size_t>(below);
    out[k] = -s[0] * u * (u - 1.0) * (u - 2.0) / 6.0 + s[1] * (u + 1.0) * (u - 1.0) * (u - 2.0) / 2.0
             - s[2] * (u + 1.0) * u * (u - 2.0) / 2.0 + s[3] * (u + 1.0) * u * (u - 1.0) / 6.0;
  }
  return out;
}

/// Power of a piece that goes on into its mirror image at both ends, by multiples of a quarter of a turn over the
/// piece. Where it ends at nothing it goes on on the other side of zero, as a kicked spring does.
std::vector<double> mirrored_power(std::span<const double> piece) {
  const std::vector<double> one = resampled(piece, smooth_number(piece.size()));
  double square = 0.0;
  for (const double value : one) square += value * value;
  const double nothing = 0.05 * std::sqrt(square / static_cast<double>(one.size()));
  // Half a step beyond the last sample lies the end itself.
  const auto sign_at = [&](double last, double before) {
    return std::fabs(1.5 * last - 0.5 * before) <= nothing ? -1.0 : 1.0;
  };
  const std::size_t end = one.size() - 1, inner = end > 0 ? 1 : 0;
  const double left = sign_at(one[0], one[inner]), right = sign_at(one[end], one[end - inner]);
  std::vector<double> record;
  record.reserve(4 * one.size());
  const auto append = [&](double sign, bool backwards) {
    for (std::size_t k = 0; k < one.size(); ++k) record.push_back(sign * one[backwards ? one.size() - 1 - k : k]);
  };
  append(1.0, false);
  append(right, true);
  append(left * right, false);
  append(left, true);
  std::vector<std::complex<double>> bins;
  Eigen::FFT<double>().fwd(bins, record);
  const std::size_t half = record.size() / 2;
  std::vector<double> power(half + 1);
  const double scale = 1.0 / (4.0 * static_cast<double>(half) * static_cast<double>(half));
  for (std::size_t k = 0; k <= half; ++k) power[k] = (k == 0 || k == half ? 1.0 : 2.0) * std::norm(bins[k]) * scale;
  return power;
}

/// Adds the power of one line to a spectrum, evenly over the bins up to half way to its neighbours, which lie two
/// `half` away; that at 0 stays there. The lines of a shorter piece lie farther apart.
void add_line(std::vector<double>& bins, double at, double half, double power) {
  if (power == 0.0) return;
  const double low = at == 0.0 ? 0.0 : at - half, high = at == 0.0 ? 0.0 : at + half;
  const auto first = static_cast<std::size_t>(std::max(0.0, std::floor(low + 0.5))),
             last = static_cast<std::size_t>(std::floor(high + 0.5));
  if (bins.size() <= last) bins.resize(last + 1);
  if (first == last) {
    bins[first] += power;
    return;
  }
  for (std::size_t bin = first; bin <= last; ++bin) {
    const auto middle = static_cast<double>(bin);
    const double share = std::min(high, middle + 0.5) - std::max(low, middle - 0.5);
    bins[bin] += power * std::max(0.0, share) / (high - low);
  }
}

} // namespace

PowerSpectrum mirrored_spectrum(const std::vector<double>& samples, const std::vector<std::size_t>& ends, double rate) {
  PowerSpectrum out;
  if (samples.empty()) return out;
  const auto all = static_cast<double>(samples.size());
  out.step = 0.25 * rate / all;
  std::size_t from = 0;
  for (const std::size_t end : ends) {
    const std::span<const double> piece(samples.data() + from, end - from);
    const std::vector<double> power = mirrored_power(piece);
    const double share = static_cast<double>(piece.size()) / all;
    for (std::size_t k = 0; k < power.size(); ++k)
      add_line(out.power, static_cast<double>(k) / share, 1.0 / share, share * power[k]);
    from = end;
  }
  return out;
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
