// Which smoothing follows a moving goal, and how far behind: glide or spring, lead, dead zone. Methods: docs/maths.md,
// section "Matching".
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/how_far.hpp"
#include "core/match/match_step.hpp"

namespace stasis {

/// A value that follows a goal which moves by itself.
struct RecordedFollow {
  std::vector<double> times;               ///< s, ascending
  std::vector<std::vector<double>> values; ///< by component, 1 to 3
  std::vector<std::vector<double>> goals;  ///< likewise: where the subject is
};

/// What may follow it.
struct FollowRule {
  enum class Smoothing : std::uint8_t { glide, spring, steady_spring } smoothing = Smoothing::glide;
  bool has_lead = false, has_zone = false;
  /// "glide", "spring with lead and dead zone", "spring that resists the gap".
  std::string name() const;
};

struct MatchedFollow {
  FollowRule rule;
  std::vector<Estimate> numbers;           ///< half_life or frequency and damping_ratio; lead; zone; lag, the net lag
  std::vector<std::vector<double>> values; ///< what the rule makes of the goal, by component and row
  double rms = 0.0;                        ///< of what is left, in the recording's unit
  double probability = 0.0, bic = 0.0;
  bool is_indistinct = false;  ///< from the best, by this recording
  bool knows_lag_only = false; ///< its numbers trade against each other: the subject went too evenly
  /// As a feel says it: the channel's motion, and what stands in its table `follow` beside the track.
  std::string motion, follow;
};

struct FollowMatch {
  std::vector<RowCleaning> cleaning;  ///< by component
  double goal_noise = 0.0;            ///< size of what is random in the goal
  std::vector<std::size_t> kept;      ///< rows that were fitted
  std::vector<MatchedFollow> ranking; ///< the most probable first
  bool is_explained = false;
};

/// Nothing where there are fewer than 12 rows, or nothing moves. \param how_far told of rules.
std::optional<FollowMatch> match_follow(const RecordedFollow& recorded, const HowFar& how_far = {});

} // namespace stasis
