// Which rule made a recorded move, and with which numbers. Methods: docs/maths.md, section "Matching".
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/how_far.hpp"
#include "core/match/row_cleaning.hpp"
#include "core/match/step_rules.hpp"
#include "core/space/space.hpp"

namespace stasis {

/// A move as it was recorded: times ascending, s; values in the unit of the recording.
struct RecordedMove {
  std::vector<double> times, values;
  std::optional<double> start; ///< s: when the goal jumped, where that is known; it may set off later
  std::optional<double> from;  ///< where it rested before, where that is known
  std::optional<double> goal;  ///< where it went, where that is known
  SpaceMap space;              ///< in which the rule works
};

/// A number with its 95 % interval.
struct Estimate {
  std::string name, unit;
  double value = 0.0, low = 0.0, high = 0.0;
};

struct MatchedRule {
  const StepRule* kind = nullptr;
  Space space = Space::linear;
  std::vector<double> unknowns;
  double start = 0.0, from = 0.0, goal = 0.0; ///< s; in the recording's unit
  std::vector<Estimate> numbers;              ///< of the motion
  Estimate start_at, from_at, goal_at;        ///< low == high where it was given
  double rms = 0.0;                           ///< of what is left, in the recording's unit
  double probability = 0.0;                   ///< weight among the rules tried, by corrected Akaike information
  double bic = 0.0;
  std::size_t free = 0;       ///< how many numbers were found
  bool is_indistinct = false; ///< from the best, by this recording
  /// s, > 0: by how much it plainly sets off later than its goal jumped, also the last of the numbers; nothing where it
  /// does not, or nobody said when that was.
  std::optional<double> delay;
  std::string same_path; ///< another rule that makes the same path

  /// The value at a time, in the recording's unit.
  double at(double time) const noexcept;
  /// As a feel has it, on one line. \param digits of its numbers
  std::string motion(int digits) const;
  SpaceMap map;
};

/// Why a match says little.
enum class MatchTrouble {
  none,
  jump,       ///< all of the change lies between two rows
  no_move,    ///< nothing stands out from the noise
  unfinished, ///< the recording begins within the move, or ends before it
};

struct MoveMatch {
  RowCleaning cleaning;
  std::vector<std::size_t> kept;    ///< rows that were fitted
  std::vector<MatchedRule> ranking; ///< the most probable first
  MatchTrouble trouble = MatchTrouble::none;
  std::size_t stride = 1;    ///< of a long recording, each so many rows were fitted
  bool is_as_noise = false;  ///< what the best leaves is no more than the noise
  bool is_explained = false; ///< that, and nothing is in its way
};

/// Holds a move against every rule, in each of the spaces. \param moves the same recording once for each space.
/// \param how_far told of fits. \returns nothing where there is no move in it, or too few rows (fewer than 8).
std::optional<MoveMatch> match_step(const std::vector<RecordedMove>& moves, const std::vector<StepRule>& kinds,
                                    const HowFar& how_far = {});

/// Whether it is worth the while to hold a long move against the rules: a look at few of its rows. False only where
/// each rule leaves half of them four times as far off as noise, or `hardly`, would.
/// \param hardly unit of the recording, >= 0: what may be left without being seen.
bool may_be_explained(const RecordedMove& move, const std::vector<StepRule>& kinds, double hardly);

} // namespace stasis
