// Which moves a recording holds.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/recorded/rests.hpp"

namespace stasis {

/// A move and the rests beside it, by which it is told.
struct FoundMove {
  double start = 0.0, end = 0.0, start_error = 0.0;
  std::optional<Rest> before, after;
  std::optional<Components> goal;    ///< where it is given
  std::optional<ExplainedMove> rule; ///< which explains it as well as the noise allows
  bool ends_in_goal = false;         ///< another one came
  bool is_cut = false;               ///< it is there at once
  std::string cause;
};

/// What moves are looked for in.
struct MoveSearch {
  const RecordedRows& rows;
  const std::vector<double>& rest_noise;         ///< by component: what still counts as resting
  const std::vector<PathBreak>& breaks;          ///< of rows without noise
  const std::vector<std::vector<double>>& goals; ///< by component and row; empty: not known
  bool is_exact = false;                         ///< rows without noise
};

struct FoundMoves {
  std::vector<FoundMove> moves; ///< in order of time
  std::vector<Rest> rests;
  std::vector<std::string> notes;
};

/// By the changes of the goal where that is known, else by where the value rests, sets off and rests again.
FoundMoves find_recorded_moves(const MoveSearch& search);

} // namespace stasis
