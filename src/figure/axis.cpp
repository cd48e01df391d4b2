#include "figure/axis.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace stasis::figure {
namespace {

double round_step(double extent, int most_steps) noexcept {
  const double least = extent / most_steps;
  const double power = std::pow(10.0, std::floor(std::log10(least)));
  for (const double factor : {1.0, 2.0, 5.0, 10.0})
    if (factor * power >= least * (1.0 - 1e-9)) return factor * power;
  return 10.0 * power;
}

int decimals_of(double step) noexcept {
  return std::clamp(-static_cast<int>(std::floor(std::log10(step) + 1e-9)), 0, 12);
}

} // namespace

std::string Axis::tick_text(double tick) const {
  if (std::fabs(tick) < 1e-9 * (high - low)) tick = 0.0;
  const double size = std::max(std::fabs(low), std::fabs(high));
  std::string text = size >= 1e7 || decimals > 6 ? fmt::format("{:.4g}", tick) : fmt::format("{:.{}f}", tick, decimals);
  if (text.front() == '-') text.replace(0, 1, "\u2212");
  return text;
}

Axis value_axis(double low, double high, int most_ticks) {
  const double size = std::max(std::fabs(low), std::fabs(high));
  if (high - low < 1e-9 * std::max(size, 1e-6)) {
    constexpr double nothing = 1e-90; // less is not told from 0, and its ticks could not be
    const double pad = size > nothing ? 0.05 * size : 1.0;
    low -= pad;
    high += pad;
  }
  const double margin = 0.11 * (high - low);
  Axis axis;
  axis.low = low - margin;
  axis.high = high + margin;
  double step = round_step(axis.high - axis.low, 3 * most_ticks); // finer than needed; the first that fits is taken
  const auto first = [&] { return std::ceil(axis.low / step - 1e-9); };
  const auto last = [&] { return std::floor(axis.high / step + 1e-9); };
  while (last() - first() + 1 > most_ticks) step = round_step(step * 1.5, 1);
  // One tick says nothing of the scale.
  const double coarse = step;
  for (const double share : {0.8, 0.6}) {
    if (last() - first() >= 1.0) break;
    step = share * coarse;
    if (last() - first() + 1 > most_ticks) step = coarse;
  }
  axis.decimals = decimals_of(step);
  axis.ticks = multiples_of(step, axis.low, axis.high);
  return axis;
}

std::vector<double> multiples_of(double step, double low, double high) {
  constexpr double slack = 1e-9, most = 10'000;
  const double first = std::ceil(low / step - slack), count = std::floor(high / step + slack) - first;
  std::vector<double> all;
  if (!(count >= 0.0 && count < most)) return all;
  for (int k = 0; k <= static_cast<int>(count); ++k) all.push_back((first + k) * step);
  return all;
}

Axis time_axis(double length, int most_ticks) {
  Axis axis;
  axis.high = length > 0.0 ? length : 1.0;
  const double step = round_step(axis.high, most_ticks - 1);
  axis.decimals = decimals_of(step);
  for (int i = 0; i * step <= axis.high * (1.0 + 1e-9); ++i) axis.ticks.push_back(i * step);
  return axis;
}

} // namespace stasis::figure
