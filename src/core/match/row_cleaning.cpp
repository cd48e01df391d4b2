#include "core/match/row_cleaning.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

double median(std::vector<double> values) {
  if (values.empty()) return 0.0;
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

namespace {

/// True if values that were rounded to a digit would look like these: many, and where they move, by irregular steps. A
/// path that happens to lie on round numbers goes by even ones, as a straight one does, or jumps between a few.
bool looks_rounded(const std::vector<double>& values, double digit) {
  constexpr std::size_t few = 5;
  std::vector<double> different;
  for (const double value : values)
    if (different.size() < few && std::find(different.begin(), different.end(), value) == different.end())
      different.push_back(value);
  if (different.size() < few) return false;
  std::size_t moving = 0, uneven = 0;
  for (std::size_t k = 3; k < values.size(); ++k) {
    const double a = values[k] - values[k - 1], b = values[k - 1] - values[k - 2], c = values[k - 2] - values[k - 3];
    if (a == 0.0 && b == 0.0 && c == 0.0) continue;
    ++moving;
    constexpr double half = 0.5;
    if (std::fabs(a - 2.0 * b + c) > half * digit) ++uneven;
  }
  constexpr std::size_t share = 5; // one in so many
  return uneven * share > moving;
}

} // namespace

double digit_of(const std::vector<double>& values) {
  for (int places = 0; places <= 6; ++places) {
    const double scale = std::pow(10.0, places);
    const bool all = std::all_of(values.begin(), values.end(), [&](double v) {
      constexpr double hair = 1e-6, rounding = 1e-15;
      return std::fabs(v * scale - std::round(v * scale)) < hair + rounding * std::fabs(v * scale);
    });
    if (all) return looks_rounded(values, 1.0 / scale) ? 1.0 / scale : 0.0;
  }
  return 0.0;
}

namespace {

/// Median size of the differences of one order, as the deviation of noise that would leave as much.
double noise_by(const std::vector<double>& values, int order) {
  std::vector<double> left = values;
  double squares = 1.0; // of the binomial coefficients
  for (int k = 1; k <= order; ++k) {
    for (std::size_t i = 0; i + 1 < left.size(); ++i) left[i] = left[i + 1] - left[i];
    if (!left.empty()) left.pop_back();
    squares *= 2.0 * (2.0 * k - 1.0) / k;
  }
  for (double& difference : left) difference = std::fabs(difference);
  constexpr double of_normal = 0.6744897501960817; // median of |x|
  return median(std::move(left)) / (of_normal * std::sqrt(squares));
}

} // namespace

double noise_of(const std::vector<double>& values) {
  const double third = noise_by(values, 3), eighth = noise_by(values, 8);
  // Of noise both tell the same; of a path that is seldom sampled the lower order tells the path.
  constexpr double plainly_less = 0.6;
  return eighth < plainly_less * third ? eighth : third;
}

std::vector<std::size_t> clean_rows(const std::vector<double>& y, RowCleaning& out) {
  out.digit = digit_of(y);
  const double first_noise = noise_of(y);
  std::vector<std::size_t> kept;
  for (std::size_t k = 0; k < y.size(); ++k) {
    // In rounded values a repeat is one only where the step would have been seen.
    const double around = k > 1 && k + 1 < y.size() ? std::fabs(y[k + 1] - y[k - 2]) / 3.0 : 0.0;
    if (k > 1 && k + 1 < y.size() && y[k] == y[k - 1] && around > 3.0 * std::max(out.digit, first_noise)
        && y[k - 1] != y[k - 2] && y[k + 1] != y[k]) {
      ++out.repeated;
      continue;
    }
    kept.push_back(k);
  }
  std::vector<double> values;
  for (const std::size_t k : kept) values.push_back(y[k]);
  out.noise = noise_of(values);
  std::vector<std::size_t> near;
  for (std::size_t i = 0; i < kept.size(); ++i) {
    std::vector<double> around, spreads;
    for (std::size_t j = i >= 3 ? i - 3 : 0; j < std::min(kept.size(), i + 4); ++j)
      if (j != i) around.push_back(values[j]);
    const double middle = median(around);
    for (const double v : around) spreads.push_back(std::fabs(v - middle));
    const double spread = std::max({median(spreads), out.noise, out.digit});
    constexpr double far = 6.0;
    if (spread > 0.0 && std::fabs(values[i] - middle) > far * spread && i > 0 && i + 1 < kept.size()) {
      // A jump of the path itself has company on its other side.
      const double before = std::fabs(values[i] - values[i - 1]), after = std::fabs(values[i] - values[i + 1]);
      if (before > far * spread && after > far * spread) {
        ++out.outliers;
        continue;
      }
    }
    near.push_back(kept[i]);
  }
  return near;
}

} // namespace stasis
