// What is drawn of a take at several frame rates: collected while it is played, thinned where there is much of it.
#pragma once

#include <array>
#include <vector>

#include "core/measure/frame_rates.hpp"
#include "core/unbounded.hpp"
#include "figure/series.hpp"

namespace stasis::figure {

/// Points of a line, of which more than four a pixel column are thinned, and what they reach.
class ThinnedLine {
public:
  explicit ThinnedLine(double extent) : reducer_(extent, 0), extent_(extent) {}

  void add(double time, double value);
  /// Call once, after the last.
  void finish() { points_ = reducer_.finish(); }

  const std::vector<Point>& points() const noexcept { return points_; }
  std::size_t count() const noexcept { return count_; } ///< of what was added
  double low() const noexcept { return low_; }
  double high() const noexcept { return high_; }
  double last() const noexcept { return last_; }
  /// The first that is farthest from 0, and when.
  const Deviation& farthest() const noexcept { return farthest_; }
  double at_farthest() const noexcept { return at_farthest_; } ///< its value

private:
  SeriesReducer reducer_;
  double extent_;
  std::vector<Point> points_;
  std::size_t count_ = 0;
  double low_ = unbounded, high_ = -unbounded, last_ = 0.0, at_farthest_ = 0.0;
  Deviation farthest_;
  bool is_thinned_ = false;
};

/// Collects the lines of play_rates().
class RatesSeries final : public RateRows {
public:
  void begin(const RatesAccount& account) override;
  void add_exact(ComponentRef component, std::span<const double> times, std::span<const double> values) override;
  // many: which play, which component, and its three columns
  void add_frames(std::size_t play, ComponentRef component, std::span<const double> times,
                  std::span<const double> values, std::span<const double> off) override;
  void end() override;

  const ThinnedLine& exact(ComponentRef component) const { return exact_[component.channel][component.component]; }
  const ThinnedLine& values(std::size_t play, ComponentRef component) const {
    return plays_[play][component.channel][component.component].values;
  }
  /// How far each frame is off the exact path.
  const ThinnedLine& off(std::size_t play, ComponentRef component) const {
    return plays_[play][component.channel][component.component].off;
  }

private:
  struct Lines {
    ThinnedLine values, off;
  };
  std::vector<std::vector<ThinnedLine>> exact_;        // by channel, then component
  std::vector<std::vector<std::vector<Lines>>> plays_; // by play, then the same
};

} // namespace stasis::figure
