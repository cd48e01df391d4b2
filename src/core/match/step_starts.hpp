// Where the search for a rule's numbers begins.
#pragma once

#include <vector>

#include "core/match/step_distances.hpp"

namespace stasis {

struct Start {
  Eigen::VectorXd at; ///< start (where it is free) and unknowns
  double squares;
};

/// Fewer rows, evenly chosen: where a search begins need not be exact.
FitRows thinned(const FitRows& rows, std::size_t most);

/// Of starts that have come to the same place, ascending by their squares, one: the others would end there too.
/// A corner may rest between any two rows.
void drop_doubles(std::vector<Start>& starts, const FitRows& rows);

/// From where to go on by all rows: of the best starts, each gone on with by few, the best. Of long moves these once
/// more, by some.
std::vector<Start> chosen_starts(const StepRule& kind, const FitRows& rows);

} // namespace stasis
