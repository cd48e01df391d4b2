// Least squares of one smoothing behind a moving goal.
#pragma once

#include <vector>

#include "core/match/match_follow.hpp"

namespace stasis {

/// A smoothing's numbers as a fit turns them: logarithms of the half-life, or of angular frequency and damping ratio;
/// then the net lag, s, where there is a lead; then the logarithm of half the zone.
struct FollowNumbers {
  double rate = 0.0;             ///< 1/s, of a glide
  double frequency = 0.0;        ///< rad/s
  double ratio = 0.0;            ///< damping ratio
  double lead = 0.0, zone = 0.0; ///< s; half of the zone's width, in the recording's unit
  double lag() const noexcept;   ///< s: net, behind a goal that goes steadily
  FollowRule::Smoothing smoothing = FollowRule::Smoothing::glide;
};
FollowNumbers follow_numbers(const FollowRule& rule, const std::vector<double>& unknowns) noexcept;
std::size_t unknowns_of(const FollowRule& rule) noexcept;

struct FollowFit {
  std::vector<double> unknowns;
  double squares = 0.0;                        ///< of what is left
  std::size_t free = 0;                        ///< how many numbers were found, where it began included
  std::vector<std::vector<double>> covariance; ///< of the unknowns, for noise of size 1
  std::vector<std::vector<double>> values;     ///< by component and row
};

/// The best of many starts. \param kept rows whose values count; the goal counts on all of them.
FollowFit fit_follow(const FollowRule& rule, const RecordedFollow& recorded, const std::vector<std::size_t>& kept);

} // namespace stasis
