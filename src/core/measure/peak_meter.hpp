// The largest of a value that is looked at at even steps.
#pragma once

#include <limits>
#include <optional>

namespace stasis {

/// Keeps the largest of values that may never come.
inline void keep_largest(std::optional<double>& kept, double value) noexcept {
  if (!kept || value > *kept) kept = value;
}

/// The top of a parabola.
struct Top {
  double value, time;
};

/// The largest of a smooth value that is told at even steps.
class PeakMeter {
public:
  /// A sample and its time, s. \returns the top of the parabola through the last three, where it is the largest so far:
  /// whoever can look there tells what is really there, by note().
  std::optional<Top> add(double value, double time, double step) noexcept;
  void note(double value, double time) noexcept;
  /// A value that is not part of the even steps: it counts as it is, and what comes next is not joined to what was.
  void add_alone(double value, double time) noexcept;

  /// Nothing before the first value.
  std::optional<double> largest() const noexcept { return largest_ > lowest ? std::optional(largest_) : std::nullopt; }
  /// s: when that was.
  double at() const noexcept { return at_; }

private:
  static constexpr double lowest = -std::numeric_limits<double>::infinity();
  double before_ = 0.0, middle_ = 0.0; // the last two samples
  int known_ = 0;
  double largest_ = lowest, at_ = 0.0;
};

} // namespace stasis
