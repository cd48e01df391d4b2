// Where recorded rows rest, and where they set off.
#pragma once

#include <optional>
#include <vector>

#include "core/match/match_step.hpp"
#include "core/recorded/recorded_path.hpp"

namespace stasis {

/// Rows that stand, both ends included.
struct Rest {
  std::size_t first = 0, last = 0;
  std::size_t settled = 0; ///< from this row on it stands for good: a slow tail is over
};

/// The stretches in which nothing goes on but noise, in order; between two of them lies a move. What creeps beside what
/// goes on within a second and a half, by less than half a per cent of that, is at rest.
/// \param noise by component, > 0.
std::vector<Rest> rests_of(const RecordedRows& rows, const std::vector<double>& noise);

/// From which row on the rows of a rest tell where it stands.
std::size_t level_from(const RecordedRows& rows, const Rest& rest);
/// The mean of those rows.
Components level_of(const RecordedRows& rows, const Rest& rest);

/// When a move set off, s, with the 95 % interval.
struct SetOff {
  double at = 0.0, low = 0.0, high = 0.0;
};

/// Of rows without noise: from a break, or by how the first rows grow. \param until the last row of the move.
SetOff exact_set_off(const RecordedRows& rows, const std::vector<PathBreak>& breaks, const Rest& before,
                     std::size_t until);
/// How many rules a move is held against.
enum class Thoroughness : std::uint8_t { all_rules, few_rules };

/// A move as a rule explains it, as well as noise allows or within half a per cent of the way.
struct ExplainedMove {
  MatchedRule rule;         ///< of how far it is along the way, in the unit of the recording
  Components from{}, to{};  ///< the way
  SetOff set_off;           ///< by all rules that cannot be told apart
  bool is_explained = true; ///< as well as noise allows
  bool is_along = false;    ///< the rule tells how far it has gone, of several components; else the value
  /// Where it is at a time.
  Components at(double time) const noexcept { return place(rule.at(time)); }
  /// Where it goes.
  Components goal() const noexcept { return place(rule.goal); }
  /// Where it is when the rule says so much.
  Components place(double along) const noexcept;
};
/// Which rows a move is told by.
struct MoveRows {
  Rest before;                   ///< it sets off from there
  std::size_t until = 0;         ///< the last row of it
  Components to{};               ///< where it comes to
  std::optional<double> start{}; ///< s: when it sets off, where that is known
  std::size_t settled = 0;       ///< the row from which on it rests again; 0: not known
};
/// Nothing where no rule comes near it.
std::optional<ExplainedMove> explained_move(const RecordedRows& rows, const MoveRows& move, Thoroughness how);

/// Where a move leaves the noise: of rows with noise that no rule explains.
SetOff rough_set_off(const RecordedRows& rows, const Rest& before);

/// True if one move of one rule explains all rows from the one rest to the other as well as noise allows, or within
/// what is hardly seen (RMS, unit of the recording).
bool is_one_move(const RecordedRows& rows, const Rest& before, const Rest& after, Thoroughness how, double hardly);

} // namespace stasis
