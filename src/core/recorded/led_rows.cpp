#include "core/recorded/led_rows.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include "core/match/row_cleaning.hpp"

namespace stasis {
namespace {

bool are_level(const LedRows& rows, const RowSpan& a, const RowSpan& b) {
  const std::vector<double> one = level_of(rows, a), other = level_of(rows, b);
  for (std::size_t c = 0; c < rows.columns(); ++c)
    if (std::fabs(one[c] - other[c]) * rows.weights[c][a.last] > 1.0) return false;
  return true;
}

/// False of a slow part of a move, or where it turns round: the middle of a rest goes nowhere, by a straight line and
/// a parabola through its rows.
bool stands(const LedRows& rows, const RowSpan& window) {
  constexpr std::size_t enough = 10;
  const std::size_t all = window.last - window.first + 1, trimmed = all >= enough ? all / 5 : 0;
  const std::size_t first = window.first + trimmed, count = all - 2 * trimmed;
  const double n = static_cast<double>(count);
  for (std::size_t c = 0; c < rows.columns(); ++c) {
    double drift = 0.0, sag = 0.0, squares = 0.0, sag_squares = 0.0; // sums with x from -1 to 1, and with x^2 - 1/3
    for (std::size_t k = 0; k < count; ++k) {
      const double x = (2.0 * static_cast<double>(k) + 1.0) / n - 1.0, bent = x * x - (1.0 - 1.0 / (n * n)) / 3.0;
      const double off = (rows.places[c][first + k] - rows.places[c][first]) * rows.weights[c][first];
      drift += x * off;
      squares += x * x;
      sag += bent * off;
      sag_squares += bent * bent;
    }
    constexpr double hardly = 0.1, deviations = 3.0;
    if (std::fabs(drift) / squares > hardly + deviations * rows.noise[c] / std::sqrt(squares)) return false;
    if (std::fabs(sag) / sag_squares > hardly + deviations * rows.noise[c] / std::sqrt(sag_squares)) return false;
  }
  return true;
}

bool stays(const LedRows& rows, std::size_t row, std::vector<double>& low, std::vector<double>& high) {
  constexpr double width = 2.0; // once to either side
  for (std::size_t c = 0; c < rows.columns(); ++c) {
    const double place = rows.places[c][row];
    if ((std::max(high[c], place) - std::min(low[c], place)) * rows.weights[c][row] > width) return false;
  }
  for (std::size_t c = 0; c < rows.columns(); ++c) {
    low[c] = std::min(low[c], rows.places[c][row]);
    high[c] = std::max(high[c], rows.places[c][row]);
  }
  return true;
}

} // namespace

double LedRows::half_row() const noexcept {
  return 0.5 * (times.back() - times.front()) / static_cast<double>(times.size() - 1);
}

LedRows led_rows(const std::vector<double>& times, const std::vector<LedColumn>& columns) {
  LedRows rows;
  rows.times = times;
  for (const LedColumn& column : columns) {
    std::vector<double> places, weights;
    for (const double value : column.values) {
      places.push_back(to_space(column.space, value));
      weights.push_back(std::fabs(stretch(column.space, value)) / column.within);
    }
    rows.places.push_back(std::move(places));
    rows.weights.push_back(std::move(weights));
    constexpr double least = 1e-3;
    const double noise = noise_of(column.values) / column.within;
    rows.noise.push_back(noise > least ? noise : 0.0);
    rows.is_rounded = rows.is_rounded || digit_of(column.values) > 0.0;
  }
  return rows;
}

double distance(const LedRows& rows, std::size_t a, std::size_t b) {
  double square = 0.0;
  for (std::size_t c = 0; c < rows.columns(); ++c) {
    const double step = rows.weights[c][a] * (rows.places[c][b] - rows.places[c][a]);
    square += step * step;
  }
  return std::sqrt(square);
}

std::vector<std::size_t> cuts_of(const LedRows& rows) {
  std::vector<std::size_t> cuts;
  const auto rate = [&](std::size_t c, std::size_t k) { // from row k - 1 to k
    if (k == 0 || k >= rows.times.size()) return 0.0;
    return rows.weights[c][k] * std::fabs(rows.places[c][k] - rows.places[c][k - 1])
           / (rows.times[k] - rows.times[k - 1]);
  };
  constexpr double times_the_rate = 8.0, allowances = 6.0;
  for (std::size_t k = 1; k < rows.times.size(); ++k)
    for (std::size_t c = 0; c < rows.columns(); ++c) {
      const double step = rate(c, k) * (rows.times[k] - rows.times[k - 1]);
      if (step <= allowances || rate(c, k) <= times_the_rate * std::max(rate(c, k - 1), rate(c, k + 1))) continue;
      cuts.push_back(k);
      break;
    }
  return cuts;
}

std::vector<double> level_of(const LedRows& rows, const RowSpan& rest) {
  const std::size_t quarter = (rest.last - rest.first) / 4;
  std::vector<double> level;
  for (std::size_t c = 0; c < rows.columns(); ++c) {
    const double about = rows.places[c][rest.first + quarter];
    double sum = 0.0;
    std::size_t count = 0;
    for (std::size_t k = rest.first + quarter; k <= rest.last - quarter; ++k, ++count) sum += rows.places[c][k] - about;
    const auto first = rows.places[c].begin() + static_cast<std::ptrdiff_t>(rest.first);
    const auto [low, high] =
        std::minmax_element(first, first + static_cast<std::ptrdiff_t>(rest.last - rest.first + 1));
    const double allowed = 1.0 / rows.weights[c][rest.first], mean = about + sum / static_cast<double>(count);
    // No row of the rest may be further off than is allowed.
    level.push_back(*high - *low < 2.0 * allowed ? std::clamp(mean, *high - allowed, *low + allowed)
                                                 : 0.5 * (*low + *high));
  }
  return level;
}

std::vector<RowSpan> rests_in(const LedRows& rows, const RowSpan& section) {
  // Three rows at one place to the last bit are no chance.
  constexpr std::size_t least_rows = 5, least_equal_rows = 3;
  std::vector<RowSpan> windows;
  std::vector<double> low(rows.columns()), high(rows.columns());
  for (std::size_t first = section.first; first + least_equal_rows <= section.last + 1;) {
    std::size_t last = first;
    for (std::size_t c = 0; c < rows.columns(); ++c) low[c] = high[c] = rows.places[c][first];
    while (last < section.last && stays(rows, last + 1, low, high)) ++last;
    const bool are_equal = !rows.is_rounded && low == high && last - first + 1 >= least_equal_rows;
    if (are_equal || (last - first + 1 >= least_rows && stands(rows, {first, last}))) windows.push_back({first, last});
    // Long rests: no need to look at each of their rows.
    constexpr std::size_t long_rest = 64, look_back = 32;
    const bool is_rest = !windows.empty() && windows.back().first == first;
    if (is_rest && last == section.last) break;
    first = is_rest && last - first > long_rest ? last - look_back : first + 1;
  }
  std::sort(windows.begin(), windows.end(),
            [](const RowSpan& a, const RowSpan& b) { return a.last - a.first > b.last - b.first; });
  std::vector<RowSpan> rests;
  for (const RowSpan& window : windows)
    if (std::all_of(rests.begin(), rests.end(),
                    [&](const RowSpan& rest) { return window.last < rest.first || window.first > rest.last; }))
      rests.push_back(window);
  std::sort(rests.begin(), rests.end(), [](const RowSpan& a, const RowSpan& b) { return a.first < b.first; });
  // Two that touch and stand at the same place are one.
  for (std::size_t r = 1; r < rests.size();) {
    if (rests[r].first - rests[r - 1].last > least_rows || !are_level(rows, rests[r - 1], rests[r])) {
      ++r;
      continue;
    }
    rests[r - 1].last = rests[r].last;
    rests.erase(rests.begin() + static_cast<std::ptrdiff_t>(r));
  }
  return rests;
}

} // namespace stasis
