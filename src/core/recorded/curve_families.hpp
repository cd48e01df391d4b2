// Curves whose numbers are looked for where no stock curve is the one that led a leg.
#pragma once

#include <vector>

#include "core/match/step_rules.hpp"
#include "core/recorded/flight_fit.hpp"

namespace stasis {

/// The shapes with a number ("out back 1.7") that these rules are, each once, beginning at theirs; then Bezier curves,
/// from several that differ.
std::vector<CurveFamily> families_near(const std::vector<const StepRule*>& rules);

} // namespace stasis
