// The rules that a recorded move is held against: a step from 0 to 1 with free numbers.
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/curve/curve.hpp"
#include "core/motion/motion.hpp"

namespace stasis {

/// One number of a motion, as a feel has it.
struct MatchedNumber {
  std::string_view name; ///< "half_life"
  double value;
  std::string_view unit; ///< "s", "Hz"; "per_second" and "per_second2" of the channel's unit; empty for a ratio
};

/// A shape from which a search may begin: all unknowns but the first, which is a size of time, and the step at even
/// places of its own time, near enough to choose by.
class StartShape {
public:
  /// \param rate true if own time is time times exp(first unknown), without an end; else it is divided by that, and
  /// ends at 1.
  StartShape(const class StepRule& rule, std::vector<double> rest, bool rate);

  const std::vector<double>& rest() const noexcept { return rest_; }
  /// About the step `since` seconds after the goal jumped. \param quickness own time a second.
  double about(double quickness, double since) const noexcept {
    const double place = since * quickness * places_each_;
    if (!(place > 0.0)) return 0.0;
    const auto before = static_cast<std::size_t>(place);
    if (before + 1 >= table_.size()) return table_.back();
    return table_[before] + (place - static_cast<double>(before)) * (table_[before + 1] - table_[before]);
  }

private:
  std::vector<double> rest_, table_;
  double places_each_; ///< of the table, for a unit of own time
};

/// Which rule, and of an eased move which curve. Its unknowns are numbers without bounds: logarithms of what is
/// positive, logistic shares of what lies between bounds.
class StepRule {
public:
  enum class Rule { glide, spring, ease, bezier, pace };

  StepRule(Rule rule, std::string curve, Curve shape);

  Rule rule() const noexcept { return rule_; }
  /// Of an eased move: its curve, and as a feel has it ("in-out sine").
  const Curve& curve() const noexcept { return shape_; }
  const std::string& curve_text() const noexcept { return curve_; }
  /// "spring", "ease out sine", "ease cubic-bezier", "pace".
  std::string name() const;
  std::size_t unknowns() const noexcept;
  /// The step `since` seconds after the goal jumped; 0 before.
  double value(std::span<const double> unknowns, double since) const noexcept;
  /// Where a search may begin, for moves between `shortest` and `longest` seconds long: the first unknown at each of
  /// these sizes, the others as each of these shapes has them.
  std::vector<double> start_sizes(double shortest, double longest) const;
  const std::vector<StartShape>& start_shapes() const noexcept { return *shapes_; }
  /// Own time a second, for the shapes, at a first unknown.
  double quickness(double size) const noexcept;
  /// The numbers, for a move over `way`.
  std::vector<MatchedNumber> numbers(std::span<const double> unknowns, double way) const;
  /// As a feel says it: { kind = "spring", frequency = 1.83, damping_ratio = 0.62 }.
  std::string in_toml(std::span<const double> unknowns, double way, int digits) const;
  /// The same with the numbers themselves, in their order.
  std::string in_toml(std::span<const double> numbers, int digits) const;
  /// Another rule whose step is the same path, in words; empty if there is none.
  std::string same_path_as(std::span<const double> unknowns) const;

private:
  bool goes_by_rate() const noexcept;
  std::vector<std::vector<double>> starting_rests() const;

  Rule rule_;
  std::string curve_; ///< as a feel has it
  Curve shape_;
  std::shared_ptr<const std::vector<StartShape>> shapes_;
};

/// All that are tried: glide, spring, every stock shape, a free Bezier, pace.
const std::vector<StepRule>& step_rules();

} // namespace stasis
