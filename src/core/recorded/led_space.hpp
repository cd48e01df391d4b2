// In which spaces the columns of a path were led, where nobody says. Method: docs/maths.md, section "Recordings".
#pragma once

#include <cstddef>
#include <vector>

#include "core/recorded/found_stops.hpp"
#include "core/space/space.hpp"

namespace stasis {

/// The columns of one channel, which share a space.
struct SpaceChoice {
  std::vector<std::size_t> columns;
  std::vector<SpaceMap> spaces; ///< that it may be, one at least; the first is as it is if nothing speaks for another
  std::size_t chosen = 0;       ///< of `spaces`
};

/// The fewest stops, as find_stops() finds them. Each choice begins where the fewest cubics pass its columns; if the
/// stops then come as near as the strictest level allows, that was right, else others are tried as well.
/// \param columns whose spaces are set; \param choices which are made.
FoundStops find_stops_and_spaces(const std::vector<double>& times, std::vector<LedColumn>& columns,
                                 std::vector<SpaceChoice>& choices, const std::vector<double>& looser = {});

} // namespace stasis
