// Measures of a take whose game time is not the clock's, told by both.
#pragma once

#include "core/measure/take_measures.hpp"

namespace stasis {

/// What runs on the clock is measured by it: its instants become those of game time, as of everything else. How long
/// moves take is told by the clock as well. Nothing happens where the two times are one.
/// \param measures instants of each channel by the time by which it goes
void tell_by_both_times(const Feel& feel, const Clock& clock, TakeMeasures& measures);

} // namespace stasis
