#include "figure/rates_series.hpp"

#include <algorithm>
#include <cmath>

#include "figure/style.hpp"

namespace stasis::figure {

void ThinnedLine::add(double time, double value) {
  constexpr auto columns = static_cast<int>(style::plot_right - style::plot_left);
  // Up to four points a pixel column nothing is gained by thinning.
  if (!is_thinned_ && count_ == 4 * static_cast<std::size_t>(columns)) {
    const std::vector<Point> so_far = reducer_.finish();
    reducer_ = SeriesReducer(extent_, columns);
    for (const Point& point : so_far) reducer_.add(point.x, point.y);
    is_thinned_ = true;
  }
  reducer_.add(time, value);
  ++count_;
  low_ = std::min(low_, value);
  high_ = std::max(high_, value);
  last_ = value;
  if (std::fabs(value) > farthest_.size) {
    farthest_ = {std::fabs(value), time};
    at_farthest_ = value;
  }
}

void RatesSeries::begin(const RatesAccount& account) {
  const ThinnedLine line(account.take->length * (1.0 + 1e-12) + 1e-9);
  exact_.clear();
  for (const Channel& channel : account.feel->channels) exact_.emplace_back(channel.components, line);
  std::vector<std::vector<Lines>> of_play;
  for (const Channel& channel : account.feel->channels) of_play.emplace_back(channel.components, Lines{line, line});
  plays_.assign(account.plays.size(), of_play);
}

void RatesSeries::add_exact(ComponentRef component, std::span<const double> times, std::span<const double> values) {
  ThinnedLine& line = exact_[component.channel][component.component];
  for (std::size_t k = 0; k < times.size(); ++k) line.add(times[k], values[k]);
}

// many: which play, which component, and its three columns
void RatesSeries::add_frames(std::size_t play, ComponentRef component, std::span<const double> times,
                             std::span<const double> values, std::span<const double> off) {
  Lines& lines = plays_[play][component.channel][component.component];
  for (std::size_t k = 0; k < times.size(); ++k) {
    lines.values.add(times[k], values[k]);
    lines.off.add(times[k], off[k]);
  }
}

void RatesSeries::end() {
  for (auto& channel : exact_)
    for (ThinnedLine& line : channel) line.finish();
  for (auto& play : plays_)
    for (auto& channel : play)
      for (Lines& lines : channel) {
        lines.values.finish();
        lines.off.finish();
      }
}

} // namespace stasis::figure
