// Several moves of one recording, held against rules together.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/how_far.hpp"
#include "core/recorded/found_moves.hpp"

namespace stasis {

/// A rule for all moves.
struct JointRule {
  const StepRule* kind = nullptr;
  Space space = Space::linear;
  std::vector<Estimate> numbers; ///< of all moves together
  bool agrees = true;            ///< no number of one move is off that by more than chance
  double rms = 0.0;              ///< of what each move's own numbers leave, in the recording's unit
  double bic = 0.0, probability = 0.0;
  bool is_indistinct = false; ///< from the best
  std::string motion;         ///< as a feel has it
};

/// One move, as the best rule for all explains it.
struct MoveOfMany {
  MatchedRule rule;
  bool is_explained = false;
};

struct MovesMatch {
  RowCleaning cleaning;
  std::vector<JointRule> ranking; ///< the most probable first
  std::vector<MoveOfMany> moves;  ///< in order of time
  /// Where the moves differ, but all that rise agree, and all that fall: the motion of each.
  std::string rising, falling;
  bool is_explained = false;
  std::vector<std::string> notes;
};

/// The moves from rest to rest of a recording. \param recorded once for each space. \param how_far told of moves.
/// \returns nothing where there are fewer than two.
std::optional<MovesMatch> match_moves(const std::vector<RecordedMove>& recorded, const std::vector<StepRule>& kinds,
                                      const HowFar& how_far = {});

} // namespace stasis
