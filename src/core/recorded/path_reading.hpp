// What is measured on a recorded path: as a take is, by the same names. Source: docs/measures.md.
#pragma once

#include <optional>
#include <vector>

#include "core/measure/take_measures.hpp"
#include "core/recorded/recorded_path.hpp"

namespace stasis {

/// A move before anything is measured on it.
struct PlannedMove {
  double start = 0.0, end = 0.0; ///< s
  Components from{}, to{};
  bool has_goal = false;   ///< where it goes is known
  bool retargeted = false; ///< another goal came before it had settled
  std::string cause;
};

/// One channel's path and its moves as measures of a take, which `channel` is the only channel of.
/// \param least a way back that is less is none, beside a thousandth of the distance that was gone.
TakeMeasures read_path(const Channel& channel, const CapturedPath& path, const std::vector<PlannedMove>& moves,
                       double least);

} // namespace stasis
